import { MM_PER_INCH } from '../drawing/units.js';
import type { Appearance, Paint } from '../drawing/appearance.js';
import { constantWidth } from '../drawing/constant-width.js';
import type { Drawing } from '../drawing/drawing.js';
import { Ledger } from '../drawing/ledger.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { hex } from '../drawing/palette.js';
import type { Visit } from '../drawing/resolve.js';
import { walk } from '../drawing/resolve.js';
import { largestScale } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { PictureMade } from '../formats/picture/shown.js';
import type { PictureHead } from '../formats/picture/head.js';
import { pictureHead } from '../formats/picture/head.js';
import type { WorldFile } from '../formats/picture/place-files.js';
import type { Beside } from '../formats/picture/shown.js';
import { readPlaceWords, readWorldFile } from '../formats/picture/place-files.js';
import type { Pixels } from '../formats/picture/png.js';
import { readPixels } from '../formats/picture/read-pixels.js';
import type { AskedLooks } from '../formats/write-options.js';
import type { FontBook } from '../text/fonts.js';
import { textToOutlines } from '../text/outlines.js';
import type { ProofItem } from './proof-item.js';

/** A delivered picture as it is proven: the file, what lies beside it, and what was handed to the writer. */
export interface PictureProof {
  readonly bytes: Uint8Array;
  readonly written: Drawing;
  readonly made: PictureMade;
  readonly beside: readonly Beside[];
  readonly unit: string;
  readonly looks: AskedLooks;
}

/** A channel that differs by more than this from the ground is ink; a JPEG is noisy beside edges. */
const INK = { 'image/png': 24, 'image/jpeg': 80 } as const;
/** Edges are smoothed over a pixel, and faint parts of one are not counted as ink. */
const EDGE = 1;
/** The widths that are drawn where none is stated, in mm. */
const STANDARD_MM = 0.25;
const WHITE = 0xffffff;

/** Rows that hold a picture against the drawing it shows, by its own pixels: nothing of how it was drawn plays a part. */
export function pictureItems(p: PictureProof, fonts: FontBook): ProofItem[] {
  const head = pictureHead(p.bytes);
  const pixels = readPixels(p.bytes);
  if (!head || !pixels)
    return [
      {
        id: 'readable',
        carryOver: 'links',
        title: 'The file can be read',
        state: 'atRisk',
        expected: 'a whole picture',
        found: 'one that cannot be unpacked',
        explanation: '',
      },
    ];
  const world = p.beside.map((b) => readWorldFile(b.text)).find((w) => w !== null) ?? null;
  return [
    sizeItem(p, head, pixels),
    resolutionItem(p, head),
    placeItem(p, world),
    inkItem(p, world, head, pixels, fonts),
  ];
}

function sizeItem({ made: { frame } }: PictureProof, head: PictureHead, pixels: Pixels): ProofItem {
  const said = ({ width, height }: { width: number; height: number }): string => `${width} × ${height} pixels`;
  const fits = said(frame) === said(head) && said(frame) === said(pixels);
  return {
    id: 'pixels',
    carryOver: 'scale',
    title: 'Size of the picture',
    state: fits ? 'kept' : 'atRisk',
    expected: said(frame),
    found: said(pixels),
    explanation: fits ? '' : 'the file has other pixels than it was to have',
  };
}

/** The numbers that formats count resolution in, as pixels to the inch: whole pixels to the metre; to the inch or the centimetre. */
const COUNTED = { 'image/png': [0.0254], 'image/jpeg': [1, 2.54] } as const;
/** A number further off than this part says nothing. */
const FAR_OFF = 0.01;

/** What the file says of its own size, over the whole picture: the exact number, the nearest that its format has, or none where none is near. */
function resolutionItem({ made: { frame } }: PictureProof, head: PictureHead): ProofItem {
  const exact = frame.pxPerInch;
  const mm = (perInch: number): string => `${digits((frame.width * MM_PER_INCH) / perInch)} mm`;
  const off = (v: number): number => Math.abs(v / exact - 1);
  const nearest = COUNTED[head.media]
    .map((one) => Math.round(exact / one) * one)
    .reduce((a, b) => (off(b) < off(a) ? b : a));
  const stated = head.pxPerInch;
  const isExact = stated !== null && off(stated) < SAME;
  const isNearest = stated === null ? nearest <= 0 || off(nearest) > FAR_OFF : Math.abs(stated / nearest - 1) < SAME;
  return {
    id: 'resolution',
    carryOver: 'units',
    title: 'Width that the file states',
    state: isExact ? 'kept' : isNearest ? 'changed' : 'atRisk',
    expected: `${mm(exact)} at ${digits(exact)} pixels to the inch`,
    found: stated === null ? 'none' : `${mm(stated)} at ${digits(stated)}`,
    explanation: isExact
      ? ''
      : isNearest
        ? `the format ${stated === null ? 'has no number near it' : 'counts in whole numbers'}: the files beside it say size and place exactly`
        : `the format could have said ${digits(nearest)}`,
  };
}
const SAME = 1e-9;
const digits = (v: number): string => String(Number(v.toPrecision(7)));

