import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import { levelOf, entityOfRun, isStraight, pathOfRun, runsOf } from '../drawing/courses.js';
import { hasVaryingWidth } from '../drawing/constant-width.js';
import { derive } from '../drawing/derive.js';
import type { Entity, Polyline } from '../drawing/entity.js';
import { hiddenCircle } from '../drawing/hidden-circle.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { areaOfPieces } from '../geometry/piece-area.js';
import { joinedPaths } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';
import { pointAt, startOf } from '../geometry/path-pieces.js';
import { fitCircle } from '../geometry/fit-circle.js';
import { momentsOf } from '../geometry/planar/moments.js';
import { arcRuns } from '../geometry/recover/chord-runs.js';
import type { ArcRules } from '../geometry/recover/run-arc.js';
import { MOST_TURN, roundRadius } from '../geometry/recover/run-arc.js';
import { arcOfCurves, ellipseOfCurves, smoothness, straightOf } from '../geometry/recover/smooth-arcs.js';
import { COINCIDENT } from '../geometry/tolerance.js';
import { CIRCLE_TOLERANCE } from '../parameters/circle-tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { Space } from './spaces.js';
import { polylineBy } from './rebuilt.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { movedBy, tellChange, unitOf } from './tell.js';

/** Makes arcs, circles, ellipses and straights of the chords and free curves that stand for them. */
export const recoverArcs = defineStep({
  id: 'recover-arcs',
  title: 'Recover arcs',
  summary: 'Chords and free curves that stand for arcs, circles, ellipses or straights become those again.',
  carries: ['curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([
      sketch.chain(
        Array.from(
          { length: 32 },
          (_, i) => 12 + 11 * (i % 2 ? Math.sin : Math.cos)((Math.floor(i / 2) * Math.PI) / 8),
        ),
        true,
      ),
      sketch.chain(
        [
          30,
          0,
          50,
          0,
          ...Array.from({ length: 6 }, (_, i) => [
            50 + 10 * Math.sin(((i + 1) * Math.PI) / 12),
            10 - 10 * Math.cos(((i + 1) * Math.PI) / 12),
          ]).flat(),
          60,
          24,
          30,
          24,
        ],
        true,
      ),
    ]),
  },
  params: {
    ...CIRCLE_TOLERANCE,
    bound: p.length({ title: 'The curve moves by at most', automatic: 'as far as that says', default: 0, atLeast: 0 }),
    circles: p.yesNo({ title: 'Circles', default: true }),
    arcs: p.yesNo({ title: 'Arcs', default: true }),
    ellipses: p.yesNo({ title: 'Ellipses', default: true }),
    straights: p.yesNo({ title: 'Straights', default: true }),
    fewest: p.number({
      when: { arcs: true },
      title: 'Arcs of chords have points, at least',
      default: 5,
      atLeast: 3,
      whole: true,
    }),
    sweep: p.angle({ when: { arcs: true }, title: 'Arcs turn by at least', default: 15, atLeast: 0, atMost: 350 }),
    radius: p.choice({
      title: 'Radius of chords',
      default: 'corners',
      choices: {
        corners: 'Through their corners',
        area: 'Of the same area',
        middle: 'Half way between out and inside',
      },
    }),
    tidy: p.yesNo({ title: 'Round radii where the bound allows', default: false }),
    tangent: p.angle({
      when: { arcs: true },
      title: 'Without a kink where it is below',
      default: 1,
      atLeast: 0,
      atMost: 30,
    }),
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const told: Told = { circles: 0, arcs: 0, ellipses: 0, straights: 0, corners: 0, curve: 0, objects: 0 };
    const made = inSpaces(drawing, ctx, (space) => {
      const { circles, arcs, ellipses, straights } = params;
      const rules: ArcRules = {
        tolerance: params.tolerance / 1000,
        bound: params.bound / space.scale,
        fewest: params.fewest,
        sweep: (params.sweep * Math.PI) / 180,
        by: params.radius,
        tidy: params.tidy,
        tangent: (params.tangent * Math.PI) / 180,
      };
      return recoveredIn(space, { circles, arcs, ellipses, straights, rules }, wanted, told, ctx);
    });
    const unit = unitOf(drawing);
    const length = (v: number): string => `${Number(v.toPrecision(3))} ${unit}`;
    tellChange(
      ctx,
      'curves',
      told.objects,
      because('arcs-recovered', {
        circles: told.circles,
        arcs: told.arcs,
        ellipses: told.ellipses,
        straights: told.straights,
        corners: length(told.corners),
        curve: length(told.curve),
      }),
      movedBy(drawing, told.curve),
    );
    return made;
  },
});

