import type { Affine } from '../geometry/affine.js';
import type { Nurbs } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import type { CurveSink } from '../drawing/curves.js';
import { curvesOf } from '../drawing/curves.js';
import type { Entity } from '../drawing/entity.js';
import type { ChordSink } from '../drawing/flatten.js';
import { Flattener } from '../drawing/flatten.js';
import { LengthSink } from '../drawing/measures.js';

/** Hands each curve on to one that cuts it into chords and to one that adds up lengths, so that it is worked out once. */
class ChordsAndLength implements CurveSink {
  readonly lengths = new LengthSink();

  constructor(private readonly chords: Flattener) {}

  move(x: number, y: number, z: number): void {
    this.chords.move(x, y, z);
    this.lengths.move(x, y, z);
  }
  line(x: number, y: number, z: number): void {
    this.chords.line(x, y, z);
    this.lengths.line(x, y, z);
  }
  arc(c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number, z: number): void {
    this.chords.arc(c, u, v, start, sweep, x, y, z);
    this.lengths.arc(c, u, v, start, sweep, x, y, z);
  }
  cubic(x1: number, y1: number, z1: number, x2: number, y2: number, z2: number, x: number, y: number, z: number): void {
    this.chords.cubic(x1, y1, z1, x2, y2, z2, x, y, z);
    this.lengths.cubic(x1, y1, z1, x2, y2, z2, x, y, z);
  }
  nurbs(curve: Nurbs): void {
    this.chords.nurbs(curve);
    this.lengths.nurbs(curve);
  }
}

/** Draws an entity's curves as chords, `tolerance` in world units, and gives the exact length of the curves. */
export function flattenMeasured(entity: Entity, toWorld: Affine, tolerance: number, sink: ChordSink): number {
  const both = new ChordsAndLength(new Flattener(sink, tolerance));
  curvesOf(entity, toWorld, both);
  return both.lengths.total;
}
