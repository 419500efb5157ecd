import type { UnitName } from '@scalaria/core';
import { conversion, isUnitName } from '@scalaria/core';
import { plainNumber } from '../../../parts/numbers';

/** What the numbers of a view stand for: shown coordinates × scale = the unit; `null` while nobody has decided one. */
export interface Figures {
  unit: string | null;
  scale: number;
}

const IMPERIAL: readonly string[] = ['in', 'ft', 'yd', 'mi', 'mil', 'uin', 'ft-us', 'in-us', 'yd-us', 'mi-us'];

/** The unit of the other family that a length is told in too. */
export const otherUnit = (unit: UnitName): UnitName => (IMPERIAL.includes(unit) ? 'mm' : 'in');

/** A length of shown coordinates in the unit, and in one of the other family. */
export function lengths({ unit, scale }: Figures, value: number, digits = 7): string[] {
  if (!unit || !isUnitName(unit)) return [`${plainNumber(value * scale, digits)} ${unit ?? 'units'}`];
  const other = otherUnit(unit);
  const v = value * scale;
  return [`${plainNumber(v, digits)} ${unit}`, `${plainNumber(v * conversion(unit, other), digits)} ${other}`];
}

/** An area of shown coordinates likewise. */
export function areas({ unit, scale }: Figures, value: number, digits = 7): string[] {
  if (!unit || !isUnitName(unit)) return [`${plainNumber(value * scale * scale, digits)} square ${unit ?? 'units'}`];
  const other = otherUnit(unit);
  const v = value * scale * scale;
  return [`${plainNumber(v, digits)} ${unit}²`, `${plainNumber(v * conversion(unit, other) ** 2, digits)} ${other}²`];
}

/** Degrees, and the same in degrees, minutes and seconds. */
export function angles(degrees: number): string[] {
  const seconds = Math.round(Math.abs(degrees) * 36_000) / 10;
  const d = Math.floor(seconds / 3600);
  const m = Math.floor((seconds - d * 3600) / 60);
  const s = Math.round((seconds - d * 3600 - m * 60) * 10) / 10;
  return [`${plainNumber(degrees, 8)}°`, `${degrees < 0 ? '−' : ''}${d}° ${m}′ ${s}″`];
}
