import type { Rgb } from '../drawing/appearance.js';
import type { Pixels } from '../formats/picture/png.js';

/** What belongs to no area: the ground, what is clear, and what lies beyond the picture. */
export const NONE = 255;
/** So many colours at the most. */
export const MOST_COLOURS = 32;

/** A picture parted into areas: a label for each pixel, and how much of a pixel that lies on an edge belongs to either side. */
export interface Labelled {
  readonly width: number;
  readonly height: number;
  readonly labels: Uint8Array;
  /** The colour of each label. */
  readonly palette: readonly Rgb[];
  /** How far the colour of a pixel lies on the way from that of label `a`, which is 0, to that of `b`, which is 1. */
  part(pixel: number, a: number, b: number): number;
  /** Where on that way `a` ends and `b` begins. */
  between(a: number, b: number): number;
}

/** Clearer than this is not there. */
const CLEAR = 128;

/** Red, green and blue of each pixel in turn, on white where it is clear; and which pixels are clear. */
export function onWhite({ width, height, channels, data }: Pixels): { rgb: Uint8Array; clear: Uint8Array | null } {
  const n = width * height;
  const rgb = new Uint8Array(3 * n);
  const clear = channels === 4 ? new Uint8Array(n) : null;
  for (let i = 0; i < n; i++) {
    const a = channels === 4 ? data[4 * i + 3]! : 255;
    for (let k = 0; k < 3; k++) {
      const v = data[channels * i + (channels === 1 ? 0 : k)]!;
      rgb[3 * i + k] = a === 255 ? v : Math.round((v * a) / 255 + 255 - a);
    }
    if (clear && a < CLEAR) clear[i] = 1;
  }
  return { rgb, clear };
}

/** How bright each pixel is (ITU-R BT.601), 0 to 255. */
export function brightnessOf(rgb: Uint8Array): Uint8Array {
  const out = new Uint8Array(rgb.length / 3);
  for (let i = 0; i < out.length; i++)
    out[i] = Math.round(0.299 * rgb[3 * i]! + 0.587 * rgb[3 * i + 1]! + 0.114 * rgb[3 * i + 2]!);
  return out;
}

export function histogramOf(brightness: Uint8Array): Float64Array {
  const out = new Float64Array(256);
  for (const v of brightness) out[v]!++;
  return out;
}

/**
 * The brightness that parts dark from light best: that between which the two groups differ the most (N. Otsu, 1979). Of several as good the middle counts.
 */
export function bestThreshold(histogram: Float64Array): number {
  const total = histogram.reduce((a, b) => a + b, 0);
  const sum = histogram.reduce((s, n, v) => s + n * v, 0);
  let [below, sumBelow, best] = [0, 0, -1];
  let [first, last] = [127, 127];
  for (let v = 0; v < 255; v++) {
    below += histogram[v]!;
    sumBelow += v * histogram[v]!;
    const above = total - below;
    if (below === 0 || above === 0) continue;
    const between = below * above * (sumBelow / below - (sum - sumBelow) / above) ** 2;
    if (between > best * (1 + 1e-12)) [best, first] = [between, v];
    if (between >= best * (1 - 1e-12)) last = v;
  }
  return (first + last) / 2 + 0.5;
}

/** The mean of what fulfils a condition, of those pixels that are like their neighbours where there are such. */
function typical(brightness: Uint8Array, width: number, wanted: (v: number) => boolean, otherwise: number): number {
  let [n, flatSum, flat] = [0, 0, 0];
  for (let i = 0; i < brightness.length; i++) {
    const v = brightness[i]!;
    if (!wanted(v)) continue;
    n++;
    const even = [i - 1, i + 1, i - width, i + width].every(
      (j) => j < 0 || j >= brightness.length || Math.abs(brightness[j]! - v) <= FLAT,
    );
    if (!even) continue;
    flatSum += v;
    flat++;
  }
  if (flat > SURE * n) return flatSum / flat;
  if (n === 0) return otherwise;
  // Where hardly any are, the quarter furthest from the rest of the picture speaks for them.
  const histogram = new Float64Array(256);
  for (const v of brightness) if (wanted(v)) histogram[v]!++;
  const down = otherwise > 127;
  let [left, total, count] = [n / 4, 0, 0];
  for (let k = 0; k < 256 && left > 0; k++) {
    const v = down ? 255 - k : k;
    const take = Math.min(left, histogram[v]!);
    total += take * v;
    count += take;
    left -= take;
  }
  return total / count;
}

