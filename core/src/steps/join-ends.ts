import { gapsOf } from '../analysis/gaps.js';
import { selectedBy } from '../analysis/selection.js';
import type { Entity, Line, Polyline } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { movedBy, tellChange } from './tell.js';
import { UNSEEN } from '../geometry/tolerance.js';

type Point = readonly [number, number];

/** Closes the gaps that the check for open outlines reports. */
export const joinEnds = defineStep({
  id: 'join-ends',
  title: 'Join ends',
  summary: 'Ends that nearly meet are brought together, or bridged by a short line, so that outlines close.',
  carries: ['curves'],
  group: 'clean',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 38, 0),
      sketch.line(40, 2, 40, 24),
      sketch.line(38, 25, 0, 25),
      sketch.line(0, 23, 0, 2),
    ]),
    params: { gap: 4 },
  },
  params: {
    gap: p.length({
      title: 'Close gaps up to',
      automatic: 'one hundredth of the drawing’s diagonal',
      default: 0,
      atLeast: 0,
    }),
    how: p.choice({
      title: 'By',
      default: 'move',
      choices: { move: 'moving line ends', bridge: 'adding a short line' },
    }),
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const found = gapsOf(drawing, params.gap, 0, ctx);
    if (found.length === 0) return drawing;
    const place = new Map(drawing.entities.map((e, i) => [e.id, i]));
    const wanted = selectedBy(params.which, drawing);
    ctx.look(2 * found.length);
    const entities = [...drawing.entities];
    const bridges: Entity[] = [];
    let nextId = drawing.nextId;
    let [moved, bridged, left, farthest] = [0, 0, 0, 0];
    // How far each one's ends went, in all.
    const reach = new Map<number, number>();
    const went = (i: number, by: number): void => void reach.set(i, (reach.get(i) ?? 0) + by);
    for (const [n, f] of found.entries()) {
      if (n % 4096 === 0) checkStop(ctx);
      const at = f.ids.map((id) => place.get(id));
      // What stands in blocks is shared: it is left alone.
      if (at.some((i) => i === undefined)) {
        left++;
        continue;
      }
      const [i, j] = [at[0]!, at[at.length - 1]!];
      if (!wanted(drawing.entities[i]!) || !wanted(drawing.entities[j]!)) continue;
      const ends = tipsNear(entities[i]!, entities[j]!, f.at, f.size);
      if (!ends) {
        left++;
        continue;
      }
      const [a, b] = ends;
      if (params.how !== 'bridge') {
        if (i === j) {
          const closed = closedUp(entities[i]!, f.size);
          if (closed) {
            entities[i] = closed;
            went(i, f.size);
            moved++;
            farthest = Math.max(farthest, f.size);
            continue;
          }
        } else {
          // Two straight ends meet half way; a straight end goes to a curved one.
          const middle: Point = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
          const [both, first, second] = [
            [withTip(entities[i]!, a, middle), withTip(entities[j]!, b, middle)],
            withTip(entities[i]!, a, b),
            withTip(entities[j]!, b, a),
          ] as const;
          const made =
            both[0] && both[1]
              ? ([both[0], both[1]] as const)
              : first
                ? ([first, entities[j]] as const)
                : second
                  ? ([entities[i], second] as const)
                  : null;
          if (made) {
            [entities[i], entities[j]] = made as readonly [Entity, Entity];
            for (const k of [i, j]) went(k, f.size);
            moved++;
            farthest = Math.max(farthest, both[0] && both[1] ? f.size / 2 : f.size);
            continue;
          }
        }
      }
      const { layer, look } = entities[i]!;
      bridges.push({ kind: 'line', id: nextId++, layer, look, start: [a[0], a[1], 0], end: [b[0], b[1], 0] });
      bridged++;
    }
    for (const [i, by] of reach)
      if (entities[i] !== drawing.entities[i])
        ctx.lineage.replace(drawing.entities[i]!, [entities[i]!], 'ends-joined', by);
    if (bridges.length > 0) ctx.lineage.add(bridges, 'gap-bridged');
    tellChange(ctx, 'curves', moved, 'ends-brought-together', movedBy(drawing, farthest));
    if (bridged > 0)
      ctx.ledger.add({
        carryOver: 'curves',
        action: 'changed',
        onPurpose: true,
        count: bridged,
        reason: 'gaps-bridged',
        becomes: { from: 'nothing', to: 'line', gone: 0, entities: bridged },
      });
    if (left > 0)
      ctx.ledger.add({
        carryOver: 'curves',
        action: 'kept',
        count: left,
        reason: 'gaps-in-blocks-left',
      });
    return { ...drawing, entities: [...entities, ...bridges], nextId };
  },
});