/** Whether the files beside it put the picture where it was to lie: the world file, and the other one the same. */
function placeItem({ made: { frame }, unit, beside }: PictureProof, w: WorldFile | null): ProofItem {
  const meant = [
    frame.left,
    frame.top,
    frame.left + frame.width / frame.perUnit,
    frame.top - frame.height / frame.perUnit,
  ];
  const size = Math.max(frame.width, frame.height) / frame.perUnit;
  const reach = Math.max(size, ...meant.map(Math.abs));
  const isMeant = (c: readonly number[]): boolean =>
    c.length === 4 && c.every((v, i) => Math.abs(v - meant[i]!) <= 1e-12 * reach);
  const said = (c: readonly number[]): string =>
    `${digits(c[0]!)}, ${digits(c[1]!)} to ${digits(c[2]!)}, ${digits(c[3]!)} ${unit}`;
  const corners = w && [
    w[4] - w[0] / 2,
    w[5] - w[3] / 2,
    w[4] + w[0] * (frame.width - 0.5),
    w[5] + w[3] * (frame.height - 0.5),
  ];
  const words = beside.map((b) => readPlaceWords(b.text)).find((p) => p !== null);
  const fits = corners !== null && w![1] === 0 && w![2] === 0 && isMeant(corners);
  const agrees = words?.unit === unit && isMeant(words.corners);
  return {
    id: 'beside',
    carryOver: 'origin',
    title: 'Place that the files beside it state',
    state: fits && agrees ? 'kept' : 'atRisk',
    expected: said(meant),
    found: corners ? said(corners) : 'no world file',
    explanation: !corners
      ? ''
      : !fits
        ? 'it lies elsewhere'
        : agrees
          ? ''
          : 'the file that says it in words says otherwise',
  };
}

type Sides = readonly [left: number, top: number, right: number, bottom: number];
const SIDES = ['left', 'upper', 'right', 'lower'] as const;

/** The pixels that are not the ground: their box, far sides exclusive; `null` where there are none. */
function inkBox(p: PictureProof, head: PictureHead, { width, height, channels, data }: Pixels): Sides | null {
  const most = INK[head.media];
  const { ground } = p.made;
  const bare = [16, 8, 0].map((s) => ((ground ?? 0) >> s) & 255);
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = channels * (y * width + x);
      const inked =
        ground === null
          ? channels === 4 && data[at + 3]! > most
          : [0, 1, 2].some((k) => Math.abs(data[at + (channels === 1 ? 0 : k)]! - bare[k]!) > most);
      if (!inked) continue;
      x0 = Math.min(x0, x);
      x1 = Math.max(x1, x);
      y0 = Math.min(y0, y);
      y1 = Math.max(y1, y);
    }
  return x1 < 0 ? null : [x0, y0, x1 + 1, y1 + 1];
}

/**
 * Where the ink begins and ends on each side, against where the drawing does: no further out than its curves with half their widths, and no further in than
 * its curves. Sides that something may hide, or that depend on what is clear, cannot be told inwards.
 */
function inkItem(
  p: PictureProof,
  world: WorldFile | null,
  head: PictureHead,
  pixels: Pixels,
  fonts: FontBook,
): ProofItem {
  const { unit } = p;
  const { frame } = p.made;
  const [px, left, top] = world
    ? [world[0], world[4] - world[0] / 2, world[5] - world[3] / 2]
    : [1 / frame.perUnit, frame.left, frame.top];
  const { must, may, hides } = expectedInk(p, fonts);
  const toPixels = (b: Box2): Sides | null =>
    b.empty
      ? null
      : [
          Math.max(0, (b.minX - left) / px),
          Math.max(0, (top - b.maxY) / px),
          Math.min(frame.width, (b.maxX - left) / px),
          Math.min(frame.height, (top - b.minY) / px),
        ];
  const [outer, inner] = [toPixels(may), toPixels(must)];
  const found = inkBox(p, head, pixels);
  const said = (s: Sides | null): string =>
    s === null
      ? 'nothing drawn'
      : `${digits(left + s[0] * px)}, ${digits(top - s[3] * px)} to ${digits(left + s[2] * px)}, ${digits(top - s[1] * px)} ${unit}`;
  const item = {
    id: 'ink',
    carryOver: 'scale',
    title: 'Where its ink begins and ends',
    expected: said(inner ?? outer),
    found: said(found),
  } as const;
  const offBy = (a: number, b: number): string => `${digits(Math.abs(a - b))} pixels`;
  if (!found) {
    const shown = inner && inner[2] - inner[0] > EDGE && inner[3] - inner[1] > EDGE;
    return {
      ...item,
      state: shown && !hides ? 'atRisk' : outer ? 'undecided' : 'kept',
      explanation: outer ? 'nothing is seen of what is drawn' : '',
    };
  }
  for (let k = 0; k < 4; k++) {
    const out = k < 2 ? -1 : 1;
    if (!outer || out * (found[k]! - outer[k]!) > EDGE)
      return {
        ...item,
        state: 'atRisk',
        explanation: `on the ${SIDES[k]} side ink reaches ${outer ? offBy(found[k]!, outer[k]!) : ''} further than the drawing`,
      };
    if (inner && out * (inner[k]! - found[k]!) > EDGE)
      return {
        ...item,
        state: hides ? 'undecided' : 'atRisk',
        explanation: `on the ${SIDES[k]} side ink ends ${offBy(found[k]!, inner[k]!)} before the drawing${hides ? ', which something in the colour of the ground may hide' : ''}`,
      };
  }
  return {
    ...item,
    state: inner ? 'kept' : 'undecided',
    explanation: inner
      ? 'within a pixel on each side, lines with half their width'
      : 'nothing drawn is sure to be seen to its end',
  };
}

