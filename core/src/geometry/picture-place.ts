/*
 * Where a picture lies, by three of its corners; the fourth follows, since a picture is stretched and turned as a whole and
 * never bent. Places have y upwards.
 */

type Point = { readonly x: number; readonly y: number };

export interface PicturePlace {
  /** The lower left, the lower right and the upper left corner. */
  readonly at: Point;
  readonly right: Point;
  readonly up: Point;
}

const less = (a: Point, b: Point): Point => ({ x: a.x - b.x, y: a.y - b.y });
const plus = (a: Point, b: Point): Point => ({ x: a.x + b.x, y: a.y + b.y });
const times = (a: Point, k: number): Point => ({ x: a.x * k, y: a.y * k });

const mapped = (p: PicturePlace, map: (q: Point) => Point): PicturePlace => ({
  at: map(p.at),
  right: map(p.right),
  up: map(p.up),
});

/** Straight, its lower left corner at a place, each pixel so many units wide. */
export const placedBySize = (at: Point, pixels: readonly [number, number], perPixel: number): PicturePlace => ({
  at,
  right: { x: at.x + pixels[0] * perPixel, y: at.y },
  up: { x: at.x, y: at.y + pixels[1] * perPixel },
});

/** Scaled so that two places on it are so far apart; the first stays where it is. `null` where the two are one. */
export function placedByDistance(p: PicturePlace, a: Point, b: Point, distance: number): PicturePlace | null {
  const now = Math.hypot(b.x - a.x, b.y - a.y);
  const k = distance / now;
  return now > 0 && distance > 0 && Number.isFinite(k) ? mapped(p, (q) => plus(a, times(less(q, a), k))) : null;
}

/** Moved, turned and scaled so that two places on it come to lie on two others. `null` where two of a pair are one. */
export function placedByPairs(
  p: PicturePlace,
  from: readonly [Point, Point],
  to: readonly [Point, Point],
): PicturePlace | null {
  const [d, e] = [less(from[1], from[0]), less(to[1], to[0])];
  const n = d.x * d.x + d.y * d.y;
  if (!(n > 0) || !(e.x * e.x + e.y * e.y > 0)) return null;
  // The quotient of both as complex numbers turns and scales.
  const [c, s] = [(e.x * d.x + e.y * d.y) / n, (e.y * d.x - e.x * d.y) / n];
  return mapped(p, (q) => {
    const r = less(q, from[0]);
    return plus(to[0], { x: c * r.x - s * r.y, y: s * r.x + c * r.y });
  });
}

/**
 * By its four corners: lower left, lower right, upper right, upper left. Four that are not those of a parallelogram are met as
 * nearly as can be (least squares), each missed by `off`.
 */
export function placedByCorners(c: readonly [Point, Point, Point, Point]): { place: PicturePlace; off: number } {
  const [a, b, d, e] = c;
  const u = times(plus(less(b, a), less(d, e)), 0.5);
  const v = times(plus(less(e, a), less(d, b)), 0.5);
  const middle = times(plus(plus(a, b), plus(d, e)), 0.25);
  const at = less(middle, times(plus(u, v), 0.5));
  const miss = times(plus(less(a, b), less(d, e)), 0.25);
  return { place: { at, right: plus(at, u), up: plus(at, v) }, off: Math.hypot(miss.x, miss.y) };
}

/** By the six numbers of a world file: pixels to the right and downwards from the centre of the first one. */
export function placedByWorldFile(
  [a, d, b, e, c, f]: readonly [number, number, number, number, number, number],
  [width, height]: readonly [number, number],
): PicturePlace {
  const at = (col: number, row: number): Point => ({ x: a * col + b * row + c, y: d * col + e * row + f });
  return { at: at(-0.5, height - 0.5), right: at(width - 0.5, height - 0.5), up: at(-0.5, -0.5) };
}

/** How long a pixel is along the width and along the height, and how large the whole is. */
export function sizeOfPlace(
  p: PicturePlace,
  [width, height]: readonly [number, number],
): { perPixel: readonly [number, number]; size: readonly [number, number] } {
  const size = [p.right, p.up].map((q) => Math.hypot(q.x - p.at.x, q.y - p.at.y)) as [number, number];
  return { perPixel: [size[0] / width, size[1] / height], size };
}
