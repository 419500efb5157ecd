import type { Drawing } from '../../drawing/drawing.js';
import type { Polyline } from '../../drawing/entity.js';
import type { Work, WriteOptions, Writing } from '../format.js';
import { checkStop } from '../format.js';
import { UnwritableNumber } from '../unwritable.js';
import { coordinatesText } from './parse.js';

/**
 * Writes the closed polylines of a drawing that was arranged for it (`arrangeCoordinates`) as text: x, y and, where that was asked
 * for and is there, a third number in each line, a blank line between outlines, the fewest digits that read back equal.
 * A comment says the unit.
 */
export function writeCoordinates(drawing: Drawing, options: WriteOptions, work?: Work): Writing {
  const lines = drawing.entities.filter((e): e is Polyline => e.kind === 'polyline');
  const high = options.columns === 'heights';
  const third = high ? 'height' : lines.some((l) => l.bulges) ? 'bulge' : null;
  const outlines = lines.map((l, i) => {
    if (i % 512 === 0) checkStop(work);
    return Array.from({ length: l.points.length / l.dim }, (_, k) => {
      const at = l.points.subarray(l.dim * k, l.dim * k + l.dim);
      const numbers = third === 'bulge' ? [...at, l.bulges?.[k] ?? 0] : [...at];
      return numbers.map(whole);
    });
  });
  const unit = options.unitless ? '' : `# unit: ${options.unit}\n`;
  return { bytes: new TextEncoder().encode(unit + coordinatesText(outlines, third)), ledger: [] };
}

function whole(v: number): number {
  if (!Number.isFinite(v)) throw new UnwritableNumber(v);
  return v;
}
