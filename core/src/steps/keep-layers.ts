import { layerKey } from '../drawing/drawing.js';
import { namePattern } from '../drawing/name-pattern.js';
import { because } from '../drawing/reasons.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { changeAll } from './all-entities.js';

/** Keeps some layers, or leaves some out. */
export const keepLayers = defineStep({
  id: 'keep-layers',
  title: 'Keep layers',
  summary: 'Keeps the layers whose names fit, or leaves those out, with all that lies on them.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 40, 0, 'GROUND'),
      sketch.line(8, 0, 8, 20, 'POSTS'),
      sketch.line(32, 0, 32, 20, 'POSTS'),
      sketch.line(0, 20, 40, 20, 'ROOF'),
    ]),
    params: { names: 'POSTS' },
  },
  params: {
    how: p.choice({ title: 'Layers named', default: 'keep', choices: { keep: 'Stay alone', drop: 'Are left out' } }),
    names: p.text({
      title: 'Names',
      description: '* stands for any letters; several apart by commas',
      default: '*',
      maxLength: 4000,
      suggest: 'layers',
    }),
  },
  run(drawing, params, ctx) {
    const fits = namePattern(params.names);
    const stays = (layer: string): boolean => fits(layer) === (params.how === 'keep');
    let gone = 0;
    const made = changeAll(drawing, (e, block) => {
      // Layer 0 in a block stands for whatever layer the block is placed on.
      if (e.sheet !== undefined || block?.sheet || (block && e.layer === '0')) return e;
      ctx.look();
      if (stays(e.layer)) return e;
      gone++;
      ctx.lineage.remove(e, 'layer-not-chosen');
      return null;
    });
    const onSheets = new Set(
      drawing.entities.filter((e) => e.sheet !== undefined).map((e) => layerKey(drawing, e.layer)),
    );
    const layers = drawing.layers.filter(
      (l) => stays(l.name) || l.name === '0' || onSheets.has(layerKey(drawing, l.name)),
    );
    if (gone === 0 && layers.length === drawing.layers.length) return drawing;
    ctx.ledger.add({
      carryOver: 'layers',
      action: 'dropped',
      onPurpose: true,
      count: gone || drawing.layers.length - layers.length,
      reason: because('layers-left-out', { count: drawing.layers.length - layers.length }),
    });
    return { ...made, layers };
  },
});
