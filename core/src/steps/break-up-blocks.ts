import { breakUp } from '../drawing/break-up.js';
import { namePattern } from '../drawing/name-pattern.js';
import type { Entity } from '../drawing/entity.js';
import type { Step } from './step.js';

/** Breaks inserts up into what they show. */
export const breakUpBlocks: Step = {
  id: 'break-up-blocks',
  title: 'Break up blocks',
  summary: 'Inserts become what they show: circles under an unequal scale become exact ellipses, by-block looks are filled in.', // prettier-ignore
  carries: ['links'],
  on: 'instance',
  params: {
    type: 'object',
    properties: {
      named: { type: 'text', title: 'Blocks named', description: '* stands for any letters; several names apart by commas', default: '*', maxLength: 2000 }, // prettier-ignore
      deep: { type: 'string', title: 'Blocks within blocks', default: 'yes', enum: ['yes', 'no'], titles: ['Break them up too', 'Stay blocks'] }, // prettier-ignore
    },
    required: [],
    additionalProperties: false,
  },
  run(drawing, params, ctx) {
    const named = String(params['named']);
    const wanted = namePattern(named);
    const deep = params['deep'] !== 'no';
    let changed = 0;
    let nextId = drawing.nextId;
    const entities = drawing.entities.flatMap((e): Entity[] => {
      if (e.kind !== 'insert' || named.trim() === '' || !wanted(e.block)) return [e];
      if (!drawing.blocks.has(e.block.toLowerCase())) return [e];
      changed++;
      const parts = breakUp(e, drawing, deep).map((part) => ({ ...part, id: nextId++ }));
      ctx.lineage.replace(e, parts, 'broken-up');
      return parts;
    });
    if (changed === 0) return drawing;
    ctx.ledger.add({ carryOver: 'links', action: 'changed', onPurpose: true, reason: 'inserts broken up into what they show', count: changed }); // prettier-ignore
    return { ...drawing, entities, nextId };
  },
};
