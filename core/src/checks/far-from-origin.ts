import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { extentOf } from '../analysis/extent.js';

/** Finds a drawing that lies so far from its origin that other programs lose digits. */
export const farFromOrigin = defineCheck({
  id: 'far-from-origin',
  title: 'Far from the origin',
  summary:
    'Programs that count in single precision lose detail far from the origin: curves turn jagged and outlines fail to close.',
  carries: ['origin', 'curves'],
  params: {
    times: p.number({ title: 'Far is more than this many times its own size', default: 100, above: 0 }),
  },
  mend: {
    step: 'shift-origin',
    words: 'Shift the origin to the drawing',
    params: () => ({ to: 'lowerLeft' }),
  },
  run(drawing, params) {
    const box = extentOf(drawing);
    if (box.empty || box.diagonal === 0) return [];
    const [x, y] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    const distance = Math.hypot(x, y);
    if (distance <= params.times * box.diagonal) return [];
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    // Single precision holds 24 bits: the step between neighbouring numbers there.
    const step = 2 ** (Math.floor(Math.log2(Math.max(Math.abs(x), Math.abs(y)))) - 23);
    return [
      {
        check: 'far-from-origin',
        severity: 'warning',
        message: `The drawing lies ${Number(distance.toPrecision(4))}${unit} from its origin; single precision tells ${Number(step.toPrecision(2))}${unit} apart there. The step “Shift origin” mends it`,
        at: { x, y },
        size: box.diagonal,
        span: box.diagonal,
        layer: null,
        ids: [],
      },
    ];
  },
});
