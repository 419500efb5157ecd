import { useMemo, useState } from 'react';
import type { LedgerRow } from '@scalaria/core';
import { ACTION_WORDS, CARRY_OVERS, ledgerCsv, soughtRows } from '@scalaria/core';
import { Button } from './button';
import { InlineSelect, SearchField } from './list-tools';
import { saveText } from './save-text';
import { useCopy } from './use-copy';

interface Props {
  rows: readonly LedgerRow[];
  /** Who wrote a row, in the words of the page. */
  nameOf?: (by: string) => string;
  /** What a saved list is called. */
  fileName: string;
  /** Leads to what a row is about, where the row knows. */
  onRow?: (row: LedgerRow) => void;
}

/** Rows that are seen at a glance, without searching or grouping. */
const FEW = 6;

type Grouping = 'carryOver' | 'by';

/** What was done to a drawing, row by row: searched, grouped, copied, saved. */
export function LedgerList({ rows, nameOf = byWords, fileName, onRow }: Props) {
  const [sought, setSought] = useState('');
  const [grouping, setGrouping] = useState<Grouping>('carryOver');
  const putOnClipboard = useCopy();
  const found = useMemo(() => soughtRows(rows, sought), [rows, sought]);
  const groups = useMemo(() => grouped(found, grouping), [found, grouping]);
  const save = (): void => saveText(ledgerCsv(found), 'text/csv;charset=utf-8', fileName);
  const copy = (): void =>
    putOnClipboard(
      ledgerCsv(found).replaceAll('\r\n', '\n'),
      found.length === 1 ? '1 row copied' : `${found.length} rows copied`,
    );
  // Few rows are seen at a glance.
  const many = rows.length > FEW;
  return (
    <>
      {many && (
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <SearchField
            label="Search the ledger"
            className="min-w-0 flex-1 bg-paper"
            value={sought}
            onChange={setSought}
          />
          <InlineSelect
            lead="by"
            label="Group the ledger"
            className="bg-paper"
            value={grouping}
            options={[
              ['carryOver', 'carry-over'],
              ['by', 'step'],
            ]}
            onChange={setGrouping}
          />
        </div>
      )}
      {found.length === 0 && (
        <p className="mt-2 text-quiet">{rows.length === 0 ? 'Nothing was changed or left out.' : 'No row says so.'}</p>
      )}
      {groups.map(([name, list]) => (
        <div key={name} className="mt-2">
          {(many || groups.length > 1) && (
            <h3 className="text-sm font-medium first-letter:uppercase">{grouping === 'by' ? nameOf(name) : name}</h3>
          )}
          <ul>
            {list.map((r, i) => (
              <li key={i} className="grid grid-cols-[84px_minmax(0,1fr)_auto] gap-2 border-t border-rule py-1 text-sm">
                <span className={r.action === 'dropped' && !r.onPurpose ? 'text-alarm' : 'text-quiet'}>
                  {ACTION_WORDS[r.action]}
                </span>
                <Said row={r} {...(onRow && leads(r) && { onGo: () => onRow(r) })} />
                <span className="num text-quiet">{r.count > 1 ? r.count.toLocaleString('en-GB') : ''}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
      {found.length > 0 && (
        <div className="mt-2 flex gap-4">
          <Button look="quiet" onClick={copy}>
            Copy
          </Button>
          <Button look="quiet" onClick={save}>
            Save as CSV
          </Button>
        </div>
      )}
    </>
  );
}

/** Whether a row knows which objects it is about. */
const leads = (row: LedgerRow): boolean => (row.ids?.length ?? 0) > 0;

/** The objects that a row is about, so many of them at most. */
export function idsOf(row: LedgerRow, most = 5000): number[] {
  const out: number[] = [];
  for (const [from, to] of row.ids ?? []) for (let id = from; id <= to && out.length < most; id++) out.push(id);
  return out;
}

function Said({ row, onGo }: { row: LedgerRow; onGo?: () => void }) {
  const words = (
    <>
      {row.reason}
      {row.deviation && (
        <span className="num text-quiet">
          , by at most {row.deviation.value} {row.deviation.unit}
        </span>
      )}
    </>
  );
  if (!onGo) return <span>{words}</span>;
  return (
    <button
      type="button"
      className="text-left underline-offset-2 hover:underline"
      title="Show in the drawing"
      onClick={onGo}
    >
      {words}
    </button>
  );
}

/** Groups in the order of the strip, or as the drawing went: what is kept comes last in each. */
function grouped(rows: readonly LedgerRow[], grouping: Grouping): [string, LedgerRow[]][] {
  const weight = { dropped: 0, approximated: 1, changed: 2, kept: 3 };
  const out = new Map<string, LedgerRow[]>();
  if (grouping === 'carryOver') for (const c of CARRY_OVERS) out.set(c, []);
  for (const r of rows) out.set(r[grouping], [...(out.get(r[grouping]) ?? []), r]);
  return [...out]
    .filter(([, list]) => list.length > 0)
    .map(([name, list]) => [name, [...list].sort((a, b) => weight[a.action] - weight[b.action])]);
}

const byWords = (by: string): string =>
  ({ read: 'Reading', intake: 'Taking in', write: 'Writing' })[by] ?? by.replace(/[-_]/g, ' ');
