import type { SpaceUnit } from '../drawing/drawing.js';
import { conversion } from '../drawing/units.js';
import { withMeasures } from '../parameters/lengths.js';
import type { Kept } from '../parameters/parameter.js';
import { CHECKS } from './index.js';

/** Thresholds by check id. */
export type CheckSettings = Record<string, Kept>;

/**
 * Thresholds as a job keeps them (lengths in millimetres) in the unit of a drawing. A drawing without a unit has no
 * lengths to compare with: its lengths are left at what each check takes by itself.
 */
export const settingsForDrawing = (kept: CheckSettings, unit: SpaceUnit | null): CheckSettings =>
  converted(kept, unit && unit.unit !== 'px' ? conversion('mm', unit.unit) / unit.factor : null);

/** The other way: thresholds in the unit of a drawing, as a job keeps them. */
export const settingsForJob = (own: CheckSettings, unit: SpaceUnit | null): CheckSettings =>
  converted(own, unit && unit.unit !== 'px' ? conversion(unit.unit, 'mm') * unit.factor : null);

function converted(settings: CheckSettings, factor: number | null): CheckSettings {
  const out: CheckSettings = {};
  for (const check of CHECKS) {
    const own = settings[check.id];
    if (!own) continue;
    const known = Object.entries(own).filter(([name]) => {
      const one = check.params[name];
      return one && !((one.kind === 'length' || one.kind === 'area') && factor === null);
    });
    if (known.length === 0) continue;
    // Twelve digits: what was typed comes back as it was typed.
    out[check.id] = withMeasures(check.params, Object.fromEntries(known), (length, _, power) =>
      typeof length === 'number' ? Number((length * factor! ** power).toPrecision(12)) : { ...length },
    );
  }
  return out;
}
