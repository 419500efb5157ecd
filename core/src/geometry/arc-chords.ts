import { TAU, bulgeArc, bulgeOf } from './arcs.js';
import type { Piece } from './path-pieces.js';
import { endOf, pointAt, startOf } from './path-pieces.js';
import { AT_END, isFullTurn } from './tolerance.js';

/** How curves are cut into chords. */
export interface ChordRules {
  by: 'sagitta' | 'longest' | 'angle';
  /** The largest distance of a curve from its chords, the longest chord (in units of the curve), the largest turn (radians). */
  bound: number;
  longest: number;
  angle: number;
  /** Whether corners lie on the curve, chords touch it, or both go half way. Curves that are no circles are always inscribed. */
  side: 'inscribed' | 'circumscribed' | 'half';
}

/** Chords as the points after the start, and how far they lie from the curve at most. */
export interface Chorded {
  points: number[];
  off: number;
}

/**
 * How many chords a circular arc needs: none further off than the bound. Inscribed, the sagitta is r(1 − cos(θ/2)); chords that
 * touch stand off by r(1/cos(θ/2) − 1); half way both ways by r(1 − cos)/(1 + cos).
 */
export function chordsOfArc(radius: number, sweep: number, rules: ChordRules): number {
  const turn = Math.abs(sweep);
  const ratio = Math.min(rules.bound / radius, 1);
  const half = {
    inscribed: Math.acos(1 - ratio),
    circumscribed: Math.acos(1 / (1 + ratio)),
    half: Math.acos((1 - ratio) / (1 + ratio)),
  }[rules.side];
  const step =
    rules.by === 'sagitta'
      ? 2 * half
      : rules.by === 'longest'
        ? 2 * Math.asin(Math.min(1, rules.longest / (2 * radius)))
        : rules.angle;
  const n = Math.ceil(turn / step - AT_END);
  return Math.max(isFullTurn(turn) ? 3 : 1, Math.min(n, 100_000));
}

/** How far chords of a step lie off a circle. */
export function offOfStep(radius: number, step: number, side: ChordRules['side']): number {
  const c = Math.cos(step / 2);
  return radius * { inscribed: 1 - c, circumscribed: 1 / c - 1, half: (1 - c) / (1 + c) }[side];
}

/**
 * A whole circle by its corners, the first to the right of its centre; circumscribed and half way ones stand out to the same
 * sides as inscribed ones.
 */
export function circleChords(x: number, y: number, radius: number, rules: ChordRules): Chorded {
  const n = chordsOfArc(radius, TAU, rules);
  const step = TAU / n;
  const reach =
    radius * { inscribed: 1, circumscribed: 1 / Math.cos(step / 2), half: 2 / (1 + Math.cos(step / 2)) }[rules.side];
  const points = Array.from({ length: n }, (_, i) => [
    x + reach * Math.cos(i * step),
    y + reach * Math.sin(i * step),
  ]).flat();
  return { points, off: offOfStep(radius, step, rules.side) };
}

/**
 * The points of a piece's chords after its start. The same points whichever way the piece runs: they are worked out from the
 * end that comes first in the plane.
 */
export function pieceChords(piece: Piece, rules: ChordRules): Chorded {
  const [a, b] = [startOf(piece), endOf(piece)];
  if (piece.kind === 'bezier' && piece.p.length === 4) return { points: [...b], off: 0 };
  const forward = a[0] !== b[0] ? a[0] < b[0] : a[1] <= b[1];
  const own = settled(forward ? piece : turned(piece));
  const made = own.kind === 'arc' && own.rx === own.ry ? arcChords(own, rules) : freeChords(own, rules);
  if (forward) return { points: [...made.points, ...b], off: made.off };
  const back: number[] = [];
  for (let k = made.points.length - 2; k >= 0; k -= 2) back.push(made.points[k]!, made.points[k + 1]!);
  return { points: [...back, ...b], off: made.off };
}

