import Flatbush from 'flatbush';
import { Box2 } from '../geometry/box.js';
import { flattenEntity } from '../drawing/flatten.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { surveyOf } from '../drawing/survey.js';
import { checkStop } from '../formats/format.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { AKind } from './words.js';
import { isAnnotationPart } from '../analysis/annotation.js';
import { AT_END, CHORDS, isParallel } from '../geometry/tolerance.js';

/** No more outlines than these are told. */
const MOST = 1001;
/** An outline of more chords than this is not looked at: it would be found among those with too many points. */
const MOST_CHORDS = 20_000;

/** Where two chords properly cross, or `null`. Touching ends are no crossing. */
function crossing(p: Float64Array, i: number, k: number): { x: number; y: number } | null {
  const [ax, ay, bx, by] = [p[2 * i], p[2 * i + 1], p[2 * i + 2], p[2 * i + 3]];
  const [cx, cy, dx, dy] = [p[2 * k], p[2 * k + 1], p[2 * k + 2], p[2 * k + 3]];
  const [ux, uy, vx, vy] = [bx! - ax!, by! - ay!, dx! - cx!, dy! - cy!];
  const det = ux * vy - uy * vx;
  if (isParallel(ux, uy, vx, vy)) return null;
  const s = ((cx! - ax!) * vy - (cy! - ay!) * vx) / det;
  const t = ((cx! - ax!) * uy - (cy! - ay!) * ux) / det;
  const inner = (v: number): boolean => v > AT_END && v < 1 - AT_END;
  return inner(s) && inner(t) ? { x: ax! + s * ux, y: ay! + s * uy } : null;
}

/** Finds closed outlines that cross themselves: their inside is undecided. */
export const selfCrossing = defineCheck({
  id: 'self-crossing',
  title: 'Outlines that cross themselves',
  summary:
    'Where an outline crosses itself its inside is undecided: areas come out wrong, offsets fail, extruded shapes tear.',
  carries: ['curves'],
  params: {},
  run(drawing, _params, work) {
    const found: Finding[] = [];
    surveyOf(drawing).each(({ entity: e, toWorld, resolved, top }) => {
      if (isAnnotationPart(top) || found.length >= MOST) return;
      const closed = ((e.kind === 'polyline' || e.kind === 'spline') && e.closed) || e.kind === 'path';
      if (!closed) return;
      checkStop(work);
      const box = new Box2();
      addEntityBounds(e, toWorld, new BoundsSink(box));
      if (box.empty || box.diagonal === 0) return;
      const rings: number[][] = [];
      flattenEntity(e, toWorld, box.diagonal * CHORDS, {
        moveTo: (x, y) => void rings.push([x, y]),
        lineTo: (x, y) => void rings[rings.length - 1]!.push(x, y),
      });
      for (const ring of rings) {
        const at = firstCrossing(ring);
        if (!at) continue;
        found.push({
          check: 'self-crossing',
          severity: 'warning',
          message: `${AKind(e.kind)} crosses itself`,
          at,
          size: box.diagonal / 10,
          layer: resolved.layer,
          ids: [e.id],
        });
        return;
      }
    });
    return found;
  },
});

function firstCrossing(ring: readonly number[]): { x: number; y: number } | null {
  const p = Float64Array.from(ring);
  const chords = p.length / 2 - 1;
  if (chords < 3 || chords > MOST_CHORDS) return null;
  const index = new Flatbush(chords);
  for (let i = 0; i < chords; i++) {
    const [a, b, c, d] = [p[2 * i], p[2 * i + 1], p[2 * i + 2], p[2 * i + 3]];
    index.add(Math.min(a!, c!), Math.min(b!, d!), Math.max(a!, c!), Math.max(b!, d!));
  }
  index.finish();
  for (let i = 0; i < chords; i++) {
    const [a, b, c, d] = [p[2 * i], p[2 * i + 1], p[2 * i + 2], p[2 * i + 3]];
    // Neighbours share an end, and so do the first and the last.
    const near = index.search(Math.min(a!, c!), Math.min(b!, d!), Math.max(a!, c!), Math.max(b!, d!), (k) => k > i + 1);
    for (const k of near) {
      if (i === 0 && k === chords - 1) continue;
      const at = crossing(p, i, k);
      if (at) return at;
    }
  }
  return null;
}
