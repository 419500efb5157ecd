import type { Drawing } from '../drawing/drawing.js';
import type { RichText, Text } from '../drawing/entity.js';
import { applyPoint } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { FontBook } from './fonts.js';
import { lineMatrix, linesOf } from './layout.js';

/** The corners of the box about a text's lines (base line to the height of capitals), in its own plane, going round. */
export function textCorners(e: Text | RichText, drawing: Drawing, fonts: FontBook): [number, number][] {
  // Along the direction of the text, so that a turned text has a turned box.
  const [c, s] = [Math.cos(e.rotation), Math.sin(e.rotation)];
  const box = new Box2();
  for (const line of linesOf(e, drawing, fonts)) {
    const { advance } = fonts.outline(line.text, line.family, line.weight, line.italic);
    const m = lineMatrix(line, advance);
    const capital = fonts.capital(line.family);
    for (const [u, v] of [
      [0, 0],
      [advance, 0],
      [advance, capital],
      [0, capital],
    ]) {
      const p = applyPoint(m, [u!, v!, 0]);
      box.add(p[0] * c + p[1] * s, p[1] * c - p[0] * s);
    }
  }
  if (box.empty || box.width === 0) return [];
  const back = (x: number, y: number): [number, number] => [x * c - y * s, x * s + y * c];
  return [back(box.minX, box.minY), back(box.maxX, box.minY), back(box.maxX, box.maxY), back(box.minX, box.maxY)];
}
