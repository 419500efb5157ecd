import { Box2 } from './box.js';
import type { Chords, Effort } from './crossings.js';
import {
  FINENESS,
  SAME,
  TooIntricate,
  chordsOf,
  crossings,
  cutPiece,
  newEffort,
  simplePieces,
  spend,
  windingOf,
} from './crossings.js';
import type { PathData } from './path.js';
import { PathBuilder } from './path.js';
import type { Piece } from './path-pieces.js';
import { drawPiece, endOf, pointAt, reversed, startOf, tangentAt } from './path-pieces.js';

export type FillRule = 'nonzero' | 'evenodd';

/** Which windings count as inside; `positive` is what is run round counter-clockwise more often than the other way. */
export type WindingRule = FillRule | 'positive';

/** One shape of a region: a path and how it is filled. */
export interface RegionShape {
  path: PathData;
  rule: FillRule;
}

/** How far to the side of a piece it is asked, as a part of the size. */
export const ASIDE = 1e-5;

/** Where along a piece it is asked which side it lies on. */
export const SAMPLES = [0.5, 0.237, 0.713];

/** A union of filled shapes, asked where it holds a point. */
export class Cover {
  readonly box = new Box2();
  private readonly shapes: { chords: Chords; rule: WindingRule }[] = [];

  constructor(
    parts: readonly { rule: WindingRule; pieces: readonly Piece[] }[],
    tolerance: number,
    private readonly effort: Effort,
  ) {
    for (const { rule, pieces } of parts) {
      const chords = chordsOf(pieces, tolerance);
      if (!chords) continue;
      this.shapes.push({ chords, rule });
      this.box.addBox(chords.box);
    }
  }

  contains(x: number, y: number): boolean {
    return this.shapes.some(({ chords, rule }) => {
      const w = windingOf(chords, x, y, this.effort);
      return rule === 'positive' ? w > 0 : rule === 'nonzero' ? w !== 0 : w % 2 !== 0;
    });
  }
}

/** What {@link borderOf} found. */
interface Border {
  /** Each with the inside on its left, as the coordinates count, y upwards. */
  pieces: Piece[];
  covers: Cover[];
  box: Box2;
  tolerance: number;
}

/**
 * The boundary of an area made of several covers, of which `inside` says whether a point belongs to it by which of them
 * hold it. Every outline is cut where it meets another or itself; what has the area on one side only is boundary.
 */
export function borderOf(
  groups: readonly (readonly { path: PathData; rule: WindingRule }[])[],
  inside: (within: readonly boolean[]) => boolean,
  effort: Effort,
): Border {
  spend(effort, 0);
  const parts = groups.map((shapes) =>
    shapes.map((s) => ({ rule: s.rule, pieces: simplePieces(s.path, true).flatMap((p) => p.pieces) })),
  );
  const all = parts.flatMap((group) => group.flatMap((p) => p.pieces));
  const rough = new Box2();
  for (const p of all) rough.add(...startOf(p));
  const tolerance = (rough.diagonal || 1) * FINENESS;
  const covers = parts.map((group) => new Cover(group, tolerance, effort));
  const box = new Box2();
  for (const cover of covers) box.addBox(cover.box);
  const pieces: Piece[] = [];
  const whole = chordsOf(all, tolerance);
  if (whole) {
    const size = box.diagonal || 1;
    const [cuts] = crossings(all, whole, all, whole, size, effort);
    const step = ASIDE * size;
    const holds = (x: number, y: number): boolean => inside(covers.map((c) => c.contains(x, y)));
    const taken = new Set<string>();
    all.forEach((piece, i) => {
      const others = cuts[i]!.filter((c) => c.t > 0 && c.t < 1);
      for (const part of cutPiece(piece, others, SAME * size)) {
        const sides = SAMPLES.map((t) => besides(part, t, step, holds));
        const most = (side: 0 | 1): boolean => sides.filter((s) => s[side]).length * 2 > sides.length;
        const [left, right] = [most(0), most(1)];
        if (left === right) continue;
        const turned = left ? part : reversed(part);
        // Where outlines run along each other, the boundary runs there once.
        const same = placeKey(turned, 32 * SAME * size);
        if (taken.has(same)) continue;
        taken.add(same);
        pieces.push(turned);
      }
    });
  }
  return { pieces, covers, box, tolerance };
}

