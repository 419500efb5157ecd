import Flatbush from 'flatbush';

/** A curve on its way to be cut or engraved: where a tool sets in and where it leaves off (the same place for a closed one). */
export interface Contour {
  readonly start: readonly [number, number];
  readonly end: readonly [number, number];
  /** The contour that holds it, by its place; -1 for none. */
  readonly inside: number;
}

export interface CuttingOrder {
  /** The contours by their places, the first to be cut first. */
  readonly order: readonly number[];
  /** How far the tool moves without cutting, from the head to the last contour. */
  readonly way: number;
}

/**
 * `free`: whatever lies inside comes before what holds it, else the shortest way. `inner`: all that lies in something before all that
 * lies in nothing. `parts`: one outer outline with all that lies in it after the other.
 */
export type CuttingHow = 'free' | 'inner' | 'parts';

/** Up to so many contours the shortest way of all is found. */
const EXACT = 12;
/** Other places looked at for a contour, the nearest ones. */
const NEAR = 10;

/**
 * The order in which contours are best cut, by the way between them. It is never worse than the order given, put right where that
 * cuts something before what lies in it, and the same each time. `pause` is called now and then, and may throw to stop.
 */
export function cuttingOrder(
  contours: readonly Contour[],
  head: readonly [number, number],
  how: CuttingHow = 'free',
  pause: () => void = () => {},
): CuttingOrder {
  const own = allowed(contours, how);
  if (contours.length === 0) return { order: own, way: 0 };
  const rules = rulesOf(contours, how);
  const candidates: number[][] = [own];
  if (how === 'parts') candidates.push(byParts(contours, head, pause));
  else if (contours.length <= EXACT) candidates.push(shortest(contours, head, rules));
  else {
    candidates.push(improved(contours, head, own, rules, pause));
    candidates.push(improved(contours, head, nearestFirst(contours, head, rules, pause), rules, pause));
  }
  let best = own;
  for (const order of candidates) if (wayOf(contours, head, order) < wayOf(contours, head, best) - SAME) best = order;
  return { order: best, way: wayOf(contours, head, best) };
}

/** Ways that differ less are the same, so that what was ordered once is not ordered otherwise again. */
const SAME = 1e-9;

/** How far a tool moves without cutting along an order. */
export function wayOf(contours: readonly Contour[], head: readonly [number, number], order: readonly number[]): number {
  let [x, y] = head;
  let sum = 0;
  for (const i of order) {
    const { start, end } = contours[i]!;
    sum += Math.hypot(start[0] - x, start[1] - y);
    [x, y] = end;
  }
  return sum;
}

/** Whether an order cuts whatever lies inside before what holds it. */
export function isAllowed(contours: readonly Contour[], order: readonly number[]): boolean {
  const place = new Int32Array(contours.length);
  order.forEach((i, n) => (place[i] = n));
  return contours.every((c, i) => c.inside < 0 || place[i]! < place[c.inside]!);
}

/** What must come before each contour: those directly in it, and with `inner` outlines come after all that lies in any. */
interface Rules {
  /** How many must come before, and which come after. */
  readonly waits: Int32Array;
  readonly frees: readonly (readonly number[])[];
  /** Contours of a later rank come after all of an earlier one. */
  readonly rank: Int32Array;
}

function rulesOf(contours: readonly Contour[], how: CuttingHow): Rules {
  const waits = new Int32Array(contours.length);
  const frees: number[][] = contours.map(() => []);
  contours.forEach(({ inside }, i) => {
    if (inside < 0) return;
    waits[inside]!++;
    frees[i]!.push(inside);
  });
  const rank = Int32Array.from(contours, ({ inside }) => (how === 'inner' && inside < 0 ? 1 : 0));
  return { waits, frees, rank };
}

