import { entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { RichText, Text } from '../drawing/entity.js';
import type { Affine } from '../geometry/affine.js';
import { applyPoint } from '../geometry/affine.js';
import type { Box2 } from '../geometry/box.js';
import type { FontBook } from './fonts.js';
import { linesOf } from './layout.js';

/** How far letters reach below and above their baseline, as parts of the em. */
const BELOW = -0.25;
const ABOVE = 0.8;

/** Adds what the lines of a text cover to a box, each as wide as its font or stand-in sets it. */
export function addTextReach(
  e: Text | RichText,
  toWorld: Affine,
  drawing: Pick<Drawing, 'textStyles'>,
  fonts: FontBook,
  box: Box2,
): void {
  const m = entityToWorld(e, toWorld);
  for (const line of linesOf(e, drawing, fonts)) {
    const width =
      line.stretchTo ??
      fonts.outline(line.text, line.family, line.weight, line.italic).advance * line.em * line.widthFactor;
    const from = line.anchor === 'left' ? 0 : line.anchor === 'centre' ? -width / 2 : -width;
    const [c, s] = [Math.cos(line.rotation), Math.sin(line.rotation)];
    for (const along of [from, from + width])
      for (const up of [BELOW * line.em, ABOVE * line.em]) {
        const p = applyPoint(m, [line.x + along * c - up * s, line.y + along * s + up * c, 0]);
        box.add(p[0], p[1]);
      }
  }
}
