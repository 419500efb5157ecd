import type { CarryOverState } from '../drawing/state-shape.js';
import type { Drawing } from '../drawing/drawing.js';
import type { CarryOver, LedgerRow } from '../drawing/ledger.js';
import { CARRY_OVERS } from '../drawing/ledger.js';
import type { IntakeDecisions } from './decisions.js';
import { settleUnit } from './intake.js';

export interface CarryOverSummary {
  carryOver: CarryOver;
  state: CarryOverState;
  /** Why, in the words of the ledger. */
  reasons: string[];
}

/** The strip: the state of each carry-over as the ledger has it so far. Lost beats at risk, at risk beats undecided. */
export function summarise(
  drawing: Pick<Drawing, 'unit' | 'format'>,
  decisions: IntakeDecisions,
  rows: readonly LedgerRow[],
): CarryOverSummary[] {
  return CARRY_OVERS.map((carryOver) => {
    const own = rows.filter((r) => r.carryOver === carryOver);
    const lost = own.filter((r) => r.action === 'dropped' && !r.onPurpose);
    const risky = own.filter((r) => (r.action === 'approximated' || r.action === 'changed') && !r.onPurpose);
    const changed = own.filter((r) => r.action !== 'kept' && r.onPurpose);
    const words = (list: LedgerRow[]): string[] =>
      list.map((r) => (r.count > 1 ? `${r.reason} (${r.count})` : r.reason));
    if (lost.length > 0) return { carryOver, state: 'lost', reasons: words(lost) };
    if (risky.length > 0) return { carryOver, state: 'atRisk', reasons: words(risky) };
    if (carryOver === 'units' && settleUnit(drawing, decisions) === null) {
      const why =
        drawing.unit?.unit === 'px'
          ? 'the file counts in pixels; say how many make an inch'
          : 'the file states no unit';
      return { carryOver, state: 'undecided', reasons: [why] };
    }
    if (changed.length > 0) return { carryOver, state: 'changed', reasons: words(changed) };
    return { carryOver, state: 'kept', reasons: words(own.filter((r) => r.action === 'kept')) };
  });
}
