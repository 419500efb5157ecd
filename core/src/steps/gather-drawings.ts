import { chordsOf, nearestOf } from '../analysis/nearest.js';
import { absorb } from '../drawing/absorb.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { isDrafting } from '../drawing/drawing.js';
import { because } from '../drawing/reasons.js';
import { transformDrawing } from '../drawing/transform.js';
import { conversion } from '../drawing/units.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import { scaling, translation } from '../geometry/affine.js';
import { powerOfTen, tensOf } from '../geometry/power-of-ten.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { GivenReference, PlannedStep, StepContext } from './step.js';
import { defineStep } from './step.js';
import { unitOf } from './tell.js';

/** The drawings that a plan gathers, so that they have to be at hand, by their ids. */
export const gatheredBy = (plan: readonly PlannedStep[]): string[] => [
  ...new Set(
    plan.flatMap((s) => {
      if (!s.on || s.step !== gatherDrawings.id) return [];
      const list = s.params['drawings'];
      return Array.isArray(list) ? list.flatMap((d) => (d as { drawing?: string | null }).drawing ?? []) : [];
    }),
  ),
];

/** What is gathered is given among the references, under this name. */
export const gatheredName = (id: string): string => `drawing:${id}`;

/** Distances are looked for among so many chords at most. */
const MOST_CHORDS = 400_000;
/** How far chords lie from their curves there, as a part of the largest drawing. */
const FINE = 2e-6;
const OTHER = 'bench';

/** Brings other drawings of the job into this one, each at its true size and on its own layers. */
export const gatherDrawings = defineStep({
  id: 'gather-drawings',
  title: 'Gather drawings',
  summary:
    'Other drawings of the job come into this one as they are prepared: at their true size, in their own place or in a row, on their own layers.',
  carries: ['links', 'scale'],
  group: 'blocks',
  ofOneDrawing: true,
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 24, 0, 24, 24, 0, 24], true)]),
    params: { drawings: [{ drawing: OTHER, name: 'Bench', x: 0, y: 0 }], arrange: 'row', gap: 8 },
    references: () => [
      {
        name: gatheredName(OTHER),
        drawing: exampleDrawing([sketch.chain([0, 0, 20, 0, 20, 12, 0, 12], true), sketch.circle(10, 6, 3)])(),
      },
    ],
  },
  params: {
    drawings: p.list({
      title: 'Drawings',
      atMost: 200,
      item: p.group({
        title: 'Drawing',
        params: {
          drawing: p.drawing({ title: 'Drawing' }),
          name: p.text({ title: 'Before its layers', default: '', maxLength: 100 }),
          x: p.length({ title: 'Moved by, x', default: 0 }),
          y: p.length({ title: 'Moved by, y', default: 0 }),
        },
      }),
    }),
    arrange: p.choice({
      title: 'They lie',
      default: 'own',
      choices: { own: 'In their own place, moved as said', row: 'In a row, to the right of this one' },
    }),
    gap: p.length({ when: { arrange: 'row' }, title: 'Room between them', default: 10, atLeast: 0 }),
    layers: p.choice({
      title: 'Their layers',
      default: 'apart',
      choices: { apart: 'Get a name before theirs', same: 'Become those of the same name' },
    }),
  },
  run(drawing, params, ctx) {
    const rows = params.drawings.filter((d) => d.drawing !== null);
    if (rows.length === 0) return drawing;
    const given = new Map((ctx.references ?? []).map((r) => [r.name, r]));
    const own = boundsOf(drawing);
    let right = own.empty ? 0 : own.maxX;
    const bottom = own.empty ? 0 : own.minY;
    let made = drawing;
    const pieces: { name: string; drawing: Drawing }[] = [{ name: 'this drawing', drawing }];
    for (const [i, row] of rows.entries()) {
      checkStop(ctx);
      const found = given.get(gatheredName(row.drawing!));
      if (!found) throw new UserError('wrong-parameter', 'a drawing that is to be gathered is not there (any more)');
      const called = row.name.trim() || `Drawing ${i + 2}`;
      const scaled = inUnitOf(drawing, found, called);
      const box = boundsOf(scaled);
      const move =
        params.arrange === 'own'
          ? translation(row.x, row.y)
          : translation(right + params.gap - (box.empty ? 0 : box.minX), bottom - (box.empty ? 0 : box.minY));
      const placed = transformDrawing(scaled, move);
      const there = boundsOf(placed);
      if (!there.empty) right = Math.max(right, there.maxX);
      made = withDrawing(made, placed, called, params.layers === 'apart', ctx);
      pieces.push({ name: called, drawing: placed });
    }
    tellDistances(pieces, unitOf(drawing), ctx);
    return made;
  },
});

