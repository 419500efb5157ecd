import Flatbush from 'flatbush';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';

export interface Farthest {
  /** Largest distance found; Infinity when the other side has nothing at all. */
  distance: number;
  /** Where on the first set it was met. */
  x: number;
  y: number;
  samples: number;
}

const MAX_SAMPLES = 400_000;

/**
 * The largest distance from points of `from` (ends and middles of its chords) to the chords of `to`. `reach` is where
 * the search begins; it widens until something is found, so that the distance is exact however large.
 */
export function farthest(from: Float64Array, to: Float64Array, reach: number, work?: Work): Farthest {
  const n = from.length / 4;
  if (n === 0) return { distance: 0, x: 0, y: 0, samples: 0 };
  if (to.length === 0) return { distance: Infinity, x: from[0], y: from[1], samples: 1 };
  const index = new Flatbush(to.length / 4);
  for (let i = 0; i < to.length; i += 4) {
    index.add(
      Math.min(to[i], to[i + 2]),
      Math.min(to[i + 1], to[i + 3]),
      Math.max(to[i], to[i + 2]),
      Math.max(to[i + 1], to[i + 3]),
    );
  }
  index.finish();
  const stride = Math.max(1, Math.ceil((3 * n) / MAX_SAMPLES));
  const worst: Farthest = { distance: 0, x: from[0], y: from[1], samples: 0 };
  const probe = (x: number, y: number): void => {
    worst.samples++;
    // A point that is closer than the worst one so far cannot change the answer.
    const d = nearest(index, to, x, y, Math.max(reach, worst.distance));
    if (d > worst.distance) {
      worst.distance = d;
      worst.x = x;
      worst.y = y;
    }
  };
  for (let i = 0; i < n; i += stride) {
    if (worst.samples % 8192 < 3) checkStop(work);
    const k = 4 * i;
    probe(from[k], from[k + 1]);
    probe((from[k] + from[k + 2]) / 2, (from[k + 1] + from[k + 3]) / 2);
    probe(from[k + 2], from[k + 3]);
  }
  return worst;
}

function nearest(index: Flatbush, to: Float64Array, x: number, y: number, reach: number): number {
  for (let r = reach; ; r *= 8) {
    let best = Infinity;
    for (const i of index.search(x - r, y - r, x + r, y + r)) {
      const d = toChord(to, 4 * i, x, y);
      if (d < best) {
        best = d;
        if (best === 0) return 0;
      }
    }
    if (best <= r || !Number.isFinite(r)) return best;
  }
}

function toChord(c: Float64Array, i: number, x: number, y: number): number {
  const dx = c[i + 2] - c[i];
  const dy = c[i + 3] - c[i + 1];
  const l2 = dx * dx + dy * dy;
  const t = l2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - c[i]) * dx + (y - c[i + 1]) * dy) / l2));
  return Math.hypot(x - c[i] - t * dx, y - c[i + 1] - t * dy);
}
