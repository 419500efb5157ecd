/** A vertex of a polyline of arcs: where it is, and the bulge of the piece that starts there. */
export interface ArcVertex {
  x: number;
  y: number;
  bulge: number;
}

type Curve = (t: number) => readonly [number, number];

/** The bulge of the arc from a to b through m: tan of a quarter of its sweep, positive when it runs counter-clockwise. */
export function bulgeThrough(
  a: readonly [number, number],
  m: readonly [number, number],
  b: readonly [number, number],
): number {
  const [ux, uy] = [a[0] - m[0], a[1] - m[1]];
  const [vx, vy] = [b[0] - m[0], b[1] - m[1]];
  // The angle at m that sees the chord is half a turn less half the sweep.
  const angle = Math.atan2(Math.abs(ux * vy - uy * vx), ux * vx + uy * vy);
  const side = (b[0] - a[0]) * (m[1] - a[1]) - (b[1] - a[1]) * (m[0] - a[0]);
  if (side === 0) return 0;
  return (side < 0 ? 1 : -1) * Math.tan((Math.PI - angle) / 2);
}

/**
 * A curve over [t0, t1] as arcs through three of its points each, halved until seven more points of each lie within
 * `tolerance`. The last vertex has bulge 0. `deviation` is the largest distance met.
 */
export function fitArcs(
  curve: Curve,
  t0: number,
  t1: number,
  tolerance: number,
): { vertices: ArcVertex[]; deviation: number } {
  const vertices: ArcVertex[] = [];
  let deviation = 0;
  const step = (from: number, to: number, depth: number): void => {
    const [a, m, b] = [curve(from), curve((from + to) / 2), curve(to)];
    const bulge = bulgeThrough(a, m, b);
    let worst = 0;
    for (let k = 1; k < 8 && depth < 16; k++) {
      if (k === 4) continue;
      worst = Math.max(worst, offArc(a, b, bulge, curve(from + ((to - from) * k) / 8)));
    }
    const half = Math.abs(bulge) > 1;
    if ((worst > tolerance || half) && depth < 16) {
      step(from, (from + to) / 2, depth + 1);
      step((from + to) / 2, to, depth + 1);
      return;
    }
    deviation = Math.max(deviation, worst);
    vertices.push({ x: a[0], y: a[1], bulge });
  };
  step(t0, t1, 0);
  const end = curve(t1);
  vertices.push({ x: end[0], y: end[1], bulge: 0 });
  return { vertices, deviation };
}

/** How far a point is from the circle of an arc, or from the line of a flat one. */
function offArc(
  a: readonly [number, number],
  b: readonly [number, number],
  bulge: number,
  p: readonly [number, number],
): number {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const chord = Math.hypot(dx, dy);
  if (chord === 0) return Math.hypot(p[0] - a[0], p[1] - a[1]);
  if (Math.abs(bulge) < 1e-9) return Math.abs((p[0] - a[0]) * dy - (p[1] - a[1]) * dx) / chord;
  const radius = (chord * (1 + bulge * bulge)) / (4 * bulge);
  // From the middle of the chord to the centre, to its left for a positive bulge below 1.
  const h = (chord * (1 - bulge * bulge)) / (4 * bulge);
  const cx = (a[0] + b[0]) / 2 - (dy / chord) * h;
  const cy = (a[1] + b[1]) / 2 + (dx / chord) * h;
  return Math.abs(Math.hypot(p[0] - cx, p[1] - cy) - Math.abs(radius));
}
