import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { resolveRef } from '../drawing/entity-ref.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { because } from '../drawing/reasons.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import { IDENTITY } from '../geometry/affine.js';
import type { Box2 } from '../geometry/box.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, reversed, startOf } from '../geometry/path-pieces.js';
import { flatDistance } from '../geometry/vector.js';
import { areaOfPieces } from '../geometry/piece-area.js';
import { Warp, edgesCross, warpedPiece } from '../geometry/warp.js';
import type { Edge } from '../geometry/warp-edge.js';
import { arcEdge, edgeByLength, edgeByX, graphEdge } from '../geometry/warp-edge.js';
import type { Infer } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { Taken } from '../drawing/taken-runs.js';
import { takenRuns } from '../drawing/taken-runs.js';
import { rebuilt } from './rebuilt.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { movedBy, tellChange } from './tell.js';

/** The sheet is looked over for folds in so many by so many cells. */
const CELLS = 48;

const PARAMS = {
  form: p.choice({
    title: 'Edges',
    default: 'bend',
    choices: {
      bend: 'Bent around',
      taper: 'One shorter',
      swell: 'Swollen',
      wave: 'In waves',
      rise: 'Rising',
      curves: 'Two curves of the drawing',
    },
  }),
  angle: p.angle({
    when: { form: 'bend' },
    title: 'Bent by, upwards in the middle',
    default: 60,
    atLeast: -350,
    atMost: 350,
  }),
  ratio: p.number({
    when: { form: 'taper' },
    title: 'Upper edge, of the lower',
    default: 80,
    above: 0,
    atMost: 1000,
    suffix: '%',
  }),
  swell: p.length({
    when: { form: 'swell' },
    title: 'Each edge outwards by',
    automatic: 'a fifth of the height',
    default: 0,
  }),
  wave: p.length({
    when: { form: 'wave' },
    title: 'Height of waves over the middle',
    automatic: 'a fifth of the height',
    default: 0,
  }),
  waves: p.number({ when: { form: 'wave' }, title: 'How many', default: 1, above: 0, atMost: 100 }),
  rise: p.length({ when: { form: 'rise' }, title: 'The right end higher by', automatic: 'the height', default: 0 }),
  lower: p.picked({ when: { form: 'curves' }, title: 'Lower edge', atMost: 1 }),
  upper: p.picked({ when: { form: 'curves' }, title: 'Upper edge', atMost: 1 }),
  along: p.choice({
    when: { form: 'curves' },
    title: 'Along the curves',
    default: 'length',
    choices: { length: 'By their length', x: 'Straight up from where it stands' },
  }),
  bound: p.length({
    title: 'Off the exact shape by at most',
    automatic: 'a hundred-thousandth of the diagonal',
    default: 0,
    atLeast: 0,
  }),
  which: p.selection({ title: 'Which curves' }),
};
type Values = Infer<typeof PARAMS>;

/** Stretches art between two edges. */
export const warp = defineStep({
  id: 'warp',
  title: 'Warp between two edges',
  summary:
    'Stretches curves from the box around them to between two edges: bent, tapered, swollen, in waves, or any two curves.',
  carries: ['curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0, 0, 40, 0, 40, 12, 0, 12], true),
      sketch.circle(10, 6, 4),
      sketch.circle(30, 6, 4),
    ]),
    params: { form: 'bend', angle: 120, bound: 0.1 },
  },
  params: PARAMS,
  run(drawing, params, ctx) {
    const picked = [params.lower, params.upper].map((refs) => (refs[0] ? resolveRef(refs[0], drawing) : null));
    if (params.form === 'curves' && picked.some((e) => !e)) {
      const none = params.lower.length === 0 || params.upper.length === 0;
      ctx.ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        onPurpose: none,
        reason: none ? 'no-curve-picked' : 'picked-curve-uncertain',
      });
      return drawing;
    }
    const follow = params.bound || extentOf(drawing).diagonal * 1e-5;
    const art = artOf(drawing, params, params.form === 'curves' ? picked : [], follow, ctx);
    if (art.size === 0) return drawing;
    const box = new BoundsSink();
    for (const e of art.keys()) addEntityBounds(e, IDENTITY, box);
    const bound = params.bound || box.box.diagonal * 1e-5;
    if (!(bound > 0)) return drawing;
    const [lower, upper] =
      params.form === 'curves' ? edgesOf(picked[0]!, picked[1]!, params.along, follow) : readyEdges(params, box.box);
    const crossing = edgesCross(lower, upper);
    if (crossing)
      throw new UserError(
        'wrong-parameter',
        `The two edges cross at ${crossing.map((v) => Number(v.toPrecision(6))).join(', ')}: nothing can be stretched between them there`,
      );
    return warped(drawing, art, new Warp(box.box, lower, upper), bound, ctx);
  },
});

