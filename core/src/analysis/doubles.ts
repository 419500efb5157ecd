import type { Affine } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { curvesOf } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { KINDS } from '../drawing/kinds.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { isAnnotationPart } from './annotation.js';
import { extentOf } from './extent.js';
import { COINCIDENT, TOUCHING } from '../geometry/tolerance.js';

/** Curves of one layer that lie on each other: their entities in drawing order, one for each curve. */
export interface Doubles {
  ids: number[];
  kind: Entity['kind'];
  layer: string;
  box: Box2;
}

/** Curves that lie on each other, as `within` (drawing unit; 0: a ten-millionth of the diagonal) tells them apart. */
export function doublesOf(drawing: Drawing, within: number, work?: Work): Doubles[] {
  const grain = within || extentOf(drawing).diagonal * TOUCHING || COINCIDENT;
  const grid = (v: number): number => Math.round(v / grain);
  const survey = surveyOf(drawing);
  const { bounds } = survey;
  // Doubles share their box, which is cheap; lengths and ends are only asked of those that do.
  const byBox = new Map<number, number[]>();
  survey.each(({ entity: e, top }, n) => {
    if (n % 4096 === 0) checkStop(work);
    if (isAnnotationPart(top) || !['curves', 'parts'].includes(KINDS[e.kind].shown)) return;
    if (!(bounds[4 * n]! <= bounds[4 * n + 2]!)) return;
    let sum = 0;
    for (let k = 4 * n; k < 4 * n + 4; k++) sum = mixed(sum, grid(bounds[k]!));
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
      const { entity: e, toWorld, resolved } = survey.visits[n]!;
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
  return groups.map(({ ids, kind, layer, key: [minX, minY, maxX, maxY] }) => ({
    ids,
    kind,
    layer,
    box: Box2.of(minX! * grain, minY! * grain, maxX! * grain, maxY! * grain),
  }));
}

/** A curve by the rounded numbers that its doubles share: its box, its length, its ends. */
interface Curve {
  key: number[];
  layer: string;
  ids: number[];
  kind: Entity['kind'];
  /** Where the first of them stands in the survey. */
  first: number;
  next?: Curve;
}

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
      to(p[0]!, p[1]!);
      to(p[p.length - 3]!, p[p.length - 2]!);
    },
  });
  return ends;
}
