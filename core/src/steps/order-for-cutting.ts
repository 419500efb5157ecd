import { outlinesSeen } from '../analysis/outline-roles.js';
import { selectedBy } from '../analysis/selection.js';
import { runsOf } from '../drawing/courses.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import { namePattern } from '../drawing/name-pattern.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { containersOf } from '../geometry/nesting.js';
import { joinedPaths, splitSubpaths } from '../geometry/path.js';
import { endOf, piecesOf, startOf } from '../geometry/path-pieces.js';
import { lengthOfPieces } from '../geometry/planar/moments.js';
import type { Contour } from '../parts/cutting-order.js';
import { cuttingOrder, wayOf } from '../parts/cutting-order.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { tellChange, unitOf } from './tell.js';

/** Puts curves into the order in which they are best cut: draw order is cutting order. */
export const orderForCutting = defineStep({
  id: 'order-for-cutting',
  title: 'Order for cutting',
  summary:
    'Curves are drawn in the order in which they are best cut: whatever lies inside before what holds it, then the shortest way between.',
  carries: ['curves'],
  group: 'regions',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0, 0, 20, 0, 20, 20, 0, 20], true),
      sketch.chain([26, 0, 46, 0, 46, 20, 26, 20], true),
      sketch.circle(10, 10, 4),
      sketch.circle(36, 10, 4),
    ]),
  },
  params: {
    how: p.choice({
      title: 'After what lies inside',
      default: 'free',
      choices: {
        free: 'the shortest way',
        inner: 'all that lies in something, then all outer outlines',
        parts: 'one part after the other',
      },
    }),
    layers: p.text({
      title: 'Layers in this order',
      description: 'each a pattern, apart by commas; what none names comes last',
      default: '',
      maxLength: 4000,
      suggest: 'layers',
    }),
    marks: p.choice({
      title: 'Open curves',
      default: 'first',
      choices: { first: 'Before all outlines, such as engraving', among: 'Among the outlines, by the way' },
    }),
    head: p.point({ title: 'The head starts at' }),
    which: p.selection({ title: 'Which curves' }),
  },
  run(source, params, ctx) {
    const drawing = insideOut(source, selectedBy(params.which, source), ctx);
    const cuts = cutsOf(drawing, selectedBy(params.which, drawing), ctx);
    if (cuts.length === 0) return drawing;
    const groups = grouped(cuts, drawing, params.layers, params.marks === 'first');
    const order: Cut[] = [];
    let [before, after] = [0, 0];
    let at: readonly [number, number] = [params.head.x, params.head.y];
    for (const group of groups) {
      const contours = contoursOf(group);
      const made = cuttingOrder(contours, at, params.how, () => checkStop(ctx));
      after += made.way;
      for (const i of made.order) order.push(group[i]!);
      at = order[order.length - 1]!.end;
    }
    const plain = cuts.map((c): Contour => ({ start: c.start, end: c.end, inside: -1 }));
    before = wayOf(
      plain,
      [params.head.x, params.head.y],
      plain.map((_, i) => i),
    );
    tellOrder(order, [params.head.x, params.head.y], drawing, ctx);
    const places = cuts.map((c) => c.at);
    const entities = [...drawing.entities];
    let moved = 0;
    order.forEach((c, n) => {
      if (places[n] !== c.at) moved++;
      entities[places[n]!] = drawing.entities[c.at]!;
    });
    if (moved === 0) return drawing.ordered ? drawing : { ...drawing, ordered: true };
    tellChange(
      ctx,
      'curves',
      moved,
      because('ordered-for-cutting', { before: rounded(before), after: rounded(after), unit: unitOf(drawing) }),
    );
    return { ...drawing, entities, ordered: true };
  },
});

/** Paths of several outlines with those inside before what holds them: a path is drawn in one go, in the order of its outlines. */
function insideOut(drawing: Drawing, wanted: (e: Entity) => boolean, ctx: StepContext): Drawing {
  let turned = 0;
  const entities = drawing.entities.map((e): Entity => {
    if (e.kind !== 'path' || e.sheet !== undefined || !wanted(e)) return e;
    const parts = splitSubpaths(e.path).flatMap((path) => {
      const [run] = piecesOf(path, false);
      return run ? [{ path, ...run }] : [];
    });
    if (parts.length < 2) return e;
    const holders = containersOf(
      parts.map((p) => p.pieces),
      parts.length,
      () => checkStop(ctx),
    ).map((list) => list.filter((k) => parts[k]!.closed).length);
    const order = parts.map((_, i) => i).sort((a, b) => holders[b]! - holders[a]! || a - b);
    if (order.every((at, i) => at === i)) return e;
    const made: Entity = { ...e, path: joinedPaths(order.map((i) => parts[i]!.path)) };
    ctx.lineage.replace(e, [made], 'from-inside-out');
    turned++;
    return made;
  });
  if (turned === 0) return drawing;
  tellChange(ctx, 'curves', turned, because('paths-from-inside-out', { count: turned }));
  return { ...drawing, entities };
}

