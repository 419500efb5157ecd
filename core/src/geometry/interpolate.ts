/**
 * The twice continuously differentiable cubic through the given points (x, y, z each), parametrised by chord length,
 * with the second derivative zero at its ends or the given end directions. Returned as a NURBS whose inner knots are
 * triple, that is as Bézier pieces. Needs two distinct points at least; points that repeat are passed over.
 */
export function interpolate(
  fit: Float64Array,
  startTangent?: readonly [number, number, number],
  endTangent?: readonly [number, number, number],
): { degree: 3; knots: Float64Array; points: Float64Array } | null {
  const p: number[][] = [];
  const t: number[] = [];
  for (let i = 0; i < fit.length; i += 3) {
    const q = [fit[i]!, fit[i + 1]!, fit[i + 2]!] as const;
    const last = p[p.length - 1];
    const chord = last ? Math.hypot(q[0] - last[0]!, q[1] - last[1]!, q[2] - last[2]!) : 0;
    if (last && chord === 0) continue;
    t.push(last ? t[t.length - 1]! + chord : 0);
    p.push([...q]);
  }
  const n = p.length;
  if (n < 2) return null;
  const slopes = [0, 1, 2].map((k) =>
    derivatives(
      t,
      p.map((q) => q[k]!),
      direction(startTangent, k),
      direction(endTangent, k),
    ),
  );
  const points: number[] = [...p[0]!];
  const knots: number[] = [t[0]!, t[0]!, t[0]!, t[0]!];
  for (let i = 0; i + 1 < n; i++) {
    const h = (t[i + 1]! - t[i]!) / 3;
    points.push(...[0, 1, 2].map((k) => p[i]![k]! + h * slopes[k]![i]!));
    points.push(...[0, 1, 2].map((k) => p[i + 1]![k]! - h * slopes[k]![i + 1]!));
    points.push(...p[i + 1]!);
    const end = t[i + 1]!;
    knots.push(end, end, end);
  }
  knots.push(t[n - 1]!);
  return { degree: 3, knots: Float64Array.from(knots), points: Float64Array.from(points) };
}

/** The component of the unit direction; with chord-length parameters a curve is run through at about unit speed. */
function direction(v: readonly [number, number, number] | undefined, k: number): number | undefined {
  const l = v ? Math.hypot(...v) : 0;
  return l > 0 ? v![k]! / l : undefined;
}

/** First derivatives of the cubic spline through (t, y), by the tridiagonal system for slopes (Thomas algorithm). */
function derivatives(t: number[], y: number[], start?: number, end?: number): number[] {
  const n = t.length;
  const a = new Array<number>(n).fill(0);
  const b = new Array<number>(n).fill(1);
  const c = new Array<number>(n).fill(0);
  const d = new Array<number>(n).fill(0);
  const h = (i: number): number => t[i + 1]! - t[i]!;
  const rise = (i: number): number => (y[i + 1]! - y[i]!) / h(i);
  if (start !== undefined) d[0] = start;
  else {
    b[0] = 2;
    c[0] = 1;
    d[0] = 3 * rise(0);
  }
  for (let i = 1; i + 1 < n; i++) {
    a[i] = h(i);
    b[i] = 2 * (h(i - 1) + h(i));
    c[i] = h(i - 1);
    d[i] = 3 * (h(i) * rise(i - 1) + h(i - 1) * rise(i));
  }
  if (end !== undefined) d[n - 1] = end;
  else {
    a[n - 1] = 1;
    b[n - 1] = 2;
    d[n - 1] = 3 * rise(n - 2);
  }
  for (let i = 1; i < n; i++) {
    const w = a[i]! / b[i - 1]!;
    b[i]! -= w * c[i - 1]!;
    d[i]! -= w * d[i - 1]!;
  }
  const m = new Array<number>(n);
  m[n - 1] = d[n - 1]! / b[n - 1]!;
  for (let i = n - 2; i >= 0; i--) m[i] = (d[i]! - c[i]! * m[i + 1]!) / b[i]!;
  return m;
}
