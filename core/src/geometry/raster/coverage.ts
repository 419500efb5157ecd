/** Receives runs of pixels of one row, `from` to `to` (exclusive), that are covered to one part, 0 to 1. */
export type RunSink = (y: number, from: number, to: number, part: number) => void;
export type FillRule = 'nonzero' | 'evenodd';

/** A part of a pixel that nobody sees: half of one step of eight bits. */
const UNSEEN_PART = 1 / 512;

/**
 * How far an area covers each pixel, exactly: the area of its chords within the pixel, not samples of it. Edges are added in pixels (x
 * to the right, y downwards, pixel (0, 0) from 0 to 1); what lies outside `width` × `height` counts as far as it bears on what is within.
 *
 * Each edge leaves in the cells that it passes how far it goes up or down in them (`rise`), and that times the part of the cell to
 * its right (`part`). A row summed from the left is then the winding number of each pixel, averaged over it.
 */
export class Coverage {
  private count = 0;
  private cell = new Float64Array(1024);
  private rise = new Float64Array(1024);
  private part = new Float64Array(1024);

  constructor(
    readonly width: number,
    readonly height: number,
  ) {}

  /** Adds a directed edge. */
  edge(x0: number, y0: number, x1: number, y1: number): void {
    const { width, height } = this;
    if (y0 === y1 || (y0 <= 0 && y1 <= 0) || (y0 >= height && y1 >= height) || (x0 >= width && x1 >= width)) return;
    const slope = (x1 - x0) / (y1 - y0);
    const cut = (y: number): number => x0 + (y - y0) * slope;
    const [from, to] = [Math.min(Math.max(y0, 0), height), Math.min(Math.max(y1, 0), height)];
    const [xa, xb] = [from === y0 ? x0 : cut(from), to === y1 ? x1 : cut(to)];
    const sign = to > from ? 1 : -1;
    const [top, bottom, xTop, xBottom] = sign > 0 ? [from, to, xa, xb] : [to, from, xb, xa];
    let [y, x] = [top, xTop];
    for (let row = Math.floor(top); y < bottom; row++) {
      const end = Math.min(row + 1, bottom);
      const xEnd = end === bottom ? xBottom : cut(end);
      this.inRow(row, x, xEnd, sign * (end - y));
      [y, x] = [end, xEnd];
    }
  }

  /** A piece of an edge within one row, that rises by so much. */
  private inRow(row: number, xa: number, xb: number, rise: number): void {
    const { width } = this;
    const [a, b] = xa < xb ? [xa, xb] : [xb, xa];
    if (b <= 0) return this.add(row, 0, rise, rise);
    if (a >= width) return;
    const perX = b > a ? rise / (b - a) : 0;
    if (a < 0) this.add(row, 0, -a * perX, -a * perX);
    // Beyond the right edge it bears on nothing.
    const [l, r] = [Math.max(a, 0), Math.min(b, width)];
    const [first, last] = [Math.floor(l), Math.floor(r)];
    if (first === last) {
      const own = b > a ? (r - l) * perX : rise;
      return this.add(row, first, own, own * (1 - ((l + r) / 2 - first)));
    }
    const into = first + 1 - l;
    this.add(row, first, into * perX, (into * perX * into) / 2);
    for (let i = first + 1; i < last; i++) this.add(row, i, perX, perX / 2);
    const out = r - last;
    if (out > 0) this.add(row, last, out * perX, out * perX * (1 - out / 2));
  }

  private add(row: number, column: number, rise: number, part: number): void {
    if (column >= this.width) return;
    const key = row * this.width + column;
    const last = this.count - 1;
    if (last >= 0 && this.cell[last] === key) {
      this.rise[last]! += rise;
      this.part[last]! += part;
      return;
    }
    if (this.count === this.cell.length) this.grow();
    this.cell[this.count] = key;
    this.rise[this.count] = rise;
    this.part[this.count++] = part;
  }

  private grow(): void {
    const larger = (from: Float64Array): Float64Array<ArrayBuffer> => {
      const to = new Float64Array(2 * from.length);
      to.set(from);
      return to;
    };
    [this.cell, this.rise, this.part] = [larger(this.cell), larger(this.rise), larger(this.part)];
  }

  /** Tells of all that is covered, row by row from the left, and forgets it. */
  sweep(rule: FillRule, put: RunSink): void {
    const { width, count, cell } = this;
    // Cells in order of place, each with its number behind it: a number of 53 bits holds both.
    const order = new Float64Array(count);
    for (let i = 0; i < count; i++) order[i] = cell[i]! * count + i;
    order.sort();
    let winding = 0;
    let row = -1;
    let next = 0;
    for (let i = 0; i < count;) {
      const key = Math.floor(order[i]! / count);
      const y = Math.floor(key / width);
      const x = key - y * width;
      if (y !== row) {
        if (row >= 0) run(put, row, next, width, covered(winding, rule));
        [row, next, winding] = [y, 0, 0];
      }
      if (x > next) run(put, y, next, x, covered(winding, rule));
      let part = 0;
      let rise = 0;
      for (; i < count && Math.floor(order[i]! / count) === key; i++) {
        const k = order[i]! - key * count;
        part += this.part[k]!;
        rise += this.rise[k]!;
      }
      run(put, y, x, x + 1, covered(winding + part, rule));
      winding += rise;
      next = x + 1;
    }
    if (row >= 0) run(put, row, next, width, covered(winding, rule));
    this.count = 0;
  }
}

function run(put: RunSink, y: number, from: number, to: number, part: number): void {
  if (to > from && part > UNSEEN_PART) put(y, from, to, part > 1 - UNSEEN_PART ? 1 : part);
}

/** The part of a pixel that is within, by its mean winding number. */
function covered(winding: number, rule: FillRule): number {
  const w = Math.abs(winding);
  if (rule === 'nonzero') return Math.min(1, w);
  const odd = w - 2 * Math.floor(w / 2);
  return odd > 1 ? 2 - odd : odd;
}
