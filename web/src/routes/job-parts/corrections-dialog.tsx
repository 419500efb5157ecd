import { useMemo, useState } from 'react';
import type { Corrections } from '@scalaria/core';
import { correctionsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { LongList } from '../../parts/long-list';
import { Modal } from '../../parts/modal';
import type { TableRow } from './rows';
import { tagged } from './rows';

/** Takes a table of corrections in: what it would change is shown first, line by line. */
export function CorrectionsDialog({
  rows,
  onClose,
  onTake,
}: {
  rows: readonly TableRow[];
  onClose: () => void;
  onTake: (corrections: Corrections) => void;
}) {
  const [text, setText] = useState('');
  const made = useMemo(() => (text.trim() === '' ? null : correctionsOf(text, rows.map(tagged))), [text, rows]);
  const byKey = useMemo(() => new Map(rows.map((r) => [tagged(r).key, r])), [rows]);
  return (
    <Modal open onClose={onClose} title="Corrections from a table">
      <p className="text-sm text-quiet">
        Copy the table into a spreadsheet, correct it there, and paste it here with its first line; or choose the file
        it was saved to. Number, name, kind, material, thickness, quantity, grain, side and what is left out are read,
        measures never.
      </p>
      <label className="mt-2 block text-xs text-quiet" htmlFor="corrections">
        Table
      </label>
      <textarea
        id="corrections"
        className="num h-24 w-full border border-ink/60 bg-sheet px-2 py-1 text-xs"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <label className="mt-1 block text-sm">
        <span className="sr-only">File of corrections</span>
        <input
          type="file"
          accept=".csv,.tsv,.txt,text/csv"
          onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
        />
      </label>
      {made && (
        <div className="mt-3 border-t border-rule pt-2" data-testid="corrections">
          <p>
            {made.changes.length === 1 ? '1 part' : `${made.changes.length} parts`} would change,{' '}
            {made.same === 1 ? '1 says' : `${made.same} say`} what is so already
            {made.faults.length > 0 &&
              `, ${made.faults.length === 1 ? '1 line' : `${made.faults.length} lines`} cannot be taken`}
            .
          </p>
          <LongList
            rows={made.changes}
            keyOf={(c) => c.key}
            height={26}
            most="11rem"
            label="What would change"
            rowClass="border-b border-rule py-1 text-sm"
          >
            {(c) => (
              <span>
                <span className="num font-semibold">{byKey.get(c.key)?.number || 'no number'}</span>{' '}
                {c.said.map((s) => `${s.what}: ${s.from || 'nothing'} → ${s.to || 'nothing'}`).join('; ')}
              </span>
            )}
          </LongList>
          {made.faults.length > 0 && (
            <ul className="mt-1 text-sm text-alarm">
              {made.faults.slice(0, 6).map((f) => (
                <li key={f.line}>
                  Line {f.line}: {f.why}.
                </li>
              ))}
              {made.faults.length > 6 && <li>and {made.faults.length - 6} more</li>}
            </ul>
          )}
        </div>
      )}
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={!made || made.changes.length === 0} onClick={() => made && onTake(made)}>
          Change {made?.changes.length === 1 ? '1 part' : `${made?.changes.length ?? 0} parts`}
        </Button>
      </div>
    </Modal>
  );
}
