import { coloursAlike } from '../drawing/colour-difference.js';
import { hex } from '../drawing/palette.js';
import { surveyOf } from '../drawing/survey.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';

/** Finds colours that nobody can tell apart, though machines and layer rules do. */
export const similarColours = defineCheck({
  id: 'similar-colours',
  title: 'Colours too alike',
  summary:
    'Two colours that look the same may be two operations for a machine, or one that was meant and one that slipped in.',
  carries: ['colour'],
  params: {
    within: p.number({
      title: 'Report colours closer than … (CIE 1976)',
      description: '2.3 is just noticeable',
      default: 2.3,
      above: 0,
    }),
  },
  mend: { step: 'even-out-colours', words: 'Even out these colours', params: (s) => ({ within: s.within }) },
  run(drawing, params) {
    const uses = new Map<number, { count: number; id: number; layer: string }>();
    surveyOf(drawing).each(({ entity, resolved }) => {
      for (const rgb of [resolved.stroke, resolved.fill]) {
        if (rgb === null) continue;
        const known = uses.get(rgb);
        if (known) known.count++;
        else uses.set(rgb, { count: 1, id: entity.id, layer: resolved.layer });
      }
    });
    if (uses.size > 2000) return [];
    const found: Finding[] = [];
    const counts = new Map([...uses].map(([rgb, u]) => [rgb, u.count]));
    for (const [head, alike] of coloursAlike(counts, params.within)) {
      if (alike.length === 0) continue;
      const names = alike.slice(0, 5).map((rgb) => `${hex(rgb)} (${uses.get(rgb)!.count})`);
      const rest = alike.length > 5 ? ` and ${alike.length - 5} more` : '';
      found.push({
        check: 'similar-colours',
        severity: 'note',
        message: `${names.join(', ')}${rest} can hardly be told from ${hex(head)} (${counts.get(head)})`,
        at: null,
        size: null,
        layer: uses.get(alike[0]!)!.layer,
        ids: alike.map((rgb) => uses.get(rgb)!.id),
      });
    }
    return found;
  },
});
