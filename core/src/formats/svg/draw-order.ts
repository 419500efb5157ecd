import Flatbush from 'flatbush';
import type { Drawing, Layer } from '../../drawing/drawing.js';
import { layerKey } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import type { Visit } from '../../drawing/resolve.js';
import { entityToWorld } from '../../drawing/curves.js';
import { applyPoint } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import { COINCIDENT } from '../../geometry/tolerance.js';

/** How often what lies in one place may be asked about, in all: beyond it order across layers is let go. */
const EFFORT = 2_000_000;
/** A polyline of no more sides is looked at side by side. */
const MOST_SIDES = 64;

interface Extent {
  /** The entity of model space that it is, or that shows it. */
  entity: Entity;
  box: Box2;
  /** It covers what lies under it. */
  covers: boolean;
  /** The one colour that it is drawn in; `null` when there are several, or what lies below is seen through it. */
  rgb: number | null;
}

/** The order of layers, and the entities that cannot stand in the first group of theirs, by the number of the group they open. */
export interface Sorted {
  layers: readonly Layer[];
  anew: ReadonlyMap<Entity, number>;
  /** So many lines lie on one another in another order than they were drawn in: layers would have come to too many pieces. */
  swapped: number;
  /** Too much lies on one another to say what lies over what: layers come in the order of their list. */
  unsorted: boolean;
}

/** Layers in the order of their list, and nothing apart from them. */
export const asListed = ({ layers }: Drawing): Sorted => ({ layers, anew: new Map(), swapped: 0, unsorted: false });

/** Everything in the order in which it is drawn: a layer is opened anew whenever its turn comes again. */
export function asDrawn(drawing: Drawing): Sorted {
  const byKey = new Map(drawing.layers.map((l) => [layerKey(drawing, l.name), l]));
  const order = new Set<Layer>();
  const anew = new Map<Entity, number>();
  let [groups, current] = [0, ''];
  for (const e of drawing.entities) {
    if (e.sheet !== undefined) continue;
    const key = layerKey(drawing, e.layer);
    const layer = byKey.get(key);
    if (key !== current) {
      if (groups > 0 || !layer || order.has(layer)) groups++;
      else order.add(layer);
      current = key;
    }
    if (groups > 0) anew.set(e, groups);
  }
  const layers = [...order, ...drawing.layers.filter((l) => !order.has(l))];
  return { layers, anew, swapped: 0, unsorted: false };
}

/**
 * What lies over what, while entities are gathered by layer. Layers come in an order that shows the same as the drawing does;
 * where there is none, a layer is opened anew for what lies over something that is drawn after its group.
 */
export class DrawOrder {
  private readonly extents: Extent[] = [];
  private covers = false;

  constructor(private readonly drawing: Drawing) {}

  /** Takes note of what is drawn, in its order; `box`: where it reaches. */
  add(v: Visit, box: Box2): void {
    if (box.empty) return;
    const { entity, top, resolved: r } = v;
    const letters = entity.kind === 'text' || entity.kind === 'richText';
    const covers =
      entity.kind === 'hatch' ||
      entity.kind === 'image' ||
      (entity.kind === 'face' && entity.solid === true) ||
      (r.fill !== null && !letters && entity.kind !== 'line');
    const plain = r.fillOpacity === 1 && r.strokeOpacity === 1 && entity.kind !== 'image';
    const rgb = plain && (r.fill === null || r.stroke === null) ? (r.fill ?? r.stroke) : null;
    this.covers ||= covers;
    for (const part of (covers ? null : sidesOf(v)) ?? [box])
      this.extents.push({ entity: top, box: part, covers, rgb });
  }

  sorted(): Sorted {
    const { extents, drawing } = this;
    const none = asListed(drawing);
    const number = new Map(drawing.layers.map((l, i) => [layerKey(drawing, l.name), i]));
    const layers = extents.map((e) => number.get(layerKey(drawing, e.entity.layer)) ?? 0);
    if (new Set(layers).size < 2) return none;
    const pairs = this.overlaps((i, j) => layers[i] !== layers[j]);
    if (pairs === null) return { ...none, unsorted: true };
    if (pairs.length === 0) return none;
    const all = this.grouped(layers, pairs);
    if (all.groups <= drawing.layers.length) return { ...all, swapped: 0, unsorted: false };
    const covering = pairs.filter(([i, j]) => extents[i]!.covers || extents[j]!.covers);
    return { ...this.grouped(layers, covering), swapped: pairs.length - covering.length, unsorted: false };
  }

