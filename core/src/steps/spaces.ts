import type { Block, Drawing } from '../drawing/drawing.js';
import type { Draft, Entity, Insert } from '../drawing/entity.js';
import { insertMatrix } from '../drawing/resolve.js';
import { checkStop } from '../formats/format.js';
import type { StepContext } from './step.js';

/** What stands together in one coordinate system: model space, or a block as it is placed at one scale. */
export interface Space {
  readonly entities: readonly Entity[];
  /** How many units of the drawing one unit is here: a bound of the drawing is divided by it. */
  readonly scale: number;
  /** `null` for model space. */
  readonly block: Block | null;
  /** An id for one entity more. */
  id(): number;
}

/** How a block is seen in one or several of its inserts: the metric of its plane, which turning and moving leave alone. */
type Metric = readonly [xx: number, xy: number, yy: number];
const PLAIN: Metric = [1, 0, 1];

interface Placing {
  metric: Metric;
  scale: number;
  inserts: number;
}

/** A block placed at more different scales than these is left alone. */
const MOST_SCALES = 40;

/**
 * Changes model space and blocks one by one; sheets are left alone. A block that is placed at one scale is changed where it is
 * defined. One that is placed at several, or stretched, is changed once for each: all but the first become blocks of their own,
 * which is counted. Blocks that nothing in sight places, those that show dimensions, and references stay as they are.
 *
 * `change` returns what becomes of the entities of a space, the very same list where nothing does, and says so in
 * `ctx.lineage`, in units of that space.
 */
export function inSpaces(drawing: Drawing, ctx: StepContext, change: (space: Space) => readonly Entity[]): Drawing {
  let nextId = drawing.nextId;
  const id = (): number => nextId++;
  const placings = placingsOf(drawing);
  const blocks = new Map(drawing.blocks);
  const copies = new Copies(drawing, placings, blocks, id, ctx, change);

  const own = drawing.entities.some((e) => e.sheet !== undefined)
    ? drawing.entities.filter((e) => e.sheet === undefined)
    : drawing.entities;
  const made = change({ entities: own, scale: 1, block: null, id });
  copies.run();
  let entities = drawing.entities;
  if (made !== own) {
    const onSheets = drawing.entities.filter((e) => e.sheet !== undefined);
    entities = onSheets.length > 0 ? [...made, ...onSheets] : [...made];
  }
  entities = copies.pointed(entities, PLAIN) as Entity[];
  if (entities === drawing.entities && !copies.changed) return drawing;
  return { ...drawing, entities, ...(copies.changed && { blocks }), nextId };
}

const metricUnder = (outer: Metric, insert: Insert, block: Block | undefined): Metric => {
  const m = insertMatrix(insert, block);
  const [a, b, c, d] = [m[0], m[1], m[3], m[4]];
  const [xx, xy, yy] = outer;
  return [
    a * a * xx + 2 * a * b * xy + b * b * yy,
    a * c * xx + (a * d + b * c) * xy + b * d * yy,
    c * c * xx + 2 * c * d * xy + d * d * yy,
  ];
};

const keyOf = (m: Metric): string => m.map((v) => v.toPrecision(9)).join(' ');

/** The largest stretch of a metric: the root of its larger eigenvalue. */
function stretchOf([xx, xy, yy]: Metric): number {
  return Math.sqrt((xx + yy) / 2 + Math.hypot((xx - yy) / 2, xy));
}

type Placings = Map<string, Map<string, Placing>>;

/** At which scales each block is placed by what is in model space, directly or within others. */
function placingsOf(drawing: Drawing): Placings {
  const out: Placings = new Map();
  const look = (entities: readonly Entity[], metric: Metric, depth: number): void => {
    for (const e of entities) {
      if (e.kind !== 'insert' || depth > 16) continue;
      const key = e.block.toLowerCase();
      const block = drawing.blocks.get(key);
      if (!block || block.reference !== undefined || block.sheet) continue;
      const inner = metricUnder(metric, e, block);
      let scales = out.get(key);
      if (!scales) out.set(key, (scales = new Map()));
      const scale = keyOf(inner);
      const known = scales.get(scale);
      if (known) {
        known.inserts++;
        continue;
      }
      scales.set(scale, { metric: inner, scale: stretchOf(inner), inserts: 1 });
      if (scales.size <= MOST_SCALES) look(block.entities, inner, depth + 1);
    }
  };
  look(drawing.entities, PLAIN, 0);
  return out;
}

