import { powerOfTen } from '../geometry/power-of-ten.js';
import type { SpaceUnit } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { conversion } from '../drawing/units.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { AT_END, COINCIDENT } from '../geometry/tolerance.js';

/** How near a coordinate must be to a round value to have been meant as that, and how far to have missed it (both parts of the round step). */
const HAIR = 1e-2;
const EXACT = COINCIDENT;

/** Finds coordinates that miss a round value by a hair, as conversions and single precision leave them. */
export const longDecimals = defineCheck({
  id: 'long-decimals',
  title: 'Coordinates just off round values',
  summary:
    'A coordinate of 99.99999871 was meant as 100: such hairs keep ends from meeting, make files large and measurements ugly.',
  carries: ['scale'],
  params: {
    step: p.length({
      title: 'Round values are multiples of',
      automatic: 'one hundredth of a millimetre',
      default: 0,
      atLeast: 0,
    }),
    share: p.number({ title: 'Report from this part of all coordinates on', default: 0.1, above: 0 }),
  },
  mend: {
    step: 'round-coordinates',
    words: 'Round these coordinates',
    params: (s, unit) => ({ to: 'step', step: s.step || stepOf(unit) }),
  },
  run(drawing, params) {
    const step = params.step || stepOf(drawing.unit);
    let [all, missed, most] = [0, 0, 0];
    let example: { value: number; entity: Entity; x: number; y: number } | null = null;
    const ids: number[] = [];
    for (const e of drawing.entities) {
      let here = false;
      for (const [x, y] of cornersOf(e))
        for (const v of [x, y]) {
          all++;
          const off = Math.abs(v / step - Math.round(v / step));
          // Below what double precision leaves of such a number nothing can be said.
          if (off > HAIR || off < Math.max(EXACT, (Math.abs(v) / step) * 4e-16)) continue;
          missed++;
          here = true;
          if (off * step <= most) continue;
          most = off * step;
          example = { value: v, entity: e, x, y };
        }
      if (here && ids.length < 1000) ids.push(e.id);
    }
    // By chance alone a few lie so near a round value: HAIR on either side.
    if (!example || missed < 4 || missed < all * Math.max(params.share, 2.5 * HAIR)) return [];
    const finding: Finding = {
      check: 'long-decimals',
      severity: 'note',
      message: `${missed} of ${all} coordinates miss a round value by a hair, such as ${example.value} instead of ${Number((Math.round(example.value / step) * step).toPrecision(12))}`,
      at: { x: example.x, y: example.y },
      size: null,
      layer: example.entity.layer,
      ids,
    };
    return [finding];
  },
});

/** A hundredth of a millimetre in the drawing's unit, brought to a power of ten. */
function stepOf(unit: SpaceUnit | null): number {
  if (!unit || unit.unit === 'px') return 0.01;
  return powerOfTen(Math.floor(Math.log10((0.01 * conversion('mm', unit.unit)) / unit.factor) + AT_END));
}

/** The points that were set by hand: ends, corners, centres, places. Those of free curves are computed. */
function* cornersOf(e: Entity): Generator<readonly [number, number]> {
  if (e.kind === 'line') {
    yield [e.start[0], e.start[1]];
    yield [e.end[0], e.end[1]];
  } else if (e.kind === 'polyline')
    for (let i = 0; i < e.points.length; i += e.dim) yield [e.points[i]!, e.points[i + 1]!];
  else if (e.kind === 'circle' || e.kind === 'arc') yield [e.centre[0], e.centre[1]];
  else if (e.kind === 'insert' || e.kind === 'point') yield [e.at[0], e.at[1]];
}
