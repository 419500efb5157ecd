import type { Affine } from '../geometry/affine.js';
import { curvesOf } from '../drawing/curves.js';
import type { Entity } from '../drawing/entity.js';
import { surveyOf } from '../drawing/survey.js';
import { checkStop } from '../formats/format.js';
import type { Check, Finding } from './check.js';
import { isNoOutline } from './check.js';
import { extentOf } from './extent.js';

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
    const grain = Number(params['within'] ?? 0) || extentOf(drawing).diagonal * 1e-7 || 1e-9;
    const grid = (v: number): number => Math.round(v / grain);
    const survey = surveyOf(drawing);
    const { bounds } = survey;
    // Doubles share their box, which is cheap; lengths and ends are only asked of those that do.
    const byBox = new Map<number, number[]>();
    survey.each(({ entity: e, top }, n) => {
      if (n % 4096 === 0) checkStop(work);
      if (isNoOutline(top) || WITHOUT_COURSE.has(e.kind)) return;
      if (!(bounds[4 * n] <= bounds[4 * n + 2])) return;
      let sum = 0;
      for (let k = 4 * n; k < 4 * n + 4; k++) sum = mixed(sum, grid(bounds[k]));
      const same = byBox.get(sum);
      if (same) same.push(n);
      else byBox.set(sum, [n]);
    });
    const groups: Curve[] = [];
    for (const members of byBox.values()) {
      if (members.length === 1) continue;
      /** The last curve of each sum of its numbers; curves of the same sum are linked. */
      const bySum = new Map<number, Curve>();
      for (const n of members) {
        checkStop(work);
        const { entity: e, toWorld, resolved } = survey.visits[n];
        const length = survey.length(n);
        if (length === 0) continue;
        const [ax, ay, bx, by] = endsOf(e, toWorld);
        // Where a closed curve begins says nothing; the ends of an open one may be either way round.
        const closed = Math.hypot(ax - bx, ay - by) <= grain;
        const forward = grid(ax) < grid(bx) || (grid(ax) === grid(bx) && grid(ay) <= grid(by));
        const [px, py, qx, qy] = closed ? [0, 0, 0, 0] : forward ? [ax, ay, bx, by] : [bx, by, ax, ay];
        const key = [...bounds.subarray(4 * n, 4 * n + 4), length, px, py, qx, qy].map(grid);
        const sum = key.reduce(mixed, 0);
        let same = bySum.get(sum);
        while (same && !(same.layer === resolved.layer && same.key.every((k, i) => k === key[i]))) same = same.next;
        if (same) {
          if (same.ids.length === 1) groups.push(same);
          same.ids.push(e.id);
          continue;
        }
        const next = bySum.get(sum);
        bySum.set(sum, { key, layer: resolved.layer, ids: [e.id], kind: e.kind, first: n, ...(next && { next }) });
      }
    }
    groups.sort((a, b) => a.first - b.first);
    const found: Finding[] = [];
    for (const { ids, key, layer, kind } of groups) {
      const [minX, minY, maxX, maxY] = key.map((k) => k * grain);
      const diagonal = Math.hypot(maxX - minX, maxY - minY);
      found.push({
        check: 'doubles',
        severity: 'warning',
        message: `${ids.length} curves (${kind}) lie on each other`,
        at: { x: (minX + maxX) / 2, y: (minY + maxY) / 2 },
        size: diagonal,
        span: diagonal,
        layer,
        ids: [...new Set(ids)],
      });
    }
    return found;
  },
};

/** A curve by the rounded numbers that its doubles share: its box, its length, its ends. */
interface Curve {
  key: number[];
  layer: string;
  ids: number[];
  kind: string;
  /** Where the first of them stands in the survey. */
  first: number;
  next?: Curve;
}

/** Kinds that are areas, frames or nothing that is cut. */
const WITHOUT_COURSE = new Set<Entity['kind']>(['hatch', 'face', 'image', 'viewport', 'insert', 'text', 'richText']);

const mixed = (sum: number, k: number): number => Math.imul(sum ^ k, 0x9e3779b1) + (k > 2147483647 ? 1 : 0);

/** Where the curves of an entity begin and end: x, y of each. */
function endsOf(e: Entity, toWorld: Affine): [number, number, number, number] {
  let begun = false;
  const ends: [number, number, number, number] = [0, 0, 0, 0];
  const to = (x: number, y: number): void => {
    if (!begun) [ends[0], ends[1], begun] = [x, y, true];
    [ends[2], ends[3]] = [x, y];
  };
  curvesOf(e, toWorld, {
    move: to,
    line: to,
    arc: (_c, _u, _v, _s, _w, x, y) => to(x, y),
    cubic: (_a, _b, _c, _d, _e, _f, x, y) => to(x, y),
    nurbs: ({ points: p }) => {
      to(p[0], p[1]);
      to(p[p.length - 3], p[p.length - 2]);
    },
  });
  return ends;
}
