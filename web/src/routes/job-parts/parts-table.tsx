import type { ReactNode } from 'react';
import { useRef } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { holesText } from '@scalaria/core';
import { Link } from 'react-router';
import { plainNumber } from '../../parts/numbers';
import type { Sort, SortKey, TableRow } from './rows';
import { SORTS } from './rows';

const COLUMNS =
  'grid grid-cols-[26px_84px_minmax(150px,1.4fr)_96px_148px_minmax(130px,1fr)_44px_minmax(120px,1fr)] gap-x-2 px-2';
const ROW = 46;

/** Each column has two lines: what it is sorted by, one under the other. */
const HEADS: readonly (readonly SortKey[])[] = [
  ['number'],
  ['name', 'drawing'],
  ['material', 'thickness'],
  ['length', 'area'],
  ['holes', 'cutLength'],
  ['quantity'],
  ['wentOut'],
];
const SHORT: Partial<Record<SortKey, string>> = { quantity: 'Qty' };

interface Props {
  rows: readonly TableRow[];
  sort: Sort | null;
  onSort: (by: SortKey) => void;
  ticked: ReadonlySet<string>;
  onTick: (ids: readonly string[], on: boolean) => void;
  /** Numbers that are proposed, by the id of their part. */
  proposed: ReadonlyMap<string, string>;
}

