import { Box2 } from './box.js';
import type { Piece } from './path-pieces.js';
import { endOf, pointAt, startOf } from './path-pieces.js';

/** The box of pieces as they are seen along axes that are turned by an angle (radians): exact for arcs and Béziers. */
export function boxOfPieces(pieces: readonly Piece[], turn = 0): Box2 {
  const box = new Box2();
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const add = ([x, y]: readonly [number, number]): void => box.add(x * c + y * s, y * c - x * s);
  for (const p of pieces) {
    add(startOf(p));
    add(endOf(p));
    for (const t of p.kind === 'arc' ? arcTurns(p, turn) : bezierTurns(p.p, c, s))
      if (t > 0 && t < 1) add(pointAt(p, t));
  }
  return box;
}

/** Where an arc runs along one of the axes. */
function arcTurns(a: Extract<Piece, { kind: 'arc' }>, turn: number): number[] {
  const along = turn - a.rotation;
  const [c, s] = [Math.cos(along), Math.sin(along)];
  const out: number[] = [];
  for (const e of [Math.atan2(a.ry * s, a.rx * c), Math.atan2(a.ry * c, -a.rx * s)])
    for (let k = -4; k <= 4; k++) out.push((e + k * Math.PI - a.start) / a.sweep);
  return out;
}

/** Where the derivative of a Bézier of up to the third degree has no part along one of the axes. */
function bezierTurns(p: readonly number[], c: number, s: number): number[] {
  if (p.length === 4) return [];
  const out: number[] = [];
  for (const [kx, ky] of [
    [c, s],
    [-s, c],
  ] as const) {
    const v = Array.from({ length: p.length / 2 }, (_, i) => p[2 * i]! * kx + p[2 * i + 1]! * ky);
    if (v.length === 3) out.push((v[0]! - v[1]!) / (v[0]! - 2 * v[1]! + v[2]!));
    else out.push(...roots(v[3]! - 3 * v[2]! + 3 * v[1]! - v[0]!, 2 * (v[2]! - 2 * v[1]! + v[0]!), v[1]! - v[0]!));
  }
  return out;
}

function roots(a: number, b: number, c: number): number[] {
  if (a === 0) return b === 0 ? [] : [-c / b];
  const d = b * b - 4 * a * c;
  if (d < 0) return [];
  // The root that loses no digits first, the other by their product.
  const q = -(b + Math.sign(b || 1) * Math.sqrt(d)) / 2;
  return q === 0 ? [0] : [q / a, c / q];
}

/** A box that holds pieces and may be larger: by their control points, and arcs with all of their ellipse. minX, minY, maxX, maxY. */
export function roughBox(pieces: readonly Piece[], margin = 0): [number, number, number, number] {
  const box = new Box2();
  for (const p of pieces) {
    if (p.kind === 'arc') {
      const r = Math.max(p.rx, p.ry);
      box.add(p.cx - r, p.cy - r);
      box.add(p.cx + r, p.cy + r);
    } else for (let k = 0; k < p.p.length; k += 2) box.add(p.p[k]!, p.p[k + 1]!);
  }
  return [box.minX - margin, box.minY - margin, box.maxX + margin, box.maxY + margin];
}
