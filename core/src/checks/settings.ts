import type { SpaceUnit } from '../drawing/drawing.js';
import { conversion } from '../drawing/units.js';
import type { Parameters } from '../parameters/schema.js';
import { CHECKS } from './index.js';

/** Thresholds by check id. */
export type CheckSettings = Record<string, Parameters>;

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
    const values: Parameters = {};
    for (const [name, value] of Object.entries(own)) {
      const p = check.params.properties[name];
      if (!p) continue;
      const isLength = p.type === 'number' && p.unit === 'drawing';
      if (isLength && factor === null) continue;
      // Twelve digits: what was typed comes back as it was typed.
      values[name] = isLength ? Number((Number(value) * factor!).toPrecision(12)) : value;
    }
    if (Object.keys(values).length > 0) out[check.id] = values;
  }
  return out;
}
