import { selectedBy } from '../analysis/selection.js';
import { EVERYTHING, p, takesEverything } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Keeps what a rule takes, or leaves it out: objects of model space, a placed block as one. */
export const keepObjects = defineStep({
  id: 'keep-objects',
  title: 'Keep objects',
  summary:
    'Keeps the objects that a rule takes, by layer, kind, colour, group, size or place, or leaves those out; a placed block goes as one.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0, 0, 40, 0, 40, 24, 0, 24], true),
      sketch.circle(10, 12, 5),
      sketch.circle(30, 12, 5),
    ]),
    params: { how: 'drop', which: { ...EVERYTHING, kinds: ['circle'] } },
  },
  params: {
    how: p.choice({ title: 'These objects', default: 'keep', choices: { keep: 'Stay alone', drop: 'Are left out' } }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    // Everything that stays changes nothing, and everything that goes is asked for by no rule at all.
    if (takesEverything(params.which)) return drawing;
    const taken = selectedBy(params.which, drawing);
    let gone = 0;
    const entities = drawing.entities.filter((e) => {
      if (e.sheet !== undefined) return true;
      ctx.look();
      if (taken(e) === (params.how === 'keep')) return true;
      gone++;
      ctx.lineage.remove(e, 'object-not-chosen');
      return false;
    });
    if (gone === 0) return drawing;
    ctx.ledger.add({
      carryOver: 'layers',
      action: 'dropped',
      onPurpose: true,
      count: gone,
      reason: 'objects-left-out',
    });
    return { ...drawing, entities };
  },
});
