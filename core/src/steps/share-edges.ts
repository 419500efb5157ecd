import Flatbush from 'flatbush';
import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import { isCircular, isStraight } from '../drawing/courses.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { bulgeOf } from '../geometry/arcs.js';
import { bulgePiece } from '../geometry/bulge-piece.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, startOf } from '../geometry/path-pieces.js';
import { nearestOnPiece } from '../geometry/nearest-on-piece.js';
import { roughBox } from '../geometry/pieces-box.js';
import { PointTable } from '../geometry/point-table.js';
import { snapped } from '../geometry/snapped-points.js';
import { AT_END } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { takenRuns } from '../drawing/taken-runs.js';
import { rebuilt } from './rebuilt.js';
import { SAMENESS, samenessIn } from './sameness.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { movedBy, tellChange } from './tell.js';

/** Gives neighbouring outlines the same points and the same edges. */
export const shareEdges = defineStep({
  id: 'share-edges',
  title: 'Share edges',
  summary:
    'Neighbouring outlines that nearly touch get the same points and edges, bit for bit, so that no sliver is between them.',
  carries: ['curves'],
  group: 'regions',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0, 0, 50, 0, 50, 12, 0, 12], true),
      sketch.chain([0, 13, 25, 13, 25, 26, 0, 26], true),
      sketch.chain([25, 12, 50, 12, 50, 26, 25, 26], true),
    ]),
    params: { within: 2 },
  },
  params: {
    ...SAMENESS,
    which: p.selection({ title: 'Which outlines' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const within = samenessIn(drawing, params);
    if (!(within > 0)) return drawing;
    const told = { outlines: 0, moved: 0, added: 0 };
    const made = inSpaces(drawing, ctx, (space) => sharedIn(space, within / space.scale, wanted, told, ctx));
    tellChange(
      ctx,
      'curves',
      told.outlines,
      because('edges-shared', { points: told.added }),
      movedBy(drawing, told.moved),
    );
    return made;
  },
});

/** An edge of an outline: straight, or an arc by its sweep, between two points. */
interface Edge {
  from: number;
  to: number;
  piece: Piece;
  /** As the outline states it, where it does. */
  bulge: number | null;
}

interface Outline {
  entity: Entity;
  runs: readonly Run[];
  edges: Edge[][];
}

function sharedIn(
  space: Space,
  within: number,
  wanted: (e: Entity) => boolean,
  told: { outlines: number; moved: number; added: number },
  ctx: StepContext,
): readonly Entity[] {
  const table = new PointTable(1024);
  const outlines: Outline[] = [];
  const uses: number[] = [];
  space.entities.forEach((entity, i) => {
    if (i % 512 === 0) checkStop(ctx);
    if (!wanted(entity) || !entity.look.visible || entity.kind === 'circle' || entity.kind === 'ellipse') return;
    const taken = takenRuns(entity, 0);
    if (!taken || taken.off > 0 || !taken.runs.some((r) => r.closed)) return;
    if (!taken.runs.every((r) => r.pieces.every((q) => isStraight(q) || isCircular(q)))) {
      ctx.leave('free-curves-not-shared', entity);
      return;
    }
    ctx.look();
    const edges = taken.runs.map((r) =>
      r.pieces.map((piece, k): Edge => {
        const [from, to] = [table.number(...startOf(piece), r.z), table.number(...endOf(piece), r.z)];
        uses[from] = (uses[from] ?? 0) + 1;
        uses[to] = (uses[to] ?? 0) + 1;
        return { from, to, piece, bulge: statedBulge(entity, k, r.pieces.length) };
      }),
    );
    outlines.push({ entity, runs: taken.runs, edges });
  });
  if (outlines.length === 0) return space.entities;
  const stands = snapped(table, uses, within);
  const splits = pointsOnEdges(outlines, table, stands, within, ctx);
  const at = (id: number): [number, number] => [table.points[3 * id]!, table.points[3 * id + 1]!];
  // Of two outlines with one arc between them the first says how far it bulges.
  const arcs = new Map<string, number>();
  const instead = new Map<Entity, Entity>();
  for (const { entity, runs, edges } of outlines) {
    let changed = false;
    let added = 0;
    const bulges: number[] = [];
    const made = runs.map((run, r): Run => {
      const pieces: Piece[] = [];
      for (const edge of edges[r]!) {
        const ids = [stands[edge.from]!, ...(splits.get(edge) ?? []), stands[edge.to]!];
        added += ids.length - 2;
        if (ids.length > 2 || ids[0] !== edge.from || ids[ids.length - 1] !== edge.to) changed = true;
        for (const { piece, bulge } of edgeParts(edge, ids, at, arcs)) {
          // What is shorter than the bound is a point now.
          if (startOf(piece)[0] !== endOf(piece)[0] || startOf(piece)[1] !== endOf(piece)[1]) {
            pieces.push(piece);
            bulges.push(bulge);
            if (edge.bulge !== null && ids.length === 2 && bulge !== edge.bulge) changed = true;
          } else changed = true;
        }
      }
      return { ...run, pieces };
    });
    if (!changed) continue;
    if (made.some((r) => r.pieces.length < 2)) {
      ctx.leave('thin-sliver', entity);
      continue;
    }
    const whole = rebuilt(entity, made, false);
    if (!whole) continue;
    const to = withBulges(whole, bulges);
    instead.set(entity, to);
    told.outlines++;
    told.added += added;
    // Points move by the bound at most, and an edge with them; a bulge moves by as much again.
    const moved = edges
      .flat()
      .reduce((most, e) => Math.max(most, away(at, e.from, stands[e.from]!), away(at, e.to, stands[e.to]!)), 0);
    const bent = runs.some((r) => r.pieces.some((q) => q.kind === 'arc'));
    told.moved = Math.max(told.moved, moved * space.scale);
    ctx.lineage.replace(entity, [to], 'edges-shared', within * (bent ? 3 : 1));
  }
  return instead.size === 0 ? space.entities : space.entities.map((e) => instead.get(e) ?? e);
}

