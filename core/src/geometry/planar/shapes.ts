import type { PathData } from '../path.js';
import { joinedPaths, splitSubpaths } from '../path.js';
import { piecesOf, pointAt } from '../path-pieces.js';
import type { Effort } from '../crossings.js';
import { newEffort } from '../crossings.js';
import type { FillRule } from '../outlines.js';
import { outlinesOf } from '../outlines.js';
import { Region } from '../region.js';
import { momentsOf } from './moments.js';

/** An area in one piece: an outline run counter-clockwise, and holes run clockwise. Curves are what they were. */
export interface PlanarShape {
  readonly outer: PathData;
  readonly holes: readonly PathData[];
}

export type Combination = 'union' | 'intersection' | 'difference' | 'exclusion';

const COMBINES: Record<Combination, (a: boolean, b: boolean) => boolean> = {
  union: (a, b) => a || b,
  intersection: (a, b) => a && b,
  difference: (a, b) => a && !b,
  exclusion: (a, b) => a !== b,
};

/** A filled path: what it encloses by its rule. */
export interface Filled {
  path: PathData;
  rule: FillRule;
}

/**
 * Two filled paths put together, as outlines without crossings, the area on their left. What is left of a line, an arc or
 * a Bézier is a part of it. Throws `TooIntricate` when they cross more often than the effort allows.
 */
export function combined(a: Filled, b: Filled, how: Combination, effort: Effort = newEffort()): PathData {
  const rule = COMBINES[how];
  return outlinesOf([[a], [b]], ([inA, inB]) => rule(inA!, inB!), effort);
}

/** A filled path as outlines without crossings, the area on their left: what crosses itself is taken apart. */
export const simplified = (a: Filled, effort: Effort = newEffort()): PathData =>
  outlinesOf([[a]], ([within]) => within!, effort);

/** The pieces of area that a filled path encloses, each with its holes. */
export function shapesOf(a: Filled, effort: Effort = newEffort()): PlanarShape[] {
  const loops = splitSubpaths(simplified(a, effort)).map((path) => ({ path, area: momentsOf(path).area }));
  const outers = loops
    .filter((l) => l.area > 0)
    .map((l) => ({ ...l, region: new Region([{ path: l.path, rule: 'nonzero' }], effort), holes: [] as PathData[] }));
  // The smallest outline round a hole is the one it is a hole of.
  outers.sort((p, q) => p.area - q.area);
  for (const hole of loops.filter((l) => l.area < 0)) {
    const piece = piecesOf(hole.path, true)[0]!.pieces[0]!;
    const [x, y] = pointAt(piece, 0.5);
    outers.find((o) => o.area > -hole.area && o.region.contains(x, y))?.holes.push(hole.path);
  }
  return outers.map(({ path, holes }) => ({ outer: path, holes }));
}

/** A shape as one path. */
export const pathOfShape = (shape: PlanarShape): PathData => joinedPaths([shape.outer, ...shape.holes]);
