import type { Affine } from '../geometry/affine.js';
import { chordCount } from '../geometry/arcs.js';
import { cubicAt, cubicChordCount } from '../geometry/beziers.js';
import type { Nurbs } from '../geometry/nurbs.js';
import { bezierPieces } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import { length } from '../geometry/vector.js';
import type { CurveSink } from './curves.js';
import { curvesOf } from './curves.js';
import type { Entity } from './entity.js';

/** Receives chords in world coordinates. */
export interface ChordSink {
  moveTo(x: number, y: number, z: number): void;
  lineTo(x: number, y: number, z: number): void;
}

/** Draws curves as chords no further than `tolerance` from the true curve. End points are exact. */
export class Flattener implements CurveSink {
  private x = 0;
  private y = 0;
  private z = 0;

  constructor(
    private readonly sink: ChordSink,
    private readonly tolerance: number,
  ) {}

  move(x: number, y: number, z: number): void {
    this.x = x;
    this.y = y;
    this.z = z;
    this.sink.moveTo(x, y, z);
  }

  line(x: number, y: number, z: number): void {
    this.x = x;
    this.y = y;
    this.z = z;
    this.sink.lineTo(x, y, z);
  }

  arc(c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number, z: number): void {
    const n = chordCount(Math.max(length(u), length(v)), sweep, this.tolerance);
    for (let i = 1; i < n; i++) {
      const t = start + (sweep * i) / n;
      const k = Math.cos(t);
      const s = Math.sin(t);
      this.sink.lineTo(c[0] + u[0] * k + v[0] * s, c[1] + u[1] * k + v[1] * s, c[2] + u[2] * k + v[2] * s);
    }
    this.line(x, y, z);
  }

  cubic(
    x1: number,
    y1: number,
    z1: number,
    x2: number,
    y2: number,
    z2: number,
    x3: number,
    y3: number,
    z3: number,
  ): void {
    const { x, y } = this;
    const n = cubicChordCount(x, y, x1, y1, x2, y2, x3, y3, this.tolerance);
    for (let k = 1; k < n; k++) {
      const t = k / n;
      this.sink.lineTo(cubicAt(x, x1, x2, x3, t), cubicAt(y, y1, y2, y3, t), cubicAt(this.z, z1, z2, z3, t));
    }
    this.line(x3, y3, z3);
  }

  /** Each span is halved until its control points, within whose hull it runs, lie close to the chord. */
  nurbs(curve: Nurbs): void {
    const refine = (piece: Float64Array, depth: number): void => {
      const n = piece.length / 4;
      const [a, b] = [0, n - 1].map((i) => placed(piece, i)) as [number[], number[]];
      let isFlat = true;
      for (let i = 1; i < n - 1 && isFlat; i++) isFlat = toChord(placed(piece, i), a, b) <= this.tolerance;
      if (isFlat || depth >= DEEPEST) return this.line(b[0]!, b[1]!, b[2]!);
      const [first, second] = halves(piece);
      refine(first, depth + 1);
      refine(second, depth + 1);
    };
    bezierPieces(curve).forEach((piece, i) => {
      if (i === 0) this.move(...(placed(piece, 0) as [number, number, number]));
      refine(piece, 0);
    });
  }
}

/** A span is halved so often at the most. */
const DEEPEST = 14;

/** A control point of a Bézier piece in homogeneous coordinates, where it lies. */
function placed(piece: Float64Array, i: number): number[] {
  const w = piece[4 * i + 3]! || 1;
  return [piece[4 * i]! / w, piece[4 * i + 1]! / w, piece[4 * i + 2]! / w];
}

/** Both halves of a Bézier piece (de Casteljau). */
function halves(piece: Float64Array): [Float64Array, Float64Array] {
  const n = piece.length / 4;
  const [first, rest] = [new Float64Array(piece.length), piece.slice()];
  for (let r = 0; r < n; r++) {
    first.set(rest.subarray(0, 4), 4 * r);
    for (let i = 0; i < 4 * (n - 1 - r); i++) rest[i] = (rest[i]! + rest[i + 4]!) / 2;
  }
  return [first, rest];
}

function toChord(p: number[], a: number[], b: number[]): number {
  const dx = b[0]! - a[0]!;
  const dy = b[1]! - a[1]!;
  const dz = b[2]! - a[2]!;
  const l2 = dx * dx + dy * dy + dz * dz;
  const t =
    l2 === 0 ? 0 : Math.max(0, Math.min(1, ((p[0]! - a[0]!) * dx + (p[1]! - a[1]!) * dy + (p[2]! - a[2]!) * dz) / l2));
  const [x, y, z] = [p[0]! - a[0]! - t * dx, p[1]! - a[1]! - t * dy, p[2]! - a[2]! - t * dz];
  return Math.sqrt(x * x + y * y + z * z);
}

/** Draws an entity's curves as chords; `tolerance` in world units. */
export const flattenEntity = (entity: Entity, toWorld: Affine, tolerance: number, sink: ChordSink): void =>
  curvesOf(entity, toWorld, new Flattener(sink, tolerance));
