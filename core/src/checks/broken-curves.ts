import { Box2 } from '../geometry/box.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import { checkStop } from '../formats/format.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import type { Pieces } from '../analysis/pieces.js';
import { PieceKind, directionOf, piecesOfDrawing } from '../analysis/pieces.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** An end of an open course: which, and whether it is its last point. */
interface Tip {
  course: number;
  last: boolean;
  x: number;
  y: number;
}

/** Finds smooth runs that are drawn as many separate curves. */
export const brokenCurves = defineCheck({
  id: 'broken-curves',
  title: 'Curves in many pieces',
  summary:
    'One smooth run drawn as many separate lines or arcs is selected, offset and cut piece by piece, with a stop at each joint.',
  carries: ['curves'],
  params: {
    from: p.number({ title: 'Report runs of at least … pieces', default: 8, atLeast: 3 }),
    turn: p.number({ title: 'Smooth is a turn of at most (degrees)', default: 30, atLeast: 0 }),
  },
  mend: { step: 'chain-outlines', words: 'Chain these curves', params: () => ({}) },
  run(drawing, params, work) {
    const p = piecesOfDrawing(drawing, work);
    const met = p.diagonal * COINCIDENT;
    const least = params.from;
    const straight = Math.cos((params.turn * Math.PI) / 180);
    const joints = jointsOf(p, met);
    checkStop(work);
    const next = (t: Tip): Tip | null => {
      const here = joints.get(t) ?? [];
      if (here.length !== 2) return null;
      const other = here[0] === t ? here[1]! : here[0]!;
      if (other.course === t.course) return null;
      const [a, b] = [outwards(p, t), outwards(p, other)];
      // Both point into the joint: going on straight is the opposite of the other.
      return a && b && -(a[0] * b[0] + a[1] * b[1]) >= straight ? other : null;
    };
    const far = new Map<number, [Tip | null, Tip | null]>();
    for (const t of joints.keys()) {
      const pair = far.get(t.course) ?? ([null, null] as [Tip | null, Tip | null]);
      pair[t.last ? 1 : 0] = t;
      far.set(t.course, pair);
    }
    const used = new Set<number>();
    const found: Finding[] = [];
    for (const [course, [first, last]] of far) {
      if (used.has(course)) continue;
      const run = [course];
      used.add(course);
      for (const start of [last, first])
        for (let at = start && next(start); at && !used.has(at.course);) {
          run.push(at.course);
          used.add(at.course);
          const pair: [Tip | null, Tip | null] = far.get(at.course)!;
          const onward: Tip | null = at.last ? pair[0] : pair[1];
          at = onward && next(onward);
        }
      if (run.length < least) continue;
      const box = new Box2();
      for (const k of run) box.addBox(p.courses[k]!.box);
      const kinds = [...new Set(run.map((k) => p.courses[k]!.entity))];
      found.push({
        check: 'broken-curves',
        severity: 'note',
        message: `One smooth run is drawn as ${run.length} separate curves (${kinds.join(', ')})`,
        at: { x: p.ends[4 * p.courses[course]!.first]!, y: p.ends[4 * p.courses[course]!.first + 1]! },
        size: box.diagonal,
        span: box.diagonal,
        layer: p.courses[course]!.layer,
        ids: [...new Set(run.map((k) => p.courses[k]!.id))].slice(0, 1000),
      });
    }
    return found.sort((a, b) => b.ids.length - a.ids.length);
  },
});

/** For each end of an open course the ends of its layer that lie there, itself among them: three stand for more. */
function jointsOf(p: Pieces, met: number): Map<Tip, Tip[]> {
  const tips: Tip[] = [];
  p.courses.forEach((c, course) => {
    if (c.closed || c.count === 0) return;
    const end = c.first + c.count - 1;
    tips.push({ course, last: false, x: p.ends[4 * c.first]!, y: p.ends[4 * c.first + 1]! });
    tips.push({ course, last: true, x: p.ends[4 * end + 2]!, y: p.ends[4 * end + 3]! });
  });
  const joints = new Map<Tip, Tip[]>();
  if (!(met > 0)) return joints;
  const layers = new Map<string, number>();
  const layerOf = (t: Tip): number => {
    const { key } = p.courses[t.course]!;
    let n = layers.get(key);
    if (n === undefined) layers.set(key, (n = layers.size));
    return n;
  };
  const grid = PlaceGrid.of(
    tips,
    (t) => t.x,
    (t) => t.y,
    met,
    layerOf,
  );
  for (const t of tips) {
    const near: Tip[] = [];
    // Where three meet nothing goes on, so no more are looked for.
    grid.near(t.x, t.y, (i) => near.push(tips[i]!) > 2, layerOf(t));
    // Ends that nothing else meets lead nowhere.
    if (near.length > 1) joints.set(t, near);
  }
  return joints;
}

/** The direction in which a course runs out of its end; `null` for a free curve. */
function outwards(p: Pieces, t: Tip): readonly [number, number] | null {
  const c = p.courses[t.course]!;
  const piece = t.last ? c.first + c.count - 1 : c.first;
  if (p.kind[piece] === PieceKind.free) return null;
  const d = directionOf(p, piece, t.last);
  return d && (t.last ? d : [-d[0], -d[1]]);
}
