import type { KeptValue, Length, Parameter } from '@scalaria/core';
import { faultOf, lengthParts } from '@scalaria/core';
import { NumberField } from '../parts/field';
import type { FormHelp } from './form-help';

interface LengthProps {
  label: string;
  value: Length;
  unit: string | null;
  help: FormHelp;
  faultIn?: (v: number) => string | null;
  onChange: (v: KeptValue) => void;
}

/** A length: it stays in the unit in which it was given, whatever the drawing is counted in since. */
export function LengthField({ label, value, unit, help, faultIn, onChange }: LengthProps) {
  const own = lengthParts(value);
  const kept = (v: number): Length => (own.unit ? { value: v, unit: own.unit } : (help.lengths?.(v) ?? v));
  return (
    <NumberField
      label={label}
      value={own.value}
      unit={own.unit ?? unit ?? 'units'}
      {...(faultIn && { faultIn })}
      onChange={(v) => onChange(kept(v) as KeptValue)}
    />
  );
}

interface OptionalNumberProps {
  of: Parameter & { kind: 'number' | 'length' | 'angle' };
  none: string;
  value: Length | null;
  unit: string | null;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

/** A number or length that may be left out: its field stands empty then. */
export function OptionalNumber({ of, none, value, unit, help, onChange }: OptionalNumberProps) {
  const own = value === null ? { value: null, unit: null } : lengthParts(value);
  const kept = (v: number): Length =>
    of.kind !== 'length' ? v : own.unit ? { value: v, unit: own.unit } : (help.lengths?.(v) ?? v);
  const counted = of.kind === 'length' ? (own.unit ?? unit ?? 'units') : of.kind === 'angle' ? '°' : of.suffix;
  return (
    <NumberField
      label={of.title}
      value={own.value}
      unit={counted}
      none={none}
      faultIn={(v) => faultOf({ it: of }, { it: v })}
      onClear={() => onChange(null)}
      onChange={(v) => onChange(kept(v) as KeptValue)}
    />
  );
}