/** The parts as a table: however many there are, only those in sight are made. */
export function PartsTable({ rows, sort, onSort, ticked, onTick, proposed }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const last = useRef<number | null>(null);
  const seen = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    getItemKey: (i) => rows[i]!.id,
    overscan: 10,
    initialRect: { width: 900, height: 600 },
  });
  const all = rows.length > 0 && rows.every((r) => ticked.has(r.id));
  /** With Shift all from the one ticked before. */
  const tick = (at: number, on: boolean, through: boolean): void => {
    const from = through && last.current !== null ? last.current : at;
    last.current = at;
    onTick(
      rows.slice(Math.min(from, at), Math.max(from, at) + 1).map((r) => r.id),
      on,
    );
  };
  return (
    <div
      role="table"
      aria-label="Parts"
      aria-rowcount={rows.length + 1}
      className="flex min-h-0 flex-1 flex-col overflow-x-auto border border-rule bg-sheet text-sm"
    >
      <div role="rowgroup" className="shrink-0 border-b border-ink bg-paper">
        <div role="row" aria-rowindex={1} className={`${COLUMNS} items-end py-1.5`}>
          <span role="columnheader">
            <input
              type="checkbox"
              className="accent-[var(--ink)]"
              aria-label="Tick all that are shown"
              checked={all}
              onChange={(e) =>
                onTick(
                  rows.map((r) => r.id),
                  e.target.checked,
                )
              }
            />
          </span>
          {HEADS.map((keys) => (
            <span
              key={keys[0]}
              role="columnheader"
              aria-sort={keys.some((k) => sort?.by === k) ? (sort!.down ? 'descending' : 'ascending') : 'none'}
              className="flex flex-col items-start"
            >
              {keys.map((k) => (
                <button
                  key={k}
                  type="button"
                  className={`flex items-center gap-1 text-left text-xs hover:underline ${sort?.by === k ? 'font-semibold' : 'text-quiet'}`}
                  title={`Sort by ${SORTS[k].toLowerCase()}`}
                  onClick={() => onSort(k)}
                >
                  {SHORT[k] ?? SORTS[k]}
                  {sort?.by === k && (sort.down ? <ArrowDown size={11} /> : <ArrowUp size={11} />)}
                </button>
              ))}
            </span>
          ))}
        </div>
      </div>
      <div
        ref={box}
        role="rowgroup"
        tabIndex={0}
        aria-label="Lines of the parts list"
        className="min-h-0 flex-1 overflow-y-auto"
      >
        <div className="relative" style={{ height: seen.getTotalSize() }}>
          {seen.getVirtualItems().map((v) => {
            const r = rows[v.index]!;
            return (
              <div
                key={v.key}
                role="row"
                aria-rowindex={v.index + 2}
                aria-selected={ticked.has(r.id)}
                data-part={r.number || r.key}
                className={`${COLUMNS} absolute inset-x-0 top-0 items-center border-b border-rule ${ticked.has(r.id) ? 'bg-wash' : ''}`}
                style={{ transform: `translateY(${v.start}px)`, height: ROW }}
              >
                <span role="cell">
                  <input
                    type="checkbox"
                    className="accent-[var(--ink)]"
                    aria-label={`Tick ${r.number === '' ? `the part of ${size(r)}` : `part ${r.number}`}`}
                    checked={ticked.has(r.id)}
                    onChange={(e) => tick(v.index, e.target.checked, (e.nativeEvent as MouseEvent).shiftKey)}
                  />
                </span>
                <Cells row={r} proposed={proposed.get(r.id)} />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

const size = (r: TableRow): string => `${plainNumber(r.length)} × ${plainNumber(r.width)} ${r.unit}`;

function Cells({ row: r, proposed }: { row: TableRow; proposed: string | undefined }) {
  const holes = r.holes.map((h) => ({
    ...h,
    diameter: h.diameter === null ? null : Number(h.diameter.toPrecision(5)),
  }));
  const [file] = r.wentOut;
  return (
    <>
      <Two
        first={
          proposed !== undefined ? (
            <span className="num border border-dashed border-ink px-1">{proposed}</span>
          ) : r.number === '' ? (
            <span className={r.leftOut === null ? 'text-alarm' : 'text-quiet'}>no number</span>
          ) : (
            <span className="num font-semibold">{r.number}</span>
          )
        }
        second={
          proposed !== undefined ? (
            'proposed'
          ) : r.numberState === 'twice' ? (
            <span className="text-alarm">there twice</span>
          ) : r.numbered === 'said' ? (
            'by the drawing'
          ) : (
            ''
          )
        }
      />
      <Two
        first={
          <Link className="hover:underline" to={`/drawings/${r.drawing.id}/parts?part=${r.key}`}>
            {r.name || r.labels.join(' / ') || 'no name'}
            {r.kind !== '' && <span className="text-quiet"> · {r.kind}</span>}
          </Link>
        }
        second={`rev. ${r.drawing.revision} · ${r.drawing.name}`}
      />
      <Two first={r.material || '–'} second={[r.thickness, r.side].filter(Boolean).join(', ')} />
      <Two
        first={<span className="num">{size(r)}</span>}
        second={`${plainNumber(r.area, 5)} ${r.unit}²${r.grain === '' ? '' : `, grain ${r.grain}°`}`}
      />
      <Two first={holesText(holes) || 'none'} second={`${plainNumber(r.cutLength, 6)} ${r.unit}`} />
      <Two
        first={<span className="num">{r.quantity}</span>}
        second={r.mirrored > 0 ? `${r.mirrored} mir.` : ''}
        title={r.mirrored > 0 ? `${r.mirrored} of ${r.quantity} mirrored` : undefined}
      />
      <Two
        first={r.leftOut !== null ? 'left out' : (file?.file ?? 'nothing yet')}
        second={
          r.leftOut ??
          (file
            ? `${file.revision < r.drawing.revision ? `of revision ${file.revision}` : ''}${r.wentOut.length > 1 ? ` and ${r.wentOut.length - 1} more` : ''}`
            : '')
        }
        quiet={r.leftOut !== null || !file}
      />
    </>
  );
}

/** A cell of two lines, each cut where it is too long, whole in its title. */
function Two({
  first,
  second,
  quiet = false,
  title,
}: {
  first: ReactNode;
  second: ReactNode;
  quiet?: boolean;
  title?: string | undefined;
}) {
  const told = title ?? [first, second].filter((t) => typeof t === 'string' && t !== '').join(' · ');
  return (
    <span role="cell" className="min-w-0" {...(told !== '' && { title: told })}>
      <span className={`block truncate ${quiet ? 'text-quiet' : ''}`}>{first}</span>
      <span className="block truncate text-xs text-quiet">{second}</span>
    </span>
  );
}
