import type { ReactNode } from 'react';
import { useId, useRef, useState } from 'react';
import { StateBar } from './state-bar';

/** One section of a field book: a line with its title and what is so in it, and what is seen once it is opened. */
export interface BookSection {
  id: string;
  title: string;
  /** What is decided or known, in a few words. */
  said: string;
  /** Something in it is still open: such sections come first and are opened. */
  open?: boolean;
  /** What is said is no good news. */
  alarm?: boolean;
  body: () => ReactNode;
}

const KEPT = 'opened-sections';

/** The sections that a person opened in this window, whatever drawing they belong to. */
function opened(): Set<string> {
  try {
    return new Set(JSON.parse(sessionStorage.getItem(KEPT) ?? '[]') as string[]);
  } catch {
    return new Set();
  }
}

/**
 * Sections one below the other: what is still open comes first, all else is folded to a line. Nothing moves under the hand:
 * a section stays where it was first put, also once it is decided.
 */
export function FoldList({ sections }: { sections: readonly (BookSection | null)[] }) {
  const first = useRef(new Map<string, boolean>());
  const [turned, setTurned] = useState<ReadonlyMap<string, boolean>>(
    () => new Map([...opened()].map((id) => [id, true])),
  );
  const known = sections.filter((s) => s !== null);
  for (const s of known) if (!first.current.has(s.id)) first.current.set(s.id, s.open ?? false);
  const asks = (s: BookSection): boolean => first.current.get(s.id) ?? false;
  const turn = (id: string, on: boolean): void => {
    setTurned((m) => new Map(m).set(id, on));
    const all = opened();
    if (on) all.add(id);
    else all.delete(id);
    sessionStorage.setItem(KEPT, JSON.stringify([...all]));
  };
  return [...known.filter(asks), ...known.filter((s) => !asks(s))].map((s) => (
    <Folded key={s.id} section={s} isOpen={turned.get(s.id) ?? asks(s)} onTurn={(on) => turn(s.id, on)} />
  ));
}

function Folded({ section, isOpen, onTurn }: { section: BookSection; isOpen: boolean; onTurn: (on: boolean) => void }) {
  const id = useId();
  return (
    <section aria-labelledby={id} className="border-b border-rule">
      <h2 className="text-[15px]">
        <button
          type="button"
          aria-expanded={isOpen}
          aria-controls={`${id}-body`}
          className="flex w-full items-baseline justify-between gap-3 px-4 py-2 text-left hover:bg-wash"
          onClick={() => onTurn(!isOpen)}
        >
          <span className="flex shrink-0 items-baseline gap-2 font-semibold">
            <span aria-hidden className={`text-[11px] ${isOpen ? 'rotate-90' : ''}`}>
              ▶
            </span>
            <span id={id}>{section.title}</span>
            {section.open && <StateBar state="undecided" width={24} />}
          </span>
          <span
            title={section.said}
            className={`min-w-0 truncate text-sm ${section.alarm || section.open ? 'text-alarm' : 'text-quiet'}`}
          >
            {section.said}
          </span>
        </button>
      </h2>
      <div id={`${id}-body`} className={isOpen ? 'px-4 pb-3' : ''}>
        {isOpen && section.body()}
      </div>
    </section>
  );
}
