import { bulgeArc } from '../../geometry/arcs.js';
import { Box2 } from '../../geometry/box.js';
import type { CoordinateOutline, ThirdColumn } from './parse.js';

/** More points are not shown in a preview. */
const MOST_SHOWN = 20_000;

/** What was read, as path data of an SVG whose y points down, and how large it is in units of the text. */
export interface CoordinatesPreview {
  readonly d: string;
  /** y upwards; `null` where there is no point. */
  readonly box: { readonly minX: number; readonly minY: number; readonly maxX: number; readonly maxY: number } | null;
  readonly points: number;
  /** Points that are in `d`: the rest is beyond what is shown. */
  readonly shown: number;
}

/** A preview of outlines; while nobody says what a third number is, edges are straight. */
export function coordinatesPreview(
  outlines: readonly CoordinateOutline[],
  third: ThirdColumn | null,
): CoordinatesPreview {
  const box = new Box2();
  const parts: string[] = [];
  let [points, shown] = [0, 0];
  for (const { points: p } of outlines) {
    points += p.length;
    const draws = shown + p.length <= MOST_SHOWN;
    if (draws) shown += p.length;
    p.forEach(([x, y, bulge], i) => {
      box.add(x!, y!);
      const [x1, y1] = p[(i + 1) % p.length]!;
      const arc = third === 'bulge' && bulge ? bulgeArc(x!, y!, x1!, y1!, bulge) : null;
      if (arc) {
        // An arc reaches further than its ends.
        for (let k = 1; k < 8; k++) {
          const t = arc.start + (arc.sweep * k) / 8;
          box.add(arc.cx + arc.radius * Math.cos(t), arc.cy + arc.radius * Math.sin(t));
        }
      }
      if (!draws) return;
      if (i === 0) parts.push(`M${x} ${-y!}`);
      if (arc)
        parts.push(
          `A${arc.radius} ${arc.radius} 0 ${Math.abs(arc.sweep) > Math.PI ? 1 : 0} ${arc.sweep > 0 ? 0 : 1} ${x1} ${-y1!}`,
        );
      else if (i < p.length - 1) parts.push(`L${x1} ${-y1!}`);
      if (i === p.length - 1) parts.push('Z');
    });
  }
  return { d: parts.join(''), box: box.toJSON(), points, shown };
}
