import { PLAIN_TEXT } from '../drawing/plain-text.js';
import type { Paint, Rgb } from '../drawing/appearance.js';
import { DRAFTING_DEFAULT, NO_PAINT } from '../drawing/appearance.js';
import { boundsOf } from '../drawing/bounds.js';
import { isDrafting, layerKey, withLayer } from '../drawing/drawing.js';
import type { Entity, Hatch, Text } from '../drawing/entity.js';
import { exactIndex, hex } from '../drawing/palette.js';
import { because } from '../drawing/reasons.js';
import { surveyOf } from '../drawing/survey.js';
import { PathBuilder } from '../geometry/path.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

/** Colours beyond these would be a wall of squares. */
const MOST_COLOURS = 400;
/** Without being told, a swatch is so much of the longer side of the drawing. */
const SIDE_OF_DRAWING = 1 / 40;
/** A cell is so many sides wide and high: the square, its value beside it, room to the next. */
const CELL = { width: 5, height: 1.5 };

/** Puts a swatch of each colour below the drawing, for the eye and for the proof; *Keep layers* leaves them out again. */
export const swatchStrip = defineStep({
  id: 'swatch-strip',
  title: 'Swatch strip',
  summary:
    'Puts a filled square of each colour below the drawing, beyond the page of an SVG, with its value beside it, on a layer of its own.',
  carries: ['colour'],
  group: 'look',
  example: {
    drawing: exampleDrawing([
      sketch.path('M0 0H16V20H0Z', { fill: { kind: 'rgb', rgb: 0x5a3d7b }, stroke: { kind: 'none' } }),
      sketch.path('M20 0H40', { stroke: { kind: 'rgb', rgb: 0xc8641e } }),
    ]),
    params: { side: 4 },
  },
  params: {
    layer: p.text({ title: 'On layer', default: 'SWATCHES', maxLength: 255, suggest: 'layers' }),
    side: p.optional(p.length({ title: 'Side of a square', default: 10, above: 0 }), 'a fortieth of the drawing'),
  },
  run(drawing, params, ctx) {
    const name = params.layer.trim() || 'SWATCHES';
    const key = layerKey(drawing, name);
    const uses = new Map<Rgb, number>();
    let taken = false;
    surveyOf(drawing).each(({ resolved }) => {
      ctx.look();
      if (layerKey(drawing, resolved.layer) === key) taken = true;
      for (const rgb of [resolved.stroke, resolved.fill]) if (rgb !== null) uses.set(rgb, (uses.get(rgb) ?? 0) + 1);
    });
    if (taken) {
      ctx.leave('swatches-there');
      return drawing;
    }
    const box = boundsOf(drawing);
    if (uses.size === 0 || box.empty) return drawing;
    const [wide, high] = [box.maxX - box.minX, box.maxY - box.minY];
    const side = params.side ?? (Math.max(wide, high) * SIDE_OF_DRAWING || 1);
    const across = Math.max(1, Math.floor(wide / (CELL.width * side)));
    const all = [...uses].sort(([a, n], [b, m]) => m - n || a - b);
    const made = all.slice(0, MOST_COLOURS).flatMap(([rgb], i): Entity[] => {
      const x = box.minX + (i % across) * CELL.width * side;
      const y = box.minY - (Math.floor(i / across) + 1) * CELL.height * side - side / 2;
      return swatch(rgb, x, y, side, { layer: name, id: drawing.nextId + 2 * i, drafting: isDrafting(drawing) });
    });
    ctx.lineage.add(made, 'swatch-put');
    tellChange(ctx, 'colour', made.length / 2, because('swatches-put', { count: made.length / 2, layer: name }));
    if (all.length > MOST_COLOURS) ctx.leave('swatches-too-many', undefined, all.length - MOST_COLOURS);
    return withLayer(
      { ...drawing, entities: [...drawing.entities, ...made], nextId: drawing.nextId + made.length },
      name,
    );
  },
});

/** A square with its lower left corner at x, y, and its colour as it is written in files, half as high. */
function swatch(
  rgb: Rgb,
  x: number,
  y: number,
  side: number,
  { layer, id, drafting }: { layer: string; id: number; drafting: boolean },
): [Hatch, Text] {
  // Drafting files name a colour of their list by its number, and letters by a style.
  const index = drafting ? exactIndex(rgb) : null;
  const fill: Paint = index === null ? { kind: 'rgb', rgb } : { kind: 'index', index };
  const path = new PathBuilder().moveTo(x, y).lineTo(x + side, y);
  path
    .lineTo(x + side, y + side)
    .lineTo(x, y + side)
    .close();
  const square: Hatch = {
    kind: 'hatch',
    id,
    layer,
    look: { ...DRAFTING_DEFAULT, stroke: NO_PAINT, fill },
    loops: [{ path: path.build(), flags: 1 }],
    solid: true,
    pattern: 'SOLID',
    elevation: 0,
    angle: 0,
    scale: 1,
  };
  const value: Text = {
    ...PLAIN_TEXT,
    id: id + 1,
    layer,
    look: DRAFTING_DEFAULT,
    text: hex(rgb),
    at: [x + 1.3 * side, y + side / 4, 0],
    size: side / 2,
    ...(drafting && { style: 'Standard' }),
  };
  return [square, value];
}
