import { traitsOf } from '../drawing/format-traits.js';
import { unitOf } from '../drawing/units.js';
import { unitEvidence, unitVerdict } from '../analysis/unit-evidence.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { extentOf } from '../analysis/extent.js';

/** Finds a drawing without a unit, one whose size in its unit is doubtful, and one whose evidence contradicts its own. */
export const unit = defineCheck({
  id: 'unit',
  title: 'Unit',
  summary: 'A wrong unit makes everything 25.4 or 1000 times too large or too small; nobody sees it until it is built.',
  carries: ['units', 'scale'],
  params: {
    smallest: p.number({ title: 'Doubtful if smaller than (mm)', default: 1, atLeast: 0 }),
    largest: p.number({ title: 'Doubtful if larger than (km)', default: 20, above: 0 }),
  },
  run(drawing, params) {
    const found: Finding[] = [];
    const tell = (severity: Finding['severity'], message: string): void =>
      void found.push({ check: 'unit', severity, message, at: null, size: null, layer: null, ids: [] });
    const stated = drawing.unit;
    if (!stated || stated.unit === 'px') {
      if (drawing.entities.length > 0)
        tell(
          'error',
          stated
            ? 'Pixels have no size yet: choose at station one how many make an inch'
            : 'The file states no unit. Choose one at station one',
        );
      return found;
    }
    const name = stated.unit;
    const mm = stated.factor * unitOf(name).mm;
    const box = extentOf(drawing);
    const size = Math.max(box.width, box.height) * mm;
    const short = (v: number): string => String(Number(v.toPrecision(4)));
    if (size > 0 && size < params.smallest) tell('warning', `In ${name} the drawing is only ${short(size)} mm across`);
    if (size > params.largest * 1e6) tell('warning', `In ${name} the drawing is ${short(size / 1e6)} km across`);
    if (traitsOf(drawing.format).statesTrueSize || stated.factor !== 1) return found;
    const verdict = unitVerdict(unitEvidence(drawing), name);
    if (!verdict) return found;
    const reasons = verdict.reasons
      .filter((r) => r.weight > 0)
      .slice(0, 3)
      .map((r) => r.text);
    tell('warning', `The drawing is in ${name}, but the evidence is for ${verdict.units[0]}: ${reasons.join('; ')}`);
    return found;
  },
});