/** A drawing in the unit of another. Throws `UserError` where one of them has none, or they are of two kinds. */
function inUnitOf(into: Drawing, { drawing: from }: GivenReference, called: string): Drawing {
  if (isDrafting(from) !== isDrafting(into))
    throw new UserError(
      'wrong-parameter',
      `“${called}” is ${isDrafting(from) ? 'a drafting file' : 'artwork'} and this drawing is not: write it as the other kind first, and gather that`,
    );
  const [a, b] = [into.unit, from.unit];
  if (!a || !b || a.unit === 'px' || b.unit === 'px')
    throw new UserError(
      'wrong-parameter',
      `nobody has said the unit of ${!a || a.unit === 'px' ? 'this drawing' : `“${called}”`}`,
    );
  const factor = (conversion(b.unit, a.unit) * b.factor) / a.factor;
  return factor === 1 ? from : transformDrawing(from, scaling(factor, factor, factor));
}

function withDrawing(into: Drawing, from: Drawing, called: string, apart: boolean, ctx: StepContext): Drawing {
  const before = (name: string): string => `${called}-${name}`.slice(0, 255);
  const { drawing, entities, blocks, unread, withData, simplified } = absorb(into, from, {
    layer: apart ? before : (name) => name,
    apart: before,
  });
  const added = [...entities, ...blocks.flatMap((b) => drawing.blocks.get(b)!.entities)];
  ctx.look(added.length);
  ctx.lineage.add(added, 'drawing-gathered');
  ctx.ledger.add({
    carryOver: 'links',
    action: 'changed',
    onPurpose: true,
    count: entities.length,
    reason: because('drawing-gathered', { name: called, count: entities.length }),
  });
  for (const [count, action, reason] of [
    [unread, 'dropped', 'unread-left-in-reference'],
    [withData, 'dropped', 'extended-left-in-reference'],
    [simplified, 'approximated', 'linetypes-simplified-in-reference'],
  ] as const)
    if (count > 0) ctx.ledger.add({ carryOver: 'links', action, count, reason: because(reason, { name: called }) });
  return { ...drawing, entities: [...drawing.entities, ...entities] };
}

/** How near every two of them come to each other, and the smallest of all. */
function tellDistances(pieces: readonly { name: string; drawing: Drawing }[], unit: string, ctx: StepContext): void {
  const size = Math.max(...pieces.map((one) => boundsOf(one.drawing).diagonal));
  if (!(size > 0)) return;
  const fine = size * FINE;
  const chords = pieces.map((one) => chordsOf(one.drawing, fine));
  if (chords.reduce((n, c) => n + c.length / 4, 0) > MOST_CHORDS) {
    ctx.leave('too-many-for-distance');
    return;
  }
  const rows: [string, string, number, number, number][] = [];
  for (let i = 0; i < pieces.length; i++)
    for (let j = i + 1; j < pieces.length; j++) {
      const found = nearestOf(chords[i]!, chords[j]!, ctx);
      if (found) rows.push([pieces[i]!.name, pieces[j]!.name, found.distance, found.a[0], found.a[1]]);
    }
  rows.sort((a, b) => a[2] - b[2]);
  const [least] = rows;
  if (!least) return;
  // No digit is said that chords cannot tell.
  const grain = powerOfTen(tensOf(fine) + 1);
  const round = (v: number): number => Number((Math.round(v / grain) * grain).toPrecision(12));
  ctx.ledger.add({
    carryOver: 'scale',
    action: 'kept',
    reason: because(least[2] === 0 ? 'gathered-crossing' : 'gathered-distance', {
      ...{ a: least[0], b: least[1], distance: round(least[2]), unit },
    }),
  });
  ctx.list({
    title: 'Nearest to each other',
    columns: ['Drawing', 'and', `Apart, ${unit}`, 'x', 'y'],
    rows: rows.map(([a, b, d, x, y]) => [a, b, round(d), round(x), round(y)]),
  });
}
