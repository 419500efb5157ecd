import { selectedBy } from '../analysis/selection.js';
import type { Appearance, Rgb } from '../drawing/appearance.js';
import { DRAFTING_DEFAULT, NO_PAINT } from '../drawing/appearance.js';
import type { Drawing } from '../drawing/drawing.js';
import { traitsOf } from '../drawing/format-traits.js';
import { withLayer } from '../drawing/drawing.js';
import type { Entity, Image } from '../drawing/entity.js';
import { hex } from '../drawing/palette.js';
import { clipInPixels } from '../drawing/curves.js';
import type { ShownPicture } from '../drawing/lineage.js';
import { placeOfPixels } from '../drawing/placed-pixels.js';
import type { PlainReason } from '../drawing/reasons.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { dataAddress } from '../formats/picture/data-address.js';
import type { Pixels } from '../formats/picture/png.js';
import { packedPng } from '../formats/picture/png.js';
import { cropped } from '../formats/picture/cropped.js';
import { pixelsOfAddress } from '../formats/picture/read-pixels.js';
import type { Affine } from '../geometry/affine.js';
import { applyPoint, compose, inverse, planarSimilarity, translation } from '../geometry/affine.js';
import { PathBuilder, transformPath } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';
import { drawPiece, endOf, startOf } from '../geometry/path-pieces.js';
import type { Infer } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import { withoutSpeckles } from '../tracing/components.js';
import type { Labelled } from '../tracing/labels.js';
import {
  bestThreshold,
  brightnessOf,
  byBrightness,
  byColours,
  histogramOf,
  NONE,
  onWhite,
  proposedColours,
  withMerged,
  withoutGround,
} from '../tracing/labels.js';
import { differing } from '../tracing/redrawn.js';
import { masked } from '../tracing/masked.js';
import { levelled, softened, squared } from '../tracing/straighten.js';
import type { Traced } from '../tracing/trace.js';
import { trace } from '../tracing/trace.js';
import { exampleDrawing } from './example.js';
import type { PlannedStep, StepContext } from './step.js';
import { defineStep, plannedStep } from './step.js';
import { tellChange } from './tell.js';

const corner = (title: string, when: Readonly<Record<string, string | readonly string[]>>) => p.point({ when, title });

const PARAMS = {
  by: p.choice({
    title: 'Areas are told apart by',
    default: 'brightness',
    choices: { brightness: 'brightness', colours: 'colours' },
  }),
  threshold: p.optional(
    p.number({
      when: { by: 'brightness' },
      title: 'Ink is darker than',
      description: '0 is black, 255 white',
      default: 128,
      atLeast: 1,
      atMost: 255,
    }),
    'proposed',
  ),
  ink: p.choice({
    when: { by: 'brightness' },
    title: 'The ink is',
    default: 'dark',
    choices: { dark: 'dark on light', light: 'light on dark' },
  }),
  colours: p.optional(
    p.number({
      when: { by: 'colours' },
      title: 'Colours, at the most',
      default: 6,
      whole: true,
      atLeast: 2,
      atMost: 32,
    }),
    'proposed',
  ),
  merged: p.chart({
    when: { by: 'colours' },
    title: 'Colours that count as others',
    of: 'colour',
    columns: ['colour', 'counts as'],
    atMost: 32,
  }),
  ground: p.choice({
    when: { by: 'colours' },
    title: 'Ground',
    default: 'border',
    choices: { border: 'the colour along the border is left out', none: 'is traced too' },
  }),
  soften: p.optional(
    p.number({
      title: 'Noise is softened over',
      description: 'so many pixels to each side',
      default: 1,
      whole: true,
      atLeast: 0,
      atMost: 8,
      suffix: 'px',
    }),
    'by noise',
  ),
  speckles: p.number({ title: 'Speckles of fewer pixels go', default: 6, whole: true, atLeast: 0, atMost: 1_000_000 }),
  bound: p.number({ title: 'Curves lie within', default: 0.4, above: 0, atMost: 100, suffix: 'px' }),
  corner: p.angle({ title: 'Corners turn by more than', default: 36, above: 0, atMost: 180 }),
  recover: p.yesNo({ title: 'Circles, arcs and straights where they are such', default: true }),
  corners: p.choice({
    title: 'Cells that touch in a point',
    default: 'joined',
    choices: { joined: 'are joined there', parted: 'are parted there' },
  }),
  made: p.choice({
    title: 'They become',
    default: 'areas',
    choices: { areas: 'filled areas', edges: 'edges, each once' },
  }),
  crop: p.choice({
    title: 'Of the picture',
    default: 'all',
    choices: { all: 'all is traced', box: 'what lies between two corners' },
  }),
  from: corner('One corner', { crop: 'box' }),
  to: corner('The opposite corner', { crop: 'box' }),
  straighten: p.choice({
    title: 'Straightened',
    default: 'no',
    choices: {
      no: 'not at all',
      line: 'by two points of a level or upright line',
      four: 'by the four corners of a rectangle',
    },
  }),
  first: corner('First point', { straighten: ['line', 'four'] }),
  second: corner('Second point', { straighten: ['line', 'four'] }),
  third: corner('Third point', { straighten: 'four' }),
  fourth: corner('Fourth point', { straighten: 'four' }),
  picture: p.choice({
    title: 'The picture',
    default: 'goes',
    choices: { goes: 'goes', stays: 'stays beneath' },
  }),
  which: p.selection({ title: 'Which pictures' }),
};
type Params = Infer<typeof PARAMS>;

