import type { Carrier } from './carrier.js';

/** Where two lines without end, or whole circles, cross: no, one or two points. Lines that run the same way do not. */
export function carrierCrossings(a: Carrier, b: Carrier): [number, number][] {
  if (a.kind === 'line' && b.kind === 'line') {
    const det = a.ux * b.uy - a.uy * b.ux;
    if (Math.abs(det) < PARALLEL) return [];
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const t = (dx * b.uy - dy * b.ux) / det;
    // What runs along an axis says that coordinate exactly.
    const x = a.ux === 0 ? a.x : b.ux === 0 ? b.x : a.x + t * a.ux;
    const y = a.uy === 0 ? a.y : b.uy === 0 ? b.y : a.y + t * a.uy;
    return [[x, y]];
  }
  if (a.kind === 'line' && b.kind === 'circle') return lineAndCircle(a, b);
  if (a.kind === 'circle' && b.kind === 'line') return lineAndCircle(b, a);
  const [p, q] = [a as Extract<Carrier, { kind: 'circle' }>, b as Extract<Carrier, { kind: 'circle' }>];
  const [dx, dy] = [q.x - p.x, q.y - p.y];
  const d = Math.hypot(dx, dy);
  if (!(d > 0)) return [];
  // Distance from the first centre to the common chord along the line of centres.
  const along = (d * d + p.radius * p.radius - q.radius * q.radius) / (2 * d);
  const half = p.radius * p.radius - along * along;
  if (half < 0) return [];
  const [mx, my] = [p.x + (dx * along) / d, p.y + (dy * along) / d];
  const h = Math.sqrt(half) / d;
  return [
    [mx - dy * h, my + dx * h],
    [mx + dy * h, my - dx * h],
  ];
}

/** Sine of the angle below which two lines count as running the same way. */
const PARALLEL = 1e-9;

function lineAndCircle(
  l: Extract<Carrier, { kind: 'line' }>,
  c: Extract<Carrier, { kind: 'circle' }>,
): [number, number][] {
  const [dx, dy] = [c.x - l.x, c.y - l.y];
  const along = dx * l.ux + dy * l.uy;
  const off = dx * l.uy - dy * l.ux;
  const half = c.radius * c.radius - off * off;
  if (half < 0) return [];
  const h = Math.sqrt(half);
  return [along - h, along + h].map((t) => [l.x + t * l.ux, l.y + t * l.uy]);
}
