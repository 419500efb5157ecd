import type { ReactNode } from 'react';
import { createContext, useContext, useEffect, useId, useMemo, useRef, useState } from 'react';

/** Something that can be done on the page at hand. */
export interface Action {
  words: string;
  /** The key that does it, as it is written; empty for none. */
  keys: string;
  run: () => void;
}

interface Registry {
  add: (id: string, action: Action) => void;
  remove: (id: string) => void;
}

const Context = createContext<Registry | null>(null);
/** Apart from the registry, so that what registers is not drawn anew with every change. */
const ListContext = createContext<ReadonlyMap<string, Action>>(new Map());

/** Whether a key press belongs to a field that is being typed in; boxes and buttons to tick take no letters. */
export const isTyping = (e: KeyboardEvent): boolean => {
  if (!(e.target instanceof HTMLElement)) return false;
  if (e.target instanceof HTMLInputElement) return !/^(checkbox|radio|range|button|submit)$/.test(e.target.type);
  return e.target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(e.target.tagName);
};

/** Keeps what can be done, runs it by its key, and lets the list of keys and the search know of it. */
export function ActionsProvider({ children }: { children: ReactNode }) {
  const [list, setList] = useState<ReadonlyMap<string, Action>>(new Map());
  const value = useMemo<Registry>(
    () => ({
      add: (id, action) => setList((l) => new Map(l).set(id, action)),
      remove: (id) =>
        setList((l) => {
          const next = new Map(l);
          next.delete(id);
          return next;
        }),
    }),
    [],
  );
  return (
    <Context.Provider value={value}>
      <ListContext.Provider value={list}>{children}</ListContext.Provider>
    </Context.Provider>
  );
}

/**
 * Something that can be done while the component is on the page: found by the search for actions, listed with its key. A
 * single letter is listened to on the whole page unless `listen` is false.
 */
export function useAction(words: string, keys: string, run: () => void, listen = true): void {
  const id = useId();
  const registry = useContext(Context);
  const latest = useRef(run);
  useEffect(() => {
    latest.current = run;
  });
  const add = registry?.add;
  const remove = registry?.remove;
  useEffect(() => {
    if (words === '') return;
    add?.(id, { words, keys, run: () => latest.current() });
    return () => remove?.(id);
  }, [id, words, keys, add, remove]);
  useEffect(() => {
    if (words === '' || !listen || keys.length !== 1) return;
    const press = (e: KeyboardEvent): void => {
      if (e.key !== keys || isTyping(e) || e.ctrlKey || e.metaKey || e.altKey || e.defaultPrevented) return;
      e.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [words, keys, listen]);
}

/** All that can be done now. */
export function useActions(): Action[] {
  const list = useContext(ListContext);
  return useMemo(() => [...list.values()], [list]);
}
