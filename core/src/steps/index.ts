import type { Drawing } from '../drawing/drawing.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { Ledger } from '../drawing/ledger.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { FontBook } from '../text/fonts.js';
import { breakUpBlocks } from './break-up-blocks.js';
import { clearDoubles } from './clear-doubles.js';
import { flattenDimensions } from './flatten-dimensions.js';
import { flattenHatches } from './flatten-hatches.js';
import { joinEnds } from './join-ends.js';
import { letteringOnCurve } from './lettering-on-curve.js';
import { recoverCircles } from './recover-circles.js';
import { setTrueSize } from './set-true-size.js';
import { shiftOrigin } from './shift-origin.js';
import { sortByRule } from './sort-by-rule.js';
import { textToShapes } from './text-to-outlines.js';
import { defaultsOf, parameterFault } from '../parameters/schema.js';
import type { PlannedStep, Step } from './step.js';

/** All steps. A new one is a file beside these and a line here. */
export const STEPS: readonly Step[] = [
  shiftOrigin,
  setTrueSize,
  sortByRule,
  joinEnds,
  clearDoubles,
  recoverCircles,
  breakUpBlocks,
  flattenDimensions,
  flattenHatches,
  textToShapes,
  letteringOnCurve,
];

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
    const before = entityCount(drawing);
    drawing = step.run(drawing, params, { ...work, ledger, fonts: work?.fonts ?? new FontBook([]) });
    accountFor(entityCount(drawing) - before, step, ledger);
    rows.push(...ledger.rows);
  }
  return { drawing, ledger: rows };
}

const entityCount = (d: Drawing): number =>
  d.entities.length + [...d.blocks.values()].reduce((n, b) => n + b.entities.length, 0);

/** What a step added or took away and did not account for itself becomes a row, so that the proof can count. */
function accountFor(more: number, step: Step, ledger: Ledger): void {
  const told = ledger.rows.reduce((n, r) => n + (r.becomes ? r.becomes.entities - r.becomes.gone : 0), 0);
  const rest = more - told;
  if (rest === 0) return;
  ledger.add({
    carryOver: step.carries[0]!,
    action: 'changed',
    onPurpose: true,
    reason: `${step.title}: ${Math.abs(rest)} ${Math.abs(rest) === 1 ? 'entity' : 'entities'} ${rest > 0 ? 'more' : 'fewer'}`,
    becomes: { from: 'entity', to: 'entity', gone: Math.max(0, -rest), entities: Math.max(0, rest) },
  });
}