/** What becomes of blocks, each at each of its scales. */
class Copies {
  changed = false;
  /** The name that a block at a scale goes by, and how far what it shows moved there. */
  private readonly names = new Map<string, { name: string; moved: number }>();
  private readonly taken: Set<string>;

  constructor(
    private readonly drawing: Drawing,
    private readonly placings: Placings,
    private readonly blocks: Map<string, Block>,
    private readonly id: () => number,
    private readonly ctx: StepContext,
    private readonly change: (space: Space) => readonly Entity[],
  ) {
    this.taken = new Set(drawing.blocks.keys());
  }

  run(): void {
    for (const key of this.innermostFirst()) {
      checkStop(this.ctx);
      const block = this.drawing.blocks.get(key)!;
      const placings = [...this.placings.get(key)!.entries()];
      if (placings.length > MOST_SCALES) {
        this.ctx.leave('block-of-many-scales');
        continue;
      }
      this.one(key, block, placings);
    }
  }

  private one(key: string, block: Block, placings: [string, Placing][]): void {
    const { lineage } = this.ctx;
    const results = placings.map(([scaleKey, { scale, metric }]) => {
      const before = lineage.descents.length;
      const own = this.change({ entities: block.entities, scale, block, id: this.id });
      const moved = lineage.descents
        .slice(before)
        .reduce((most, { claim }) => (claim.kind === 'kept' ? Math.max(most, claim.within * scale) : most), 0);
      return { scaleKey, moved, entities: this.pointed(own, metric) };
    });
    const different = results.filter((r) => r.entities !== block.entities);
    if (different.length === 0) return;
    this.changed = true;
    results.forEach(({ scaleKey, moved, entities }, i) => {
      if (i === 0) {
        this.blocks.set(key, { ...block, entities: [...entities] });
        return;
      }
      const name = this.freeName(block.name);
      this.blocks.set(name.toLowerCase(), { ...block, name, entities: this.ownEntities(entities, block) });
      this.names.set(`${key} ${scaleKey}`, { name, moved });
      this.ctx.ledger.add({ carryOver: 'links', action: 'changed', onPurpose: true, reason: 'block-copied-for-scale' });
    });
  }

  /** Entities of a copy: what the step made keeps what was said of it, all else is made anew with an id of its own. */
  private ownEntities(entities: readonly Entity[], block: Block): Entity[] {
    const old = new Set(block.entities);
    const added: Entity[] = [];
    const out = entities.map((e) => {
      if (!old.has(e)) {
        // Nobody but the step that made it has it yet.
        (e as Draft<Entity>).id = this.id();
        return e;
      }
      const { key: _key, ...rest } = e;
      const copy = { ...rest, id: this.id() } as Entity;
      added.push(copy);
      return copy;
    });
    if (added.length > 0) this.ctx.lineage.add(added, 'block-copied');
    return out;
  }

  /** Entities with their inserts pointed at the blocks that stand for their scale. */
  pointed(entities: readonly Entity[], metric: Metric): readonly Entity[] {
    if (this.names.size === 0) return entities;
    let any = false;
    const out = entities.map((e) => {
      if (e.kind !== 'insert') return e;
      const key = e.block.toLowerCase();
      const copy = this.names.get(`${key} ${keyOf(metricUnder(metric, e, this.drawing.blocks.get(key)))}`);
      if (!copy) return e;
      any = true;
      const made: Entity = { ...e, block: copy.name };
      this.ctx.lineage.replace(e, [made], 'block-copied', copy.moved);
      return made;
    });
    return any ? out : entities;
  }

  private freeName(name: string): string {
    for (let n = 2; ; n++) {
      const tried = `${name}-${n}`;
      if (this.taken.has(tried.toLowerCase())) continue;
      this.taken.add(tried.toLowerCase());
      return tried;
    }
  }

  /** Blocks that are placed, what they place before themselves. */
  private innermostFirst(): string[] {
    const out: string[] = [];
    const seen = new Set<string>();
    const visit = (key: string): void => {
      if (seen.has(key)) return;
      seen.add(key);
      for (const e of this.drawing.blocks.get(key)?.entities ?? [])
        if (e.kind === 'insert' && this.placings.has(e.block.toLowerCase())) visit(e.block.toLowerCase());
      out.push(key);
    };
    for (const key of this.placings.keys()) visit(key);
    return out;
  }
}
