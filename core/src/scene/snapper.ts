import Flatbush from 'flatbush';
import { applyPoint, inverse, largestScale } from '../geometry/affine.js';
import { ccwSweep } from '../geometry/arcs.js';
import { Box2 } from '../geometry/box.js';
import type { Visit } from '../drawing/resolve.js';
import { clippedChord } from '../geometry/clip-chord.js';
import { flattenEntity } from '../drawing/flatten.js';
import type { ItemIndex, OutOfSight } from './item-index.js';
import type { SnapKind } from './scene.js';
import type { SnapPoints } from './snaps.js';
import { SNAP_KINDS } from './scene.js';
import { AT_END, TOUCHING } from '../geometry/tolerance.js';

export interface Snap {
  x: number;
  y: number;
  kind: SnapKind;
}

/** The most pieces of curves near a point, and the most entities, that are looked at for where they meet. */
const MOST_NEAR = 300;
const MOST_LOOKED_AT = 500;
/** How far chords may lie from their curves, as a part of the reach, when curves are looked at closely. */
const CLOSE = TOUCHING;

/** A piece of a curve near the point, and which entity's it is. */
interface Near {
  ax: number;
  ay: number;
  bx: number;
  by: number;
  /** Its curve, and what that is a piece of. Where two sides of one outline meet is an end of both. */
  curve: number;
  piece: Pick<Visit, 'entity' | 'toWorld'>;
}

/** Finds what a measurement can snap to. */
export class Snapper {
  private readonly index: Flatbush | null;

  constructor(
    private readonly found: SnapPoints,
    private readonly items: ItemIndex,
  ) {
    const { points, kinds } = found;
    const n = kinds.length;
    this.index = n > 0 ? new Flatbush(n) : null;
    for (let i = 0; i < n; i++) this.index!.add(points[2 * i]!, points[2 * i + 1]!, points[2 * i], points[2 * i + 1]);
    this.index?.finish();
  }

  /**
   * The best point within `reach`: ends, middles, centres and quarter points, then where two curves meet, then the foot of
   * the perpendicular from `from`, at last the closest point of a curve.
   */
  at(x: number, y: number, reach: number, out: OutOfSight, from?: { x: number; y: number }): Snap | null {
    let best: Snap | null = null;
    let least = reach;
    const { points, kinds } = this.found;
    // Ends win over middles at the same distance.
    for (const i of this.index?.search(x - reach, y - reach, x + reach, y + reach) ?? []) {
      const d = Math.hypot(points[2 * i]! - x, points[2 * i + 1]! - y) + kinds[i]! * reach * 1e-3;
      if (d >= least) continue;
      least = d;
      best = { x: points[2 * i]!, y: points[2 * i + 1]!, kind: SNAP_KINDS[kinds[i]!]! };
    }
    if (best) return best;
    const near = this.near(x, y, reach, out);
    const take = (p: readonly [number, number] | null, kind: SnapKind): void => {
      const d = p ? Math.hypot(p[0] - x, p[1] - y) : Infinity;
      if (d >= least) return;
      least = d;
      best = { x: p![0], y: p![1], kind };
    };
    for (let i = 0; i < near.length; i++)
      for (let k = i + 1; k < near.length; k++)
        if (near[i]!.curve !== near[k]!.curve) {
          const rough = crossing(near[i]!, near[k]!);
          if (rough && Math.hypot(rough[0] - x, rough[1] - y) < 1.2 * reach)
            take(this.meeting(near[i]!, near[k]!, rough, reach), 'crossing');
        }
    if (best) return best;
    if (from)
      for (const n of near)
        for (const close of closer(n, footOf(n, from.x, from.y), reach))
          take(footOf(close, from.x, from.y), 'perpendicular');
    if (best) return best;
    for (const n of near) {
      const rough = onPiece(n, x, y);
      if (Math.hypot(rough[0] - x, rough[1] - y) > 1.2 * reach) continue;
      for (const close of closer(n, rough, reach)) take(onPiece(close, x, y), 'on the curve');
    }
    return best;
  }

  /** Where two curves meet near a rough crossing of their chords. */
  private meeting(a: Near, b: Near, rough: [number, number], reach: number): [number, number] | null {
    for (const p of closer(a, rough, reach))
      for (const q of closer(b, rough, reach)) {
        const met = crossing(p, q);
        if (met) return met;
      }
    return null;
  }

