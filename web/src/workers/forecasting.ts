import type { CarryOverSummary, IntakeDecisions, LedgerRow, PlannedStep, Target } from '@scalaria/core';
import { UserError, deliver, readSource, summarise } from '@scalaria/core';
import { held, loadFonts, pipeline } from './held';

/** What would become of a drawing, were it written now. */
export interface Forecast {
  strip: CarryOverSummary[];
  rows: LedgerRow[];
}

/** A drawing of more objects than these is only looked ahead for when that is asked for. */
const MOST_UNASKED = 30_000;

/** Writes the drawing and keeps nothing but what the writer had to say. */
export const forecasting = {
  /** Whether looking ahead is quick enough to be done unasked. */
  isQuick(): boolean {
    return (held.source?.entities.length ?? 0) <= MOST_UNASKED;
  },

  /** `template`: the file that the target names. A sentence where the target cannot be written. */
  async forecast(
    decisions: IntakeDecisions,
    steps: PlannedStep[],
    target: Target,
    template?: { bytes: ArrayBuffer; name: string },
  ): Promise<Forecast | string> {
    if (!held.source) throw new Error('no drawing is open');
    const prepared = (await pipeline()).run(decisions, steps);
    const like = template && (await readSource(new Uint8Array(template.bytes), template.name)).drawing;
    try {
      const made = deliver(prepared.drawing, target, 'forecast', await loadFonts(), like ? { template: like } : {});
      const rows = [...held.reading, ...prepared.ledger, ...made.ledger];
      return { strip: summarise(held.source, decisions, rows), rows };
    } catch (e) {
      if (e instanceof UserError && e.code !== 'stopped') return e.message;
      throw e;
    }
  },
};
