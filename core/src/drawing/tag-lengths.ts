import type { Affine } from '../geometry/affine.js';
import { applyPoint, applyVector } from '../geometry/affine.js';

/** Group codes that hold lengths in drawing units among the tags the model has no word for, by subclass (DXF reference). */
const LENGTHS: Record<string, readonly number[]> = {
  AcDbMText: [42, 43, 46],
  AcDbRadialDimension: [40],
  AcDbDiametricDimension: [40],
  AcDbArcDimension: [40],
  AcDbRadialDimensionLarge: [40],
  AcDbLeader: [40, 41],
};

/** Tags in a source's own form with their lengths multiplied. An embedded object (101) is left out: its lengths are its own. */
export function scaledRest(rest: string, scale: number): string {
  const lines = rest.split('\n');
  let subclass = '';
  let out = '';
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i]);
    let value = lines[i + 1];
    if (code === 101) break;
    if (code === 100) subclass = value.trim();
    else if (LENGTHS[subclass]?.includes(code)) value = String(Number(value) * scale);
    out += `${lines[i]}\n${value}\n`;
  }
  return out;
}

/**
 * Extended data under a map: 1011 is a place, 1012 a displacement, 1013 a direction, 1041 a distance and 1042 a factor
 * that follow the entity; 1010 and 1040 are plain numbers and stay (DXF reference, "Extended Data").
 */
export function movedExtended(extended: string, m: Affine, scale: number): string {
  if (!/(^|\n)\s*10(11|12|13|41|42)\r?\n/.test(extended)) return extended;
  const lines = extended.replace(/\r\n?/g, '\n').split('\n');
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i]);
    if (code === 1041 || code === 1042) lines[i + 1] = String(Number(lines[i + 1]) * scale);
    if (code < 1011 || code > 1013 || i + 5 >= lines.length) continue;
    const p = [Number(lines[i + 1]), Number(lines[i + 3]), Number(lines[i + 5])] as const;
    let q = code === 1011 ? applyPoint(m, p) : applyVector(m, p);
    if (code === 1013 && scale !== 0) q = [q[0] / scale, q[1] / scale, q[2] / scale];
    for (let k = 0; k < 3; k++) lines[i + 1 + 2 * k] = String(q[k]);
    i += 4;
  }
  return lines.join('\n');
}
