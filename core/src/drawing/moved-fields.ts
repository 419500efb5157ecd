import type { Affine } from '../geometry/affine.js';
import { applyPoint, applyVector } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { length, scaled } from '../geometry/vector.js';
import type { Hatch, Spline } from './entity.js';

/** The directions at the ends of a spline under a map of space, as long as they were. */
export function movedTangents(e: Spline, m: Affine): Pick<Spline, 'startTangent' | 'endTangent'> {
  const moved = (v: Vec3): Vec3 => {
    const to = applyVector(m, v);
    return scaled(to, length(v) / (length(to) || 1));
  };
  return {
    ...(e.startTangent && { startTangent: moved(e.startTangent) }),
    ...(e.endTangent && { endTangent: moved(e.endTangent) }),
  };
}

/** The seed points of a hatch under a map of its plane. */
export function movedSeeds(e: Hatch, local: Affine): Pick<Hatch, 'seeds'> {
  const { seeds } = e;
  if (!seeds) return {};
  const out = new Float64Array(seeds.length);
  for (let i = 0; i < seeds.length; i += 2) out.set(applyPoint(local, [seeds[i]!, seeds[i + 1]!, 0]).slice(0, 2), i);
  return { seeds: out };
}
