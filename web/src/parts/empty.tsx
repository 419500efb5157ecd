import type { ReactNode } from 'react';

/** What stands where a list would: that there is nothing yet, and how something comes to be here. */
export const Empty = ({ title, children }: { title: ReactNode; children?: ReactNode }) => (
  <div className="grid min-h-[45vh] flex-1 place-items-center border border-dashed border-ink/50 p-6 text-center text-lg">
    <p className="max-w-lg">
      {title}
      {children && <span className="mt-3 block text-sm text-quiet">{children}</span>}
    </p>
  </div>
);
