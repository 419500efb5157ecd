import { TAU, bulgeArc, normalAngle } from '../../geometry/arcs.js';
import { ellipsePoint, isBetweenQuarters, parameterAt } from '../../geometry/ellipses.js';
import { Box2 } from '../../geometry/box.js';
import type { Nurbs } from '../../geometry/nurbs.js';
import { nurbsFault } from '../../geometry/nurbs.js';
import { cubicPieces } from '../../geometry/nurbs-cubics.js';
import type { EllipseAngles, Entity, Hatch, HatchGradient, HatchLoop, PatternLine } from '../../drawing/entity.js';
import { PathBuilder } from '../../geometry/path.js';
import type { Common } from './read-common.js';
import type { Bag } from './bag.js';
import { AT_END, COINCIDENT, isFullTurn } from '../../geometry/tolerance.js';

/** Reads the tags of a record one after the other. */
class Cursor {
  constructor(
    private readonly bag: Bag,
    public i: number,
  ) {}
  is(code: number): boolean {
    return this.i < this.bag.count && this.bag.codes[this.i] === code;
  }
  /** The number of the next tag if it has the code, otherwise the given one. */
  take(code: number, otherwise = 0): number {
    if (!this.is(code)) return otherwise;
    return this.bag.numberAt(this.i++);
  }
  /** The same for an angle, in radians. */
  takeAngle(code: number): number {
    return this.is(code) ? this.bag.radiansAt(this.i++) : 0;
  }
  skip(...codes: number[]): void {
    for (const c of codes) this.take(c);
  }
  /** Moves to the next tag with the code; `false` when there is none. */
  seek(code: number): boolean {
    while (this.i < this.bag.count && this.bag.codes[this.i] !== code) this.i++;
    return this.i < this.bag.count;
  }
}

/**
 * HATCH. Boundaries are given as polylines with bulges or as edges: line 1, circular arc 2, elliptic arc 3, spline 4
 * (DXF reference, "Boundary Path Data"). Angles of arcs that run clockwise are stored mirrored.
 */
export function readHatch(b: Bag, c: Common): Entity | null {
  const cursor = new Cursor(b, 0);
  if (!cursor.seek(91)) return null;
  const count = Math.min(cursor.take(91), b.count);
  const loops: HatchLoop[] = [];
  for (let n = 0; n < count; n++) {
    if (!cursor.seek(92)) break;
    const flags = cursor.take(92);
    const { path, ellipses } = flags & 2 ? polylineLoop(cursor) : edgeLoop(cursor);
    if (!path.empty) loops.push({ path: path.build(), flags: flags & ~2, ...(ellipses && { ellipses }) });
  }
  const gradient = gradientOf(b);
  const islands = ([undefined, 'outer', 'ignore'] as const)[b.integer(75)];
  return {
    kind: 'hatch',
    ...c,
    loops,
    solid: b.integer(70) === 1,
    pattern: b.text(2, 'SOLID'),
    elevation: b.number(30),
    angle: b.radians(52),
    scale: b.number(41, 1),
    ...(islands && { islands }),
    ...(gradient && { gradient }),
    ...patternLines(b),
    ...patternState(b),
  };
}

/** What is said of a pattern beside its lines (71, 76, 77), and the seed points (98, then 10 and 20 of each). */
function patternState(b: Bag): Pick<Hatch, 'patternBy' | 'double' | 'seeds' | 'associative'> {
  const by = (['user', undefined, 'file'] as const)[b.integer(76, 1)];
  const cursor = new Cursor(b, 0);
  const seeds: number[] = [];
  if (cursor.seek(98))
    for (let n = cursor.take(98); n > 0 && cursor.is(10); n--) seeds.push(cursor.take(10), cursor.take(20));
  return {
    ...(by && { patternBy: by }),
    ...(b.integer(77) === 1 && { double: true }),
    ...(seeds.some((v) => v !== 0) && { seeds: Float64Array.from(seeds) }),
    ...(b.integer(71) === 1 && { associative: true }),
  };
}

/** The pattern definition: per family angle 53, base 43 44, step 45 46, then 79 dashes 49. */
function patternLines(b: Bag): { lines?: PatternLine[] } {
  const cursor = new Cursor(b, 0);
  if (!cursor.seek(78)) return {};
  const n = cursor.take(78);
  const lines: PatternLine[] = [];
  for (let i = 0; i < n && cursor.is(53); i++) {
    const angle = cursor.takeAngle(53);
    const base: [number, number] = [cursor.take(43), cursor.take(44)];
    const step: [number, number] = [cursor.take(45), cursor.take(46)];
    const dashes: number[] = [];
    for (let k = cursor.take(79); k > 0 && cursor.is(49); k--) dashes.push(cursor.take(49));
    lines.push({ angle, base, step, dashes });
  }
  return lines.length > 0 ? { lines } : {};
}