/** A part of a circle worked out from its ends and its sweep alone: whichever way it came, its numbers are the same to the last bit. */
function settled(p: Piece): Piece {
  if (p.kind !== 'arc' || p.rx !== p.ry || Math.abs(p.sweep) > 1.9 * Math.PI) return p;
  const arc = bulgeArc(p.from[0], p.from[1], p.to[0], p.to[1], bulgeOf(p.sweep));
  if (!arc) return p;
  const { cx, cy, radius, start, sweep } = arc;
  return { ...p, cx, cy, rx: radius, ry: radius, rotation: 0, start, sweep };
}

const turned = (p: Piece): Piece => {
  if (p.kind === 'arc') return { ...p, start: p.start + p.sweep, sweep: -p.sweep, from: p.to, to: p.from };
  const q: number[] = [];
  for (let k = p.p.length - 2; k >= 0; k -= 2) q.push(p.p[k]!, p.p[k + 1]!);
  return { kind: 'bezier', p: q };
};

/** The points between the ends. */
function arcChords(p: Extract<Piece, { kind: 'arc' }>, rules: ChordRules): Chorded {
  // Between an end on the arc and a corner half way out a chord lies inside nearly as an inscribed one does.
  const n = chordsOfArc(p.rx, p.sweep, rules.side === 'half' ? { ...rules, side: 'inscribed' } : rules);
  const step = p.sweep / n;
  const points: number[] = [];
  const put = (t: number, reach: number): void => {
    const a = p.start + p.rotation + t;
    points.push(p.cx + reach * Math.cos(a), p.cy + reach * Math.sin(a));
  };
  // What touches the arc begins and ends on it: half a chord at either end.
  if (rules.side === 'circumscribed') for (let k = 0; k < n; k++) put((k + 0.5) * step, p.rx / Math.cos(step / 2));
  else {
    const reach = rules.side === 'half' ? (2 * p.rx) / (1 + Math.cos(step / 2)) : p.rx;
    for (let k = 1; k < n; k++) put(k * step, reach);
  }
  return { points, off: offOfStep(p.rx, Math.abs(step), rules.side === 'half' ? 'inscribed' : rules.side) };
}

/** A free curve in equal steps of its parameter, as many as the bound asks for by measuring. */
function freeChords(p: Piece, rules: ChordRules): Chorded {
  let n = 1;
  let off = 0;
  for (; n <= 65_536; n = Math.max(n + 1, Math.ceil(n * 1.25))) {
    const found = stepsOf(p, n);
    off = found.off;
    if (
      rules.by === 'sagitta'
        ? off <= rules.bound
        : rules.by === 'longest'
          ? found.longest <= rules.longest
          : found.turn <= rules.angle
    )
      break;
  }
  const points: number[] = [];
  for (let k = 1; k < n; k++) points.push(...pointAt(p, k / n));
  return { points, off };
}

/** What a number of equal steps comes to: distance from the curve, longest chord, largest turn. */
function stepsOf(p: Piece, n: number): { off: number; longest: number; turn: number } {
  let [off, longest, turn] = [0, 0, 0];
  let [px, py] = startOf(p);
  let [ux, uy] = [0, 0];
  for (let k = 1; k <= n; k++) {
    const [x, y] = k === n ? endOf(p) : pointAt(p, k / n);
    const [dx, dy] = [x - px, y - py];
    const l = Math.hypot(dx, dy);
    longest = Math.max(longest, l);
    for (let q = 1; q < 8; q++) {
      const s = q / 8;
      const [qx, qy] = pointAt(p, (k - 1 + s) / n);
      const d = l > 0 ? Math.abs((qx - px) * dy - (qy - py) * dx) / l : Math.hypot(qx - px, qy - py);
      off = Math.max(off, d);
    }
    if (k > 1 && l > 0) turn = Math.max(turn, Math.abs(Math.atan2(ux * dy - uy * dx, ux * dx + uy * dy)));
    [px, py, ux, uy] = [x, y, dx, dy];
  }
  // One chord turns nowhere, however its curve does.
  // Between the places that were looked at it may be a little more.
  return { off: off * 1.02, longest, turn: n === 1 ? Infinity : turn };
}
