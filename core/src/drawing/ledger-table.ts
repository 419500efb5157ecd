import { csvOf } from './csv.js';
import type { LedgerRow } from './ledger.js';

/** What a row says happened, for a person. */
export const ACTION_WORDS: Record<LedgerRow['action'], string> = {
  kept: 'kept',
  changed: 'changed',
  approximated: 'approximated',
  dropped: 'left out',
};

const HEAD = ['carry-over', 'what happened', 'why', 'count', 'asked for', 'largest deviation', 'unit', 'by'];

/** Rows as comma-separated values with a head. */
export function ledgerCsv(rows: readonly LedgerRow[]): string {
  const lines = rows.map((r) => [
    r.carryOver,
    ACTION_WORDS[r.action],
    r.reason,
    r.count,
    r.onPurpose ? 'yes' : 'no',
    r.deviation?.value ?? '',
    r.deviation?.unit ?? '',
    r.by,
  ]);
  return csvOf([HEAD, ...lines]);
}

/** The rows whose words hold every word of what is sought, in any order and case. */
export function soughtRows(rows: readonly LedgerRow[], sought: string): LedgerRow[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((r) => {
    const said = `${r.carryOver} ${ACTION_WORDS[r.action]} ${r.reason} ${r.by}`.toLowerCase();
    return words.every((w) => said.includes(w));
  });
}
