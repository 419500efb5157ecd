import { clipInPixels } from '../drawing/curves.js';
import type { Entity, Image } from '../drawing/entity.js';
import type { ShownPicture } from '../drawing/lineage.js';
import { flattenEntity } from '../drawing/flatten.js';
import { placeOfPixels } from '../drawing/placed-pixels.js';
import { headOfAddress } from '../formats/picture/address-head.js';
import type { Affine } from '../geometry/affine.js';
import { compose, inverse, translation } from '../geometry/affine.js';
import type { Picture, Renderer } from './renderer.js';

/** What a pixel of a picture is against what was traced of it. */
export const ALIKE_BARE = 0;
export const ALIKE_DRAWN = 1;
/** It is an area in the picture and none in what was traced; the other way round; or of another colour in both. */
export const ONLY_IN_PICTURE = 2;
export const ONLY_IN_TRACE = 3;
export const OTHER_COLOUR = 4;

/** Each pixel of the part of a picture that was traced, held against what was traced. */
export interface TraceMarks {
  readonly width: number;
  readonly height: number;
  /** One of the numbers above for each pixel, in rows from the upper left corner. */
  readonly marks: Uint8Array;
  /** How many of them are of another area. */
  readonly other: number;
  /** The same, but that a pixel is alike to any of the nine around its place. */
  readonly nearMarks: Uint8Array;
  /** From these pixels, y downwards, to the drawing. */
  readonly place: Affine;
}

/** Pictures of more pixels are not held against their trace. */
const MOST_PIXELS = 16_000_000;
/** Each colour is drawn by itself: so many pixels in all of them at the most. */
const MOST_OF_COLOURS = 64_000_000;
/** How far chords may lie from their curve, in pixels. */
const FINE = 0.03;
/** Of 255 that lie between black and white: so many are seen through a pixel that is clear. */
const CLEAR = 127;
/** Clear pixels are drawn on white. */
const WHITE: Colour = [255, 255, 255];
/** A colour further than this from that of its area is one that was lost, by the distance of their channels. */
const LOST = 96;

type Colour = readonly [number, number, number];

/** Why a picture is not held against its trace, in words. */
const WHY_NOT = {
  straightened: 'the picture was straightened, so that its pixels lie elsewhere',
  merged: 'colours were merged by hand',
  edges: 'edges without areas were asked for',
} as const;

/**
 * Holds what was traced against the picture pixel for pixel, both drawn by a renderer that had no part in tracing: the picture parted by
 * the rule that was asked for, and the areas by how much of each pixel they cover. Words where they cannot be compared.
 */
export function traceMarks(made: readonly Entity[], shows: ShownPicture, renderer: Renderer): TraceMarks | string {
  if (shows.moved) return WHY_NOT[shows.moved];
  const { picture, part } = shows;
  const head = picture.data === undefined ? null : headOfAddress(picture.data);
  if (!head) return 'the picture is not at hand';
  if (part.width * part.height > MOST_PIXELS || head.width * head.height > MOST_PIXELS)
    return `the picture has more than ${MOST_PIXELS / 1e6} million pixels`;
  if (shows.by.kind === 'colours' && part.width * part.height * coloursOf(made).length > MOST_OF_COLOURS)
    return 'the picture has too many colours for so many pixels';
  const place = compose(placeOfPixels(picture, head), translation(part.x, part.y));
  const theirs = drawnPicture(picture, head, part, renderer);
  const toPixels = inverse(place);
  const ours = (entities: readonly Entity[]): Picture | null => drawnAreas(entities, toPixels, part, renderer);
  if (!theirs) return 'the renderer gives the picture up';
  const compared =
    shows.by.kind === 'brightness'
      ? byInk(theirs, ours(made), shows.by.threshold, shows.by.light)
      : byColour(theirs, made, ours, shows.by);
  if (!compared) return 'the renderer gives the areas up';
  return { width: part.width, height: part.height, place, ...compared };
}

interface Size {
  readonly width: number;
  readonly height: number;
}
type Part = ShownPicture['part'];

/** A picture on white, and which of its pixels are clear: more of them is seen of what lies beneath than of themselves. */
interface Shown extends Picture {
  readonly clear: Uint8Array;
}

/** The part of the picture as it is, clear where its boundary hides it. */
function drawnPicture(e: Image, head: Size, part: Part, renderer: Renderer): Shown | null {
  const [w, h] = [head.width / e.pixels[0], head.height / e.pixels[1]];
  const corners = e.clip ? clipInPixels(e).map(([x, y]) => `${x * w - part.x},${y * h - part.y}`) : [];
  const cut = corners.length > 0 ? ' clip-path="url(#cut)"' : '';
  const content =
    (cut && `<clipPath id="cut"><polygon points="${corners.join(' ')}"/></clipPath>`) +
    `<g${cut}><image x="${-part.x}" y="${-part.y}" width="${head.width}" height="${head.height}" ` +
    `preserveAspectRatio="none" xlink:href="${e.data!.replace(/[^\w+/=:;,.-]/g, '')}"/></g>`;
  const [light, dark] = ['#ffffff', '#000000'].map((ground) => drawnAt(part, content, renderer, ground));
  if (!light || !dark) return null;
  const clear = Uint8Array.from({ length: part.width * part.height }, (_, i) =>
    light.pixels[4 * i]! - dark.pixels[4 * i]! > CLEAR ? 1 : 0,
  );
  return { ...light, clear };
}

