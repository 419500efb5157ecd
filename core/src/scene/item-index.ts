import Flatbush from 'flatbush';
import { Box2 } from '../geometry/box.js';
import { insideRing } from '../drawing/area.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { hatchRings } from '../drawing/hatch-area.js';
import { hex } from '../drawing/palette.js';
import type { Visit } from '../drawing/resolve.js';
import { walk } from '../drawing/resolve.js';
import { clippedChord } from '../geometry/clip-chord.js';
import type { SceneItems } from './scene.js';

/** What is out of sight: whole layers by name, and entities by id. */
export interface OutOfSight {
  layers: ReadonlySet<string>;
  ids: ReadonlySet<number>;
}

/** What entities can have in common. */
export const ALIKE = ['layer', 'colour', 'kind', 'block', 'size'] as const;
export type Alike = (typeof ALIKE)[number];

const isText = (e: Entity): boolean => e.kind === 'text' || e.kind === 'richText';

/** Finds the entities of a space as they are drawn: under a point, in a frame, alike. */
export class ItemIndex {
  private readonly index: Flatbush | null;
  private readonly places = new Map<Entity, number>();

  constructor(
    private readonly drawing: Drawing,
    private readonly items: SceneItems,
    private readonly sheet?: string,
  ) {
    const n = items.entities.length;
    this.index = n > 0 ? new Flatbush(n) : null;
    const b = items.boxes;
    for (let i = 0; i < n; i++) this.index!.add(b[4 * i]!, b[4 * i + 1]!, b[4 * i + 2], b[4 * i + 3]);
    this.index?.finish();
  }

  /** Entities whose boxes meet a box, in draw order. */
  meeting(box: Box2): Entity[] {
    if (!this.index || box.empty) return [];
    const found = this.index.search(box.minX, box.minY, box.maxX, box.maxY);
    return found.sort((a, b) => a - b).map((i) => this.items.entities[i]!);
  }

  /** The entities with these ids, in draw order. */
  byId(ids: ReadonlySet<number>): Entity[] {
    return this.items.entities.filter((e) => ids.has(e.id));
  }

  /** What was drawn of an entity lies in this box. */
  boxOf(e: Entity): Box2 | null {
    if (this.places.size === 0) this.items.entities.forEach((x, i) => this.places.set(x, i));
    const i = this.places.get(e);
    if (i === undefined) return null;
    const b = this.items.boxes;
    return Box2.of(b[4 * i]!, b[4 * i + 1]!, b[4 * i + 2]!, b[4 * i + 3]!);
  }

  /** Visits the pieces of entities that are in sight. */
  pieces(entities: readonly Entity[], out: OutOfSight, visit: (v: Visit) => void): void {
    const seen = entities.filter((e) => !out.ids.has(e.id));
    walk(
      { ...this.drawing, entities: seen },
      (v) => {
        if (v.entity.kind !== 'insert' && v.entity.look.visible && !out.layers.has(v.resolved.layer)) visit(v);
      },
      { hidden: true, ...(this.sheet !== undefined && { sheet: this.sheet }) },
    );
  }