/** The order given, what lies inside drawn before what holds it wherever that is not so. */
function allowed(contours: readonly Contour[], how: CuttingHow): number[] {
  const inner = childrenOf(contours);
  const out: number[] = [];
  const done = new Uint8Array(contours.length);
  const put = (first: number): void => {
    // Without recursion: outlines may lie very deep in each other.
    const stack: { at: number; next: number }[] = [{ at: first, next: 0 }];
    while (stack.length > 0) {
      const top = stack[stack.length - 1]!;
      const child = inner[top.at]![top.next++];
      if (child === undefined) {
        if (!done[top.at]) out.push(top.at);
        done[top.at] = 1;
        stack.pop();
      } else if (!done[child]) stack.push({ at: child, next: 0 });
    }
  };
  const rank = (i: number): boolean => how === 'inner' && contours[i]!.inside < 0;
  contours.forEach((c, i) => {
    if (how === 'parts' ? c.inside < 0 : !rank(i) && !done[i]) put(i);
  });
  contours.forEach((_, i) => {
    if (!done[i]) put(i);
  });
  return out;
}

function childrenOf(contours: readonly Contour[]): number[][] {
  const inner: number[][] = contours.map(() => []);
  contours.forEach(({ inside }, i) => void (inside >= 0 && inner[inside]!.push(i)));
  return inner;
}

/** The shortest order of all (dynamic programming over what is done already; Held and Karp 1962). */
function shortest(contours: readonly Contour[], head: readonly [number, number], { rank }: Rules): number[] {
  const n = contours.length;
  const before = Int32Array.from(contours, () => 0);
  contours.forEach(({ inside }, i) => void (inside >= 0 && (before[inside]! |= 1 << i)));
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) if (rank[j]! < rank[i]!) before[i]! |= 1 << j;
  const all = 1 << n;
  const cost = new Float64Array(all * n).fill(Infinity);
  const from = new Int8Array(all * n).fill(-1);
  const leap = ([ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): number =>
    Math.hypot(bx - ax, by - ay);
  for (let i = 0; i < n; i++) if (before[i] === 0) cost[(1 << i) * n + i] = leap(head, contours[i]!.start);
  for (let done = 1; done < all; done++)
    for (let last = 0; last < n; last++) {
      const so = cost[done * n + last]!;
      if (so === Infinity) continue;
      for (let next = 0; next < n; next++) {
        if (done & (1 << next) || (before[next]! & done) !== before[next]) continue;
        const at = (done | (1 << next)) * n + next;
        const sum = so + leap(contours[last]!.end, contours[next]!.start);
        if (sum < cost[at]! - SAME) [cost[at], from[at]] = [sum, last];
      }
    }
  let [done, last] = [all - 1, 0];
  for (let i = 1; i < n; i++) if (cost[done * n + i]! < cost[done * n + last]! - SAME) last = i;
  const out: number[] = [];
  while (last >= 0) {
    out.unshift(last);
    const was = from[done * n + last]!;
    done &= ~(1 << last);
    last = was;
  }
  return out;
}

/** Always the nearest that may be cut. */
function nearestFirst(
  contours: readonly Contour[],
  head: readonly [number, number],
  rules: Rules,
  pause: () => void,
): number[] {
  const out: number[] = [];
  let [x, y] = head;
  const waits = rules.waits.slice();
  for (const rank of [0, 1]) {
    const own = contours.flatMap((_, i) => (rules.rank[i] === rank ? [i] : []));
    const ready = new Ready(contours, own.length);
    for (const i of own) if (waits[i] === 0) ready.add(i);
    for (let n = 0; n < own.length; n++) {
      if (n % 256 === 0) pause();
      const next = ready.takeNearest(x, y);
      if (next < 0) break;
      out.push(next);
      [x, y] = contours[next]!.end;
      for (const outer of rules.frees[next]!) if (--waits[outer]! === 0 && rules.rank[outer] === rank) ready.add(outer);
    }
  }
  return out;
}

