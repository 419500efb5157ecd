/** How far a part is halved: enough to close in on a cusp. */
const MAX_HALVINGS = 44;
/** How often a function is asked for one integral at the most: a smooth one needs a hundred, a cusp a thousand. */
const MAX_EVALUATIONS = 20_000;

/**
 * ∫f over [a, b] by five-point Gauss-Legendre quadrature (Abramowitz and Stegun, table 25.4), each part halved until
 * its halves agree with it to 1e-13 of the whole, or to `noise`: the size of what rounding alone makes of the result, below
 * which halves never agree. What is not finite is not halved, and the number of evaluations is bounded.
 */
export function integrate(f: (t: number) => number, a: number, b: number, noise = 0): number {
  const parts = [0, 1, 2, 3].map((k) => gauss(f, a + ((b - a) * k) / 4, a + ((b - a) * (k + 1)) / 4));
  const close = Math.max(1e-13 * Math.abs(parts.reduce((sum, v) => sum + v, 0)), noise);
  let left = MAX_EVALUATIONS;
  const settle = (from: number, to: number, whole: number, depth: number): number => {
    const mid = (from + to) / 2;
    const [first, second] = [gauss(f, from, mid), gauss(f, mid, to)];
    left -= 10;
    // Said so that what is no number ends it too.
    const apart = Math.abs(first + second - whole) > close && Number.isFinite(first + second);
    if (!apart || depth >= MAX_HALVINGS || left <= 0) return first + second;
    return settle(from, mid, first, depth + 1) + settle(mid, to, second, depth + 1);
  };
  return parts.reduce((sum, v, k) => sum + settle(a + ((b - a) * k) / 4, a + ((b - a) * (k + 1)) / 4, v, 0), 0);
}

const NODES = [0.5384693101056831, 0.906179845938664] as const;
const WEIGHTS = [0.5688888888888889, 0.47862867049936647, 0.23692688505618908] as const;

function gauss(f: (t: number) => number, a: number, b: number): number {
  const [mid, h] = [(a + b) / 2, (b - a) / 2];
  let sum = WEIGHTS[0] * f(mid);
  for (const k of [0, 1] as const) sum += WEIGHTS[k + 1] * (f(mid - h * NODES[k]) + f(mid + h * NODES[k]));
  return sum * h;
}
