import type { Run } from '../drawing/courses.js';
import { entityOfRun, runsOf } from '../drawing/courses.js';
import { LinetypeDashes } from '../drawing/linetype-dashes.js';
import { because } from '../drawing/reasons.js';
import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import type { Entity } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import { TAU } from '../geometry/arcs.js';
import type { Carrier, Stretch } from '../geometry/carrier.js';
import { CarrierIndex } from '../geometry/carrier-index.js';
import { bareStretches, beside, carrierOf, joinedStretches, stretchesOn } from '../geometry/carrier.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, partOf, pointAt, startOf } from '../geometry/path-pieces.js';
import { COINCIDENT, ROUNDING, TOUCHING } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import type { Together } from './together.js';
import { Alike, TOGETHER } from './together.js';
import { movedBy, tellChange, unitOf } from './tell.js';

/** Makes one of lines and arcs that run over each other for part of their way. */
export const mergeOverlaps = defineStep({
  id: 'merge-overlaps',
  title: 'Merge overlaps',
  summary: 'Lines and arcs that run over each other become one, so that nothing is cut or drawn twice.',
  carries: ['curves'],
  group: 'clean',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 30, 0),
      sketch.line(20, 0, 50, 0),
      sketch.arc(25, 0, 18, 0, 100),
      sketch.arc(25, 0, 18, 80, 180),
    ]),
  },
  params: {
    within: p.length({
      title: 'On each other when closer than',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    from: p.length({ title: 'Overlaps from this length on', automatic: 'twice that', default: 0, atLeast: 0 }),
    closed: p.choice({
      title: 'Edges of closed outlines',
      default: 'left',
      choices: { left: 'Leave what lies on them', merged: 'Take away what lies on them' },
    }),
    ...TOGETHER,
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const within = params.within || extentOf(drawing).diagonal * TOUCHING;
    if (!(within > 0)) return drawing;
    const dashes = new LinetypeDashes(drawing);
    const told: Told = { overlap: 0, merged: 0, dashed: 0, strayed: 0 };
    const made = inSpaces(drawing, ctx, (space) =>
      mergedIn(
        space,
        {
          within: within / space.scale,
          from: params.from / space.scale,
          closed: params.closed === 'merged',
          together: params.together,
          isDashed: (e) => dashes.lengths(dashes.of(e)).length > 0,
        },
        wanted,
        told,
        ctx,
      ),
    );
    const unit = unitOf(drawing);
    tellChange(
      ctx,
      'curves',
      told.merged,
      because('overlaps-merged', { length: `${Number(told.overlap.toPrecision(6))} ${unit}` }),
      movedBy(drawing, told.strayed),
    );
    tellChange(ctx, 'curves', told.dashed, 'dashes-begin-anew');
    return made;
  },
});

interface Options {
  within: number;
  from: number;
  closed: boolean;
  together: Together;
  isDashed(e: Entity): boolean;
}

interface Told {
  overlap: number;
  merged: number;
  dashed: number;
  strayed: number;
}

/** A loose line or arc: one that is an entity by itself. */
interface Loose {
  entity: Entity;
  at: number;
  z: number;
  run: Run;
  piece: Piece;
  carrier: Carrier;
  length: number;
}

/** An edge of a polyline or outline, on which loose curves may lie. */
interface Edge {
  entity: Entity;
  at: number;
  carrier: Carrier;
  piece: Piece;
  z: number;
}

/** What is apart from what however it lies, worked out of those alone that are asked. */
type KeyOf = (one: { readonly entity: Entity; readonly z: number }) => string;

function mergedIn(
  space: Space,
  o: Options,
  wanted: (e: Entity) => boolean,
  told: Told,
  ctx: StepContext,
): readonly Entity[] {
  const alike = new Alike(o.together);
  const keyOf: KeyOf = ({ entity, z }) => `${alike.key(entity)} ${z}`;
  const loose: Loose[] = [];
  const edges: Edge[] = [];
  space.entities.forEach((entity, at) => {
    if (at % 4096 === 0) checkStop(ctx);
    if (!wanted(entity) || !entity.look.visible) return;
    const runs = runsOf(entity);
    if (!runs) return;
    ctx.look();
    const alone = looseOf(entity, runs);
    if (alone) loose.push({ entity, at, ...alone, z: alone.run.z });
    else if (entity.look.fill.kind === 'none' || o.closed)
      for (const run of runs) {
        if (run.closed && !o.closed) continue;
        for (const piece of run.pieces) {
          const carrier = carrierOf(piece);
          if (carrier) edges.push({ entity, at, carrier, piece, z: run.z });
        }
      }
  });
  const changes = new Changes(space, told, ctx);
  const one = clustersOf(loose, keyOf, o, ctx);
  for (const cluster of one) changes.merge(cluster, alike, o);
  coverBy(edges, changes.standing(loose), keyOf, o, changes, ctx);
  return changes.apply(o);
}

