import { fitCircle, goesRoundOnce } from '../geometry/fit-circle.js';
import { piecesOf, pointAt } from '../geometry/path-pieces.js';
import type { Entity } from './entity.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** A circle that is drawn as something else. */
export interface HiddenCircle {
  x: number;
  y: number;
  radius: number;
  /** How far the farthest of its points lies off the circle. */
  off: number;
  /** How many points or pieces stand for it. */
  pieces: number;
}

/** In how many points each curve of a path is looked at. */
const SAMPLES = 8;
/** The fewest chords that count as a circle: fewer may well be meant as a polygon. */
const FEWEST_CHORDS = 12;

/**
 * The circle behind a closed polyline of chords, or behind a closed path of Béziers, arcs or lines; `null` where it is
 * none within `tolerance` (a part of the radius). Chords are judged by their corners.
 */
export function hiddenCircle(e: Entity, tolerance: number): HiddenCircle | null {
  let points: number[] = [];
  let pieces = 0;
  let chords = true;
  if (e.kind === 'polyline') {
    if (e.dim === 3 || e.widths || e.bulges?.some((b) => b !== 0)) return null;
    points = Array.from(e.points);
    const n = points.length;
    if (n >= 4 && points[0] === points[n - 2] && points[1] === points[n - 1]) points.length = n - 2;
    else if (!e.closed) return null;
    pieces = points.length / 2;
  } else if (e.kind === 'path') {
    const subpaths = piecesOf(e.path, false);
    if (subpaths.length !== 1) return null;
    const { pieces: list, closed } = subpaths[0]!;
    const first = list[0] && pointAt(list[0], 0);
    const last = list[0] && pointAt(list[list.length - 1]!, 1);
    if (
      !first ||
      !last ||
      (!closed && Math.hypot(first[0] - last[0], first[1] - last[1]) > COINCIDENT * (Math.abs(first[0]) + 1))
    )
      return null;
    pieces = list.length;
    chords = list.every((p) => p.kind === 'bezier' && p.p.length === 4);
    for (const p of list) {
      const n = p.kind === 'bezier' && p.p.length === 4 ? 1 : SAMPLES;
      for (let k = 0; k < n; k++) points.push(...pointAt(p, k / n));
    }
    // A path that mixes chords with curves is judged along its chords too.
    if (!chords && list.some((p) => p.kind === 'bezier' && p.p.length === 4)) return null;
  } else return null;
  if (chords && pieces < FEWEST_CHORDS) return null;
  const circle = fitCircle(points);
  if (!circle || circle.off > tolerance * circle.radius) return null;
  return goesRoundOnce(points, circle.x, circle.y, Math.PI / 5) ? { ...circle, pieces } : null;
}
