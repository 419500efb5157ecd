import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, pathOfRun } from '../drawing/courses.js';
import { derive } from '../drawing/derive.js';
import type { Drawing, GroupNode } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { hex } from '../drawing/palette.js';
import { because } from '../drawing/reasons.js';
import { paintRgb } from '../drawing/resolve.js';
import { wordsIn } from '../drawing/words-in.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import { TooIntricate, newEffort } from '../geometry/crossings.js';
import { joinedPaths } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, pointAt, startOf } from '../geometry/path-pieces.js';
import type { BuiltRegion, BuiltRegions, RegionOptions, RegionSource } from '../geometry/planar/regions.js';
import { buildRegions as build } from '../geometry/planar/regions.js';
import { Region } from '../geometry/region.js';
import { COINCIDENT } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { takenRuns } from '../drawing/taken-runs.js';
import { asWide } from './rebuilt.js';
import { SAMENESS, samenessIn } from './sameness.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { movedBy, tellChange, unitOf } from './tell.js';

/** Makes regions of outlines and loose curves: neighbours have their points and edges in common. */
export const buildRegions = defineStep({
  id: 'build-regions',
  title: 'Build regions',
  summary:
    'Outlines and loose curves become regions that tile their area: cut at every crossing, neighbours with the same points and edges.',
  carries: ['curves'],
  group: 'regions',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0, 0, 50, 0, 50, 12, 0, 12], true),
      sketch.chain([0, 13, 25, 13, 25, 30, 0, 30], true),
      sketch.chain([20, 12, 50, 12, 50, 30, 20, 30], true),
    ]),
    params: { within: 2 },
  },
  params: {
    ...SAMENESS,
    overlaps: p.choice({
      title: 'What lies in several outlines',
      default: 'upper',
      choices: {
        upper: 'Goes to the upper',
        lower: 'Goes to the lower',
        smaller: 'Goes to the smaller',
        apart: 'Is a region of its own, and told',
      },
    }),
    inner: p.choice({
      title: 'Outlines wholly within others',
      default: 'regions',
      choices: { regions: 'Are regions of their own', holes: 'Are holes, and regions again in holes' },
    }),
    names: p.choice({
      title: 'A group for each, named after',
      default: 'none',
      choices: {
        none: 'nothing: no groups',
        text: 'the text inside it',
        layer: 'its layer',
        colour: 'its colour',
        number: 'its number',
      },
    }),
    which: p.selection({ title: 'Which outlines and curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const within = samenessIn(drawing, params);
    if (!(within > 0)) return drawing;
    const told: Told = { regions: [], changed: 0, dangling: 0, slivers: 0, overlaps: 0, dissolved: 0, moved: 0 };
    const namer = new Namer(drawing, params.names);
    const made = inSpaces(drawing, ctx, (space) =>
      regionsIn(
        space,
        { within: within / space.scale, overlaps: params.overlaps, inner: params.inner },
        wanted,
        namer,
        told,
        ctx,
      ),
    );
    tell(told, drawing, ctx);
    return namer.nodes === drawing.nodes || made === drawing ? made : { ...made, nodes: [...namer.nodes] };
  },
});

interface Told {
  regions: { name: string; region: BuiltRegion; neighbours: string[]; scale: number }[];
  changed: number;
  dangling: number;
  slivers: number;
  overlaps: number;
  dissolved: number;
  moved: number;
}

/** An object that takes part, by its runs. */
interface Owner {
  readonly entity: Entity;
  readonly runs: readonly Run[];
}

function regionsIn(
  space: Space,
  o: RegionOptions,
  wanted: (e: Entity) => boolean,
  namer: Namer,
  told: Told,
  ctx: StepContext,
): readonly Entity[] {
  const levels = new Map<number, Owner[]>();
  space.entities.forEach((entity, i) => {
    if (i % 512 === 0) checkStop(ctx);
    if (!wanted(entity) || !entity.look.visible || entity.clipTo) return;
    const taken = takenRuns(entity, o.within / 8);
    if (!taken || taken.runs.length === 0) return;
    ctx.look();
    const z = taken.runs[0]!.z;
    const list = levels.get(z);
    if (list) list.push({ entity, runs: taken.runs });
    else levels.set(z, [{ entity, runs: taken.runs }]);
  });
  const instead = new Map<Entity, Entity[]>();
  for (const [z, owners] of levels) {
    const sources = owners.flatMap(({ runs }, owner) =>
      runs.map((r): RegionSource => ({ owner, closed: r.closed, pieces: r.pieces })),
    );
    onLevel(space, z, owners, built(sources, o, ctx), namer, o.within, told, ctx, instead);
  }
  if (instead.size === 0) return space.entities;
  return space.entities.flatMap((e) => instead.get(e) ?? [e]);
}

