import { Box2 } from '../geometry/box.js';
import { nodeCount } from '../geometry/path.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { surveyOf } from '../drawing/survey.js';
import type { Entity } from '../drawing/entity.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { kindName } from '../drawing/kinds.js';
import { AKind } from './words.js';
import { isAnnotationPart } from '../analysis/annotation.js';

const nodesOf = (e: Entity): number => {
  if (e.kind === 'polyline') return e.points.length / e.dim;
  if (e.kind === 'spline') return e.points.length / 3;
  return e.kind === 'path' ? nodeCount(e.path) : 0;
};

/** Finds outlines with far more points than their shape needs: traced art, and brushed strokes expanded to shapes. */
export const manyNodes = defineCheck({
  id: 'many-nodes',
  title: 'Too many points',
  summary:
    'Outlined brush strokes and traced art have hundreds of points where a few would do: slow, rough to cut, hard to edit.',
  carries: ['curves'],
  params: {
    from: p.number({ title: 'Report curves of at least … points', default: 300, atLeast: 10 }),
  },
  mend: { step: 'thin-points', words: 'Thin these points', params: () => ({ strength: 'bound' }) },
  run(drawing, params) {
    const from = params.from;
    const found: { nodes: number; finding: Finding }[] = [];
    surveyOf(drawing).each(({ entity: e, toWorld, resolved, top }) => {
      if (isAnnotationPart(top)) return;
      const nodes = nodesOf(e);
      if (nodes < from) return;
      const box = new Box2();
      addEntityBounds(e, toWorld, new BoundsSink(box));
      const filled = resolved.fill !== null && resolved.stroke === null;
      const finding: Finding = {
        check: 'many-nodes',
        severity: 'note',
        message: `${filled ? `A filled ${kindName(e.kind)}` : AKind(e.kind)} has ${nodes} points`,
        at: { x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2 },
        size: box.diagonal,
        layer: resolved.layer,
        ids: [e.id],
      };
      found.push({ nodes, finding });
    });
    return found
      .sort((a, b) => b.nodes - a.nodes)
      .slice(0, 200)
      .map((f) => f.finding);
  },
});
