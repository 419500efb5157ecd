import type { Claims, IntakeDecisions, UnitName } from '@scalaria/core';
import { conversion, settleUnit } from '@scalaria/core';

export interface SettledLength {
  unit: UnitName | null;
  /** Source coordinates × scale = the settled unit (or corrected coordinates while there is none). */
  scale: number;
  /** The unit that bare source coordinates are in, for the scale bar; `null` when they are not in any plain one. */
  viewUnit: string | null;
}

const source = (claims: Claims): Parameters<typeof settleUnit>[0] => claims as Parameters<typeof settleUnit>[0];

/** What source coordinates amount to under the decisions. */
export function settledLength(claims: Claims, d: IntakeDecisions): SettledLength {
  const s = settleUnit(source(claims), d);
  const scale = (s?.factor ?? 1) * d.correction;
  return {
    unit: s?.unit ?? null,
    scale,
    viewUnit: s && scale === 1 ? s.unit : claims.unit?.unit === 'px' ? 'px' : null,
  };
}

/** The size of the whole if one coordinate unit were the given one. */
export function sizeIn(claims: Claims, d: IntakeDecisions, unit: UnitName): { width: number; height: number } | null {
  const b = claims.bounds;
  const s = settleUnit(source(claims), { ...d, unit });
  if (!b || !s) return null;
  const k = s.factor * d.correction;
  return { width: (b.maxX - b.minX) * k, height: (b.maxY - b.minY) * k };
}

/** A length in source coordinates, in several units; empty while the unit is undecided. */
export function lengthIn(
  claims: Claims,
  d: IntakeDecisions,
  length: number,
  units: readonly UnitName[],
): [UnitName, number][] {
  const s = settleUnit(source(claims), d);
  if (!s) return [];
  return units.map((u) => [u, length * s.factor * d.correction * conversion(s.unit, u)]);
}

/** Where the origin will be, in source coordinates (y upwards); `null` when it cannot be told. */
export function originOnSource(claims: Claims, d: IntakeDecisions): [number, number] | null {
  const { scale } = settledLength(claims, d);
  const b = claims.bounds;
  switch (d.origin.mode) {
    case 'keep':
      return [0, 0];
    case 'page':
      return claims.page ? [claims.page.x, claims.page.y] : null;
    case 'lowerLeft':
      return b && [b.minX, b.minY];
    case 'centre':
      return b && [(b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2];
    case 'point':
      return [d.origin.x / scale, d.origin.y / scale];
  }
}
