import type { FillRule } from '../../geometry/raster/coverage.js';
import { Coverage } from '../../geometry/raster/coverage.js';

/** Colour and opacity, each 0 to 1, not multiplied. */
export type Rgba = readonly [red: number, green: number, blue: number, opacity: number];

/** What areas are painted with: one colour, or one for each place (in pixels of the whole picture), put into `out`. */
export type Ink = Rgba | ((x: number, y: number, out: [number, number, number, number]) => void);

/** A box of whole pixels, the far edges exclusive. */
interface Reach {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** How much of each pixel is seen, and where that is more than nothing. */
interface Mask {
  readonly parts: Float32Array;
  readonly reach: Reach;
}

const NOWHERE: Reach = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };

/**
 * Rows of a picture, painted over each other in order (source over destination, W3C Compositing 5.1). Colours are held multiplied by their opacity, in
 * single precision, so that many thin layers do not lose what eight bits would.
 */
export class Canvas {
  private readonly pixels: Float32Array;
  private readonly area: Coverage;
  private readonly clips: Coverage;
  private clip: Mask | null = null;
  private spare: Mask | null = null;
  /** What a shape is painted on first that is seen through as one. */
  private beneath: { pixels: Float32Array; reach: Reach } | null = null;
  private within = false;

  /** `top`: which row of the whole picture the first of these is. */
  constructor(
    readonly width: number,
    readonly height: number,
    readonly top: number,
    ground: Rgba,
  ) {
    this.pixels = new Float32Array(4 * width * height);
    this.area = new Coverage(width, height);
    this.clips = new Coverage(width, height);
    const [r, g, b, a] = ground;
    if (a > 0)
      for (let i = 0; i < this.pixels.length; i += 4) {
        this.pixels[i] = r * a;
        this.pixels[i + 1] = g * a;
        this.pixels[i + 2] = b * a;
        this.pixels[i + 3] = a;
      }
  }

  /** Adds an edge of the area that is painted next, in pixels of the whole picture. */
  readonly edge = (x0: number, y0: number, x1: number, y1: number): void =>
    this.area.edge(x0, y0 - this.top, x1, y1 - this.top);

  /** Adds an edge of what is seen from the next `clipTo` on. */
  readonly clipEdge = (x0: number, y0: number, x1: number, y1: number): void =>
    this.clips.edge(x0, y0 - this.top, x1, y1 - this.top);

  /** Cuts all that follows to the area of the clip edges, and to what was seen before. */
  clipTo(rule: FillRule): void {
    const { width } = this;
    const before = this.clip;
    const next = this.spare ?? { parts: new Float32Array(width * this.height), reach: { ...NOWHERE } };
    this.clips.sweep(rule, (y, from, to, part) => {
      grow(next.reach, from, y, to);
      for (let i = y * width + from; i < y * width + to; i++) next.parts[i] = part * (before ? before.parts[i]! : 1);
    });
    this.spare = null;
    this.clip = next;
    if (before) this.put(before);
  }

  /** Nothing is cut any longer. */
  unclip(): void {
    if (this.clip) this.put(this.clip);
    this.clip = null;
  }

  /** Keeps a mask for the next clip, wiped where it was used. */
  private put(mask: Mask): void {
    for (let y = mask.reach.y0; y < mask.reach.y1; y++)
      mask.parts.fill(0, y * this.width + mask.reach.x0, y * this.width + mask.reach.x1);
    Object.assign(mask.reach, NOWHERE);
    this.spare = mask;
  }

  /** Paints the area of the edges. */
  paint(rule: FillRule, ink: Ink, opacity: number): void {
    const { width, clip, top } = this;
    const onto = this.within ? this.beneath! : null;
    const pixels = onto ? onto.pixels : this.pixels;
    const plain = typeof ink === 'function' ? null : ink;
    const out: [number, number, number, number] = plain ? [...plain] : [0, 0, 0, 0];
    this.area.sweep(rule, (y, from, to, part) => {
      if (onto) grow(onto.reach, from, y, to);
      for (let x = from; x < to; x++) {
        if (!plain) (ink as Exclude<Ink, Rgba>)(x + 0.5, y + top + 0.5, out);
        const at = y * width + x;
        const a = out[3] * opacity * part * (clip ? clip.parts[at]! : 1);
        if (a <= 0) continue;
        const i = 4 * at;
        const rest = 1 - a;
        pixels[i] = out[0] * a + pixels[i]! * rest;
        pixels[i + 1] = out[1] * a + pixels[i + 1]! * rest;
        pixels[i + 2] = out[2] * a + pixels[i + 2]! * rest;
        pixels[i + 3] = a + pixels[i + 3]! * rest;
      }
    });
  }

  /** Paints what `draw` paints as one, seen through as a whole. */
  asOne(opacity: number, draw: () => void): void {
    this.beneath ??= { pixels: new Float32Array(this.pixels.length), reach: { ...NOWHERE } };
    const own = this.beneath;
    this.within = true;
    draw();
    this.within = false;
    const { x0, y0, x1, y1 } = own.reach;
    for (let y = y0; y < y1; y++) {
      const [from, to] = [4 * (y * this.width + x0), 4 * (y * this.width + x1)];
      for (let i = from; i < to; i += 4) {
        const rest = 1 - own.pixels[i + 3]! * opacity;
        for (let k = i; k < i + 4; k++) this.pixels[k] = own.pixels[k]! * opacity + this.pixels[k]! * rest;
      }
      own.pixels.fill(0, from, to);
    }
    Object.assign(own.reach, NOWHERE);
  }

  /** The rows with eight bits to a channel, colours not multiplied; without opacity where none is asked for. */
  rows(channels: 3 | 4): Uint8Array {
    const { pixels } = this;
    const n = this.width * this.height;
    const out = new Uint8Array(channels * n);
    for (let i = 0; i < n; i++) {
      const a = pixels[4 * i + 3]!;
      if (a <= 0) continue;
      for (let k = 0; k < 3; k++) out[channels * i + k] = eight(pixels[4 * i + k]! / a);
      if (channels === 4) out[4 * i + 3] = eight(a);
    }
    return out;
  }
}

const eight = (v: number): number => Math.min(255, Math.max(0, Math.round(v * 255)));

function grow(r: Reach, from: number, y: number, to: number): void {
  r.x0 = Math.min(r.x0, from);
  r.x1 = Math.max(r.x1, to);
  r.y0 = Math.min(r.y0, y);
  r.y1 = Math.max(r.y1, y + 1);
}