  private near(x: number, y: number, reach: number, out: OutOfSight): Near[] {
    const found: Near[] = [];
    let curve = 0;
    const box = Box2.of(x - reach, y - reach, x + reach, y + reach);
    this.items.pieces(this.items.meeting(box).slice(-MOST_LOOKED_AT), out, (piece) => {
      if (found.length >= MOST_NEAR) return;
      curve++;
      found.push(...chordsNear({ piece, curve }, x, y, 1.2 * reach, reach / 50));
    });
    return found;
  }
}

/** The chords of a curve that meet a square of half width `r` about a point. */
function chordsNear(of: Pick<Near, 'piece' | 'curve'>, x: number, y: number, r: number, tolerance: number): Near[] {
  const found: Near[] = [];
  let [px, py] = [0, 0];
  const box = Box2.of(x - r, y - r, x + r, y + r);
  flattenEntity(of.piece.entity, of.piece.toWorld, tolerance, {
    moveTo: (qx, qy) => void ([px, py] = [qx, qy]),
    lineTo: (qx, qy) => {
      if (found.length < MOST_NEAR && clippedChord(box, px, py, qx, qy))
        found.push({ ...of, ax: px, ay: py, bx: qx, by: qy });
      [px, py] = [qx, qy];
    },
  });
  return found;
}

/** The curve of a piece cut finely about a point. */
function closer(n: Near, p: readonly [number, number] | null, reach: number): Near[] {
  if (!p) return [];
  // A straight piece is as fine as it gets.
  const { entity } = n.piece;
  if (entity.kind === 'line') return [n];
  return chordsNear({ ...n, piece: shortArc(n.piece, p, reach) }, p[0], p[1], reach / 15, reach * CLOSE);
}

/** Of a circle or an arc only the part about a point, so that it can be cut as finely as one likes. */
function shortArc(piece: Near['piece'], p: readonly [number, number], reach: number): Near['piece'] {
  const { entity: e, toWorld } = piece;
  if ((e.kind !== 'circle' && e.kind !== 'arc') || e.normal) return piece;
  const q = applyPoint(inverse(toWorld), [p[0], p[1], 0]);
  const t = Math.atan2(q[1] - e.centre[1], q[0] - e.centre[0]);
  const half = Math.min(1, reach / 5 / (e.radius * (largestScale(toWorld) || 1)));
  if (e.kind === 'circle') {
    return { toWorld, entity: { ...e, kind: 'arc', start: t - half, end: t + half } };
  }
  // Nothing beyond the ends of an arc.
  const sweep = ccwSweep(e.start, e.end);
  const at = ccwSweep(e.start, t);
  if (at > sweep) return piece;
  const [from, to] = [Math.max(0, at - half), Math.min(sweep, at + half)];
  return { toWorld, entity: { ...e, start: e.start + from, end: e.start + to } };
}

/** Where along a piece the foot of the perpendicular from a point lies: 0 at its beginning, 1 at its end. */
function place({ ax, ay, bx, by }: Near, x: number, y: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const l = dx * dx + dy * dy;
  return l === 0 ? 0 : ((x - ax) * dx + (y - ay) * dy) / l;
}

/** The point of a piece that lies closest. */
function onPiece(n: Near, x: number, y: number): [number, number] {
  const t = Math.max(0, Math.min(1, place(n, x, y)));
  return [n.ax + t * (n.bx - n.ax), n.ay + t * (n.by - n.ay)];
}

function footOf(n: Near, x: number, y: number): [number, number] | null {
  const t = place(n, x, y);
  return t < 0 || t > 1 ? null : [n.ax + t * (n.bx - n.ax), n.ay + t * (n.by - n.ay)];
}

/** Where two pieces cross. */
function crossing(a: Near, b: Near): [number, number] | null {
  const [rx, ry] = [a.bx - a.ax, a.by - a.ay];
  const [sx, sy] = [b.bx - b.ax, b.by - b.ay];
  const d = rx * sy - ry * sx;
  if (d === 0) return null;
  const t = ((b.ax - a.ax) * sy - (b.ay - a.ay) * sx) / d;
  const u = ((b.ax - a.ax) * ry - (b.ay - a.ay) * rx) / d;
  if (t < -AT_END || t > 1 + AT_END || u < -AT_END || u > 1 + AT_END) return null;
  return [a.ax + t * rx, a.ay + t * ry];
}
