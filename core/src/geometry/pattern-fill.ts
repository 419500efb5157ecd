import { COINCIDENT } from './tolerance.js';

/** One family of parallel lines; the same shape as in a drawing's hatches. Angles in radians. */
export interface LineFamily {
  angle: number;
  base: readonly [number, number];
  step: readonly [number, number];
  dashes: readonly number[];
}

export interface PatternFill {
  /** x0 y0 x1 y1 per dash; a dot is a dash of no length. */
  segments: Float64Array;
  /** More dashes than `most` would be needed: lines were left out, and so was what follows. */
  tooDense: boolean;
}

/** Doubles that grow. */
class Growing {
  data = new Float64Array(1024);
  n = 0;
  push(a: number, b: number, c: number, d: number): void {
    if (this.n + 4 > this.data.length) {
      const wider = new Float64Array(this.data.length * 2);
      wider.set(this.data);
      this.data = wider;
    }
    const { data } = this;
    data[this.n++] = a;
    data[this.n++] = b;
    data[this.n++] = c;
    data[this.n++] = d;
  }
}

/**
 * The lines of a hatch pattern inside closed rings (x, y per corner), odd-even, with each line's dashes in phase with
 * its family's base. `most` bounds the number of dashes.
 */
export function patternFill(
  rings: readonly (readonly number[])[],
  families: readonly LineFamily[],
  most = 100_000,
): PatternFill {
  const out = new Growing();
  let tooDense = false;
  for (const f of families) if (!fillFamily(rings, f, most, out)) tooDense = true;
  return { segments: out.data.slice(0, out.n), tooDense };
}

function fillFamily(rings: readonly (readonly number[])[], f: LineFamily, most: number, out: Growing): boolean {
  const [ux, uy] = [Math.cos(f.angle), Math.sin(f.angle)];
  // Across the lines, and the distance from one to the next.
  const [nx, ny] = [-uy, ux];
  const gap = f.step[0] * nx + f.step[1] * ny;
  const along = f.step[0] * ux + f.step[1] * uy;
  const base = f.base[0] * nx + f.base[1] * ny;
  const start = f.base[0] * ux + f.base[1] * uy;
  let [lo, hi] = [Infinity, -Infinity];
  for (const r of rings) {
    for (let i = 0; i + 1 < r.length; i += 2) {
      const v = r[i]! * nx + r[i + 1]! * ny;
      if (v < lo) lo = v;
      if (v > hi) hi = v;
    }
  }
  if (!(hi >= lo)) return true;
  const single = Math.abs(gap) <= 1e-15 * (hi - lo);
  const ends = [(lo - base) / gap, (hi - base) / gap];
  const first = single ? 0 : Math.ceil(Math.min(...ends));
  const last = single ? 0 : Math.floor(Math.max(...ends));
  if (last - first > most) return false;
  const crossings = new Map<number, number[]>();
  // A line that runs along an edge, or through a corner, is on the same side of it wherever rounding puts it.
  const near = COINCIDENT * (hi - lo);
  const slack = single ? 0 : near / Math.abs(gap);
  let met = 0;
  for (const r of rings) {
    const n = r.length;
    for (let i = 0; i + 1 < n; i += 2) {
      const j = (i + 2) % n;
      const a = r[i]! * nx + r[i + 1]! * ny;
      const b = r[j]! * nx + r[j + 1]! * ny;
      if (a === b) continue;
      const [ka, kb] = single ? [0, 0] : [(a - base) / gap, (b - base) / gap];
      const from = single ? 0 : Math.ceil(Math.min(ka, kb) - slack);
      const to = single ? 0 : Math.floor(Math.max(ka, kb) + slack);
      for (let k = from; k <= to; k++) {
        const level = base + k * gap;
        // A corner that lies on a line counts once.
        if (a <= level + near === b <= level + near) continue;
        if (++met > 4 * most) return false;
        const s = Math.min(1, Math.max(0, (level - a) / (b - a)));
        const t = (r[i]! + (r[j]! - r[i]!) * s) * ux + (r[i + 1]! + (r[j + 1]! - r[i + 1]!) * s) * uy;
        const list = crossings.get(k);
        if (list) list.push(t);
        else crossings.set(k, [t]);
      }
    }
  }
  const dashes = f.dashes.some((d) => d !== 0) ? f.dashes : [];
  const period = dashes.reduce((s, d) => s + Math.abs(d), 0);
  for (const k of [...crossings.keys()].sort((a, b) => a - b)) {
    const ts = crossings.get(k)!.sort((a, b) => a - b);
    const level = base + k * gap;
    const [ox, oy] = [nx * level, ny * level];
    const put = (t0: number, t1: number): void => out.push(ox + ux * t0, oy + uy * t0, ox + ux * t1, oy + uy * t1);
    for (let i = 0; i + 1 < ts.length; i += 2) {
      const [t0, t1] = [ts[i], ts[i + 1]];
      if (period === 0) put(t0!, t1!);
      else if ((t1! - t0!) / period > most) return false;
      else dashInterval(t0!, t1!, start + k * along, dashes, period, put);
      if (out.n / 4 > most) return false;
    }
  }
  return true;
}

/** The dashes between t0 and t1 of a pattern that starts at `origin` and repeats both ways. */
function dashInterval(
  t0: number,
  t1: number,
  origin: number,
  dashes: readonly number[],
  period: number,
  put: (a: number, b: number) => void,
): void {
  for (let t = origin + Math.floor((t0 - origin) / period) * period; t < t1; t += period) {
    let at = t;
    for (const d of dashes) {
      if (d >= 0) {
        const [a, b] = [Math.max(at, t0), Math.min(at + d, t1)];
        if (b > a || (d === 0 && at >= t0 && at <= t1)) put(a, b);
      }
      at += Math.abs(d);
    }
  }
}
