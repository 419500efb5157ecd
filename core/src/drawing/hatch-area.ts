import type { Affine } from '../geometry/affine.js';
import { IDENTITY } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { PatternFill } from '../geometry/pattern-fill.js';
import { patternFill } from '../geometry/pattern-fill.js';
import { flattenEntity } from './flatten.js';
import type { Hatch } from './entity.js';
import { UNSEEN } from '../geometry/tolerance.js';

type Ring = number[];

/** The closed rings of a hatch in chords, x and y per corner, those left out that its way with islands passes over. */
export function hatchRings(hatch: Hatch, toWorld: Affine, tolerance: number): Ring[] {
  const rings: Ring[] = [];
  flattenEntity(hatch, toWorld, tolerance, {
    moveTo: (x, y) => void rings.push([x, y]),
    lineTo: (x, y) => void rings[rings.length - 1]!.push(x, y),
  });
  for (const r of rings) {
    const n = r.length;
    if (n > 4 && r[0] === r[n - 2] && r[1] === r[n - 1]) r.length = n - 2;
  }
  if (hatch.islands === undefined || rings.length < 2) return rings;
  const deepest = hatch.islands === 'outer' ? 1 : 0;
  return rings.filter((r) => rings.filter((o) => o !== r && inside(o, r[0]!, r[1]!)).length <= deepest);
}

/** Whether a point lies in a ring, odd-even. */
function inside(ring: Ring, x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, j = ring.length - 2; i + 1 < ring.length; j = i, i += 2) {
    const [xi, yi, xj, yj] = [ring[i], ring[i + 1], ring[j], ring[j + 1]];
    if (yi! > y !== yj! > y && x < ((xj! - xi!) * (y - yi!)) / (yj! - yi!) + xi!) odd = !odd;
  }
  return odd;
}

/** How finely the boundary of a pattern is cut: a part of its own size, so that its lines come out the same everywhere. */
const FINENESS = UNSEEN;

/** Whether a hatch is drawn by the lines of its pattern rather than filled. */
export const hasPattern = (hatch: Hatch): boolean =>
  !hatch.solid && hatch.lines !== undefined && hatch.lines.length > 0;

/** The lines of a pattern hatch in its own plane; `null` when it has no pattern to draw. At most `most` dashes. */
export function hatchLines(hatch: Hatch, most?: number): PatternFill | null {
  if (!hasPattern(hatch)) return null;
  const { normal: _n, ...flat } = hatch;
  const box = new Box2();
  for (const l of flat.loops)
    for (let i = 0; i + 1 < l.path.data.length; i += 2) box.add(l.path.data[i]!, l.path.data[i + 1]!);
  return patternFill(hatchRings(flat, IDENTITY, (box.diagonal || 1) * FINENESS), flat.lines!, most);
}