/** Where a piece begins, ends and passes its middle, told to a step. */
function placeKey(piece: Piece, step: number): string {
  return [startOf(piece), pointAt(piece, 0.5), endOf(piece)]
    .map(([x, y]) => `${Math.round(x / step)},${Math.round(y / step)}`)
    .join(' ');
}

/** Whether an area lies to the left and to the right of a point of a piece. */
function besides(
  piece: Piece,
  t: number,
  step: number,
  holds: (x: number, y: number) => boolean,
): readonly [boolean, boolean] {
  const [x, y] = pointAt(piece, t);
  const d = tangentAt(piece, t);
  const l = Math.hypot(d[0], d[1]) || 1;
  const [nx, ny] = [(-d[1] / l) * step, (d[0] / l) * step];
  return [holds(x + nx, y + ny), holds(x - nx, y - ny)];
}

/**
 * The outlines of an area made of several paths, of which `inside` says what belongs to it by which of them hold a
 * point: closed, without crossings, the area always on the left. Lines, arcs and Béziers stay parts of what they were.
 * Throws {@link TooIntricate} when they cross more often than the effort allows.
 */
export function outlinesOf(
  groups: readonly (readonly { path: PathData; rule: WindingRule }[])[],
  inside: (within: readonly boolean[]) => boolean,
  effort: Effort = newEffort(),
): PathData {
  const { pieces, covers, box, tolerance } = borderOf(groups, inside, effort);
  const size = box.diagonal || 1;
  const made = joined(pieces, false, SAME * size, 4 * ASIDE * size, effort);
  const own = simplePieces(made, true).flatMap((p) => p.pieces);
  // Outlines without crossings show the same by either rule.
  for (const rule of ['nonzero', 'evenodd'] as const) {
    const result = new Cover([{ rule, pieces: own }], tolerance, effort);
    checkSame(
      box,
      (x, y) => inside(covers.map((c) => c.contains(x, y))),
      (x, y) => result.contains(x, y),
    );
  }
  return made;
}

/** At so many places it is asked whether outlines came out right; one in sixteen may lie on a boundary. */
const CHECKED = 32;

/**
 * Throws {@link TooIntricate} where two areas within a box are not the same: outlines that nearly run along each other can
 * leave ends that nothing meets.
 */
export function checkSame(
  { minX, minY, width, height }: Pick<Box2, 'minX' | 'minY' | 'width' | 'height'>,
  wanted: (x: number, y: number) => boolean,
  found: (x: number, y: number) => boolean,
): void {
  if (!(width > 0 && height > 0)) return;
  let wrong = 0;
  for (let i = 1; i <= CHECKED; i++) {
    // Places that fill the box evenly (Halton's, to the bases 2 and 3).
    const [x, y] = [minX + width * halton(i, 2), minY + height * halton(i, 3)];
    if (wanted(x, y) !== found(x, y)) wrong++;
  }
  if (wrong > CHECKED / 16) throw new TooIntricate('outlines run along each other and could not be joined');
}

function halton(i: number, base: number): number {
  let [part, out] = [1, 0];
  for (let n = i; n > 0; n = Math.floor(n / base)) {
    part /= base;
    out += part * (n % base);
  }
  return out;
}

/** A loop whose ends lie further apart than so many times what may be bridged is not closed by a chord. */
const LOOSE = 25;

/** Whether an outline of straight lines encloses nothing to speak of. */
function isFlat(loop: readonly Piece[], thickness: number): boolean {
  let [area, around] = [0, 0];
  for (const p of loop) {
    if (p.kind === 'arc' || p.p.length !== 4) return false;
    const [x0, y0, x1, y1] = p.p;
    area += (x0! * y1! - x1! * y0!) / 2;
    around += Math.hypot(x1! - x0!, y1! - y0!);
  }
  return Math.abs(area) <= thickness * around;
}

