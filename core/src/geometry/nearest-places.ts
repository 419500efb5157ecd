import Flatbush from 'flatbush';

/** Cells along a side at most, and places in one cell at most: more means that a grid does not fit how they lie. */
const MOST_CELLS = 2048;
const MOST_IN_CELL = 512;

/**
 * Finds for a point the nearest of many places. Where they lie evenly enough a grid answers, looked through in rings from
 * the point outwards, which takes a fraction of the time of a tree; where they crowd, a tree (Flatbush). `PlaceGrid` is for
 * all places within one fixed, small distance.
 */
export class NearestPlaces {
  private readonly minX: number;
  private readonly minY: number;
  private readonly cell: number;
  private readonly columns: number;
  private readonly rows: number;
  /** Where the places of each cell begin among `items`. */
  private readonly starts: Int32Array;
  private readonly items: Int32Array;
  private readonly tree: Flatbush | null;

  /** Coordinates must be numbers. */
  constructor(
    private readonly xs: Float64Array,
    private readonly ys: Float64Array,
  ) {
    const n = xs.length;
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < n; i++) {
      if (xs[i]! < minX) minX = xs[i]!;
      if (xs[i]! > maxX) maxX = xs[i]!;
      if (ys[i]! < minY) minY = ys[i]!;
      if (ys[i]! > maxY) maxY = ys[i]!;
    }
    const [w, h] = n > 0 ? [maxX - minX, maxY - minY] : [0, 0];
    this.minX = minX;
    this.minY = minY;
    // About one place in a cell; a line of places has cells along it only.
    this.cell = Math.max(Math.sqrt((w * h) / Math.max(1, n)), Math.max(w, h) / MOST_CELLS) || 1;
    this.columns = Math.floor(w / this.cell) + 1;
    this.rows = Math.floor(h / this.cell) + 1;
    const starts = new Int32Array(this.columns * this.rows + 1);
    for (let i = 0; i < n; i++) starts[this.cellOf(xs[i]!, ys[i]!) + 1]!++;
    let most = 0;
    for (let k = 1; k < starts.length; k++) {
      if (starts[k]! > most) most = starts[k]!;
      starts[k]! += starts[k - 1]!;
    }
    this.starts = starts;
    this.items = new Int32Array(n);
    const next = starts.slice();
    for (let i = 0; i < n; i++) this.items[next[this.cellOf(xs[i]!, ys[i]!)]!++] = i;
    this.tree = most > MOST_IN_CELL ? treeOf(xs, ys) : null;
  }

  private cellOf(x: number, y: number): number {
    return Math.floor((y - this.minY) / this.cell) * this.columns + Math.floor((x - this.minX) / this.cell);
  }

  /**
   * The place nearest to place `i` among those more than `apart` and at most `reach` away; of equally near ones the one
   * that comes first; -1 when there is none.
   */
  nearestTo(i: number, apart: number, reach: number): number {
    const { xs, ys, tree, cell } = this;
    const [x, y] = [xs[i], ys[i]];
    if (tree) {
      const far = (j: number): boolean => j !== i && Math.hypot(xs[j]! - x!, ys[j]! - y!) > apart;
      return tree.neighbors(x!, y!, 1, reach, far)[0]! ?? -1;
    }
    const [cx, cy] = [Math.floor((x! - this.minX) / cell), Math.floor((y! - this.minY) / cell)];
    // How far the nearest side of the point's own cell is.
    const [ix, iy] = [x! - this.minX - cx * cell, y! - this.minY - cy * cell];
    const inside = Math.min(ix, cell - ix, iy, cell - iy);
    const least = apart * apart;
    let best = reach * reach;
    let found = -1;
    const look = (column: number, row: number): void => {
      if (column < 0 || row < 0 || column >= this.columns || row >= this.rows) return;
      const k = row * this.columns + column;
      for (let p = this.starts[k]!; p < this.starts[k + 1]!; p++) {
        const j = this.items[p]!;
        const d = (xs[j]! - x!) ** 2 + (ys[j]! - y!) ** 2;
        if (j === i || d <= least || d > best || (d === best && found >= 0 && j > found)) continue;
        best = d;
        found = j;
      }
    };
    look(cx, cy);
    const last = Math.max(cx, cy, this.columns - 1 - cx, this.rows - 1 - cy);
    for (let r = 1; r <= last; r++) {
      const beyond = inside + (r - 1) * cell;
      if (beyond * beyond > best) break;
      for (let c = cx - r; c <= cx + r; c++) {
        look(c, cy - r);
        look(c, cy + r);
      }
      for (let c = cy - r + 1; c < cy + r; c++) {
        look(cx - r, c);
        look(cx + r, c);
      }
    }
    return found;
  }
}

function treeOf(xs: Float64Array, ys: Float64Array): Flatbush {
  const tree = new Flatbush(xs.length);
  for (let i = 0; i < xs.length; i++) tree.add(xs[i]!, ys[i]!, xs[i], ys[i]);
  tree.finish();
  return tree;
}
