import { derive } from '../../drawing/derive.js';
import type { Line, Polyline } from '../../drawing/entity.js';
import type { EntityTags } from './entity-tags.js';
import { WEIGHTS } from './weights.js';

/** The heaviest line weight, in mm, and how much a line may be wider before it asks for a width of its own. */
const HEAVIEST = WEIGHTS[WEIGHTS.length - 1]! / 100;
const MORE = 0.05;

/**
 * Art knows lines of any width; the weights of drafting end at 2.11 mm. What is wider becomes the width of a polyline, which
 * is as wide as the drawing says (DXF reference, LWPOLYLINE, group 43). `null` where a weight serves.
 */
export function wideLine({ x }: EntityTags, e: Line | Polyline): Polyline | null {
  const { look } = e;
  if (x.sameFormat || x.r12 || look.stroke.kind === 'none' || look.width.kind !== 'drawing') return null;
  const { value } = look.width;
  if (value * x.mmPerUnit <= HEAVIEST + MORE) return null;
  if (e.kind === 'line' ? e.start[2] !== e.end[2] : e.widths !== undefined || e.dim !== 2) return null;
  const plain = { ...look, width: { kind: 'byLayer' } as const };
  const widths = (points: number): Float64Array => new Float64Array(2 * points).fill(value);
  x.ledger.add({ carryOver: 'colour', action: 'changed', onPurpose: true, id: e.id, reason: 'wide-lines-with-width' });
  const turns = e.kind === 'polyline' && e.points.length / 2 + (e.closed ? 1 : 0) > 2;
  const ends = e.kind === 'line' || !e.closed;
  if ((ends && look.cap !== 'butt') || (turns && look.join !== 'miter'))
    x.ledger.add({
      carryOver: 'curves',
      action: 'approximated',
      onPurpose: true,
      id: e.id,
      reason: 'wide-lines-end-flat',
    });
  if (e.kind === 'polyline') return { ...e, look: plain, widths: widths(e.points.length / 2) };
  const points = Float64Array.of(e.start[0], e.start[1], e.end[0], e.end[1]);
  const made = { kind: 'polyline', points, dim: 2, elevation: e.start[2], closed: false, widths: widths(2) } as const;
  x.ledger.add({
    carryOver: 'curves',
    action: 'changed',
    onPurpose: true,
    id: e.id,
    reason: 'wide-lines-as-polylines',
    becomes: { from: 'line', to: 'polyline', gone: 1, entities: 1 },
  });
  return { ...derive(e, 'whole', made), look: plain };
}
