import type { Vec3 } from '../../geometry/vector.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { Entity, HorizontalAlign, Text, VerticalAlign } from '../../drawing/entity.js';
import { interpolate } from '../../geometry/interpolate.js';
import type { LookReader } from './read-look.js';
import { radiansOf } from './numbers.js';
import { readHatch } from './read-hatch.js';
import type { TagBag } from './tags.js';
import { plainOfRichText, plainOfText } from './text-codes.js';

/** What every entity record states, in the shape all entities share. */
export interface Common {
  id: number;
  key?: string;
  layer: string;
  look: Appearance;
  normal?: Vec3;
  sheet?: string;
  extended?: string;
}

export function readCommon(bag: TagBag, looks: LookReader, id: number, filled: boolean): Common {
  const common: Common = { id, layer: bag.has(8) ? bag.text(8) : '0', look: looks.read(bag, filled) };
  const handle = bag.find(5);
  if (handle >= 0) common.key = bag.textAt(handle);
  if (bag.has(210) || bag.has(230)) {
    const n: Vec3 = [bag.number(210), bag.number(220), bag.number(230, 1)];
    if ((n[0] !== 0 || n[1] !== 0 || n[2] <= 0) && (n[0] || n[1] || n[2])) common.normal = n;
  }
  if (bag.integer(67) === 1) common.sheet = bag.text(410, 'Layout1');
  for (let i = 0; i < bag.count; i++) {
    if (bag.codes[i] >= 1000) {
      common.extended = bag.rawFrom(i);
      break;
    }
  }
  return common;
}

type EntityReader = (bag: TagBag, common: Common) => Entity | null;

const FILLED = new Set(['HATCH', 'SOLID', 'TRACE', 'MPOLYGON']);
export const isFilledType = (type: string): boolean => FILLED.has(type);

/** One reader per kind of record. A record that makes no sense gives `null` and is counted by the caller. */
export const ENTITY_READERS: Record<string, EntityReader> = {
  LINE: (b, c) => ({ kind: 'line', ...c, start: b.point(10), end: b.point(11) }),
  POINT: (b, c) => ({ kind: 'point', ...c, at: b.point(10) }),
  CIRCLE: (b, c) => ({ kind: 'circle', ...c, centre: b.point(10), radius: b.number(40) }),
  ARC: (b, c) => ({
    kind: 'arc',
    ...c,
    centre: b.point(10),
    radius: b.number(40),
    start: radiansOf(b.number(50)),
    end: radiansOf(b.number(51)),
  }),
  ELLIPSE: (b, c) => ({
    kind: 'ellipse',
    ...c,
    centre: b.point(10),
    major: b.point(11),
    ratio: b.number(40, 1),
    start: b.number(41),
    end: b.number(42, 2 * Math.PI),
  }),
  LWPOLYLINE: readLightPolyline,
  SPLINE: readSpline,
  TEXT: (b, c) => readText(b, c),
  MTEXT: readRichText,
  INSERT: (b, c) => ({
    kind: 'insert',
    ...c,
    block: b.text(2),
    at: b.point(10),
    scale: [b.number(41, 1) || 1, b.number(42, 1) || 1, b.number(43, 1) || 1],
    rotation: radiansOf(b.number(50)),
    columns: Math.max(1, Math.min(32767, b.integer(70, 1))),
    rows: Math.max(1, Math.min(32767, b.integer(71, 1))),
    columnSpacing: b.number(44),
    rowSpacing: b.number(45),
    attributes: [],
  }),
  HATCH: readHatch,
  SOLID: (b, c) => ({ kind: 'face', solid: true, ...c, corners: corners(b, true) }),
  TRACE: (b, c) => ({ kind: 'face', solid: true, ...c, corners: corners(b, true) }),
  '3DFACE': (b, c) => ({ kind: 'face', solid: false, ...c, corners: corners(b, false) }),
};

/** The corners of a SOLID are stored in the order 1, 2, 4, 3; those of a 3DFACE around the face. */
function corners(b: TagBag, crossed: boolean): Vec3[] {
  const p = [b.point(10), b.point(11), b.point(12)];
  const last = b.has(13) ? b.point(13) : p[2];
  const triangle = last.every((v, i) => v === p[2][i]);
  if (triangle) return p;
  return crossed ? [p[0], p[1], last, p[2]] : [...p, last];
}