interface ReadLoop {
  path: PathBuilder;
  ellipses?: EllipseAngles;
}

function polylineLoop(cursor: Cursor): ReadLoop {
  const path = new PathBuilder();
  // HATCH says bulges (72) before closed (73), MPOLYGON the other way round.
  const closedFirst = cursor.is(73) ? cursor.take(73) : null;
  const hasBulge = cursor.take(72) !== 0;
  const closed = (closedFirst ?? cursor.take(73, 1)) !== 0;
  const n = cursor.take(93);
  const pts: [number, number, number][] = [];
  for (let i = 0; i < n && cursor.is(10); i++) {
    const x = cursor.take(10);
    const y = cursor.take(20);
    pts.push([x, y, hasBulge ? cursor.take(42) : 0]);
  }
  if (pts.length < 2) return { path };
  path.moveTo(pts[0]![0], pts[0]![1]);
  for (let i = 0; i < pts.length; i++) {
    const j = (i + 1) % pts.length;
    if (j === 0 && !closed) break;
    const [x0, y0, bulge] = pts[i]!;
    const [x1, y1] = pts[j]!;
    const arc = bulgeArc(x0, y0, x1, y1, bulge);
    if (arc) path.arcTo(arc.radius, arc.radius, 0, Math.abs(arc.sweep) > Math.PI, arc.sweep > 0, x1, y1);
    else if (j !== 0) path.lineTo(x1, y1);
  }
  path.close();
  return { path };
}

/**
 * How far an edge turns from one angle to the other, counter-clockwise in the frame its angles are stored in: in (0, 2π],
 * also where the end is the smaller angle (270° to 90° is half a turn, not minus half). Equal angles are no turn.
 */
function turnFrom(from: number, to: number): number {
  const turn = to - from;
  if (turn === 0 || (turn > 0 && turn <= TAU + AT_END)) return turn;
  const normal = normalAngle(turn);
  return normal < AT_END ? TAU : normal;
}

/**
 * Edges one after the other. Programs differ in what the angles of elliptic ones are; a boundary is closed, so those are
 * meant with which its edges meet. Where both leave the same gaps, they are taken for parameters.
 */
function edgeLoop(cursor: Cursor): ReadLoop {
  const start = cursor.i;
  const first = edges(cursor, 'parameters');
  if (!first.ambiguous) return { path: first.path };
  const end = cursor.i;
  cursor.i = start;
  const second = edges(cursor, 'directions');
  cursor.i = end;
  return second.gaps < first.gaps * MEETS
    ? { path: second.path, ellipses: 'directions' }
    : { path: first.path, ellipses: 'parameters' };
}

/** By how much smaller the gaps of one reading have to be. */
const MEETS = 0.1;

interface ReadEdges {
  path: PathBuilder;
  /** How far ends lie from the starts after them, in all. */
  gaps: number;
  /** There are elliptic edges that end elsewhere when their angles are read the other way. */
  ambiguous: boolean;
}

