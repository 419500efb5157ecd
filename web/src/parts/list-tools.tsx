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
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
