import type { Drawing } from '../drawing/drawing.js';
import { walk } from '../drawing/resolve.js';
import { mmPerUnit } from '../drawing/units.js';
import { planarSimilarity } from '../geometry/affine.js';

/*
 * A page shows something smaller than it is. Which scale that is can be written on it, and follows from numbers beside lines that are so
 * long; lengths that come out round bear it out.
 */

/** A scale 1 : `scale` with what is evidence for it. */
export interface ScaleSuggestion {
  readonly scale: number;
  readonly score: number;
  readonly reasons: readonly string[];
}

/** Scales that drawings are made at (ISO 5455, and those in feet and inches). */
const SCALES = [1, 2, 5, 10, 12, 20, 24, 25, 48, 50, 96, 100, 200, 250, 500, 1000, 2000, 2500, 5000] as const;
/** How exactly a page holds its coordinates, in mm. */
const GRAIN = 0.003;
const MOST_LENGTHS = 4000;
const MOST_TEXTS = 2000;
/** So many lengths at least say something about being round. */
const FEW = 6;

/** A whole number of millimetres that a drafter would choose, by how much is shown smaller. */
const roundTo = (scale: number): number => (scale <= 2 ? 5 : scale <= 20 ? 10 : scale <= 100 ? 50 : 500);

/** The likeliest first; nothing for a drawing that does not state its size, or in which nothing is evidence. A suggestion only. */
export function scaleEvidence(drawing: Drawing): ScaleSuggestion[] {
  const mm = drawing.unit && drawing.unit.unit !== 'px' ? mmPerUnit(drawing.unit) : null;
  if (mm === null) return [];
  const { lengths, texts } = gathered(drawing, mm);
  const said = texts.flatMap((t) =>
    [...t.matchAll(/(?:^|[^\d.,:])1\s?:\s?(\d{1,5})(?![\d.,:])/g)].map((m) => Number(m[1])),
  );
  const numbers = texts.map(numberOf).filter((v): v is number => v !== null && v > 0);
  const scales = [...new Set([...SCALES, ...said.filter((s) => s > 0)])];
  const found = scales.map((scale): ScaleSuggestion => {
    const reasons: string[] = [];
    let score = 0;
    if (said.includes(scale)) {
      score += 3;
      reasons.push(`“1 : ${scale}” is written on it`);
    }
    const matched = matchedNumbers(numbers, lengths, scale);
    if (matched.n >= 2) {
      score += Math.min(3, 0.6 * matched.n);
      reasons.push(`${matched.n} numbers on it are lengths in ${matched.unit}, such as ${matched.example}`);
    }
    const share = roundShare(lengths, scale);
    // What is round at one scale is round at others too: it only bears out what else is said.
    if (score > 0 && share !== null && share.above > 0.4) {
      score += share.above;
      reasons.push(`${share.n} of ${share.of} lengths are multiples of ${roundTo(scale)} mm`);
    }
    return { scale, score, reasons };
  });
  return found.filter((f) => f.score > 0.4).sort((a, b) => b.score - a.score || a.scale - b.scale);
}

/** Lengths of straight pieces in mm of the page, and what is written. */
function gathered(drawing: Drawing, mm: number): { lengths: number[]; texts: string[] } {
  const lengths = new Set<number>();
  const texts: string[] = [];
  const add = (dx: number, dy: number, k: number): void => {
    const l = Math.hypot(dx, dy) * k;
    if (l > 1 && lengths.size < MOST_LENGTHS) lengths.add(Math.round(l / GRAIN) * GRAIN);
  };
  walk(drawing, ({ entity: e, toWorld }) => {
    const k = (planarSimilarity(toWorld) ?? 1) * mm;
    if (e.kind === 'line') add(e.end[0] - e.start[0], e.end[1] - e.start[1], k);
    else if (e.kind === 'path') {
      const { cmds, data } = e.path;
      if (cmds.length <= 64 && cmds.every((c) => c === 0 || c === 1 || c === 5))
        for (let i = 2; i < data.length; i += 2) add(data[i]! - data[i - 2]!, data[i + 1]! - data[i - 1]!, k);
    } else if (e.kind === 'polyline')
      for (let i = e.dim; i < e.points.length; i += e.dim)
        add(e.points[i]! - e.points[i - e.dim]!, e.points[i + 1]! - e.points[i + 1 - e.dim]!, k);
    else if (e.kind === 'text' && texts.length < MOST_TEXTS) texts.push(e.text);
    else if (e.kind === 'richText' && texts.length < MOST_TEXTS) texts.push(e.plain);
  });
  return { lengths: [...lengths], texts };
}

/** A text that is a number and nothing else; commas and blanks may part thousands. */
function numberOf(text: string): number | null {
  const t = text.trim();
  if (!/^\d[\d\s,.]*$/.test(t)) return null;
  const plain = /^\d{1,3}([ ,]\d{3})+$/.test(t) ? t.replace(/[ ,]/g, '') : t.replace(',', '.');
  const v = Number(plain);
  return Number.isFinite(v) ? v : null;
}

/** How many of the numbers that are written are lengths at a scale, in mm or in m; those that others explain by chance are few. */
function matchedNumbers(
  numbers: readonly number[],
  lengths: readonly number[],
  scale: number,
): { n: number; unit: string; example: string } {
  let best = { n: 0, unit: 'mm', example: '' };
  for (const [unit, per] of [
    ['mm', 1],
    ['m', 1000],
  ] as const) {
    const near = GRAIN * scale * 2;
    const sorted = lengths.map((l) => l * scale).sort((a, b) => a - b);
    const hits = [...new Set(numbers)].filter((v) => v * per >= 20 * near && hasNear(sorted, v * per, near));
    if (hits.length > best.n) best = { n: hits.length, unit, example: String(hits[0]) };
  }
  return best;
}

function hasNear(sorted: readonly number[], v: number, near: number): boolean {
  let [lo, hi] = [0, sorted.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (sorted[mid]! < v - near) lo = mid + 1;
    else hi = mid;
  }
  return lo < sorted.length && sorted[lo]! <= v + near;
}

/** How many lengths are round at a scale, and by how much more than chance would have it. */
function roundShare(lengths: readonly number[], scale: number): { n: number; of: number; above: number } | null {
  const step = roundTo(scale);
  const near = GRAIN * scale;
  const of = lengths.filter((l) => l * scale >= step);
  if (of.length < FEW) return null;
  const n = of.filter((l) => Math.abs(l * scale - step * Math.round((l * scale) / step)) <= near).length;
  return { n, of: of.length, above: n / of.length - Math.min(1, (2 * near) / step) };
}
