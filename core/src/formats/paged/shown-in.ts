import type { Drawing } from '../../drawing/drawing.js';
import { flattenEntity } from '../../drawing/flatten.js';
import { BoundsSink, addEntityBounds } from '../../drawing/measures.js';
import { walk } from '../../drawing/resolve.js';
import { Box2 } from '../../geometry/box.js';
import type { FontBook } from '../../text/fonts.js';
import { addTextReach } from '../../text/text-reach.js';

/** How far chords may lie from their curves, as a part of the drawing. */
const FINE = 1e-4;

/**
 * Whether something of a drawing is seen in a box: a line that runs through it, a fill, picture or text that reaches into it. What is
 * only framed shows nothing of its inside.
 */
export function shownIn(drawing: Drawing, fonts: FontBook, size: number): (box: Box2) => boolean {
  const lines: number[] = [];
  const areas: Box2[] = [];
  walk(drawing, ({ entity: e, toWorld, resolved: r }) => {
    const box = new Box2();
    if (e.kind === 'text' || e.kind === 'richText') {
      addTextReach(e, toWorld, drawing, fonts, box);
      areas.push(box);
    } else if (r.fill !== null || e.kind === 'hatch' || e.kind === 'image' || (e.kind === 'face' && e.solid)) {
      addEntityBounds(e, toWorld, new BoundsSink(box));
      if (!box.empty) areas.push(box);
    } else if (r.stroke !== null) {
      let [x, y] = [0, 0];
      flattenEntity(e, toWorld, size * FINE, {
        moveTo: (px, py) => void ([x, y] = [px, py]),
        lineTo: (px, py) => {
          lines.push(x, y, px, py);
          [x, y] = [px, py];
        },
      });
    }
  });
  return (box) => {
    if (areas.some((a) => a.minX <= box.maxX && box.minX <= a.maxX && a.minY <= box.maxY && box.minY <= a.maxY))
      return true;
    for (let i = 0; i < lines.length; i += 4)
      if (runsThrough(box, lines[i]!, lines[i + 1]!, lines[i + 2]!, lines[i + 3]!)) return true;
    return false;
  };
}

/** Whether a straight piece has a point in a box: what of it lies between each pair of sides leaves something. */
function runsThrough(b: Box2, x0: number, y0: number, x1: number, y1: number): boolean {
  let [from, to] = [0, 1];
  for (const [start, step, min, max] of [
    [x0, x1 - x0, b.minX, b.maxX],
    [y0, y1 - y0, b.minY, b.maxY],
  ] as const) {
    if (step === 0) {
      if (start < min || start > max) return false;
      continue;
    }
    const [a, c] = [(min - start) / step, (max - start) / step];
    from = Math.max(from, Math.min(a, c));
    to = Math.min(to, Math.max(a, c));
    if (from > to) return false;
  }
  return true;
}
