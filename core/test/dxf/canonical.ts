import type { Drawing, Entity } from '../../src/index.js';

/** Header variables that every writing states anew. */
const OWN = new Set([
  '$EXTMIN',
  '$EXTMAX',
  '$HANDSEED',
  '$ACADVER',
  '$DWGCODEPAGE',
  '$MEASUREMENT',
  '$ACADMAINTVER',
  '$HANDLING',
]);

const number = (line: string): string => (/^-?\d+\.?\d*(e[-+]?\d+)?$/i.test(line) ? String(Number(line)) : line);
/** Tags line by line, however their line ends and numbers are spelt. */
const lines = (raw: string | undefined): string | undefined =>
  raw === undefined
    ? undefined
    : raw
        .trim()
        .split(/\r\n?|\n/)
        .map((l) => number(l.trim()))
        .join('\n');
/** Tags with their owner left out: it is stated anew. */
const ownerless = (raw: string): string => lines(raw)!.replace(/\n330\n[0-9A-Fa-f]+(?=\n100\n)/, '');

function entityOf(e: Entity): unknown {
  const { id: _i, rest, extended, ...own } = e;
  // Whether a spline lies in a plane follows from its points; a DWG does not say it.
  if (e.kind === 'spline') delete (own as { flags?: number }).flags;
  const out: Record<string, unknown> = { ...own };
  if (rest !== undefined) out['rest'] = lines(rest);
  if (extended !== undefined) out['extended'] = lines(extended);
  if (e.kind === 'opaque') {
    out['raw'] = ownerless(e.raw);
    delete out['drawn'];
    if (e.drawn) out['drawn'] = e.drawn.map(entityOf);
  }
  if (e.kind === 'insert') out['attributes'] = e.attributes.map(entityOf);
  return out;
}

/** Numbers to twelve digits: arcs in hatches are rebuilt from their ends. */
const rounded = (v: unknown): unknown => {
  if (typeof v === 'number') return Number(v.toPrecision(12)) + 0;
  if (v instanceof Float64Array) return Array.from(v, rounded);
  if (v instanceof Uint8Array || v instanceof Int32Array || v instanceof Map) return v;
  if (Array.isArray(v)) return v.map(rounded);
  if (v !== null && typeof v === 'object')
    return Object.fromEntries(
      Object.entries(v)
        .filter(([, w]) => w !== undefined)
        .map(([k, w]) => [k, rounded(w)]),
    );
  return v;
};

/** Everything that a drawing says, in a form that two readings of the same file share: ids, order of records aside. */
export function canonical(d: Drawing): Record<string, unknown> {
  return rounded(said(d)) as Record<string, unknown>;
}

function said(d: Drawing): Record<string, unknown> {
  const by = <T extends { name: string }>(list: T[]): T[] => [...list].sort((a, b) => (a.name < b.name ? -1 : 1));
  const rested = <T extends { name: string; rest?: string }>(list: T[]): unknown[] =>
    by(list).map((r) => ({ ...r, ...(r.rest !== undefined && { rest: lines(r.rest) }) }));
  return {
    unit: d.unit,
    version: d.version,
    layers: rested(d.layers),
    linetypes: rested(d.linetypes).map((l) => ({ ...(l as object), complex: undefined })),
    textStyles: rested(d.textStyles),
    dimensionStyles: rested(d.dimensionStyles),
    blocks: [...d.blocks.values()]
      .sort((a, b) => (a.name < b.name ? -1 : 1))
      .map((b) => ({ ...b, rest: lines(b.rest), beginRest: lines(b.beginRest), entities: b.entities.map(entityOf) })),
    entities: d.entities.map(entityOf),
    sheets: d.sheets,
    header: Object.fromEntries(
      [...d.header]
        .filter(([n]) => !OWN.has(n))
        .map(([n, v]) => [n, v.map(([c, t]) => [c, c >= 10 && c < 60 ? Number(t) : t])] as const)
        .sort(),
    ),
    applications: [...d.applications].sort(),
    classes: [...d.carried.classes].map((c) => lines(c)).sort(),
    tables: [...d.carried.tables].map(([n, list]) => [n, list.map((r) => ownerless(r.raw))]),
    objects: Object.fromEntries(d.carried.objects.map((o) => [o.key, ownerless(o.raw)]).sort()),
    sections: d.carried.sections,
  };
}
