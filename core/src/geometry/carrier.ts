import { TAU, normalAngle } from './arcs.js';
import type { Piece } from './path-pieces.js';
import { endOf, startOf } from './path-pieces.js';
import { ROUNDING, isSame } from './tolerance.js';

type Point = readonly [number, number];

/** A stretch along a carrier, in lengths from where it begins. */
export type Stretch = readonly [from: number, to: number];

/** What a straight or circular piece runs along: a line from its start, or a whole circle from its start anticlockwise. */
export type Carrier =
  | { kind: 'line'; x: number; y: number; ux: number; uy: number; length: number }
  | { kind: 'circle'; x: number; y: number; radius: number; start: number; length: number };

/** The carrier of a piece, `length` being that of the piece; `null` for other curves and for pieces without length. */
export function carrierOf(p: Piece): Carrier | null {
  if (p.kind === 'arc') {
    if (!isSame(p.rx, p.ry)) return null;
    const start = p.start + p.rotation + Math.min(0, p.sweep);
    return { kind: 'circle', x: p.cx, y: p.cy, radius: p.rx, start, length: Math.abs(p.sweep) * p.rx };
  }
  if (p.p.length !== 4) return null;
  const [x, y, x1, y1] = p.p as [number, number, number, number];
  const length = Math.hypot(x1 - x, y1 - y);
  return length > 0 ? { kind: 'line', x, y, ux: (x1 - x) / length, uy: (y1 - y) / length, length } : null;
}

/** How far along a line a point lies, and how far beside it. */
export function beside(c: Extract<Carrier, { kind: 'line' }>, [x, y]: Point): { along: number; off: number } {
  const [dx, dy] = [x - c.x, y - c.y];
  return { along: dx * c.ux + dy * c.uy, off: Math.abs(dx * c.uy - dy * c.ux) };
}

/**
 * Where along a carrier a piece lies that is nowhere further from it than `within`; nothing where it strays. Of a circle the
 * stretches are told from its start, in [0, 2πr): one that runs past the start comes in two.
 */
export function stretchesOn(c: Carrier, p: Piece, within: number): Stretch[] {
  if (c.kind === 'line') {
    if (p.kind === 'arc' || p.p.length !== 4) return [];
    const [a, b] = [beside(c, startOf(p)), beside(c, endOf(p))];
    if (a.off > within || b.off > within) return [];
    return [[Math.min(a.along, b.along), Math.max(a.along, b.along)]];
  }
  if (p.kind !== 'arc' || !isSame(p.rx, p.ry)) return [];
  // Nothing of the one circle is further from the other than this.
  if (Math.hypot(p.cx - c.x, p.cy - c.y) + Math.abs(p.rx - c.radius) > within) return [];
  const sweep = Math.min(Math.abs(p.sweep), TAU);
  const whole = TAU * c.radius;
  let from = normalAngle(p.start + p.rotation + Math.min(0, p.sweep) - c.start) * c.radius;
  // A start that lies a rounding before the carrier's own is the same.
  if (whole - from <= Math.max(within, whole * ROUNDING)) from = 0;
  const to = from + sweep * c.radius;
  return to <= whole * (1 + ROUNDING)
    ? [[from, Math.min(to, whole)]]
    : [
        [from, whole],
        [0, to - whole],
      ];
}

/** Stretches in order, those that touch or overlap (by `gap` at least apart to count as two) joined. */
export function joinedStretches(list: readonly Stretch[], gap = 0): [number, number][] {
  const out: [number, number][] = [];
  for (const [from, to] of [...list].sort((a, b) => a[0] - b[0])) {
    const last = out[out.length - 1];
    if (last && from <= last[1] + gap) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  }
  return out;
}

/** What of [0, length] no stretch covers; what is no longer than `least` is left out. */
export function bareStretches(length: number, covered: readonly Stretch[], least: number): [number, number][] {
  const out: [number, number][] = [];
  let at = 0;
  for (const [from, to] of joinedStretches(covered)) {
    if (from - at > least) out.push([at, Math.min(from, length)]);
    at = Math.max(at, to);
  }
  if (length - at > least) out.push([at, length]);
  return out;
}