/** Makes curves of pictures: outlines of their areas, which neighbours share. */
export const tracePictures = defineStep({
  id: 'trace-pictures',
  title: 'Trace pictures',
  summary:
    'Areas of a scan or drawing made of pixels become outlines with corners, straights, circles and curves; neighbours share their edges.',
  carries: ['curves', 'colour'],
  group: 'regions',
  example: { drawing: () => exampleDrawing([examplePicture()])() },
  params: PARAMS,
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    let made = drawing;
    let count = 0;
    for (const e of drawing.entities) {
      checkStop(ctx);
      if (!isTraceable(e) || !wanted(e)) continue;
      const traced = withTraced(made, e, params, ctx);
      if (typeof traced === 'string') {
        ctx.leave(traced, e);
        continue;
      }
      ctx.look();
      count++;
      made = traced;
    }
    const inBlocks = [...drawing.blocks.values()].reduce((n, b) => n + b.entities.filter(isTraceable).length, 0);
    if (inBlocks > 0) ctx.leave('pictures-in-blocks-not-traced', undefined, inBlocks);
    tellChange(ctx, 'curves', count, 'pictures-traced');
    return made;
  },
});

const isTraceable = (e: Entity): e is Image => e.kind === 'image' && !e.cover && e.look.visible;

/** Steps for a drawing that is nothing but a picture, where it becomes a drawing: they trace it first, unless they say how already. */
export function tracingFirst(source: Drawing, steps: readonly PlannedStep[], target: string): readonly PlannedStep[] {
  if (!traitsOf(source.format).pixels || traitsOf(target).pixels || steps.some((s) => s.step === tracePictures.id))
    return steps;
  return [plannedStep(tracePictures, 'trace'), ...steps];
}

/** The drawing with what a picture shows as outlines; or why it is not traced. */
function withTraced(drawing: Drawing, e: Image, params: Params, ctx: StepContext): Drawing | PlainReason {
  const pixels = e.data === undefined ? null : pixelsOfAddress(e.data);
  if (!pixels) return 'picture-not-at-hand';
  const place = placeOfPixels(e, pixels);
  const flat = e.u[2] === 0 && e.v[2] === 0 && Math.abs(place[0] * place[4] - place[1] * place[3]) > 0;
  if (!flat) return 'picture-tilted';
  const [w, h] = [pixels.width / e.pixels[0], pixels.height / e.pixels[1]];
  // What its boundary hides is not there.
  const whole = e.clip
    ? masked(
        pixels,
        clipInPixels(e).flatMap(([x, y]) => [x * w, y * h]),
      )
    : pixels;
  const ready = readied(whole, place, params);
  if (!ready) return 'corners-hold-no-picture';
  const isArt = evenPart(ready.picture) >= LINE_ART;
  const soften = params.soften ?? (isArt ? 0 : 1);
  const picture = soften > 0 ? softened(ready.picture, soften) : ready.picture;
  const { labelled, speckles } = withoutSpeckles(partedBy(picture, ready.picture, params), params.speckles);
  const rules = {
    bound: params.bound,
    corner: (params.corner * Math.PI) / 180,
    recover: params.recover,
    corners: params.corners,
  } as const;
  const traced = trace(labelled, rules, (done) => {
    checkStop(ctx);
    ctx.onProgress?.(done);
  });
  const map = compose(place, translation(ready.x, ready.y));
  const made = entitiesOf(traced, labelled, params, map, drawing.nextId, e);
  tellOf(traced, labelled, speckles, isArt, ctx);
  if (params.by === 'colours') listColours(traced, labelled, ctx);
  else listBrightness(picture, thresholdOf(picture, params), ctx);
  ctx.lineage.add(made, 'traced', shownBy(e, ready, params));
  const stays = params.picture === 'stays';
  if (!stays) ctx.lineage.remove(e, 'picture-traced');
  const entities = drawing.entities.flatMap((o) => (o !== e ? [o] : stays ? [o, ...made] : made));
  const layered = [...new Set(made.map((m) => m.layer))].reduce(withLayer, drawing);
  return { ...layered, entities, nextId: drawing.nextId + made.length };
}

