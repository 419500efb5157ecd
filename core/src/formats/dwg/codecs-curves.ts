import type { Vec3 } from '../../geometry/vector.js';
import type { Codec, TwoWay } from './codec.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { UPWARDS } from './field-writer.js';
import type { Fields } from './fields.js';
import { NONE } from './fields.js';

/** Layouts of lines and curves (Open Design Specification, "Object specific data"). */

export const LINE: Codec = {
  read(f) {
    f.mark('AcDbLine');
    const { data, bag } = f;
    let a: number[];
    let b: number[];
    if (f.v < 2000) {
      f.p3(10);
      f.p3(11);
    } else {
      const flat = data.bit();
      a = [data.double(), 0, 0];
      b = [data.defaultDouble(a[0]!), 0, 0];
      a[1] = data.double();
      b[1] = data.defaultDouble(a[1]);
      if (!flat) {
        a[2] = data.double();
        b[2] = data.defaultDouble(a[2]);
      }
      for (let k = 0; k < 3; k++) bag.addNumber(10 + 10 * k, a[k]!);
      for (let k = 0; k < 3; k++) bag.addNumber(11 + 10 * k, b[k]!);
    }
    f.thickness();
    f.extrusion();
  },
  write(f) {
    f.mark('AcDbLine');
    putLine(f, f.point(10), f.point(11));
    f.thickness();
    f.extrusion();
  },
};

/** The ends of a line. */
export function putLine(f: FieldWriter, a: Vec3, b: Vec3): void {
  const { data } = f;
  if (f.v < 2000) {
    f.putPoint(a);
    f.putPoint(b);
    return;
  }
  const flat = Object.is(a[2], 0) && Object.is(b[2], 0);
  data.bit(flat);
  for (let k = 0; k < (flat ? 2 : 3); k++) {
    data.double(a[k]!);
    data.defaultDouble(b[k]!, a[k]!);
  }
}

export const POINT: Codec = (f) => {
  f.mark('AcDbPoint');
  f.p3(10);
  f.thickness();
  f.extrusion();
  f.angle(50, 0);
};

export const CIRCLE: Codec = (f) => {
  f.mark('AcDbCircle');
  f.p3(10);
  f.bd(40);
  f.thickness();
  f.extrusion();
};

export const ARC: Codec = (f) => {
  CIRCLE_FIELDS(f);
  f.mark('AcDbArc');
  f.angle(50);
  f.angle(51);
};
const CIRCLE_FIELDS = CIRCLE as (f: Fields) => void;

export const ELLIPSE: Codec = (f) => {
  f.mark('AcDbEllipse');
  f.p3(10);
  f.p3(11);
  f.plainExtrusion();
  f.bd(40, f.reading ? undefined : 1);
  f.bd(41);
  f.bd(42, f.reading ? undefined : 2 * Math.PI);
};

const ray =
  (mark: string): Codec =>
  (f) => {
    f.mark(mark);
    f.p3(10);
    f.p3(11);
  };
export const RAY = ray('AcDbRay');
export const XLINE = ray('AcDbXline');

/** Flags of the bits; those of the tags are 1 closed and 128 dashes through. */
const LW = {
  normal: 1,
  thickness: 2,
  width: 4,
  elevation: 8,
  bulges: 16,
  widths: 32,
  through: 256,
  closed: 512,
  ids: 1024,
};