/** A line, an arc or a circle that stands for itself, in one piece. */
function looseOf(entity: Entity, runs: readonly Run[]): Pick<Loose, 'run' | 'piece' | 'carrier' | 'length'> | null {
  if (runs.length !== 1 || entity.look.fill.kind !== 'none') return null;
  const run = runs[0]!;
  if (entity.kind === 'circle' || entity.kind === 'arc') {
    // Half turns of one circle, as one piece.
    const first = run.pieces[0]!;
    if (first.kind !== 'arc') return null;
    const sweep = run.pieces.reduce((sum, q) => sum + (q.kind === 'arc' ? q.sweep : 0), 0);
    const piece: Piece = { ...first, sweep, to: endOf(run.pieces[run.pieces.length - 1]!) };
    const carrier = carrierOf(piece);
    return carrier && { run, piece, carrier, length: carrier.length };
  }
  if (run.closed || run.pieces.length !== 1) return null;
  const piece = run.pieces[0]!;
  const carrier = carrierOf(piece);
  return carrier && { run, piece, carrier, length: carrier.length };
}

/** Loose curves that run over each other, and the piece that all of them lie on. */
interface Cluster {
  members: Loose[];
  piece: Piece;
  overlap: number;
}

/** Gathers loose curves, the longest first, as long as all of them lie within the bound of the one that they become. */
function clustersOf(loose: readonly Loose[], keyOf: KeyOf, o: Options, ctx: StepContext): Cluster[] {
  if (loose.length === 0) return [];
  const index = new CarrierIndex(
    loose.map((l) => l.piece),
    o.within,
  );
  const order = loose.map((_, i) => i).sort((a, b) => loose[b]!.length - loose[a]!.length || a - b);
  const used = new Uint8Array(loose.length);
  const least = Math.max(o.from, 2 * o.within);
  const out: Cluster[] = [];
  order.forEach((i, n) => {
    if (n % 1024 === 0) checkStop(ctx);
    if (used[i]) return;
    const seed = loose[i]!;
    // Most lie on nothing else.
    const first = index.near(seed.piece);
    if (first.length < 2) return;
    const key = keyOf(seed);
    const cluster = seed.carrier.kind === 'line' ? new LineCluster(seed, o.within) : new ArcCluster(seed, o.within);
    for (let near = first, grown = true; grown; near = grown ? index.near(cluster.piece()) : near) {
      grown = false;
      for (const k of near) {
        const other = loose[k]!;
        if (used[k] || k === i || other.carrier.kind !== seed.carrier.kind || keyOf(other) !== key) continue;
        if (!cluster.take(other, least)) continue;
        used[k] = 1;
        grown = true;
      }
    }
    if (cluster.members.length < 2) return;
    used[i] = 1;
    out.push({ members: cluster.members, piece: cluster.piece(), overlap: cluster.overlap });
  });
  return out;
}

/** How much two stretches share; a short one wholly within a long one counts even below the least length. */
function shared(a0: number, a1: number, b0: number, b1: number, least: number): number {
  const both = Math.min(a1, b1) - Math.max(a0, b0);
  return both >= Math.min(least, (b1 - b0) * (1 - COINCIDENT)) ? both : 0;
}

class LineCluster {
  readonly members: Loose[];
  overlap = 0;
  private ends: readonly (readonly [number, number])[];

  constructor(
    seed: Loose,
    private readonly within: number,
  ) {
    this.members = [seed];
    this.ends = [startOf(seed.piece), endOf(seed.piece)];
  }

