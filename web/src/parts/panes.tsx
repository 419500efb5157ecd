import type { ReactNode } from 'react';

/** A list in the middle and what is said of it on the right; on narrow screens one below the other. */
export const Panes = ({ children, book }: { children: ReactNode; book: ReactNode }) => (
  <div className="grid h-full grid-cols-[minmax(0,1fr)_352px] max-lg:grid-cols-[minmax(0,1fr)_316px] max-md:block">
    <div className="flex min-h-0 min-w-0 flex-col border-r border-rule px-5 pt-4 pb-3 max-md:min-h-[80vh]">
      {children}
    </div>
    <aside id="field-book" aria-label="Field book" tabIndex={-1} className="min-h-0 overflow-y-auto outline-none">
      {book}
    </aside>
  </div>
);
