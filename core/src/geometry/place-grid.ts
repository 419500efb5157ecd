/**
 * Finds which of many places lie within a fixed distance of a point: a hashed grid whose cells are four times that
 * distance wide, so that mostly one cell is looked at. Building and asking take time in proportion to the places.
 */
export class PlaceGrid {
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  private readonly mask: number;
  private readonly cell: number;

  /**
   * `met` is the distance, above zero; places that are no numbers are never found. Where `group` says which group each
   * place belongs to, places of other groups are not even looked at.
   */
  constructor(
    private readonly xs: ArrayLike<number>,
    private readonly ys: ArrayLike<number>,
    private readonly met: number,
    private readonly group?: Int32Array,
  ) {
    if (!(met > 0)) throw new RangeError('the distance of a grid must be above zero');
    const n = xs.length;
    let size = 16;
    while (size < n * 2) size *= 2;
    this.mask = size - 1;
    this.cell = 4 * met;
    this.head = new Int32Array(size).fill(-1);
    this.next = new Int32Array(n);
    // From the last to the first, so that places are found in their order.
    for (let i = n - 1; i >= 0; i--) {
      const slot = this.slot(Math.floor(xs[i]! / this.cell), Math.floor(ys[i]! / this.cell), group?.[i]);
      this.next[i] = this.head[slot]!;
      this.head[slot] = i;
    }
  }

  /** The grid of what `list` holds. */
  static of<T>(
    list: readonly T[],
    x: (item: T) => number,
    y: (item: T) => number,
    met: number,
    group?: (item: T) => number,
  ): PlaceGrid {
    const [xs, ys] = [new Float64Array(list.length), new Float64Array(list.length)];
    for (let i = 0; i < list.length; i++) {
      xs[i] = x(list[i]!);
      ys[i] = y(list[i]!);
    }
    return new PlaceGrid(xs, ys, met, group && Int32Array.from(list, group));
  }

  private slot(cx: number, cy: number, group = 0): number {
    const h = Math.imul(cx | 0, 0x9e3779b1) ^ Math.imul(cy | 0, 0x85ebca6b) ^ Math.imul(group, 0xc2b2ae35);
    return (h ^ (h >>> 15)) & this.mask;
  }

  /** Calls `visit` for each place (of the group) within the distance of (x, y), until it returns `true`. */
  near(x: number, y: number, visit: (i: number) => boolean | void, group = 0): void {
    const { cell, met, xs, ys, head, next } = this;
    const [x0, y0] = [Math.floor((x - met) / cell), Math.floor((y - met) / cell)];
    // At most one border lies between; counted, since the numbers of far cells are too large to count on by one.
    const across = Math.floor((x + met) / cell) > x0 ? 1 : 0;
    const up = Math.floor((y + met) / cell) > y0 ? 1 : 0;
    for (let cx = x0, k = 0; k <= across; k++, cx = x0 + 1)
      for (let cy = y0, m = 0; m <= up; m++, cy = y0 + 1)
        for (let i = head[this.slot(cx, cy, group)]!; i >= 0; i = next[i]!) {
          const [dx, dy] = [xs[i]! - x, ys[i]! - y];
          if (!(dx * dx + dy * dy <= met * met)) continue;
          // Cells that share a slot are told apart here, so that no place is visited twice.
          if (Math.floor(xs[i]! / cell) !== cx || Math.floor(ys[i]! / cell) !== cy) continue;
          if (this.group && this.group[i] !== group) continue;
          if (visit(i) === true) return;
        }
  }

  /**
   * The closest place (of the group) within the distance, taken out of the grid; -1 where there is none. Of thousands in one
   * spot the first `most` are looked at.
   */
  takeClosest(x: number, y: number, most: number, group = 0): number {
    const { cell, met, xs, ys, head, next } = this;
    const [x0, y0] = [Math.floor((x - met) / cell), Math.floor((y - met) / cell)];
    const across = Math.floor((x + met) / cell) > x0 ? 1 : 0;
    const up = Math.floor((y + met) / cell) > y0 ? 1 : 0;
    let [found, foundSlot, foundBefore, closest, looked] = [-1, 0, -1, met * met, 0];
    for (let k = 0; k <= across && looked < most; k++)
      for (let m = 0; m <= up && looked < most; m++) {
        const slot = this.slot(x0 + k, y0 + m, group);
        for (let i = head[slot]!, before = -1; i >= 0 && looked < most; before = i, i = next[i]!) {
          const [dx, dy] = [xs[i]! - x, ys[i]! - y];
          const d = dx * dx + dy * dy;
          if (d > met * met || (this.group && this.group[i] !== group)) continue;
          looked = d === 0 ? most : looked + 1;
          if (d > closest || (d === closest && found >= 0)) continue;
          [found, foundSlot, foundBefore, closest] = [i, slot, before, d];
        }
      }
    if (found < 0) return -1;
    if (foundBefore < 0) head[foundSlot] = next[found]!;
    else next[foundBefore] = next[found]!;
    return found;
  }

  /**
   * Places that hang together by steps of at most the distance, in groups of two and more, each in order. What was found
   * is taken out of the grid at once, so that thousands in one place are looked at once each.
   */
  groups(): number[][] {
    const head = this.head.slice();
    const next = this.next.slice();
    const seen = new Uint8Array(this.xs.length);
    const out: number[][] = [];
    for (let i = 0; i < seen.length; i++) {
      if (seen[i]) continue;
      let group: number[] | null = null;
      for (let k = 0; k < (group?.length ?? 1); k++) {
        const from: number = group ? group[k]! : i;
        group = this.take(from, i, head, next, seen, group);
      }
      if (group) out.push(group);
    }
    return out;
  }

  /** Takes the places within the distance of `from` out of the grid and into the group, which begins with `first`. */
  private take(
    from: number,
    first: number,
    head: Int32Array,
    next: Int32Array,
    seen: Uint8Array,
    group: number[] | null,
  ): number[] | null {
    const { cell, met, xs, ys } = this;
    const [x, y, own] = [xs[from], ys[from], this.group?.[from] ?? 0];
    const [x0, y0] = [Math.floor((x! - met) / cell), Math.floor((y! - met) / cell)];
    const across = Math.floor((x! + met) / cell) > x0 ? 1 : 0;
    const up = Math.floor((y! + met) / cell) > y0 ? 1 : 0;
    seen[from] = 1;
    for (let k = 0; k <= across; k++)
      for (let m = 0; m <= up; m++) {
        const slot = this.slot(x0 + k, y0 + m, own);
        let before = -1;
        for (let i = head[slot]!; i >= 0; i = next[i]!) {
          const [dx, dy] = [xs[i]! - x!, ys[i]! - y!];
          const near = dx * dx + dy * dy <= met * met && (!this.group || this.group[i] === own);
          if (!near) {
            before = i;
            continue;
          }
          if (before < 0) head[slot] = next[i]!;
          else next[before] = next[i]!;
          if (i === from || seen[i]) continue;
          seen[i] = 1;
          (group ??= [first]).push(i);
        }
      }
    return group;
  }
}
