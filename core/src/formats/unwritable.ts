import { UserError } from '../errors.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';

/** A number that no drawing file holds (NaN, infinity) was to be written. */
export class UnwritableNumber extends UserError {
  override name = 'UnwritableNumber';
  constructor(readonly number: number) {
    super('unwritable-number', `a drawing file cannot hold ${number}`);
  }
}

/** Whether all numbers in a value are numbers; `depth` ends what refers to itself. */
function isWhole(value: unknown, depth = 0): boolean {
  if (typeof value === 'number') return Number.isFinite(value);
  if (value === null || typeof value !== 'object' || depth > 8) return true;
  if (ArrayBuffer.isView(value)) return (value as Float64Array).every((v) => Number.isFinite(v));
  return (Array.isArray(value) ? value : Object.values(value)).every((v) => isWhole(v, depth + 1));
}

/** Where the number comes from: the first entity that holds one, in words, or `null` when it came about in writing. */
export function placeOfUnwritable(drawing: Drawing): string | null {
  const words = (e: Entity, where: string): string =>
    `${e.kind} on layer "${e.layer}"${e.key === undefined ? '' : ` (${e.key})`}${where}`;
  for (const e of drawing.entities) if (!isWhole(e)) return words(e, '');
  for (const b of drawing.blocks.values())
    for (const e of b.entities) if (!isWhole(e)) return words(e, ` in block "${b.name}"`);
  return null;
}