  take(other: Loose, least: number): boolean {
    const carrier = carrierOf(this.piece());
    if (carrier?.kind !== 'line') return false;
    const [a, b] = [startOf(other.piece), endOf(other.piece)];
    const [pa, pb] = [beside(carrier, a), beside(carrier, b)];
    if (pa.off > this.within || pb.off > this.within) return false;
    const [from, to] = [Math.min(pa.along, pb.along), Math.max(pa.along, pb.along)];
    const both = shared(0, carrier.length, from, to, least);
    if (!(both > 0)) return false;
    const [low, high] = pa.along <= pb.along ? [a, b] : [b, a];
    const ends = [from < 0 ? low : this.ends[0]!, to > carrier.length ? high : this.ends[1]!];
    // Nearly parallel lines that part within the bound do not become one that strays from either.
    const [x, y] = ends[0]!;
    const whole = carrierOf({ kind: 'bezier', p: [x, y, ...ends[1]!] });
    if (whole?.kind !== 'line') return false;
    const all = [...this.members, other].flatMap((m) => [startOf(m.piece), endOf(m.piece)]);
    if (all.some((q) => beside(whole, q).off > this.within)) return false;
    this.members.push(other);
    this.ends = ends;
    this.overlap += both;
    return true;
  }

  piece(): Piece {
    return { kind: 'bezier', p: [...this.ends[0]!, ...this.ends[1]!] };
  }
}

class ArcCluster {
  readonly members: Loose[];
  overlap = 0;
  private readonly carrier: Extract<Carrier, { kind: 'circle' }>;
  private stretches: [number, number][];

  constructor(
    seed: Loose,
    private readonly within: number,
  ) {
    this.members = [seed];
    this.carrier = seed.carrier as Extract<Carrier, { kind: 'circle' }>;
    this.stretches = [[0, this.carrier.length]];
  }

  take(other: Loose, least: number): boolean {
    const own = stretchesOn(this.carrier, other.piece, this.within);
    if (own.length === 0) return false;
    let both = 0;
    for (const [from, to] of own)
      for (const [a, b] of this.stretches) both += Math.max(0, Math.min(b, to) - Math.max(a, from));
    if (!(both >= Math.min(least, other.length * (1 - COINCIDENT)) && both > 0)) return false;
    this.members.push(other);
    this.stretches = joinedStretches([...this.stretches, ...own], this.within);
    this.overlap += both;
    return true;
  }

  piece(): Piece {
    const { x: cx, y: cy, radius, start } = this.carrier;
    const whole = TAU * radius;
    const first = this.stretches[0]!;
    const last = this.stretches[this.stretches.length - 1]!;
    // What runs past the start of the circle comes in two stretches, the last and the first.
    const wraps = this.stretches.length > 1 && first[0] <= this.within && last[1] >= whole - this.within;
    const [from, to] = wraps ? [last[0] - whole, first[1]] : [first[0], first[1]];
    const full = to - from >= whole - this.within;
    const [a, sweep] = [start + from / radius, full ? TAU : (to - from) / radius];
    const at = (t: number): [number, number] => [cx + radius * Math.cos(t), cy + radius * Math.sin(t)];
    return {
      kind: 'arc',
      cx,
      cy,
      rx: radius,
      ry: radius,
      rotation: 0,
      start: a,
      sweep,
      from: at(a),
      to: full ? at(a) : at(a + sweep),
    };
  }
}

/** What became of loose curves that stood together: `to` stands in the place of the first of them. */
interface Change {
  from: Loose[];
  to: readonly Entity[];
  on: readonly Entity[];
  within: number;
}

/** What becomes of the entities of one space. */
class Changes {
  /** By the entity that stands after merging, before anything of it was taken away. */
  private readonly made = new Map<Entity, Change>();
  private readonly merged: Loose[] = [];

  constructor(
    private readonly space: Space,
    private readonly told: Told,
    private readonly ctx: StepContext,
  ) {}

  merge({ members, piece, overlap }: Cluster, alike: Alike, o: Options): void {
    const from = [...members].sort((a, b) => a.at - b.at);
    const model = alike.model(
      from.map((m) => m.entity),
      (e) => from.find((m) => m.entity === e)!.length,
    );
    const z = from[0]!.run.z;
    const whole = piece.kind === 'arc' && Math.abs(piece.sweep) === TAU;
    const made = entityOfRun(model, { pieces: whole ? halves(piece) : [piece], closed: whole, z });
    const carrier = carrierOf(piece);
    if (!made || !carrier) return;
    const within = members.reduce((most, m) => Math.max(most, strayFrom(m.piece, piece)), 0);
    this.told.overlap += overlap * this.space.scale;
    if (o.isDashed(model)) this.told.dashed++;
    this.made.set(made, { from, to: [made], on: [], within });
    this.merged.push({
      ...from[0]!,
      entity: made,
      piece,
      carrier,
      length: carrier.length,
      run: { pieces: [piece], closed: whole, z },
    });
  }

