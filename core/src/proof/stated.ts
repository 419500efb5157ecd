import type { LedgerRow } from '../drawing/ledger.js';
import type { ProofItem } from './proof-item.js';

/** Things that nobody gave: missing whatever is written, although nothing was left out on the way. */
const NOT_GIVEN = new Set<string>(['reference-missing', 'picture-missing', 'letters-in-no-font']);
const BREAKS_OFF = new Set<string>(['file-cut-off', 'file-broken-off']);

/** What the ledger itself says was approximated or dropped, so that a proof is honest about every loss. */
export function statedItems(ledger: readonly LedgerRow[]): ProofItem[] {
  return ledger
    .filter((r) => r.action === 'dropped' || r.action === 'approximated')
    .map((r, i) => ({
      id: `ledger-${r.by}-${i}`,
      carryOver: r.carryOver,
      title: r.reason[0]!.toUpperCase() + r.reason.slice(1),
      state: !NOT_GIVEN.has(r.code ?? '') && (r.onPurpose || r.action === 'approximated') ? 'changed' : 'lost',
      count: r.count,
      expected: `${r.count}`,
      found: r.action === 'dropped' ? '0' : `${r.count} approximated`,
      // That the file breaks off is said of the source already.
      ...(BREAKS_OFF.has(r.code ?? '') && { about: 'source' as const }),
      explanation: r.deviation ? `by at most ${r.deviation.value} ${r.deviation.unit}` : 'from the ledger',
    }));
}
