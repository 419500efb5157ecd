import type { EllipseArc2 } from './ellipses.js';

/**
 * An elliptical arc as cubic Béziers, six numbers each, of no more than an eighth of a turn: handles of 4/3·tan(φ/4)
 * half axes, which stays within 4e-6 of the radius. The last end is put exactly where `to` says.
 */
export function arcAsCubics(
  arc: EllipseArc2,
  to: readonly [number, number],
): [number, number, number, number, number, number][] {
  const n = Math.max(1, Math.ceil(Math.abs(arc.sweep) / (Math.PI / 4) - 1e-9));
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
