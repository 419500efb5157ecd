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
  mend: {
    step: 'chart-layers',
    words: 'Give these layers names that hold',
    params: (settings, _unit, found) => ({ chart: renamed(settings.for === 'r12', found) }),
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

/** A row for each name that a receiver does not take: its letters one by one as such that it does, each new name once. */
function renamed(isShort: boolean, found: readonly Finding[]): { from: string; to: string }[] {
  const rows: { from: string; to: string }[] = [];
  const taken = new Set<string>();
  for (const { layer, severity } of found) {
    // Names that differ only in capitals are one name to a chart; empty layers have nothing to be renamed for.
    if (layer === null || severity !== 'warning' || rows.some((r) => r.from === layer)) continue;
    const most = isShort ? 31 : 255;
    const legal = isShort
      ? layer
          .normalize('NFD')
          .replace(/\p{M}/gu, '')
          .replace(/[^A-Za-z0-9$_-]+/g, '-')
      : layer.replace(new RegExp(ILLEGAL, 'g'), '-').trim();
    let to = legal.slice(0, most) || 'LAYER';
    for (let n = 2; taken.has(to.toLowerCase()); n++) to = `${legal.slice(0, most - 1 - String(n).length)}-${n}`;
    taken.add(to.toLowerCase());
    rows.push({ from: layer, to });
  }
  // A * in a name stands for any letters in a chart: it must not take the others.
  return rows.sort((a, b) => Number(a.from.includes('*')) - Number(b.from.includes('*')));
}