  private grouped(
    layers: readonly number[],
    pairs: readonly [number, number][],
  ): Pick<Sorted, 'layers' | 'anew'> & { groups: number } {
    const { extents, drawing } = this;
    const above = drawing.layers.map(() => new Set<number>());
    for (const [i, j] of pairs) above[layers[j]!]!.add(layers[i]!);
    const order = inOrder(above);
    // Where an entity stands: in its layer's first group (below 0), or in one that was opened later.
    const place = new Map(order.map((layer, i) => [layer, i - order.length]));
    const anew = new Map<Entity, number>();
    const at = new Int32Array(extents.length);
    let groups = 0;
    let next = 0;
    for (let i = 0, end = 0; i < extents.length; i = end) {
      // All that one insert shows stands in one group.
      const { entity } = extents[i]!;
      while (extents[end]?.entity === entity) end++;
      let own = place.get(layers[i]!) ?? 0;
      let highest = own;
      for (; next < pairs.length && pairs[next]![0] < end; next++) highest = Math.max(highest, at[pairs[next]![1]]!);
      if (highest > own) {
        own = ++groups;
        place.set(layers[i]!, own);
      }
      at.fill(own, i, end);
      if (own > 0) anew.set(entity, own);
    }
    return { layers: order.map((i) => drawing.layers[i]!), anew, groups };
  }

  /** Pairs of extents of which the first is drawn later than the second and shows it, in the order of the first; `null` where there is no end of them. */
  private overlaps(ask: (i: number, j: number) => boolean): [number, number][] | null {
    const { extents } = this;
    const index = new Flatbush(extents.length);
    for (const { box } of extents) index.add(box.minX, box.minY, box.maxX, box.maxY);
    index.finish();
    const pairs: [number, number][] = [];
    let asked = 0;
    for (const [i, e] of extents.entries()) {
      const { box } = e;
      if (!this.covers && !upright(box) && !level(box)) continue;
      const near = slack(box);
      index.search(box.minX - near, box.minY - near, box.maxX + near, box.maxY + near, (j) => {
        asked++;
        if (j < i && ask(i, j) && hides(extents[j]!, e)) pairs.push([i, j]);
        return false;
      });
      if (asked > EFFORT) return null;
    }
    return pairs;
  }
}

/** Whether it shows which of two things that meet is drawn first: lines that cross meet in a point only. */
function hides(a: Extent, b: Extent): boolean {
  if (a.rgb !== null && a.rgb === b.rgb) return false;
  if (a.covers || b.covers) return true;
  // Upright or level lines that share a stretch.
  const [p, q] = [a.box, b.box];
  const shared = (from: 'minX' | 'minY', to: 'maxX' | 'maxY'): boolean =>
    Math.min(p[to], q[to]) - Math.max(p[from], q[from]) > slack(p);
  return (upright(p) && upright(q) && shared('minY', 'maxY')) || (level(p) && level(q) && shared('minX', 'maxX'));
}

/** How near is the same place: what is drawn through inserts is off by rounding. */
const slack = (b: Box2): number => COINCIDENT * Math.max(-b.minX, -b.minY, b.maxX, b.maxY, 0);
const upright = (b: Box2): boolean => b.width <= slack(b);
const level = (b: Box2): boolean => b.height <= slack(b);

/** The boxes of the sides of a polyline of few straight ones; `null` for all else. */
function sidesOf({ entity: e, toWorld }: Visit): Box2[] | null {
  if (e.kind !== 'polyline' || e.bulges || e.points.length > e.dim * MOST_SIDES) return null;
  const m = entityToWorld(e, toWorld);
  const corners: [number, number][] = [];
  for (let i = 0; i < e.points.length; i += e.dim) {
    const p = applyPoint(m, [e.points[i]!, e.points[i + 1]!, e.dim === 3 ? e.points[i + 2]! : e.elevation]);
    corners.push([p[0], p[1]]);
  }
  const ends = e.closed ? corners : corners.slice(1);
  return ends.map((b, i) => {
    const a = e.closed ? corners[(i + corners.length - 1) % corners.length]! : corners[i]!;
    return Box2.of(a[0], a[1], b[0], b[1]);
  });
}

/** Numbers so that each comes before those above it, and else in their order; where they go in circles the first goes first. */
function inOrder(above: readonly ReadonlySet<number>[]): number[] {
  const below = above.map(() => 0);
  for (const set of above) for (const i of set) below[i]!++;
  const order: number[] = [];
  const placed = new Set<number>();
  while (order.length < above.length) {
    const waiting = above.map((_, i) => i).filter((i) => !placed.has(i));
    const next = waiting.find((i) => below[i] === 0) ?? waiting[0]!;
    placed.add(next);
    order.push(next);
    for (const i of above[next]!) below[i]!--;
  }
  return order;
}