const rounded = (v: number): number => Number(v.toFixed(2));

/** Something to be cut in one go, by its place among the entities. */
interface Cut {
  readonly at: number;
  readonly entity: Entity;
  readonly start: readonly [number, number];
  readonly end: readonly [number, number];
  readonly closed: boolean;
  readonly length: number;
  /** The places of the entities whose outlines hold it, the smallest first. */
  readonly around: readonly number[];
}

/** What of model space is cut in one go, in draw order. Doubles are told: each is one more cut. */
function cutsOf(drawing: Drawing, wanted: (e: Entity) => boolean, ctx: StepContext): Cut[] {
  const { visits, rings } = outlinesSeen(drawing, ctx);
  const placeOf = new Map(drawing.entities.map((e, i) => [e, i]));
  const around = new Map<Entity, number[]>();
  const largest = new Map<Entity, number>();
  for (const r of rings) {
    const own = visits[r.owner]!.entity;
    // What holds the largest of its outlines holds it: an object is cut in one go, and does not wait for itself.
    if (r.area <= (largest.get(own) ?? -1)) continue;
    largest.set(own, r.area);
    const holders = r.around.map((k) => visits[rings[k]!.owner]!.entity).filter((e) => e !== own);
    around.set(
      own,
      holders.flatMap((e) => placeOf.get(e) ?? []),
    );
  }
  const seen = new Set(visits.map((v) => v.entity));
  const cuts: Cut[] = [];
  const shapes = new Map<string, number>();
  let doubles = 0;
  drawing.entities.forEach((entity, at) => {
    if (at % 4096 === 0) checkStop(ctx);
    if (entity.sheet !== undefined || !seen.has(entity) || !wanted(entity)) return;
    if (entity.kind === 'insert') return ctx.leave('blocks-not-ordered', entity);
    const runs = runsOf(entity);
    if (!runs || runs.length === 0) return;
    ctx.look();
    const [first, last] = [runs[0]!, runs[runs.length - 1]!];
    const [start, end] = [startOf(first.pieces[0]!), endOf(last.pieces[last.pieces.length - 1]!)];
    const length = lengthOfPieces(runs.flatMap((r) => r.pieces));
    const closed = runs.every((r) => r.closed);
    const key = `${entity.layer} ${closed} ${start.map((v) => v.toFixed(6)).join()} ${length.toFixed(6)}`;
    if (shapes.has(key)) doubles++;
    shapes.set(key, at);
    cuts.push({ at, entity, start, end: closed ? start : end, closed, length, around: around.get(entity) ?? [] });
  });
  if (doubles > 0) ctx.leave('cut-more-than-once', undefined, doubles);
  return cuts;
}

/** What is cut one after the other: layers in their order, and in each open curves first where that is asked. */
function grouped(cuts: readonly Cut[], drawing: Drawing, layers: string, marksFirst: boolean): Cut[][] {
  const patterns = layers
    .split(',')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => namePattern(l));
  const known = new Map<string, number>();
  const rankOf = (name: string): number => {
    const key = layerKey(drawing, name);
    let rank = known.get(key);
    if (rank === undefined) {
      rank = patterns.findIndex((fits) => fits(name));
      known.set(key, (rank = rank < 0 ? patterns.length : rank));
    }
    return rank;
  };
  const out: Cut[][] = [];
  for (const c of cuts) {
    const n = 2 * rankOf(c.entity.layer) + (marksFirst && !c.closed ? 0 : 1);
    (out[n] ??= []).push(c);
  }
  return out.filter((g) => g !== undefined);
}

function contoursOf(group: readonly Cut[]): Contour[] {
  const own = new Map(group.map((c, i) => [c.at, i]));
  return group.map(({ start, end, around }) => {
    const holder = around.find((at) => own.has(at));
    return { start, end, inside: holder === undefined ? -1 : own.get(holder)! };
  });
}

function tellOrder(order: readonly Cut[], head: readonly [number, number], drawing: Drawing, ctx: StepContext): void {
  const unit = unitOf(drawing);
  let at = head;
  ctx.list({
    title: 'Cuts in order',
    way: { from: head, stops: Float64Array.from(order.flatMap((c) => [...c.start, ...c.end])) },
    columns: ['No', 'Kind', 'Layer', `Way to it, ${unit}`, `Length, ${unit}`],
    rows: order.map((c, i) => {
      const way = Math.hypot(c.start[0] - at[0], c.start[1] - at[1]);
      at = c.end;
      return [i + 1, kindName(c.entity.kind), c.entity.layer, rounded(way), rounded(c.length)];
    }),
  });
}