/** Pixels whose channels differ from their neighbours' by no more than this lie within an area, not on an edge. */
const FLAT = 12;
/** So many of them, as a part, say what an area is like. */
const SURE = 0.05;

/** Parts a picture into what is darker than a threshold and what is not, which is its ground; `light`: the other way round. */
export function byBrightness(picture: Pixels, threshold: number, light = false): Labelled {
  const { width, height } = picture;
  const { rgb, clear } = onWhite(picture);
  const brightness = brightnessOf(rgb);
  const isInk = (v: number): boolean => (light ? v >= threshold : v < threshold);
  const labels = new Uint8Array(width * height).fill(NONE);
  const sums = [0, 0, 0];
  let count = 0;
  for (let i = 0; i < labels.length; i++) {
    if (!isInk(brightness[i]!) || clear?.[i]) continue;
    labels[i] = 0;
    for (let k = 0; k < 3; k++) sums[k]! += rgb[3 * i + k]!;
    count++;
  }
  const ink = typical(brightness, width, isInk, light ? 255 : 0);
  const ground = typical(brightness, width, (v) => !isInk(v), light ? 0 : 255);
  // Lines thinner than a few pixels are mixed all through: their colour is that of what is furthest from the ground.
  const own = sums.map((s) => s / Math.max(1, count));
  const mean = [0, 1, 2].map((k) => {
    const all = 0.299 * own[0]! + 0.587 * own[1]! + 0.114 * own[2]!;
    return Math.min(255, Math.max(0, Math.round(own[k]! + ink - all)));
  });
  return {
    width,
    height,
    labels,
    palette: [(mean[0]! << 16) | (mean[1]! << 8) | mean[2]!],
    part: (pixel, a) => {
      const v = (brightness[pixel]! - ink) / (ground - ink || 1);
      return a === 0 ? v : 1 - v;
    },
    between: (a) => {
      const v = (threshold - ink) / (ground - ink || 1);
      return a === 0 ? v : 1 - v;
    },
  };
}

const channel = (rgb: Rgb, k: number): number => (rgb >> (16 - 8 * k)) & 255;

/** Colours nearer than this to one that is there already are that one, by the distance of their channels. */
const ALIKE = 48;
/** A colour of fewer pixels than this part is none. */
const RARE = 0.002;

/**
 * The colours of a picture that areas have, the most frequent first, by the pixels that are like their neighbours: those between two areas are mixtures.
 */
export function proposedColours(picture: Pixels, most: number): Rgb[] {
  const { width, height } = picture;
  const { rgb, clear } = onWhite(picture);
  // Cells of five bits a channel, with what is in them.
  const counts = new Map<number, { n: number; sum: [number, number, number] }>();
  let flat = 0;
  for (let i = 0; i < width * height; i++) {
    if (clear?.[i] || !isFlat(rgb, i, width, height)) continue;
    flat++;
    const key = ((rgb[3 * i]! >> 3) << 10) | ((rgb[3 * i + 1]! >> 3) << 5) | (rgb[3 * i + 2]! >> 3);
    let cell = counts.get(key);
    if (!cell) counts.set(key, (cell = { n: 0, sum: [0, 0, 0] }));
    cell.n++;
    for (let k = 0; k < 3; k++) cell.sum[k]! += rgb[3 * i + k]!;
  }
  const found: { n: number; sum: [number, number, number] }[] = [];
  const mean = (c: { n: number; sum: readonly number[] }, k: number): number => c.sum[k]! / c.n;
  for (const cell of [...counts.values()].sort((a, b) => b.n - a.n)) {
    const near = found.find((f) => [0, 1, 2].reduce((d, k) => d + (mean(f, k) - mean(cell, k)) ** 2, 0) < ALIKE ** 2);
    if (!near) found.push({ n: cell.n, sum: [...cell.sum] });
    else {
      near.n += cell.n;
      for (let k = 0; k < 3; k++) near.sum[k]! += cell.sum[k]!;
    }
  }
  return found
    .filter((f) => f.n >= Math.max(4, RARE * flat))
    .sort((a, b) => b.n - a.n)
    .slice(0, Math.min(most, MOST_COLOURS))
    .map((f) => [0, 1, 2].reduce((rgb, k) => (rgb << 8) | Math.round(mean(f, k)), 0));
}

