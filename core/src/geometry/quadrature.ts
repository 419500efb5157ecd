/** How far a part is halved: enough to close in on a cusp. */
const MAX_HALVINGS = 44;
/** How often a function is asked for one integral at the most: a smooth one needs a hundred, a cusp a thousand. */
const MAX_EVALUATIONS = 20_000;
/** What a kink beyond the outermost point that was looked at may take from the result, as a part of it. */
const UNSEEN = 1e-9;

/**
 * ∫f over [a, b] by five-point Gauss-Legendre quadrature (Abramowitz and Stegun, table 25.4), each part halved until
 * its halves agree with it to 1e-13 of the whole, or to `noise`: the size of what rounding alone makes of the result, below
 * which halves never agree. A kink in the sliver between the outermost point and the end of a part would be seen by
 * neither; so f at the end has to be what the points of the half beside it lead to. What is not finite is not halved, and the
 * number of evaluations is bounded.
 */
export function integrate(f: (t: number) => number, a: number, b: number, noise = 0): number {
  const at = [0, 1, 2, 3, 4].map((k) => a + ((b - a) * k) / 4);
  const parts = [0, 1, 2, 3].map((k) => gaussSum(f, at[k]!, at[k + 1]!));
  const whole = Math.abs(parts.reduce((sum, v) => sum + v, 0));
  const close = Math.max(1e-13 * whole, noise);
  const unseen = Math.max(UNSEEN * whole, noise);
  let left = MAX_EVALUATIONS;
  const settle = (from: number, to: number, before: number, depth: number): number => {
    const mid = (from + to) / 2;
    const [first, second] = [gauss(f, from, mid), gauss(f, mid, to)];
    left -= 12;
    const sum = first.sum + second.sum;
    // Said so that what is no number ends it too.
    if (!Number.isFinite(sum) || depth >= MAX_HALVINGS || left <= 0) return sum;
    const sliver = SLIVER * Math.abs(mid - from);
    const agrees =
      Math.abs(sum - before) <= close &&
      Math.abs(f(from) - first.start) * sliver <= unseen &&
      Math.abs(f(to) - second.end) * sliver <= unseen;
    if (agrees) return sum;
    return settle(from, mid, first.sum, depth + 1) + settle(mid, to, second.sum, depth + 1);
  };
  return parts.reduce((sum, v, k) => sum + settle(at[k]!, at[k + 1]!, v, 0), 0);
}

const NODES = [-0.906179845938664, -0.5384693101056831, 0, 0.5384693101056831, 0.906179845938664] as const;
const WEIGHTS = [
  0.23692688505618908, 0.47862867049936647, 0.5688888888888889, 0.47862867049936647, 0.23692688505618908,
] as const;
/** From the outermost point to the end, as a part of the interval. */
const SLIVER = (1 - NODES[4]) / 2;
/** What each point counts in the value at the end of the polynomial through all five (Lagrange's formula at 1). */
const AT_END = NODES.map((x, i) => NODES.reduce((p, y, k) => (k === i ? p : (p * (1 - y)) / (x - y)), 1));

/** The integral over an interval by five points alone: for what is smooth there. */
export const gaussSum = (f: (t: number) => number, a: number, b: number): number => {
  const [mid, h] = [(a + b) / 2, (b - a) / 2];
  let sum = 0;
  for (let k = 0; k < 5; k++) sum += WEIGHTS[k]! * f(mid + h * NODES[k]!);
  return sum * h;
};

/** The integral over an interval, and what its points lead to at its ends. */
function gauss(f: (t: number) => number, a: number, b: number): { sum: number; start: number; end: number } {
  const [mid, h] = [(a + b) / 2, (b - a) / 2];
  let [sum, start, end] = [0, 0, 0];
  for (let k = 0; k < 5; k++) {
    const v = f(mid + h * NODES[k]!);
    sum += WEIGHTS[k]! * v;
    end += AT_END[k]! * v;
    start += AT_END[4 - k]! * v;
  }
  return { sum: sum * h, start, end };
}
