import { useMemo, useState } from 'react';
import type { TrackerFields, TrackerTaken } from '@scalaria/core';
import { UserError, trackerFrom } from '@scalaria/core';
import type { TrackedFile } from '../../api/types';
import { Button } from '../../parts/button';
import { Modal } from '../../parts/modal';

const MOST = 8;

/** Takes a table of the tracker in: what it would change is shown first. */
export function TrackerDialog({
  rows,
  states,
  onClose,
  onTake,
}: {
  rows: readonly TrackedFile[];
  states: readonly string[];
  onClose: () => void;
  onTake: (changes: TrackerTaken['changes'], added: readonly Partial<TrackerFields>[]) => void;
}) {
  const [text, setText] = useState('');
  const made = useMemo((): TrackerTaken | string | null => {
    if (text.trim() === '') return null;
    try {
      return trackerFrom(text, rows, states);
    } catch (e) {
      if (e instanceof UserError) return e.message;
      throw e;
    }
  }, [text, rows, states]);
  const byId = new Map(rows.map((r) => [r.id, r]));
  const taken = made !== null && typeof made !== 'string' ? made : null;
  const n = (taken?.changes.length ?? 0) + (taken?.added.length ?? 0);
  return (
    <Modal open onClose={onClose} title="Tracker from a table">
      <p className="text-sm text-quiet">
        Save the tracker as CSV, change it in a spreadsheet, and paste it here with its first line, or choose the file.
        Rows are known by their id; one without an id is planned anew. Revision and cost are never read.
      </p>
      <label className="mt-2 block text-xs text-quiet" htmlFor="tracker-table">
        Table
      </label>
      <textarea
        id="tracker-table"
        className="num h-24 w-full border border-ink/60 bg-sheet px-2 py-1 text-xs"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <input
        type="file"
        aria-label="File of the tracker"
        accept=".csv,.tsv,.txt,text/csv"
        className="mt-1 text-sm"
        onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
      />
      {typeof made === 'string' && <p className="mt-2 text-sm text-alarm">{made}.</p>}
      {taken && (
        <div className="mt-3 border-t border-rule pt-2 text-sm">
          <p>
            {taken.changes.length} changed, {taken.added.length} planned anew
            {taken.refused.length > 0 && `, ${taken.refused.length} that cannot be taken`}
          </p>
          <ul>
            {taken.changes.slice(0, MOST).map((c) => (
              <li key={c.id}>
                <span className="num">{byId.get(c.id)?.file}</span>:{' '}
                {Object.entries(c.fields)
                  .map(([k, v]) => `${k} ${String(v) || 'nothing'}`)
                  .join(', ')}
              </li>
            ))}
            {taken.changes.length > MOST && <li className="text-quiet">and {taken.changes.length - MOST} more</li>}
          </ul>
          <ul className="text-alarm">
            {taken.refused.slice(0, MOST).map((r) => (
              <li key={r.line}>
                Line {r.line}: {r.why}.
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={n === 0} onClick={() => taken && onTake(taken.changes, taken.added)}>
          Change {n === 1 ? '1 row' : `${n} rows`}
        </Button>
      </div>
    </Modal>
  );
}
