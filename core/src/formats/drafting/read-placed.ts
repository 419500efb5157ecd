import type { Entity, Viewport } from '../../drawing/entity.js';
import type { Vec3 } from '../../geometry/vector.js';
import { radiansOf } from './numbers.js';
import { parseRaw } from './raw-tags.js';
import type { Common } from './read-common.js';
import type { Bag } from './bag.js';

/** IMAGE and WIPEOUT; the file's name comes later, from the definition that the rest (340) points at. */
export function readImage(b: Bag, c: Common, cover: boolean): Entity {
  const x = b.numbers(14);
  const y = b.numbers(24);
  const pixels = [b.number(13, 1), b.number(23, 1)] as const;
  const clip = new Float64Array(2 * x.length);
  x.forEach((v, i) => clip.set([v, y[i] ?? 0], 2 * i));
  return {
    kind: 'image',
    ...c,
    cover,
    at: b.point(10),
    u: b.point(11),
    v: b.point(12),
    pixels,
    ...(clip.length >= 4 && !isWhole(clip, pixels) && { clip }),
  };
}

/** A boundary around all of the picture cuts nothing. */
const isWhole = (c: Float64Array, [w, h]: readonly [number, number]): boolean =>
  c.length === 4 && c[0] === -0.5 && c[1] === -0.5 && c[2] === w - 0.5 && c[3] === h - 0.5;

/** VIEWPORT. Layers frozen in it come as handles (331, 341) and get their names once the tables are read. */
export function readViewport(b: Bag, c: Common): Entity {
  if (!b.has(45) && c.extended?.includes('MVIEW')) return release12Viewport(b, c);
  const frozen: string[] = [];
  for (let i = 0; i < b.count; i++) if (b.codes[i] === 331 || b.codes[i] === 341) frozen.push(b.textAt(i));
  return {
    kind: 'viewport',
    ...c,
    at: b.point(10),
    width: b.number(40),
    height: b.number(41),
    ...windowState(b),
    centre: [b.number(12), b.number(22)],
    viewHeight: b.number(45, b.number(41, 1)),
    target: b.point(17),
    direction: b.has(16) ? b.point(16) : [0, 0, 1],
    twist: b.radians(51),
    frozen,
  };
}

/** Number (69) and status (68): 0 off, otherwise where it stands among the windows that are on, -1 when too many are. */
function windowState(b: Bag): Pick<Viewport, 'number' | 'on' | 'stacking'> {
  const number = b.integer(69, 2);
  const status = b.integer(68, 1);
  return { number, on: status !== 0, ...(status !== 0 && status !== number && { stacking: status }) };
}

/**
 * Before version R13 the view stands in extended data of application ACAD: MVIEW and a version, then target, direction,
 * twist, height and centre, and the names of frozen layers in inner braces (DXF reference of release 12, VIEWPORT).
 */
function release12Viewport(b: Bag, c: Common): Entity {
  const { extended = '', ...own } = c;
  const tags = parseRaw(extended);
  const values = (code: number): number[] => tags.filter((t) => t[0] === code).map((t) => Number(t[1]) || 0);
  const [x, y, z] = [values(1010), values(1020), values(1030)];
  const [twist = 0, height = 1, cx = 0, cy = 0] = values(1040);
  const at = (i: number): Vec3 => [x[i] ?? 0, y[i] ?? 0, z[i] ?? 0];
  return {
    kind: 'viewport',
    ...own,
    at: b.point(10),
    width: b.number(40),
    height: b.number(41),
    ...windowState(b),
    centre: [cx, cy],
    viewHeight: height,
    target: at(0),
    direction: x.length > 1 ? at(1) : [0, 0, 1],
    twist: radiansOf(twist),
    frozen: tags.filter((t) => t[0] === 1003).map((t) => t[1]),
  };
}