interface Options {
  circles: boolean;
  arcs: boolean;
  ellipses: boolean;
  straights: boolean;
  rules: ArcRules;
}

interface Told {
  circles: number;
  arcs: number;
  ellipses: number;
  straights: number;
  /** How far corners of chords, and joints of curves, lie off what was recovered, and the curves themselves. */
  corners: number;
  curve: number;
  objects: number;
}

/** What a curve became: how far its corners lie off that, and the curve itself. */
interface Recovered {
  to: Entity;
  corners: number;
  curve: number;
  found: Partial<Pick<Told, 'circles' | 'arcs' | 'ellipses' | 'straights'>>;
}

function recoveredIn(
  space: Space,
  o: Options,
  wanted: (e: Entity) => boolean,
  told: Told,
  ctx: StepContext,
): readonly Entity[] {
  let any = false;
  const out = space.entities.map((e, i) => {
    if (i % 512 === 0) checkStop(ctx);
    if (!wanted(e) || (e.kind !== 'polyline' && e.kind !== 'path' && e.kind !== 'spline')) return e;
    ctx.look();
    const made = recovered(e, o);
    if (!made) return e;
    any = true;
    told.objects++;
    for (const [what, n] of Object.entries(made.found)) told[what as 'arcs'] += n;
    told.corners = Math.max(told.corners, made.corners * space.scale);
    told.curve = Math.max(told.curve, made.curve * space.scale);
    ctx.lineage.replace(e, [made.to], 'arcs-recovered', made.curve);
    return made.to;
  });
  return any ? out : space.entities;
}

function recovered(e: Entity, o: Options): Recovered | null {
  const whole = (o.circles && circleOf(e, o)) || (o.ellipses && ellipseOf(e, o));
  if (whole) return whole;
  if (e.kind === 'polyline') return o.arcs ? arcsOfPolyline(e, o) : null;
  return curvesOf(e, o);
}

const within = (o: Options, radius: number): number =>
  Math.min(o.rules.tolerance * radius, o.rules.bound > 0 ? o.rules.bound : Infinity);

function circleOf(e: Entity, o: Options): Recovered | null {
  const c = hiddenCircle(e, o.rules.tolerance);
  if (!c) return null;
  const lift = e.kind === 'polyline' ? e.elevation : 0;
  const runs = e.kind === 'polyline' || e.kind === 'path' ? ownRuns(e) : null;
  const pieces = runs?.[0]?.pieces ?? [];
  let [x, y, radius] = [c.x, c.y, c.radius];
  const chords = pieces.every(isStraight);
  // Joints of curves that stand for a circle lie on it; what is between strays outwards.
  const joints = fitCircle(pieces.flatMap((q) => [...startOf(q)]));
  if (!chords && joints && pieces.length >= 3 && joints.off <= COINCIDENT * 1e3 * joints.radius)
    ({ x, y, radius } = joints);
  const off = (r: number): { corners: number; curve: number } => offCircle(pieces, x, y, r);
  if (chords && o.rules.by === 'area') radius = Math.sqrt(Math.abs(areaOfPieces(pieces)) / Math.PI);
  if (chords && o.rules.by === 'middle') radius -= off(radius).curve / 2;
  const tidy = o.rules.tidy ? roundRadius(radius, within(o, radius)) : null;
  if (tidy !== null) radius = tidy;
  const { corners, curve } = off(radius);
  if (o.rules.bound > 0 && curve > o.rules.bound) return null;
  const to = derive(e, 'whole', { kind: 'circle', centre: [x, y, lift], radius });
  return { to, corners, curve, found: { circles: 1 } };
}

/** The runs of an entity in its own plane, whatever that is. */
const ownRuns = (e: Entity): Run[] | null => runsOf({ ...e, normal: undefined } as Entity);

