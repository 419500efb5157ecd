import type { EllipseAngles, Hatch, HatchGradient, HatchLoop } from '../../drawing/entity.js';
import { nearestIndex } from '../../drawing/palette.js';
import type { EllipseArc2 } from '../../geometry/ellipses.js';
import { directionAt, isBetweenQuarters } from '../../geometry/ellipses.js';
import { arcSpline, draftingCurve, runOf } from './path-drafting.js';
import type { EntityContext, EntityTags } from './entity-tags.js';
import { isFullTurn, isSame } from '../../geometry/tolerance.js';

/** HATCH: loops of lines and circular arcs as polylines with bulges, all others as edges. */
export function writeHatch(w: EntityTags, e: Hatch, owner: string, reuse = true): void {
  const { x } = w;
  const { out } = x;
  const loops = e.loops.filter((l) => runOf(l.path) !== null);
  if (loops.length === 0) return;
  w.begin('HATCH', e, owner, 'AcDbHatch', { area: true, reuse });
  const solid = e.solid || !e.lines;
  if (solid && !e.solid) {
    x.ledger.add({
      carryOver: 'colour',
      action: 'changed',
      reason: 'pattern-without-lines',
      id: e.id,
    });
  }
  out.point(10, [0, 0, e.elevation]);
  out.point(210, e.normal ?? [0, 0, 1]);
  out.string(2, solid && !e.solid ? 'SOLID' : e.pattern || 'SOLID');
  out.integer(70, solid ? 1 : 0);
  out.integer(71, 0);
  out.integer(91, loops.length);
  const marked = loops.some((l) => (l.flags & (1 | 16)) !== 0);
  loops.forEach((l, i) => loop(x, l, l.flags | (!marked && i === 0 ? 1 : 0)));
  out.integer(75, e.islands === 'outer' ? 1 : e.islands === 'ignore' ? 2 : 0);
  out.integer(76, e.patternBy === 'user' ? 0 : e.patternBy === 'file' ? 2 : 1);
  if (!solid && e.lines) {
    out.angle(52, e.angle);
    out.number(41, e.scale);
    out.integer(77, e.double ? 1 : 0);
    out.integer(78, e.lines.length);
    for (const l of e.lines) {
      out.angle(53, l.angle);
      out.number(43, l.base[0]);
      out.number(44, l.base[1]);
      out.number(45, l.step[0]);
      out.number(46, l.step[1]);
      out.integer(79, l.dashes.length);
      for (const d of l.dashes) out.number(49, d);
    }
  }
  const seeds = e.seeds ?? [];
  out.integer(98, seeds.length / 2);
  for (let i = 0; i < seeds.length; i += 2) out.point2(10, seeds[i]!, seeds[i + 1]!);
  // What its boundary was made from is not told apart any more.
  if (e.associative)
    x.ledger.add({ carryOver: 'links', action: 'changed', reason: 'hatch-let-go-of-boundary', id: e.id });
  if (e.gradient && x.gradients) gradient(x, e.gradient);
  else if (e.gradient)
    x.ledger.add({
      carryOver: 'colour',
      action: 'dropped',
      reason: 'gradients-need-2004',
      id: e.id,
    });
  w.end(e, reuse);
}

/** Groups 450 to 470 (DXF reference, HATCH). */
function gradient({ out }: EntityContext, g: HatchGradient): void {
  out.integer(450, 1);
  out.integer(451, 0);
  out.number(460, g.angle);
  out.number(461, g.shift);
  out.integer(452, g.oneColour ? 1 : 0);
  out.number(462, g.tint);
  out.integer(453, g.stops.length);
  for (const s of g.stops) {
    out.number(463, s.offset);
    out.integer(63, nearestIndex(s.rgb));
    out.integer(421, s.rgb);
  }
  out.string(470, g.name);
}

