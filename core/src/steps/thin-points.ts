import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import { isStraight, joinedArcs, pathOfRun, runsOf } from '../drawing/courses.js';
import { hasVaryingWidth } from '../drawing/constant-width.js';
import { derive } from '../drawing/derive.js';
import type { Entity, Path, Polyline } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import { bulgeArc, bulgeOf } from '../geometry/arcs.js';
import { joinedCubics } from '../geometry/join-cubics.js';
import { joinedPaths } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, piecesOf, startOf } from '../geometry/path-pieces.js';
import { PointTable } from '../geometry/point-table.js';
import { COINCIDENT } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { rehung } from './dimension-anchors.js';
import { exampleDrawing, sketch } from './example.js';
import { polylineBy } from './rebuilt.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import type { Strand } from './thin-net.js';
import { ThinNet } from './thin-net.js';
import { movedBy, tellChange } from './tell.js';

/** Takes away points that a shape does not need. */
export const thinPoints = defineStep({
  id: 'thin-points',
  title: 'Thin points',
  summary:
    'Takes away points that outlines do not need; edges that neighbours share are thinned once, so that both keep equal points.',
  carries: ['curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([
      sketch.chain(
        [
          0, 0, 5, 0.4, 10, 0, 16, 0.5, 22, 0.2, 30, 0, 40, 0, 40.3, 8, 40, 15, 40.2, 20, 40, 24, 30, 24.4, 20, 24, 12,
          24.3, 0, 24, 0.3, 12,
        ],
        true,
      ),
    ]),
    params: { strength: 'bound', bound: 0.6 },
  },
  params: {
    strength: p.choice({
      title: 'Take away',
      default: 'bound',
      choices: { redundant: 'Needless points alone', bound: 'All that a bound allows' },
    }),
    bound: p.length({
      when: { strength: 'bound' },
      title: 'The shape moves by at most',
      automatic: 'a ten-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    corner: p.angle({ title: 'Corners that turn by more stay', default: 60, above: 0, atMost: 180 }),
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const { diagonal } = extentOf(drawing);
    const needless = diagonal * COINCIDENT;
    const bound = params.strength === 'redundant' ? needless : Math.max(needless, params.bound || diagonal * 1e-4);
    if (!(bound > 0)) return drawing;
    const told: Told = { gone: 0, strayed: 0 };
    const corner = (params.corner * Math.PI) / 180;
    const made = inSpaces(drawing, ctx, (space) =>
      thinnedIn(space, { bound: bound / space.scale, needless: needless / space.scale, corner }, wanted, told, ctx),
    );
    tellChange(ctx, 'curves', told.gone, 'points-thinned', movedBy(drawing, told.strayed));
    return made;
  },
});

interface Options {
  bound: number;
  needless: number;
  corner: number;
}

interface Told {
  gone: number;
  strayed: number;
}

/** A polyline with the arcs that go on each other joined, and the places in it of what is left. */
interface Outline {
  entity: Polyline;
  strand: Strand;
  bulges: number[] | null;
}

/** A path by its runs; those of which something may go have a strand or several. */
interface Art {
  entity: Path;
  runs: { pieces: Piece[]; closed: boolean; strand: Strand; off: number }[];
}

function thinnedIn(
  space: Space,
  o: Options,
  wanted: (e: Entity) => boolean,
  told: Told,
  ctx: StepContext,
): readonly Entity[] {
  const table = new PointTable(4096);
  const outlines: Outline[] = [];
  const art: Art[] = [];
  const others: Entity[] = [];
  space.entities.forEach((e, i) => {
    if (i % 4096 === 0) checkStop(ctx);
    const own = wanted(e) && e.look.visible;
    if (own && e.kind === 'polyline' && e.points.length > 2 * e.dim) {
      ctx.look();
      if (hasVaryingWidth(e)) {
        ctx.leave('thin-varying-width', e);
        others.push(e);
      } else outlines.push(outlineOf(e, table, o));
    } else if (own && e.kind === 'path' && !e.normal) {
      ctx.look();
      art.push(artOf(e, table));
    } else others.push(e);
  });
  if (outlines.length + art.length === 0) return space.entities;
  const strands = [...outlines.map((l) => l.strand), ...art.flatMap((a) => a.runs.map((r) => r.strand))];
  const net = new ThinNet(strands, table, o, ctx);
  // Where another curve ends, a point stays.
  for (const e of others)
    for (const run of runsOf(e) ?? []) {
      if (run.closed) continue;
      for (const [x, y] of [startOf(run.pieces[0]!), endOf(run.pieces[run.pieces.length - 1]!)]) {
        const id = table.find(x, y, run.z);
        if (id >= 0) net.mark(id);
      }
    }
  const kept = new Map(net.run().map((list, i) => [strands[i]!, list]));
  const instead = new Map<Entity, Entity>();
  const put = (e: Entity, made: Entity, gone: number, off: number): void => {
    instead.set(e, made);
    told.gone += gone;
    told.strayed = Math.max(told.strayed, off * space.scale);
    ctx.lineage.replace(e, [made], 'points-thinned', off);
  };
  for (const { entity, strand, bulges } of outlines) {
    const list = kept.get(strand)!;
    const before = entity.points.length / entity.dim;
    if (list.length < before)
      put(entity, polylineOf(entity, strand, list, bulges, table), before - list.length, net.offOf(strand, list).off);
    tellWhole(net, strand, entity, ctx);
  }
  const shared = sharedEnds(strands);
  for (const a of art) {
    const made = thinnedArt(a, kept, net, shared, o);
    for (const r of a.runs) tellWhole(net, r.strand, a.entity, ctx);
    if (made) put(a.entity, made.entity, made.gone, made.off);
  }
  if (instead.size === 0) return space.entities;
  const moved = movedPoints(strands, kept, net);
  return space.entities.map((e) => instead.get(e) ?? (e.kind === 'dimension' ? rehung(e, moved, ctx) : e));
}

