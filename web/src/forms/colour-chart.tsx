import type { ChartRow } from '@scalaria/core';

/** Which of the colours that a drawing has become others. */
export function ColourChart({
  title,
  colours,
  rows,
  onChange,
}: {
  title: string;
  colours: readonly { hex: string; count: number }[];
  rows: readonly ChartRow[];
  onChange: (rows: ChartRow[]) => void;
}) {
  const chart = new Map(rows.map((r) => [r.from, r.to]));
  const put = (from: string, to: string): void => {
    const others = rows.filter((r) => r.from !== from);
    onChange(to === from ? others : [...others, { from, to }]);
  };
  return (
    <details>
      <summary className="cursor-pointer text-sm">
        {title} <span className="text-quiet">{chart.size === 0 ? 'all colours stay' : `${chart.size} replaced`}</span>
      </summary>
      <ul className="mt-1 max-h-52 overflow-y-auto text-sm">
        {colours.slice(0, 200).map(({ hex, count }) => (
          <li key={hex} className="flex items-center gap-2 py-0.5">
            <span className="size-4 border border-ink/40" style={{ background: hex }} aria-hidden />
            <span className="num w-20">{hex}</span>
            <span className="num w-12 text-right text-xs text-quiet">{count}</span>
            <span aria-hidden>→</span>
            <input
              type="color"
              aria-label={`${hex} is written as`}
              value={chart.get(hex) ?? hex}
              onChange={(e) => put(hex, e.target.value)}
            />
            {chart.has(hex) && <span className="num">{chart.get(hex)}</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}
