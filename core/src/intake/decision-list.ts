import type { ParameterSet } from '../parameters/parameter.js';
import type { DecisionName, IntakeDecisions } from './decisions.js';
import { DECISIONS, DECISION_TABLE, NO_DECISIONS, wholeDecisions } from './decisions.js';

/** One decision that departs from what happens without any. */
export interface Decided {
  name: DecisionName;
  title: string;
  words: string;
}

/** What each decision is called. */
export const DECISION_TITLES = Object.fromEntries(DECISIONS.map((n) => [n, DECISION_TABLE[n].title])) as Readonly<
  Record<DecisionName, string>
>;

/** What goes with each decision when it is copied or taken back. */
const fieldsOf = (name: DecisionName): (keyof IntakeDecisions)[] =>
  Object.keys(DECISION_TABLE[name].fields as ParameterSet) as (keyof IntakeDecisions)[];

/** The decision that a field of `IntakeDecisions` belongs to. */
export const decisionOf = (field: keyof IntakeDecisions): DecisionName =>
  DECISIONS.find((name) => fieldsOf(name).includes(field)) ?? 'art';

/** All decisions that were made, in the order in which they are applied, in words. */
export function decidedOf(d: IntakeDecisions): Decided[] {
  const whole = wholeDecisions(d);
  return DECISIONS.flatMap((name) => {
    const { title, words } = DECISION_TABLE[name];
    const said = (words as (w: typeof whole) => string | null)(whole);
    return said === null ? [] : [{ name, title, words: said }];
  });
}

/** The fields of some decisions as they are in `from`, to be laid over those of another drawing. */
export function copiedDecisions(from: IntakeDecisions, names: Iterable<DecisionName>): Partial<IntakeDecisions> {
  const whole = wholeDecisions(from);
  return Object.fromEntries([...names].flatMap(fieldsOf).map((field) => [field, whole[field]]));
}

/** One decision taken back. */
export const takenBack = (name: DecisionName): Partial<IntakeDecisions> => copiedDecisions(NO_DECISIONS, [name]);
