import type { ReactNode } from 'react';
import { useRef } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';

/** Up to so many rows are simply there; of more only those in sight are made. */
const PLAIN = 80;

interface Props<T> {
  rows: readonly T[];
  keyOf: (row: T, index: number) => string;
  /** About how high a row is, in px; what is in sight is measured. */
  height: number;
  /** What is in the row; it is put into a list item. */
  children: (row: T, index: number) => ReactNode;
  label: string;
  rowClass?: string;
  /** How high the list may get before it scrolls by itself, where it is long. */
  most?: string;
}

/** A list of however many rows: a long one scrolls by itself and holds only the rows in sight. */
export function LongList<T>(props: Props<T>) {
  const { rows, keyOf, children, label, rowClass } = props;
  if (rows.length > PLAIN) return <Windowed {...props} />;
  return (
    <ul aria-label={label}>
      {rows.map((r, i) => (
        <li key={keyOf(r, i)} className={rowClass}>
          {children(r, i)}
        </li>
      ))}
    </ul>
  );
}

function Windowed<T>({ rows, keyOf, height, children, label, rowClass, most = '24rem' }: Props<T>) {
  const box = useRef<HTMLDivElement>(null);
  const seen = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => height,
    getItemKey: (i) => keyOf(rows[i]!, i),
    overscan: 12,
    initialRect: { width: 300, height: 400 },
  });
  return (
    <div
      ref={box}
      className="overflow-y-auto border-y border-rule"
      style={{ maxHeight: most }}
      tabIndex={0}
      role="group"
      aria-label={label}
    >
      <ul aria-label={label} className="relative" style={{ height: seen.getTotalSize() }}>
        {seen.getVirtualItems().map((v) => (
          <li
            key={v.key}
            ref={seen.measureElement}
            data-index={v.index}
            aria-setsize={rows.length}
            aria-posinset={v.index + 1}
            className={`absolute inset-x-0 top-0 ${rowClass ?? ''}`}
            style={{ transform: `translateY(${v.start}px)` }}
          >
            {children(rows[v.index]!, v.index)}
          </li>
        ))}
      </ul>
    </div>
  );
}