/** A picture, or a part of one, and where its upper left corner lies in pixels of the whole. */
interface Readied {
  readonly picture: Pixels;
  readonly x: number;
  readonly y: number;
}

/** The part of a picture that is traced, straightened; `null` where the corners that were given hold nothing of it. */
function readied(whole: Pixels, place: Affine, params: Params): Readied | null {
  const back = inverse(place);
  const pixel = ({ x, y }: { x: number; y: number }): readonly [number, number] => {
    const q = applyPoint(back, [x, y, 0]);
    return [q[0], q[1]];
  };
  let at: Readied = { picture: whole, x: 0, y: 0 };
  if (params.crop === 'box') {
    const [a, b] = [pixel(params.from), pixel(params.to)];
    const [x, y] = [0, 1].map((k) => Math.max(0, Math.floor(Math.min(a[k]!, b[k]!)))) as [number, number];
    const width = Math.min(whole.width, Math.ceil(Math.max(a[0], b[0]))) - x;
    const height = Math.min(whole.height, Math.ceil(Math.max(a[1], b[1]))) - y;
    if (!(width > 0) || !(height > 0)) return null;
    at = { picture: cropped(whole, { x, y, width, height }), x, y };
  }
  const within = (v: { x: number; y: number }): readonly [number, number] => {
    const [x, y] = pixel(v);
    return [x - at.x, y - at.y];
  };
  if (params.straighten === 'line')
    return { ...at, picture: levelled(at.picture, [within(params.first), within(params.second)]) };
  if (params.straighten === 'no') return at;
  const made = squared(at.picture, [params.first, params.second, params.third, params.fourth].map(within));
  return made && { picture: made.picture, x: at.x + made.x, y: at.y + made.y };
}

/** What the areas that were made of a picture say that they show. */
function shownBy(picture: Image, { x, y, picture: { width, height } }: Readied, params: Params): ShownPicture {
  const moved =
    params.straighten !== 'no'
      ? 'straightened'
      : params.made === 'edges'
        ? 'edges'
        : params.by === 'colours' && params.merged.length > 0
          ? 'merged'
          : undefined;
  return {
    picture,
    part: { x, y, width, height },
    by:
      params.by === 'brightness'
        ? { kind: 'brightness', threshold: params.threshold, light: params.ink === 'light' }
        : { kind: 'colours', ground: params.ground === 'border', asked: params.colours !== null },
    speckles: params.speckles,
    ...(moved && { moved }),
  };
}

/** The threshold that was asked for, or the one that parts dark from light best. */
const thresholdOf = (picture: Pixels, { threshold }: Params): number =>
  threshold ?? bestThreshold(histogramOf(brightnessOf(onWhite(picture).rgb)));

