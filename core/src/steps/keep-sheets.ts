import type { Block, Drawing, Sheet } from '../drawing/drawing.js';
import { namePattern } from '../drawing/name-pattern.js';
import { because } from '../drawing/reasons.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** The block of the sheet that is looked at first (DXF reference, BLOCKS section). */
const FIRST = '*Paper_Space';

const blank = (name: string, order: number): Sheet => ({ name, block: `${FIRST}${order}`, order, unitsPerMm: 1 });

/** Keeps some sheets of paper, or leaves some out, with what is drawn on them; model space stays whole. */
export const keepSheets = defineStep({
  id: 'keep-sheets',
  title: 'Keep sheets',
  summary:
    'Keeps the sheets whose names fit, or leaves those out, with their windows and what is drawn on them; model space stays whole.',
  carries: ['links'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 40, 0, 40, 24], true), sketch.circle(9, 9, 5, { sheet: 'Details' })], {
      sheets: [blank('Plan', 1), blank('Details', 2)],
    }),
    params: { names: 'Plan' },
  },
  params: {
    how: p.choice({ title: 'Sheets named', default: 'keep', choices: { keep: 'Stay alone', drop: 'Are left out' } }),
    names: p.text({
      title: 'Names',
      description: '* stands for any letters; several apart by commas',
      default: '*',
      maxLength: 4000,
    }),
  },
  run(drawing, params, ctx) {
    const fits = namePattern(params.names);
    const kept = drawing.sheets.filter((s) => fits(s.name) === (params.how === 'keep'));
    const count = drawing.sheets.length - kept.length;
    if (count === 0) return drawing;
    const names = new Set(kept.map((s) => s.name));
    const entities = drawing.entities.filter((e) => {
      if (e.sheet === undefined || names.has(e.sheet)) return true;
      ctx.look();
      ctx.lineage.remove(e, 'sheet-not-chosen');
      return false;
    });
    ctx.ledger.add({
      carryOver: 'links',
      action: 'dropped',
      onPurpose: true,
      count,
      reason: because('sheets-not-kept', { count }),
    });
    return withSheets({ ...drawing, entities }, kept);
  },
});

/** A drawing with these of its sheets alone. The first of them gets the block that is looked at first, where that one is gone. */
function withSheets(drawing: Drawing, kept: readonly Sheet[]): Drawing {
  const lower = FIRST.toLowerCase();
  const stays = new Set(kept.map((s) => s.block.toLowerCase()));
  const gone = drawing.sheets.map((s) => s.block).filter((b) => !stays.has(b.toLowerCase()));
  const blocks = new Map<string, Block>(drawing.blocks);
  for (const name of gone) blocks.delete(name.toLowerCase());
  const [first, ...rest] = kept;
  if (!first || stays.has(lower)) return { ...drawing, sheets: [...kept], blocks };
  const block = blocks.get(first.block.toLowerCase());
  if (block) {
    blocks.delete(first.block.toLowerCase());
    blocks.set(lower, { ...block, name: FIRST });
  }
  return { ...drawing, sheets: [{ ...first, block: FIRST }, ...rest], blocks };
}
