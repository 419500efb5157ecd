import type { Run } from '../drawing/courses.js';
import { entityOfRun, runsOf } from '../drawing/courses.js';
import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { ccwSweep } from '../geometry/arcs.js';
import { Cmd } from '../geometry/path.js';
import { nestingDepths } from '../geometry/nesting.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, pointAt, reversed, startOf, tangentAt } from '../geometry/path-pieces.js';
import { areaOfPieces } from '../geometry/piece-area.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import { flatDistance } from '../geometry/vector.js';
import { AT_END, ROUNDING, TOUCHING, isFullTurn } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { withEnds } from '../geometry/moved-ends.js';
import type { Space } from './spaces.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { Alike, TOGETHER } from './together.js';
import { movedBy, tellChange } from './tell.js';

/** Makes one outline of lines, arcs and free curves that meet end to end. */
export const chainOutlines = defineStep({
  id: 'chain-outlines',
  title: 'Chain into outlines',
  summary:
    'Lines, arcs and curves that meet end to end become one outline: a polyline with its arcs, or an exact path.',
  carries: ['curves'],
  group: 'clean',
  example: {
    drawing: exampleDrawing([
      sketch.line(6, 0, 34, 0),
      sketch.line(40, 6, 40, 18),
      sketch.line(34, 24, 6, 24),
      sketch.line(0, 18, 0, 6),
      sketch.arc(34, 6, 6, 270, 0),
      sketch.arc(34, 18, 6, 0, 90),
      sketch.arc(6, 18, 6, 90, 180),
      sketch.arc(6, 6, 6, 180, 270),
    ]),
  },
  params: {
    met: p.length({
      title: 'Ends have met within',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    branches: p.choice({
      title: 'Where more than two meet',
      default: 'stop',
      choices: { stop: 'Stop', straightest: 'Go straightest', leftmost: 'Go leftmost' },
    }),
    results: p.choice({
      title: 'Chain',
      default: 'all',
      choices: { all: 'Closed and open runs', closed: 'Closed outlines only' },
    }),
    circles: p.yesNo({ title: 'Circles of two halves become circles', default: true }),
    direction: p.choice({
      title: 'Closed outlines run',
      default: 'nested',
      choices: {
        nested: 'Outer ones anticlockwise, holes clockwise',
        turned: 'Outer ones clockwise, holes anticlockwise',
        drawn: 'As their first piece',
      },
    }),
    ...TOGETHER,
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const met = params.met || extentOf(drawing).diagonal * TOUCHING;
    if (!(met > 0)) return drawing;
    const told: Told = { chained: 0, outlines: 0, open: 0, moved: 0 };
    const made = inSpaces(drawing, ctx, (space) =>
      chainedIn(space, { ...params, met: met / space.scale, alike: new Alike(params.together) }, wanted, told, ctx),
    );
    tellChange(
      ctx,
      'curves',
      told.chained,
      because('chained', { closed: told.outlines, open: told.open }),
      movedBy(drawing, told.moved),
    );
    return made;
  },
});

interface Options {
  met: number;
  branches: 'stop' | 'straightest' | 'leftmost';
  results: 'all' | 'closed';
  circles: boolean;
  direction: 'nested' | 'turned' | 'drawn';
  alike: Alike;
}

interface Told {
  chained: number;
  outlines: number;
  open: number;
  moved: number;
}

/** An open run between two nodes. */
interface Link {
  entity: Entity;
  at: number;
  run: Run;
  from: number;
  to: number;
  key: string;
}

/** A link and which way it is run through. */
interface Way {
  link: number;
  forth: boolean;
}

function chainedIn(
  space: Space,
  o: Options,
  wanted: (e: Entity) => boolean,
  told: Told,
  ctx: StepContext,
): readonly Entity[] {
  const links: Link[] = [];
  const closed: Run[] = [];
  space.entities.forEach((entity, at) => {
    if (at % 4096 === 0) checkStop(ctx);
    const runs = runsOf(entity);
    if (!runs) return;
    if (isStatedClosed(entity)) closed.push(...runs.filter((r) => r.closed));
    if (!wanted(entity) || !entity.look.visible || entity.look.fill.kind !== 'none') return;
    if (runs.length !== 1 || isStatedClosed(entity)) return;
    ctx.look();
    links.push({ entity, at, run: runs[0]!, from: 0, to: 0, key: `${o.alike.key(entity)} ${runs[0]!.z}` });
  });
  if (links.length === 0) return space.entities;
  const net = new Net(links, o, ctx);
  const chains = net.chains();
  const made = chains.flatMap((ways) => resultOf(ways, net, o));
  turnOutlines(made, closed, o);
  const instead = new Map<Entity, Entity[]>();
  for (const { ways, run, moved } of made) {
    const own = ways.map((w) => links[w.link]!).sort((a, b) => a.at - b.at);
    const lengths = new Map(own.map((l) => [l.entity, l.run.pieces.length]));
    const model = o.alike.model(
      own.map((l) => l.entity),
      (e) => lengths.get(e) ?? 1,
    );
    const entity = outlineOf(model, run, o);
    if (!entity) {
      ctx.leave('chain-not-flat-path', model, own.length);
      continue;
    }
    own.forEach((l, i) => instead.set(l.entity, i === 0 ? [entity] : []));
    told.chained += own.length;
    if (run.closed) told.outlines++;
    else told.open++;
    told.moved = Math.max(told.moved, moved * space.scale);
    ctx.lineage.regroup(
      own.map((l) => l.entity),
      [entity],
      'chained',
      moved,
    );
  }
  if (instead.size === 0) return space.entities;
  return space.entities.flatMap((e) => instead.get(e) ?? [e]);
}

/** Whether an entity says itself that it closes, rather than only ending where it began. */
const isStatedClosed = (e: Entity): boolean =>
  e.kind === 'circle' ||
  (e.kind === 'polyline' && e.closed) ||
  (e.kind === 'path' && e.path.cmds.includes(Cmd.Close)) ||
  (e.kind === 'ellipse' && isFullTurn(ccwSweep(e.start, e.end)));

/** Where the ends of links meet. */
class Net {
  readonly x: number[] = [];
  readonly y: number[] = [];
  /** The ways that set out from each node. */
  private readonly out: Way[][] = [];

  constructor(
    readonly links: Link[],
    private readonly o: Options,
    private readonly ctx: StepContext,
  ) {
    const keys = new Map<string, number>();
    const group = new Int32Array(2 * links.length);
    const [xs, ys] = [new Float64Array(2 * links.length), new Float64Array(2 * links.length)];
    links.forEach((l, i) => {
      if (i % 4096 === 0) checkStop(ctx);
      let key = keys.get(l.key);
      if (key === undefined) keys.set(l.key, (key = keys.size));
      const ends = [startOf(l.run.pieces[0]!), endOf(l.run.pieces[l.run.pieces.length - 1]!)];
      ends.forEach(([x, y], k) => {
        [xs[2 * i + k], ys[2 * i + k], group[2 * i + k]] = [x, y, key];
      });
    });
    const node = new Int32Array(2 * links.length).fill(-1);
    for (const ends of new PlaceGrid(xs, ys, o.met * (1 + AT_END), group).groups()) {
      for (const e of ends) node[e] = this.x.length;
      this.x.push(xs[ends[0]!]!);
      this.y.push(ys[ends[0]!]!);
    }
    node.forEach((n, e) => {
      if (n >= 0) return;
      node[e] = this.x.length;
      this.x.push(xs[e]!);
      this.y.push(ys[e]!);
    });
    this.out = this.x.map(() => []);
    links.forEach((l, i) => {
      l.from = node[2 * i]!;
      l.to = node[2 * i + 1]!;
      this.out[l.from]!.push({ link: i, forth: true });
      this.out[l.to]!.push({ link: i, forth: false });
    });
  }

  /** Runs of links end to end, each link in one at most; those of a single open link are left out. */
  chains(): Way[][] {
    const used = new Uint8Array(this.links.length);
    const out: Way[][] = [];
    this.out.forEach((ways, n) => {
      if (n % 4096 === 0) checkStop(this.ctx);
      if (ways.length < 3) return;
      if (this.hasDoubles(ways)) this.ctx.leave('branch-of-doubles', this.links[ways[0]!.link]!.entity);
      this.ctx.leave(because('branch-of-ends', { ends: ways.length }), this.links[ways[0]!.link]!.entity);
    });
    let gone = 0;
    const go = (way: Way): void => {
      if (++gone % 4096 === 0) checkStop(this.ctx);
      if (used[way.link]) return;
      const chain = [way];
      used[way.link] = 1;
      const start = this.startOf(way);
      for (let at = way; ;) {
        const here = this.endOf(at);
        if (here === start) break;
        const next = this.onward(at, here, used);
        if (!next) break;
        used[next.link] = 1;
        chain.push(next);
        at = next;
      }
      out.push(chain);
    };
    // What begins somewhere first: at free ends and branches, in order of place; then what goes round.
    const order = this.x.map((_, n) => n).sort((a, b) => this.y[a]! - this.y[b]! || this.x[a]! - this.x[b]!);
    for (const n of order) if (this.out[n]!.length !== 2) this.out[n]!.forEach(go);
    for (const n of order) this.out[n]!.forEach(go);
    return out.filter((c) => c.length > 1 || this.startOf(c[0]!) === this.endOf(c[0]!));
  }

  startOf = ({ link, forth }: Way): number => (forth ? this.links[link]!.from : this.links[link]!.to);
  endOf = ({ link, forth }: Way): number => (forth ? this.links[link]!.to : this.links[link]!.from);

  private onward(at: Way, node: number, used: Uint8Array): Way | null {
    const ways = this.out[node]!.filter((w) => !used[w.link]);
    if (this.out[node]!.length === 2) return ways[0] ?? null;
    if (this.o.branches === 'stop' || ways.length === 0) return null;
    const [ax, ay] = this.direction(at, 1);
    const turn = (w: Way): number => {
      const [bx, by] = this.direction(w, 0);
      return Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
    };
    const worth = (w: Way): number => (this.o.branches === 'leftmost' ? turn(w) : -Math.abs(turn(w)));
    return ways.reduce((best, w) => (worth(w) > worth(best) + ROUNDING ? w : best));
  }

  private direction(w: Way, t: 0 | 1): [number, number] {
    const { pieces } = this.links[w.link]!.run;
    const first = w.forth === (t === 0);
    const [x, y] = tangentAt(first ? pieces[0]! : pieces[pieces.length - 1]!, first ? 0 : 1);
    return w.forth ? [x, y] : [-x, -y];
  }

  /** Whether two links between the same nodes have their middles in one place. */
  private hasDoubles(ways: readonly Way[]): boolean {
    const seen = ways.map((w) => {
      const { run, from, to } = this.links[w.link]!;
      const [x, y] = pointAt(run.pieces[run.pieces.length >> 1]!, 0.5);
      return { pair: from < to ? `${from} ${to}` : `${to} ${from}`, link: w.link, x, y, many: run.pieces.length };
    });
    return seen.some((a, i) =>
      seen
        .slice(i + 1)
        .some(
          (b) =>
            a.link !== b.link &&
            a.pair === b.pair &&
            a.many === b.many &&
            Math.hypot(a.x - b.x, a.y - b.y) <= this.o.met,
        ),
    );
  }
}

interface Result {
  ways: readonly Way[];
  run: Run;
  moved: number;
}

/** The run that a chain amounts to, its joints closed; nothing for an open one where only closed ones are asked for. */
function resultOf(ways: readonly Way[], net: Net, o: Options): Result[] {
  const closed = net.startOf(ways[0]!) === net.endOf(ways[ways.length - 1]!);
  if (!closed && o.results === 'closed') return [];
  let moved = 0;
  const pieces: Piece[] = [];
  for (const w of ways) {
    const { run } = net.links[w.link]!;
    const own = w.forth ? [...run.pieces] : [...run.pieces].reverse().map(reversed);
    const [a, b] = [net.startOf(w), net.endOf(w)];
    const [from, to] = [[net.x[a]!, net.y[a]!] as const, [net.x[b]!, net.y[b]!] as const];
    moved = Math.max(moved, flatDistance(startOf(own[0]!), from), flatDistance(endOf(own[own.length - 1]!), to));
    own[0] = withEnds(own[0]!, from, null);
    own[own.length - 1] = withEnds(own[own.length - 1]!, null, to);
    pieces.push(...own);
  }
  return [{ ways, run: { pieces, closed, z: net.links[ways[0]!.link]!.run.z }, moved }];
}

/** Brings closed results into the direction asked for and lets each begin at its lowest, then leftmost corner. */
function turnOutlines(made: Result[], standing: readonly Run[], o: Options): void {
  const own = made.filter((m) => m.run.closed);
  const depths =
    o.direction === 'drawn' || own.length === 0
      ? []
      : nestingDepths([...own.map((m) => m.run.pieces), ...standing.map((r) => r.pieces)], own.length);
  own.forEach((m, i) => {
    let pieces = [...m.run.pieces];
    if (o.direction !== 'drawn') {
      const anticlockwise = (depths[i]! % 2 === 0) === (o.direction === 'nested');
      if (areaOfPieces(pieces) > 0 !== anticlockwise) pieces = pieces.reverse().map(reversed);
    }
    const starts = pieces.map(startOf);
    const first = starts.reduce(
      (best, [x, y], k) => (y < starts[best]![1] || (y === starts[best]![1] && x < starts[best]![0]) ? k : best),
      0,
    );
    m.run = { ...m.run, pieces: [...pieces.slice(first), ...pieces.slice(0, first)] };
  });
}

/** The entity of a chain; halves of a circle stay two where circles are not wanted. */
function outlineOf(model: Entity, run: Run, o: Options): Entity | null {
  const made = entityOfRun(model, run);
  if (made?.kind !== 'circle' || o.circles) return made;
  return entityOfRun(model, run, 'whole', false);
}
