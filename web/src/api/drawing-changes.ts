import type { DecisionName, IntakeDecisions } from '@scalaria/core';
import { DECISION_TITLES, canonicalText, decidedOf, decisionOf } from '@scalaria/core';
import type { DrawingDetail } from './types';

/** What is kept of a drawing and can be changed from a window. */
export type Decided = Pick<DrawingDetail, 'intake' | 'steps'>;

/** A change as it is sent: only what changed, so that it takes nothing back that another window decided. */
export interface DrawingChange {
  intake?: Partial<IntakeDecisions>;
  /** Decisions that are taken back altogether. */
  unset?: (keyof IntakeDecisions)[];
  steps?: DrawingDetail['steps'];
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
  return Object.keys(change).length > 0 ? change : null;
}

/** A state after a change: what the change does not name stays as it is. */
export function applied(to: Decided, change: DrawingChange): Decided {
  const intake: Record<string, unknown> = { ...to.intake, ...change.intake };
  for (const field of change.unset ?? []) delete intake[field];
  return { intake: intake as unknown as IntakeDecisions, steps: change.steps ?? to.steps };
}

/** What differs between what this window shows and what counts, in words; empty when nothing does. */
export function differenceInWords(shown: Decided, counts: Decided): string {
  const names = new Set<DecisionName>(differing(shown.intake, counts.intake).map(decisionOf));
  const decided = decidedOf(counts.intake);
  const words = [...names].map(
    (n) => `${DECISION_TITLES[n]} is now ${decided.find((d) => d.name === n)?.words ?? 'undecided'}`,
  );
  if (!same(shown.steps, counts.steps)) words.push('the steps are others now');
  return words.join('; ');
}