function built(sources: readonly RegionSource[], o: RegionOptions, ctx: StepContext): BuiltRegions {
  const effort = { ...newEffort(), left: 2e9, pause: () => checkStop(ctx) };
  try {
    return build(sources, o, effort);
  } catch (e) {
    if (!(e instanceof TooIntricate)) throw e;
    throw new UserError(
      'wrong-parameter',
      `the regions cannot be built: ${e.message}. Choose fewer curves, or another bound, or merge overlaps first`,
    );
  }
}

/** Puts what was built at one height in the place of what it was built from; outlines that stay as they are stay the very same. */
function onLevel(
  space: Space,
  z: number,
  owners: readonly Owner[],
  made: BuiltRegions,
  namer: Namer,
  within: number,
  told: Told,
  ctx: StepContext,
  instead: Map<Entity, Entity[]>,
): void {
  const { regions } = made;
  const ofOwner = new Map<number, number>();
  for (const { owner } of regions) if (owner !== null) ofOwner.set(owner, (ofOwner.get(owner) ?? 0) + 1);
  const modelOf = (r: BuiltRegion): Owner => owners[r.owner ?? r.along[0]!]!;
  const bodies = regions.map((r) => {
    const owner = modelOf(r);
    const alone = r.owner !== null && ofOwner.get(r.owner) === 1;
    return alone && isTheSame(owner, r) ? owner.entity : entityOf(owner.entity, r, z);
  });
  if (bodies.includes(null)) return ctx.leave('regions-need-the-plane', undefined, owners.length);
  const texts = namer.textsAmong(space.entities);
  const names = regions.map((r, i) => namer.nameOf(r, bodies[i]!, texts));

  // What bounds nothing anywhere stays as it was; of what else dangles the ends are left.
  const bounding = new Set(regions.flatMap((r) => r.along));
  const dangling = new Set(made.dangling.map((d) => d.owner));
  const stay = new Set<Entity>();
  owners.forEach(({ entity }, i) => {
    if (!bounding.has(i) && dangling.has(i)) stay.add(entity);
  });
  const to: Entity[] = [];
  const put = (model: Entity, e: Entity): void => {
    to.push(e);
    const list = instead.get(model);
    if (list) list.push(e);
    else instead.set(model, [e]);
  };
  const had = new Set<Entity>();
  regions.forEach((r, i) => {
    const { entity: model } = modelOf(r);
    const named = namer.placed(bodies[i]!, names[i]!);
    if (named === model) return void stay.add(model);
    // The first of an outline keeps its handle.
    const own = r.owner !== null && !had.has(model) ? named : asPiece(named, space.id());
    had.add(model);
    put(model, own);
  });
  for (const { owner, piece } of made.dangling) {
    const model = owners[owner]!.entity;
    if (stay.has(model)) continue;
    const left = entityOfRun(model, { pieces: [piece], closed: false, z }, 'piece');
    if (left) put(model, asPiece(asWide(model, left), space.id()));
  }
  const from = owners.map((w) => w.entity).filter((e) => !stay.has(e));
  for (const e of from) if (!instead.has(e)) instead.set(e, []);
  // What stays stays where others came of it too.
  for (const e of stay) instead.get(e)?.unshift(e);
  told.changed += from.length;
  told.dangling += made.dangling.length;
  told.slivers += made.slivers;
  told.overlaps += made.overlaps;
  told.dissolved += made.dissolved;
  told.moved = Math.max(told.moved, made.moved * space.scale);
  for (const [i, region] of regions.entries())
    told.regions.push({
      name: names[i]!,
      region,
      neighbours: region.neighbours.map((n) => names[n]!),
      scale: space.scale,
    });
  if (from.length === 0) return;
  // An arc whose ends move bulges otherwise by as much again.
  const reach = 3 * within;
  const vanished = owners.some((_, i) => !bounding.has(i) && !dangling.has(i));
  if (made.dissolved > 0 || vanished) ctx.lineage.reduce(from, to, 'regions-built', reach, [...stay]);
  else ctx.lineage.regroup(from, to, 'regions-built', reach, [...stay]);
}

/** Whether a region is its outline as it was, which way round it may run. */
function isTheSame({ runs }: Owner, region: BuiltRegion): boolean {
  const rings = [region.outer, ...region.holes];
  if (runs.length !== rings.length || runs.some((r) => !r.closed)) return false;
  const before = runs.flatMap((r) => r.pieces);
  const after = rings.flat();
  if (before.length !== after.length) return false;
  const known = new Map(before.map((q) => [endsKey(q), q]));
  return after.every((q) => {
    const was = known.get(endsKey(q));
    if (!was || was.kind !== q.kind) return false;
    const [[x0, y0], [x1, y1]] = [pointAt(was, 0.5), pointAt(q, 0.5)];
    const [sx, sy] = startOf(q);
    return Math.hypot(x1 - x0, y1 - y0) <= COINCIDENT * Math.hypot(x1 - sx, y1 - sy);
  });
}

