/**
 * Units of length. `code` is the value of the DXF header variable $INSUNITS, `mm` the exact length in millimetres: the
 * international inch is 25.4 mm, the US survey foot 1200/3937 m.
 */
export const UNITS = [
  { name: 'mm', title: 'millimetres', code: 4, mm: 1 },
  { name: 'cm', title: 'centimetres', code: 5, mm: 10 },
  { name: 'dm', title: 'decimetres', code: 14, mm: 100 },
  { name: 'm', title: 'metres', code: 6, mm: 1000 },
  { name: 'km', title: 'kilometres', code: 7, mm: 1e6 },
  { name: 'in', title: 'inches', code: 1, mm: 25.4 },
  { name: 'ft', title: 'feet', code: 2, mm: 304.8 },
  { name: 'yd', title: 'yards', code: 10, mm: 914.4 },
  { name: 'mi', title: 'miles', code: 3, mm: 1609344 },
  { name: 'mil', title: 'thousandths of an inch', code: 9, mm: 0.0254 },
  { name: 'uin', title: 'microinches', code: 8, mm: 0.0000254 },
  { name: 'um', title: 'micrometres', code: 13, mm: 0.001 },
  { name: 'nm', title: 'nanometres', code: 12, mm: 1e-6 },
  { name: 'angstrom', title: 'ångströms', code: 11, mm: 1e-7 },
  { name: 'dam', title: 'decametres', code: 15, mm: 1e4 },
  { name: 'hm', title: 'hectometres', code: 16, mm: 1e5 },
  { name: 'Gm', title: 'gigametres', code: 17, mm: 1e12 },
  { name: 'au', title: 'astronomical units', code: 18, mm: 149597870700000 },
  { name: 'ly', title: 'light years', code: 19, mm: 9460730472580800000 },
  { name: 'pc', title: 'parsecs', code: 20, mm: 30856775814913672000 },
  { name: 'ft-us', title: 'US survey feet', code: 21, mm: 1200000 / 3937 },
  { name: 'in-us', title: 'US survey inches', code: 22, mm: 100000 / 3937 },
  { name: 'yd-us', title: 'US survey yards', code: 23, mm: 3600000 / 3937 },
  { name: 'mi-us', title: 'US survey miles', code: 24, mm: 6336000000 / 3937 },
] as const;

export type UnitName = (typeof UNITS)[number]['name'];
export const UNIT_NAMES: readonly UnitName[] = UNITS.map((u) => u.name);

/** The units a drawing is likely to be in; offered first. */
export const COMMON_UNITS: readonly UnitName[] = ['mm', 'cm', 'm', 'in', 'ft'];

const byName = new Map(UNITS.map((u) => [u.name as string, u]));

export const isUnitName = (name: string): name is UnitName => byName.has(name);

/** The unit with the given name. Throws `RangeError` for a name that is none. */
export function unitOf(name: UnitName): (typeof UNITS)[number] {
  const found = byName.get(name);
  if (!found) throw new RangeError(`no unit is called "${name}"`);
  return found;
}

/** The unit behind a $INSUNITS code, or `null` for 0 (unitless) and codes the reference does not name. */
export const unitFromCode = (code: number): UnitName | null => UNITS.find((u) => u.code === code)?.name ?? null;

export const MM_PER_INCH = 25.4;

/** The number of `to` in one `from`: 25.4 for inches to millimetres. */
export const conversion = (from: UnitName, to: UnitName): number => (from === to ? 1 : unitOf(from).mm / unitOf(to).mm);

/** CSS pixels per inch, fixed by CSS Values and Units 4 §6.2. */
export const CSS_PX_PER_INCH = 96;

/** Millimetres in a coordinate unit, a pixel counted as in CSS; `null` where nobody says what it is. */
export const mmPerUnit = (unit: { unit: UnitName | 'px'; factor: number } | null): number | null =>
  unit && unit.factor * (unit.unit === 'px' ? 25.4 / CSS_PX_PER_INCH : unitOf(unit.unit).mm);
