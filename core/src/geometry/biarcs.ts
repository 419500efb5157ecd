import type { Piece } from './path-pieces.js';
import { pointAt, startOf, endOf, tangentAt } from './path-pieces.js';

type Point = readonly [number, number];

/** A joint that turns by more than this (cosine of a degree) is a corner: no arc goes past it. */
const CORNER = Math.cos(Math.PI / 180);
/** In how many places of each piece distances are looked at. */
const LOOKS = 24;

/** Where a quick look is taken, as parts of the way. */
const QUICK = [1 / 2, 1 / 4, 3 / 4, 1 / 8, 7 / 8, 3 / 8, 5 / 8, 1 / 16, 15 / 16];
/** What was not near enough is tried again so much shorter. */
const SHORTER = 0.9;

/** What stands for curves: lines and circular arcs, and how far one lies from the other at most. */
export interface Fitted {
  pieces: Piece[];
  off: number;
}

/**
 * Free curves end to end as circular arcs and lines that go on each other without a kink, no further away than `bound`: pairs
 * of arcs with the tangents of the curve at both ends (K. M. Bolton, "Biarc curves", 1975), each over as much of the curve as it
 * can stand for. Straight and circular pieces stay; corners stay.
 */
export function asBiarcs(pieces: readonly Piece[], bound: number): Fitted {
  const out: Piece[] = [];
  let off = 0;
  for (let i = 0; i < pieces.length;) {
    if (!isFree(pieces[i]!)) {
      out.push(pieces[i]!);
      i++;
      continue;
    }
    let end = i + 1;
    while (end < pieces.length && isFree(pieces[end]!) && !isCorner(pieces[end - 1]!, pieces[end]!)) end++;
    const made = alongCurve(pieces.slice(i, end), bound);
    out.push(...made.pieces);
    off = Math.max(off, made.off);
    i = end;
  }
  return { pieces: out, off };
}

const isFree = (p: Piece): boolean => (p.kind === 'arc' ? p.rx !== p.ry : p.p.length > 4);

function unit([x, y]: Point): Point | null {
  const l = Math.hypot(x, y);
  return l > 0 ? [x / l, y / l] : null;
}

/** The direction of a curve at a parameter; where its derivative vanishes, that towards the points beside it. */
function directionAt(p: Piece, t: number): Point {
  const own = unit(tangentAt(p, t));
  if (own) return own;
  const [a, b] = [pointAt(p, Math.max(0, t - 1e-4)), pointAt(p, Math.min(1, t + 1e-4))];
  return unit([b[0] - a[0], b[1] - a[1]]) ?? [1, 0];
}

function isCorner(a: Piece, b: Piece): boolean {
  const [u, v] = [directionAt(a, 1), directionAt(b, 0)];
  return u[0] * v[0] + u[1] * v[1] < CORNER;
}

function alongCurve(curve: readonly Piece[], bound: number): Fitted {
  const n = curve.length;
  const at = (s: number): Point => {
    const k = Math.min(n - 1, Math.floor(s));
    return s >= n ? endOf(curve[n - 1]!) : s === k ? startOf(curve[k]!) : pointAt(curve[k]!, s - k);
  };
  const way = (s: number): Point => {
    const k = Math.min(n - 1, Math.floor(s));
    return directionAt(curve[k]!, s - k);
  };
  const out: Piece[] = [];
  let off = 0;
  for (let s = 0; s < n;) {
    let far = s;
    let [low, high] = [s, n];
    // The longest stretch that a pair of arcs stands for by a quick look, to a thousandth of a piece.
    for (let round = 0; round < 24 && high - low > 1e-3; round++) {
      const to: number = round === 0 ? n : (low + high) / 2;
      if (pairOfArcs(at, way, s, to, bound)) {
        far = to;
        if (to === n) break;
        low = to;
      } else high = to;
    }
    let best: { to: number; made: Fitted } | null = null;
    // What looked near is measured; what is not near enough after all is tried shorter.
    for (let to = far; !best && to - s > 1e-3; to = s + SHORTER * (to - s)) {
      const made = pairOfArcs(at, way, s, to, bound);
      const apart = made ? offOf(made, at, s, to, bound) : Infinity;
      if (made && apart <= bound * 0.999) best = { to, made: { pieces: made, off: apart * 1.001 } };
    }
    // So short a piece is straight to the eye; it is taken as it is, and its distance told.
    best ??= { to: Math.min(n, s + 1e-3), made: straight(at, s, Math.min(n, s + 1e-3)) };
    out.push(...best.made.pieces);
    off = Math.max(off, best.made.off);
    s = best.to;
  }
  return { pieces: out, off };
}

