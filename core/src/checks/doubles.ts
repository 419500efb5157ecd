import type { Box2 } from '../geometry/box.js';
import { curvesOf } from '../drawing/curves.js';
import { BoundsSink, LengthSink, boundsOf } from '../drawing/measures.js';
import { walk } from '../drawing/resolve.js';
import { checkStop } from '../formats/format.js';
import type { Check, Finding } from './check.js';
import { isAnnotation } from './check.js';

/** Finds curves that lie on each other: a laser cuts them twice. */
export const doubles: Check = {
  id: 'doubles',
  title: 'Doubles',
  summary: 'Curves that lie exactly on each other are cut or drawn twice, and break the joining of outlines.',
  carries: ['curves'],
  params: {
    type: 'object',
    properties: {
      within: {
        type: 'number',
        title: 'The same when closer than',
        description: '0 = a ten-millionth of the diagonal',
        default: 0,
        minimum: 0,
        unit: 'drawing',
      },
    },
    required: [],
    additionalProperties: false,
  },
  mend: {
    step: 'clear-doubles',
    words: 'Clear these doubles',
    params: (s) => ({ what: 'doubles', within: Number(s['within'] ?? 0) }),
  },
  run(drawing, params, work) {
    const grain = Number(params['within'] ?? 0) || boundsOf(drawing).diagonal * 1e-7 || 1e-9;
    const groups = new Map<string, { ids: number[]; box: Box2; layer: string; kind: string }>();
    let n = 0;
    walk(drawing, ({ entity: e, toWorld, resolved, top }) => {
      if (++n % 4096 === 0) checkStop(work);
      if (isAnnotation(top)) return;
      if (e.kind === 'hatch' || e.kind === 'face' || e.kind === 'image' || e.kind === 'viewport') return;
      const bounds = new BoundsSink();
      const length = new LengthSink();
      const ends: [number, number][] = [];
      curvesOf(e, toWorld, {
        move: (x, y, z) => {
          ends.push([x, y], [x, y]);
          bounds.move(x, y);
          length.move(x, y, z);
        },
        line: (x, y, z) => {
          ends[ends.length - 1] = [x, y];
          bounds.line(x, y);
          length.line(x, y, z);
        },
        arc: (c, u, v, s, w, x, y, z) => {
          ends[ends.length - 1] = [x, y];
          bounds.arc(c, u, v, s, w, x, y);
          length.arc(c, u, v, s, w, x, y, z);
        },
        cubic: (a, b, c, d, f, g, x, y, z) => {
          ends[ends.length - 1] = [x, y];
          bounds.cubic(a, b, c, d, f, g, x, y);
          length.cubic(a, b, c, d, f, g, x, y, z);
        },
        nurbs: (curve) => {
          const p = curve.points;
          ends.push([p[0], p[1]], [p[p.length - 3], p[p.length - 2]]);
          bounds.nurbs(curve);
          length.nurbs(curve);
        },
      });
      if (bounds.box.empty || length.total === 0) return;
      const grid = (v: number): number => Math.round(v / grain);
      const { minX, minY, maxX, maxY } = bounds.box;
      // Where a closed curve begins says nothing; the ends of an open one may be either way round.
      const [a, b] = [ends[0], ends[ends.length - 1]];
      const closed = Math.hypot(a[0] - b[0], a[1] - b[1]) <= grain;
      const tips = closed ? '' : [a, b].map((p) => `${grid(p[0])},${grid(p[1])}`).sort().join(';'); // prettier-ignore
      const key = [resolved.layer, ...[minX, minY, maxX, maxY, length.total].map(grid), tips].join('|');
      const known = groups.get(key);
      if (known) known.ids.push(e.id);
      else groups.set(key, { ids: [e.id], box: bounds.box, layer: resolved.layer, kind: e.kind });
    });
    const found: Finding[] = [];
    for (const { ids, box, layer, kind } of groups.values()) {
      if (ids.length < 2) continue;
      found.push({
        check: 'doubles',
        severity: 'warning',
        message: `${ids.length} curves (${kind}) lie on each other`,
        at: { x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2 },
        size: box.diagonal,
        span: box.diagonal,
        layer,
        ids: [...new Set(ids)],
      });
    }
    return found;
  },
};
