/**
 * A NURBS curve in space. `points` holds x, y, z per control point, `knots` one more than points + degree,
 * `weights` one per control point where the curve is rational.
 */
export interface Nurbs {
  degree: number;
  knots: Float64Array;
  points: Float64Array;
  weights?: Float64Array;
}

/** What is wrong with the numbers of a NURBS curve, in words, or `null` when it can be evaluated. */
export function nurbsFault(curve: Nurbs): string | null {
  const n = curve.points.length / 3;
  if (curve.degree < 1 || curve.degree > 25) return `degree ${curve.degree}`;
  if (n < curve.degree + 1) return `${n} control points for degree ${curve.degree}`;
  if (curve.knots.length !== n + curve.degree + 1)
    return `${curve.knots.length} knots, ${n + curve.degree + 1} expected`;
  if (curve.weights && curve.weights.length !== n) return `${curve.weights.length} weights for ${n} control points`;
  for (let i = 1; i < curve.knots.length; i++)
    if (!(curve.knots[i] >= curve.knots[i - 1])) return 'knots that decrease';
  if (!(curve.knots[n] > curve.knots[curve.degree])) return 'an empty parameter range';
  return null;
}

/** The parameter range of the curve: from the knot at `degree` to the knot at the number of control points. */
export const domain = (c: Nurbs): [number, number] => [c.knots[c.degree], c.knots[c.points.length / 3]];

/** The index of the knot span that holds `u` (Piegl and Tiller, The NURBS Book, algorithm A2.1). */
function spanOf(c: Nurbs, u: number): number {
  const n = c.points.length / 3;
  if (u >= c.knots[n]) {
    let s = n - 1;
    while (s > c.degree && c.knots[s] === c.knots[n]) s--;
    return s;
  }
  let lo = c.degree;
  let hi = n;
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1;
    if (u < c.knots[mid]) hi = mid;
    else lo = mid;
  }
  return lo;
}

/** The point at parameter `u`, by de Boor's algorithm in homogeneous coordinates. Writes x, y, z to `out`. */
export function evaluate(c: Nurbs, u: number, out: Float64Array | number[]): void {
  const p = c.degree;
  const k = spanOf(c, u);
  const d: number[] = [];
  for (let j = 0; j <= p; j++) {
    const i = k - p + j;
    const w = c.weights ? c.weights[i] : 1;
    d.push(c.points[3 * i] * w, c.points[3 * i + 1] * w, c.points[3 * i + 2] * w, w);
  }
  for (let r = 1; r <= p; r++) {
    for (let j = p; j >= r; j--) {
      const i = k - p + j;
      const span = c.knots[i + p - r + 1] - c.knots[i];
      const a = span === 0 ? 0 : (u - c.knots[i]) / span;
      for (let q = 0; q < 4; q++) d[4 * j + q] = (1 - a) * d[4 * (j - 1) + q] + a * d[4 * j + q];
    }
  }
  const w = d[4 * p + 3] || 1;
  out[0] = d[4 * p] / w;
  out[1] = d[4 * p + 1] / w;
  out[2] = d[4 * p + 2] / w;
}

/** The distinct parameters inside the domain, ends included, at which the curve's pieces meet. */
export function breakpoints(c: Nurbs): number[] {
  const [from, to] = domain(c);
  const found = [from];
  for (let i = c.degree + 1; i < c.points.length / 3; i++) {
    const u = c.knots[i];
    if (u > found[found.length - 1] && u < to) found.push(u);
  }
  found.push(to);
  return found;
}

/**
 * The curve cut into Bézier pieces by inserting knots until each breakpoint has full multiplicity (Boehm's
 * algorithm). Exact. Returns homogeneous control points (x·w, y·w, z·w, w), `degree + 1` per piece.
 */
export function bezierPieces(c: Nurbs): Float64Array[] {
  const p = c.degree;
  let knots = Array.from(c.knots);
  let pts: number[][] = [];
  for (let i = 0; i < c.points.length / 3; i++) {
    const w = c.weights ? c.weights[i] : 1;
    pts.push([c.points[3 * i] * w, c.points[3 * i + 1] * w, c.points[3 * i + 2] * w, w]);
  }
  const breaks = breakpoints(c);
  for (const u of breaks) {
    let has = knots.reduce((n, k) => n + (k === u ? 1 : 0), 0);
    for (; has < p; has++) {
      let k = knots.findLastIndex((t) => t <= u);
      k = Math.min(k, pts.length - 1);
      const next: number[][] = [];
      for (let i = 0; i <= pts.length; i++) {
        if (i <= k - p) next.push(pts[i]);
        else if (i > k) next.push(pts[i - 1]);
        else {
          const a = (u - knots[i]) / (knots[i + p] - knots[i]);
          next.push(pts[i].map((v, q) => (1 - a) * pts[i - 1][q] + a * v));
        }
      }
      pts = next;
      knots = [...knots.slice(0, k + 1), u, ...knots.slice(k + 1)];
    }
  }
  const pieces: Float64Array[] = [];
  for (let s = 0; s + 1 < breaks.length; s++) {
    const k = knots.findLastIndex((t) => t <= breaks[s]);
    const piece = new Float64Array(4 * (p + 1));
    for (let j = 0; j <= p; j++) piece.set(pts[k - p + j], 4 * j);
    pieces.push(piece);
  }
  return pieces;
}