export const LWPOLYLINE: Codec = {
  read(f) {
    f.mark('AcDbPolyline');
    const { data, bag } = f;
    const flags = data.bitShort() & 0xffff;
    const width = flags & LW.width ? data.bitDouble() : 0;
    const elevation = flags & LW.elevation ? data.bitDouble() : 0;
    const thickness = flags & LW.thickness ? data.bitDouble() : 0;
    const normal: Vec3 = flags & LW.normal ? [data.bitDouble(), data.bitDouble(), data.bitDouble()] : [0, 0, 1];
    const count = bounded(f, data.bitLong(), 4);
    const bulges = flags & LW.bulges ? bounded(f, data.bitLong(), 2) : 0;
    const ids = f.v >= 2010 && flags & LW.ids ? bounded(f, data.bitLong(), 2) : 0;
    const widths = flags & LW.widths ? bounded(f, data.bitLong(), 4) : 0;
    bag.addNumber(90, count);
    bag.addNumber(70, (flags & LW.closed ? 1 : 0) | (flags & LW.through ? 128 : 0));
    if (width !== 0) bag.addNumber(43, width);
    if (elevation !== 0) bag.addNumber(38, elevation);
    if (thickness !== 0) bag.addNumber(39, thickness);
    const xy = new Float64Array(2 * count);
    for (let i = 0; i < count; i++) {
      for (let k = 0; k < 2; k++)
        xy[2 * i + k] = i > 0 && f.v >= 2000 ? data.defaultDouble(xy[2 * i + k - 2]!) : data.double();
    }
    const bulge = new Float64Array(count);
    for (let i = 0; i < bulges; i++) bulge[i] = data.bitDouble();
    for (let i = 0; i < ids; i++) data.bitLong();
    const wide = new Float64Array(2 * count);
    for (let i = 0; i < widths; i++) {
      wide[2 * i] = data.bitDouble();
      wide[2 * i + 1] = data.bitDouble();
    }
    for (let i = 0; i < count; i++) {
      bag.addNumber(10, xy[2 * i]!);
      bag.addNumber(20, xy[2 * i + 1]!);
      if (widths > 0) {
        bag.addNumber(40, wide[2 * i]!);
        bag.addNumber(41, wide[2 * i + 1]!);
      }
      if (bulge[i] !== 0) bag.addNumber(42, bulge[i]!);
    }
    if (normal[0] !== 0 || normal[1] !== 0 || normal[2] !== 1)
      for (let k = 0; k < 3; k++) bag.addNumber(210 + 10 * k, normal[k]!);
  },
  write(f) {
    f.mark('AcDbPolyline');
    const { record } = f;
    const { store } = record;
    const n = record.find(10) < 0 ? 0 : countOf(f, 10);
    const xy = new Float64Array(2 * n);
    const bulge = new Float64Array(n);
    const wide = new Float64Array(2 * n);
    let bulged = false;
    let widened = false;
    let v = -1;
    for (let i = record.from + 1; i < record.to; i++) {
      const value = store.values[i]!;
      switch (store.codes[i]) {
        case 10:
          xy[2 * ++v] = value;
          break;
        case 20:
          xy[2 * v + 1] = value;
          break;
        case 40:
        case 41:
          wide[2 * v + store.codes[i]! - 40] = value;
          widened = true;
          break;
        case 42:
          bulge[v] = value;
          bulged = true;
          break;
        case 90:
          break;
        default:
          continue;
      }
      f.use(i);
    }
    const tags = f.number(70);
    putLight(f, {
      xy,
      bulges: bulged ? bulge : null,
      widths: widened ? wide : null,
      closed: (tags & 1) !== 0,
      through: (tags & 128) !== 0,
      width: f.number(43),
      elevation: f.number(38),
      thickness: f.number(39),
      normal: f.point(210, UPWARDS),
    });
  },
};

/** What a polyline in the plane is made of. */
export interface LightPolyline {
  /** x and y of each vertex in turn. */
  xy: Float64Array;
  bulges: Float64Array | null;
  /** Width at the beginning and at the end of each segment. */
  widths: Float64Array | null;
  closed: boolean;
  /** Dashes run through the corners. */
  through: boolean;
  /** One width for all segments, otherwise 0. */
  width: number;
  elevation: number;
  thickness: number;
  normal: Vec3;
}

export function putLight(f: FieldWriter, p: LightPolyline): void {
  const { data } = f;
  const { xy, bulges, widths, width, elevation, thickness, normal } = p;
  const n = xy.length / 2;
  const tilted = normal[0] !== 0 || normal[1] !== 0 || normal[2] !== 1;
  data.bitShort(
    (tilted ? LW.normal : 0) |
      (thickness !== 0 ? LW.thickness : 0) |
      (width !== 0 ? LW.width : 0) |
      (elevation !== 0 ? LW.elevation : 0) |
      (bulges ? LW.bulges : 0) |
      (widths ? LW.widths : 0) |
      (p.through ? LW.through : 0) |
      (p.closed ? LW.closed : 0),
  );
  if (width !== 0) data.bitDouble(width);
  if (elevation !== 0) data.bitDouble(elevation);
  if (thickness !== 0) data.bitDouble(thickness);
  if (tilted) f.putPoint(normal);
  data.bitLong(n);
  if (bulges) data.bitLong(n);
  if (widths) data.bitLong(n);
  for (let i = 0; i < 2 * n; i++) {
    if (i > 1 && f.v >= 2000) data.defaultDouble(xy[i]!, xy[i - 2]!);
    else data.double(xy[i]!);
  }
  if (bulges) for (let i = 0; i < n; i++) data.bitDouble(bulges[i]!);
  if (widths) for (let i = 0; i < 2 * n; i++) data.bitDouble(widths[i]!);
}