function straight(at: (s: number) => Point, from: number, to: number): Fitted {
  const pieces: Piece[] = [{ kind: 'bezier', p: [...at(from), ...at(to)] }];
  return { pieces, off: offOf(pieces, at, from, to, Infinity) };
}

/** Two arcs from one place of a curve to another, with its tangents there; `null` where a quick look finds them further off than the bound. */
function pairOfArcs(
  at: (s: number) => Point,
  way: (s: number) => Point,
  from: number,
  to: number,
  bound: number,
): Piece[] | null {
  const [a, b, u, v] = [at(from), at(to), way(from), way(to)];
  const joint = jointOf(a, b, u, v);
  if (!joint) return null;
  const pieces = [tangentPiece(a, u, joint), backwards(tangentPiece(b, [-v[0], -v[1]], joint))];
  if (pieces.some((p) => p.kind === 'arc' && Math.abs(p.sweep) > 1.5 * Math.PI)) return null;
  // The middle before all others: most tries are far off there.
  for (const k of QUICK) {
    const q = at(from + (to - from) * k);
    if (pieces.every((p) => toPiece(p, q) > bound)) return null;
  }
  return pieces;
}

/** Where both arcs meet: half way between the ends of tangents of equal length whose ends are twice that apart. */
function jointOf(a: Point, b: Point, u: Point, v: Point): Point | null {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const [sx, sy] = [u[0] + v[0], u[1] + v[1]];
  const dd = dx * dx + dy * dy;
  const ds = dx * sx + dy * sy;
  const uv = u[0] * v[0] + u[1] * v[1];
  const k = 2 * (1 - uv);
  if (!(dd > 0)) return null;
  let d: number;
  if (Math.abs(k) < 1e-12) {
    const du = dx * u[0] + dy * u[1];
    if (!(du > 0)) return null;
    d = dd / (4 * du);
  } else d = (-ds + Math.sqrt(ds * ds + k * dd)) / k;
  if (!(d > 0) || !Number.isFinite(d)) return null;
  return [(a[0] + b[0] + d * (u[0] - v[0])) / 2, (a[1] + b[1] + d * (u[1] - v[1])) / 2];
}

/** The arc, or line, from a point in a direction to another. */
function tangentPiece(a: Point, u: Point, to: Point): Piece {
  const [dx, dy] = [to[0] - a[0], to[1] - a[1]];
  const chord = Math.hypot(dx, dy);
  const cross = u[0] * dy - u[1] * dx;
  // Half the sweep is the angle between direction and chord.
  const half = Math.atan2(cross, u[0] * dx + u[1] * dy);
  if (Math.abs(Math.sin(half)) < 1e-9) return { kind: 'bezier', p: [...a, ...to] };
  const radius = chord / (2 * Math.sin(half));
  const [cx, cy] = [a[0] - u[1] * radius, a[1] + u[0] * radius];
  const r = Math.abs(radius);
  return {
    kind: 'arc',
    cx,
    cy,
    rx: r,
    ry: r,
    rotation: 0,
    start: Math.atan2(a[1] - cy, a[0] - cx),
    sweep: 2 * half,
    from: a,
    to,
  };
}

