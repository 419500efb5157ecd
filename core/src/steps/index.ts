import type { Drawing } from '../drawing/drawing.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { Ledger } from '../drawing/ledger.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { FontBook } from '../text/fonts.js';
import { letteringOnCurve } from './lettering-on-curve.js';
import { setTrueSize } from './set-true-size.js';
import { shiftOrigin } from './shift-origin.js';
import { sortByRule } from './sort-by-rule.js';
import { textToShapes } from './text-to-outlines.js';
import type { PlannedStep, Step } from './step.js';
import { defaultsOf, parameterFault } from './step.js';

/** All steps. A new one is a file beside these and a line here. */
export const STEPS: readonly Step[] = [shiftOrigin, setTrueSize, sortByRule, textToShapes, letteringOnCurve];

export const stepById = (id: string): Step | undefined => STEPS.find((s) => s.id === id);

/** Runs the planned steps that are switched on, in order. Throws `RangeError` for a step or parameter that is none. */
export function runSteps(
  drawing: Drawing,
  plan: readonly PlannedStep[],
  work?: Work & { fonts?: FontBook },
): { drawing: Drawing; ledger: LedgerRow[] } {
  const rows: LedgerRow[] = [];
  for (const planned of plan) {
    if (!planned.on) continue;
    checkStop(work);
    const step = stepById(planned.step);
    if (!step) throw new RangeError(`no step is called "${planned.step}"`);
    const params = { ...defaultsOf(step.params), ...planned.params };
    const fault = parameterFault(step.params, params);
    if (fault) throw new RangeError(`${step.title}: ${fault}`);
    const ledger = new Ledger(planned.id);
    drawing = step.run(drawing, params, { ...work, ledger, fonts: work?.fonts ?? new FontBook([]) });
    rows.push(...ledger.rows);
  }
  return { drawing, ledger: rows };
}