function countOf(f: FieldWriter, code: number): number {
  const { record } = f;
  let n = 0;
  for (let i = record.from + 1; i < record.to; i++) if (record.store.codes[i] === code) n++;
  return n;
}

/** A count no larger than what the bits left can hold at `bits` each: damage must not ask for memory. */
export function bounded(f: FieldReader, count: number, bits: number): number {
  const most = Math.floor(f.data.left / bits);
  if (count >= 0 && count <= most) return count;
  f.data.overrun = true;
  return Math.max(0, Math.min(count, most));
}

/** A count of references no larger than what the handles left can be: each takes a byte at least. */
export function boundedRefs(f: FieldReader, count: number): number {
  const most = f.handles.left >> 3;
  if (count >= 0 && count <= most) return count;
  f.handles.overrun = true;
  return Math.max(0, Math.min(count, most));
}

const CLOSED = 1;
const PERIODIC = 2;
const RATIONAL = 4;

export const SPLINE: TwoWay = {
  read(f) {
    f.mark('AcDbSpline');
    const { data, bag } = f;
    let scenario = data.bitLong();
    if (f.v >= 2013) {
      const flags = data.bitLong();
      data.bitLong();
      // From 2013 on the flag, not the scenario, tells that only fit points follow.
      if (flags & 1) scenario = 2;
      else if (scenario === 2) scenario = 2;
    }
    const degree = data.bitLong();
    if (scenario === 2) {
      const tolerance = data.bitDouble();
      const start = point(data);
      const end = point(data);
      const n = bounded(f, data.bitLong(), 6);
      bag.addNumber(70, 0);
      bag.addNumber(71, degree);
      bag.addNumber(74, n);
      if (tolerance !== 0) bag.addNumber(44, tolerance);
      if (start.some((v) => v !== 0)) put(f, 12, start);
      if (end.some((v) => v !== 0)) put(f, 13, end);
      for (let i = 0; i < n; i++) put(f, 11, point(data));
      return;
    }
    const rational = data.bit();
    const closed = data.bit();
    const periodic = data.bit();
    const knotTolerance = data.bitDouble();
    const pointTolerance = data.bitDouble();
    const knots = bounded(f, data.bitLong(), 2);
    const points = bounded(f, data.bitLong(), 6);
    const weighted = data.bit();
    bag.addNumber(70, (closed ? CLOSED : 0) | (periodic ? PERIODIC : 0) | (rational || weighted ? RATIONAL : 0));
    bag.addNumber(71, degree);
    bag.addNumber(72, knots);
    bag.addNumber(73, points);
    bag.addNumber(74, 0);
    if (knotTolerance !== 0) bag.addNumber(42, knotTolerance);
    if (pointTolerance !== 0) bag.addNumber(43, pointTolerance);
    for (let i = 0; i < knots; i++) bag.addNumber(40, data.bitDouble());
    for (let i = 0; i < points; i++) {
      put(f, 10, point(data));
      if (weighted) bag.addNumber(41, data.bitDouble());
    }
  },
  write(f) {
    f.mark('AcDbSpline');
    const { data } = f;
    // Its plane follows from its points.
    for (const c of [210, 220, 230]) f.take(c);
    const flags = f.number(70);
    const degree = f.number(71, 3);
    for (const c of [72, 73, 74]) f.number(c);
    const knots = f.all(40);
    const weights = f.all(41);
    const control = points(f, 10);
    const fit = points(f, 11);
    const fitOnly = control.length === 0;
    if (!fitOnly && fit.length > 0) {
      f.say('fit-points-beside-control-points');
      for (const c of [12, 22, 32, 13, 23, 33, 44]) f.take(c);
    }
    data.bitLong(fitOnly ? 2 : 1);
    if (f.v >= 2013) {
      data.bitLong(fitOnly ? 9 : 0);
      data.bitLong(fitOnly ? 0 : 15);
    }
    data.bitLong(degree);
    if (fitOnly) {
      data.bitDouble(f.number(44));
      f.putPoint(f.point(12));
      f.putPoint(f.point(13));
      data.bitLong(fit.length);
      fit.forEach((p) => f.putPoint(p));
      return;
    }
    const weighted = weights.length === control.length;
    data.bit(weighted);
    data.bit(flags & CLOSED);
    data.bit(flags & PERIODIC);
    data.bitDouble(f.number(42));
    data.bitDouble(f.number(43));
    data.bitLong(knots.length);
    data.bitLong(control.length);
    data.bit(weighted);
    for (const k of knots) data.bitDouble(k);
    control.forEach((p, i) => {
      f.putPoint(p);
      if (weighted) data.bitDouble(weights[i]!);
    });
  },
};