function readLightPolyline(b: TagBag, c: Common): Entity | null {
  let n = 0;
  for (let i = 0; i < b.count; i++) if (b.codes[i] === 10) n++;
  const points = b.pool.take(2 * n);
  let bulges: Float64Array | undefined;
  let widths: Float64Array | undefined;
  const constant = b.number(43);
  if (constant !== 0) widths = new Float64Array(2 * n).fill(constant);
  let v = -1;
  for (let i = 0; i < b.count; i++) {
    const code = b.codes[i];
    if (code === 10) points[2 * ++v] = b.numberAt(i);
    else if (v < 0) continue;
    else if (code === 20) points[2 * v + 1] = b.numberAt(i);
    else if (code === 42) {
      const bulge = b.numberAt(i);
      if (bulge !== 0) (bulges ??= b.pool.take(n))[v] = bulge;
    } else if (code === 40 || code === 41) {
      const width = b.numberAt(i);
      if (width !== 0 || widths) (widths ??= new Float64Array(2 * n))[2 * v + code - 40] = width;
    }
  }
  const closed = (b.integer(70) & 1) !== 0;
  return {
    kind: 'polyline', ...c, points, dim: 2, elevation: b.number(38), closed,
    ...(bulges && { bulges }), ...(widths && { widths }),
  }; // prettier-ignore
}

function readSpline(b: TagBag, c: Common): Entity | null {
  const collect = (code: number): Float64Array => {
    const out: number[] = [];
    for (let i = 0; i < b.count; i++) if (b.codes[i] === code) out.push(b.numberAt(i));
    return Float64Array.from(out);
  };
  const points = (code: number): Float64Array => {
    const x = collect(code);
    const y = collect(code + 10);
    const z = collect(code + 20);
    const out = new Float64Array(3 * x.length);
    for (let i = 0; i < x.length; i++) out.set([x[i], y[i] ?? 0, z[i] ?? 0], 3 * i);
    return out;
  };
  const control = points(10);
  const fit = points(11);
  const flags = b.integer(70);
  const state = { closed: (flags & 1) !== 0, periodic: (flags & 2) !== 0 };
  if (control.length === 0 && fit.length > 0) {
    const made = interpolate(fit, b.has(12) ? b.point(12) : undefined, b.has(13) ? b.point(13) : undefined);
    return made && { kind: 'spline', ...c, ...made, fitPoints: fit, ...state };
  }
  const weights = collect(41);
  const rational = weights.length === control.length / 3 && weights.some((w) => w !== 1);
  return {
    kind: 'spline', ...c,
    degree: b.integer(71, 3),
    knots: collect(40),
    points: control,
    ...(rational && { weights }),
    ...(fit.length > 0 && { fitPoints: fit }),
    ...state,
  }; // prettier-ignore
}

const HORIZONTAL: readonly HorizontalAlign[] = ['left', 'centre', 'right', 'aligned', 'middle', 'fit'];
const VERTICAL: readonly VerticalAlign[] = ['baseline', 'bottom', 'middle', 'top'];

/** TEXT and ATTRIB. Group 10 counts when the text is left on its baseline, otherwise group 11 (DXF reference, TEXT). */
export function readText(b: TagBag, c: Common, attribute = false): Text {
  const horizontal = HORIZONTAL[b.integer(72)] ?? 'left';
  const vertical = VERTICAL[b.integer(attribute ? 74 : 73)] ?? 'baseline';
  const first = b.point(10);
  const second = b.has(11) ? b.point(11) : null;
  const simple = horizontal === 'left' && vertical === 'baseline';
  const stretched = horizontal === 'aligned' || horizontal === 'fit';
  const at = simple || stretched || !second ? first : second;
  const other = stretched ? second : at === second ? first : null;
  return {
    kind: 'text',
    ...c,
    text: plainOfText(b.text(1)),
    at,
    ...(other && { other }),
    size: b.number(40, 1),
    sizeOf: 'capital',
    rotation: radiansOf(b.number(50)),
    widthFactor: b.number(41, 1),
    oblique: radiansOf(b.number(51)),
    horizontal,
    vertical,
    style: b.text(7, 'Standard'),
    ...(attribute && { tag: b.text(2), hidden: (b.integer(70) & 1) !== 0 }),
  };
}

function readRichText(b: TagBag, c: Common): Entity {
  let content = '';
  for (let i = 0; i < b.count; i++) if (b.codes[i] === 3) content += b.textAt(i);
  content += b.text(1);
  const attachment = b.integer(71, 1) - 1;
  // Whichever of rotation and direction stands last counts; the direction is in world coordinates.
  const rotation =
    b.has(11) && b.find(11) > b.find(50) ? Math.atan2(b.number(21), b.number(11)) : radiansOf(b.number(50));
  return {
    kind: 'richText',
    ...c,
    content,
    plain: plainOfRichText(content),
    at: b.point(10),
    size: b.number(40, 1),
    width: b.number(41),
    rotation,
    horizontal: (['left', 'centre', 'right'] as const)[attachment % 3] ?? 'left',
    vertical: (['top', 'middle', 'bottom'] as const)[Math.floor(attachment / 3)] ?? 'top',
    lineSpacing: b.number(44, 1),
    style: b.text(7, 'Standard'),
  };
}
