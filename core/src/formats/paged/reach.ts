import { UserError } from '../../errors.js';
import { boundsOf } from '../../drawing/bounds.js';
import type { Drawing } from '../../drawing/drawing.js';
import { walk } from '../../drawing/resolve.js';
import { Box2 } from '../../geometry/box.js';
import type { FontBook } from '../../text/fonts.js';
import type { WriteOptions } from '../write-options.js';
import { addTextReach } from '../../text/text-reach.js';

/** What is drawn of model space: all curves, and texts as wide as they are set; `hidden`: what is hidden too. */
export function reachOf(drawing: Drawing, fonts: FontBook, hidden: boolean): Box2 {
  const box = boundsOf(drawing, { hidden });
  walk(
    drawing,
    ({ entity: e, toWorld }) => {
      if (e.kind === 'text' || e.kind === 'richText') addTextReach(e, toWorld, drawing, fonts, box);
    },
    { hidden },
  );
  return box;
}

/** What lies between the two corners that were asked for. Throws `UserError` where that is no area. */
export function boxOfCorners({ corner = ORIGIN, opposite = ORIGIN }: Pick<WriteOptions, 'corner' | 'opposite'>): Box2 {
  const box = Box2.of(
    Math.min(corner.x, opposite.x),
    Math.min(corner.y, opposite.y),
    Math.max(corner.x, opposite.x),
    Math.max(corner.y, opposite.y),
  );
  if (box.width > 0 && box.height > 0) return box;
  throw new UserError('page-too-small', 'The two corners hold no area between them. Choose others');
}
const ORIGIN = { x: 0, y: 0 };
