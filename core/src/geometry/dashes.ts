/** Receives the visible pieces of a dashed line. */
export type PieceSink = (x0: number, y0: number, x1: number, y1: number) => void;

/**
 * Cuts a line of chords (x, y per point) into the dashes of a linetype as drafting does it: the pattern is centred, so
 * that the line begins and ends with a dash at least half as long as its first one. Lines shorter than one round of the
 * pattern stay whole. Positive = dash, negative = gap, 0 = dot. At most `most` pieces; beyond that the line stays whole.
 */
export function draftingDashes(
  points: readonly number[],
  pattern: readonly number[],
  most: number,
  put: PieceSink,
): void {
  const period = pattern.reduce((s, d) => s + Math.abs(d), 0);
  const total = lengthOf(points);
  const rounds = period > 0 ? Math.floor(total / period) : 0;
  const first = pattern[0] ?? 0;
  if (rounds === 0 || rounds * pattern.length > most || !(first >= 0)) return whole(points, put);
  const lead = (total - rounds * period + first) / 2;
  const marks: number[] = [0, lead];
  let at = lead;
  for (let r = 0; r < rounds; r++) {
    for (let i = r === 0 ? 1 : 0; i < pattern.length; i++) {
      const d = pattern[i]!;
      if (d >= 0) marks.push(at, at + d);
      at += Math.abs(d);
    }
  }
  marks.push(at, total);
  walk(points, marks, put);
}

/** Cuts a line of chords by SVG's dash lengths, which alternate between dash and gap, from `offset` on. */
export function lengthDashes(
  points: readonly number[],
  lengths: readonly number[],
  offset: number,
  most: number,
  put: PieceSink,
): void {
  const list = lengths.length % 2 ? [...lengths, ...lengths] : lengths;
  const period = list.reduce((s, d) => s + d, 0);
  const total = lengthOf(points);
  if (!(period > 0) || (total / period) * list.length > most) return whole(points, put);
  const marks: number[] = [];
  let at = -(((offset % period) + period) % period);
  for (let i = 0; at < total; i = (i + 1) % list.length) {
    if (i % 2 === 0 && at + list[i]! > 0) marks.push(Math.max(0, at), Math.min(total, at + list[i]!));
    at += list[i]!;
  }
  walk(points, marks, put);
}

function lengthOf(p: readonly number[]): number {
  let sum = 0;
  for (let i = 2; i + 1 < p.length; i += 2) sum += Math.hypot(p[i]! - p[i - 2]!, p[i + 1]! - p[i - 1]!);
  return sum;
}

function whole(p: readonly number[], put: PieceSink): void {
  for (let i = 2; i + 1 < p.length; i += 2) put(p[i - 2]!, p[i - 1]!, p[i]!, p[i + 1]!);
}

/** Sends the parts of the line between each pair of marks (distances from its start, in order). */
function walk(p: readonly number[], marks: readonly number[], put: PieceSink): void {
  let done = 0;
  let m = 0;
  for (let i = 2; i + 1 < p.length; i += 2) {
    const [x0, y0, x1, y1] = [p[i - 2], p[i - 1], p[i], p[i + 1]];
    const l = Math.hypot(x1! - x0!, y1! - y0!);
    if (l === 0) continue;
    const end = done + l;
    for (let k = m; k + 1 < marks.length && marks[k]! <= end; k += 2) {
      const [a, b] = [Math.max(marks[k]!, done), Math.min(marks[k + 1]!, end)];
      if (b > a || (marks[k] === marks[k + 1] && marks[k]! >= done)) {
        const [s, t] = [(a - done) / l, (b - done) / l];
        put(x0! + (x1! - x0!) * s, y0! + (y1! - y0!) * s, x0! + (x1! - x0!) * t, y0! + (y1! - y0!) * t);
      }
      if (marks[k + 1]! <= end) m = k + 2;
    }
    done = end;
  }
}
