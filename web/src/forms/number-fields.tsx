import type { KeptValue, Length, Parameter } from '@scalaria/core';
import { faultOf, lengthParts } from '@scalaria/core';
import { NumberField } from '../parts/field';
import type { FormHelp } from './form-help';

interface Props {
  of: Parameter & { kind: 'number' | 'length' | 'angle' };
  value: Length | null;
  unit: string | null;
  help: FormHelp;
  /** What an empty field amounts to, where it may be left out. */
  none?: string;
  onChange: (v: KeptValue) => void;
}

/** A number, an angle or a length; a length stays in the unit in which it was given, whatever the drawing is counted in since. */
export function MeasureField({ of, value, unit, help, none, onChange }: Props) {
  const own = value === null ? { value: null, unit: null } : lengthParts(value);
  const kept = (v: number): Length =>
    of.kind !== 'length' ? v : own.unit ? { value: v, unit: own.unit } : (help.lengths?.(v) ?? v);
  const counted = of.kind === 'length' ? (own.unit ?? unit ?? 'units') : of.kind === 'angle' ? '°' : of.suffix;
  return (
    <NumberField
      label={of.title}
      value={own.value}
      unit={counted}
      faultIn={(v) => faultOf({ it: of }, { it: v })}
      {...(none !== undefined && { none, onClear: () => onChange(null) })}
      onChange={(v) => onChange(kept(v) as KeptValue)}
    />
  );
}
