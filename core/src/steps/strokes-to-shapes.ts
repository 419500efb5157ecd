import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import type { Width } from '../drawing/appearance.js';
import { NO_PAINT } from '../drawing/appearance.js';
import { constantWidth } from '../drawing/constant-width.js';
import { derive } from '../drawing/derive.js';
import type { Layer } from '../drawing/drawing.js';
import { layerIndex, layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { LinetypeDashes } from '../drawing/linetype-dashes.js';
import { mmPerUnit } from '../drawing/units.js';
import { checkStop } from '../formats/format.js';
import { TooIntricate } from '../geometry/crossings.js';
import { strokeShape } from '../geometry/planar/stroke-shape.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { takenRuns } from '../drawing/taken-runs.js';
import { inSpaces } from './spaces.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

/** Makes shapes of wide lines: what the pen covers. */
export const strokesToShapes = defineStep({
  id: 'strokes-to-shapes',
  title: 'Strokes to shapes',
  summary: 'Wide lines become the shapes that the pen covers, with their caps, corners and dashes, without overlaps.',
  carries: ['curves', 'colour'],
  group: 'regions',
  example: {
    drawing: exampleDrawing([
      sketch.path('M6 6L40 6L40 28', { width: { kind: 'drawing', value: 7 }, join: 'miter', cap: 'butt', miter: 8 }),
    ]),
  },
  params: {
    standard: p.length({ title: 'Lines that state no width are', automatic: '0.25 mm', default: 0, atLeast: 0 }),
    tolerance: p.length({
      title: 'Off free curves by at most',
      automatic: 'a hundred-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    which: p.selection({ title: 'Which lines' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const tolerance = params.tolerance || extentOf(drawing).diagonal * 1e-5;
    if (!(tolerance > 0)) return drawing;
    const byName = layerIndex(drawing);
    const linetypes = new LinetypeDashes(drawing);
    const perUnit = mmPerUnit(drawing.unit);
    const standard = params.standard || 0.25 / (perUnit ?? 1);
    let count = 0;
    const made = inSpaces(drawing, ctx, ({ entities, scale, id }) => {
      let any = false;
      const out = entities.flatMap((e, i): Entity[] => {
        if (i % 64 === 0) checkStop(ctx);
        if (!wanted(e) || e.look.stroke.kind === 'none' || !e.look.visible) return [e];
        const taken = takenRuns(e, tolerance / scale);
        if (!taken) return [e];
        ctx.look();
        const width = e.kind === 'polyline' ? constantWidth(e) : null;
        const layer = byName.get(layerKey(drawing, e.layer));
        const wide = width ?? widthIn(e.look.width, layer, perUnit, standard, scale);
        if (!(wide > 0)) return [e];
        if (taken.runs[0]?.z !== 0 && taken.runs.length > 0) {
          ctx.leave('chain-not-flat-path', e);
          return [e];
        }
        const { cap, join, miter } = e.look;
        const dash = linetypes.of(e);
        // What is a length of the shape shrinks with it; linetypes keep theirs however a block is placed.
        const dashes = linetypes.lengths(dash).map((l) => (dash.kind === 'linetype' ? l / scale : l));
        const dashOffset = dash.kind === 'lengths' ? dash.offset : 0;
        let path;
        try {
          path = strokeShape(taken.runs, {
            width: wide,
            cap,
            join,
            miter,
            tolerance: tolerance / scale,
            dashes,
            dashOffset,
          });
        } catch (error) {
          if (!(error instanceof TooIntricate)) throw error;
          ctx.leave('stroke-too-intricate', e);
          return [e];
        }
        if (path.cmds.length === 0) return [e];
        any = true;
        count++;
        const look = {
          ...e.look,
          fill: e.look.stroke,
          fillOpacity: e.look.strokeOpacity,
          stroke: NO_PAINT,
          fillRule: 'nonzero' as const,
        };
        const shape = derive(e, 'whole', { kind: 'path', path, look, normal: undefined });
        const filled = e.look.fill.kind !== 'none';
        // A fill stays under the shape of its line.
        const under = filled ? ({ ...e, look: { ...e.look, stroke: NO_PAINT } } as Entity) : null;
        const to = under ? [under, { ...shape, id: id(), key: undefined } as Entity] : [shape];
        const reach = (wide / 2) * Math.max(1, join === 'miter' ? miter : 1, cap === 'square' ? Math.SQRT2 : 1);
        const gaps = under ? 0 : longestGap(dashes);
        ctx.lineage.dashed(e, to, 'stroke-shaped', reach + tolerance / scale, gaps);
        return to;
      });
      return any ? out : entities;
    });
    tellChange(ctx, 'curves', count, 'strokes-shaped');
    return made;
  },
});

/** How wide a line is drawn, in units of its space: a width of the drawing grows with its block, one on paper does not. Paper counts at 1 : 1. */
function widthIn(w: Width, layer: Layer | undefined, perUnit: number | null, standard: number, scale: number): number {
  if (w.kind === 'drawing') return w.value;
  const mm = w.kind === 'paper' ? w.mm : w.kind === 'byLayer' ? (layer?.weight ?? null) : null;
  return (mm === null ? standard : mm / (perUnit ?? 1)) / scale;
}

/** How much of a line may be missing in one place; dashes without a length part no gaps. */
function longestGap(dashes: readonly number[]): number {
  if (dashes.length % 2 === 1) return Math.max(...dashes);
  const gaps = dashes.filter((_, i) => i % 2 === 1);
  return dashes.some((d, i) => i % 2 === 0 && d === 0) ? gaps.reduce((a, b) => a + b, 0) : Math.max(0, ...gaps);
}