/** Areas in black on the pixels of the part. */
function drawnAreas(entities: readonly Entity[], toPixels: Affine, part: Part, renderer: Renderer): Picture | null {
  const paths = entities.map((e) => {
    let d = '';
    flattenEntity(e, toPixels, FINE, {
      moveTo: (x, y) => (d += `M${x.toFixed(3)} ${y.toFixed(3)}`),
      lineTo: (x, y) => (d += `L${x.toFixed(3)} ${y.toFixed(3)}`),
    });
    return `<path fill-rule="${e.look.fillRule}" d="${d}"/>`;
  });
  return drawnAt(part, paths.join(''), renderer);
}

function drawnAt({ width, height }: Size, content: string, renderer: Renderer, ground = '#ffffff'): Picture | null {
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${width}" height="${height}">` +
    `<rect width="${width}" height="${height}" fill="${ground}"/>${content}</svg>`;
  const drawn = renderer.draw(svg, false, { size: Math.max(width, height), larger: 1 });
  return drawn && drawn.width === width && drawn.height === height ? drawn : null;
}

type Compared = Pick<TraceMarks, 'marks' | 'nearMarks' | 'other'>;

/** How bright each pixel is, 0 to 255 (ITU-R BT.601, which tracing by brightness is documented to go by). */
function brightness({ pixels }: Picture): Uint8Array {
  const out = new Uint8Array(pixels.length / 4);
  for (let i = 0; i < out.length; i++)
    out[i] = Math.round((299 * pixels[4 * i]! + 587 * pixels[4 * i + 1]! + 114 * pixels[4 * i + 2]!) / 1000);
  return out;
}

/** What parts dark from light best (N. Otsu, 1979: least variance within both), worked out from one brightness to the next. */
function parting(values: Uint8Array): number {
  const counts = new Array<number>(256).fill(0);
  for (const v of values) counts[v]!++;
  const within = (from: number, to: number): number => {
    let [n, sum, squares] = [0, 0, 0];
    for (let v = from; v < to; v++) {
      n += counts[v]!;
      sum += v * counts[v]!;
      squares += v * v * counts[v]!;
    }
    return n === 0 ? 0 : squares - sum ** 2 / n;
  };
  const spread = Array.from({ length: 255 }, (_, i) => within(0, i + 1) + within(i + 1, 256));
  const least = Math.min(...spread);
  const best = spread.flatMap((s, i) => (s <= least * (1 + 1e-9) + 1e-9 ? [i + 1] : []));
  return (best[0]! + best[best.length - 1]!) / 2;
}

/**
 * By what is ink. Between the brightness of ink and that of the ground a pixel is ink for a part, half where it is at the threshold: it is another
 * in what was traced where that covers it for more than half more or less.
 */
function byInk(theirs: Shown, ours: Picture | null, threshold: number | null, light: boolean): Compared | null {
  if (!ours) return null;
  const values = brightness(theirs);
  const parted = threshold ?? parting(values);
  const mean = (wanted: (v: number) => boolean, otherwise: number): number => {
    let [n, sum] = [0, 0];
    for (const v of values)
      if (wanted(v)) {
        n++;
        sum += v;
      }
    return n === 0 ? otherwise : sum / n;
  };
  const [dark, bright] = [mean((v) => v < parted, 0), mean((v) => v >= parted, 255)];
  const [shown, covered] = [new Uint8Array(values.length), new Uint8Array(values.length)];
  for (let i = 0; i < values.length; i++) {
    const v = values[i]!;
    const isDark = v < parted;
    const reach = isDark ? parted - dark : bright - parted;
    const darkness = 0.5 + Math.max(-0.5, Math.min(0.5, (parted - v) / (2 * (reach || 1))));
    const part = light ? 1 - darkness : darkness;
    const cover = 1 - ours.pixels[4 * i]! / 255;
    covered[i] = cover > 0.5 ? 1 : 0;
    const isInk = isDark !== light;
    shown[i] = isInk === cover > 0.5 || Math.abs(part - cover) <= 0.5 ? covered[i]! : isInk ? 1 : 0;
  }
  return held(theirs, shown, covered);
}

const colourOf = (e: Entity): number => (e.look.fill.kind === 'rgb' ? e.look.fill.rgb : 0);
const coloursOf = (made: readonly Entity[]): number[] => [...new Set(made.map(colourOf))];