/** A spline, and behind it what it was made from. */
export const HELIX: Codec = {
  read(f) {
    SPLINE.read(f);
    helix(f);
  },
  write(f) {
    // Both parts use the same codes.
    f.strict = true;
    SPLINE.write(f);
    helix(f);
  },
};
function helix(f: Fields): void {
  f.mark('AcDbHelix');
  f.bl(90);
  f.bl(91);
  f.p3(10);
  f.p3(11);
  f.p3(12);
  f.bd(40);
  f.bd(41);
  f.bd(42);
  f.b(290);
  f.rc(280);
}

export function point(data: FieldReader['data']): Vec3 {
  return [data.bitDouble(), data.bitDouble(), data.bitDouble()];
}
export function put(f: FieldReader, code: number, p: readonly number[]): void {
  for (let k = 0; k < p.length; k++) f.bag.addNumber(code + 10 * k, p[k]!);
}
/** All points of a list. */
export function points(f: FieldWriter, code: number): Vec3[] {
  const [x, y, z] = [f.all(code), f.all(code + 10), f.all(code + 20)];
  return x.map((v, i) => [v, y[i] ?? 0, z[i] ?? 0]);
}

const CORNERS = [10, 11, 12, 13];

export const FACE: Codec = {
  read(f) {
    f.mark('AcDbFace');
    const { data, bag } = f;
    if (f.v < 2000) {
      for (const c of CORNERS) f.p3(c);
      f.bs(70, 0);
      return;
    }
    const plain = data.bit();
    const flat = data.bit();
    let p: number[] = [data.double(), data.double(), flat ? 0 : data.double()];
    put(f, 10, p);
    for (const c of CORNERS.slice(1)) {
      p = p.map((v) => data.defaultDouble(v));
      put(f, c, p);
    }
    const hidden = plain ? 0 : data.bitShort();
    if (hidden !== 0) bag.addNumber(70, hidden);
  },
  write(f) {
    f.mark('AcDbFace');
    const { data } = f;
    const corners = CORNERS.map((c) => f.point(c));
    const hidden = f.number(70);
    if (f.v < 2000) {
      corners.forEach((p) => f.putPoint(p));
      data.bitShort(hidden);
      return;
    }
    data.bit(hidden === 0);
    const flat = Object.is(corners[0]![2], 0);
    data.bit(flat);
    for (let k = 0; k < (flat ? 2 : 3); k++) data.double(corners[0]![k]!);
    for (let c = 1; c < 4; c++) for (let k = 0; k < 3; k++) data.defaultDouble(corners[c]![k]!, corners[c - 1]![k]!);
    if (hidden !== 0) data.bitShort(hidden);
  },
};

/** SOLID and TRACE: corners in the plane, all at one height. */
export const TRACE: Codec = {
  read(f) {
    f.mark('AcDbTrace');
    f.thickness();
    const z = f.data.bitDouble();
    for (const c of CORNERS) put(f, c, [f.data.double(), f.data.double(), z]);
    f.extrusion();
  },
  write(f) {
    f.mark('AcDbTrace');
    f.thickness();
    const corners = CORNERS.map((c) => f.point(c));
    f.data.bitDouble(corners[0]![2]);
    if (corners.some((p) => p[2] !== corners[0]![2])) f.say('faces-laid-at-first-corner');
    for (const p of corners) {
      f.data.double(p[0]);
      f.data.double(p[1]);
    }
    f.extrusion();
  },
};

/** POLYLINE in the plane; its vertices are objects of their own. */
export const POLYLINE_2D: Codec = (f) => {
  f.mark('AcDb2dPolyline');
  f.bs(70);
  f.bs(75, 0);
  f.bd(40, 0);
  f.bd(41, 0);
  f.thickness();
  polylineAt(f, f.reading ? f.bd(NONE) : f.bd(30));
  f.extrusion();
};

