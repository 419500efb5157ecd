import { boundsOf } from '../../drawing/bounds.js';
import type { Drawing } from '../../drawing/drawing.js';
import { walk } from '../../drawing/resolve.js';
import type { Box2 } from '../../geometry/box.js';
import type { FontBook } from '../../text/fonts.js';
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