/** Which of several a pixel is: 0 for the ground, else one more than the place of its colour. */
function byColour(
  theirs: Shown,
  made: readonly Entity[],
  ours: (entities: readonly Entity[]) => Picture | null,
  { ground, asked }: Extract<ShownPicture['by'], { kind: 'colours' }>,
): Compared | null {
  const found = coloursOf(made);
  const n = theirs.width * theirs.height;
  const palette = [ground ? alongBorder(theirs) : WHITE, ...found.map(channels)];
  const covers: Uint8Array[] = [];
  for (const rgb of found) {
    const drawn = ours(made.filter((e) => colourOf(e) === rgb));
    if (!drawn) return null;
    covers.push(Uint8Array.from({ length: n }, (_, i) => 255 - drawn.pixels[4 * i]!));
  }
  const [shown, covered] = [new Uint8Array(n), new Uint8Array(n)];
  const parts = new Float64Array(palette.length);
  const own = new Float64Array(3);
  const mixed = new Float64Array(3);
  // Without a ground all that is there is of one of the colours.
  const first = ground || palette.length === 1 ? 0 : 1;
  for (let i = 0; i < n; i++) {
    parts[0] = 255;
    for (let k = 1; k < parts.length; k++) parts[0] -= parts[k] = covers[k - 1]![i]!;
    parts[0] = Math.max(0, parts[0]!);
    const owner = largest(parts);
    const all = parts.reduce((s, p) => s + p, 0);
    for (let k = 0; k < 3; k++) {
      own[k] = theirs.pixels[4 * i + k]!;
      mixed[k] = 0;
      for (let j = 0; j < parts.length; j++) mixed[k]! += (parts[j]! * palette[j]![k]!) / all;
    }
    let nearest = theirs.clear[i] === 1 ? 0 : first;
    if (theirs.clear[i] === 0)
      for (let k = first + 1; k < palette.length; k++)
        if (apart(palette[k]!, own) < apart(palette[nearest]!, own)) nearest = k;
    const off = apart(own, mixed);
    covered[i] = shown[i] = owner;
    // A mixture of two colours may look like a third: it is another only where what is drawn is no such mixture.
    if (nearest !== owner) {
      if (off >= apart(palette[nearest]!, palette[owner]!) / 2) shown[i] = nearest;
    } else if (!asked && off > LOST) shown[i] = palette.length;
  }
  return held(theirs, shown, covered);
}

function largest(of: Float64Array): number {
  let best = 0;
  for (let k = 1; k < of.length; k++) if (of[k]! > of[best]!) best = k;
  return best;
}

const channels = (rgb: number): Colour => [(rgb >> 16) & 255, (rgb >> 8) & 255, rgb & 255];
const apart = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
  Math.sqrt((a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2 + (a[2]! - b[2]!) ** 2);

/** The colour that most pixels along the border have, to the eighth of a channel. */
function alongBorder({ width, height, pixels }: Picture): Colour {
  const counts = new Map<number, { n: number; sum: [number, number, number] }>();
  const count = (i: number): void => {
    const own = [pixels[4 * i]!, pixels[4 * i + 1]!, pixels[4 * i + 2]!] as const;
    const key = own.reduce((k, v) => k * 32 + (v >> 3), 0);
    const at = counts.get(key) ?? { n: 0, sum: [0, 0, 0] };
    at.n++;
    own.forEach((v, k) => (at.sum[k]! += v));
    counts.set(key, at);
  };
  for (let x = 0; x < width; x++) [x, (height - 1) * width + x].forEach(count);
  for (let y = 0; y < height; y++) [y * width, y * width + width - 1].forEach(count);
  const most = [...counts.values()].reduce((a, b) => (b.n > a.n ? b : a));
  return most.sum.map((v) => v / most.n) as unknown as Colour;
}

/** Two ways to see the same pixels, each with 0 for the ground. */
function held({ width, height }: Size, shown: Uint8Array, covered: Uint8Array): Compared {
  const [marks, nearMarks] = [new Uint8Array(shown.length), new Uint8Array(shown.length)];
  const around = (of: Uint8Array, i: number, wanted: number): boolean => {
    const [x, y] = [i % width, (i / width) | 0];
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
        if (of[v * width + u] === wanted) return true;
    return false;
  };
  let other = 0;
  for (let i = 0; i < shown.length; i++) {
    const [a, b] = [shown[i]!, covered[i]!];
    if (a !== b) other++;
    marks[i] =
      a === b
        ? a === 0
          ? ALIKE_BARE
          : ALIKE_DRAWN
        : b === 0
          ? ONLY_IN_PICTURE
          : a === 0
            ? ONLY_IN_TRACE
            : OTHER_COLOUR;
    const near = a === b || (around(covered, i, a) && around(shown, i, b));
    nearMarks[i] = near ? (a === 0 ? ALIKE_BARE : ALIKE_DRAWN) : marks[i]!;
  }
  return { marks, nearMarks, other };
}
