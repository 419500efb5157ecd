import type { ArcRules, RunArc } from './run-arc.js';
import { arcOfRun, tangentArc } from './run-arc.js';

/** A run of points, from one to another, that an arc stands for. */
export interface ArcRun {
  from: number;
  to: number;
  arc: RunArc;
}

/**
 * The longest runs of chords of an open line (x and y in turn) that are arcs, in order, none over another. `bent(k)` says that
 * from point k on it does not go straight: no run goes past that.
 */
export function arcRuns(xy: ArrayLike<number>, bent: (k: number) => boolean, rules: ArcRules): ArcRun[] {
  const n = xy.length / 2;
  const least = Math.max(3, rules.fewest);
  const out: ArcRun[] = [];
  for (let i = 0; i + least <= n;) {
    let end = i;
    while (end + 1 < n && !bent(end)) end++;
    if (end - i + 1 < least) {
      i = Math.max(i + 1, end);
      if (bent(end) && end === i - 1) i = end + 1;
      continue;
    }
    const best = longest(xy, i, end, least, rules);
    if (best) {
      out.push(rules.tidy ? best : smoothly(xy, best, i > 0 && !bent(i - 1), best.to + 1 < n && !bent(best.to), rules));
      i = best.to;
    } else i++;
  }
  return out;
}

/** The longest run from a point on: doubled while one fits, then halved back; runs too short for the sweep asked for may grow. */
function longest(xy: ArrayLike<number>, i: number, end: number, least: number, rules: ArcRules): ArcRun | null {
  // A run that is only too short sweeps less than it has to: it is looked at without that.
  const loose = { ...rules, sweep: 0, tidy: false };
  const fits = (j: number): boolean => arcOfRun(xy, i, j, loose) !== null;
  let good = i + least - 1;
  if (good > end || !fits(good)) return null;
  let step = 1;
  let bad = end + 1;
  while (good + step < bad) {
    if (fits(good + step)) {
      good += step;
      step *= 2;
    } else {
      bad = good + step;
      break;
    }
  }
  while (bad - good > 1) {
    const middle = Math.min((good + bad) >> 1, end);
    if (middle > good && fits(middle)) good = middle;
    else bad = middle;
  }
  const arc = arcOfRun(xy, i, good, rules);
  return arc && { from: i, to: good, arc };
}

/** A run made to go on its straight neighbours without a kink, where it nearly does. */
function smoothly(xy: ArrayLike<number>, run: ArcRun, hasBefore: boolean, hasAfter: boolean, rules: ArcRules): ArcRun {
  const way = (k: number): [number, number] => [xy[2 * k + 2]! - xy[2 * k]!, xy[2 * k + 3]! - xy[2 * k + 1]!];
  const before = hasBefore ? way(run.from - 1) : null;
  const after = hasAfter ? way(run.to) : null;
  const arc = tangentArc(xy, run.from, run.to, run.arc, before, after, rules);
  return arc ? { ...run, arc } : run;
}