function endsKey(q: Piece): string {
  const [a, b] = [startOf(q).join(','), endOf(q).join(',')];
  const bend = q.kind === 'arc' ? q.sweep > 0 : false;
  return a < b ? `${a} ${b} ${bend}` : `${b} ${a} ${q.kind === 'arc' ? !bend : bend}`;
}

/** A region as an object like another: a plain outline where it has no holes, else a path. `null` where no kind holds it. */
function entityOf(model: Entity, region: BuiltRegion, z: number): Entity | null {
  const rings = [region.outer, ...region.holes].map((pieces): Run => ({ pieces, closed: true, z }));
  const plain = model.kind !== 'path' && rings.length === 1 ? entityOfRun(model, rings[0]!, 'whole', false) : null;
  if (plain) return asWide(model, plain);
  if (z !== 0) return null;
  return asWide(
    model,
    derive(model, 'whole', { kind: 'path', path: joinedPaths(rings.map(pathOfRun)), normal: undefined }),
  );
}

/** One more of several: what can belong to one thing only stays with the first. */
function asPiece(e: Entity, id: number): Entity {
  const { key: _k, extended: _x, ...rest } = e;
  return { ...rest, id } as Entity;
}

function tell(told: Told, drawing: Drawing, ctx: StepContext): void {
  const { regions } = told;
  tellChange(
    ctx,
    'curves',
    told.changed,
    because('regions-built', { count: regions.length }),
    movedBy(drawing, told.moved),
  );
  if (told.dissolved > 0)
    ctx.ledger.add({
      carryOver: 'curves',
      action: 'dropped',
      onPurpose: true,
      count: told.dissolved,
      reason: 'edges-given-up',
    });
  tellChange(ctx, 'curves', told.overlaps, 'areas-in-several-outlines');
  tellChange(ctx, 'curves', told.slivers, 'slivers-given');
  if (told.dangling > 0) ctx.leave('ends-that-bound-nothing', undefined, told.dangling);
  if (regions.length === 0) return;
  const unit = unitOf(drawing);
  const digits = (v: number): number => Number(v.toPrecision(10));
  ctx.list({
    title: 'Regions',
    columns: ['Name', `Area, ${unit}²`, `Perimeter, ${unit}`, 'Points', 'Neighbours'],
    rows: regions.map(({ name, region, neighbours, scale }) => [
      name,
      digits(region.area * scale * scale),
      digits(region.perimeter * scale),
      region.points,
      neighbours.join(', '),
    ]),
  });
}

type Naming = 'none' | 'text' | 'layer' | 'colour' | 'number';
interface Label {
  readonly words: string;
  readonly x: number;
  readonly y: number;
}

/** Gives regions their names, and a group of that name where it is asked for. */
class Namer {
  private own: GroupNode[] | null = null;
  private readonly taken = new Map<string, number>();
  private count = 0;

  constructor(
    private readonly drawing: Drawing,
    private readonly by: Naming,
  ) {}

  get nodes(): readonly GroupNode[] {
    return this.own ?? this.drawing.nodes;
  }

  /** The texts that may name regions. */
  textsAmong(entities: readonly Entity[]): Label[] {
    if (this.by !== 'text') return [];
    return entities.flatMap((e) =>
      e.kind === 'text' || e.kind === 'richText'
        ? [{ words: wordsIn(e)!.trim().replace(/\s+/g, ' '), x: e.at[0], y: e.at[1] }]
        : [],
    );
  }

  /** The name of the next region; one that several would have gets a number. */
  nameOf(region: BuiltRegion, body: Entity, texts: readonly Label[]): string {
    this.count++;
    const name = this.plainName(region, body, texts) || `Region ${this.count}`;
    const before = this.taken.get(name) ?? 0;
    this.taken.set(name, before + 1);
    return before === 0 ? name : `${name}-${before + 1}`;
  }

  private plainName(region: BuiltRegion, body: Entity, texts: readonly Label[]): string {
    switch (this.by) {
      case 'layer':
        return body.layer;
      case 'colour': {
        const rgb = paintRgb(body.look.fill) ?? paintRgb(body.look.stroke);
        return rgb === null ? body.layer : hex(rgb);
      }
      case 'text': {
        if (texts.length === 0) return '';
        const path = joinedPaths(
          [region.outer, ...region.holes].map((pieces) => pathOfRun({ pieces, closed: true, z: 0 })),
        );
        const area = new Region([{ path, rule: 'evenodd' }]);
        return texts.find(({ x, y }) => area.contains(x, y))?.words.slice(0, 200) ?? '';
      }
      case 'none':
      case 'number':
        return '';
    }
  }

  /** In a group of that name, where groups are asked for; the very same where it is in one already. */
  placed(e: Entity, name: string): Entity {
    if (this.by === 'none' || (e.node !== undefined && this.nodes[e.node]?.name === name)) return e;
    const parent = e.node ?? null;
    this.own ??= [...this.drawing.nodes];
    const node = this.own.push({ name, parent, hidden: false }) - 1;
    return { ...e, node } as Entity;
  }
}
