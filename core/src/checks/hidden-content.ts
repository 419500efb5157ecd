import { layerIndex, layerKey } from '../drawing/drawing.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { IDENTITY } from '../geometry/affine.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** Finds layers and groups that are out of sight and hold something. */
export const hiddenContent = defineCheck({
  id: 'hidden-content',
  title: 'Hidden content',
  summary:
    'Content of layers that are off or frozen travels along unseen: it is cut, counted and sent to people it was not meant for.',
  carries: ['layers'],
  params: {},
  run(drawing) {
    const layers = layerIndex(drawing);
    const held = new Map<string, { why: string; ids: number[]; count: number; at: { x: number; y: number } | null }>();
    const hiddenNode = drawing.nodes.map(() => false);
    drawing.nodes.forEach((n, i) => (hiddenNode[i] = n.hidden || (n.parent !== null && hiddenNode[n.parent]!)));
    for (const e of drawing.entities) {
      const layer = layers.get(layerKey(drawing, e.layer));
      const why = layer?.frozen
        ? 'frozen'
        : layer?.off
          ? 'off'
          : e.node !== undefined && hiddenNode[e.node]
            ? 'in a hidden group'
            : !e.look.visible
              ? 'hidden one by one'
              : null;
      if (!why) continue;
      const key = `${e.layer}\n${why}`;
      const known = held.get(key) ?? { why, ids: [], count: 0, at: null };
      held.set(key, known);
      known.count++;
      if (known.ids.length < 1000) known.ids.push(e.id);
      if (known.at) continue;
      const sink = new BoundsSink();
      addEntityBounds(e, IDENTITY, sink);
      if (!sink.box.empty) known.at = { x: sink.box.minX, y: sink.box.minY };
    }
    return [...held].map(([key, h]): Finding => {
      const layer = key.slice(0, key.indexOf('\n'));
      const state =
        h.why === 'off' || h.why === 'frozen'
          ? `The layer “${layer}” is ${h.why} and holds ${countWords(h.count, 'object')}`
          : `${countWords(h.count, 'object')} on “${layer}” ${h.count === 1 ? 'is' : 'are'} ${h.why}`;
      return { check: 'hidden-content', severity: 'note', message: state, at: h.at, size: null, layer, ids: h.ids };
    });
  },
});
