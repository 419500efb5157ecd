import type { Drawing } from '../drawing/drawing.js';
import { lengthOf } from '../drawing/measures.js';
import { exactIndex, hex, nearestIndex } from '../drawing/palette.js';
import { walk } from '../drawing/resolve.js';
import { nodeCount } from '../geometry/path.js';

/** One colour of a drawing: how often it paints lines, areas and texts, and its number in the drafting palette. */
export interface Swatch {
  hex: string;
  /** The number whose colour is nearest; `exact` when it is this very colour. */
  index: number;
  exact: boolean;
  lines: number;
  areas: number;
  texts: number;
}

/** What lies on a layer, as it is seen: blocks and dimensions drawn out. */
export interface LayerCount {
  name: string;
  entities: number;
  /** Total length of its lines, in the drawing's unit. */
  length: number;
  nodes: number;
}

export interface Inventory {
  swatches: Swatch[];
  layers: LayerCount[];
  /** Entities of model space by kind, blocks counted once for each insert. */
  kinds: { kind: string; count: number }[];
}

/** Counts colours, layers and kinds of what is visible in model space; most frequent first. */
export function inventoryOf(drawing: Drawing): Inventory {
  const swatches = new Map<number, Swatch>();
  const layers = new Map<string, LayerCount>();
  const paint = (rgb: number | null, where: 'lines' | 'areas' | 'texts'): void => {
    if (rgb === null) return;
    let s = swatches.get(rgb);
    if (!s) {
      const exact = exactIndex(rgb);
      s = { hex: hex(rgb), index: exact ?? nearestIndex(rgb), exact: exact !== null, lines: 0, areas: 0, texts: 0 };
      swatches.set(rgb, s);
    }
    s[where]++;
  };
  walk(drawing, ({ entity: e, toWorld, resolved }) => {
    if (e.kind === 'insert') return;
    const text = e.kind === 'text' || e.kind === 'richText';
    const area = e.kind === 'hatch' || (e.kind === 'face' && e.solid);
    if (text) paint(resolved.stroke ?? resolved.fill, 'texts');
    else {
      if (!area) paint(resolved.stroke, 'lines');
      paint(area ? (resolved.fill ?? resolved.stroke) : resolved.fill, 'areas');
    }
    let l = layers.get(resolved.layer);
    if (!l) layers.set(resolved.layer, (l = { name: resolved.layer, entities: 0, length: 0, nodes: 0 }));
    l.entities++;
    if (e.kind === 'polyline') l.nodes += e.points.length / e.dim;
    else if (e.kind === 'spline') l.nodes += e.points.length / 3;
    else if (e.kind === 'path') l.nodes += nodeCount(e.path);
    if (!text && !area) l.length += lengthOf(e, toWorld);
  });
  const kinds = new Map<string, number>();
  for (const e of drawing.entities) if (e.sheet === undefined) kinds.set(e.kind, (kinds.get(e.kind) ?? 0) + 1);
  const uses = (s: Swatch): number => s.lines + s.areas + s.texts;
  return {
    swatches: [...swatches.values()].sort((a, b) => uses(b) - uses(a)),
    layers: [...layers.values()].sort((a, b) => b.entities - a.entities),
    kinds: [...kinds].map(([kind, count]) => ({ kind, count })).sort((a, b) => b.count - a.count),
  };
}