const backwards = (p: Piece): Piece =>
  p.kind === 'arc'
    ? { ...p, start: p.start + p.sweep, sweep: -p.sweep, from: p.to, to: p.from }
    : { kind: 'bezier', p: [p.p[2]!, p.p[3]!, p.p[0]!, p.p[1]!] };

/** The largest distance of a stretch of the curve from what stands for it, and the other way; what is more than `bound` need not be the largest. */
function offOf(pieces: readonly Piece[], at: (s: number) => Point, from: number, to: number, bound: number): number {
  const looks = LOOKS * Math.max(1, Math.ceil(to - from));
  const line = Array.from({ length: looks + 1 }, (_, k) => at(from + ((to - from) * k) / looks));
  const fromPieces = (q: Point): number => pieces.reduce((least, p) => Math.min(least, toPiece(p, q)), Infinity);
  let off = largest((k) => fromPieces(line[k] ?? at(from + ((to - from) * k) / looks)), looks, bound);
  for (const p of pieces) {
    if (off > bound) break;
    const fromPiece = (k: number): number => {
      const q = pointAt(p, k / LOOKS);
      let least = Infinity;
      let near = 0;
      for (let i = 0; i < line.length; i++) {
        const d = (line[i]![0] - q[0]) ** 2 + (line[i]![1] - q[1]) ** 2;
        if (d < least) [least, near] = [d, i];
      }
      return nearCurve(at, q, from + ((to - from) * near) / looks, (to - from) / looks, from, to);
    };
    off = Math.max(off, largest(fromPiece, LOOKS, bound));
  }
  return off;
}

/** The largest value of a function over 0 … n, looked for around the largest at whole numbers; the first that is more than `bound` ends it. */
function largest(f: (k: number) => number, n: number, bound: number): number {
  let most = 0;
  let best = 0;
  for (let k = 0; k <= n; k++) {
    const v = f(k);
    if (v > most) [most, best] = [v, k];
    if (v > bound) return v;
  }
  let [a, b] = [Math.max(0, best - 1), Math.min(n, best + 1)];
  for (let k = 0; k < 12; k++) {
    const [p, q] = [a + (b - a) / 3, b - (b - a) / 3];
    const [fp, fq] = [f(p), f(q)];
    most = Math.max(most, fp, fq);
    if (fp > fq) b = q;
    else a = p;
  }
  return most;
}

/** The distance of a place from a curve, searched around a parameter by narrowing thirds. */
function nearCurve(at: (s: number) => Point, q: Point, s: number, room: number, from: number, to: number): number {
  let [a, b] = [Math.max(from, s - room), Math.min(to, s + room)];
  const d = (t: number): number => {
    const [x, y] = at(t);
    return Math.hypot(x - q[0], y - q[1]);
  };
  for (let k = 0; k < 24; k++) {
    const [m, n] = [a + (b - a) / 3, b - (b - a) / 3];
    if (d(m) < d(n)) b = n;
    else a = m;
  }
  return d((a + b) / 2);
}

/** The distance of a place from a line or a circular arc. */
export function toPiece(p: Piece, [x, y]: Point): number {
  if (p.kind === 'bezier') {
    const [ax, ay, bx, by] = p.p as [number, number, number, number];
    const [dx, dy] = [bx - ax, by - ay];
    const l = dx * dx + dy * dy;
    const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l));
    return Math.hypot(x - ax - t * dx, y - ay - t * dy);
  }
  let turn = (Math.atan2(y - p.cy, x - p.cx) - p.start - p.rotation) * Math.sign(p.sweep);
  turn -= Math.floor(turn / (2 * Math.PI)) * 2 * Math.PI;
  if (turn <= Math.abs(p.sweep)) return Math.abs(Math.hypot(x - p.cx, y - p.cy) - p.rx);
  return Math.min(Math.hypot(x - p.from[0], y - p.from[1]), Math.hypot(x - p.to[0], y - p.to[1]));
}
