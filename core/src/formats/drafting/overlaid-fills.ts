import { Box2 } from '../../geometry/box.js';
import { TooIntricate, newEffort, simplePieces } from '../../geometry/crossings.js';
import type { WindingRule } from '../../geometry/outlines.js';
import { Cover, checkSame } from '../../geometry/outlines.js';
import type { PathData } from '../../geometry/path.js';
import { piecesOf, pointAt } from '../../geometry/path-pieces.js';
import { momentsOf } from '../../geometry/planar/moments.js';
import { CHORDS } from '../../geometry/tolerance.js';

/** More loops than these are not looked at. */
const MOST_LOOPS = 100;

interface Outer {
  path: PathData;
  area: number;
  cover: Cover;
  holes: { path: PathData; box: Box2 }[];
}

/**
 * Closed loops that nonzero filling fills, in groups that show the same when each is filled by the even-odd rule and all are laid on
 * one another: outlines that run round one way, each with the holes that are taken out of it. A hole takes away one outline that it
 * lies in, so that each has another one: then a place is painted where more outlines than holes run round it. `null` where that
 * cannot be had; asked at some places whether it is so.
 */
export function overlaid(loops: readonly PathData[]): PathData[][] | null {
  if (loops.length > MOST_LOOPS) return null;
  const known = loops.map((path) => ({
    path,
    area: momentsOf(path).area,
    pieces: simplePieces(path, true).flatMap((p) => p.pieces),
  }));
  const box = new Box2();
  for (const { pieces } of known)
    for (const p of pieces) for (const t of [0, 0.25, 0.5, 0.75]) box.add(...pointAt(p, t));
  const tolerance = (box.diagonal || 1) * CHORDS;
  const effort = newEffort();
  const coverOf = (rule: WindingRule, list: typeof known): Cover =>
    new Cover([{ rule, pieces: list.flatMap((k) => k.pieces) }], tolerance, effort);
  known.sort((a, b) => Math.abs(a.area) - Math.abs(b.area));
  const way = Math.sign(known[known.length - 1]?.area ?? 0);
  if (way === 0) return null;
  const outers: Outer[] = known
    .filter((k) => Math.sign(k.area) === way)
    .map((k) => ({ path: k.path, area: Math.abs(k.area), cover: coverOf('nonzero', [k]), holes: [] }));
  for (const hole of known.filter((k) => Math.sign(k.area) === -way)) {
    const first = piecesOf(hole.path, true)[0]?.pieces[0];
    if (!first) continue;
    const inside = pointAt(first, 0.5);
    const { box: reach } = coverOf('nonzero', [hole]);
    // The smallest outline around it that no other hole near it has been taken out of.
    const free = outers.find(
      (o) => o.area > Math.abs(hole.area) && o.cover.contains(...inside) && !o.holes.some((h) => h.box.meets(reach)),
    );
    if (!free) return null;
    free.holes.push({ path: hole.path, box: reach });
  }
  const groups = outers.map((o) => [o.path, ...o.holes.map((h) => h.path)]);
  const filled = coverOf('nonzero', known);
  const painted = groups.map((group) =>
    coverOf(
      'evenodd',
      known.filter((k) => group.includes(k.path)),
    ),
  );
  try {
    checkSame(
      box,
      (x, y) => filled.contains(x, y),
      (x, y) => painted.some((c) => c.contains(x, y)),
    );
  } catch (e) {
    if (e instanceof TooIntricate) return null;
    throw e;
  }
  return groups;
}
