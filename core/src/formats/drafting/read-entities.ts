import type { Vec3 } from '../../geometry/vector.js';
import type { Entity } from '../../drawing/entity.js';
import { interpolate } from '../../geometry/interpolate.js';
import { readAttributeDefinition, readDimension, readLeader, readRichText, readText } from './read-annotations.js';
import { readHatch } from './read-hatch.js';
import { readImage, readViewport } from './read-placed.js';
import type { Common, EntityReader } from './read-common.js';
import { codes, onceOf } from './rest.js';
import type { Bag } from './bag.js';
import { wordTable } from '../../drawing/word-table.js';

const solid = (trace: boolean): EntityReader => ({
  known: codes(10, 20, 30, 11, 21, 31, 12, 22, 32, 13, 23, 33, 39),
  filled: true,
  read: (b, c) => ({ kind: 'face', solid: true, ...c, corners: corners(b, true), ...(trace && { trace }) }),
});

const ray = (both: boolean): EntityReader => ({
  known: codes(10, 20, 30, 11, 21, 31),
  read: (b, c) => ({ kind: 'ray', ...c, at: b.point(10), direction: b.point(11), both }),
});

/** One reader per kind of record. */
export const ENTITY_READERS = wordTable<EntityReader>({
  LINE: {
    known: codes(10, 20, 30, 11, 21, 31, 39),
    read: (b, c) => ({ kind: 'line', ...c, start: b.point(10), end: b.point(11) }),
  },
  POINT: { known: codes(10, 20, 30, 39), read: (b, c) => ({ kind: 'point', ...c, at: b.point(10) }) },
  CIRCLE: {
    known: codes(10, 20, 30, 40, 39),
    read: (b, c) => ({ kind: 'circle', ...c, centre: b.point(10), radius: b.number(40) }),
  },
  ARC: {
    known: codes(10, 20, 30, 40, 50, 51, 39),
    read: (b, c) => ({
      kind: 'arc',
      ...c,
      centre: b.point(10),
      radius: b.number(40),
      start: b.radians(50),
      end: b.radians(51),
    }),
  },
  ELLIPSE: {
    known: codes(10, 20, 30, 11, 21, 31, 40, 41, 42),
    read: (b, c) => ({
      kind: 'ellipse',
      ...c,
      centre: b.point(10),
      major: b.point(11),
      ratio: b.number(40, 1),
      start: b.number(41),
      end: b.number(42, 2 * Math.PI),
    }),
  },
  LWPOLYLINE: { known: codes(90, 70, 43, 38, 39, 10, 20, 40, 41, 42, 91), read: readLightPolyline },
  SPLINE: {
    known: codes(70, 71, 72, 73, 74, 40, 41, 10, 20, 30, 11, 21, 31, 12, 22, 32, 13, 23, 33),
    read: readSpline,
  },
  RAY: ray(false),
  XLINE: ray(true),
  TEXT: {
    known: codes(1, 7, 10, 20, 30, 11, 21, 31, 40, 41, 50, 51, 71, 72, 73, 39),
    read: (b, c) => readText(b, c),
  },
  ATTDEF: {
    known: onceOf(codes(1, 2, 3, 7, 10, 20, 30, 11, 21, 31, 40, 41, 50, 51, 70, 71, 72, 74, 39)),
    read: readAttributeDefinition,
  },
  MTEXT: { known: codes(1, 3, 7, 10, 20, 30, 11, 21, 31, 40, 41, 44, 50, 71, 73), read: readRichText },
  INSERT: {
    known: codes(2, 10, 20, 30, 41, 42, 43, 50, 66, 70, 71, 44, 45),
    read: (b, c) => ({
      kind: 'insert',
      ...c,
      block: b.text(2),
      at: b.point(10),
      scale: [b.number(41, 1) || 1, b.number(42, 1) || 1, b.number(43, 1) || 1],
      rotation: b.radians(50),
      columns: Math.max(1, Math.min(32767, b.integer(70, 1))),
      rows: Math.max(1, Math.min(32767, b.integer(71, 1))),
      columnSpacing: b.number(44),
      rowSpacing: b.number(45),
      attributes: [],
    }),
  },
  HATCH: {
    known: codes(
      2,
      10,
      20,
      30,
      11,
      21,
      12,
      22,
      13,
      23,
      40,
      41,
      42,
      43,
      44,
      45,
      46,
      47,
      49,
      50,
      51,
      52,
      53,
      63,
      70,
      71,
      72,
      73,
      74,
      75,
      76,
      77,
      78,
      79,
      91,
      92,
      93,
      94,
      95,
      96,
      97,
      98,
      421,
      431,
      450,
      451,
      452,
      453,
      460,
      461,
      462,
      463,
      470,
    ),
    filled: true,
    read: readHatch,
  },
  SOLID: solid(false),
  TRACE: solid(true),
  '3DFACE': {
    known: codes(10, 20, 30, 11, 21, 31, 12, 22, 32, 13, 23, 33, 70),
    read: (b, c) => {
      const hiddenEdges = b.integer(70) & 15;
      return { kind: 'face', solid: false, ...c, corners: corners(b, false), ...(hiddenEdges && { hiddenEdges }) };
    },
  },
  DIMENSION: {
    known: codes(
      1,
      2,
      3,
      10,
      20,
      30,
      11,
      21,
      31,
      12,
      22,
      32,
      13,
      23,
      33,
      14,
      24,
      34,
      15,
      25,
      35,
      16,
      26,
      36,
      17,
      27,
      37,
      42,
      50,
      52,
      53,
      70,
    ),
    read: (b, c) => readDimension(b, c, 'DIMENSION'),
  },
  ARC_DIMENSION: {
    known: onceOf(
      codes(1, 2, 3, 10, 20, 30, 11, 21, 31, 13, 23, 33, 14, 24, 34, 15, 25, 35, 16, 26, 36, 17, 27, 37, 42, 53, 70),
    ),
    read: (b, c) => readDimension(b, c, 'ARC_DIMENSION'),
  },
  LEADER: { known: codes(3, 10, 20, 30, 71, 72, 76), read: readLeader },
  IMAGE: {
    known: codes(10, 20, 30, 11, 21, 31, 12, 22, 32, 13, 23, 71, 14, 24, 91),
    read: (b, c) => readImage(b, c, false),
  },
  WIPEOUT: {
    known: codes(10, 20, 30, 11, 21, 31, 12, 22, 32, 13, 23, 71, 14, 24, 91),
    read: (b, c) => readImage(b, c, true),
  },
  VIEWPORT: {
    known: codes(10, 20, 30, 40, 41, 68, 69, 12, 22, 45, 17, 27, 37, 16, 26, 36, 51, 331, 341),
    read: readViewport,
  },
});