const WHY = { sliver: 'thin-sliver', crossing: 'thin-crossing', twice: 'thin-twice' } as const;

function tellWhole(net: ThinNet, strand: Strand, e: Entity, ctx: StepContext): void {
  const why = net.left.get(strand);
  if (why) ctx.leave(WHY[why], e);
}

function outlineOf(e: Polyline, table: PointTable, o: Options): Outline {
  const n = e.points.length / e.dim;
  const x = (i: number): number => e.points[e.dim * i]!;
  const y = (i: number): number => e.points[e.dim * i + 1]!;
  const z = (i: number): number => (e.dim === 3 ? e.points[3 * i + 2]! : e.elevation);
  // What stands mirrored or tilted shares no points with what does not.
  const plane = e.normal ? 1e-3 * (e.normal[0] + 2 * e.normal[1] + 4 * e.normal[2]) : 0;
  const ids = Int32Array.from({ length: n }, (_, i) => table.number(x(i), y(i), z(i) + plane));
  const joined = e.bulges ? withJoinedArcs(e, o.needless) : null;
  const places = joined?.places ?? null;
  const bulges = joined?.bulges ?? (e.bulges ? [...e.bulges] : null);
  const own = places ? Int32Array.from(places, (i) => ids[i]!) : ids;
  const bent = Uint8Array.from({ length: own.length }, (_, i) => (bulges && bulges[i] !== 0 ? 1 : 0));
  return { entity: e, bulges, strand: { ids: own, bent, closed: e.closed, area: true } };
}

/** A polyline's places without those at which one arc goes on another of the same circle; at most half a turn becomes one. */
function withJoinedArcs(e: Polyline, same: number): { places: number[]; bulges: number[] } | null {
  const n = e.points.length / e.dim;
  const at = (i: number): [number, number] => [e.points[e.dim * i]!, e.points[e.dim * i + 1]!];
  const places = [0];
  const bulges = [e.bulges![0]!];
  for (let i = 1; i < n; i++) {
    const last = places[places.length - 1]!;
    const [before, here] = [bulges[bulges.length - 1]!, e.bulges![i]!];
    const next = i + 1 < n ? i + 1 : e.closed ? 0 : -1;
    if (next >= 0 && before * here > 0) {
      const a = bulgeArc(...at(last), ...at(i), before);
      const b = bulgeArc(...at(i), ...at(next), here);
      const sweep = (a?.sweep ?? 0) + (b?.sweep ?? 0);
      const near = a && b && Math.hypot(a.cx - b.cx, a.cy - b.cy) <= same && Math.abs(a.radius - b.radius) <= same;
      if (near && Math.abs(sweep) <= Math.PI) {
        bulges[bulges.length - 1] = bulgeOf(sweep);
        continue;
      }
    }
    places.push(i);
    bulges.push(here);
  }
  return places.length === n ? null : { places, bulges };
}

function polylineOf(
  e: Polyline,
  { ids }: Strand,
  kept: Int32Array,
  bulges: readonly number[] | null,
  table: PointTable,
): Polyline {
  const points = new Float64Array(kept.length * e.dim);
  // The table has heights with what tells planes apart: those of the polyline are its own.
  const own = placesOf(e, ids, table);
  const places = kept.map((k) => own[k]!);
  places.forEach((from, i) => points.set(e.points.subarray(from * e.dim, (from + 1) * e.dim), i * e.dim));
  return polylineBy(e, places, { points, ...(bulges && { bulges: Float64Array.from(kept, (k) => bulges[k]!) }) });
}