function edges(cursor: Cursor, angles: EllipseAngles): ReadEdges {
  const path = new PathBuilder();
  const n = cursor.take(93);
  let at: [number, number] | null = null;
  let first: [number, number] | null = null;
  let gaps = 0;
  let ambiguous = false;
  const go = (x: number, y: number): void => {
    first ??= [x, y];
    const gap = at ? Math.hypot(at[0] - x, at[1] - y) : 0;
    gaps += gap;
    if (!at) path.moveTo(x, y);
    else if (gap > COINCIDENT * (Math.abs(x) + Math.abs(y) + 1)) path.lineTo(x, y);
  };
  for (let i = 0; i < n; i++) {
    if (!cursor.is(72)) break;
    const kind = cursor.take(72);
    if (kind === 1) {
      const [x0, y0, x1, y1] = [cursor.take(10), cursor.take(20), cursor.take(11), cursor.take(21)];
      go(x0, y0);
      path.lineTo(x1, y1);
      at = [x1, y1];
    } else if (kind === 2 || kind === 3) {
      const [cx, cy] = [cursor.take(10), cursor.take(20)];
      const [ux, uy] = kind === 3 ? [cursor.take(11), cursor.take(21)] : [1, 0];
      const size = cursor.take(40);
      const rx = kind === 3 ? Math.hypot(ux, uy) : size;
      const ry = kind === 3 ? rx * size : size;
      const turn = Math.atan2(uy, ux);
      const ratio = ry / rx;
      const stated = [cursor.takeAngle(50), cursor.takeAngle(51)] as const;
      if (kind === 3 && stated.some((a) => isBetweenQuarters(a, ratio))) ambiguous = true;
      let [from, to] =
        angles === 'directions' ? [parameterAt(stated[0], ratio), parameterAt(stated[1], ratio)] : stated;
      const ccw = cursor.take(73, 1) !== 0;
      const swept = turnFrom(from, to);
      if (!ccw) [from, to] = [-from, -to];
      const sweep = ccw ? swept : -swept;
      const arc = { cx, cy, rx, ry, rotation: turn, start: from, sweep };
      const point = (t: number): [number, number] => ellipsePoint(arc, t);
      go(...point(from));
      // A whole turn is drawn in halves, since an arc between equal ends would be none.
      const whole = isFullTurn(sweep);
      for (const t of whole ? [from + sweep / 2, from + sweep] : [to])
        path.arcTo(rx, ry, turn, !whole && Math.abs(sweep) > Math.PI, sweep > 0, ...point(t));
      at = point(to);
    } else if (kind === 4) at = splineEdge(cursor, path, go);
    else break;
  }
  if (at && first) gaps += Math.hypot(at[0] - first[0], at[1] - first[1]);
  path.close();
  return { path, gaps, ambiguous };
}

/** A spline edge as Bézier pieces: exact when it is not rational and of degree 3 or less, otherwise within 1e-9 of its size. */
function splineEdge(cursor: Cursor, path: PathBuilder, go: (x: number, y: number) => void): [number, number] {
  const degree = cursor.take(94);
  const rational = cursor.take(73) !== 0;
  cursor.take(74);
  const knotCount = cursor.take(95);
  const n = cursor.take(96);
  const knots: number[] = [];
  for (let i = 0; i < knotCount && cursor.is(40); i++) knots.push(cursor.take(40));
  const points: number[] = [];
  const weights: number[] = [];
  for (let i = 0; i < n && cursor.is(10); i++) {
    points.push(cursor.take(10), cursor.take(20), 0);
    weights.push(rational ? cursor.take(42, 1) : 1);
  }
  // Fit points and end tangents (from version 2010 on) say nothing that the control points do not.
  for (let fit = cursor.take(97); fit > 0 && cursor.is(11); fit--) cursor.skip(11, 21);
  cursor.skip(12, 22);
  cursor.skip(13, 23);
  if (points.length === 0) return [0, 0];
  const curve: Nurbs = {
    degree,
    knots: Float64Array.from(knots),
    points: Float64Array.from(points),
    ...(weights.some((w) => w !== 1) && { weights: Float64Array.from(weights) }),
  };
  const last: [number, number] = [points[points.length - 3]!, points[points.length - 2]!];
  if (nurbsFault(curve) !== null) {
    for (let i = 0; i < points.length; i += 3) (i === 0 ? go : path.lineTo.bind(path))(points[i]!, points[i + 1]!);
    return last;
  }
  const hull = new Box2();
  for (let i = 0; i < points.length; i += 3) hull.add(points[i]!, points[i + 1]!);
  let at: [number, number] = last;
  cubicPieces(curve, Math.max(hull.diagonal * COINCIDENT, 1e-300)).pieces.forEach(({ start, numbers: p }, i) => {
    if (i === 0) go(start[0], start[1]);
    if (p.length === 2) path.lineTo(p[0]!, p[1]!);
    else if (p.length === 4) path.quadTo(p[0]!, p[1]!, p[2]!, p[3]!);
    else path.cubicTo(p[0]!, p[1]!, p[2]!, p[3]!, p[4]!, p[5]!);
    at = [p[p.length - 2]!, p[p.length - 1]!];
  });
  return at;
}

/** A gradient: 450 1, then 452 one colour, 453 stops of 463 and 421, 460 angle, 461 shift, 462 tint, 470 name. */
function gradientOf(b: Bag): HatchGradient | undefined {
  if (b.integer(450) !== 1) return undefined;
  const offsets = b.numbers(463);
  const colours = b.numbers(421);
  return {
    name: b.text(470, 'LINEAR'),
    angle: b.number(460),
    shift: b.number(461),
    oneColour: b.integer(452) === 1,
    tint: b.number(462),
    stops: colours.map((c, i) => ({ offset: offsets[i] ?? i, rgb: c & 0xffffff })),
  };
}
