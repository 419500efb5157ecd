import type { IntakeDecisions } from '../intake/decisions.js';
import type { PlannedStep } from '../steps/step.js';
import type { TextForm } from '../text/outlines.js';
import type { UnitName } from '../drawing/units.js';
import { isUnitName } from '../drawing/units.js';
import { formatEntry } from '../formats/catalogue.js';

/** What a file is written as. */
export interface Target {
  format: 'dxf' | 'dwg' | 'svg';
  version: string;
  /** `null` keeps the unit of the prepared drawing. */
  unit: UnitName | null;
  /** DXF and DWG: a drawing whose unit nobody stated is written without one, its numbers as they are. */
  unitless?: boolean;
  style: 'inline' | 'plain' | 'sheet';
  decimals: number;
  /** What becomes of text: it stays text, or becomes outlines or single lines (as wide as its own letters: fitted). */
  text?: 'keep' | TextForm;
  /** DXF and DWG: paths that drafting has no word for become one exact spline, a polyline of arcs, or a group of pieces. */
  curves?: 'spline' | 'arcs' | 'pieces';
  /** How far arcs may lie from a curve, in the unit of the file; absent for a part of the drawing's size. */
  tolerance?: number | null;
  /** SVG: elliptical arcs as arcs or cubics. */
  arcs?: 'arcs' | 'cubics';
  /** SVG: blocks expanded, or drawn once and referred to. */
  blocks?: 'expanded' | 'shared';
  /** SVG: one width for all lines, in mm; `null` for their own. */
  hairline?: number | null;
  /** SVG: colours replaced by others, `#rrggbb` → `#rrggbb`. */
  colours?: Record<string, string>;
  /** The binary form of DXF. */
  binary?: boolean;
  /** Which drawing gives layers, linetypes and styles (DXF and DWG): its id in a job, its path in a shell; `null` for none. */
  template?: string | null;
}

export const DEFAULT_TARGETS: Record<Target['format'], Target> = {
  dxf: { format: 'dxf', version: '2010', unit: null, style: 'plain', decimals: 6 },
  dwg: { format: 'dwg', version: '2010', unit: null, style: 'plain', decimals: 6 },
  svg: { format: 'svg', version: '1.1', unit: null, style: 'plain', decimals: 6 },
};

/** A recipe as a file: decisions, steps and target, each of them optional. */
export interface Recipe {
  recipe: 1;
  title?: string;
  intake?: Partial<IntakeDecisions>;
  steps?: PlannedStep[];
  target?: Partial<Target>;
}

/** What is wrong with a target, in words, or `null`. */
export function targetFault(t: Target): string | null {
  const format = formatEntry(t.format);
  if (!format) return `the format "${t.format}" cannot be written`;
  if (!format.versions.includes(t.version))
    return `${format.title} version "${t.version}" cannot be written; one of ${format.versions.join(', ')}`;
  if (t.unit !== null && !isUnitName(t.unit)) return `no unit is called "${String(t.unit)}"`;
  if (!['inline', 'plain', 'sheet'].includes(t.style))
    return `style is inline, plain or sheet, not "${String(t.style)}"`;
  if (!Number.isInteger(t.decimals) || t.decimals < 0 || t.decimals > 15)
    return 'decimals is a whole number from 0 to 15';
  if (t.text !== undefined && !['keep', 'outlines', 'lines', 'fittedLines'].includes(t.text))
    return `text stays text or becomes outlines, lines or fittedLines, not "${String(t.text)}"`;
  if (t.tolerance !== undefined && t.tolerance !== null && !(t.tolerance > 0)) return 'the tolerance is above 0';
  if (t.hairline !== undefined && t.hairline !== null && !(t.hairline > 0 && t.hairline < 100))
    return 'the width of all lines is above 0 and below 100 mm';
  for (const [from, to] of Object.entries(t.colours ?? {}))
    if (!/^#[0-9a-f]{6}$/i.test(from) || !/^#[0-9a-f]{6}$/i.test(to))
      return `a colour is written #rrggbb, not "${from}" or "${to}"`;
  return null;
}