  /** The entity whose lines pass nearest to a point within `reach`, or whose area or text lies under it. */
  at(x: number, y: number, reach: number, out: OutOfSight): Entity | null {
    const box = Box2.of(x - reach, y - reach, x + reach, y + reach);
    let best: Entity | null = null;
    let least = reach;
    // An area gives way to any line, and to a smaller area.
    let under: Entity | null = null;
    let smallest = Infinity;
    this.pieces(this.meeting(box), out, ({ entity: e, toWorld, top, resolved }) => {
      if (isText(e)) {
        const b = this.boxOf(top);
        if (!b?.holds(x, y, 0) || b.width * b.height >= smallest) return;
        [under, smallest] = [top, b.width * b.height];
        return;
      }
      const rings: number[][] = [];
      let [px, py] = [0, 0];
      const sink = {
        moveTo: (qx: number, qy: number): void => {
          [px, py] = [qx, qy];
          rings.push([qx, qy]);
        },
        lineTo: (qx: number, qy: number): void => {
          const d = toSegment(x, y, px, py, qx, qy);
          if (d < least) {
            least = d;
            best = top;
          }
          [px, py] = [qx, qy];
          rings[rings.length - 1]!.push(qx, qy);
        },
      };
      const area = e.kind === 'hatch' || (e.kind === 'face' && e.solid) || resolved.fill !== null || e.kind === 'image';
      if (e.kind === 'hatch') rings.push(...hatchRings(e, toWorld, reach / 4));
      else flattenEntity(e, toWorld, reach / 20, sink);
      if (!area || rings.filter((r) => insideRing(r, x, y)).length % 2 === 0) return;
      const b = this.boxOf(top);
      const size = b ? b.width * b.height : 0;
      if (size < smallest) [under, smallest] = [top, size];
    });
    return best ?? under;
  }

  /** The ids of entities that lie wholly in a frame; with `touching`, also of those that reach into it. */
  within(frame: Box2, touching: boolean, out: OutOfSight): number[] {
    const found = new Set<number>();
    const others: Entity[] = [];
    const wholly: Entity[] = [];
    for (const e of this.meeting(frame)) {
      const b = this.boxOf(e)!;
      const inside = b.minX >= frame.minX && b.maxX <= frame.maxX && b.minY >= frame.minY && b.maxY <= frame.maxY;
      if (inside) wholly.push(e);
      else if (touching) others.push(e);
    }
    this.pieces(wholly, out, ({ top }) => void found.add(top.id));
    this.pieces(others, out, ({ entity: e, toWorld, top }) => {
      if (found.has(top.id)) return;
      if (isText(e)) return void found.add(top.id);
      let [px, py] = [0, 0];
      flattenEntity(e, toWorld, frame.diagonal / 500, {
        moveTo: (x, y) => void ([px, py] = [x, y]),
        lineTo: (x, y) => {
          if (clippedChord(frame, px, py, x, y)) found.add(top.id);
          [px, py] = [x, y];
        },
      });
    });
    return [...found];
  }

  /** The ids of all entities that are like one of these: on its layer, of its colour, kind, block or size. */
  alike(ids: ReadonlySet<number>, what: Alike, out: OutOfSight): number[] {
    const colours = what === 'colour' ? this.colours() : null;
    const keyOf = (e: Entity): string | null => {
      switch (what) {
        case 'layer':
          return e.layer;
        case 'kind':
          return e.kind;
        case 'block':
          return e.kind === 'insert' ? e.block.toLowerCase() : null;
        case 'colour':
          return colours!.get(e.id) ?? null;
        case 'size': {
          const b = this.boxOf(e);
          // Turned copies have the same size too: longer side first, six digits.
          const sides = b ? [b.width, b.height].sort((p, q) => q - p) : [];
          return b ? `${e.kind} ${sides.map((s) => s.toPrecision(6)).join(' ')}` : null;
        }
      }
    };
    const keys = new Set(this.byId(ids).map(keyOf));
    keys.delete(null);
    return this.items.entities
      .filter((e) => !out.ids.has(e.id) && !out.layers.has(e.layer) && keys.has(keyOf(e)))
      .map((e) => e.id);
  }

  /** The colour that each entity is seen in, as hex digits; layers have had their say. */
  private colours(): Map<number, string> {
    const made = new Map<number, string>();
    const plain = { ...this.drawing, blocks: new Map(), entities: this.items.entities };
    walk(
      plain,
      ({ entity, resolved, depth }) => {
        const rgb = resolved.stroke ?? resolved.fill;
        if (depth === 0 && rgb !== null) made.set(entity.id, hex(rgb));
      },
      { hidden: true, ...(this.sheet !== undefined && { sheet: this.sheet }) },
    );
    return made;
  }
}

/** The distance of a point from a segment. */
export function toSegment(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const l = dx * dx + dy * dy;
  const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}