/** Parts a picture into its areas; `sharp`: the same before it was softened, for its colours. */
function partedBy(picture: Pixels, sharp: Pixels, params: Params): Labelled {
  if (params.by === 'brightness') {
    const threshold = thresholdOf(picture, params);
    const light = params.ink === 'light';
    const parted = byBrightness(picture, threshold, light);
    return sharp === picture ? parted : { ...parted, palette: byBrightness(sharp, threshold, light).palette };
  }
  const found = proposedColours(sharp, params.colours ?? MOST_UNASKED);
  const all = byColours(picture, found.length === 0 ? [0] : found);
  const whole = params.merged.length === 0 ? all : withMerged(all, merging(params.merged, all.palette));
  const ground = params.ground === 'none' ? null : alongBorder(whole);
  return ground === null ? whole : withoutGround(whole, ground);
}

/** Which colour each counts as: that of its row, or the one most like it; else itself. */
function merging(chart: Params['merged'], palette: readonly Rgb[]): number[] {
  const like = (colour: string): number => {
    const wanted = parseInt(colour.slice(1), 16);
    const off = (c: Rgb): number => [16, 8, 0].reduce((d, k) => d + (((c >> k) & 255) - ((wanted >> k) & 255)) ** 2, 0);
    return palette.reduce((best, c, i) => (off(c) < off(palette[best]!) ? i : best), 0);
  };
  const counts = new Map(chart.map((row) => [row.from.toLowerCase(), row.to]));
  return palette.map((c, i) => {
    const to = counts.get(hex(c));
    return to === undefined ? i : like(to);
  });
}

/** So many colours are told apart where no number is asked for. */
const MOST_UNASKED = 12;

/** The label that most of the picture's border has; `null` where that is clear. */
function alongBorder({ width, height, labels }: Labelled): number | null {
  const counts = new Map<number, number>();
  const count = (i: number): void => void counts.set(labels[i]!, (counts.get(labels[i]!) ?? 0) + 1);
  for (let x = 0; x < width; x++) [x, (height - 1) * width + x].forEach(count);
  for (let y = 0; y < height; y++) [y * width, y * width + width - 1].forEach(count);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return !most || most[0] === NONE ? null : most[0];
}

function entitiesOf(
  traced: Traced,
  { palette }: Labelled,
  { made, by }: Params,
  map: Affine,
  firstId: number,
  { sheet }: Image,
): Entity[] {
  const k = planarSimilarity(map);
  const layerOf = (rgb: Rgb): string => (by === 'brightness' ? 'Traced' : `Traced ${hex(rgb)}`);
  const out: Entity[] = [];
  const put = (rgb: Rgb, loops: readonly (readonly Piece[])[], closed: boolean): void => {
    const look: Appearance = closed
      ? { ...DRAFTING_DEFAULT, stroke: NO_PAINT, fill: { kind: 'rgb', rgb }, fillRule: 'evenodd' }
      : { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb } };
    const base = { id: firstId + out.length, layer: layerOf(rgb), look, ...(sheet !== undefined && { sheet }) };
    const [only] = loops;
    const circle = loops.length === 1 && k !== null ? circleOf(only!) : null;
    if (circle) {
      const [x, y] = applyPoint(map, [circle.cx, circle.cy, 0]);
      out.push({ ...base, kind: 'circle', centre: [x, y, 0], radius: circle.rx * k! });
      return;
    }
    const path = new PathBuilder();
    for (const loop of loops) {
      path.moveTo(...startOf(loop[0]!));
      for (const piece of loop) drawPiece(path, piece);
      if (closed || isClosed(loop)) path.close();
    }
    out.push({ ...base, kind: 'path', path: transformPath(path.build(), map) });
  };
  if (made === 'areas') for (const a of traced.areas) put(a.rgb, a.loops, true);
  else
    for (const edge of traced.edges) {
      const label = edge.right === NONE ? edge.left : edge.right;
      if (edge.pieces.length > 0) put(palette[label]!, [edge.pieces], false);
    }
  return out;
}

const isClosed = (loop: readonly Piece[]): boolean => {
  const [a, b] = [startOf(loop[0]!), endOf(loop[loop.length - 1]!)];
  return a[0] === b[0] && a[1] === b[1];
};

/** A loop of arcs that all lie on one circle and go round it. */
function circleOf(loop: readonly Piece[]): Extract<Piece, { kind: 'arc' }> | null {
  const [first] = loop;
  if (first?.kind !== 'arc' || first.rx !== first.ry) return null;
  const same = loop.every((q) => q.kind === 'arc' && q.cx === first.cx && q.cy === first.cy && q.rx === first.rx);
  const turned = loop.reduce((s, q) => s + (q.kind === 'arc' ? q.sweep : 0), 0);
  return same && Math.abs(Math.abs(turned) - 2 * Math.PI) < 1e-9 ? first : null;
}

