import type { Paint, Rgb } from '../drawing/appearance.js';
import { NO_PAINT } from '../drawing/appearance.js';
import { lab } from '../drawing/colour-difference.js';
import type { Drawing } from '../drawing/drawing.js';
import { isDrafting } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { FOREGROUND } from '../drawing/palette.js';
import { paintRgb } from '../drawing/resolve.js';
import { surveyOf } from '../drawing/survey.js';
import { selectedBy } from '../analysis/selection.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { changeLooks } from './looks.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

const WHITE = 0xffffff;

/** The grey of a colour's lightness. */
export function greyOf(rgb: Rgb): Rgb {
  const [l] = lab(rgb);
  // Back from lightness to luminance, then to the curve of sRGB.
  const y = l > 8 ? ((l + 16) / 116) ** 3 : (l * 27) / 24389;
  const v = y <= 0.0031308 ? 12.92 * y : 1.055 * y ** (1 / 2.4) - 0.055;
  const c = Math.round(255 * Math.max(0, Math.min(1, v)));
  return (c << 16) | (c << 8) | c;
}

/** Makes lines and letters black. */
export const inkOnly = defineStep({
  id: 'ink-only',
  title: 'Ink only',
  summary: 'Lines and letters become black; fills go, become black, or grey by their lightness.',
  carries: ['colour'],
  group: 'look',
  example: {
    drawing: exampleDrawing([
      sketch.path('M0 0H24V24H0Z', { stroke: { kind: 'rgb', rgb: 0x1c5470 }, fill: { kind: 'rgb', rgb: 0xe0b978 } }),
      sketch.path('M32 0H56V24H32Z', { stroke: { kind: 'rgb', rgb: 0xc4512d } }),
    ]),
    params: { fills: 'grey' },
  },
  params: {
    fills: p.choice({
      title: 'Fills',
      default: 'grey',
      choices: { none: 'Go', black: 'Become black', grey: 'Become grey by their lightness' },
    }),
    white: p.yesNo({ title: 'White fills stay white', default: true }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    // Index 7 is black on paper and follows the ground of whoever looks.
    const ink: Paint = isDrafting(drawing) ? { kind: 'index', index: FOREGROUND } : { kind: 'rgb', rgb: 0 };
    const fillOf = (rgb: Rgb): Paint => {
      if (rgb === WHITE && params.white) return { kind: 'rgb', rgb: WHITE };
      return params.fills === 'none' ? NO_PAINT : params.fills === 'black' ? ink : { kind: 'rgb', rgb: greyOf(rgb) };
    };
    const inked = (paint: Paint): Paint =>
      paint.kind === 'none' || paint.kind === 'byLayer' || paint.kind === 'byBlock' ? paint : ink;
    const made = changeLooks(drawing, ctx, {
      which: params.which,
      look: (look, layer, e) => {
        const letters = e.kind === 'text' || e.kind === 'richText';
        const own = (paint: Paint): Paint => (paint.kind === 'byLayer' && layer ? layer.paint : paint);
        const stroke = inked(own(look.stroke));
        const plain = own(look.fill);
        const fill = letters
          ? inked(plain)
          : plain.kind === 'none' || plain.kind === 'byLayer' || plain.kind === 'byBlock'
            ? plain
            : fillOf(paintRgb(plain) ?? 0);
        const same = (a: Paint, b: Paint): boolean => JSON.stringify(a) === JSON.stringify(b);
        if (same(stroke, look.stroke) && same(fill, look.fill)) return look;
        // A fill that goes without a line round it would leave nothing.
        return {
          ...look,
          fill,
          stroke: stroke.kind === 'none' && fill.kind === 'none' && look.fill.kind !== 'none' ? ink : stroke,
        };
      },
      layer: (l) => (JSON.stringify(l.paint) === JSON.stringify(ink) ? l : { ...l, paint: ink }),
    });
    tellChange(ctx, 'colour', made.count + made.layers, 'inked');
    tellChange(ctx, 'colour', whiteLines(drawing, selectedBy(params.which, drawing)), 'white-became-ink');
    const pictures = made.drawing.entities.filter((e) => e.kind === 'image' && !e.cover).length;
    if (pictures > 0) ctx.leave('pictures-keep-colours', undefined, pictures);
    return made.drawing;
  },
});

/** How many objects have a white line as they are seen, by themselves or by their layer: on paper nobody saw them. */
function whiteLines(drawing: Drawing, wanted: (e: Entity) => boolean): number {
  const seen = new Set<Entity>();
  surveyOf(drawing).each(({ entity, resolved }) => {
    if (resolved.stroke === WHITE && !resolved.foreground && wanted(entity)) seen.add(entity);
  });
  return seen.size;
}
