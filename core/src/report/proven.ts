import type { LedgerRow } from '../drawing/ledger.js';
import type { ProofItem } from '../proof/prove.js';
import { weigh } from '../proof/verdict.js';
import type { ManifestFile } from '../sets/manifest.js';
import { actionsOf } from '../sets/manifest.js';
import type { FileRecord } from './file-record.js';

/** What a manifest says of a file that was written and proven: its figures, its proof, its ledger, its yardsticks. */
export function provenFacts(
  { facts, yardsticks }: Pick<FileRecord, 'facts' | 'yardsticks'>,
  proof: { readonly holds: boolean; readonly items: readonly ProofItem[] },
  ledger: readonly LedgerRow[],
): FileRecord['facts'] & Pick<ManifestFile, 'proof' | 'ledger'> & Required<Pick<ManifestFile, 'yardsticks'>> {
  const { holds, lost, whole } = weigh(proof);
  const count = (state: string): number => yardsticks.filter((y) => y.held.state === state).length;
  return {
    ...facts,
    proof: !holds ? 'does not hold' : lost > 0 || !whole ? 'holds with exceptions' : 'holds',
    ledger: actionsOf(ledger),
    yardsticks: { holds: count('holds'), fails: count('fails'), undecided: count('undecided') },
  };
}
