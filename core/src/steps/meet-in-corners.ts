import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, runsOf } from '../drawing/courses.js';
import type { Entity } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import { TAU } from '../geometry/arcs.js';
import type { Carrier } from '../geometry/carrier.js';
import { carrierOf } from '../geometry/carrier.js';
import { carrierCrossings } from '../geometry/carrier-crossings.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, startOf, tangentAt } from '../geometry/path-pieces.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import { COINCIDENT } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { asWide } from './rebuilt.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { Alike, TOGETHER } from './together.js';
import { movedBy, tellChange } from './tell.js';

/** Draws out, or cuts back, two open ends to the place where they cross. */
export const meetInCorners = defineStep({
  id: 'meet-in-corners',
  title: 'Meet in corners',
  summary: 'Two open ends that miss or overshoot the corner they were meant to make are both brought to it.',
  carries: ['curves'],
  group: 'clean',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 34, 0),
      sketch.line(40, 5, 40, 24),
      sketch.line(44, 24, 0, 24),
      sketch.line(0, 20, 0, -4),
    ]),
    params: { farthest: 8 },
  },
  params: {
    farthest: p.length({
      title: 'Ends move at most',
      automatic: 'one thousandth of the drawing’s diagonal',
      default: 0,
      atLeast: 0,
    }),
    ...TOGETHER,
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const { diagonal } = extentOf(drawing);
    const farthest = params.farthest || diagonal / 1000;
    if (!(farthest > 0)) return drawing;
    const told = { corners: 0, moved: 0 };
    const alike = new Alike(params.together);
    const made = inSpaces(drawing, ctx, (space) =>
      met(space, farthest / space.scale, (diagonal * COINCIDENT) / space.scale, alike, wanted, told, ctx),
    );
    tellChange(ctx, 'curves', told.corners, 'corners-met', movedBy(drawing, told.moved));
    return made;
  },
});

/** An open end: of which curve, its first or its last, and what it runs along. */
interface Tip {
  curve: number;
  last: boolean;
  x: number;
  y: number;
  /** Where it goes on: out of the curve. */
  dx: number;
  dy: number;
  carrier: Carrier;
  /** How long the piece is that ends here. */
  length: number;
}

interface Corner {
  a: Tip;
  b: Tip;
  at: readonly [number, number];
  moves: readonly [number, number];
}

function met(
  space: Space,
  farthest: number,
  same: number,
  alike: Alike,
  wanted: (e: Entity) => boolean,
  told: { corners: number; moved: number },
  ctx: StepContext,
): readonly Entity[] {
  const curves: { entity: Entity; at: number; run: Run }[] = [];
  const tips: Tip[] = [];
  const keys: number[] = [];
  const numbers = new Map<string, number>();
  space.entities.forEach((entity, at) => {
    if (at % 4096 === 0) checkStop(ctx);
    if (!wanted(entity) || !entity.look.visible) return;
    const runs = runsOf(entity);
    if (runs?.length !== 1 || runs[0]!.closed) return;
    ctx.look();
    const run = runs[0]!;
    const key = `${alike.key(entity)} ${run.z}`;
    if (!numbers.has(key)) numbers.set(key, numbers.size);
    for (const last of [false, true]) {
      const piece = last ? run.pieces[run.pieces.length - 1]! : run.pieces[0]!;
      const carrier = carrierOf(piece);
      // Free curves and parts of ellipses are never drawn out.
      if (!carrier) continue;
      const [x, y] = last ? endOf(piece) : startOf(piece);
      const [tx, ty] = tangentAt(piece, last ? 1 : 0);
      const l = Math.hypot(tx, ty) * (last ? 1 : -1);
      tips.push({ curve: curves.length, last, x, y, dx: tx / l, dy: ty / l, carrier, length: carrier.length });
      keys.push(numbers.get(key)!);
    }
    curves.push({ entity, at, run });
  });
  const corners = cornersOf(tips, keys, farthest, same, ctx);
  const changed = new Map<number, { pieces: Piece[]; moved: number }>();
  for (const { a, b, at, moves } of corners)
    [a, b].forEach((tip, k) => {
      let own = changed.get(tip.curve);
      if (!own) changed.set(tip.curve, (own = { pieces: [...curves[tip.curve]!.run.pieces], moved: 0 }));
      const i = tip.last ? own.pieces.length - 1 : 0;
      own.pieces[i] = drawnTo(own.pieces[i]!, tip.last, at);
      own.moved = Math.max(own.moved, Math.abs(moves[k]!));
    });
  const instead = new Map<Entity, Entity>();
  for (const [i, { pieces, moved }] of changed) {
    const { entity, run } = curves[i]!;
    const plain = entityOfRun(entity, { ...run, pieces });
    if (!plain) continue;
    const made = asWide(entity, plain);
    instead.set(entity, made);
    told.moved = Math.max(told.moved, moved * space.scale);
    ctx.lineage.replace(entity, [made], 'met-in-corner', moved);
  }
  told.corners += corners.length;
  return instead.size === 0 ? space.entities : space.entities.map((e) => instead.get(e) ?? e);
}

