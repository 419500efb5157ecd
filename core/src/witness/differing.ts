import type { Picture } from './renderer.js';
import { GROUND } from './renderer.js';

/** Red, green and blue of what a picture is drawn on. */
export type Ground = readonly [number, number, number];

/** How two pictures are held against each other. */
export interface Noticing {
  /** What both are drawn on. */
  readonly ground?: Ground;
  /** A channel that lies this much beyond all of its neighbours in the other picture is noticed. */
  readonly noticeable?: number;
}

/** A place where two pictures differ, in pixels from the upper left corner. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
  /** How many of its pixels differ. */
  pixels: number;
}

export interface Differing {
  /** Pixels that something is drawn on in either picture. */
  inked: number;
  /** Those of them that differ noticeably. */
  other: number;
  /** Where they lie together, the largest first. */
  spots: Spot[];
}

/** A channel that lies this much beyond all of its neighbours in the other picture is noticed. */
const NOTICEABLE = 32;

/** A channel within this of the ground is the ground. */
const BARE = 4;

/**
 * Where two pictures of one size differ. A pixel counts when a channel of it lies more than 32 outside what the nine
 * pixels around the same place have in the other picture, either way: edges may lie up to a pixel apart, as they do where two
 * programs smooth them, and nothing more. What is on `ground` in both is nothing drawn.
 */
export function differing(
  a: Picture,
  b: Picture,
  { ground = GROUND, noticeable = NOTICEABLE }: Noticing = {},
): Differing {
  if (a.width !== b.width || a.height !== b.height) throw new Error('two pictures of different sizes');
  const { width, height } = a;
  const marked = new Uint8Array(width * height);
  let inked = 0;
  let other = 0;
  for (let at = 0; at < marked.length; at++) {
    if (bare(a, at, ground) && bare(b, at, ground)) continue;
    inked++;
    if (!beyond(a, b, at, noticeable) && !beyond(b, a, at, noticeable)) continue;
    marked[at] = 1;
    other++;
  }
  return { inked, other, spots: other === 0 ? [] : spotsOf(marked, width) };
}

function bare({ pixels }: Picture, at: number, ground: Ground): boolean {
  for (let k = 0; k < 3; k++) if (Math.abs(pixels[4 * at + k]! - ground[k]!) > BARE) return false;
  return true;
}

/** Whether a pixel of `a` has a channel that is far from all that is around the same place in `b`. */
function beyond(a: Picture, b: Picture, at: number, noticeable: number): boolean {
  const { width, height } = a;
  for (let k = 0; k < 3; k++) {
    const own = a.pixels[4 * at + k]!;
    // Most pixels are alike: their neighbours need not be asked.
    if (Math.abs(own - b.pixels[4 * at + k]!) <= noticeable) continue;
    const [x, y] = [at % width, (at / width) | 0];
    let [least, most] = [255, 0];
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const c = b.pixels[4 * (v * width + u) + k]!;
        least = Math.min(least, c);
        most = Math.max(most, c);
      }
    if (own < least - noticeable || own > most + noticeable) return true;
  }
  return false;
}

/** Pixels no further than `NEAR` apart are one place. */
const NEAR = 4;

/** The marked pixels gathered to places: cells of the grid that hold some, joined where they touch. */
function spotsOf(marked: Uint8Array, width: number): Spot[] {
  const columns = Math.ceil(width / NEAR);
  const cells = new Map<number, Spot>();
  marked.forEach((m, at) => {
    if (m === 0) return;
    const [x, y] = [at % width, (at / width) | 0];
    const key = ((y / NEAR) | 0) * columns + ((x / NEAR) | 0);
    const cell = cells.get(key);
    cells.set(
      key,
      cell ? joined(cell, { x, y, width: 1, height: 1, pixels: 1 }) : { x, y, width: 1, height: 1, pixels: 1 },
    );
  });
  const spots: Spot[] = [];
  for (const start of cells.keys()) {
    let spot = cells.get(start);
    if (!spot) continue;
    cells.delete(start);
    const waiting = [start];
    for (let key = waiting.pop(); key !== undefined; key = waiting.pop())
      for (const dy of [-1, 0, 1])
        for (const dx of [-1, 0, 1]) {
          const column = (key % columns) + dx;
          const next = key + dy * columns + dx;
          const found = column < 0 || column >= columns ? undefined : cells.get(next);
          if (!found) continue;
          cells.delete(next);
          spot = joined(spot, found);
          waiting.push(next);
        }
    spots.push(spot);
  }
  return spots.sort((p, q) => q.pixels - p.pixels);
}

function joined(p: Spot, q: Spot): Spot {
  const [x, y] = [Math.min(p.x, q.x), Math.min(p.y, q.y)];
  return {
    x,
    y,
    pixels: p.pixels + q.pixels,
    width: Math.max(p.x + p.width, q.x + q.width) - x,
    height: Math.max(p.y + p.height, q.y + q.height) - y,
  };
}
