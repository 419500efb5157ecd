import type { LedgerRow } from '../drawing/ledger.js';
import type { ReasonCode } from '../drawing/reasons.js';

/** Which fields of an entity a row about it accounts for. A row with another reason accounts for none. */
const FIELDS: Partial<Record<ReasonCode, RegExp>> = {
  'true-colours-need-2004': /^look\.(stroke|fill)/,
  'paint-to-plain-colour': /^look\.(stroke|fill)/,
  'transparency-needs-2004': /^look\..*[oO]pacity/,
  'width-to-nearest-weight': /^look\.width/,
  'width-beyond-weights': /^look\.width/,
  'line-widths-need-2000': /^look\.width/,
  'em-as-capitals': /^(size|sizeOf)$/,
  'gradients-need-2004': /^gradient/,
  'hatch-let-go-of-boundary': /^(associative|rest)$/,
  'pattern-without-lines': /^(solid|pattern|lines)$/,
  'fit-points-beside-control-points': /^(fitPoints|startTangent|endTangent|rest)$/,
  'line-spacing-needs-2000': /^(lineSpacing|exactSpacing)$/,
  'linetype-scale-needs-r13': /^look\.dash/,
  'properties-not-in-r12': /^rest$/,
};

/**
 * Asks whether the ledger accounts for a field of an entity being otherwise: by a row about that very entity, or by one that
 * only counts, for as many entities as it counts.
 */
export function excuseFor(ledger: readonly LedgerRow[]): (id: number, field: string) => boolean {
  const rows = ledger.flatMap((r) => {
    const fields = r.code && FIELDS[r.code];
    return fields ? [{ fields, ids: r.ids, count: r.count, met: new Set<number>() }] : [];
  });
  return (id, field) =>
    rows.some((r) => {
      if (!r.fields.test(field)) return false;
      if (r.ids.length > 0) return r.ids.some(([a, b]) => id >= a && id <= b);
      if (r.met.size < r.count) r.met.add(id);
      return r.met.has(id);
    });
}
