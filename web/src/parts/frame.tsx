import type { ReactNode } from 'react';
import { useRef } from 'react';
import { Link } from 'react-router';
import { ActionSearch } from './action-search';
import { GroundSwitch } from './ground';
import { KeyList } from './key-list';
import { useArrival } from './use-arrival';

/** The mark: two scale bars, one shifted against the other. */
function Mark() {
  return (
    <svg width="26" height="18" viewBox="0 0 26 18" className="text-ink" aria-hidden>
      <g fill="none" stroke="currentColor" strokeWidth="1.3">
        <rect x=".7" y="2" width="24.6" height="5" />
        <rect x=".7" y="11" width="24.6" height="5" />
      </g>
      <g fill="currentColor">
        <rect x="1" y="2" width="6" height="5" />
        <rect x="13" y="2" width="6" height="5" />
        <rect x="7" y="11" width="6" height="5" />
        <rect x="19" y="11" width="6" height="5" />
      </g>
    </svg>
  );
}

/** The line at the top of every page. */
export function Frame({ crumbs, aside, children }: { crumbs?: ReactNode; aside?: ReactNode; children: ReactNode }) {
  const main = useRef<HTMLElement>(null);
  useArrival(main);
  return (
    <div className="flex h-full flex-col">
      <a
        href="#contents"
        className="absolute top-1.5 left-2 z-40 -translate-y-16 border border-ink bg-paper px-3 py-1 focus:translate-y-0"
      >
        To the contents
      </a>
      <header className="flex h-11 shrink-0 items-center gap-3 border-b border-ink px-4 max-md:px-2">
        <Link to="/" className="flex items-center gap-2 font-semibold tracking-tight" aria-label="Scalaria, all jobs">
          <Mark />
          <span className="max-sm:sr-only">Scalaria</span>
        </Link>
        <nav aria-label="Where you are" className="flex min-w-0 items-center gap-2 text-sm text-quiet">
          {crumbs}
        </nav>
        <div className="ml-auto flex items-center gap-1">
          {aside}
          <ActionSearch />
          <KeyList />
          <GroundSwitch />
        </div>
      </header>
      <main ref={main} id="contents" tabIndex={-1} className="min-h-0 flex-1 outline-none max-md:overflow-y-auto">
        {children}
      </main>
    </div>
  );
}
