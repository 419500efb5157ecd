import { isDrafting } from '../drawing/format-traits.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { EntityKind } from '../drawing/entity.js';
import { boundsOf } from '../drawing/bounds.js';
import { hex } from '../drawing/palette.js';
import { paintRgb, walk } from '../drawing/resolve.js';
import { familyOf } from '../text/layout.js';
import { upright } from './intake.js';
import { filesNamedBy } from '../analysis/named-files.js';

/** What a file says of itself and what is in it; plain data. Sizes and places in coordinate units, y upwards. */
export interface Claims {
  format: string;
  version: string;
  unit: { unit: string; factor: number } | null;
  bounds: { minX: number; minY: number; maxX: number; maxY: number } | null;
  page: { x: number; y: number; width: number; height: number } | null;
  /** Which page of how many it is, where the file has pages. */
  pageOf?: { number: number; of: number };
  entities: number;
  kinds: Partial<Record<EntityKind, number>>;
  layers: LayerClaim[];
  fonts: { name: string; count: number }[];
  colours: { hex: string; count: number }[];
  blocks: number;
  sheets: string[];
  /** Names of the pictures that it names and does not hold; absent in claims gathered before these were asked for. */
  pictures?: string[];
  /** Names of the drawings that it refers to; absent likewise. */
  references?: string[];
  notes: { text: string; where?: string; count: number; severity: string }[];
}

export interface LayerClaim {
  name: string;
  count: number;
  colour: string | null;
  off: boolean;
  frozen: boolean;
  locked: boolean;
  kinds: Partial<Record<EntityKind, number>>;
}

/** Gathers the claims of a drawing as it was read. Counts are of top-level entities of model space. */
export function claimsOf(source: Drawing): Claims {
  const drawing = upright(source);
  const layers = new Map<string, LayerClaim>(
    drawing.layers.map((l) => {
      const rgb = paintRgb(l.paint);
      const { name, off, frozen, locked } = l;
      const colour = !isDrafting(drawing) || rgb === null ? null : hex(rgb);
      return [layerKey(drawing, name), { name, count: 0, colour, off, frozen, locked, kinds: {} }];
    }),
  );
  const kinds: Partial<Record<EntityKind, number>> = {};
  const fonts = new Map<string, number>();
  const colours = new Map<string, number>();
  const count = <K>(map: Map<K, number>, key: K): void => void map.set(key, (map.get(key) ?? 0) + 1);
  let entities = 0;
  for (const e of drawing.entities) {
    // Pieces of fill patterns count as what they fill.
    if (e.sheet !== undefined || e.tile) continue;
    entities++;
    kinds[e.kind] = (kinds[e.kind] ?? 0) + 1;
    const layer = layers.get(layerKey(drawing, e.layer));
    if (!layer) continue;
    layer.count++;
    layer.kinds[e.kind] = (layer.kinds[e.kind] ?? 0) + 1;
  }
  walk(
    drawing,
    ({ entity, resolved }) => {
      if (entity.kind === 'text' || entity.kind === 'richText') count(fonts, familyOf(entity, drawing));
      if (entity.kind === 'insert' || entity.kind === 'opaque' || entity.kind === 'image') return;
      if (resolved.stroke !== null) count(colours, hex(resolved.stroke));
      if (resolved.fill !== null) count(colours, hex(resolved.fill));
    },
    { hidden: true },
  );
  const ranked = (map: Map<string, number>): [string, number][] =>
    [...map].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  const files = filesNamedBy(drawing);
  const named = (kind: 'picture' | 'drawing'): string[] => files.filter((f) => f.kind === kind).map((f) => f.name);
  return {
    format: drawing.format,
    version: drawing.version,
    unit: drawing.unit,
    bounds: boundsOf(drawing, { hidden: true }).toJSON(),
    page: drawing.page,
    ...(drawing.pageOf && { pageOf: drawing.pageOf }),
    entities,
    kinds,
    layers: [...layers.values()],
    fonts: ranked(fonts).map(([name, n]) => ({ name, count: n })),
    colours: ranked(colours).map(([h, n]) => ({ hex: h, count: n })),
    blocks: [...drawing.blocks.values()].filter((b) => !b.sheet && !b.name.startsWith('*')).length,
    sheets: drawing.sheets.map((s) => s.name),
    pictures: named('picture'),
    references: named('drawing'),
    notes: drawing.notes,
  };
}
