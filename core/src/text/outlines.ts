import { because } from '../drawing/reasons.js';
import { derive } from '../drawing/derive.js';
import type { Block, Drawing } from '../drawing/drawing.js';
import type { Entity, Insert, Path, RichText, Text } from '../drawing/entity.js';
import type { Ledger } from '../drawing/ledger.js';
import type { Lineage } from '../drawing/lineage.js';
import { NO_PAINT } from '../drawing/appearance.js';
import { transformPath } from '../geometry/path.js';
import type { FontBook } from './fonts.js';
import { barsPath } from './drawn-bars.js';
import { lineMatrix, linesOf, shownPaint } from './layout.js';

/** What text becomes: closed outlines of its letters, or their single lines, as wide as they come or fitted. */
export type TextForm = 'outlines' | 'lines' | 'fittedLines';

/**
 * A drawing in which every text is shapes, where and as high as the text was: closed outlines of its letters, filled in
 * its colour and without a stroke, or open strokes in its colour. One path per line and style, and one for its bars. Characters that no font
 * has are named in the ledger.
 */
export function textToOutlines(
  drawing: Drawing,
  fonts: FontBook,
  ledger: Ledger,
  form: TextForm = 'outlines',
  lineage?: Lineage,
): Drawing {
  const convert = (list: readonly Entity[], inBlock: boolean): Entity[] =>
    list.flatMap((e): Entity[] => {
      if (e.kind === 'insert' && e.attributes.length > 0) {
        const { attributes, ...rest } = e;
        const insert: Insert = { ...rest, attributes: [] };
        const shapes = attributes.flatMap((a) => (a.hidden ? [] : shapesOf(a, drawing, fonts, ledger, form)));
        lineage?.became(e, [insert, ...shapes], 'lettered', 'lettered');
        return [insert, ...shapes];
      }
      if (e.kind !== 'text' && e.kind !== 'richText') return [e];
      // What an attribute's definition says is not seen where its block is inserted.
      if (inBlock && e.kind === 'text' && e.definition && !e.definition.constant) return [e];
      const shapes = shapesOf(e, drawing, fonts, ledger, form);
      lineage?.became(e, shapes, 'lettered', 'lettered');
      return shapes;
    });
  const blocks = new Map<string, Block>();
  for (const [key, b] of drawing.blocks) blocks.set(key, { ...b, entities: convert(b.entities, true) });
  return { ...drawing, entities: convert(drawing.entities, false), blocks };
}

/** The shapes of one text, in its own plane. */
export function shapesOf(
  e: Text | RichText,
  drawing: Pick<Drawing, 'textStyles'>,
  fonts: FontBook,
  ledger: Ledger,
  form: TextForm,
): Path[] {
  const paths: Path[] = [];
  const missing = new Set<string>();
  const { id, look } = e;
  let strokes = form !== 'outlines';
  for (const line of linesOf(e, drawing, fonts)) {
    const own = fonts.outline(line.text, line.family, line.weight, line.italic);
    const made =
      form === 'outlines'
        ? own
        : fonts.single(line.text, line.family, line.weight, line.italic, form === 'fittedLines');
    strokes ||= made.strokes;
    for (const c of made.missing) missing.add(c);
    if (made.path.cmds.length === 0) continue;
    const paint = shownPaint(line, e);
    // The place is that of the text as it stood; letters of another width keep its anchor.
    const advance = form === 'outlines' ? own.advance : made.advance;
    const matrix = lineMatrix(line, advance);
    const seen: Entity['look'] = made.strokes
      ? { ...look, fill: NO_PAINT, stroke: paint, strokeOpacity: look.fillOpacity, cap: 'round', join: 'round' }
      : { ...look, fill: paint, stroke: NO_PAINT, fillRule: 'nonzero' };
    const bars = barsPath(line, advance, fonts, made.strokes);
    for (const shape of [made.path, ...(bars ? [bars] : [])]) {
      const path = transformPath(shape, matrix);
      paths.push(derive(e, paths.length === 0 ? 'whole' : 'piece', { kind: 'path', path, look: seen }));
    }
  }
  ledger.add({
    carryOver: 'text',
    action: 'changed',
    reason: strokes ? 'text-as-lines' : 'text-as-outlines',
    onPurpose: true,
    id,
  });
  if (missing.size > 0) {
    ledger.add({
      carryOver: 'text',
      action: 'dropped',
      reason: because('letters-missing', { letters: [...missing].join(' ') }),
      count: missing.size,
      id,
    });
  }
  return paths;
}
