import Flatbush from 'flatbush';
import type { Piece } from './path-pieces.js';
import { endOf, startOf } from './path-pieces.js';

/**
 * Finds straight and circular pieces that may run over each other: lines by their direction and, seen along it, by thin boxes,
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

/** Lines of about one length (within a power of ten), by their directions. */
class LengthClass {
  private readonly fans: ({ index: Flatbush; items: number[] } | null)[];
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
    this.fans = fans.map((own, fan) => {
      if (own.length === 0) return null;
      const index = new Flatbush(own.length);
      for (const i of own)
        index.add(...boxIn(ends[4 * i]!, ends[4 * i + 1]!, ends[4 * i + 2]!, ends[4 * i + 3]!, fan, count));
      index.finish();
      return { index, items: own };
    });
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
    const off = (at: number): number => Math.abs((ends[at]! - x0) * uy - (ends[at + 1]! - y0) * ux);
    const turn = Math.atan((2 * within) / Math.min(this.shortest, l));
    const spread = Math.min(count >> 1, Math.ceil((turn * count) / Math.PI) + 1);
    const own = fanOf(x0, y0, x1, y1, count);
    for (let by = -spread; by <= spread; by++) {
      if (by === spread && 2 * spread >= count) break;
      const fan = (own + by + count) % count;
      const of = fans[fan];
      if (!of) continue;
      const [a, b, c, d] = boxIn(x0, y0, x1, y1, fan, count);
      of.index.search(a - within, b - within, c + within, d + within, (k) => {
        const i = of.items[k]!;
        if (off(4 * i) <= within && off(4 * i + 2) <= within) out.push(i);
        return false;
      });
    }
  }
}

function fanOf(x0: number, y0: number, x1: number, y1: number, count: number): number {
  let turn = Math.atan2(y1 - y0, x1 - x0);
  if (turn < 0) turn += Math.PI;
  return Math.floor((turn / Math.PI) * count) % count;
}

/** The box of a line seen along the middle direction of a fan. */
function boxIn(
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  fan: number,
  count: number,
): [number, number, number, number] {
  const turn = ((fan + 0.5) * Math.PI) / count;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [u0, v0, u1, v1] = [x0 * c + y0 * s, y0 * c - x0 * s, x1 * c + y1 * s, y1 * c - x1 * s];
  return [Math.min(u0, u1), Math.min(v0, v1), Math.max(u0, u1), Math.max(v0, v1)];
}
