import { UserError } from '../../errors.js';
import { boundsOf } from '../../drawing/bounds.js';
import type { Drawing } from '../../drawing/drawing.js';
import { layerIndex, layerKey } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import { because } from '../../drawing/reasons.js';
import { walk } from '../../drawing/resolve.js';
import { unitOf } from '../../drawing/units.js';
import { scaling, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import { addTextReach } from '../../text/text-reach.js';
import type { Arranged, WriteOptions } from '../format.js';

/** Paper in mm (ISO 216), upright. */
export const PAPERS = { a0: [841, 1189], a1: [594, 841], a2: [420, 594], a3: [297, 420], a4: [210, 297] } as const;

/** What an empty drawing shows, in mm. */
const EMPTY = 100;
const short = (v: number): number => Number(v.toPrecision(7));

/** What is drawn of a drawing: all curves, and texts as wide as they are set. */
export function reachOf(drawing: Drawing, options: Pick<WriteOptions, 'fonts'>): Box2 {
  const box = boundsOf(drawing, { hidden: true });
  walk(
    drawing,
    ({ entity: e, toWorld }) => {
      if (e.kind === 'text' || e.kind === 'richText') addTextReach(e, toWorld, drawing, options.fonts, box);
    },
    { hidden: true },
  );
  return box;
}

/**
 * How a drawing (one unit = `options.unit`) comes to lie on its page: as large as it is with a margin around it, or in the middle of a paper, at a scale or
 * fitted. The lower left corner of the page becomes the origin, as it is in the file.
 */
export function arrangePages(drawing: Drawing, options: WriteOptions): Arranged {
  const shown = layerIndex(drawing);
  // A page hides by layers alone: what is hidden by itself, on a layer that is seen, is left out.
  const without = (e: Entity): boolean => {
    const layer = shown.get(layerKey(drawing, e.layer));
    return !e.look.visible && layer?.off !== true && layer?.frozen !== true;
  };
  const { mm } = unitOf(options.unit);
  const reach = reachOf(drawing, options);
  const own = reach.empty ? Box2.of(0, 0, EMPTY / mm, EMPTY / mm) : reach;
  const margin = options.margin ?? 10;
  const moves: Arranged['moves'][number][] = [];
  let k = 1;
  let [width, height] = [own.width + (2 * margin) / mm, own.height + (2 * margin) / mm];
  if (options.pageSize === 'paper') {
    const [short_, long] = PAPERS[options.paper ?? 'a4'];
    const across = options.turned === 'across' || (options.turned !== 'upright' && own.width > own.height);
    [width, height] = (across ? [long, short_] : [short_, long]).map((v) => v / mm) as [number, number];
    const room = (paper: number): number => Math.max(paper - (2 * margin) / mm, paper / 100);
    k =
      options.fit === 'fitted'
        ? Math.min(room(width) / (own.width || 1), room(height) / (own.height || 1))
        : 1 / (options.scale ?? 1);
    const over = (a: number, b: number): boolean => a * k > room(b) * (1 + 1e-9);
    if (options.fit !== 'fitted' && (over(own.width, width) || over(own.height, height))) {
      const size = `${short(own.width * k * mm)} × ${short(own.height * k * mm)} mm`;
      throw new UserError(
        'page-too-small',
        `At 1 : ${options.scale ?? 1} the drawing is ${size}, and the paper holds ${short(room(width) * mm)} × ${short(room(height) * mm)} mm within its margin. Choose another scale, a larger paper, or have it fitted`,
      );
    }
    if (k !== 1) {
      const fitted = options.fit === 'fitted';
      moves.push({
        title: 'Scale of the page',
        map: scaling(k, k, k),
        row: {
          carryOver: 'scale',
          action: 'changed',
          onPurpose: true,
          reason: because(fitted ? 'page-fitted' : 'page-scale', { scale: short(1 / k) }),
        },
      });
    }
  }
  const x = width / 2 - (k * (own.minX + own.maxX)) / 2;
  const y = height / 2 - (k * (own.minY + own.maxY)) / 2;
  moves.push({
    title: 'Place on the page',
    map: translation(x, y),
    row: {
      carryOver: 'origin',
      action: 'changed',
      onPurpose: true,
      reason: because('placed-on-page', { x: short(x * mm), y: short(y * mm) }),
    },
  });
  return { moves, without, pages: [Box2.of(0, 0, width, height)] };
}
