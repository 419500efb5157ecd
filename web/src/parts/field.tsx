import type { ReactNode } from 'react';
import { useEffect, useId, useRef, useState } from 'react';
import { typedNumber } from './numbers';

export function Section({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  const id = useId();
  return (
    <section aria-labelledby={id} className="border-b border-rule px-4 py-3">
      <div className="mb-2 flex items-baseline justify-between gap-2">
        <h2 id={id} className="text-[15px] font-semibold">
          {title}
        </h2>
        {aside}
      </div>
      {children}
    </section>
  );
}

const sentence = (words: string | null): string | null => words && `${words}.`;

/** A number typed by a person; told on Enter or when the field is left. What is no number is said at once. */
export function NumberField({
  label,
  value,
  unit,
  onChange,
  above,
  faultIn,
  none,
  onClear,
  hideLabel,
  width = 'w-24',
}: {
  label: string;
  value: number | null;
  unit?: string | undefined;
  onChange: (v: number) => void;
  above?: number;
  /** What is wrong with a number, if anything. */
  faultIn?: (v: number) => string | null;
  /** What an empty field amounts to, and who is told when it is emptied. */
  none?: string;
  onClear?: () => void;
  hideLabel?: boolean;
  width?: string;
}) {
  const id = useId();
  const [text, setText] = useState(value === null ? '' : String(value));
  // What was told once is not told again when the field is left.
  const told = useRef<string | null>(null);
  useEffect(() => {
    setText(value === null ? '' : String(value));
    told.current = null;
  }, [value]);
  const parsed = typedNumber(text);
  const fault =
    text === ''
      ? null
      : parsed === null
        ? 'Not a number.'
        : above !== undefined && parsed <= above
          ? `It must be above ${above}.`
          : sentence(faultIn?.(parsed) ?? null);
  const tell = (): void => {
    if (text === '' && value !== null) return onClear?.();
    if (parsed === null || fault !== null || parsed === value || told.current === text) return;
    told.current = text;
    onChange(parsed);
  };
  return (
    <div>
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'block text-xs text-quiet'}>
        {label}
      </label>
      <span className="inline-flex items-baseline gap-1.5">
        <input
          id={id}
          inputMode="decimal"
          placeholder={none}
          className={`num ${width} border border-ink/60 bg-sheet px-2 py-1`}
          value={text}
          aria-invalid={fault !== null}
          aria-describedby={fault ? `${id}-fault` : undefined}
          onChange={(e) => setText(e.target.value)}
          onBlur={tell}
          onKeyDown={(e) => e.key === 'Enter' && tell()}
        />
        {unit && <span className="text-quiet">{unit}</span>}
      </span>
      {fault && (
        <p id={`${id}-fault`} className="text-xs text-alarm">
          {fault}
        </p>
      )}
    </div>
  );
}

export function Select<T extends string>({
  label,
  value,
  options,
  onChange,
  hideLabel,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
  hideLabel?: boolean;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'block text-xs text-quiet'}>
        {label}
      </label>
      <select
        id={id}
        className="max-w-full border border-ink/60 bg-sheet px-2 py-1"
        value={value}
        onChange={(e) => onChange(e.target.value as T)}
      >
        <Options of={options} />
      </select>
    </div>
  );
}

/** What a list to choose from offers: values, and the words for them. */
export const Options = ({ of }: { of: readonly (readonly [string, string])[] }) => (
  <>
    {of.map(([value, words]) => (
      <option key={value} value={value}>
        {words}
      </option>
    ))}
  </>
);

/** A text typed by a person, told on Enter or when the field is left; `offers` are names to choose from. */
export function TextField({
  label,
  value,
  onChange,
  offers = [],
  maxLength = 200,
  width = 'w-40',
  live = false,
  focused = false,
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  offers?: readonly string[];
  maxLength?: number;
  width?: string;
  /** Told with every letter. */
  live?: boolean;
  /** Takes the keyboard when it appears. */
  focused?: boolean;
}) {
  const id = useId();
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const tell = (): void => {
    if (text !== value) onChange(text);
  };
  return (
    <div>
      <label htmlFor={id} className="block text-xs text-quiet">
        {label}
      </label>
      <input
        id={id}
        autoFocus={focused}
        className={`${width} border border-ink/60 bg-sheet px-2 py-1`}
        value={text}
        maxLength={maxLength}
        list={offers.length > 0 ? `${id}-offers` : undefined}
        onChange={(e) => {
          setText(e.target.value);
          if (live) onChange(e.target.value);
        }}
        onBlur={tell}
        onKeyDown={(e) => e.key === 'Enter' && tell()}
      />
      {offers.length > 0 && (
        <datalist id={`${id}-offers`}>
          {offers.map((o) => (
            <option key={o} value={o} />
          ))}
        </datalist>
      )}
    </div>
  );
}

/** A box to tick, with what it is about. */
export function Tick({
  checked,
  onChange,
  children,
  className = 'flex items-center gap-1.5',
}: {
  checked: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
  className?: string;
}) {
  return (
    <label className={className}>
      <input
        type="checkbox"
        className="accent-[var(--ink)]"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
      />
      {children}
    </label>
  );
}

/** One of a group of choices, a row each. */
export function Choice({
  name,
  checked,
  onChange,
  children,
  disabled,
}: {
  name: string;
  checked: boolean;
  onChange: () => void;
  children: ReactNode;
  disabled?: boolean;
}) {
  return (
    <label
      className={`flex cursor-pointer items-baseline gap-2 px-1 py-0.5 hover:bg-wash ${checked ? 'bg-wash' : ''} ${disabled ? 'cursor-not-allowed opacity-50' : ''}`}
    >
      <input
        type="radio"
        name={name}
        checked={checked}
        onChange={onChange}
        disabled={disabled}
        className="translate-y-[1px] accent-[var(--ink)]"
      />
      <span className="flex min-w-0 flex-1 items-baseline justify-between gap-3">{children}</span>
    </label>
  );
}