/** Pairs of open ends with a corner near enough to both; those that have to move least come first, each end in one. */
function cornersOf(
  tips: readonly Tip[],
  keys: readonly number[],
  farthest: number,
  same: number,
  ctx: StepContext,
): Corner[] {
  if (tips.length < 2 || !(same > 0)) return [];
  const group = Int32Array.from(keys);
  const [xs, ys] = [Float64Array.from(tips, (t) => t.x), Float64Array.from(tips, (t) => t.y)];
  const meets = new PlaceGrid(xs, ys, same, group);
  const free = tips.map((t, i) => {
    let others = 0;
    meets.near(t.x, t.y, (k) => k !== i && ++others > 0, group[i]);
    return others === 0;
  });
  const reach = new PlaceGrid(xs, ys, 2 * farthest, group);
  const taken = new Uint8Array(tips.length);
  const out: Corner[] = [];
  // Each end looks for its best few; where all of these are taken by others it looks again among what is left.
  for (let round = 0; round < 40; round++) {
    const found: { corner: Corner; worth: number; i: number; k: number }[] = [];
    for (let i = 0; i < tips.length; i++) {
      if (i % 256 === 0) checkStop(ctx);
      if (!free[i] || taken[i]) continue;
      const a = tips[i]!;
      const best: typeof found = [];
      const visit = (k: number): void => {
        if (k === i || !free[k] || taken[k] || !mayMeet(a, tips[k]!, farthest)) return;
        const corner = i < k ? cornerOf(a, tips[k]!, farthest) : cornerOf(tips[k]!, a, farthest);
        if (!corner) return;
        const worth = Math.abs(corner.moves[0]) + Math.abs(corner.moves[1]);
        if (best.length === FEW && worth >= best[FEW - 1]!.worth) return;
        best.push({ corner, worth, i: Math.min(i, k), k: Math.max(i, k) });
        best.sort((p, q) => p.worth - q.worth || p.k - q.k);
        best.length = Math.min(best.length, FEW);
      };
      reach.near(a.x, a.y, visit, group[i]);
      found.push(...best);
    }
    found.sort((p, q) => p.worth - q.worth || p.i - q.i || p.k - q.k);
    const before = out.length;
    for (const { corner, i, k } of found) {
      if (taken[i] || taken[k]) continue;
      taken[i] = taken[k] = 1;
      out.push(corner);
    }
    if (out.length === before) break;
  }
  return out;
}

/** So many corners of one end are kept in mind at once. */
const FEW = 3;

/** Whether two ends may have a corner near enough: told of straight ones without working it out in full. */
function mayMeet(a: Tip, b: Tip, farthest: number): boolean {
  if (a.carrier.kind !== 'line' || b.carrier.kind !== 'line') return true;
  const det = a.dx * b.dy - a.dy * b.dx;
  if (det === 0) return false;
  const [x, y] = [b.x - a.x, b.y - a.y];
  const most = farthest * 1.000001 * Math.abs(det);
  return Math.abs(x * b.dy - y * b.dx) <= most && Math.abs(x * a.dy - y * a.dx) <= most;
}

/** The corner of two ends: where what they run along crosses, if neither has to move further than it may. */
function cornerOf(a: Tip, b: Tip, farthest: number): Corner | null {
  let best: Corner | null = null;
  for (const at of carrierCrossings(a.carrier, b.carrier)) {
    const moves = [moveTo(a, at), moveTo(b, at)] as const;
    if (moves.some((m) => Math.abs(m) > farthest * (1 + COINCIDENT))) continue;
    // What is cut back must leave something of the piece that ends there.
    if (a.length + moves[0] <= 0 || b.length + moves[1] <= 0) continue;
    if (!best || Math.abs(moves[0]) + Math.abs(moves[1]) < Math.abs(best.moves[0]) + Math.abs(best.moves[1]))
      best = { a, b, at, moves };
  }
  return best;
}

/** How far an end has to go along what it runs on: onwards when positive, back when negative. */
function moveTo(t: Tip, [x, y]: readonly [number, number]): number {
  const forward = (x - t.x) * t.dx + (y - t.y) * t.dy;
  if (t.carrier.kind === 'line') return forward;
  const { x: cx, y: cy, radius } = t.carrier;
  const turn = Math.abs(angleBetween(t.x - cx, t.y - cy, x - cx, y - cy)) * radius;
  return forward < 0 ? -turn : turn;
}

const angleBetween = (ax: number, ay: number, bx: number, by: number): number =>
  Math.atan2(ax * by - ay * bx, ax * bx + ay * by);

/** A straight or circular piece drawn out, or cut back, to a place on what it runs along. */
function drawnTo(piece: Piece, last: boolean, at: readonly [number, number]): Piece {
  if (piece.kind === 'bezier') {
    const [x0, y0, x1, y1] = piece.p as [number, number, number, number];
    return { kind: 'bezier', p: last ? [x0, y0, ...at] : [...at, x1, y1] };
  }
  const [ex, ey] = last ? piece.to : piece.from;
  const turn = angleBetween(ex - piece.cx, ey - piece.cy, at[0] - piece.cx, at[1] - piece.cy);
  const sweep = piece.sweep + (last ? turn : -turn);
  const most = Math.max(-TAU, Math.min(TAU, sweep));
  return last ? { ...piece, sweep: most, to: at } : { ...piece, start: piece.start + turn, sweep: most, from: at };
}