function offCircle(pieces: readonly Piece[], x: number, y: number, radius: number): { corners: number; curve: number } {
  let [corners, curve] = [0, 0];
  for (const piece of pieces)
    for (let k = 0; k < 64; k++) {
      const [px, py] = pointAt(piece, k / 64);
      const d = Math.abs(Math.hypot(px - x, py - y) - radius);
      curve = Math.max(curve, d);
      if (k === 0) corners = Math.max(corners, d);
    }
  return { corners, curve };
}

function ellipseOf(e: Entity, o: Options): Recovered | null {
  const runs = runsOf(e);
  if (runs?.length !== 1 || !runs[0]!.closed) return null;
  const { pieces, z } = runs[0]!;
  if (pieces.some((q) => q.kind === 'arc')) return null;
  const chords = pieces.filter(isStraight).length;
  // Chords and curves together are meant as something else; few chords are a polygon.
  if (chords > 0 && (chords < pieces.length || chords < 12)) return null;
  const found = ellipseOfCurves(pieces, momentsOf(pathOfRun(runs[0]!)), (a) => within(o, a));
  if (!found || found.b > found.a * (1 - 1e-6)) return null;
  const curve = Math.max(found.off, found.chords);
  if (o.rules.bound > 0 && curve > o.rules.bound) return null;
  const { x, y, a, b, turn } = found;
  const to = derive(e, 'whole', {
    kind: 'ellipse',
    centre: [x, y, z],
    major: [a * Math.cos(turn), a * Math.sin(turn), 0],
    ratio: b / a,
    start: 0,
    end: 2 * Math.PI,
    normal: undefined,
  });
  return { to, corners: found.off, curve, found: { ellipses: 1 } };
}

/** A polyline with the runs of chords in it that are arcs as arcs; looked at again until no more are found. */
function arcsOfPolyline(e: Polyline, o: Options): Recovered | null {
  if (e.dim === 3 && levelOf(e.points) === null) return null;
  if (hasVaryingWidth(e)) return null;
  let now = e;
  let [corners, curve, arcs] = [0, 0, 0];
  for (let round = 0; round < 6; round++) {
    const made = arcsOnce(now, o);
    if (!made) break;
    now = made.to;
    corners = Math.max(corners, made.corners);
    curve = Math.max(curve, made.curve);
    arcs += made.arcs;
  }
  return arcs === 0 ? null : { to: now, corners, curve, found: { arcs } };
}

function arcsOnce(e: Polyline, o: Options): { to: Polyline; corners: number; curve: number; arcs: number } | null {
  const n = e.points.length / e.dim;
  const first = e.closed ? sharpest(e) : 0;
  const places = Array.from({ length: e.closed ? n + 1 : n }, (_, k) => (first + k) % n);
  const xy = places.flatMap((k) => [e.points[e.dim * k]!, e.points[e.dim * k + 1]!]);
  const bulge = (k: number): number => e.bulges?.[places[k]!] ?? 0;
  const runs = arcRuns(xy, (k) => bulge(k) !== 0, o.rules);
  if (runs.length === 0) return null;
  const kept: number[] = [];
  const bulges: number[] = [];
  let [corners, curve, at] = [0, 0, 0];
  for (let k = 0; k < places.length; k++) {
    const run = runs[at];
    if (run && k === run.from) {
      kept.push(places[k]!);
      bulges.push(run.arc.bulge);
      corners = Math.max(corners, run.arc.corners);
      curve = Math.max(curve, run.arc.chords, run.arc.corners);
      at++;
      k = run.to - 1;
    } else {
      kept.push(places[k]!);
      bulges.push(bulge(k));
    }
  }
  if (e.closed) {
    kept.pop();
    bulges.pop();
  }
  const to = polylineBy(e, kept, {
    dim: 2,
    elevation: e.dim === 3 ? (e.points[2] ?? 0) : e.elevation,
    points: Float64Array.from(kept.flatMap((k) => [e.points[e.dim * k]!, e.points[e.dim * k + 1]!])),
    bulges: Float64Array.from(bulges),
  });
  return { to, corners, curve, arcs: runs.length };
}

