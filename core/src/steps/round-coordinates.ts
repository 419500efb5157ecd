import { powerOfTen } from '../geometry/power-of-ten.js';
import { selectedBy } from '../analysis/selection.js';
import { bulgePiece } from '../geometry/bulge-piece.js';
import { derive } from '../drawing/derive.js';
import type { Arc, Draft, Entity, Polyline, Spline } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { UNIT_NAMES, conversion } from '../drawing/units.js';
import type { UnitName } from '../drawing/units.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import { bulgeOf, ccwSweep, normalAngle } from '../geometry/arcs.js';
import { evaluate, nurbsFault } from '../geometry/nurbs.js';
import type { PathData } from '../geometry/path.js';
import { CMD_LENGTH, Cmd } from '../geometry/path.js';
import { RoundGrid } from '../geometry/rounding.js';
import { isFullTurn } from '../geometry/tolerance.js';
import type { Vec3 } from '../geometry/vector.js';
import { length } from '../geometry/vector.js';
import { p } from '../parameters/parameter.js';
import { rehung } from './dimension-anchors.js';
import { exampleDrawing, sketch } from './example.js';
import { polylineBy } from './rebuilt.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { movedBy, tellChange, unitOf } from './tell.js';

/** Brings coordinates to so many decimals, or to multiples of a step. */
export const roundCoordinates = defineStep({
  id: 'round-coordinates',
  title: 'Round coordinates',
  summary: 'Brings points to so many decimals, or to multiples of a step; what was one point stays one.',
  carries: ['scale', 'curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0.8, 0.6, 39.1, 1.2, 40.9, 23.2, 21, 18.3, 0.7, 25.1], true),
      sketch.circle(20.7, 9.2, 4.6),
    ]),
    params: { to: 'step', step: 4 },
  },
  params: {
    to: p.choice({
      title: 'Round to',
      default: 'decimals',
      choices: { decimals: 'Decimals', step: 'Multiples of a length' },
    }),
    decimals: p.number({ when: { to: 'decimals' }, title: 'Decimals', default: 2, atLeast: 0, atMost: 9, whole: true }),
    unit: p.choice({
      when: { to: 'decimals' },
      title: 'Of',
      default: 'own',
      choices: {
        own: 'the drawing’s unit',
        ...(Object.fromEntries(UNIT_NAMES.map((u) => [u, u])) as Record<UnitName, string>),
      },
    }),
    step: p.length({ when: { to: 'step' }, title: 'Multiples of', default: 1, above: 0 }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    let step = params.step;
    if (params.to === 'decimals') {
      step = powerOfTen(-params.decimals);
      const own = drawing.unit;
      if (params.unit !== 'own') {
        if (!own || own.unit === 'px')
          throw new UserError(
            'wrong-parameter',
            `Decimals of ${params.unit} cannot be counted while nobody has stated the unit of the drawing: decide on its unit, or round in its own`,
          );
        step *= conversion(params.unit, own.unit) / own.factor;
      }
    }
    const told: Told = { moved: 0, merged: 0, lost: 0, strayed: 0 };
    const made = inSpaces(drawing, ctx, (space) =>
      roundedIn(space, new RoundGrid(step / space.scale), wanted, told, ctx),
    );
    const unit = unitOf(drawing);
    const most = Number(new RoundGrid(step).mostShift(2).toPrecision(3));
    const reason = because('coordinates-rounded', {
      step: `${Number(step.toPrecision(6))} ${unit}`,
      most: `${most} ${unit}`,
    });
    tellChange(ctx, 'scale', told.moved, reason, movedBy(drawing, told.strayed));
    tellChange(ctx, 'scale', told.merged, 'points-fell-together');
    if (told.lost > 0)
      ctx.ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        onPurpose: true,
        count: told.lost,
        reason: 'rounded-away',
      });
    const turned =
      made === drawing
        ? 0
        : made.entities.filter((e) => e.kind === 'insert' && Math.abs(Math.sin(2 * e.rotation)) > 1e-9).length;
    if (turned > 0) ctx.leave('rounded-in-own-axes', undefined, turned);
    return made;
  },
});

interface Told {
  moved: number;
  merged: number;
  lost: number;
  strayed: number;
}

/** What becomes of one entity: another, nothing, or itself; `off`: how far a point of it moved, `merged`: points that fell together. */
interface Rounded {
  to: Entity | null;
  off: number;
  measured: number;
  merged: number;
}