function loop(x: EntityContext, { path, ellipses }: HatchLoop, flags: number): void {
  const { out } = x;
  const curve = draftingCurve(path);
  if (curve?.form === 'polyline') {
    const n = curve.points.length / 2;
    out.integer(92, flags | 2);
    out.integer(72, 1);
    out.integer(73, 1);
    out.integer(93, n);
    for (let i = 0; i < n; i++) {
      out.point2(10, curve.points[2 * i]!, curve.points[2 * i + 1]!);
      out.number(42, curve.bulges[i]!);
    }
    out.integer(97, 0);
    return;
  }
  out.integer(92, flags);
  if (curve?.form === 'ellipse') {
    const { arc } = curve;
    out.integer(93, 1);
    arcEdge(x, arc, ellipses);
  } else {
    const run = runOf(path)!;
    const last = run.pieces.at(-1)!;
    const end = last.kind === 'cubic' ? [last.c[4], last.c[5]] : [last.x, last.y];
    const gap = end[0] !== run.x || end[1] !== run.y;
    out.integer(93, run.pieces.length + (gap ? 1 : 0));
    let [px, py] = [run.x, run.y];
    const line = (ex: number, ey: number): void => {
      out.integer(72, 1);
      out.point2(10, px, py);
      out.point2(11, ex, ey);
    };
    for (const p of run.pieces) {
      if (p.kind === 'line') line(p.x, p.y);
      else if (p.kind === 'arc') arcEdge(x, p.arc, ellipses);
      else splineEdge(x, { points: [px, py, ...p.c], knots: [0, 0, 0, 0, 1, 1, 1, 1], weights: null });
      [px, py] = p.kind === 'cubic' ? [p.c[4], p.c[5]] : [p.x, p.y];
    }
    if (gap) line(run.x, run.y);
  }
  out.integer(97, 0);
}

interface CubicSpline {
  /** x, y of each control point. */
  points: ArrayLike<number>;
  knots: ArrayLike<number>;
  weights: ArrayLike<number> | null;
}

function splineEdge({ out, splineFit }: EntityContext, { points, knots, weights }: CubicSpline): void {
  const n = points.length / 2;
  out.integer(72, 4);
  out.integer(94, 3);
  out.integer(73, weights ? 1 : 0);
  out.integer(74, 0);
  out.integer(95, knots.length);
  out.integer(96, n);
  for (let i = 0; i < knots.length; i++) out.number(40, knots[i]!);
  for (let i = 0; i < n; i++) {
    out.point2(10, points[2 * i]!, points[2 * i + 1]!);
    if (weights) out.number(42, weights[i]!);
  }
  if (splineFit) out.integer(97, 0);
}

/**
 * An arc of a circle or an ellipse. What the angles of elliptic edges are programs see differently: where it matters they
 * are what the source's were, or the arc is written as the spline that it exactly is.
 */
function arcEdge(x: EntityContext, arc: EllipseArc2, angles: EllipseAngles | undefined): void {
  const { out } = x;
  if (isSame(arc.rx, arc.ry)) {
    const ccw = arc.sweep > 0;
    const from = (arc.start + arc.rotation) * (ccw ? 1 : -1);
    out.integer(72, 2);
    out.point2(10, arc.cx, arc.cy);
    out.number(40, arc.rx);
    out.angle(50, from);
    out.angle(51, from + Math.abs(arc.sweep));
    return out.integer(73, ccw ? 1 : 0);
  }
  const swap = arc.ry > arc.rx;
  const [long, short] = swap ? [arc.ry, arc.rx] : [arc.rx, arc.ry];
  const ratio = short / long;
  const turn = arc.rotation + (swap ? Math.PI / 2 : 0);
  const start = arc.start - (swap ? Math.PI / 2 : 0);
  const ccw = arc.sweep > 0;
  const from = ccw ? start : -start;
  const to = from + Math.abs(arc.sweep);
  if (!angles && !isFullTurn(arc.sweep) && (isBetweenQuarters(from, ratio) || isBetweenQuarters(to, ratio)))
    return splineEdge(x, arcSpline(arc));
  const stated = (parameter: number): number => (angles === 'directions' ? directionAt(parameter, ratio) : parameter);
  out.integer(72, 3);
  out.point2(10, arc.cx, arc.cy);
  out.point2(11, long * Math.cos(turn), long * Math.sin(turn));
  out.number(40, ratio);
  out.angle(50, stated(from));
  out.angle(51, stated(to));
  out.integer(73, ccw ? 1 : 0);
}