  /** The loose curves after merging. */
  standing(loose: readonly Loose[]): Loose[] {
    const gone = new Set([...this.made.values()].flatMap((c) => c.from));
    return [...loose.filter((l) => !gone.has(l)), ...this.merged];
  }

  /** Takes away what of a loose curve lies on edges of others. */
  cover(l: Loose, covered: readonly Stretch[], edges: readonly Edge[], least: number): void {
    const bare = bareStretches(l.length, covered, least);
    const to = bare.map(([from, until], i) => {
      const cut = partOf(l.piece, from / l.length, until / l.length, at(l, from), at(l, until));
      const made = entityOfRun(l.entity, { pieces: [cut], closed: false, z: l.run.z }, i === 0 ? 'whole' : 'piece')!;
      return i === 0 ? made : { ...made, id: this.space.id() };
    });
    const before = this.made.get(l.entity);
    const within = Math.max(before?.within ?? 0, ...edges.map((e) => strayFrom(l.piece, e.piece, true)));
    this.told.overlap += (l.length - bare.reduce((sum, [a, b]) => sum + b - a, 0)) * this.space.scale;
    this.made.set(l.entity, { from: before?.from ?? [l], to, on: [...new Set(edges.map((e) => e.entity))], within });
  }

  apply(o: Options): readonly Entity[] {
    const instead = new Map<Entity, readonly Entity[]>();
    for (const { from, to, on, within } of this.made.values()) {
      from.forEach(({ entity }, i) => instead.set(entity, i === 0 ? to : []));
      this.told.merged += from.length;
      this.told.strayed = Math.max(this.told.strayed, within * this.space.scale);
      const stated = within + o.within * ROUNDING;
      this.ctx.lineage.regroup(
        from.map((l) => l.entity),
        to,
        'overlap-merged',
        stated,
        on,
      );
    }
    if (instead.size === 0) return this.space.entities;
    return this.space.entities.flatMap((e) => instead.get(e) ?? [e]);
  }
}

const at = (l: Loose, along: number): [number, number] => pointAt(l.piece, along / l.length);

const halves = (p: Extract<Piece, { kind: 'arc' }>): Piece[] => {
  const middle = pointAt(p, 0.5);
  return [
    { ...p, sweep: p.sweep / 2, to: middle },
    { ...p, start: p.start + p.sweep / 2, sweep: p.sweep / 2, from: middle, to: p.from },
  ];
};

/** How far a piece lies from the line or circle of another at most; `onlyNear`: of pieces that lie along it in part. */
function strayFrom(p: Piece, on: Piece, onlyNear = false): number {
  const c = carrierOf(on);
  if (!c) return 0;
  if (c.kind === 'circle') return p.kind === 'arc' ? Math.hypot(p.cx - c.x, p.cy - c.y) + Math.abs(p.rx - c.radius) : 0;
  const [a, b] = [beside(c, startOf(p)), beside(c, endOf(p))];
  if (!onlyNear) return Math.max(a.off, b.off);
  return Math.max(...[a, b].filter((q) => q.along >= 0 && q.along <= c.length).map((q) => q.off), 0);
}

/** Takes away what of loose curves lies on the edges of polylines and outlines. */
function coverBy(
  edges: readonly Edge[],
  loose: readonly Loose[],
  keyOf: KeyOf,
  o: Options,
  changes: Changes,
  ctx: StepContext,
): void {
  if (edges.length === 0) return;
  const index = new CarrierIndex(
    edges.map((e) => e.piece),
    o.within,
  );
  loose.forEach((l, n) => {
    if (n % 1024 === 0) checkStop(ctx);
    const near = index.near(l.piece);
    const on: Edge[] = [];
    const covered: Stretch[] = [];
    for (const k of near) {
      const edge = edges[k]!;
      if (keyOf(edge) !== keyOf(l)) continue;
      for (const [from, to] of stretchesOn(l.carrier, edge.piece, o.within)) {
        const [a, z] = [Math.max(0, from), Math.min(l.length, to)];
        if (z - a < Math.min(Math.max(o.from, 2 * o.within), l.length * (1 - COINCIDENT))) continue;
        covered.push([a, z]);
        on.push(edge);
      }
    }
    if (covered.length > 0) changes.cover(l, covered, on, o.within);
  });
}
