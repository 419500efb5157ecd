import type { ReactNode } from 'react';
import { Options } from './field';

/** What stands over a list: words to search for, which of it is shown, and whatever else there is to do. */
export const ListBar = <T extends string>({
  of,
  sought,
  onSeek,
  shown,
  options,
  onShow,
  children,
}: {
  /** What the list is of, in the plural. */
  of: string;
  sought: string;
  onSeek: (words: string) => void;
  shown: T;
  options: readonly (readonly [T, string])[];
  onShow: (shown: T) => void;
  children?: ReactNode;
}) => (
  <div className="my-2 flex flex-wrap items-center gap-3">
    <SearchField label={`Search the ${of}`} value={sought} onChange={onSeek} />
    <InlineSelect lead="show" label={`Which ${of} are shown`} value={shown} options={options} onChange={onShow} />
    {children}
  </div>
);

/** Where words are typed that a list is searched for. */
export function SearchField({
  label,
  value,
  onChange,
  className = 'w-52 bg-sheet',
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  className?: string;
}) {
  return (
    <input
      type="search"
      aria-label={label}
      placeholder="Search"
      className={`${className} border border-ink/60 px-2 py-1`}
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}

/** A choice about a list, in a line with the word that leads to it. */
export function InlineSelect<T extends string>({
  lead,
  label,
  value,
  options,
  onChange,
  className = 'bg-sheet',
}: {
  lead: string;
  /** What it is called where the word alone says too little. */
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
  className?: string;
}) {
  return (
    <label className="flex items-center gap-1.5 text-sm text-quiet">
      {lead}
      <select
        aria-label={label}
        className={`${className} border border-ink/60 px-1 py-1 text-ink`}
        value={value}
        onChange={(e) => onChange(e.target.value as T)}
      >
        <Options of={options} />
      </select>
    </label>
  );
}
