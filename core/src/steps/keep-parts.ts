import { breakUp } from '../drawing/break-up.js';
import type { Drawing } from '../drawing/drawing.js';
import { because } from '../drawing/reasons.js';
import type { Entity } from '../drawing/entity.js';
import { refOf, resolveRef } from '../drawing/entity-ref.js';
import { UserError } from '../errors.js';
import { PART_FIELDS } from '../parts/fields.js';
import type { PartsFound } from '../parts/find.js';
import { PART_RULES, findParts } from '../parts/find.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';

const EXAMPLE = exampleDrawing([
  { ...sketch.chain([0, 0, 20, 0, 20, 20, 0, 20], true), key: '2A' },
  sketch.circle(10, 10, 5),
  sketch.chain([26, 0, 56, 0, 56, 20, 26, 20], true),
  sketch.circle(36, 10, 5),
]);

/** Keeps a few parts alone, where they are, or leaves a few out. */
export const keepParts = defineStep({
  id: 'keep-parts',
  title: 'Keep parts',
  summary: 'Keeps parts that are picked by their outlines, with their holes, marks and labels, or leaves those out.',
  carries: ['curves'],
  group: 'regions',
  ofOneDrawing: true,
  example: {
    drawing: EXAMPLE,
    params: { parts: [refOf(EXAMPLE().entities[0]!, EXAMPLE())] },
  },
  params: {
    how: p.choice({ title: 'These parts', default: 'keep', choices: { keep: 'Stay alone', drop: 'Are left out' } }),
    parts: p.picked({ title: 'Parts, by their outlines', atMost: 10_000 }),
    by: PART_FIELDS.by,
    letters: PART_FIELDS.letters,
    smallest: PART_FIELDS.smallest,
    offer: PART_FIELDS.offer,
  },
  run(drawing, params, ctx) {
    if (params.parts.length === 0 || drawing.entities.length === 0) {
      if (params.parts.length === 0) ctx.leave('no-part-picked');
      return drawing;
    }
    const rules = { ...PART_RULES, by: params.by, letters: params.letters };
    const found = findParts(drawing, { ...rules, smallest: params.smallest ?? 0, offer: params.offer ?? 0 }, ctx);
    const picked = new Set<Entity>();
    let lost = 0;
    for (const ref of params.parts) {
      const e = resolveRef(ref, drawing);
      if (e) picked.add(e);
      else lost++;
    }
    const isPicked = (i: number): boolean => {
      const { entity, top } = found.visits[found.rings[found.parts[i]!.outer]!.owner]!;
      return picked.has(entity) || picked.has(top);
    };
    const chosen = found.parts.flatMap((_, i) => (isPicked(i) ? [i] : []));
    ctx.look(found.parts.length);
    // A file without a part that was asked for, or with one that was left out, would be a wrong file.
    if (lost > 0 || chosen.length === 0)
      throw new UserError(
        'wrong-parameter',
        lost > 0
          ? `${lost} of the ${params.parts.length} parts cannot be told for certain in this drawing: pick them again`
          : 'what is picked is the outline of no part: pick closed outlines, or change how parts are found',
      );
    return sifted(drawing, found, chosen, params.how === 'keep', ctx);
  },
});

/** The places of all visits that belong to some parts. */
function visitsOf({ parts, rings }: PartsFound, chosen: readonly number[]): Set<number> {
  const out = new Set<number>();
  for (const i of chosen) {
    const { outer, holes, marks, labels, offered } = parts[i]!;
    for (const r of [outer, ...holes]) out.add(rings[r]!.owner);
    for (const v of [...marks, ...labels, ...offered]) out.add(v);
  }
  return out;
}

/** The drawing with what belongs to the chosen parts alone, or without it. */
function sifted(
  drawing: Drawing,
  found: PartsFound,
  chosen: readonly number[],
  keep: boolean,
  ctx: StepContext,
): Drawing {
  const own = visitsOf(found, chosen);
  const others = visitsOf(
    found,
    found.parts.flatMap((_, i) => (chosen.includes(i) ? [] : [i])),
  );
  /** What each object shows: how much of it is the chosen parts’. */
  const shown = new Map<Entity, boolean[]>();
  let shared = 0;
  found.visits.forEach(({ top, entity }, i) => {
    if (entity.kind === 'insert') return;
    const list = shown.get(top);
    const isShared = own.has(i) && others.has(i);
    // What belongs to a part that stays does not go with one that is left out.
    const isOwn = own.has(i) && (keep || !isShared);
    if (isShared) shared++;
    if (list) list.push(isOwn);
    else shown.set(top, [isOwn]);
  });
  if (shared > 0) ctx.leave('parts-share-an-object', undefined, shared);
  let [gone, broken, nextId] = [0, 0, drawing.nextId];
  const entities = drawing.entities.flatMap((e): Entity[] => {
    if (e.sheet !== undefined) return [e];
    const seen = shown.get(e) ?? [];
    const all = seen.length > 0 && seen.every(Boolean);
    // What shows nothing belongs to no part.
    const none = !seen.some(Boolean);
    if (all || none || e.kind !== 'insert') {
      if (keep ? !none : !all) return [e];
      gone++;
      ctx.lineage.remove(e, 'part-not-chosen');
      return [];
    }
    // Placed blocks of several parts are taken apart, where their contents can be told apart.
    const contents = breakUp(e, drawing, true);
    if (contents.length !== seen.length) {
      ctx.leave('block-holds-other-parts', e);
      return [e];
    }
    broken++;
    const made = contents.filter((_, i) => seen[i] === keep).map((one) => ({ ...one, id: nextId++ }));
    ctx.lineage.became(e, made, 'part-of-block', 'part');
    return made;
  });
  if (gone + broken === 0) return drawing;
  ctx.ledger.add({
    carryOver: 'curves',
    action: 'dropped',
    onPurpose: true,
    count: gone + broken,
    reason: because(keep ? 'parts-kept' : 'parts-left-out', { count: chosen.length }),
  });
  return { ...drawing, entities, nextId };
}
