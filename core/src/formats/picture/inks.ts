import type { Paint } from '../../drawing/appearance.js';
import type { Affine } from '../../geometry/affine.js';
import { compose, inverse, planar } from '../../geometry/affine.js';
import type { Ink, Rgba } from './canvas.js';
import type { Pixels } from './png.js';

type Gradient = Extract<Paint, { kind: 'gradient' }>;

export const rgba = (rgb: number, opacity = 1): Rgba => [
  ((rgb >> 16) & 255) / 255,
  ((rgb >> 8) & 255) / 255,
  (rgb & 255) / 255,
  opacity,
];

/** Steps of colour from one end of a gradient to the other. */
const STEPS = 1024;

/** A gradient in its place (SVG 1.1, 13.2): the colour of a place in pixels. `null` where its place is not known. */
export function gradientInk(paint: Gradient, toPixels: Affine, shown: (rgb: number) => number): Ink | null {
  const { place, form } = paint;
  if (!place || paint.stops.length === 0) return null;
  const [a, b, c, d, e, f] = place.map as [number, number, number, number, number, number];
  const m = compose(toPixels, planar(a, b, c, d, e, f));
  if (!(Math.abs(m[0] * m[4] - m[1] * m[3]) > 0)) return null;
  const back = inverse(m);
  const table = colourTable(paint, shown);
  const [fx, fy, fr] = place.focus ?? [0, 0, 0];
  return (x, y, out) => {
    const u = back[0] * x + back[3] * y + back[9];
    const v = back[1] * x + back[4] * y + back[10];
    const t = form === 'linear' ? u : alongRadii(u, v, fx, fy, fr);
    const k = 4 * Math.round(spread(t, place.spread) * STEPS);
    for (let i = 0; i < 4; i++) out[i] = table[k + i]!;
  };
}

/** Where a place lies between the circle of the focus (0) and the unit circle (1): the largest such, for radii that are none below 0. */
function alongRadii(u: number, v: number, fx: number, fy: number, fr: number): number {
  // |p - (1 - t) f| = (1 - t) fr + t, a square equation in t.
  const [px, py, dr] = [u - fx, v - fy, 1 - fr];
  const a = fx * fx + fy * fy - dr * dr;
  const b = px * fx + py * fy - fr * dr;
  const c = px * px + py * py - fr * fr;
  if (Math.abs(a) < 1e-12) return b === 0 ? 1 : -c / (2 * b);
  const root = Math.sqrt(Math.max(0, b * b - a * c));
  const [s, t] = [(-b + root) / a, (-b - root) / a];
  const [more, less] = s > t ? [s, t] : [t, s];
  return fr + more * dr >= 0 ? more : less;
}

function spread(t: number, how: 'pad' | 'reflect' | 'repeat'): number {
  if (how === 'pad' || !Number.isFinite(t)) return Math.min(1, Math.max(0, t || 0));
  const whole = Math.floor(t);
  const part = t - whole;
  return how === 'reflect' && whole % 2 !== 0 ? 1 - part : part;
}

function colourTable({ stops }: Gradient, shown: (rgb: number) => number): Float64Array {
  const sorted = [...stops].sort((a, b) => a.offset - b.offset);
  const table = new Float64Array(4 * (STEPS + 1));
  let at = 0;
  for (let i = 0; i <= STEPS; i++) {
    const t = i / STEPS;
    while (at < sorted.length && sorted[at]!.offset <= t) at++;
    const [from, to] = [sorted[Math.max(0, at - 1)]!, sorted[Math.min(at, sorted.length - 1)]!];
    const between =
      to.offset > from.offset ? Math.min(1, Math.max(0, (t - from.offset) / (to.offset - from.offset))) : 0;
    const [a, b] = [rgba(shown(from.rgb), from.opacity), rgba(shown(to.rgb), to.opacity)];
    for (let k = 0; k < 4; k++) table[4 * i + k] = a[k]! + (b[k]! - a[k]!) * between;
  }
  return table;
}

/** A picture at half its size: each pixel the mean of four, colours weighed by their opacity. */
function halved({ width, height, channels, data }: Pixels): Pixels {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = new Uint8Array(w * h * channels);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = [0, 1].flatMap((dy) =>
        [0, 1].map((dx) => channels * (Math.min(height - 1, 2 * y + dy) * width + Math.min(width - 1, 2 * x + dx))),
      );
      const opacity = (i: number): number => (channels === 4 ? data[i + 3]! : 255);
      const all = from.reduce((sum, i) => sum + opacity(i), 0);
      const to = channels * (y * w + x);
      for (let k = 0; k < Math.min(channels, 3); k++)
        out[to + k] = all === 0 ? 0 : Math.round(from.reduce((sum, i) => sum + data[i + k]! * opacity(i), 0) / all);
      if (channels === 4) out[to + 3] = Math.round(all / 4);
    }
  return { width: w, height: h, channels, data: out };
}

/**
 * A picture in its place: `toPixels` maps its own pixels (from its upper left corner, rows downwards) to those of the drawn one. Between pixels
 * colours are mixed; one that is made smaller is first halved as often as its pixels would be passed over.
 */
export function pictureInk(picture: Pixels, toPixels: Affine): Ink | null {
  if (!(Math.abs(toPixels[0] * toPixels[4] - toPixels[1] * toPixels[3]) > 0)) return null;
  let own = picture;
  let m = toPixels;
  const size = (): number => Math.sqrt(Math.abs(m[0] * m[4] - m[1] * m[3]));
  while (size() < 0.6 && own.width > 1 && own.height > 1) {
    const smaller = halved(own);
    m = compose(m, planar(own.width / smaller.width, 0, 0, own.height / smaller.height, 0, 0));
    own = smaller;
  }
  const back = inverse(m);
  const { width, height, channels, data } = own;
  return (x, y, out) => {
    const u = Math.min(width - 1, Math.max(0, back[0] * x + back[3] * y + back[9] - 0.5));
    const v = Math.min(height - 1, Math.max(0, back[1] * x + back[4] * y + back[10] - 0.5));
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const [s, t] = [u - i, v - j];
    let [r, g, b, a] = [0, 0, 0, 0];
    for (let dy = 0; dy < 2; dy++)
      for (let dx = 0; dx < 2; dx++) {
        const weight = (dx ? s : 1 - s) * (dy ? t : 1 - t);
        if (weight === 0) continue;
        const at = channels * (Math.min(height - 1, j + dy) * width + Math.min(width - 1, i + dx));
        const opacity = (channels === 4 ? data[at + 3]! / 255 : 1) * weight;
        r += data[at]! * opacity;
        g += data[at + (channels === 1 ? 0 : 1)]! * opacity;
        b += data[at + (channels === 1 ? 0 : 2)]! * opacity;
        a += opacity;
      }
    out[0] = a > 0 ? r / a / 255 : 0;
    out[1] = a > 0 ? g / a / 255 : 0;
    out[2] = a > 0 ? b / a / 255 : 0;
    out[3] = a;
  };
}