/** Contours that may be cut, asked for the one that sets in nearest: a grid that is looked through in growing squares. */
class Ready {
  private readonly cells = new Map<number, number[]>();
  private readonly minX: number;
  private readonly minY: number;
  private readonly cell: number;
  private readonly wide: number;
  private readonly high: number;
  private count = 0;

  constructor(
    private readonly contours: readonly Contour[],
    expected: number,
  ) {
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const { start } of contours) {
      [minX, minY] = [Math.min(minX, start[0]), Math.min(minY, start[1])];
      [maxX, maxY] = [Math.max(maxX, start[0]), Math.max(maxY, start[1])];
    }
    const side = Math.max(1, Math.ceil(Math.sqrt(expected / 2)));
    this.cell = Math.max(maxX - minX, maxY - minY, Number.MIN_VALUE) / side;
    this.minX = minX;
    this.minY = minY;
    this.wide = Math.floor((maxX - minX) / this.cell) + 1;
    this.high = Math.floor((maxY - minY) / this.cell) + 1;
  }

  private column = (x: number): number => Math.min(this.wide - 1, Math.max(0, Math.floor((x - this.minX) / this.cell)));
  private row = (y: number): number => Math.min(this.high - 1, Math.max(0, Math.floor((y - this.minY) / this.cell)));

  add(i: number): void {
    const [x, y] = this.contours[i]!.start;
    const key = this.row(y) * this.wide + this.column(x);
    const list = this.cells.get(key);
    if (list) list.push(i);
    else this.cells.set(key, [i]);
    this.count++;
  }

  takeNearest(x: number, y: number): number {
    if (this.count === 0) return -1;
    const [cx, cy] = [this.column(x), this.row(y)];
    let [best, least, where]: [number, number, number[] | null] = [-1, Infinity, null];
    const most = Math.max(this.wide, this.high);
    for (let ring = 0; ring <= most; ring++) {
      // Nothing further out can be nearer than what was found.
      if (best >= 0 && (ring - 1) * this.cell > least) break;
      for (let row = Math.max(0, cy - ring); row <= Math.min(this.high - 1, cy + ring); row++) {
        const edge = Math.abs(row - cy) === ring;
        for (let column = cx - ring; column <= cx + ring; column += edge || ring === 0 ? 1 : 2 * ring) {
          if (column < 0 || column >= this.wide) continue;
          const list = this.cells.get(row * this.wide + column);
          if (!list) continue;
          for (const i of list) {
            const [sx, sy] = this.contours[i]!.start;
            const away = Math.hypot(sx - x, sy - y);
            if (away < least || (away === least && i < best)) [best, least, where] = [i, away, list];
          }
        }
      }
    }
    where!.splice(where!.indexOf(best), 1);
    this.count--;
    return best;
  }
}