/** For each point of a strand where it stands in the polyline: strands leave out joints of arcs. */
function placesOf(e: Polyline, ids: Int32Array, table: PointTable): Int32Array {
  const n = e.points.length / e.dim;
  if (ids.length === n) return Int32Array.from(ids, (_, i) => i);
  const p = table.points;
  let at = 0;
  return Int32Array.from(ids, (id) => {
    while (at < n && (e.points[e.dim * at] !== p[3 * id] || e.points[e.dim * at + 1] !== p[3 * id + 1])) at++;
    return at++;
  });
}

function artOf(e: Path, table: PointTable): Art {
  const runs = piecesOf(e.path, false).map(({ pieces, closed }) => {
    const ids = pieces.map((q) => table.number(...startOf(q)));
    if (!closed) ids.push(table.number(...endOf(pieces[pieces.length - 1]!)));
    const bent = Uint8Array.from(ids, (_, i) => (i < pieces.length && !isStraight(pieces[i]!) ? 1 : 0));
    return {
      pieces,
      closed,
      off: 0,
      strand: { ids: Int32Array.from(ids), bent, closed, area: e.look.fill.kind !== 'none' },
    };
  });
  return { entity: e, runs };
}

/** Points at which more than two edges end: joints of free curves stay there. */
function sharedEnds(strands: readonly Strand[]): Set<number> {
  const seen = new Set<number>();
  const twice = new Set<number>();
  for (const s of strands)
    for (const id of s.ids) {
      if (seen.has(id)) twice.add(id);
      else seen.add(id);
    }
  return twice;
}

function thinnedArt(
  { entity, runs }: Art,
  kept: ReadonlyMap<Strand, Int32Array>,
  net: ThinNet,
  shared: ReadonlySet<number>,
  o: Options,
): { entity: Path; gone: number; off: number } | null {
  let [gone, off] = [0, 0];
  const { points } = net.table;
  const at = (id: number): [number, number] => [points[3 * id]!, points[3 * id + 1]!];
  const made = runs.map(({ pieces, closed, strand }) => {
    const list = kept.get(strand)!;
    off = Math.max(off, net.offOf(strand, list).off);
    const straight: Piece[] = [];
    list.forEach((k, i) => {
      const next = i + 1 < list.length ? list[i + 1]! : closed ? list[0]! : -1;
      if (next < 0) return;
      straight.push(
        strand.bent[k] ? pieces[k]! : { kind: 'bezier', p: [...at(strand.ids[k]!), ...at(strand.ids[next]!)] },
      );
    });
    const stays = (x: number, y: number): boolean => shared.has(net.table.find(x, y));
    const smooth = joinedCubics(joinedArcs(straight, Math.PI, stays), o.bound, stays);
    off = Math.max(off, smooth.off);
    gone += pieces.length - smooth.pieces.length;
    return pathOfRun({ pieces: smooth.pieces, closed, z: 0 });
  });
  if (gone === 0) return null;
  return {
    entity: derive(entity, 'whole', {
      kind: 'path',
      path: joinedPaths(made),
      ...(entity.rest !== undefined && { rest: entity.rest }),
    }),
    gone,
    off,
  };
}

/** Where points that are gone would lie now: on the edge that goes past them. */
function movedPoints(
  strands: readonly Strand[],
  kept: ReadonlyMap<Strand, Int32Array>,
  net: ThinNet,
): (x: number, y: number, z: number) => [number, number] | null {
  const { points } = net.table;
  const edges = new Map<number, [number, number]>();
  for (const s of strands) {
    const list = kept.get(s)!;
    const n = s.ids.length;
    list.forEach((k, i) => {
      const next = i + 1 < list.length ? list[i + 1]! : s.closed ? list[0]! + n : k;
      for (let m = k + 1; m < next; m++) edges.set(s.ids[m % n]!, [s.ids[k]!, s.ids[next % n]!]);
    });
  }
  return (x, y, z) => {
    const id = net.table.find(x, y, z);
    const edge = id < 0 ? undefined : edges.get(id);
    if (!edge) return null;
    const [a, b] = [3 * edge[0], 3 * edge[1]];
    const [dx, dy] = [points[b]! - points[a]!, points[b + 1]! - points[a + 1]!];
    const l = dx * dx + dy * dy;
    const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((x - points[a]!) * dx + (y - points[a + 1]!) * dy) / l));
    return [points[a]! + t * dx, points[a + 1]! + t * dy];
  };
}
