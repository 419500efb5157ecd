import type { StepList } from '@scalaria/core';
import { plainNumber } from '../../../parts/numbers';
import { CopyButton } from '../view/copy-button';

/** So many rows are shown; all are copied. */
const SHOWN = 200;

/** What a step would make, row by row: to be read here, and copied into a table elsewhere. */
export function StepTable({ list }: { list: StepList }) {
  const { title, columns, rows } = list;
  const text = [columns, ...rows].map((row) => row.join('\t')).join('\n');
  return (
    <details className="mt-2">
      <summary className="cursor-pointer">
        {title} <span className="num text-quiet">{plainNumber(rows.length)}</span>
      </summary>
      <div className="mt-1 max-h-56 overflow-auto border-y border-rule" tabIndex={0} role="group" aria-label={title}>
        <table className="w-full text-xs">
          <thead className="sticky top-0 bg-paper text-left text-quiet">
            <tr>
              {columns.map((c) => (
                <th key={c} scope="col" className="py-1 pr-3 font-normal">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, SHOWN).map((row, i) => (
              <tr key={i} className="border-t border-rule/70 align-top">
                {row.map((cell, k) => (
                  <td key={k} className={`py-0.5 pr-3 ${typeof cell === 'number' ? 'num whitespace-nowrap' : ''}`}>
                    {typeof cell === 'number' ? Number(cell.toPrecision(7)) : cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="flex items-center gap-1 text-xs text-quiet">
        {rows.length > SHOWN && <span>The first {SHOWN}; all of them are copied.</span>}
        <CopyButton text={text} what={`the list of ${title.toLowerCase()}`} />
      </p>
    </details>
  );
}
