import { useState } from 'react';
import type { CarryOver, LedgerRow } from '@scalaria/core';
import { Button } from '../../parts/button';
import { LedgerList } from '../../parts/ledger-list';
import { STATE_WORDS, StateBar } from '../../parts/state-bar';
import type { Looked } from './use-forecast';

/** What would become of the eight carry-overs, each with its rows. */
export function ForecastList({
  looked,
  fileName,
  onRow,
}: {
  looked: Looked;
  fileName: string;
  /** Leads to what a row is about. */
  onRow?: (row: LedgerRow) => void;
}) {
  const [open, setOpen] = useState<CarryOver | null>(null);
  const { forecast, fault, busy, ask, stop } = looked;
  if (fault) return <p className="text-alarm">{fault}</p>;
  if (ask)
    return (
      <p className="text-quiet">
        A large drawing: looking ahead takes about as long as writing it.{' '}
        <Button look="quiet" onClick={ask}>
          Look ahead
        </Button>
      </p>
    );
  if (!forecast)
    return (
      <p className="flex items-baseline gap-3 text-quiet">
        {busy ? 'Looking ahead …' : 'Waits until the drawing is read and in sight …'}
        {stop && (
          <Button look="quiet" onClick={stop}>
            Stop
          </Button>
        )}
      </p>
    );
  const touched = (c: CarryOver): LedgerRow[] => forecast.rows.filter((r) => r.carryOver === c && r.action !== 'kept');
  const kept = forecast.strip.filter((c) => touched(c.carryOver).length === 0 && c.state === 'kept');
  return (
    <div data-testid="forecast">
      <ul className="divide-y divide-rule">
        {forecast.strip
          .filter((c) => !kept.includes(c))
          .map((c) => {
            const rows = touched(c.carryOver);
            return (
              <li key={c.carryOver} data-carry-over={c.carryOver} data-state={c.state}>
                <button
                  type="button"
                  className="grid w-full grid-cols-[64px_44px_minmax(0,1fr)] items-center gap-2 py-1 text-left text-sm enabled:hover:bg-wash"
                  aria-expanded={open === c.carryOver}
                  disabled={rows.length === 0}
                  onClick={() => setOpen(open === c.carryOver ? null : c.carryOver)}
                >
                  <span className="font-medium first-letter:uppercase">{c.carryOver}</span>
                  <StateBar state={c.state} width={36} />
                  <span className={c.state === 'lost' || c.state === 'atRisk' ? 'text-alarm' : 'text-quiet'}>
                    {rows.length === 0 ? STATE_WORDS[c.state] : counted(rows)}
                  </span>
                </button>
                {open === c.carryOver && rows.length > 0 && (
                  <div className="pb-2">
                    <LedgerList rows={rows} fileName={fileName} {...(onRow && { onRow })} />
                  </div>
                )}
              </li>
            );
          })}
      </ul>
      {kept.length > 0 && (
        <p className="py-1 text-sm text-quiet">
          {kept.length === forecast.strip.length
            ? 'All eight carry-overs are kept.'
            : `Kept: ${kept.map((c) => c.carryOver).join(', ')}.`}
        </p>
      )}
    </div>
  );
}

/** What rows say, in few words: `3 left out, 12 approximated, 1 renamed`. */
export function counted(rows: readonly LedgerRow[]): string {
  const sum = (list: readonly LedgerRow[]): number => list.reduce((n, r) => n + r.count, 0);
  const renamed = rows.filter((r) => r.renamed);
  const of = (action: LedgerRow['action']): number => sum(rows.filter((r) => r.action === action && !r.renamed));
  return [
    [of('dropped'), 'left out'],
    [of('approximated'), 'approximated'],
    [of('changed'), 'changed'],
    [sum(renamed), 'renamed'],
  ]
    .filter(([n]) => (n as number) > 0)
    .map(([n, word]) => `${(n as number).toLocaleString('en-GB')} ${word}`)
    .join(', ');
}