function isFlat(rgb: Uint8Array, i: number, width: number, height: number): boolean {
  const [x, y] = [i % width, Math.floor(i / width)];
  const like = (j: number): boolean => {
    for (let k = 0; k < 3; k++) if (Math.abs(rgb[3 * i + k]! - rgb[3 * j + k]!) > FLAT) return false;
    return true;
  };
  return (
    (x === 0 || like(i - 1)) &&
    (x === width - 1 || like(i + 1)) &&
    (y === 0 || like(i - width)) &&
    (y === height - 1 || like(i + width))
  );
}

/** How far around a mixed pixel the areas lie that it may belong to. */
const AROUND = 2;

/** Parts a picture into areas of colours. */
export function byColours(picture: Pixels, palette: readonly Rgb[]): Labelled {
  const { width, height } = picture;
  const { rgb, clear } = onWhite(picture);
  const n = width * height;
  const nearest = (i: number, among: Iterable<number>): number => {
    let [best, which] = [Infinity, 0];
    for (const c of among) {
      let d = 0;
      for (let k = 0; k < 3; k++) d += (rgb[3 * i + k]! - channel(palette[c]!, k)) ** 2;
      if (d < best) [best, which] = [d, c];
    }
    return which;
  };
  const all = palette.map((_, i) => i);
  // The nearest of all is looked for once for each colour that there is.
  const known = new Uint8Array(1 << 24).fill(NONE);
  const nearestOfAll = (i: number): number => {
    const key = (rgb[3 * i]! << 16) | (rgb[3 * i + 1]! << 8) | rgb[3 * i + 2]!;
    if (known[key] === NONE) known[key] = nearest(i, all);
    return known[key]!;
  };
  const own = new Uint8Array(n).fill(NONE);
  for (let i = 0; i < n; i++) if (!clear?.[i] && isFlat(rgb, i, width, height)) own[i] = nearestOfAll(i);
  const labels = own.slice();
  const near = new Set<number>();
  for (let i = 0; i < n; i++) {
    if (own[i] !== NONE || clear?.[i]) continue;
    // A mixture belongs to one of the areas it lies between, not to a third colour that it happens to be like.
    near.clear();
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let v = Math.max(0, y - AROUND); v <= Math.min(height - 1, y + AROUND); v++)
      for (let u = Math.max(0, x - AROUND); u <= Math.min(width - 1, x + AROUND); u++)
        if (own[v * width + u] !== NONE) near.add(own[v * width + u]!);
    labels[i] = near.size > 1 ? nearest(i, near) : nearestOfAll(i);
  }
  return { width, height, labels, palette, part: partsOf(rgb, palette, 0xffffff), between: () => 0.5 };
}

/** How far colours lie on the way between those of two labels; what belongs to none has the colour of the ground. */
function partsOf(rgb: Uint8Array, palette: readonly Rgb[], ground: Rgb): Labelled['part'] {
  const colourOf = (label: number): Rgb => (label === NONE ? ground : palette[label]!);
  return (pixel, a, b) => {
    const [from, to] = [colourOf(a), colourOf(b)];
    let [along, length] = [0, 0];
    for (let k = 0; k < 3; k++) {
      const d = channel(to, k) - channel(from, k);
      along += (rgb[3 * pixel + k]! - channel(from, k)) * d;
      length += d * d;
    }
    return length === 0 ? 0.5 : along / length;
  };
}

/** The same without one of its colours, which is the ground: it belongs to no area, and keeps its colour for the edges. */
export function withoutGround(picture: Labelled, ground: number): Labelled {
  const own = picture.part;
  const labelOf = (label: number): number => (label === NONE ? ground : label);
  return {
    ...picture,
    labels: picture.labels.map((l) => (l === ground ? NONE : l)),
    part: (pixel, a, b) => own(pixel, labelOf(a), labelOf(b)),
  };
}

/** The same with some colours counted as others: `as` holds for each label which one it is now. Edges stay where the colours were told apart. */
export function withMerged(picture: Labelled, as: readonly number[]): Labelled {
  const own = picture.labels;
  return {
    ...picture,
    labels: own.map((l) => (l === NONE ? NONE : as[l]!)),
    part: (pixel, a, b) => {
      const l = own[pixel]!;
      if (l === NONE || as[l] === l) return picture.part(pixel, a, b);
      return as[l] === a ? picture.part(pixel, l, b) : picture.part(pixel, a, as[l] === b ? l : b);
    },
  };
}