/** The point that a POLYLINE states: only its height means something. */
function polylineAt(f: Fields, z: number): void {
  if (f.reading) put(f as FieldReader, 10, [0, 0, z]);
  else for (const c of [10, 20]) (f as FieldWriter).take(c);
}

export const POLYLINE_3D: Codec = {
  read(f) {
    f.mark('AcDb3dPolyline');
    const fitted = f.data.byte();
    const closed = f.data.byte();
    polylineAt(f, 0);
    f.bag.addNumber(70, 8 | (closed & 1) | (fitted & 3 ? 4 : 0));
    if (fitted & 3) f.bag.addNumber(75, fitted & 1 ? 5 : 6);
  },
  write(f) {
    f.mark('AcDb3dPolyline');
    const kind = f.number(75);
    f.data.byte(kind === 5 ? 1 : kind === 6 ? 2 : 0);
    f.data.byte(f.number(70) & 1);
    for (const c of [10, 20, 30]) f.take(c);
  },
};

export const POLYLINE_PFACE: Codec = {
  read(f) {
    f.mark('AcDbPolyFaceMesh');
    polylineAt(f, 0);
    f.bag.addNumber(70, 64);
    f.bs(71);
    f.bs(72);
  },
  write(f) {
    f.mark('AcDbPolyFaceMesh');
    for (const c of [10, 20, 30, 70]) f.take(c);
    f.bs(71);
    f.bs(72);
  },
};

export const POLYLINE_MESH: Codec = {
  read(f) {
    f.mark('AcDbPolygonMesh');
    polylineAt(f, 0);
    const flags = f.data.bitShort();
    f.bag.addNumber(70, flags | 16);
    f.bs(75, 0);
    f.bs(71);
    f.bs(72);
    f.bs(73, 0);
    f.bs(74, 0);
  },
  write(f) {
    f.mark('AcDbPolygonMesh');
    for (const c of [10, 20, 30]) f.take(c);
    f.bs(70);
    f.bs(75, 0);
    f.bs(71);
    f.bs(72);
    f.bs(73, 0);
    f.bs(74, 0);
  },
};

export const VERTEX_2D: Codec = {
  read(f) {
    f.mark('AcDbVertex');
    f.mark('AcDb2dVertex');
    const flags = f.data.byte();
    f.p3(10);
    const start = f.data.bitDouble();
    // A negative width stands for both.
    const end = start < 0 ? -start : f.data.bitDouble();
    if (start !== 0 || end !== 0) {
      f.bag.addNumber(40, Math.abs(start));
      f.bag.addNumber(41, end);
    }
    f.bd(42, 0);
    if (f.v >= 2010) f.bl(NONE);
    const tangent = f.data.bitDouble();
    f.bag.addNumber(70, flags);
    if (flags & 2) f.bag.addNumber(50, (tangent * 180) / Math.PI);
  },
  write(f) {
    f.mark('AcDb2dVertex');
    const { data } = f;
    data.byte(f.number(70));
    f.p3(10);
    const start = f.number(40);
    const end = f.number(41);
    if (start === end && start > 0) data.bitDouble(-start);
    else {
      data.bitDouble(start);
      data.bitDouble(end);
    }
    f.bd(42, 0);
    if (f.v >= 2010) f.bl(NONE);
    f.angle(50, 0);
  },
};

const vertex =
  (mark: string): Codec =>
  (f) => {
    f.mark('AcDbVertex');
    f.mark(mark);
    f.rc(70);
    f.p3(10);
  };
export const VERTEX_3D = vertex('AcDb3dPolylineVertex');
export const VERTEX_MESH = vertex('AcDbPolygonMeshVertex');
export const VERTEX_PFACE: Codec = vertex('AcDbPolyFaceMeshVertex');
export const VERTEX_PFACE_FACE: Codec = {
  read(f) {
    f.mark('AcDbFaceRecord');
    put(f, 10, [0, 0, 0]);
    f.bag.addNumber(70, 128);
    for (const c of [71, 72, 73, 74]) f.bs(c, 0);
  },
  write(f) {
    f.mark('AcDbFaceRecord');
    for (const c of [10, 20, 30, 70]) f.take(c);
    for (const c of [71, 72, 73, 74]) f.bs(c, 0);
  },
};
