import type { Polyline } from './entity.js';

/** The width that a polyline has all along, above 0; `null` where it has none or another in places. */
export function constantWidth({ widths }: Polyline): number | null {
  const first = widths?.[0];
  return first !== undefined && first > 0 && widths!.every((w) => w === first) ? first : null;
}
