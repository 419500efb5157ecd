import type { IntakeDecisions, PlannedStep, Review, Target, Yardstick } from '@scalaria/core';
import { DECISION_TITLES, canonicalText, decidedOf, decisionOf, stepById } from '@scalaria/core';
import type { drawings } from '../database/schema.js';
import { Problem } from './problem.js';

type DrawingRow = typeof drawings.$inferSelect;

/** What a window asks to change of a drawing, and the version of it that it saw. */
export interface DrawingChange {
  name?: string;
  /** Only the decisions that changed. */
  intake?: Partial<IntakeDecisions>;
  /** Decisions that are taken back altogether. */
  unset?: (keyof IntakeDecisions)[];
  steps?: PlannedStep[];
  review?: Review;
  yardsticks?: Yardstick[];
  target?: Target;
  deleted?: boolean;
  seen?: number;
}

/**
 * The row after a change: what is decided is merged field by field, so that two windows which decide different things both
 * get their way. A field that another window changed after the version that this one saw is a clash: a `Problem` 409 tells
 * what the other did. What already is as it is asked for is no clash, so the same request sent twice does nothing twice.
 */
export function changed(row: DrawingRow, change: DrawingChange): Partial<typeof drawings.$inferInsert> {
  const before: Record<string, unknown> = {
    name: row.name,
    steps: row.steps,
    review: row.review,
    yardsticks: row.yardsticks,
    target: row.target,
    deleted: row.deletedAt !== null,
  };
  for (const [k, v] of Object.entries(row.intake)) before[`intake.${k}`] = v;
  const after: Record<string, unknown> = {};
  if (change.name !== undefined) after['name'] = change.name.trim();
  if (change.steps) after['steps'] = change.steps;
  if (change.review) after['review'] = change.review;
  if (change.yardsticks) after['yardsticks'] = change.yardsticks;
  if (change.target) after['target'] = change.target;
  if (change.deleted !== undefined) after['deleted'] = change.deleted;
  for (const [k, v] of Object.entries(change.intake ?? {})) after[`intake.${k}`] = v;
  for (const k of change.unset ?? []) after[`intake.${k}`] = undefined;

  const version = row.version + 1;
  const changes = { ...row.changes };
  const clashes: string[] = [];
  const fresh: string[] = [];
  for (const [field, value] of Object.entries(after)) {
    if (canonicalText(before[field]) === canonicalText(value)) continue;
    // How a file is written is a form as it was left: whoever leaves it last is right.
    if (field !== 'target' && change.seen !== undefined && (changes[field] ?? 0) > change.seen) clashes.push(field);
    fresh.push(field);
    changes[field] = version;
  }
  if (clashes.length > 0) throw clash(row, clashes);
  if (fresh.length === 0) return {};

  const intake: Record<string, unknown> = { ...row.intake };
  for (const field of fresh) {
    if (!field.startsWith('intake.')) continue;
    const key = field.slice('intake.'.length);
    if (after[field] === undefined) delete intake[key];
    else intake[key] = after[field];
  }
  return {
    version,
    changes,
    intake: intake as unknown as IntakeDecisions,
    ...(fresh.includes('name') && { name: after['name'] as string }),
    ...(fresh.includes('steps') && { steps: change.steps! }),
    ...(fresh.includes('review') && { review: change.review! }),
    ...(fresh.includes('yardsticks') && { yardsticks: change.yardsticks! }),
    ...(fresh.includes('target') && { target: change.target! }),
    ...(fresh.includes('deleted') && { deletedAt: change.deleted ? new Date() : null }),
  };
}

/** What another window decided meanwhile, in words. */
function clash(row: DrawingRow, fields: string[]): Problem {
  const decided = decidedOf(row.intake);
  const told = fields.map((field) => {
    if (field === 'name') return `the name is now “${row.name}”`;
    if (field === 'deleted') return row.deletedAt ? 'it was deleted' : 'it was brought back';
    if (field === 'review') return 'what is said of its findings is otherwise';
    if (field === 'yardsticks') return 'its yardsticks are otherwise';
    if (field === 'steps') {
      const on = row.steps.filter((s) => s.on).map((s) => stepById(s.step)?.title ?? s.step);
      return on.length === 0 ? 'there are no steps any more' : `the steps are now ${on.join(', ')}`;
    }
    const name = decisionOf(field.slice('intake.'.length) as keyof IntakeDecisions);
    const found = decided.find((d) => d.name === name);
    return `${DECISION_TITLES[name]} is now ${found?.words ?? 'undecided'}`;
  });
  return new Problem(409, `Decided meanwhile in another window: ${told.join('; ')}.`, {
    remedy: 'What counts is in sight now. Decide again if it should be otherwise.',
  });
}
