import Flatbush from 'flatbush';
import type { Piece } from './path-pieces.js';
import { endOf, startOf } from './path-pieces.js';

/**
 * Finds straight and circular pieces that may run over each other: lines by their direction and by where they lie across it,
 * of which both ends lie near the other; arcs by their centres. Directions are parted into fans, as narrow as the lengths of
 * lines allow within the distance that is asked for: a long line lies on another only if both run nearly the same way.
 */
export class CarrierIndex {
  /** x, y of both ends of each piece. */
  private readonly ends: Float64Array;
  private readonly classes: LengthClass[];
  private readonly centres: { index: Flatbush; items: number[] } | null;

  constructor(
    pieces: readonly Piece[],
    private readonly within: number,
  ) {
    this.ends = new Float64Array(4 * pieces.length);
    const arcs: number[] = [];
    const byLength = new Map<number, number[]>();
    pieces.forEach((p, i) => {
      const [a, b] = [startOf(p), endOf(p)];
      this.ends.set([a[0], a[1], b[0], b[1]], 4 * i);
      if (p.kind === 'arc') {
        arcs.push(i);
        return;
      }
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      if (!(length > 0)) return;
      const of = Math.floor(Math.log10(length));
      const list = byLength.get(of);
      if (list) list.push(i);
      else byLength.set(of, [i]);
    });
    this.classes = [...byLength.values()].map((items) => new LengthClass(this.ends, items, within));
    this.centres = arcs.length === 0 ? null : { index: new Flatbush(arcs.length), items: arcs };
    for (const i of arcs) {
      const p = pieces[i] as Extract<Piece, { kind: 'arc' }>;
      this.centres!.index.add(p.cx, p.cy, p.cx, p.cy);
    }
    this.centres?.index.finish();
  }

  /** The pieces that may lie on one within the distance, in order. */
  near(p: Piece): number[] {
    const { within } = this;
    const out: number[] = [];
    if (p.kind === 'arc') {
      const { centres: c } = this;
      for (const k of c?.index.search(p.cx - within, p.cy - within, p.cx + within, p.cy + within) ?? [])
        out.push(c!.items[k]!);
      return out.sort(up);
    }
    const [x0, y0, x1, y1] = p.p as [number, number, number, number];
    for (const of of this.classes) of.near(x0, y0, x1, y1, out);
    return out.sort(up);
  }
}

const up = (a: number, b: number): number => a - b;

/** Lines of nearly one direction, seen along it: sorted by their lower border across it, with how far they reach. */
interface Fan {
  readonly items: Int32Array;
  /** Lower borders across the direction, rising; what each reaches along it, from and to. */
  readonly low: Float64Array;
  readonly high: Float64Array;
  readonly from: Float64Array;
  readonly to: Float64Array;
  /** None is higher across the direction than this. */
  readonly highest: number;
  readonly cos: number;
  readonly sin: number;
  /** Where many lie beside each other along the direction, as a chain of dashes does, they are found by both. */
  readonly crowd: Flatbush | null;
}

/** Of so many lines it is asked how many lie beside them; more than this on the average are a crowd. */
const ASKED = 64;
const CROWD = 48;

/** Lines of about one length (within a power of ten), by their directions. */
class LengthClass {
  private readonly fans: (Fan | null)[];
  private readonly shortest: number;

  constructor(
    private readonly ends: Float64Array,
    items: readonly number[],
    private readonly within: number,
  ) {
    this.shortest = items.reduce((least, i) => Math.min(least, this.lengthOf(i)), Infinity);
    // Twice as wide as two of the shortest may turn against each other, but not so many that most are empty.
    const turn = 2 * Math.atan((2 * within) / this.shortest);
    const count = Math.max(8, Math.min(1024, Math.ceil(items.length / 16), Math.floor(Math.PI / turn)));
    const fans = Array.from({ length: count }, (): number[] => []);
    for (const i of items)
      fans[fanOf(ends[4 * i]!, ends[4 * i + 1]!, ends[4 * i + 2]!, ends[4 * i + 3]!, count)]!.push(i);
    this.fans = fans.map((own, fan) => (own.length === 0 ? null : fanOfLines(ends, own, fan, count)));
  }

  private lengthOf(i: number): number {
    const { ends } = this;
    return Math.hypot(ends[4 * i + 2]! - ends[4 * i]!, ends[4 * i + 3]! - ends[4 * i + 1]!);
  }