/** The corners of a SOLID are stored in the order 1, 2, 4, 3; those of a 3DFACE around the face. */
function corners(b: Bag, crossed: boolean): Vec3[] {
  const p = [b.point(10), b.point(11), b.point(12)];
  const last = b.has(13) ? b.point(13) : p[2]!;
  const triangle = last.every((v, i) => v === p[2]![i]!);
  if (triangle) return p;
  return crossed ? [p[0]!, p[1]!, last, p[2]!] : [...p, last];
}

function readLightPolyline(b: Bag, c: Common): Entity | null {
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
  const flags = b.integer(70);
  return {
    kind: 'polyline',
    ...c,
    points,
    dim: 2,
    elevation: b.number(38),
    closed: (flags & 1) !== 0,
    ...(bulges && { bulges }),
    ...(widths && { widths }),
    ...((flags & 128) !== 0 && { dashThrough: true }),
  };
}

function readSpline(b: Bag, c: Common): Entity | null {
  const points = (code: number): Float64Array => {
    const x = b.numbers(code);
    const y = b.numbers(code + 10);
    const z = b.numbers(code + 20);
    const out = new Float64Array(3 * x.length);
    for (let i = 0; i < x.length; i++) out.set([x[i]!, y[i] ?? 0, z[i] ?? 0], 3 * i);
    return out;
  };
  const control = points(10);
  const fit = points(11);
  const flags = b.integer(70);
  const state = {
    closed: (flags & 1) !== 0,
    periodic: (flags & 2) !== 0,
    ...(b.has(12) && { startTangent: b.point(12) }),
    ...(b.has(13) && { endTangent: b.point(13) }),
    ...((flags & 24) !== 0 && { flags: flags & 24 }),
  };
  if (control.length === 0 && fit.length > 0) {
    const made = interpolate(fit, state.startTangent, state.endTangent);
    return made && { kind: 'spline', ...c, ...made, fitPoints: fit, fitOnly: true, ...state };
  }
  const weights = b.numbers(41);
  const rational = weights.length === control.length / 3 && weights.some((w) => w !== 1);
  return {
    kind: 'spline',
    ...c,
    degree: b.integer(71, 3),
    knots: Float64Array.from(b.numbers(40)),
    points: control,
    ...(rational && { weights: Float64Array.from(weights) }),
    ...(fit.length > 0 && { fitPoints: fit }),
    ...state,
  };
}
