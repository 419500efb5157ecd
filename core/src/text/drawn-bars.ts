import { NO_PAINT } from '../drawing/appearance.js';
import { derive } from '../drawing/derive.js';
import type { Block, Drawing } from '../drawing/drawing.js';
import type { Entity, Path, RichText, Text } from '../drawing/entity.js';
import type { Lineage } from '../drawing/lineage.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder, transformPath } from '../geometry/path.js';
import type { FontBook } from './fonts.js';
import type { TextLine } from './layout.js';
import { lineMatrix, linesOf, shownPaint } from './layout.js';
import { letterBars } from './letter-bars.js';

/**
 * The bars under, over and through a line that is so many ems long, in ems from the pen on: closed outlines, or one stroke along the middle of each
 * (`single`); `null` where it has none.
 */
export function barsPath(line: TextLine, advance: number, fonts: FontBook, single = false): PathData | null {
  const bars = letterBars(line, advance, fonts);
  if (bars.length === 0) return null;
  const path = new PathBuilder();
  for (const { from, to, lower, upper } of bars) {
    if (single) {
      path.moveTo(from, (lower + upper) / 2);
      path.lineTo(to, (lower + upper) / 2);
      continue;
    }
    path.moveTo(from, lower);
    path.lineTo(to, lower);
    path.lineTo(to, upper);
    path.lineTo(from, upper);
    path.close();
  }
  return path.build();
}

/** A drawing whose texts have their bars beside them as filled shapes, for formats whose text has none. */
export function withDrawnBars(drawing: Drawing, fonts: FontBook, lineage: Lineage): Drawing {
  let { nextId } = drawing;
  const made: Path[] = [];
  const barsOf = (e: Text | RichText): Path[] =>
    linesOf(e, drawing, fonts).flatMap((line) => {
      const { advance } = fonts.outline(line.text, line.family, line.weight, line.italic);
      const bars = line.text.trim() === '' ? null : barsPath(line, advance, fonts);
      if (!bars) return [];
      const paint = shownPaint(line, e);
      const look = { ...e.look, fill: paint, stroke: NO_PAINT, fillRule: 'nonzero' } as const;
      const bar = derive(e, 'piece', { kind: 'path', path: transformPath(bars, lineMatrix(line, advance)), look });
      made.push({ ...bar, id: nextId++ });
      return [made[made.length - 1]!];
    });
  const beside = (list: readonly Entity[], inBlock: boolean): readonly Entity[] => {
    const out = list.flatMap((e): Entity[] => {
      if (e.kind === 'insert') return [e, ...e.attributes.flatMap((a) => (a.hidden ? [] : barsOf(a)))];
      if (e.kind !== 'text' && e.kind !== 'richText') return [e];
      // What an attribute's definition says is not seen where its block is inserted.
      return inBlock && e.kind === 'text' && e.definition && !e.definition.constant ? [e] : [e, ...barsOf(e)];
    });
    return out.length === list.length ? list : out;
  };
  const blocks = new Map<string, Block>();
  for (const [key, b] of drawing.blocks) {
    const entities = beside(b.entities, true);
    blocks.set(key, entities === b.entities ? b : { ...b, entities: [...entities] });
  }
  const entities = beside(drawing.entities, false);
  if (made.length === 0) return drawing;
  lineage.add(made, 'letter-bars');
  return { ...drawing, entities: [...entities], blocks, nextId };
}