const away = (at: (id: number) => [number, number], a: number, b: number): number => {
  const [p, q] = [at(a), at(b)];
  return Math.hypot(p[0] - q[0], p[1] - q[1]);
};

/** The points that lie on edges between their ends, in order along each. */
function pointsOnEdges(
  outlines: readonly Outline[],
  table: PointTable,
  stands: Int32Array,
  within: number,
  ctx: StepContext,
): Map<Edge, number[]> {
  const own = [...new Set(stands)];
  const index = new Flatbush(Math.max(1, own.length));
  const pts = table.points;
  for (const id of own) index.add(pts[3 * id]!, pts[3 * id + 1]!, pts[3 * id]!, pts[3 * id + 1]!);
  index.finish();
  const out = new Map<Edge, number[]>();
  outlines.forEach(({ edges }, n) => {
    if (n % 256 === 0) checkStop(ctx);
    for (const edge of edges.flat()) {
      const on = index
        .search(...roughBox([edge.piece], within))
        .map((k) => own[k]!)
        .filter(
          (id) => id !== stands[edge.from] && id !== stands[edge.to] && pts[3 * id + 2] === pts[3 * edge.from + 2],
        )
        .map((id) => ({ id, along: alongOf(edge.piece, pts[3 * id]!, pts[3 * id + 1]!, within) }))
        .filter((q): q is { id: number; along: number } => q.along !== null)
        .sort((a, b) => a.along - b.along);
      if (on.length > 0)
        out.set(
          edge,
          on.map((q) => q.id),
        );
    }
  });
  return out;
}

/** Where along a piece, from 0 to 1, a place lies that is no further from it than a bound and not at its ends; else `null`. */
function alongOf(piece: Piece, x: number, y: number, within: number): number | null {
  const [a, b] = [startOf(piece), endOf(piece)];
  if (Math.min(Math.hypot(x - a[0], y - a[1]), Math.hypot(x - b[0], y - b[1])) <= within) return null;
  const { t, away } = nearestOnPiece(piece, x, y);
  return t > 0 && t < 1 && away <= within * (1 + AT_END) ? t : null;
}

/** The bulge of an edge of a polyline, as it is stated. */
function statedBulge(e: Entity, k: number, edges: number): number | null {
  if (e.kind !== 'polyline') return null;
  const n = e.points.length / e.dim;
  return edges === (e.closed ? n : n - 1) ? (e.bulges?.[k] ?? 0) : null;
}

/** A polyline with its bulges to the last bit: worked out from sweeps they may differ in that. */
const withBulges = (e: Entity, bulges: readonly number[]): Entity =>
  e.kind === 'polyline' && e.bulges?.length === bulges.length ? { ...e, bulges: Float64Array.from(bulges) } : e;

/** An edge between the points it goes by now; an arc in parts of its own sweep. */
function edgeParts(
  edge: Edge,
  ids: readonly number[],
  at: (id: number) => [number, number],
  arcs: Map<string, number>,
): { piece: Piece; bulge: number }[] {
  const { piece } = edge;
  let last = 0;
  return ids.slice(1).map((id, i) => {
    const [a, b] = [at(ids[i]!), at(id)];
    if (piece.kind === 'bezier') return { piece: { kind: 'bezier', p: [...a, ...b] }, bulge: 0 };
    const t = i + 2 === ids.length ? 1 : nearestOnPiece(piece, b[0], b[1]).t;
    const sweep = piece.sweep * (t - last);
    last = t;
    // Both sides of one arc are one arc.
    const way = ids[i]! < id ? 1 : -1;
    const key = `${way > 0 ? `${ids[i]} ${id}` : `${id} ${ids[i]}`} ${Math.sign(sweep) * way}`;
    let bulge = arcs.get(key);
    if (bulge === undefined)
      arcs.set(key, (bulge = (ids.length === 2 && edge.bulge ? edge.bulge : bulgeOf(sweep)) * way));
    return { piece: bulgePiece(...a, ...b, bulge * way), bulge: bulge * way };
  });
}
