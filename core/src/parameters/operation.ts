import type { CarryOver } from '../drawing/ledger.js';
import { UserError } from '../errors.js';
import { faultOf } from './faults.js';
import type { Kept, ParameterSet } from './parameter.js';

/** What checks, steps and targets say of themselves: plain data, without their machines. */
export interface Operation<S extends ParameterSet = ParameterSet> {
  readonly id: string;
  readonly title: string;
  /** What it is for, in one plain sentence. */
  readonly summary: string;
  readonly carries: readonly CarryOver[];
  readonly params: S;
  /**
   * How parameters kept under version 1, 2, … become those of the version after. Their number says what version the
   * operation has: whoever changes what parameters mean adds one at the end.
   */
  readonly migrations?: readonly ((kept: Kept) => Kept)[];
}

/** The version of an operation's parameters, from 1 on. */
export const versionOf = (op: Operation): number => (op.migrations?.length ?? 0) + 1;

/**
 * Kept parameters as the operation understands them today. `version` is that which they were kept under; absent for plans of
 * before there were any, which is 1. Throws `UserError` for parameters of a version to come.
 */
export function upgraded(op: Operation, kept: Kept, version = 1): Kept {
  if (version > versionOf(op))
    throw new UserError(
      'wrong-parameter',
      `${op.title} was kept by a newer version of this program: bring it up to date`,
    );
  return (op.migrations ?? []).slice(version - 1).reduce((params, migrate) => migrate(params), kept);
}

/** What is wrong with kept parameters of a version, in words, or `null`. */
export function operationFault(op: Operation, kept: Kept, version?: number): string | null {
  try {
    return faultOf(op.params, upgraded(op, kept, version));
  } catch (e) {
    if (e instanceof UserError) return e.message;
    throw e;
  }
}
