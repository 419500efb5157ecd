import { insertOf } from '../drawing/derive.js';
import { breakUp } from '../drawing/break-up.js';
import type { Block, Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { partsOf, pictureOf } from '../drawing/parts.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Turns dimensions and leaders into the lines and texts that show them. */
export const flattenDimensions = defineStep({
  id: 'flatten-dimensions',
  title: 'Flatten dimensions',
  summary: 'Dimensions and leaders become the lines and texts that show them, or are left out.',
  carries: ['text'],
  group: 'text',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 40, 0),
      {
        kind: 'dimension',
        form: 'linear',
        points: { 10: [40, 12, 0], 11: [20, 12, 0], 13: [0, 0, 0], 14: [40, 0, 0] },
        override: '',
        style: 'STANDARD',
        rotation: 0,
        oblique: 0,
        textRotation: 0,
        ordinateX: false,
        flags: 0,
      },
    ]),
  },
  params: {
    to: p.choice({
      title: 'Dimensions become',
      default: 'lines',
      choices: { lines: 'Lines and text', nothing: 'Nothing' },
    }),
  },
  run(drawing, params, ctx) {
    const lines = params.to === 'lines';
    let changed = 0;
    let nextId = drawing.nextId;
    const convert = (list: readonly Entity[]): Entity[] =>
      list.flatMap((e): Entity[] => {
        if (e.kind !== 'dimension' && e.kind !== 'leader') return [e];
        changed++;
        if (!lines) {
          ctx.lineage.remove(e, 'dimension-left-out');
          return [];
        }
        const parts = shownBy(e, drawing).map((part) => ({
          ...part,
          id: nextId++,
          ...(e.sheet !== undefined && { sheet: e.sheet }),
        }));
        ctx.lineage.replace(e, parts, 'shown-as-lines');
        return parts;
      });
    const blocks = new Map<string, Block>();
    for (const [key, b] of drawing.blocks) blocks.set(key, { ...b, entities: convert(b.entities) });
    const entities = convert(drawing.entities);
    if (changed === 0) return drawing;
    ctx.ledger.add({
      carryOver: 'text',
      action: lines ? 'changed' : 'dropped',
      onPurpose: true,
      reason: lines ? 'dimensions-as-parts' : 'dimensions-left-out',
      count: changed,
    });
    return { ...drawing, entities, blocks, nextId };
  },
});

/** What shows a dimension or leader: its picture, or the parts that it amounts to, compound parts taken apart too. */
function shownBy(e: Entity, drawing: Drawing): Entity[] {
  const picture = pictureOf(e, drawing);
  if (picture === undefined) {
    return partsOf(e, drawing).flatMap((p) =>
      p.kind === 'dimension' || p.kind === 'leader' ? shownBy(p, drawing) : [p],
    );
  }
  return breakUp(insertOf(e, picture), drawing);
}
