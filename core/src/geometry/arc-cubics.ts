import type { EllipseArc2 } from './ellipses.js';
import { endpointToCentre } from './ellipses.js';
import type { PathData } from './path.js';
import { Cmd, PathBuilder, visitPath } from './path.js';
import { partsOfSweep } from './tolerance.js';

/** How far such a cubic lies off its arc at most, as a part of the radius: 2.7e-4 for a quarter turn, a 64th of it here. */
export const CUBIC_OFF = 4.3e-6;

/**
 * An elliptical arc as cubic Béziers, six numbers each, of no more than an eighth of a turn: handles of 4/3·tan(φ/4)
 * half axes, which stays within `CUBIC_OFF` of the radius; or in so many equal parts. The last end is put exactly where `to` says.
 */
export function arcAsCubics(
  arc: EllipseArc2,
  to: readonly [number, number],
  parts?: number,
): [number, number, number, number, number, number][] {
  const n = parts ?? partsOfSweep(arc.sweep, Math.PI / 4);
  const step = arc.sweep / n;
  const k = (4 / 3) * Math.tan(step / 4);
  const [c, s] = [Math.cos(arc.rotation), Math.sin(arc.rotation)];
  const map = (u: number, v: number): [number, number] => [
    arc.cx + arc.rx * u * c - arc.ry * v * s,
    arc.cy + arc.rx * u * s + arc.ry * v * c,
  ];
  const out: [number, number, number, number, number, number][] = [];
  for (let i = 0; i < n; i++) {
    const [a, b] = [arc.start + i * step, arc.start + (i + 1) * step];
    const p1 = map(Math.cos(a) - k * Math.sin(a), Math.sin(a) + k * Math.cos(a));
    const p2 = map(Math.cos(b) + k * Math.sin(b), Math.sin(b) - k * Math.cos(b));
    const p3 = i === n - 1 ? to : map(Math.cos(b), Math.sin(b));
    out.push([p1[0], p1[1], p2[0], p2[1], p3[0], p3[1]]);
  }
  return out;
}

/**
 * How far a cubic with handles of 4/3·tan(θ/4) lies off a circular arc of sweep θ, as a part of its radius: to leading order
 * 2/27 · sin⁶(θ/4) / cos²(θ/4) (M. Goldapp, "Approximation of circular arcs by cubic polynomials", 1991).
 */
export const cubicOff = (sweep: number): number => {
  const q = Math.abs(sweep) / 4;
  return ((2 / 27) * Math.sin(q) ** 6) / Math.cos(q) ** 2;
};

/** The fewest equal parts of a sweep whose cubics lie within `bound` of an arc of radius `radius`; one turns a quarter at most. */
export function cubicParts(radius: number, sweep: number, bound: number): number {
  for (let n = partsOfSweep(sweep, Math.PI / 2); ; n++)
    if (radius * cubicOff(sweep / n) <= bound || n >= 4096) return n;
}

/** A path whose arcs are cubics. */
export function withCubics(path: PathData): PathData {
  const out = new PathBuilder();
  visitPath(path, {
    move: (x, y) => void out.moveTo(x, y),
    close: () => void out.close(),
    piece: (cmd, x0, y0, d, i) => {
      if (cmd === Cmd.Line) out.lineTo(d[i]!, d[i + 1]!);
      else if (cmd === Cmd.Quad) out.quadTo(d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!);
      else if (cmd === Cmd.Cubic) out.cubicTo(d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!, d[i + 4]!, d[i + 5]!);
      else {
        const [x, y] = [d[i + 5], d[i + 6]];
        const arc = endpointToCentre(x0, y0, d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]! !== 0, d[i + 4]! !== 0, x!, y!);
        if (!arc) out.lineTo(x!, y!);
        else for (const c of arcAsCubics(arc, [x!, y!])) out.cubicTo(...c);
      }
    },
  });
  return out.build();
}
