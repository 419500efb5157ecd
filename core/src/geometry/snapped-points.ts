import { PlaceGrid } from './place-grid.js';
import type { PointTable } from './point-table.js';
import { AT_END } from './tolerance.js';

/** For each point the one that stands for it: of those within the bound the one that most edges end at, then the lowest. */
export function snapped(table: PointTable, uses: readonly number[], within: number): Int32Array {
  const n = table.count;
  const pts = table.points;
  const stands = Int32Array.from({ length: n }, (_, i) => i);
  const [xs, ys] = [new Float64Array(n), new Float64Array(n)];
  for (let i = 0; i < n; i++) [xs[i], ys[i]] = [pts[3 * i]!, pts[3 * i + 1]!];
  const better = (a: number, b: number): number => uses[b]! - uses[a]! || ys[a]! - ys[b]! || xs[a]! - xs[b]!;
  const grid = new PlaceGrid(xs, ys, within * (1 + AT_END));
  const done = new Uint8Array(n);
  // The most used first, so that nothing is dragged along a row of points beyond the bound.
  for (const i of [...stands].sort(better)) {
    if (done[i]) continue;
    done[i] = 1;
    grid.near(xs[i]!, ys[i]!, (k) => {
      if (done[k] || pts[3 * k + 2] !== pts[3 * i + 2]) return;
      done[k] = 1;
      stands[k] = i;
    });
  }
  return stands;
}
