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
    if (!(curve.knots[i]! >= curve.knots[i - 1]!)) return 'knots that decrease';
  if (!(curve.knots[n]! > curve.knots[curve.degree]!)) return 'an empty parameter range';
  return null;
}

/** The parameter range of the curve: from the knot at `degree` to the knot at the number of control points. */
export const domain = (c: Nurbs): [number, number] => [c.knots[c.degree]!, c.knots[c.points.length / 3]!];

/** The index of the knot span that holds `u` (Piegl and Tiller, The NURBS Book, algorithm A2.1). */
function spanOf(c: Nurbs, u: number): number {
  const n = c.points.length / 3;
  if (u >= c.knots[n]!) {
    let s = n - 1;
    while (s > c.degree && c.knots[s] === c.knots[n]) s--;
    return s;
  }
  let lo = c.degree;
  let hi = n;
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1;
    if (u < c.knots[mid]!) hi = mid;
    else lo = mid;
  }
  return lo;
}

let scratch = new Float64Array(4 * 8);

/**
 * All rounds of de Boor's algorithm but the last, in homogeneous coordinates: leaves the two points that the last round
 * mixes at `4 * (degree - 1)` and `4 * degree` of the scratch array, and returns in what part `u` divides their span.
 */
function deBoor(c: Nurbs, u: number): { part: number; span: number } {
  const p = c.degree;
  const k = spanOf(c, u);
  if (scratch.length < 4 * (p + 1)) scratch = new Float64Array(4 * (p + 1));
  const d = scratch;
  const { points, weights, knots } = c;
  for (let j = 0; j <= p; j++) {
    const i = k - p + j;
    const w = weights ? weights[i]! : 1;
    d[4 * j] = points[3 * i]! * w;
    d[4 * j + 1] = points[3 * i + 1]! * w;
    d[4 * j + 2] = points[3 * i + 2]! * w;
    d[4 * j + 3] = w;
  }
  for (let r = 1; r < p; r++) {
    for (let j = p; j >= r; j--) {
      const i = k - p + j;
      const span = knots[i + p - r + 1]! - knots[i]!;
      const a = span === 0 ? 0 : (u - knots[i]!) / span;
      const [to, from] = [4 * j, 4 * (j - 1)];
      d[to] = (1 - a) * d[from]! + a * d[to]!;
      d[to + 1] = (1 - a) * d[from + 1]! + a * d[to + 1]!;
      d[to + 2] = (1 - a) * d[from + 2]! + a * d[to + 2]!;
      d[to + 3] = (1 - a) * d[from + 3]! + a * d[to + 3]!;
    }
  }
  const span = knots[k + 1]! - knots[k]!;
  return { part: span === 0 ? 0 : (u - knots[k]!) / span, span };
}

/** The point at parameter `u`, by de Boor's algorithm in homogeneous coordinates. Writes x, y, z to `out`. */
export function evaluate(c: Nurbs, u: number, out: Float64Array | number[]): void {
  const { part: a } = deBoor(c, u);
  const d = scratch;
  const [from, to] = [4 * (c.degree - 1), 4 * c.degree];
  const w = (1 - a) * d[from + 3]! + a * d[to + 3]! || 1;
  for (let i = 0; i < 3; i++) out[i] = ((1 - a) * d[from + i]! + a * d[to + i]!) / w;
}

/**
 * The first derivative at `u`: degree/span times the difference of the two points that the last round mixes, in
 * homogeneous coordinates, then the quotient rule (Piegl and Tiller, §3.3 and §4.3). At a knot it is that of one side.
 */
export function derivative(c: Nurbs, u: number, out: Float64Array | number[]): void {
  const { part: a, span } = deBoor(c, u);
  const d = scratch;
  const [from, to] = [4 * (c.degree - 1), 4 * c.degree];
  const f = span === 0 ? 0 : c.degree / span;
  const w = (1 - a) * d[from + 3]! + a * d[to + 3]! || 1;
  const slope = f * (d[to + 3]! - d[from + 3]!);
  for (let i = 0; i < 3; i++) {
    const value = (1 - a) * d[from + i]! + a * d[to + i]!;
    out[i] = (f * (d[to + i]! - d[from + i]!) - (value / w) * slope) / w;
  }
}

/** The distinct parameters inside the domain, ends included, at which the curve's pieces meet. */
export function breakpoints(c: Nurbs): number[] {
  const [from, to] = domain(c);
  const found = [from];
  for (let i = c.degree + 1; i < c.points.length / 3; i++) {
    const u = c.knots[i]!;
    if (u > found[found.length - 1]! && u < to) found.push(u);
  }
  found.push(to);
  return found;
}

/**
 * The curve cut into Bézier pieces, one for each span of knots, by its blossom: control point j of a piece over [a, b] is
 * the polar form at a (degree − j times) and b (j times), which de Boor's algorithm gives with a parameter of its own in
 * each round (Ramshaw, "Blossoms are polar forms", 1989). Exact where knots are full; linear in the number of knots.
 * Returns homogeneous control points (x·w, y·w, z·w, w), `degree + 1` per piece.
 */
export function bezierPieces(c: Nurbs): Float64Array[] {
  const pieces: Float64Array[] = [];
  const n = c.points.length / 3;
  for (let k = c.degree; k < n; k++) {
    if (c.knots[k + 1]! > c.knots[k]!) pieces.push(bezierPiece(c, k));
  }
  return pieces;
}

/** The Bézier control points of the span [knots[k], knots[k + 1]]. */
function bezierPiece(c: Nurbs, k: number): Float64Array {
  const { degree: p, knots, points, weights } = c;
  const [a, b] = [knots[k]!, knots[k + 1]!];
  const piece = new Float64Array(4 * (p + 1));
  if (scratch.length < 4 * (p + 1)) scratch = new Float64Array(4 * (p + 1));
  const d = scratch;
  for (let j = 0; j <= p; j++) {
    for (let q = 0; q <= p; q++) {
      const i = k - p + q;
      const w = weights ? weights[i]! : 1;
      d[4 * q] = points[3 * i]! * w;
      d[4 * q + 1] = points[3 * i + 1]! * w;
      d[4 * q + 2] = points[3 * i + 2]! * w;
      d[4 * q + 3] = w;
    }
    for (let r = 1; r <= p; r++) {
      const u = r <= j ? b : a;
      for (let q = p; q >= r; q--) {
        const i = k - p + q;
        const span = knots[i + p - r + 1]! - knots[i]!;
        const t = span === 0 ? 0 : (u - knots[i]!) / span;
        for (let m = 0; m < 4; m++) {
          const [to, from] = [4 * q + m, 4 * (q - 1) + m];
          d[to] = (1 - t) * d[from]! + t * d[to]!;
        }
      }
    }
    for (let m = 0; m < 4; m++) piece[4 * j + m] = d[4 * p + m]!;
  }
  return piece;
}
