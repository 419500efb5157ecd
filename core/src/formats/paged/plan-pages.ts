import { PLAIN_TEXT } from '../../drawing/plain-text.js';
import { UserError } from '../../errors.js';
import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { boundsOf } from '../../drawing/bounds.js';
import type { Drawing, Sheet } from '../../drawing/drawing.js';
import { layerKey } from '../../drawing/drawing.js';
import type { Entity, Viewport } from '../../drawing/entity.js';
import { namePattern } from '../../drawing/name-pattern.js';
import { windowBox, windowMap } from '../../drawing/sheet-window.js';
import type { Affine } from '../../geometry/affine.js';
import { compose, scaling, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import type { PagePlan, View } from './compose-pages.js';
import { MARK_LAYER } from './compose-pages.js';

/** How far pages of one file lie apart when they come as one drawing, in mm. */
export const PAGE_GAP_MM = 20;

/** How many pages of paper a drawing takes, and which of them show something. Lengths in mm. */
export interface Tiling {
  readonly columns: number;
  readonly rows: number;
  readonly width: number;
  readonly height: number;
  /** Where each tile begins, from the lower left corner of the drawing. */
  at(column: number, row: number): readonly [number, number];
}

/** Rounding of a size that fits just so. */
const JUST = 1e-9;

/** Tiles of a printable size that overlap, over a drawing: n = ⌈(W − o) / (w − o)⌉ each way. */
export function tiling(size: readonly [number, number], printable: readonly [number, number], overlap: number): Tiling {
  const [width, height] = printable;
  if (!(width > overlap) || !(height > overlap))
    throw new UserError('page-too-small', `Tiles of ${width} × ${height} mm cannot overlap by ${overlap} mm`);
  const count = (whole: number, part: number): number =>
    Math.max(1, Math.ceil((whole - overlap) / (part - overlap) - JUST));
  return {
    columns: count(size[0], width),
    rows: count(size[1], height),
    width,
    height,
    at: (column, row) => [column * (width - overlap), row * (height - overlap)],
  };
}

/** The name of a column: A to Z, then AA and on. */
export const columnName = (column: number): string =>
  (column >= 26 ? columnName(Math.floor(column / 26) - 1) : '') + String.fromCharCode(65 + (column % 26));

/** The most pages of one file. */
const MOST_TILES = 500;
const CROSS = 4;
const LETTER = 3;

const bare = { id: 0, layer: MARK_LAYER, look: DRAFTING_DEFAULT } as const;
const line = (x0: number, y0: number, x1: number, y1: number): Entity => ({
  ...bare,
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
});
const words = (text: string, x: number, y: number, size: number): Entity => ({
  ...PLAIN_TEXT,
  ...bare,
  text,
  at: [x, y, 0],
  size,
});
const frame = (b: Box2): Entity => ({
  ...bare,
  kind: 'polyline',
  points: Float64Array.of(b.minX, b.minY, b.maxX, b.minY, b.maxX, b.maxY, b.minX, b.maxY),
  dim: 2,
  elevation: 0,
  closed: true,
});

/** Lengths that a bar may have, in mm: the longest that a page has room for. */
const BARS = [100, 50, 20, 10];

/** A bar of a length that is written beside it, within the margin at the lower edge of a page; nothing where there is no room. */
export function checkBar(box: Box2, margin: number, mm: number): Entity[] {
  const room = (box.width - 2 * margin) * mm;
  const length = BARS.find((l) => l <= room);
  if (length === undefined) return [];
  const [x, y] = [box.maxX - margin - length / mm, box.minY + Math.max(margin / 2, 3 / mm)];
  const tick = 1 / mm;
  return [
    line(x, y, x + length / mm, y),
    line(x, y - tick, x, y + tick),
    line(x + length / mm, y - tick, x + length / mm, y + tick),
    words(`${length} mm`, x + tick, y + tick / 2, 2 / mm),
  ];
}

/** Pages one beside the other, as they are read back. */
class Row {
  readonly plans: PagePlan[] = [];
  private x = 0;
  constructor(private readonly gap: number) {}

  /** Adds a page of a size; what it shows is told where it lies. */
  add(width: number, height: number, show: (box: Box2) => { views: View[]; marks?: Entity[] }): void {
    const box = Box2.of(this.x, 0, this.x + width, height);
    const { views, marks = [] } = show(box);
    this.plans.push({ box, views, marks });
    this.x += width + this.gap;
  }
}

export interface TileOptions {
  readonly paper: readonly [number, number];
  readonly turned: 'fits' | 'upright' | 'across';
  readonly margin: number;
  readonly overlap: number;
  /** A bar of known length stands on each page. */
  readonly bar: boolean;
}

/**
 * A drawing (already at its scale, one unit = `mm` millimetres) on tiles, from the lower left: each with crosses where it meets its neighbours and its name, those that
 * show nothing left out, and a page that shows how they lie together first. `meets` says whether a box of the drawing shows something.
 */
export function tilePlans(
  reach: Box2,
  mm: number,
  o: TileOptions,
  meets: (box: Box2) => boolean,
): { plans: PagePlan[]; tiling: Tiling; empty: string[] } {
  const size = [reach.width * mm, reach.height * mm] as const;
  const made = (across: boolean): { paper: readonly [number, number]; tiles: Tiling } => {
    const paper = across ? ([o.paper[1], o.paper[0]] as const) : o.paper;
    return { paper, tiles: tiling(size, [paper[0] - 2 * o.margin, paper[1] - 2 * o.margin], o.overlap) };
  };
  const ways = o.turned === 'fits' ? [made(false), made(true)] : [made(o.turned === 'across')];
  const { paper, tiles } = ways.reduce((a, b) =>
    b.tiles.columns * b.tiles.rows < a.tiles.columns * a.tiles.rows ? b : a,
  );
  const count = tiles.columns * tiles.rows;
  if (count > MOST_TILES)
    throw new UserError(
      'page-too-small',
      `That is ${count} tiles; ${MOST_TILES} are the most. Choose larger paper or a smaller scale`,
    );
  const row = new Row(PAGE_GAP_MM / mm);
  const [pw, ph, margin] = [paper[0] / mm, paper[1] / mm, o.margin / mm];
  const window = (c: number, r: number): Box2 => {
    const [x, y] = tiles.at(c, r);
    const [x0, y0] = [reach.minX + x / mm, reach.minY + y / mm];
    return Box2.of(x0, y0, x0 + tiles.width / mm, y0 + tiles.height / mm);
  };
  const names: { name: string; box: Box2 }[] = [];
  const empty: string[] = [];
  for (let r = tiles.rows - 1; r >= 0; r--)
    for (let c = 0; c < tiles.columns; c++) {
      const name = `${columnName(c)}${tiles.rows - r}`;
      if (meets(window(c, r))) names.push({ name, box: window(c, r) });
      else empty.push(name);
    }
  row.add(pw, ph, (box) => overview(box, reach, margin, mm, names));
  for (const { name, box: w } of names)
    row.add(pw, ph, (box) => {
      const map = translation(box.minX + margin - w.minX, box.minY + margin - w.minY);
      const shown = Box2.of(box.minX + margin, box.minY + margin, box.maxX - margin, box.maxY - margin);
      const marks = crosses(w, reach, o.overlap / mm, CROSS / mm).map(([x0, y0, x1, y1]) =>
        line(x0 + map[9], y0 + map[10], x1 + map[9], y1 + map[10]),
      );
      if (o.bar) marks.push(...checkBar(box, margin, mm));
      marks.push(words(name, shown.minX, box.minY + Math.max(margin / 2 - LETTER / 2 / mm, 1 / mm), LETTER / mm));
      return { views: [{ sheet: undefined, map, frame: shown }], marks };
    });
  return { plans: row.plans, tiling: tiles, empty };
}

/** Crosses in the middle of where a tile overlaps its neighbours: laid onto each other they fit. */
function crosses(w: Box2, reach: Box2, overlap: number, size: number): [number, number, number, number][] {
  const near = JUST * (w.width + w.height);
  const along = (min: number, max: number, from: number, to: number): number[] => [
    ...(min > from + near ? [min + overlap / 2] : []),
    ...(max < to - near ? [max - overlap / 2] : []),
  ];
  const xs = along(w.minX, w.maxX, reach.minX, reach.maxX);
  const ys = along(w.minY, w.maxY, reach.minY, reach.maxY);
  const half = size / 2;
  const atX = xs.length > 0 ? xs : ys.length > 0 ? [w.minX + half, w.maxX - half] : [];
  const atY = ys.length > 0 ? ys : xs.length > 0 ? [w.minY + half, w.maxY - half] : [];
  return atX.flatMap((x) =>
    atY.flatMap((y): [number, number, number, number][] => [
      [x - half, y, x + half, y],
      [x, y - half, x, y + half],
    ]),
  );
}

/** All of the drawing on one page, with the tiles and their names. */
function overview(
  box: Box2,
  reach: Box2,
  margin: number,
  mm: number,
  tiles: readonly { name: string; box: Box2 }[],
): { views: View[]; marks: Entity[] } {
  const all = tiles.reduce(
    (b, t) => {
      b.addBox(t.box);
      return b;
    },
    Box2.of(reach.minX, reach.minY, reach.maxX, reach.maxY),
  );
  const k = Math.min((box.width - 2 * margin) / all.width, (box.height - 2 * margin) / all.height);
  const map: Affine = compose(
    translation(box.minX + margin, box.minY + margin),
    compose(scaling(k, k, k), translation(-all.minX, -all.minY)),
  );
  const marks = tiles.flatMap(({ name, box: t }) => {
    const at = Box2.of(k * t.minX + map[9], k * t.minY + map[10], k * t.maxX + map[9], k * t.maxY + map[10]);
    return [frame(at), words(name, at.minX + 1 / mm, at.minY + 1 / mm, Math.min(LETTER / mm, at.height / 3))];
  });
  return { views: [{ sheet: undefined, map }], marks };
}

/** Sheets that are asked for, in their order. Throws `UserError` where there is none. */
export function sheetsAsked(drawing: Drawing, pattern: string): Sheet[] {
  const fits = namePattern(pattern);
  const asked = [...drawing.sheets].sort((a, b) => a.order - b.order).filter((s) => fits(s.name));
  if (asked.length > 0) return asked;
  const has = drawing.sheets.map((s) => `“${s.name}”`).join(', ');
  throw new UserError(
    'page-too-small',
    drawing.sheets.length === 0
      ? 'The drawing has no sheets. Choose another kind of page'
      : `No sheet fits “${pattern}”. It has ${has}`,
  );
}

/** Sheets as pages of their paper: what is drawn on them, and what their windows show of the model. One unit of the file is `mm` millimetres. */
export function sheetPlans(
  drawing: Drawing,
  sheets: readonly Sheet[],
  mm: number,
  margin: number,
): { plans: PagePlan[]; aslant: number } {
  const row = new Row(PAGE_GAP_MM / mm);
  let aslant = 0;
  for (const sheet of sheets) {
    // Units of the file to a unit of the sheet.
    const k = 1 / sheet.unitsPerMm / mm;
    const paper = paperOf(drawing, sheet, margin);
    row.add(paper.width * k, paper.height * k, (box) => {
      const own: Affine = compose(translation(box.minX - paper.minX * k, box.minY - paper.minY * k), scaling(k, k, k));
      const windows = drawing.entities.filter((e): e is Viewport => e.kind === 'viewport' && e.sheet === sheet.name);
      const views = windows
        .filter((w) => w.on && w.number !== 1)
        .sort((a, b) => (a.stacking ?? a.number) - (b.stacking ?? b.number))
        .flatMap((w): View[] => {
          const shows = windowMap(w);
          if (!shows) {
            aslant++;
            return [];
          }
          const b = windowBox(w);
          const onPage = Box2.of(
            own[0] * b.minX + own[9],
            own[4] * b.minY + own[10],
            own[0] * b.maxX + own[9],
            own[4] * b.maxY + own[10],
          );
          const frozen = new Set(w.frozen.map((name) => layerKey(drawing, name)));
          return [{ sheet: undefined, map: compose(own, shows), frame: onPage, frozen }];
        });
      return { views: [...views, { sheet: sheet.name, map: own }] };
    });
  }
  return { plans: row.plans, aslant };
}

/** The paper of a sheet in its units, its origin the corner of what can be printed; around what is drawn where it states none. */
function paperOf(drawing: Drawing, sheet: Sheet, margin: number): Box2 {
  const u = sheet.unitsPerMm;
  if (sheet.paper) {
    const { width, height, marginLeft, marginBottom } = sheet.paper;
    return Box2.of(-marginLeft * u, -marginBottom * u, (width - marginLeft) * u, (height - marginBottom) * u);
  }
  const box = boundsOf(drawing, { sheet: sheet.name, hidden: true });
  if (box.empty) return Box2.of(0, 0, 210 * u, 297 * u);
  return Box2.of(box.minX - margin * u, box.minY - margin * u, box.maxX + margin * u, box.maxY + margin * u);
}
