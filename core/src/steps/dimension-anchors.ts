import type { Dimension } from '../drawing/entity.js';
import type { Vec3 } from '../geometry/vector.js';
import { flatDistance } from '../geometry/vector.js';
import type { StepContext } from './step.js';

/** The points of a dimension that hang on what it measures, by their group codes. */
const ANCHORS = [13, 14, 15] as const;

/**
 * A dimension whose anchors lay on points that are gone, hung on the curve that goes past there; the very same where none did.
 * `moved` says where a point that is gone would lie now. One that follows its own picture keeps that.
 */
export function rehung(
  e: Dimension,
  moved: (x: number, y: number, z: number) => [number, number] | null,
  ctx: StepContext,
): Dimension {
  let off = 0;
  const points: Partial<Record<keyof Dimension['points'], Vec3>> = { ...e.points };
  for (const code of ANCHORS) {
    const at = e.points[code];
    const to = at && moved(at[0], at[1], at[2]);
    if (!to || (to[0] === at[0] && to[1] === at[1])) continue;
    points[code] = [to[0], to[1], at[2]];
    off = Math.max(off, Math.hypot(to[0] - at[0], to[1] - at[1]));
  }
  if (off === 0) return e;
  const made = { ...e, points };
  // What stands off from the points turns with them.
  ctx.lineage.remeasure(e, made, 'anchor-rehung', off * (1 + leverOf(e)));
  ctx.ledger.add({ carryOver: 'text', action: 'changed', onPurpose: true, reason: 'anchors-rehung', id: e.id });
  return made;
}

/** How far the parts of a dimension reach, in lengths of what it measures. */
function leverOf(e: Dimension): number {
  const all = Object.values(e.points);
  const [a, b] = [e.points[13] ?? all[0]!, e.points[14] ?? all[1] ?? all[0]!];
  const reach = all.reduce((most, p) => Math.max(most, flatDistance(p, a), flatDistance(p, b)), 0);
  return (2 * reach) / (flatDistance(a, b) || reach || 1);
}
