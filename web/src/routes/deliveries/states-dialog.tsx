import { useState } from 'react';
import { MOST_STATES } from '@scalaria/core';
import { X } from 'lucide-react';
import { Button } from '../../parts/button';
import { Modal } from '../../parts/modal';

/** The states of a job's tracker, renamed, added and taken away. */
export function StatesDialog({
  states,
  onClose,
  onKeep,
}: {
  states: readonly string[];
  onClose: () => void;
  onKeep: (states: { name: string; was: string | null }[]) => void;
}) {
  const [list, setList] = useState(() => states.map((name) => ({ name, was: name as string | null })));
  const names = list.map((s) => s.name.trim().toLowerCase());
  const fault = names.some((n) => n === '')
    ? 'Each state needs a name.'
    : new Set(names).size < names.length
      ? 'Two states have one name.'
      : null;
  return (
    <Modal open onClose={onClose} title="States of this job">
      <ol className="space-y-1">
        {list.map((s, i) => (
          <li key={i} className="flex items-center gap-2">
            <input
              aria-label={`State ${i + 1}`}
              className="w-56 border border-ink/60 bg-sheet px-2 py-1"
              maxLength={40}
              value={s.name}
              onChange={(e) => setList(list.with(i, { ...s, name: e.target.value }))}
            />
            {list.length > 1 && (
              <button
                type="button"
                className="p-1 hover:bg-wash"
                aria-label={`Take state ${s.name} away`}
                onClick={() => setList(list.filter((_, k) => k !== i))}
              >
                <X size={14} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ol>
      {list.length < MOST_STATES && (
        <Button className="mt-2" onClick={() => setList([...list, { name: '', was: null }])}>
          Add a state
        </Button>
      )}
      <p className="mt-2 text-sm text-quiet">
        Rows go along with a state that is renamed; those of one that is taken away go to the first.
      </p>
      {fault && <p className="mt-1 text-sm text-alarm">{fault}</p>}
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={fault !== null} onClick={() => onKeep(list)}>
          Keep
        </Button>
      </div>
    </Modal>
  );
}