/** What is surely seen to its end, what may be seen at most, and whether something may hide what lies beneath it. */
function expectedInk(p: PictureProof, fonts: FontBook): { must: Box2; may: Box2; hides: boolean } {
  const { written, looks } = p;
  const { frame, ground, whiteForeground } = p.made;
  const drawn = textToOutlines(written, fonts, new Ledger('write'));
  const [must, may] = [new Box2(), new Box2()];
  let hides = false;
  const chart = new Map((looks.colours ?? []).map((c) => [c.from.toLowerCase(), parseInt(c.to.slice(1), 16)]));
  const shown = (rgb: number, foreground: boolean): number =>
    looks.ink === 'black'
      ? rgb === WHITE
        ? WHITE
        : 0
      : (chart.get(hex(rgb)) ?? (foreground && whiteForeground ? WHITE : rgb));
  walk(drawn, (v) => {
    const { entity: e, resolved: r, toWorld } = v;
    const away = (rgb: number | null): boolean =>
      rgb !== null && (ground === null || far(shown(rgb, r.foreground), ground));
    if (
      e.kind === 'insert' ||
      e.kind === 'dimension' ||
      e.kind === 'leader' ||
      e.kind === 'opaque' ||
      e.kind === 'viewport'
    )
      return;
    if (e.kind === 'ray') {
      may.add(-Infinity, -Infinity);
      may.add(Infinity, Infinity);
      return;
    }
    const sink = new BoundsSink(new Box2());
    addEntityBounds(e, toWorld, sink);
    const { box } = sink;
    if (box.empty) return;
    const half = halfWidth(p, v);
    may.addBox(Box2.of(box.minX - half, box.minY - half, box.maxX + half, box.maxY + half));
    const covers = (e.kind === 'image' && e.cover) || (ground !== null && r.fill !== null && !away(r.fill));
    if (covers) hides = true;
    if (e.kind === 'image' || e.kind === 'hatch' || e.kind === 'point' || e.clipTo || !isPlain(e.look)) return;
    const line = away(r.stroke) && r.strokeOpacity > 0.5 && half * frame.perUnit >= 0.4 && isSolid(v);
    const area = away(r.fill) && r.fillOpacity > 0.5 && e.kind !== 'line';
    if (line || area) must.addBox(box);
  });
  return { must, may, hides };
}

const far = (a: number, b: number): boolean =>
  [16, 8, 0].some((s) => Math.abs(((a >> s) & 255) - ((b >> s) & 255)) > 2 * INK['image/jpeg']);
const isPlain = ({ stroke, fill }: Appearance): boolean =>
  [stroke, fill].every((paint: Paint) => paint.kind !== 'gradient' && paint.kind !== 'pattern');
const isSolid = ({ resolved: { dash } }: Visit): boolean =>
  dash.kind === 'linetype' && /^(continuous|bylayer|byblock)$/i.test(dash.name);

/** Half of what a line is wide at the most, in units of the drawing, corners too. */
function halfWidth({ made: { frame }, looks }: PictureProof, { entity: e, resolved: r, toWorld }: Visit): number {
  if (r.stroke === null && e.kind !== 'image') return 0;
  const perMm = frame.pxPerInch / MM_PER_INCH / frame.perUnit;
  const scale = largestScale(toWorld);
  const varying = e.kind === 'polyline' && e.widths ? e.widths.reduce((a, b) => Math.max(a, b), 0) * scale : 0;
  const width = looks.hairline
    ? looks.hairline * perMm
    : e.kind === 'polyline' && constantWidth(e) !== null
      ? varying
      : Math.max(
          varying,
          r.width.kind === 'drawing'
            ? r.width.value * scale
            : (r.width.kind === 'paper' ? r.width.mm : STANDARD_MM) * perMm,
        );
  const pointed = e.look.join === 'miter' && e.kind !== 'line' && e.kind !== 'circle' ? Math.max(1, e.look.miter) : 1;
  const square = e.look.cap === 'square' ? Math.SQRT2 : 1;
  return (Math.max(width, 1 / frame.perUnit) / 2) * Math.max(pointed, square);
}
