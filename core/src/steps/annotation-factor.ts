import type { DimensionStyle, Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { selectedBy } from '../analysis/selection.js';
import { p, takesEverything } from '../parameters/parameter.js';
import { changeAll } from './all-entities.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

/** Makes letters, arrows and dashes larger or smaller, and nothing else. */
export const annotationFactor = defineStep({
  id: 'annotation-factor',
  title: 'Annotation factor',
  summary: 'Letters, arrows, dimension sizes and dashes grow or shrink by a factor; shapes and measured numbers stay.',
  carries: ['text'],
  group: 'text',
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 60, 0, 60, 24, 0, 24], true), sketch.text('Bay 3', 6, 8, 3)]),
    params: { factor: 3 },
  },
  params: {
    factor: p.number({
      title: 'Factor',
      description: 'letters of 2.5 on paper at 1 : 50 are 125 in the model',
      default: 50,
      above: 0,
    }),
    way: p.choice({
      title: 'Sizes are',
      default: 'times',
      choices: { times: 'Multiplied: from paper to model', over: 'Divided: from model to paper' },
    }),
    which: p.selection({ title: 'Which texts' }),
  },
  run(drawing, params, ctx) {
    const k = params.way === 'times' ? params.factor : 1 / params.factor;
    if (k === 1) return drawing;
    const wanted = selectedBy(params.which, drawing);
    const sized = (v: number): number => Number((v * k).toPrecision(15));
    let [count, pictures] = [0, 0];
    const put = (e: Entity, made: Entity): Entity => {
      count++;
      ctx.lineage.became(e, [made], 'annotation-scaled', 'resized');
      return made;
    };
    const change = (e: Entity): Entity => {
      if (e.sheet !== undefined || !wanted(e)) return e;
      if (e.kind === 'text' || e.kind === 'richText') {
        ctx.look();
        return put(e, {
          ...e,
          size: sized(e.size),
          ...(e.kind === 'text' && e.spacing !== undefined && { spacing: sized(e.spacing) }),
          ...(e.kind === 'richText' && { width: sized(e.width) }),
        } as Entity);
      }
      if (e.kind === 'insert' && e.attributes.length > 0)
        return put(e, { ...e, attributes: e.attributes.map((a) => ({ ...a, size: sized(a.size) })) });
      if (e.kind === 'dimension' && e.picture !== undefined) {
        pictures++;
        const { picture: _p, ...rest } = e;
        ctx.lineage.became(e, [rest], 'annotation-scaled', 'resized');
        return rest;
      }
      return e;
    };
    // The block of a picture is what the dimension is drawn anew instead of.
    const shown = new Set(
      drawing.entities.flatMap((e) =>
        e.kind === 'dimension' && e.picture !== undefined ? [e.picture.toLowerCase()] : [],
      ),
    );
    const made = changeAll(drawing, (e, block) =>
      block && (block.sheet || shown.has(block.name.toLowerCase())) ? e : change(e),
    );
    // Styles and the scale of linetypes are everybody's: they follow where everything is meant.
    const styles = takesEverything(params.which) ? scaledStyles(drawing, sized, k) : null;
    if (made === drawing && !styles) return drawing;
    const reason = because('annotation-scaled', { factor: Number(k.toPrecision(6)) });
    tellChange(ctx, 'text', count + pictures + (styles?.count ?? 0), reason);
    tellChange(ctx, 'text', pictures, 'picture-drawn-anew');
    return { ...made, ...styles?.made };
  },
});

/** What sizes of the drawing itself hang on: its text and dimension styles, and what all linetypes are scaled by. */
function scaledStyles(
  drawing: Drawing,
  sized: (v: number) => number,
  k: number,
): { count: number; made: Partial<Drawing> } | null {
  let count = 0;
  const textStyles = drawing.textStyles.map((s) => {
    if (!(s.fixedHeight > 0)) return s;
    count++;
    return { ...s, fixedHeight: sized(s.fixedHeight) };
  });
  const dimensionStyles = drawing.dimensionStyles.map((s) => scaledStyle(s, sized, k));
  count += dimensionStyles.length;
  const header = new Map(drawing.header);
  // Where a drafting file does not say it, linetypes are scaled by 1.
  if (drawing.linetypes.some((l) => l.pattern.length > 0) && !header.has('$LTSCALE'))
    header.set('$LTSCALE', [[40, '1']]);
  for (const name of ['$LTSCALE', '$DIMSCALE', '$TEXTSIZE']) {
    const value = header.get(name);
    if (!value) continue;
    count++;
    header.set(
      name,
      value.map(([code, v]) => [code, String(sized(Number(v)))]),
    );
  }
  return count > 0 ? { count, made: { textStyles, dimensionStyles, header } } : null;
}

/** All sizes of a dimension style hang on its overall scale (40), which is 1 where it is not stated. */
const scaledStyle = (s: DimensionStyle, sized: (v: number) => number, k: number): DimensionStyle => ({
  ...s,
  tags: s.tags.some(([c]) => c === 40)
    ? s.tags.map(([c, v]) => (c === 40 ? [c, String(sized(Number(v)))] : [c, v]))
    : [[40, String(k)], ...s.tags],
});
