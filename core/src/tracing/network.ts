import type { Components } from './components.js';
import type { Labelled } from './labels.js';
import { NONE } from './labels.js';

/*
 * Where areas meet: every side of a pixel that parts two labels, walked once from one place where three areas meet to the next, or
 * round and round. Both sides of it are the same points then, and neighbours share their edges.
 */

/** Directions of a step: to the right, down, to the left, up. */
const STEP = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/** A run of sides of pixels, from corner to corner of the grid. */
export interface Chain {
  /** Corners that it passes, x and y in turn; a closed one ends where it begins. */
  readonly corners: Int32Array;
  readonly closed: boolean;
  /** Labels to its right and left hand. */
  readonly right: number;
  readonly left: number;
  /** A pixel to its right and one to its left, by which the piece is known that lies there; -1 beyond the picture. */
  readonly rightPixel: number;
  readonly leftPixel: number;
}

export interface Network {
  readonly chains: readonly Chain[];
  /** Chains that leave a corner where three areas meet, by their first direction: the number of the chain, negative (−1 − number) for one that is walked back. */
  readonly nodes: ReadonlyMap<number, readonly (number | null)[]>;
  /** Pieces that hang together by a corner alone, where corners join. */
  readonly joined: readonly (readonly [number, number])[];
  /** In how many corners two areas meet crosswise. */
  readonly crosswise: number;
}

/** Where two areas meet at a corner crosswise: the ink is joined there, or it is parted. */
export type AtCorners = 'joined' | 'parted';

export function networkOf(picture: Labelled, pieces: Components, corners: AtCorners, check: () => void): Network {
  const { width, height, labels } = picture;
  const pixel = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? -1 : y * width + x);
  const label = (x: number, y: number): number => {
    const i = pixel(x, y);
    return i < 0 ? NONE : labels[i]!;
  };
  const across = width + 1;
  const id = (x: number, y: number): number => y * across + x;
  /** Pixels to the right and left of a step. */
  const sides = (x: number, y: number, d: number): [number, number, number, number] =>
    d === 0
      ? [x, y, x, y - 1]
      : d === 1
        ? [x - 1, y, x, y]
        : d === 2
          ? [x - 1, y - 1, x - 1, y]
          : [x, y - 1, x - 1, y - 1];
  const parts = (x: number, y: number, d: number): boolean => {
    const [rx, ry, lx, ly] = sides(x, y, d);
    return label(rx, ry) !== label(lx, ly);
  };
  // Steps to the right and down are told apart; the others are the same sides walked back.
  const seen = new Uint8Array(2 * across * (height + 1));
  const side = (x: number, y: number, d: number): number =>
    d === 0 ? 2 * id(x, y) : d === 1 ? 2 * id(x, y) + 1 : d === 2 ? 2 * id(x - 1, y) : 2 * id(x, y - 1) + 1;
  const degree = (x: number, y: number): number => [0, 1, 2, 3].filter((d) => parts(x, y, d)).length;
  /** Four sides meet, and only two labels do: crosswise. */
  const isCross = (x: number, y: number): boolean =>
    label(x - 1, y - 1) === label(x, y) && label(x, y - 1) === label(x - 1, y) && label(x, y) !== label(x, y - 1);
  const isNode = (x: number, y: number): boolean => {
    const n = degree(x, y);
    // The corners of the picture stay what they are.
    const isCorner = (x === 0 || x === width) && (y === 0 || y === height);
    return n === 3 || (n === 4 && !isCross(x, y)) || (n === 2 && isCorner);
  };
  /** Of two labels that meet crosswise, the one that is parted. */
  const parted = (a: number, b: number): number => {
    const [ink, other] = a === NONE || (b !== NONE && a > b) ? [b, a] : [a, b];
    return corners === 'joined' ? other : ink;
  };
  const joined: [number, number][] = [];
  const crosses = new Set<number>();
  const chains: Chain[] = [];
  const nodes = new Map<number, (number | null)[]>();

  const walk = (x0: number, y0: number, d0: number): void => {
    const at: number[] = [x0, y0];
    const [rx, ry, lx, ly] = sides(x0, y0, d0);
    let [x, y, d] = [x0, y0, d0];
    for (;;) {
      seen[side(x, y, d)] = 1;
      x += STEP[d]![0];
      y += STEP[d]![1];
      at.push(x, y);
      if (isNode(x, y)) break;
      if (degree(x, y) === 4) {
        const [r, l] = [label(rx, ry), label(lx, ly)];
        const apart = parted(r, l);
        crosses.add(id(x, y));
        // Round the label that is parted.
        d = (d + (apart === r ? 1 : 3)) % 4;
        const whole = apart === r ? l : r;
        const ends = label(x, y) === whole ? [pixel(x - 1, y - 1), pixel(x, y)] : [pixel(x, y - 1), pixel(x - 1, y)];
        if (ends[0]! >= 0 && ends[1]! >= 0) joined.push([pieces.of[ends[0]!]!, pieces.of[ends[1]!]!]);
      } else d = [(d + 1) % 4, d, (d + 3) % 4].find((next) => parts(x, y, next))!;
      if (x === x0 && y === y0 && seen[side(x, y, d)]) break;
    }
    const closed = x === x0 && y === y0 && !isNode(x, y);
    const n = chains.length;
    chains.push({
      corners: Int32Array.from(at),
      closed,
      right: label(rx, ry),
      left: label(lx, ly),
      rightPixel: pixel(rx, ry),
      leftPixel: pixel(lx, ly),
    });
    if (closed) return;
    const leave = (px: number, py: number, direction: number, chain: number): void => {
      const key = id(px, py);
      let out = nodes.get(key);
      if (!out) nodes.set(key, (out = [null, null, null, null]));
      out[direction] = chain;
    };
    leave(x0, y0, d0, n);
    leave(x, y, (d + 2) % 4, -1 - n);
  };
  for (let y = 0; y <= height; y++) {
    check();
    for (let x = 0; x <= width; x++)
      if (isNode(x, y)) for (let d = 0; d < 4; d++) if (parts(x, y, d) && !seen[side(x, y, d)]) walk(x, y, d);
  }
  for (let y = 0; y <= height; y++) {
    check();
    for (let x = 0; x <= width; x++)
      for (let d = 0; d < 2; d++) if (parts(x, y, d) && !seen[side(x, y, d)]) walk(x, y, d);
  }
  return { chains, nodes, joined, crosswise: crosses.size };
}

/** The number of a corner of the grid, as `nodes` has it. */
export const cornerId = (width: number, x: number, y: number): number => y * (width + 1) + x;
