import { UserError } from '../../errors.js';
import type { Drawing } from '../../drawing/drawing.js';
import { layerIndex, layerKey, withLayer } from '../../drawing/drawing.js';
import { Lineage } from '../../drawing/lineage.js';
import type { Entity } from '../../drawing/entity.js';
import { because } from '../../drawing/reasons.js';
import { unitOf } from '../../drawing/units.js';
import { IDENTITY, scaling, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import type { LedgerEntry } from '../../drawing/ledger.js';
import type { Arranged, WriteOptions } from '../format.js';
import { MARK_LAYER, composePages } from '../paged/compose-pages.js';
import { withDrawnBars } from '../../text/drawn-bars.js';
import { checkBar, sheetPlans, sheetsAsked, tilePlans } from '../paged/plan-pages.js';
import { boxOfCorners, reachOf } from '../paged/reach.js';
import { shownIn } from '../paged/shown-in.js';

/** Paper in mm (ISO 216), upright. */
export const PAPERS = { a0: [841, 1189], a1: [594, 841], a2: [420, 594], a3: [297, 420], a4: [210, 297] } as const;

/** What an empty drawing shows, in mm. */
const EMPTY = 100;
const short = (v: number): number => Number(v.toPrecision(7));

/**
 * How a drawing (one unit = `options.unit`) comes to lie on its page: as large as it is with a margin around it, or in the middle of a paper, at a scale or
 * fitted. The lower left corner of the page becomes the origin, as it is in the file.
 */
export function arrangePages(drawing: Drawing, options: WriteOptions): Arranged {
  // Its text has no lines under, over and through letters: they are shapes beside it.
  const bars = (from: Drawing, lineage: Lineage): Drawing => withDrawnBars(from, options.fonts, lineage);
  // They count where the page is made as large as the drawing.
  const seen = bars(drawing, new Lineage());
  return { ...arranged(seen, options), reshape: [{ title: 'Lines under letters', run: bars }] };
}

function arranged(drawing: Drawing, options: WriteOptions): Arranged {
  const shown = layerIndex(drawing);
  // A page hides by layers alone: what is hidden by itself, on a layer that is seen, is left out.
  const without = (e: Entity): boolean => {
    const layer = shown.get(layerKey(drawing, e.layer));
    return !e.look.visible && layer?.off !== true && layer?.frozen !== true;
  };
  const { mm } = unitOf(options.unit);
  if (options.pageSize === 'sheets') return ofSheets(drawing, options, mm, without);
  const reach = reachOf(drawing, options.fonts, true);
  const part = options.part === 'box' && options.pageSize !== 'tiles' ? boxOfCorners(options) : null;
  const own = part ?? (reach.empty ? Box2.of(0, 0, EMPTY / mm, EMPTY / mm) : reach);
  const margin = options.margin ?? 10;
  const moves: Arranged['moves'][number][] = [];
  if (options.pageSize === 'tiles') return inTiles(drawing, options, own, mm, without);
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
      moves.push(scaled(k, fitted ? 'page-fitted' : 'page-scale'));
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
  const box = Box2.of(0, 0, width, height);
  const bar = options.checkBar ? checkBar(box, margin / mm, mm) : [];
  if (part) {
    const frame = Box2.of(k * own.minX + x, k * own.minY + y, k * own.maxX + x, k * own.maxY + y);
    return partOnPage({ moves, without, pages: [box] }, frame, bar, options);
  }
  if (bar.length === 0) return { moves, without, pages: [box] };
  return {
    moves,
    without,
    pages: [box],
    compose: {
      title: 'Check bar',
      scaled: false,
      rows: [],
      run: (from, lineage) => ({ drawing: marked(from, bar, lineage), pageOf: new Map(), off: 0 }),
    },
  };
}

/** A page that shows no more of the drawing, which lies on it already, than a frame holds. */
function partOnPage(
  arranged: Omit<Arranged, 'compose'>,
  frame: Box2,
  marks: Entity[],
  { fonts }: Pick<WriteOptions, 'fonts'>,
): Arranged {
  const plan = { box: arranged.pages[0]!, views: [{ sheet: undefined, map: IDENTITY, frame }], marks };
  return {
    ...arranged,
    compose: {
      title: 'Part on the page',
      scaled: false,
      rows: [],
      run: (from, lineage) => composePages(from, [plan], fonts, lineage),
    },
  };
}

/** A drawing with marks on a layer of their own. */
function marked(from: Drawing, marks: readonly Entity[], lineage: Lineage): Drawing {
  const made = marks.map((m, i): Entity => ({ ...m, id: from.nextId + i }));
  lineage.add(made, 'page-marked');
  const layered = withLayer(from, MARK_LAYER);
  return { ...layered, entities: [...from.entities, ...made], nextId: from.nextId + made.length };
}

const scaled = (k: number, reason: 'page-fitted' | 'page-scale'): Arranged['moves'][number] => ({
  title: 'Scale of the page',
  map: scaling(k, k, k),
  row: {
    carryOver: 'scale',
    action: 'changed',
    onPurpose: true,
    reason: because(reason, { scale: short(1 / k) }),
  },
});

/** The drawing at its scale on tiles of paper, and a page first that shows how they lie. */
function inTiles(
  drawing: Drawing,
  options: WriteOptions,
  own: Box2,
  mm: number,
  without: Arranged['without'],
): Arranged {
  const k = 1 / (options.scale ?? 1);
  const reach = Box2.of(own.minX * k, own.minY * k, own.maxX * k, own.maxY * k);
  const seen = shownIn(drawing, options.fonts, own.diagonal);
  const { plans, tiling, empty } = tilePlans(
    reach,
    mm,
    {
      paper: PAPERS[options.paper ?? 'a4'],
      turned: options.turned ?? 'fits',
      margin: options.margin ?? 10,
      overlap: options.overlap ?? 10,
      bar: options.checkBar ?? false,
    },
    (b) => seen(Box2.of(b.minX / k, b.minY / k, b.maxX / k, b.maxY / k)),
  );
  const rows: LedgerEntry[] = [
    {
      carryOver: 'origin',
      action: 'changed',
      onPurpose: true,
      reason: because('pages-in-tiles', { columns: tiling.columns, rows: tiling.rows, pages: plans.length - 1 }),
    },
    ...(empty.length > 0
      ? [
          {
            carryOver: 'links',
            action: 'kept',
            onPurpose: true,
            count: empty.length,
            reason: because('tiles-left-out', { names: empty.join(' ') }),
          } as const,
        ]
      : []),
  ];
  return {
    moves: k === 1 ? [] : [scaled(k, 'page-scale')],
    without,
    pages: plans.map((p) => p.box),
    compose: {
      title: 'Tiles',
      // The overview shows all of it smaller.
      scaled: true,
      rows,
      run: (from, lineage) => composePages(from, plans, options.fonts, lineage),
    },
  };
}

/** The sheets of the drawing, each a page of its paper. */
function ofSheets(drawing: Drawing, options: WriteOptions, mm: number, without: Arranged['without']): Arranged {
  const sheets = sheetsAsked(drawing, options.sheets ?? '*');
  const { plans, aslant } = sheetPlans(drawing, sheets, mm, options.margin ?? 10);
  const rows: LedgerEntry[] = [
    {
      carryOver: 'scale',
      action: 'changed',
      onPurpose: true,
      count: sheets.length,
      reason: because('sheets-as-pages', { names: sheets.map((s) => s.name).join(', ') }),
    },
    ...(aslant > 0
      ? [{ carryOver: 'curves', action: 'dropped', count: aslant, reason: 'windows-aslant-left-out' } as const]
      : []),
  ];
  return {
    moves: [],
    without,
    pages: plans.map((p) => p.box),
    compose: {
      title: 'Sheets',
      scaled: true,
      rows,
      run: (from, lineage) => composePages(from, plans, options.fonts, lineage),
    },
  };
}