/** The curves to be warped, and the runs of each; what is asked for and cannot be is told. */
function artOf(
  drawing: Drawing,
  params: Values,
  edges: readonly (Entity | null)[],
  follow: number,
  ctx: StepContext,
): Map<Entity, Taken> {
  const wanted = selectedBy(params.which, drawing);
  const art = new Map<Entity, Taken>();
  drawing.entities.forEach((e, i) => {
    if (i % 512 === 0) checkStop(ctx);
    if (e.sheet !== undefined || edges.includes(e) || !wanted(e)) return;
    const taken = e.clipTo ? null : takenRuns(e, follow);
    if (!taken) return ctx.leave('not-warped', e);
    // The close of a fill is straight where none is drawn, and would stay so.
    const isOpenFill = e.kind === 'path' && e.look.fill.kind !== 'none' && taken.runs.some((r) => !r.closed);
    if (isOpenFill && e.look.stroke.kind !== 'none') return ctx.leave('open-fill-not-warped', e);
    ctx.look();
    art.set(e, isOpenFill ? { ...taken, runs: taken.runs.map(closedStraight) } : taken);
  });
  return art;
}

function closedStraight(run: Run): Run {
  if (run.closed) return run;
  const [a, b] = [startOf(run.pieces[0]!), endOf(run.pieces[run.pieces.length - 1]!)];
  return { ...run, pieces: [...run.pieces, { kind: 'bezier', p: [...b, ...a] }], closed: true };
}

function warped(drawing: Drawing, art: Map<Entity, Taken>, by: Warp, bound: number, ctx: StepContext): Drawing {
  const instead = new Map<Entity, Entity>();
  let [done, farthest] = [0, 0];
  const stretch = by.stretch(CELLS);
  for (const [e, taken] of art) {
    if (++done % 64 === 0) checkStop(ctx);
    let off = 0;
    const made = taken.runs.map((run): Run => {
      const pieces = run.pieces.flatMap((piece): Piece[] => {
        const one = warpedPiece(piece, by, bound);
        off = Math.max(off, one.off);
        return one.pieces;
      });
      return { ...run, pieces };
    });
    if (made.some((r) => r.pieces.length === 0)) {
      ctx.leave('not-warped', e);
      continue;
    }
    const to = rebuilt(e, made);
    if (!to) {
      ctx.leave('chain-not-flat-path', e);
      continue;
    }
    // What was followed under a bound of its own before lies as much further off, stretched.
    const followed = taken.off * stretch;
    farthest = Math.max(farthest, off + followed);
    ctx.lineage.warp(e, to, 'warped', Math.max(bound, off) + followed, (x, y) => by.at(x, y));
    instead.set(e, to);
  }
  if (instead.size === 0) return drawing;
  tellChange(ctx, 'curves', instead.size, 'warped-between-edges', movedBy(drawing, farthest));
  const { folded, turnedOver } = by.folds(CELLS);
  if (folded > 0)
    ctx.ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: false,
      reason: because('warp-folds', { folded, cells: CELLS * CELLS }),
    });
  if (turnedOver)
    ctx.ledger.add({ carryOver: 'curves', action: 'changed', onPurpose: false, reason: 'warp-turned-over' });
  return { ...drawing, entities: drawing.entities.map((e) => instead.get(e) ?? e) };
}

