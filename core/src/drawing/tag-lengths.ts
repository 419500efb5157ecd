import type { Affine } from '../geometry/affine.js';
import { applyPoint, applyVector } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { wordTable } from './word-table.js';

/** Group codes that hold lengths in drawing units among the tags the model has no word for, by subclass (DXF reference). */
const LENGTHS = wordTable<readonly number[]>({
  AcDbMText: [42, 43, 46],
  AcDbRadialDimension: [40],
  AcDbDiametricDimension: [40],
  AcDbArcDimension: [40],
  AcDbRadialDimensionLarge: [40],
  AcDbLeader: [40, 41],
});

/**
 * Tags in a source's own form under a map: lengths are multiplied, and an embedded object (101) goes with the entity; not
 * under a mirror, where the text around it stays readable and it would not.
 */
export function movedRest(rest: string, m: Affine, scale: number, mirrored: boolean): string {
  const at = /(^|\n)101\n/.exec(rest);
  if (!at) return scale === 1 ? rest : scaledLengths(rest, scale);
  const start = at.index + at[1]!.length;
  const own = rest.slice(0, start);
  return (scale === 1 ? own : scaledLengths(own, scale)) + (mirrored ? '' : movedEmbedded(rest.slice(start), m, scale));
}

/**
 * What stands within a text is either its columns (flags in 70 first; 10 a direction, 11 a place) or a rich text of its
 * own (10 a place, 11 a direction or 50 an angle).
 */
function movedEmbedded(tags: string, m: Affine, scale: number): string {
  const lines = tags.split('\n');
  const first = (code: number): number => lines.findIndex((l, i) => i % 2 === 0 && Number(l) === code);
  const columns = first(70) >= 0 && first(70) < first(10);
  const put = (code: number, to: (p: Vec3) => Vec3): void => {
    const at = [code, code + 10, code + 20].map(first);
    if (at[0]! < 0) return;
    const q = to(at.map((i) => (i < 0 ? 0 : Number(lines[i + 1]))) as unknown as Vec3);
    at.forEach((i, k) => {
      if (i >= 0) lines[i + 1] = String(q[k]);
    });
  };
  const direction = (p: Vec3): Vec3 => applyVector(m, p).map((v) => v / scale) as unknown as Vec3;
  put(columns ? 10 : 11, direction);
  put(columns ? 11 : 10, (p) => applyPoint(m, p));
  const turn = first(50);
  if (turn >= 0) lines[turn + 1] = String(Number(lines[turn + 1]) + (Math.atan2(m[1], m[0]) * 180) / Math.PI);
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i]);
    if ((columns ? [40, 41, 42, 43, 44, 45, 46] : [40, 41, 42, 43, 46]).includes(code))
      lines[i + 1] = String(Number(lines[i + 1]) * scale);
  }
  return lines.join('\n');
}

function scaledLengths(rest: string, scale: number): string {
  const lines = rest.split('\n');
  let subclass = '';
  let out = '';
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i]);
    let value = lines[i + 1]!;
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