/** The two ends that face each other over a gap. */
function tipsNear(a: Entity, b: Entity, middle: { x: number; y: number }, size: number): [Point, Point] | null {
  const near = (p: Point): boolean =>
    Math.abs(Math.hypot(p[0] - middle.x, p[1] - middle.y) - size / 2) <= UNSEEN * size;
  const pa = tipsOf(a);
  if (a === b) return pa && near(pa[0]) && near(pa[1]) ? [pa[0], pa[1]] : null;
  const pb = tipsOf(b);
  for (const p of pa ?? [])
    for (const q of pb ?? [])
      if (near(p) && near(q) && Math.abs(Math.hypot(p[0] - q[0], p[1] - q[1]) - size) <= UNSEEN * size) return [p, q];
  return null;
}

/** The first and the last point of a flat, open curve; `null` for kinds whose ends are not looked for. */
function tipsOf(e: Entity): [Point, Point] | null {
  if (e.normal) return null;
  switch (e.kind) {
    case 'line':
      return [
        [e.start[0], e.start[1]],
        [e.end[0], e.end[1]],
      ];
    case 'polyline': {
      const n = e.points.length;
      return n < 2 * e.dim
        ? null
        : [
            [e.points[0]!, e.points[1]!],
            [e.points[n - e.dim]!, e.points[n - e.dim + 1]!],
          ];
    }
    case 'arc': {
      const at = (t: number): Point => [e.centre[0] + e.radius * Math.cos(t), e.centre[1] + e.radius * Math.sin(t)];
      return [at(e.start), at(e.end)];
    }
    case 'spline': {
      const n = e.points.length;
      return [
        [e.points[0]!, e.points[1]!],
        [e.points[n - 3]!, e.points[n - 2]!],
      ];
    }
    case 'path': {
      const d = e.path.data;
      return e.path.cmds.filter((c) => c === 0).length === 1
        ? [
            [d[0]!, d[1]!],
            [d[d.length - 2]!, d[d.length - 1]!],
          ]
        : null;
    }
    default:
      return null;
  }
}

/** The entity with one of its straight ends moved; `null` where that end is curved or of another kind. */
function withTip(e: Entity, from: Point, to: Point): Entity | null {
  const is = (p: Point): boolean => p[0] === from[0] && p[1] === from[1];
  if (e.kind === 'line')
    return is([e.start[0], e.start[1]])
      ? lineWith(e, 'start', to)
      : is([e.end[0], e.end[1]])
        ? lineWith(e, 'end', to)
        : null;
  if (e.kind !== 'polyline') return null;
  const n = e.points.length / e.dim;
  const first = is([e.points[0]!, e.points[1]!]);
  const i = first ? 0 : n - 1;
  if (!first && !is([e.points[e.dim * i]!, e.points[e.dim * i + 1]!])) return null;
  if (e.bulges && e.bulges[first ? 0 : n - 2] !== 0) return null;
  return movedVertex(e, i, to);
}

const lineWith = (e: Line, end: 'start' | 'end', to: Point): Line => ({ ...e, [end]: [to[0], to[1], e[end][2]] });

function movedVertex(e: Polyline, i: number, to: Point): Polyline {
  const points = e.points.slice();
  points[e.dim * i] = to[0];
  points[e.dim * i + 1] = to[1];
  return { ...e, points };
}

/** A polyline or path whose ends nearly meet, closed: its last vertex gives way to its first. */
function closedUp(e: Entity, gap: number): Entity | null {
  if (e.kind === 'polyline') {
    const n = e.points.length / e.dim;
    if (n < 4 || (e.widths && e.widths.length !== 2 * n)) return null;
    // Where the last stretch is no longer than the gap it is what closes the outline.
    return {
      ...e,
      points: e.points.slice(0, -e.dim),
      closed: true,
      ...(e.bulges && { bulges: e.bulges.slice(0, n - 1) }),
      ...(e.widths && { widths: e.widths.slice(0, 2 * (n - 1)) }),
    };
  }
  if (e.kind !== 'path' || gap <= 0) return null;
  const { cmds, data } = e.path;
  const moved = data.slice();
  moved[moved.length - 2] = data[0]!;
  moved[moved.length - 1] = data[1]!;
  return { ...e, path: { cmds: Uint8Array.of(...cmds, 5), data: moved } };
}
