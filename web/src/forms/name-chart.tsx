import type { ChartRow, Parameter } from '@scalaria/core';
import { namePattern } from '@scalaria/core';
import { Button } from '../parts/button';
import { Select, TextField } from '../parts/field';
import { plainNumber } from '../parts/numbers';
import { Remove } from './compound-fields';

interface Props {
  of: Parameter & { kind: 'chart' };
  value: readonly ChartRow[];
  /** What there is to chart, and how many objects each stands for where that is known. */
  names: readonly { name: string; count?: number }[];
  /** The only names that may be charted to, and whose they are. */
  agreed?: { of: string; names: readonly string[] };
  onChange: (rows: readonly ChartRow[]) => void;
}

/** Which row takes each name: the first that fits. */
export function takenBy(rows: readonly ChartRow[], names: readonly { name: string }[]): number[] {
  const tests = rows.map((r) => (r.from.trim() === '' ? () => false : namePattern(r.from)));
  return names.map(({ name }) => tests.findIndex((fits) => fits(name)));
}

/** The template's names; one that was kept and is none of them stays in sight, and is said not to be. */
const agreedOptions = (names: readonly string[], now: string): [string, string][] => [
  ...(names.includes(now) ? [] : [[now, now === '' ? 'choose …' : `${now} (not in the template)`] as [string, string]]),
  ...names.map((n): [string, string] => [n, n]),
];

/** A name as it is agreed, or none where it is not. */
const sameName = (name: string, agreed: Props['agreed']): string =>
  agreed ? (agreed.names.find((n) => n.toLowerCase() === name.toLowerCase()) ?? '') : name;

/** A chart of names: what each row takes, rows that take nothing, and names that no row takes. */
export function NameChart({ of, value, names, agreed, onChange }: Props) {
  const put = (i: number, change: Partial<ChartRow>): void =>
    onChange(value.map((r, k) => (k === i ? { ...r, ...change } : r)));
  const taken = takenBy(value, names);
  const rest = names.filter((_, i) => taken[i] === -1);
  const said = (row: number): string => {
    const own = names.filter((_, i) => taken[i] === row);
    if (own.length === 0) return 'takes none';
    const objects = own.every((n) => n.count !== undefined) ? own.reduce((sum, n) => sum + n.count!, 0) : null;
    const what = own.length === 1 ? own[0]!.name : `${plainNumber(own.length)} of them`;
    return objects === null
      ? `takes ${what}`
      : `takes ${what}, ${plainNumber(objects)} ${objects === 1 ? 'object' : 'objects'}`;
  };
  return (
    <fieldset>
      <legend className="text-xs text-quiet">
        {of.title}
        {of.columns[0] !== of.title && `: ${of.columns[0].toLowerCase()} and what it becomes`}
      </legend>
      {value.map((row, i) => (
        <div key={i} className="mb-1">
          <div className="flex items-end gap-2">
            <TextField
              label={`${of.columns[0]}, row ${i + 1}`}
              width="w-32"
              value={row.from}
              offers={names.map((n) => n.name)}
              onChange={(from) => put(i, { from })}
            />
            {agreed ? (
              <Select
                label={`${of.columns[1]}, row ${i + 1}`}
                value={row.to}
                options={agreedOptions(agreed.names, row.to)}
                onChange={(to) => put(i, { to })}
              />
            ) : (
              <TextField
                label={`${of.columns[1]}, row ${i + 1}`}
                width="w-32"
                value={row.to}
                onChange={(to) => put(i, { to })}
              />
            )}
            <Remove what={`row ${i + 1}`} onClick={() => onChange(value.filter((_, k) => k !== i))} />
          </div>
          <p className="text-xs text-quiet">{said(i)}</p>
        </div>
      ))}
      <div className="flex flex-wrap items-baseline gap-x-3">
        {value.length < of.atMost && (
          <Button look="quiet" onClick={() => onChange([...value, { from: '', to: '' }])}>
            One more row
          </Button>
        )}
        {rest.length > 0 && value.length + rest.length <= of.atMost && (
          <Button
            look="quiet"
            onClick={() => onChange([...value, ...rest.map((n) => ({ from: n.name, to: sameName(n.name, agreed) }))])}
          >
            A row for each of the rest
          </Button>
        )}
      </div>
      {agreed && value.length > 0 && (
        <p className="text-xs text-quiet">The names are those of the template, {agreed.of}.</p>
      )}
      {rest.length > 0 && value.length > 0 && (
        <p className="text-xs text-quiet">
          No row takes{' '}
          {rest
            .slice(0, 8)
            .map((n) => n.name)
            .join(', ')}
          {rest.length > 8 && ` and ${plainNumber(rest.length - 8)} more`}.
        </p>
      )}
    </fieldset>
  );
}
