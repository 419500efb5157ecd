/**
 * Which points of a chain of straight edges stay so that every other lies within `bound` of the edge that goes past it: the
 * point farthest from the straight between two that stay stays too, and so on for either part. Then the thinned chain lies
 * within the bound of the old one and the old one within the bound of the thinned. Run on what it left it takes nothing more
 * away, since the same points are the farthest again.
 *
 * The fewest points would be fewer at times, but thinning those again takes more away, each time from what was left:
 * the bound would count from another curve each time.
 *
 * `chain` holds indices into `points` (x, y, z each three apart) in order; `keep` is set for those that stay. The ends stay; the
 * first of several equally far points counts.
 */
export function thinChain(points: Float64Array, chain: Int32Array, bound: number, keep: Uint8Array): void {
  const n = chain.length;
  if (n === 0) return;
  keep[chain[0]!] = 1;
  keep[chain[n - 1]!] = 1;
  const stack: number[] = [0, n - 1];
  const limit = bound * bound;
  while (stack.length > 0) {
    const j = stack.pop()!;
    const i = stack.pop()!;
    if (j - i < 2) continue;
    const { square, at: far } = farthestFrom(points, chain, i, j);
    if (far < 0 || square <= limit) continue;
    keep[chain[far]!] = 1;
    stack.push(i, far, far, j);
  }
}

/** How far the points of a chain between two that stay lie from the straight between those, at most, and which is it. */
export function offStraight(
  points: Float64Array,
  chain: Int32Array,
  i: number,
  j: number,
): { off: number; at: number } {
  const { square, at } = farthestFrom(points, chain, i, j);
  return { off: Math.sqrt(square), at: chain[at < 0 ? i : at]! };
}

/** The square of that distance, and which place in the chain it is; -1 where all lie on the straight. */
function farthestFrom(points: Float64Array, chain: Int32Array, i: number, j: number): { square: number; at: number } {
  const [a, b] = [3 * chain[i]!, 3 * chain[j]!];
  const [ax, ay, az] = [points[a]!, points[a + 1]!, points[a + 2]!];
  const [dx, dy, dz] = [points[b]! - ax, points[b + 1]! - ay, points[b + 2]! - az];
  const l = dx * dx + dy * dy + dz * dz;
  let square = 0;
  let at = -1;
  for (let k = i + 1; k < j; k++) {
    const c = 3 * chain[k]!;
    const [px, py, pz] = [points[c]! - ax, points[c + 1]! - ay, points[c + 2]! - az];
    const t = l === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy + pz * dz) / l));
    const [ex, ey, ez] = [px - t * dx, py - t * dy, pz - t * dz];
    const d = ex * ex + ey * ey + ez * ez;
    if (d > square) {
      square = d;
      at = k;
    }
  }
  return { square, at };
}