function roundedIn(
  space: Space,
  grid: RoundGrid,
  wanted: (e: Entity) => boolean,
  told: Told,
  ctx: StepContext,
): readonly Entity[] {
  let any = false;
  const moved = (x: number, y: number): [number, number] | null => [grid.of(x), grid.of(y)];
  const out = space.entities.flatMap((e, i): readonly Entity[] => {
    if (i % 4096 === 0) checkStop(ctx);
    if (!wanted(e)) return [e];
    if (e.kind === 'dimension') {
      const made = rehung(e, moved, ctx);
      any ||= made !== e;
      return [made];
    }
    if (e.normal && (e.normal[0] !== 0 || e.normal[1] !== 0)) {
      ctx.leave('rounding-tilted', e);
      return [e];
    }
    const made = roundedEntity(e, grid, ctx);
    if (!made) return [e];
    ctx.look();
    if (made.to === e) return [e];
    any = true;
    told.merged += made.merged;
    told.strayed = Math.max(told.strayed, made.measured * space.scale);
    if (!made.to) {
      told.lost++;
      ctx.lineage.remove(e, 'without-length');
      return [];
    }
    told.moved++;
    ctx.lineage.replace(e, [made.to], 'rounded', made.off);
    return [made.to];
  });
  return any ? out : space.entities;
}

/** `null` for kinds that are left alone: letters, and what is shown by others. */
function roundedEntity(e: Entity, grid: RoundGrid, ctx: StepContext): Rounded | null {
  const g = new Shift(grid);
  const done = (to: Entity | null, merged = 0, measured = g.off): Rounded => ({
    to: g.off === 0 && merged === 0 ? e : to,
    off: g.off,
    measured,
    merged,
  });
  switch (e.kind) {
    case 'line': {
      const [start, end] = [g.place(e.start), g.place(e.end)];
      return done(same(start, end) ? null : { ...e, start, end });
    }
    case 'point':
      return done({ ...e, at: g.place(e.at) });
    case 'insert':
      return done({ ...e, at: g.place(e.at) });
    case 'circle':
      if (grid.of(e.radius) === 0) {
        ctx.leave('radius-below-step', e);
        return null;
      }
      return done({ ...e, centre: g.place(e.centre), radius: g.size(e.radius) });
    case 'arc':
      return roundedArc(e, g);
    case 'ellipse': {
      const [a, b] = [length(e.major), length(e.major) * e.ratio];
      if (!isFullTurn(ccwSweep(e.start, e.end)) || grid.of(a) === 0 || grid.of(b) === 0) {
        ctx.leave('rounding-part-of-ellipse', e);
        return null;
      }
      const centre = g.place(e.centre);
      const [long, short] = [g.size(a), g.size(b)];
      const k = long / a;
      return done({ ...e, centre, major: [e.major[0] * k, e.major[1] * k, e.major[2] * k], ratio: short / long });
    }
    case 'polyline':
      return roundedPolyline(e, g);
    case 'spline': {
      const made: Draft<Spline> = { ...e, points: g.places(e.points) };
      if (e.fitPoints) made.fitPoints = g.places(e.fitPoints);
      return done(made, 0, nurbsFault(e) === null ? splineOff(e, made) : g.off);
    }
    case 'path':
      return done({ ...e, path: g.path(e.path) });
    case 'hatch':
      return done({ ...e, loops: e.loops.map((l) => ({ ...l, path: g.path(l.path) })) });
    case 'face':
      return done({ ...e, corners: e.corners.map((c) => g.place(c)) });
    case 'mesh':
      return done({ ...e, points: g.places(e.points) });
    default:
      return null;
  }
}

const same = (a: Vec3, b: Vec3): boolean => a[0] === b[0] && a[1] === b[1] && a[2] === b[2];

/** Rounds numbers and keeps in mind how far the farthest point went. */
class Shift {
  off = 0;

  constructor(readonly grid: RoundGrid) {}

  number(v: number): number {
    const to = this.grid.of(v);
    this.off = Math.max(this.off, Math.abs(to - v));
    return to;
  }
  /** A radius: what moved already moves by its change as well. */
  size(v: number): number {
    const to = this.grid.of(v);
    this.off += Math.abs(to - v);
    return to;
  }
  place([x, y, z]: Vec3): Vec3 {
    const to: Vec3 = [this.grid.of(x), this.grid.of(y), this.grid.of(z)];
    this.off = Math.max(this.off, Math.hypot(to[0] - x, to[1] - y, to[2] - z));
    return to;
  }
  flat(x: number, y: number): [number, number] {
    const [u, v] = this.place([x, y, 0]);
    return [u, v];
  }
  places(list: Float64Array): Float64Array {
    const out = new Float64Array(list.length);
    for (let i = 0; i < list.length; i += 3) out.set(this.place([list[i]!, list[i + 1]!, list[i + 2]!]), i);
    return out;
  }
  /** End points and control points; a circular arc keeps its sweep between its rounded ends. */
  path({ cmds, data }: PathData): PathData {
    const out = data.slice();
    let at = 0;
    let [x, y, px, py] = [0, 0, 0, 0];
    for (const cmd of cmds) {
      const n = CMD_LENGTH[cmd]!;
      const first = cmd === Cmd.Arc ? 5 : 0;
      for (let k = first; k < n; k += 2) out.set(this.flat(data[at + k]!, data[at + k + 1]!), at + k);
      if (n > 0) {
        const [ox, oy] = [data[at + n - 2]!, data[at + n - 1]!];
        const [nx, ny] = [out[at + n - 2]!, out[at + n - 1]!];
        if (cmd === Cmd.Arc) {
          const before = Math.hypot(ox - x, oy - y);
          const k = before > 0 ? Math.hypot(nx - px, ny - py) / before : 1;
          out[at] = data[at]! * k;
          out[at + 1] = data[at + 1]! * k;
        }
        [x, y, px, py] = [ox, oy, nx, ny];
      }
      at += n;
    }
    return { cmds, data: out };
  }
}

