import type { Drawing } from '../drawing/drawing.js';
import type { Deviation, LedgerRow } from '../drawing/ledger.js';
import type { Reason } from '../drawing/reasons.js';
import type { StepContext } from './step.js';

/** The ledger's row for what was changed because it was asked for; none where nothing was. */
export function tellChange(
  ctx: Pick<StepContext, 'ledger'>,
  carryOver: LedgerRow['carryOver'],
  count: number,
  reason: Reason,
  deviation?: Deviation,
): void {
  if (count > 0)
    ctx.ledger.add({ carryOver, action: 'changed', onPurpose: true, count, reason, ...(deviation && { deviation }) });
}

/** A distance by which curves came to lie off what they were, to three digits, in the drawing's unit. */
export const movedBy = (drawing: Drawing, distance: number): Deviation => ({
  value: Number(distance.toPrecision(3)),
  unit: unitOf(drawing),
});

/** What a length of the drawing is counted in, for people. */
export const unitOf = ({ unit }: Drawing): string => unit?.unit ?? 'units';