/**
 * Joins pieces end to end into closed outlines; `anyWay` lets a piece be taken from its other end. Ends meet within `same`, or
 * within `reach` where nothing meets: outlines that run along each other, not quite the same, change over with a small gap. Throws
 * {@link TooIntricate} where then an end is left that is far from its start. `effort` is told the widest gap.
 */
export function joined(
  pieces: readonly Piece[],
  anyWay: boolean,
  same: number,
  reach: number,
  effort: Pick<Effort, 'bridged'>,
): PathData {
  const step = Math.max(same, Number.MIN_VALUE) * 16;
  const key = (p: readonly [number, number], dx = 0, dy = 0): string =>
    `${Math.round(p[0] / step) + dx},${Math.round(p[1] / step) + dy}`;
  const starts = new Map<string, { i: number; turned: boolean }[]>();
  const note = (p: readonly [number, number], i: number, turned: boolean): void => {
    const k = key(p);
    const list = starts.get(k);
    if (list) list.push({ i, turned });
    else starts.set(k, [{ i, turned }]);
  };
  pieces.forEach((p, i) => {
    note(startOf(p), i, false);
    if (anyWay) note(endOf(p), i, true);
  });
  const used = new Uint8Array(pieces.length);
  const nearby = ([x, y]: readonly [number, number]): { i: number; turned: boolean } | null => {
    let [best, least]: [{ i: number; turned: boolean } | null, number] = [null, reach];
    for (const [i, p] of pieces.entries()) {
      if (used[i]) continue;
      for (const turned of anyWay ? [false, true] : [false]) {
        const [ax, ay] = turned ? endOf(p) : startOf(p);
        const away = Math.hypot(ax - x, ay - y);
        if (away <= least) [best, least] = [{ i, turned }, away];
      }
    }
    if (best) effort.bridged = Math.max(effort.bridged, least);
    return best;
  };
  const next = (after: Piece): Piece | null => {
    const p = endOf(after);
    const [bx, by] = tangentAt(after, 1);
    let best: { i: number; turned: boolean } | null = null;
    let sharpest = -Infinity;
    for (const [dx, dy] of [
      [0, 0],
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
      [1, 1],
      [-1, -1],
      [1, -1],
      [-1, 1],
    ]) {
      for (const c of starts.get(key(p, dx, dy)) ?? []) {
        if (used[c.i]) continue;
        // Where outlines touch in a point, the turn that is most to the left stays beside the same area.
        const piece = pieces[c.i]!;
        const [ax, ay] = c.turned ? tangentAt(reversed(piece), 0) : tangentAt(piece, 0);
        const turn = Math.atan2(bx * ay - by * ax, bx * ax + by * ay);
        if (turn > sharpest) [best, sharpest] = [c, turn];
      }
      if (best) break;
    }
    best ??= nearby(p);
    if (!best) return null;
    used[best.i] = 1;
    return best.turned ? reversed(pieces[best.i]!) : pieces[best.i]!;
  };
  const out = new PathBuilder();
  for (let i = 0; i < pieces.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    const begin = startOf(pieces[i]!);
    const loop: Piece[] = [];
    let piece: Piece | null = pieces[i]!;
    while (piece) {
      loop.push(piece);
      const end = endOf(piece);
      if (Math.hypot(end[0] - begin[0], end[1] - begin[1]) <= step) break;
      piece = next(piece);
    }
    if (isFlat(loop, step)) continue;
    const last = endOf(loop[loop.length - 1]!);
    if (Math.hypot(last[0] - begin[0], last[1] - begin[1]) > LOOSE * reach)
      throw new TooIntricate('outlines run along each other and could not be joined');
    out.moveTo(begin[0], begin[1]);
    for (const p of loop) drawPiece(out, p);
    out.close();
  }
  return out.build();
}