/** An arc keeps its sweep; its ends are rounded, so that what ends there too still does. */
function roundedArc(e: Arc, g: Shift): Rounded {
  const sweep = ccwSweep(e.start, e.end);
  const at = (t: number): [number, number] => [
    e.centre[0] + e.radius * Math.cos(t),
    e.centre[1] + e.radius * Math.sin(t),
  ];
  const z = g.grid.of(e.centre[2]);
  const [a, b] = [at(e.start), at(e.end)];
  const [p, q] = [g.flat(...a), g.flat(...b)];
  g.off = Math.max(g.off, Math.abs(z - e.centre[2]));
  // What stands on round ends but for rounding is not worked out anew.
  if (g.off <= 1e-9 * g.grid.step) return { to: e, off: 0, measured: 0, merged: 0 };
  const piece = bulgePiece(...p, ...q, bulgeOf(sweep));
  if (piece.kind !== 'arc') return { to: null, off: g.off, measured: g.off, merged: 0 };
  const to = derive(e, 'whole', {
    kind: 'arc',
    centre: [piece.cx, piece.cy, z],
    radius: piece.rx,
    start: normalAngle(piece.start),
    end: normalAngle(piece.start + piece.sweep),
  });
  // A flat arc between ends that moved moves by its rise as well.
  const grown = Math.abs(piece.rx - e.radius) + Math.hypot(piece.cx - e.centre[0], piece.cy - e.centre[1]);
  const off = Math.max(g.off, Math.min(grown, g.off * (1 + Math.abs(bulgeOf(sweep)))));
  return { to, off, measured: off, merged: 0 };
}

function roundedPolyline(e: Polyline, g: Shift): Rounded {
  const n = e.points.length / e.dim;
  const kept: number[] = [];
  const points: number[] = [];
  const elevation = e.dim === 2 ? g.number(e.elevation) : e.elevation;
  for (let i = 0; i < n; i++) {
    const at: Vec3 = [e.points[e.dim * i]!, e.points[e.dim * i + 1]!, e.dim === 3 ? e.points[3 * i + 2]! : 0];
    const to = g.place(at).slice(0, e.dim);
    const m = points.length;
    // What falls onto the point before it goes, and the edge between them.
    const falls = kept.length > 0 && to.every((v, d) => v === points[m - e.dim + d]);
    if (falls && !isPoint(e, kept[kept.length - 1]!, i)) {
      kept[kept.length - 1] = i;
      continue;
    }
    kept.push(i);
    points.push(...to);
  }
  if (e.closed && kept.length > 1 && points.slice(0, e.dim).every((v, d) => v === points[points.length - e.dim + d])) {
    if (!isPoint(e, kept[kept.length - 1]!, kept[0]!)) {
      kept.pop();
      points.length -= e.dim;
    }
  }
  const merged = n - kept.length;
  const to =
    kept.length < 2
      ? null
      : polylineBy(e, kept, {
          elevation,
          points: Float64Array.from(points),
          ...(e.bulges && { bulges: Float64Array.from(kept, (k) => e.bulges![k]!) }),
        });
  const bent = e.bulges ? Math.max(...e.bulges.map(Math.abs)) : 0;
  const off = g.off * (1 + Math.min(bent, 1e6));
  return { to: g.off === 0 && merged === 0 ? e : to, off, measured: g.off, merged };
}

/** Whether two points of a polyline were one already: such are not ours to take out. */
function isPoint(e: Polyline, i: number, k: number): boolean {
  for (let d = 0; d < e.dim; d++) if (e.points[e.dim * i + d] !== e.points[e.dim * k + d]) return false;
  return true;
}

/** How far a spline with other control points lies from what it was, at the same parameters, in sixteen places of each span. */
function splineOff(a: Spline, b: Spline): number {
  const [p, q] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  let most = 0;
  for (let i = a.degree; i < a.points.length / 3; i++)
    for (let k = 0; k <= 16; k++) {
      const u = a.knots[i]! + ((a.knots[i + 1]! - a.knots[i]!) * k) / 16;
      evaluate(a, u, p);
      evaluate(b, u, q);
      most = Math.max(most, Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!, p[2]! - q[2]!));
    }
  return most;
}