/** Where no arc of a closed polyline goes past: its sharpest corner, or where its edges change their length most. */
function sharpest(e: Polyline): number {
  const n = e.points.length / e.dim;
  const at = (k: number): [number, number] => [e.points[e.dim * (k % n)]!, e.points[e.dim * (k % n) + 1]!];
  let [most, corner, ratio, change] = [-1, 0, 0, 0];
  for (let k = 0; k < n; k++) {
    const [a, b, c] = [at(k + n - 1), at(k), at(k + 1)];
    const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
    const turn = Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
    if (turn > most + 1e-9) [most, corner] = [turn, k];
    const [p, q] = [Math.hypot(ux, uy), Math.hypot(vx, vy)];
    const grows = Math.max(p / q, q / p);
    if (Number.isFinite(grows) && grows > ratio + 1e-9) [ratio, change] = [grows, k];
  }
  return most <= MOST_TURN && ratio > 1.2 ? change : corner;
}

/** A path or spline with the free curves in it that are arcs or straights as such. */
function curvesOf(e: Entity, o: Options): Recovered | null {
  const runs = e.kind === 'path' ? ownRuns(e) : runsOf(e);
  if (!runs || runs.length === 0) return null;
  let [arcs, straights, curve] = [0, 0, 0];
  const made = runs.map((run) => {
    const pieces: Piece[] = [];
    for (let i = 0; i < run.pieces.length;) {
      const piece = run.pieces[i]!;
      const size = Math.hypot(pointAt(piece, 1)[0] - pointAt(piece, 0)[0], pointAt(piece, 1)[1] - pointAt(piece, 0)[1]);
      const straight = o.straights
        ? straightOf(
            piece,
            Math.max(COINCIDENT * size, Math.min(o.rules.bound || Infinity, o.rules.tolerance * size * 0.1)),
          )
        : null;
      if (straight) {
        straights++;
        curve = Math.max(curve, offChord(piece, straight));
        pieces.push(straight);
        i++;
        continue;
      }
      const arc = o.arcs ? longestArc(run.pieces, i, o) : null;
      if (arc) {
        arcs++;
        curve = Math.max(curve, arc.off);
        pieces.push(arc.piece);
        i = arc.to;
        continue;
      }
      pieces.push(piece);
      i++;
    }
    return { ...run, pieces };
  });
  if (arcs + straights === 0) return null;
  const alone = made.length === 1 && e.look.fill.kind === 'none' ? entityOfRun(e, made[0]!) : null;
  // A path stays a path unless all of it is one line, arc or circle; a spline becomes what it is.
  const simple = alone && (alone.kind !== 'polyline' || e.kind === 'spline') ? alone : null;
  if (e.kind !== 'path' && !simple) return null;
  const to =
    simple ??
    derive(e, 'whole', {
      kind: 'path',
      path: joinedPaths(made.map(pathOfRun)),
      ...(e.rest !== undefined && { rest: e.rest }),
    });
  return { to, corners: 0, curve, found: { arcs, straights } };
}

function offChord(piece: Piece, line: Piece): number {
  const [x0, y0, x1, y1] = (line as Extract<Piece, { kind: 'bezier' }>).p as [number, number, number, number];
  const l = Math.hypot(x1 - x0, y1 - y0);
  let most = 0;
  for (let k = 1; k < 16; k++) {
    const [x, y] = pointAt(piece, k / 16);
    most = Math.max(most, Math.abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) / l);
  }
  return most;
}

/** The arc over as many free curves as it stands for, from one on. */
function longestArc(
  pieces: readonly Piece[],
  from: number,
  o: Options,
): { piece: Piece; to: number; off: number } | null {
  let best: { piece: Piece; to: number; off: number } | null = null;
  for (let to = from + 1; to <= pieces.length && to - from <= 64; to++) {
    const last = pieces[to - 1]!;
    if (last.kind === 'arc' || isStraight(last)) break;
    if (to - from > 1 && smoothness(pieces[to - 2]!, last) < 0.99) break;
    const found = arcOfCurves(pieces.slice(from, to), (r) => within(o, r));
    if (!found || Math.abs(found.arc.sweep) > 1.9 * Math.PI) break;
    // One flatter than a thousandth of its radius stays what it is.
    const round = Math.abs(found.arc.sweep) >= Math.max(o.rules.sweep, 1e-3);
    if (round) best = { piece: found.arc, to, off: found.off };
  }
  return best;
}
