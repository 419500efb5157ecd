import type { EntityKind } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import type { Work } from '../formats/format.js';
import type { Comparison } from './comparison.js';
import { RELATIVE, round, total } from './comparison.js';
import type { Farthest } from './distance.js';
import { farthest } from './distance.js';
import type { Measures } from './measure.js';
import { boundaries } from './measure.js';

/** A file in which nothing is drawn is true to a drawing in which nothing is, and still is not what anybody wants. */
export function emptyItem({ a, b, items }: Comparison): void {
  if (!(a.box.empty && b.box.empty && a.texts.length === 0 && b.texts.length === 0)) return;
  items.push({
    id: 'empty',
    carryOver: 'curves',
    title: 'Something to be seen',
    state: 'lost',
    expected: 'a drawing',
    found: 'nothing drawn',
    explanation: 'what was handed to the writer is empty',
    about: 'source',
  });
}

export function sizeItem({ a, b, limit, stated, unit, items }: Comparison): void {
  const off = Math.max(Math.abs(a.box.width - b.box.width), Math.abs(a.box.height - b.box.height));
  const words = (m: Measures): string =>
    m.box.empty ? 'empty' : `${round(m.box.width)} × ${round(m.box.height)} ${unit}`;
  const same = off <= limit && a.box.empty === b.box.empty;
  const within = off <= limit + 2 * stated && a.box.empty === b.box.empty;
  items.push({
    id: 'size',
    carryOver: 'scale',
    title: 'Size of lines and fills, without text',
    state: same ? 'kept' : within ? 'changed' : 'atRisk',
    expected: words(a),
    found: words(b),
    explanation: same ? '' : `differs by ${round(off)} ${unit}${within ? ', within what the writer stated' : ''}`,
  });
}

export function originItem({ a, b, limit, stated, unit, items }: Comparison): void {
  if (a.box.empty || b.box.empty) return;
  const [dx, dy] = [b.box.minX - a.box.minX, b.box.minY - a.box.minY];
  const same = Math.hypot(dx, dy) <= limit;
  const within = Math.hypot(dx, dy) <= limit + 1.5 * stated;
  // What lies closer to zero than the limit is zero for people.
  const near = (v: number): string => round(Math.abs(v) < limit * 1e-3 ? 0 : v);
  const words = (m: Measures): string => `${near(m.box.minX)}, ${near(m.box.minY)} ${unit}`;
  items.push({
    id: 'origin',
    carryOver: 'origin',
    title: 'Lower left corner of lines and fills',
    at: { x: b.box.minX, y: b.box.minY },
    state: same ? 'kept' : within ? 'changed' : 'atRisk',
    expected: words(a),
    found: words(b),
    explanation: same
      ? ''
      : `moved by ${round(dx)}, ${round(dy)} ${unit}${within ? ', within what the writer stated' : ''}`,
  });
}

/** Two digits, for limits. */
const short = (v: number): string => round(Number(v.toPrecision(2)));

export function curveItem(x: Comparison, tolerance: number, work?: Work): void {
  const { a, b, unit, items } = x;
  // What the writer says it approximated may lie as far away as it says, and counts as a change.
  const { stated } = x;
  const out = farthest(a.chords, boundaries(b), tolerance, work);
  work?.onProgress?.(0.8);
  const back = farthest(b.chords, boundaries(a), tolerance, work);
  const worst: Farthest = out.distance >= back.distance ? out : back;
  // Both sides are measured on chords, each within the tolerance of its curve.
  const strict = Math.max(3 * tolerance, x.limit);
  const limit = strict + 1.5 * stated;
  const same = worst.distance <= limit;
  items.push({
    id: 'distance',
    carryOver: 'curves',
    title: 'Largest distance between curves',
    state: same ? (worst.distance <= strict ? 'kept' : 'changed') : 'atRisk',
    expected: `under ${round(Number(limit.toPrecision(2)))} ${unit}`,
    found: Number.isFinite(worst.distance)
      ? `${round(Number(worst.distance.toPrecision(3)))} ${unit}`
      : 'one side draws nothing',
    explanation: [
      `${out.samples + back.samples} points measured, both ways`,
      `the limit: ${strict > x.limit ? `three times what measuring itself may miss, ${short(tolerance)} ${unit}` : `what a double loses in a drawing of this size, ${short(x.limit)} ${unit}`}${stated > 0 ? `, and one and a half times the ${short(stated)} ${unit} that the writer stated` : ''}`,
    ].join('; '),
    ...(Number.isFinite(worst.distance) && out.samples + back.samples > 0 && { at: { x: worst.x, y: worst.y } }),
  });
}

export function lengthItem({ a, b, limit, rounding, unit, ledger, items }: Comparison): void {
  const added = ledger.flatMap((r) => Object.values(r.added ?? {})).reduce((s, v) => s + v, 0);
  const drawn = total(a.strokes);
  const want = drawn + added;
  const got = total(b.strokes);
  const same = Math.abs(want - got) <= Math.max(limit, RELATIVE * want, rounding.amount);
  items.push({
    id: 'length',
    carryOver: 'curves',
    title: 'Total length of lines',
    state: same ? (added > 0 ? 'changed' : 'kept') : 'atRisk',
    expected: `${round(want)} ${unit}`,
    found: `${round(got)} ${unit}`,
    explanation: same
      ? added > 0
        ? `${round(added)} ${unit} are outlines the writer added`
        : ''
      : `differs by ${round(got - want)} ${unit}`,
  });
}

export function kindItems({ a, b, ledger, items }: Comparison, sameCurves: boolean): void {
  const want: Record<string, number> = { ...a.kinds };
  const reasons = new Map<string, string[]>();
  for (const r of ledger) {
    if (!r.becomes) continue;
    const { from, to, gone, entities } = r.becomes;
    if (want[from] !== undefined) want[from] -= gone;
    want[to] = (want[to] ?? 0) + entities;
    for (const k of [from, to]) reasons.set(k, [...(reasons.get(k) ?? []), r.reason]);
  }
  const kinds = new Set([...Object.keys(a.kinds), ...Object.keys(b.kinds), ...Object.keys(want)]);
  for (const k of [...kinds].sort()) {
    const known = k in a.kinds || k in b.kinds;
    if (!known) continue;
    const kind = k as EntityKind;
    const [had, expected, found] = [a.kinds[kind] ?? 0, want[k] ?? 0, b.kinds[kind] ?? 0];
    const right = expected === found;
    if (!right && sameCurves) {
      items.push({
        id: `kind-${k}`,
        carryOver: 'curves',
        title: `Number of ${kindName(kind, 2)}`,
        state: 'changed',
        expected: String(expected),
        found: String(found),
        shows: { kind },
        explanation: 'held as other kinds, which draw the same curves',
      });
      continue;
    }
    items.push({
      id: `kind-${k}`,
      carryOver: kind === 'text' || kind === 'richText' ? 'text' : kind === 'insert' ? 'links' : 'curves',
      title: `Number of ${kindName(kind, 2)}`,
      ...(found > 0 && { shows: { kind } }),
      state: right ? (had === found ? 'kept' : 'changed') : 'atRisk',
      expected: String(expected),
      found: String(found),
      explanation: right
        ? had === found
          ? ''
          : `${had} in the drawing; ${[...new Set(reasons.get(k) ?? [])].join('; ')}`
        : 'no row of the ledger explains the difference',
    });
  }
}
