import type { ReactNode } from 'react';
import { useRef } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';

const ROW = 40;

/** A table of any length: only the lines in sight are made. `columns`: the grid that all lines share. */
export function LongTable<T>({
  label,
  columns,
  heads,
  rows,
  keyOf,
  cells,
  row = ROW,
}: {
  label: string;
  columns: string;
  heads: readonly ReactNode[];
  rows: readonly T[];
  keyOf: (row: T) => string;
  cells: (row: T) => readonly ReactNode[];
  /** How high a line is at first, in pixels. */
  row?: number;
}) {
  const box = useRef<HTMLDivElement>(null);
  const seen = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => row,
    getItemKey: (i) => keyOf(rows[i]!),
    overscan: 8,
    initialRect: { width: 900, height: 600 },
  });
  const line = `grid ${columns} gap-x-3 px-2`;
  return (
    <div
      role="table"
      aria-label={label}
      aria-rowcount={rows.length + 1}
      className="flex min-h-40 flex-1 flex-col overflow-x-auto border border-rule bg-sheet text-sm"
    >
      <div role="rowgroup" className="shrink-0 border-b border-ink bg-paper">
        <div role="row" aria-rowindex={1} className={`${line} py-1.5 text-xs text-quiet`}>
          {heads.map((h, i) => (
            <span role="columnheader" key={i}>
              {h}
            </span>
          ))}
        </div>
      </div>
      <div
        ref={box}
        role="rowgroup"
        tabIndex={0}
        aria-label={`Lines: ${label}`}
        className="min-h-0 flex-1 overflow-y-auto"
      >
        <div className="relative" style={{ height: seen.getTotalSize() }}>
          {seen.getVirtualItems().map((v) => (
            <div
              key={v.key}
              ref={seen.measureElement}
              data-index={v.index}
              role="row"
              aria-rowindex={v.index + 2}
              className={`${line} absolute inset-x-0 top-0 items-baseline border-b border-rule py-1.5`}
              style={{ transform: `translateY(${v.start}px)` }}
            >
              {cells(rows[v.index]!).map((c, i) => (
                <span role="cell" key={i} className="min-w-0 [overflow-wrap:anywhere]">
                  {c}
                </span>
              ))}
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}