/** An order with contours moved, one to three in a row, to where the way gets shorter, until none can be. */
function improved(
  contours: readonly Contour[],
  head: readonly [number, number],
  first: readonly number[],
  rules: Rules,
  pause: () => void,
): number[] {
  const n = first.length;
  const order = Int32Array.from(first);
  const place = new Int32Array(n);
  const inner = childrenOf(contours);
  const settle = (from: number, to: number): void => {
    for (let k = from; k < to; k++) place[order[k]!] = k;
  };
  settle(0, n);
  const near = nearestOf(contours, pause);
  const leap = (a: number, b: number): number => {
    if (b < 0) return 0;
    const [ax, ay] = a < 0 ? head : contours[a]!.end;
    const [bx, by] = contours[b]!.start;
    return Math.hypot(bx - ax, by - ay);
  };
  const at = (k: number): number => (k < 0 || k >= n ? -1 : order[k]!);
  let firstOuter = n;
  for (let k = n - 1; k >= 0 && rules.rank[order[k]!] === 1; k--) firstOuter = k;
  /**
   * Whether so many from a place on may be put before another place: what they pass holds none of them, and they hold none of it. All
   * are of one rank; those of the stretch keep their order, so that they stand in no way to each other.
   */
  const mayMove = (p: number, many: number, q: number): boolean => {
    if (rules.rank[order[p]!] === 1 ? q < firstOuter : q > firstOuter) return false;
    for (let k = p; k < p + many; k++) {
      const i = order[k]!;
      if (q < p) {
        if (inner[i]!.some((c) => place[c]! >= q && place[c]! < p)) return false;
      } else {
        const { inside } = contours[i]!;
        if (inside >= 0 && place[inside]! < q && place[inside]! >= p + many) return false;
      }
    }
    return true;
  };

  for (let any = true, round = 0; any && round < 60; round++) {
    any = false;
    for (let i = 0; i < n; i++) {
      if (i % 128 === 0) pause();
      for (let many = 1; many <= 3; many++) {
        const p = place[i]!;
        if (p + many > n) break;
        const [a, z] = [order[p]!, order[p + many - 1]!];
        if (rules.rank[a] !== rules.rank[z]) continue;
        const taken = leap(at(p - 1), a) + leap(z, at(p + many)) - leap(at(p - 1), at(p + many));
        if (taken <= SAME) continue;
        let [gain, to] = [SAME, -1];
        for (const other of near[i]!) {
          // After the other, or before it: `q` is the place it is put before, counted while it still stands.
          for (const q of [place[other]! + 1, place[other]!]) {
            if (q >= p && q <= p + many) continue;
            const put = leap(at(q - 1), a) + leap(z, at(q)) - leap(at(q - 1), at(q));
            if (taken - put <= gain) continue;
            if (!mayMove(p, many, q)) continue;
            [gain, to] = [taken - put, q];
          }
        }
        if (to < 0) continue;
        const part = order.slice(p, p + many);
        if (to < p) {
          order.copyWithin(to + many, to, p);
          order.set(part, to);
          settle(to, p + many);
        } else {
          order.copyWithin(p, p + many, to);
          order.set(part, to - many);
          settle(p, to);
        }
        any = true;
      }
    }
  }
  return [...order];
}

/** For each contour those that set in nearest to where it leaves off. */
function nearestOf(contours: readonly Contour[], pause: () => void): number[][] {
  const index = new Flatbush(contours.length);
  for (const { start } of contours) index.add(...start, ...start);
  index.finish();
  return contours.map(({ end }, i) => {
    if (i % 512 === 0) pause();
    return index.neighbors(...end, NEAR + 1).filter((k) => k !== i);
  });
}

/** Part by part: within each the shortest way that begins where the last part ended, the nearest part next. */
function byParts(contours: readonly Contour[], head: readonly [number, number], pause: () => void): number[] {
  const inner = childrenOf(contours);
  const membersOf = (outer: number): number[] => {
    const out: number[] = [];
    for (const stack = [outer]; stack.length > 0;) {
      const i = stack.pop()!;
      out.push(i);
      stack.push(...inner[i]!);
    }
    return out.sort((a, b) => a - b);
  };
  const left = new Set(contours.flatMap((c, i) => (c.inside < 0 ? [i] : [])));
  const members = new Map([...left].map((i) => [i, membersOf(i)]));
  const out: number[] = [];
  let at = head;
  while (left.size > 0) {
    pause();
    let [best, least] = [-1, Infinity];
    for (const outer of left)
      for (const i of members.get(outer)!) {
        if (inner[i]!.length > 0) continue;
        const [x, y] = contours[i]!.start;
        const away = Math.hypot(x - at[0], y - at[1]);
        if (away < least - SAME) [best, least] = [outer, away];
      }
    left.delete(best);
    const own = members.get(best)!;
    const local = new Map(own.map((i, k) => [i, k]));
    const part = own.map((i): Contour => ({ ...contours[i]!, inside: local.get(contours[i]!.inside) ?? -1 }));
    const { order } = cuttingOrder(part, at, 'free', pause);
    for (const k of order) out.push(own[k]!);
    at = contours[out[out.length - 1]!]!.end;
  }
  return out;
}
