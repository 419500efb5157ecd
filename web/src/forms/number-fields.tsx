import { useState } from 'react';
import type { KeptValue, Length, Parameter } from '@scalaria/core';
import { faultOf, lengthParts } from '@scalaria/core';
import { NumberField, Tick } from '../parts/field';
import type { FormHelp } from './form-help';

interface Props {
  of: Parameter & { kind: 'number' | 'length' | 'area' | 'angle' };
  value: Length | null;
  unit: string | null;
  help: FormHelp;
  /** What an empty field amounts to, where it may be left out. */
  none?: string;
  onChange: (v: KeptValue) => void;
}

/** A number, an angle, a length or an area; a measure stays in the unit in which it was given, whatever the drawing is counted in since. */
export function MeasureField({ of, value, unit, help, none, onChange }: Props) {
  const own = value === null ? { value: null, unit: null } : lengthParts(value);
  const kept = (v: number): Length =>
    of.kind !== 'length' && of.kind !== 'area' ? v : own.unit ? { value: v, unit: own.unit } : (help.lengths?.(v) ?? v);
  const automatic = of.kind === 'length' ? of.automatic : undefined;
  // What is found by itself is typed only where somebody says so.
  const [typing, setTyping] = useState(false);
  const byItself = automatic !== undefined && own.value === 0 && !typing;
  const counted = countedIn(of, own.unit ?? unit ?? 'units');
  const field = (
    <NumberField
      label={of.title}
      hideLabel={automatic !== undefined}
      value={automatic !== undefined && own.value === 0 ? null : own.value}
      unit={counted}
      faultIn={(v) => faultOf({ it: of }, { it: v })}
      {...(none !== undefined && { none, onClear: () => onChange(null) })}
      onChange={(v) => onChange(kept(v) as KeptValue)}
    />
  );
  if (automatic === undefined) return field;
  return (
    <div>
      <span className="block text-xs text-quiet" aria-hidden>
        {of.title}
      </span>
      <Tick
        checked={byItself}
        onChange={(on) => {
          setTyping(!on);
          if (on && own.value !== 0) onChange(0);
        }}
      >
        <span>
          <span className="sr-only">{of.title}: </span>automatic, {automatic}
        </span>
      </Tick>
      {!byItself && field}
    </div>
  );
}

function countedIn(of: Props['of'], unit: string): string | undefined {
  switch (of.kind) {
    case 'length':
      return unit;
    case 'area':
      return `${unit}²`;
    case 'angle':
      return '°';
    case 'number':
      return of.suffix;
  }
}
