import { traitsOf } from '../drawing/format-traits.js';
import { unitOf } from '../drawing/units.js';
import { unitEvidence } from '../analysis/unit-evidence.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { extentOf } from '../analysis/extent.js';

/** Finds a drawing without a unit, one whose size in its unit is hard to believe, and one that speaks against its own. */
export const unit = defineCheck({
  id: 'unit',
  title: 'Unit',
  summary: 'A wrong unit makes everything 25.4 or 1000 times too large or too small; nobody sees it until it is built.',
  carries: ['units', 'scale'],
  params: {
    smallest: p.number({ title: 'Hard to believe below (mm)', default: 1, atLeast: 0 }),
    largest: p.number({ title: 'Hard to believe above (km)', default: 20, above: 0 }),
    ahead: p.number({
      title: 'Another unit speaks louder by',
      description: 'the weight of its reasons',
      default: 2,
      atLeast: 0,
    }),
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
            ? 'Pixels have no size until it is decided how many make an inch'
            : 'Nobody has said what one unit of the drawing is; decide it on taking in',
        );
      return found;
    }
    const name = stated.unit;
    const mm = stated.factor * unitOf(name).mm;
    const box = extentOf(drawing);
    const size = Math.max(box.width, box.height) * mm;
    const short = (v: number): string => String(Number(v.toPrecision(4)));
    if (size > 0 && size < params.smallest) tell('warning', `In ${name} the whole is only ${short(size)} mm large`);
    if (size > params.largest * 1e6) tell('warning', `In ${name} the whole is ${short(size / 1e6)} km large`);
    if (traitsOf(drawing.format).statesTrueSize || stated.factor !== 1) return found;
    const evidence = unitEvidence(drawing);
    const [best] = evidence;
    const own = evidence.find((u) => u.unit === name);
    if (!best || !own || best.unit === name || best.score - own.score < params.ahead) return found;
    const reasons = best.reasons
      .filter((r) => r.weight > 0)
      .slice(0, 2)
      .map((r) => r.text);
    tell('warning', `The drawing is in ${name}, but more speaks for ${best.unit}: ${reasons.join('; ')}`);
    return found;
  },
});
