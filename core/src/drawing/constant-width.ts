import type { Polyline } from './entity.js';

/** The width that a polyline has all along, above 0; `null` where it has none or another in places. */
export function constantWidth({ widths }: Polyline): number | null {
  const first = widths?.[0];
  return first !== undefined && first > 0 && widths!.every((w) => w === first) ? first : null;
}

/** Whether the width of a polyline is another in places. */
export const hasVaryingWidth = (e: Polyline): boolean =>
  e.widths !== undefined && constantWidth(e) === null && e.widths.some((w) => w !== 0);
