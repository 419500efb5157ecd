import type { Entity, FontRequest, Text } from '../drawing/entity.js';
import type { TextStyle } from '../drawing/drawing.js';
import { namePattern } from '../drawing/name-pattern.js';
import { because } from '../drawing/reasons.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { changeAll } from './all-entities.js';
import { tellChange } from './tell.js';

/** Gives texts other fonts by a chart. */
export const replaceFonts = defineStep({
  id: 'replace-fonts',
  title: 'Replace fonts',
  summary: 'Texts and text styles get other fonts by a chart of names, so that the receiver has what they ask for.',
  carries: ['text'],
  group: 'text',
  example: {
    drawing: exampleDrawing([
      sketch.text('Kestrel Row', 0, 0, 8, { font: { family: 'Spline Sans', weight: 400, italic: false } }),
    ]),
    params: { chart: [{ from: 'Spline*', to: 'Source Serif 4' }] },
  },
  params: {
    chart: p.chart({
      title: 'Fonts',
      description: '* stands for any letters',
      of: 'text',
      columns: ['Font', 'Becomes'],
      suggest: 'fonts',
      atMost: 300,
    }),
  },
  run(drawing, params, ctx) {
    const rows = params.chart
      .filter((r) => r.from.trim() !== '' && r.to.trim() !== '')
      .map((r) => ({ to: r.to, fits: namePattern(r.from) }));
    if (rows.length === 0) return drawing;
    const told = new Map<string, string>();
    const newName = (name: string): string => {
      if (rows.some((r) => r.to === name)) return name;
      const to = rows.find((r) => r.fits(name))?.to ?? name;
      if (to !== name) told.set(name, to);
      return to;
    };
    const request = (f: FontRequest): FontRequest => {
      const family = newName(f.family);
      if (family === f.family) return f;
      const { or: _or, ...rest } = f;
      return { ...rest, family };
    };
    let count = 0;
    const inText = (e: Text): Text => {
      const font = e.font && request(e.font);
      const runs = e.runs?.map((r) => (r.font ? { ...r, font: request(r.font) } : r));
      if (font === e.font && !(runs?.some((r, i) => r.font !== e.runs![i]!.font) ?? false)) return e;
      return { ...e, ...(font && { font }), ...(runs && { runs }) };
    };
    const change = (e: Entity): Entity => {
      if (e.kind === 'insert' && e.attributes.length > 0) {
        const attributes = e.attributes.map(inText);
        if (attributes.every((a, i) => a === e.attributes[i])) return e;
        const made = { ...e, attributes };
        ctx.lineage.replace(e, [made], 'font-replaced');
        return made;
      }
      if (e.kind !== 'text') return e;
      ctx.look();
      const made = inText(e);
      if (made === e) return e;
      count++;
      ctx.lineage.replace(e, [made], 'font-replaced');
      return made;
    };
    const made = changeAll(drawing, change);
    const textStyles = drawing.textStyles.map((s): TextStyle => {
      const font = newName(s.font);
      const face = s.face && request(s.face);
      if (font === s.font && face === s.face) return s;
      count++;
      // What the record says of the face belongs to the old font.
      const { face: _f, rest: _r, ...plain } = s;
      return { ...plain, font, ...(face && font === s.font && { face }) };
    });
    if (count === 0) return drawing;
    const fonts = [...told].slice(0, 6).map(([a, b]) => `${a} to ${b}`);
    tellChange(ctx, 'text', count, because('fonts-replaced', { fonts: fonts.join(', ') }));
    return { ...made, textStyles };
  },
});