/** Fewer pixels like their neighbours than this part: no line art. */
const LINE_ART = 0.6;

function tellOf(traced: Traced, labelled: Labelled, speckles: number, isArt: boolean, ctx: StepContext): void {
  const percent = (v: number): number => Number((100 * v).toPrecision(2));
  ctx.ledger.add({
    carryOver: 'curves',
    action: 'approximated',
    onPurpose: true,
    reason: because('traced-as', {
      areas: traced.areas.length,
      points: traced.points,
      pixels: traced.pixelPoints,
      differs: percent(differing(traced.areas, labelled)),
    }),
  });
  if (speckles > 0)
    ctx.ledger.add({
      carryOver: 'curves',
      action: 'dropped',
      onPurpose: true,
      count: speckles,
      reason: 'speckles-left-out',
    });
  if (traced.crosswise > 0)
    ctx.ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      count: traced.crosswise,
      reason: 'areas-touch-in-points',
    });
  if (!isArt) ctx.ledger.add({ carryOver: 'curves', action: 'approximated', reason: 'no-line-art' });
}

/** The colours that areas were told apart by, to be counted as others by hand. */
function listColours({ areas }: Traced, { palette, labels }: Labelled, ctx: StepContext): void {
  const pixels = new Float64Array(256);
  for (const l of labels) pixels[l]!++;
  const rows = palette.flatMap((rgb, label) => {
    const own = areas.filter((a) => a.label === label).length;
    return own === 0 ? [] : [[hex(rgb), own, pixels[label]!]];
  });
  ctx.list({ title: 'Colours of the picture', columns: ['colour', 'areas', 'pixels'], rows });
}

/** How wide a band of brightness is in the list, and how long the longest bar. */
const BAND = 16;
const LONGEST_BAR = 24;

/** How many pixels are how bright, in bands with bars, and where the threshold parts them. */
function listBrightness(picture: Pixels, threshold: number, ctx: StepContext): void {
  const counts = histogramOf(brightnessOf(onWhite(picture).rgb));
  const bands = Array.from({ length: 256 / BAND }, (_, i) =>
    counts.subarray(i * BAND, (i + 1) * BAND).reduce((n, v) => n + v, 0),
  );
  const most = Math.max(...bands);
  const rows = bands.map((n, i) => {
    const [from, to] = [i * BAND, i * BAND + BAND - 1];
    const side =
      to < threshold ? 'darker' : from >= threshold ? 'lighter' : `parted at ${Number(threshold.toFixed(1))}`;
    return [`${from} to ${to}`, n, side, '▇'.repeat(n === 0 ? 0 : Math.max(1, Math.round((LONGEST_BAR * n) / most)))];
  });
  ctx.list({ title: 'Brightness of the picture', columns: ['brightness', 'pixels', 'side', 'how many'], rows });
}

/** The part of pixels that are as bright as the one to their right, but for noise. */
function evenPart(picture: Pixels): number {
  const brightness = brightnessOf(onWhite(picture).rgb);
  let n = 0;
  for (let i = 0; i + 1 < brightness.length; i++) if (Math.abs(brightness[i]! - brightness[i + 1]!) <= NOISE) n++;
  return brightness.length < 2 ? 1 : n / (brightness.length - 1);
}
const NOISE = 3;

/** A disc with a hole and a block, of 48 × 32 pixels. */
function examplePicture() {
  const [width, height] = [48, 32];
  const data = new Uint8Array(width * height).fill(255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const r = Math.hypot(x + 0.5 - 16, y + 0.5 - 16);
      const edge = Math.min(1, Math.max(0, Math.max(r - 11.5, 5.5 - r)));
      data[y * width + x] = x >= 32 && x < 44 && y >= 6 && y < 26 ? 0 : Math.round(255 * edge);
    }
  return {
    kind: 'image',
    cover: false,
    at: [0, 0, 0],
    u: [1, 0, 0],
    v: [0, 1, 0],
    pixels: [width, height],
    data: dataAddress('image/png', packedPng({ width, height, channels: 1, data })),
  } as const;
}
