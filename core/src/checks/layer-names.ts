import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';

/** What DXF from 2000 on takes in no name, and what R12 takes at all. */
const ILLEGAL = /[<>/\\":;?*|=`]/;
const SHORT = /^[A-Za-z0-9$_-]{1,31}$/;

/** Finds layers whose names a receiver will change, mistake for each other or show empty. */
export const layerNames = defineCheck({
  id: 'layer-names',
  title: 'Layer names',
  summary:
    'Names that differ only in capitals fall together in drafting, names with forbidden letters are changed, empty layers clutter the list.',
  carries: ['layers'],
  params: {
    for: p.choice({ title: 'For receivers of', default: 'dxf', choices: { dxf: 'DXF from 2000 on', r12: 'DXF R12' } }),
    empty: p.choice({ title: 'Empty layers', default: 'no', choices: { no: 'ignore', yes: 'report' } }),
  },
  run(drawing, params) {
    const found: Finding[] = [];
    const tell = (severity: Finding['severity'], message: string, layer: string): void =>
      void found.push({ check: 'layer-names', severity, message, at: null, size: null, layer, ids: [] });
    const byCase = new Map<string, string[]>();
    for (const { name } of drawing.layers) {
      const key = name.toLowerCase();
      byCase.set(key, [...(byCase.get(key) ?? []), name]);
      const letters = name.match(new RegExp(ILLEGAL, 'g'));
      if (params.for === 'r12' ? !SHORT.test(name) : letters !== null || name.length > 255)
        tell(
          'warning',
          params.for === 'r12'
            ? `“${name}” is no name in R12: 31 letters, digits, $, - and _`
            : letters
              ? `“${name}” holds ${[...new Set(letters)].join(' ')}, which no name may`
              : `“${name.slice(0, 40)}…” is longer than 255 letters`,
          name,
        );
      else if (name !== name.trim()) tell('warning', `“${name}” begins or ends with a blank`, name);
    }
    for (const same of byCase.values())
      if (same.length > 1)
        tell('error', `${same.map((n) => `“${n}”`).join(' and ')} differ only in capitals`, same[0]!);
    if (params.empty === 'yes') {
      const used = new Set<string>();
      const note = (list: readonly { layer: string }[]): void => list.forEach((e) => used.add(e.layer.toLowerCase()));
      note(drawing.entities);
      for (const b of drawing.blocks.values()) note(b.entities);
      for (const { name } of drawing.layers)
        if (!used.has(name.toLowerCase())) tell('note', `Nothing lies on “${name}”`, name);
    }
    return found;
  },
});
