import { useEffect, useState } from 'react';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { Search } from 'lucide-react';
import type { Action } from './actions';
import { useAction, useActions } from './actions';
import { Modal } from './modal';

/** All words of the query begin a word of the action, in any order. */
function fits(words: string, query: string): boolean {
  const parts = words.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((q) => q === '' || parts.some((p) => p.startsWith(q)));
}

/** A search over all that can be done on the page at hand. */
export function ActionSearch() {
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState('');
  const actions = useActions().filter((a) => a.words !== FIND);
  const found = actions.filter((a) => fits(a.words, query)).sort((a, b) => a.words.localeCompare(b.words));
  const show = (): void => {
    setQuery('');
    setOpen(true);
  };
  useAction(FIND, '/', show);
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (e.key !== 'k' || !(e.ctrlKey || e.metaKey)) return;
      e.preventDefault();
      setQuery('');
      setOpen(true);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  const run = (a: Action | null): void => {
    if (!a) return;
    setOpen(false);
    // What is run may take the focus; the dialog gives it back first.
    setTimeout(a.run, 30);
  };
  return (
    <>
      <button
        type="button"
        className="p-1.5 hover:bg-wash"
        aria-label="Find an action"
        title="Find an action (/)"
        onClick={show}
      >
        <Search size={16} aria-hidden />
      </button>
      <Modal open={open} onClose={() => setOpen(false)} title="Find an action">
        <Combobox<Action | null> value={null} onChange={run} immediate>
          <ComboboxInput
            autoFocus
            aria-label="What do you want to do?"
            className="w-full border border-ink/60 bg-sheet px-2 py-1.5"
            placeholder="measure, unit, step, write …"
            // One Esc closes the search, whatever the list under it does with the key.
            onKeyDownCapture={(e) => {
              if (e.key !== 'Escape') return;
              e.stopPropagation();
              setOpen(false);
            }}
            onChange={(e) => setQuery(e.target.value)}
          />
          <ComboboxOptions static className="mt-2 max-h-[50vh] overflow-y-auto">
            {found.map((a) => (
              <ComboboxOption
                key={a.words}
                value={a}
                className="flex justify-between gap-4 px-2 py-1 data-focus:bg-wash"
              >
                <span>{a.words}</span>
                <span className="num text-quiet">{a.keys}</span>
              </ComboboxOption>
            ))}
          </ComboboxOptions>
          {found.length === 0 && <p className="mt-2 px-2 text-quiet">No action matches.</p>}
        </Combobox>
      </Modal>
    </>
  );
}

const FIND = 'Find an action';