/** Two picked curves as edges, the upper one running as the lower does, and the lower from left to right or clockwise. */
function edgesOf(lower: Entity, upper: Entity, along: Values['along'], follow: number): [Edge, Edge] {
  const runs = [lower, upper].map((e, i) => {
    const taken = takenRuns(e, follow);
    if (taken?.runs.length !== 1)
      throw new UserError(
        'wrong-parameter',
        `The ${i === 0 ? 'lower' : 'upper'} edge has to be one flat curve without gaps`,
      );
    return taken.runs[0]!;
  });
  const turned = ({ pieces }: Run): readonly Piece[] => pieces.map(reversed).reverse();
  const runsBack = ({ pieces, closed }: Run): boolean =>
    closed ? areaOfPieces(pieces) > 0 : endOf(pieces[pieces.length - 1]!)[0] < startOf(pieces[0]!)[0];
  const [l, u] = runs as [Run, Run];
  const first = runsBack(l) ? turned(l) : l.pieces;
  let second = u.pieces;
  if (l.closed && u.closed) second = runsBack(u) ? turned(u) : u.pieces;
  else {
    const [a, b] = [startOf(first[0]!), endOf(first[first.length - 1]!)];
    const [c, d] = [startOf(second[0]!), endOf(second[second.length - 1]!)];
    if (flatDistance(a, d) + flatDistance(b, c) < flatDistance(a, c) + flatDistance(b, d)) second = turned(u);
  }
  const made = [first, second].map((pieces, i) => {
    const edge = along === 'x' ? edgeByX(pieces) : edgeByLength(pieces);
    if (!edge)
      throw new UserError(
        'wrong-parameter',
        `The ${i === 0 ? 'lower' : 'upper'} edge ${along === 'x' ? 'does not run from left to right throughout: go by its length' : 'has no length'}`,
      );
    return edge;
  });
  return [made[0]!, made[1]!];
}

/** Edges from few numbers, for art in a box. */
function readyEdges(params: Values, box: Readonly<Box2>): [Edge, Edge] {
  const { minX, minY, maxX, maxY } = box;
  const [width, height, middle] = [maxX - minX, maxY - minY, (minX + maxX) / 2];
  const level = (y: number): Edge => graphEdge(minX, maxX, () => [y, 0], 1);
  switch (params.form) {
    case 'bend': {
      const turn = (params.angle * Math.PI) / 180;
      if (Math.abs(turn) < 1e-9 || !(width > 0)) return [level(minY), level(maxY)];
      // The inner edge keeps its length and the place of its middle, so that nothing folds however high the art is.
      const r = width / Math.abs(turn);
      if (turn > 0) {
        const from = Math.PI / 2 + turn / 2;
        return [arcEdge(middle, minY - r, r, from, -turn), arcEdge(middle, minY - r, r + height, from, -turn)];
      }
      const from = -Math.PI / 2 + turn / 2;
      return [arcEdge(middle, maxY + r, r + height, from, -turn), arcEdge(middle, maxY + r, r, from, -turn)];
    }
    case 'taper': {
      const half = ((width / 2) * params.ratio) / 100;
      return [level(minY), graphEdge(middle - half, middle + half, () => [maxY, 0], 1)];
    }
    case 'swell': {
      const by = params.swell || height / 5;
      const out = (y: number, h: number): Edge =>
        graphEdge(minX, maxX, (u) => [y + h * 4 * u * (1 - u), h * 4 * (1 - 2 * u)], 0.5);
      return [out(minY, -by), out(maxY, by)];
    }
    case 'wave': {
      const [by, k] = [params.wave || height / 5, 2 * Math.PI * params.waves];
      const wavy = (y: number): Edge =>
        graphEdge(
          minX,
          maxX,
          (u) => [y + by * Math.sin(k * u), by * k * Math.cos(k * u)],
          Math.min(0.5, 0.25 / params.waves),
        );
      return [wavy(minY), wavy(maxY)];
    }
    default: {
      const by = params.rise || height;
      const rising = (y: number): Edge =>
        graphEdge(minX, maxX, (u) => [y + by * u * u * (3 - 2 * u), by * 6 * u * (1 - u)], 0.5);
      return [rising(minY), rising(maxY)];
    }
  }
}
