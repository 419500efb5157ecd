import type { DecisionName, IntakeDecisions } from '@scalaria/core';
import { DECISION_TITLES, canonicalText, decidedOf, decisionOf, stepById } from '@scalaria/core';
import type { DrawingDetail } from './types';

/** What is kept of a drawing and can be changed from a window. */
export type Decided = Pick<DrawingDetail, 'intake' | 'steps' | 'review' | 'yardsticks'>;

/** A change as it is sent: only what changed, so that it takes nothing back that another window decided. */
export interface DrawingChange {
  intake?: Partial<IntakeDecisions>;
  /** Decisions that are taken back altogether. */
  unset?: (keyof IntakeDecisions)[];
  steps?: DrawingDetail['steps'];
  review?: DrawingDetail['review'];
  yardsticks?: DrawingDetail['yardsticks'];
}

/** Whether two plain values say the same, in whatever order a database gives their fields back. */
const same = (a: unknown, b: unknown): boolean => canonicalText(a) === canonicalText(b);

/** The fields of decisions in which two differ. */
function differing(a: IntakeDecisions, b: IntakeDecisions): (keyof IntakeDecisions)[] {
  const fields = new Set([...Object.keys(a), ...Object.keys(b)]) as Set<keyof IntakeDecisions>;
  return [...fields].filter((f) => !same(a[f], b[f]));
}

/** What has to be sent so that one state becomes another; `null` when they are the same. */
export function changeBetween(before: Decided, after: Partial<Decided>): DrawingChange | null {
  const change: DrawingChange = {};
  if (after.intake) {
    const set: Record<string, unknown> = {};
    const unset: (keyof IntakeDecisions)[] = [];
    for (const field of differing(before.intake, after.intake)) {
      if (after.intake[field] === undefined) unset.push(field);
      else set[field] = after.intake[field];
    }
    if (Object.keys(set).length > 0) change.intake = set;
    if (unset.length > 0) change.unset = unset;
  }
  if (after.steps && !same(before.steps, after.steps)) change.steps = after.steps;
  if (after.review && !same(before.review, after.review)) change.review = after.review;
  if (after.yardsticks && !same(before.yardsticks, after.yardsticks)) change.yardsticks = after.yardsticks;
  return Object.keys(change).length > 0 ? change : null;
}

/** A state after a change: what the change does not name stays as it is. */
export function applied(to: Decided, change: DrawingChange): Decided {
  const intake: Record<string, unknown> = { ...to.intake, ...change.intake };
  for (const field of change.unset ?? []) delete intake[field];
  return {
    intake: intake as unknown as IntakeDecisions,
    steps: change.steps ?? to.steps,
    review: change.review ?? to.review,
    yardsticks: change.yardsticks ?? to.yardsticks,
  };
}

/** What differs between what this window shows and what counts, in words; empty when nothing does. */
export function differenceInWords(shown: Decided, counts: Decided): string {
  const names = new Set<DecisionName>(differing(shown.intake, counts.intake).map(decisionOf));
  const decided = decidedOf(counts.intake);
  const words = [...names].map(
    (n) => `${DECISION_TITLES[n]} is now ${decided.find((d) => d.name === n)?.words ?? 'undecided'}`,
  );
  if (!same(shown.steps, counts.steps)) words.push('the steps are others now');
  if (!same(shown.review, counts.review)) words.push('other findings are set aside now');
  if (!same(shown.yardsticks, counts.yardsticks)) words.push('the yardsticks are others now');
  return words.join('; ');
}

/** Whether all that a change set still stands as it set it: only then taking it back takes back nothing else. */
export function stillSo(now: Decided, change: DrawingChange): boolean {
  return changeBetween(now, applied(now, change)) === null;
}

/** What a change asks for, and what another window decided on the same, in words: `unit: here mm, in the other window cm`. */
export function clashInWords(mine: DrawingChange, shown: Decided, counts: Decided): string {
  const wanted = applied(shown, mine);
  const fields = [...Object.keys(mine.intake ?? {}), ...(mine.unset ?? [])] as (keyof IntakeDecisions)[];
  const names = new Set<DecisionName>(
    fields.filter((f) => !same(wanted.intake[f], counts.intake[f])).map((f) => decisionOf(f)),
  );
  const said = (d: IntakeDecisions, n: DecisionName): string =>
    decidedOf(d).find((one) => one.name === n)?.words ?? 'undecided';
  const words = [...names].map(
    (n) => `${DECISION_TITLES[n]}: here ${said(wanted.intake, n)}, in the other window ${said(counts.intake, n)}`,
  );
  const steps = (list: Decided['steps']): string =>
    list.length === 0 ? 'none' : list.map((s) => stepById(s.step)?.title ?? s.step).join(', ');
  if (mine.steps && !same(mine.steps, counts.steps))
    words.push(`Steps: here ${steps(mine.steps)}; in the other window ${steps(counts.steps)}`);
  if (mine.review && !same(mine.review, counts.review)) words.push('Other findings were set aside in the other window');
  if (mine.yardsticks && !same(mine.yardsticks, counts.yardsticks))
    words.push('Other yardsticks were set in the other window');
  return words.join('. ');
}
