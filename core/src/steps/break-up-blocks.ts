import { breakUp } from '../drawing/break-up.js';
import { namePattern } from '../drawing/name-pattern.js';
import type { Entity } from '../drawing/entity.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

const ONE = { columns: 1, rows: 1, columnSpacing: 0, rowSpacing: 0, attributes: [] };

/** Breaks inserts up into what they show. */
export const breakUpBlocks = defineStep({
  id: 'break-up-blocks',
  title: 'Break up blocks',
  summary:
    'Replaces each placed block by its contents, with the colours and lines it has there. Unequally scaled circles become exact ellipses.',
  carries: ['links'],
  group: 'blocks',
  example: {
    drawing: exampleDrawing(
      [
        { kind: 'insert', block: 'CLAMP', at: [0, 0, 0], scale: [1, 1, 1], rotation: 0, ...ONE },
        { kind: 'insert', block: 'CLAMP', at: [30, 0, 0], scale: [1, 0.5, 1], rotation: 0.5, ...ONE },
      ],
      {
        blocks: new Map([
          [
            'clamp',
            {
              name: 'CLAMP',
              base: [0, 0, 0],
              entities: exampleDrawing([sketch.circle(8, 8, 8), sketch.line(0, 0, 16, 0)])().entities,
            },
          ],
        ]),
      },
    ),
  },
  params: {
    named: p.text({
      title: 'Blocks named',
      description: '* stands for any letters; several names apart by commas',
      default: '*',
      maxLength: 2000,
    }),
    deep: p.yesNo({ title: 'Blocks within blocks too', default: true }),
  },
  // Depth was a choice of two words.
  migrations: [(kept) => (typeof kept['deep'] === 'string' ? { ...kept, deep: kept['deep'] !== 'no' } : kept)],
  run(drawing, params, ctx) {
    const named = params.named;
    const wanted = namePattern(named);
    const deep = params.deep;
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
    ctx.ledger.add({
      carryOver: 'links',
      action: 'changed',
      onPurpose: true,
      reason: 'inserts-broken-up',
      count: changed,
    });
    return { ...drawing, entities, nextId };
  },
});
