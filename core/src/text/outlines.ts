import type { Block, Drawing } from '../drawing/drawing.js';
import type { Entity, Insert, Path, RichText, Text } from '../drawing/entity.js';
import type { Ledger } from '../drawing/ledger.js';
import { NO_PAINT } from '../drawing/appearance.js';
import { transformPath } from '../geometry/path.js';
import type { FontBook } from './fonts.js';
import { lineMatrix, linesOf } from './layout.js';

/**
 * A drawing in which every text is closed outlines of its letters, filled in its colour and without a stroke: one path
 * per line and style, where and as high as the text was. Characters that no font has are named in the ledger.
 */
export function textToOutlines(drawing: Drawing, fonts: FontBook, ledger: Ledger): Drawing {
  const convert = (list: readonly Entity[], inBlock: boolean): Entity[] =>
    list.flatMap((e): Entity[] => {
      if (e.kind === 'insert' && e.attributes.length > 0) {
        const { attributes, ...rest } = e;
        const insert: Insert = { ...rest, attributes: [] };
        return [insert, ...attributes.flatMap((a) => (a.hidden ? [] : outlined(a, drawing, fonts, ledger)))];
      }
      if (e.kind !== 'text' && e.kind !== 'richText') return [e];
      // What an attribute's definition says is not seen where its block is inserted.
      if (inBlock && e.kind === 'text' && e.definition && !e.definition.constant) return [e];
      return outlined(e, drawing, fonts, ledger);
    });
  const blocks = new Map<string, Block>();
  for (const [key, b] of drawing.blocks) blocks.set(key, { ...b, entities: convert(b.entities, true) });
  return { ...drawing, entities: convert(drawing.entities, false), blocks };
}

function outlined(e: Text | RichText, drawing: Drawing, fonts: FontBook, ledger: Ledger): Path[] {
  const paths: Path[] = [];
  const missing = new Set<string>();
  const { id, layer, look, node, normal, sheet, key } = e;
  for (const line of linesOf(e, drawing, fonts)) {
    const made = fonts.outline(line.text, line.family);
    for (const c of made.missing) missing.add(c);
    if (made.path.cmds.length === 0) continue;
    const paint =
      line.paint && line.paint.kind !== 'byBlock' ? line.paint : look.fill.kind === 'none' ? look.stroke : look.fill;
    paths.push({
      kind: 'path', id, layer, path: transformPath(made.path, lineMatrix(line, made.advance)),
      look: { ...look, fill: paint, stroke: NO_PAINT, fillRule: 'nonzero' },
      ...(node !== undefined && { node }), ...(normal && { normal }), ...(sheet !== undefined && { sheet }),
      // The handle belongs to one thing only.
      ...(paths.length === 0 && key !== undefined && { key }),
    }); // prettier-ignore
  }
  ledger.add({
    carryOver: 'text',
    action: 'changed',
    reason: 'text written as outlines of its letters',
    onPurpose: true,
    id,
  });
  if (missing.size > 0) {
    ledger.add({
      carryOver: 'text',
      action: 'dropped',
      reason: `characters that no font here has: ${[...missing].join(' ')}`,
      count: missing.size,
      id,
    });
  }
  return paths;
}