  near(x0: number, y0: number, x1: number, y1: number, out: number[]): void {
    const { ends, within, fans } = this;
    const count = fans.length;
    const l = Math.hypot(x1 - x0, y1 - y0) || 1;
    const [ux, uy] = [(x1 - x0) / l, (y1 - y0) / l];
    const turn = Math.atan((2 * within) / Math.min(this.shortest, l));
    const spread = Math.min(count >> 1, Math.ceil((turn * count) / Math.PI) + 1);
    const own = fanOf(x0, y0, x1, y1, count);
    for (let by = -spread; by <= spread; by++) {
      if (by === spread && 2 * spread >= count) break;
      const of = fans[(own + by + count) % count];
      if (!of) continue;
      const { items, low, high, from, to, crowd, cos: c, sin: s } = of;
      const [u0, v0, u1, v1] = [x0 * c + y0 * s, y0 * c - x0 * s, x1 * c + y1 * s, y1 * c - x1 * s];
      const [left, right] = [Math.min(u0, u1) - within, Math.max(u0, u1) + within];
      const [below, above] = [Math.min(v0, v1) - within, Math.max(v0, v1) + within];
      const look = (k: number): false => {
        const at = 4 * items[k]!;
        // Both ends lie near the line.
        if (
          Math.abs((ends[at]! - x0) * uy - (ends[at + 1]! - y0) * ux) <= within &&
          Math.abs((ends[at + 2]! - x0) * uy - (ends[at + 3]! - y0) * ux) <= within
        )
          out.push(items[k]!);
        return false;
      };
      if (crowd) {
        crowd.search(left, below, right, above, look);
        continue;
      }
      for (let k = firstNotBelow(low, below - of.highest); k < low.length && low[k]! <= above; k++)
        if (high[k]! >= below && to[k]! >= left && from[k]! <= right) look(k);
    }
  }
}

/** The lines of one fan as they are seen along its middle direction. */
function fanOfLines(ends: Float64Array, lines: readonly number[], fan: number, count: number): Fan {
  const turn = ((fan + 0.5) * Math.PI) / count;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const across = (at: number): number => ends[at + 1]! * cos - ends[at]! * sin;
  const along = (at: number): number => ends[at]! * cos + ends[at + 1]! * sin;
  const lower = (i: number): number => Math.min(across(4 * i), across(4 * i + 2));
  const items = Int32Array.from([...lines].sort((a, b) => lower(a) - lower(b) || a - b));
  const of = (value: (i: number) => number): Float64Array => Float64Array.from(items, value);
  const low = of(lower);
  const high = of((i) => Math.max(across(4 * i), across(4 * i + 2)));
  const from = of((i) => Math.min(along(4 * i), along(4 * i + 2)));
  const to = of((i) => Math.max(along(4 * i), along(4 * i + 2)));
  const highest = low.reduce((most, v, k) => Math.max(most, high[k]! - v), 0);
  let crowd: Flatbush | null = null;
  if (isCrowd(low, high, highest)) {
    crowd = new Flatbush(items.length);
    for (let k = 0; k < items.length; k++) crowd.add(from[k]!, low[k]!, to[k]!, high[k]!);
    crowd.finish();
  }
  return { items, low, high, from, to, highest, cos, sin, crowd };
}

/** Whether many lines lie beside each of some of them across their direction. */
function isCrowd(low: Float64Array, high: Float64Array, highest: number): boolean {
  const step = Math.max(1, Math.floor(low.length / ASKED));
  let [beside, asked] = [0, 0];
  for (let k = 0; k < low.length; k += step, asked++)
    beside += firstNotBelow(low, high[k]!) - firstNotBelow(low, low[k]! - highest);
  return beside > CROWD * asked;
}

/** The place of the first of a rising list that is not below a value. */
function firstNotBelow(list: Float64Array, value: number): number {
  let [from, to] = [0, list.length];
  while (from < to) {
    const mid = (from + to) >> 1;
    if (list[mid]! < value) from = mid + 1;
    else to = mid;
  }
  return from;
}

function fanOf(x0: number, y0: number, x1: number, y1: number, count: number): number {
  let turn = Math.atan2(y1 - y0, x1 - x0);
  if (turn < 0) turn += Math.PI;
  return Math.floor((turn / Math.PI) * count) % count;
}
