import { hex } from '../drawing/palette.js';
import { surveyOf } from '../drawing/survey.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';

/** CIE 1976 L*a*b* of an sRGB colour, white point D65 (IEC 61966-2-1 and CIE 15). */
function lab(rgb: number): [number, number, number] {
  const linear = (c: number): number => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
  const [r, g, b] = [rgb >> 16, (rgb >> 8) & 255, rgb & 255].map((c) => linear(c / 255));
  const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);
  const x = f((0.4124564 * r! + 0.3575761 * g! + 0.1804375 * b!) / 0.95047);
  const y = f(0.2126729 * r! + 0.7151522 * g! + 0.072175 * b!);
  const z = f((0.0193339 * r! + 0.119192 * g! + 0.9503041 * b!) / 1.08883);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

/** Finds colours that nobody can tell apart, though machines and layer rules do. */
export const similarColours = defineCheck({
  id: 'similar-colours',
  title: 'Colours too alike',
  summary: 'Two colours that look the same may be two operations for a machine, or one that was meant and one that slipped in.',
  carries: ['colour'],
  params: {
    within: p.number({ title: 'Report colours closer than … (CIE 1976)', description: '2.3 is just noticeable', default: 2.3, above: 0 }),
  },
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
    const list = [...uses].map(([rgb, u]) => ({ rgb, ...u, lab: lab(rgb) }));
    if (list.length > 2000) return [];
    // The most used colours first: each other that looks the same is told under the first it looks like.
    list.sort((a, b) => b.count - a.count);
    const groups = new Map<(typeof list)[number], (typeof list)[number][]>();
    for (const c of list) {
      const head = [...groups.keys()].find((h) => Math.hypot(...h.lab.map((v, n) => v - c.lab[n]!)) <= params.within);
      if (head) groups.get(head)!.push(c);
      else groups.set(c, []);
    }
    const found: Finding[] = [];
    for (const [head, alike] of groups) {
      if (alike.length === 0) continue;
      const names = alike.slice(0, 5).map((c) => `${hex(c.rgb)} (${c.count})`);
      const rest = alike.length > 5 ? ` and ${alike.length - 5} more` : '';
      found.push({ check: 'similar-colours', severity: 'note', message: `${names.join(', ')}${rest} can hardly be told from ${hex(head.rgb)} (${head.count})`, at: null, size: null, layer: alike[0]!.layer, ids: alike.map((c) => c.id) });
    }
    return found;
  },
}); // prettier-ignore
