import type { Alike, CurveFacts, Description, EntityRef, Scene, Snap } from '@scalaria/core';
import { Box2, Snapper, briefly, curveAt, describe, refOf, resolveRef, snapPointsOf } from '@scalaria/core';
import { held } from './held';

/** So many objects are marked at once at most. */
const MOST_MARKED = 20_000;

/** What the pointer asks of the drawing in sight. */
export const asking = {
  /** What is out of sight: it is neither found nor snapped to. */
  hide(layers: string[], ids: number[]): void {
    held.outOfSight = { layers: new Set(layers), ids: new Set(ids) };
  },

  /** The best point to snap to within `reach`, or null; `from` is the point before it. */
  snap(x: number, y: number, reach: number, from?: { x: number; y: number }): Snap | null {
    if (!held.shown) return null;
    // Made when it is first asked for: many a drawing is only looked at.
    held.shown.snapper ??= new Snapper(snapPointsOf(held.shown.drawing, held.shown.sheet), held.shown.items);
    return held.shown.snapper.at(x, y, reach, held.outOfSight, from);
  },

  /** The id and the kind of the entity under a point. */
  itemAt(x: number, y: number, reach: number): number | null {
    return held.shown?.items.at(x, y, reach, held.outOfSight)?.id ?? null;
  },

  /** The ids of entities in a frame: wholly, or touched by it too. */
  itemsWithin(x0: number, y0: number, x1: number, y1: number, touching: boolean): number[] {
    return held.shown?.items.within(Box2.of(x0, y0, x1, y1), touching, held.outOfSight) ?? [];
  },

  /** The ids of all that is like one of these. */
  alike(ids: number[], what: Alike): number[] {
    return held.shown?.items.alike(new Set(ids), what, held.outOfSight) ?? [];
  },

  /** The ids of all objects of a kind, or on a layer; texts of either sort are texts. */
  idsOf({ kind, layer }: { kind?: string; layer?: string }): number[] {
    if (!held.shown) return [];
    const { drawing, sheet } = held.shown;
    const plain = (k: string): string => (k === 'richText' ? 'text' : k);
    return drawing.entities
      .filter(
        (e) =>
          e.sheet === sheet &&
          (kind === undefined || plain(e.kind) === plain(kind)) &&
          (layer === undefined || e.layer.toLowerCase() === layer.toLowerCase()),
      )
      .slice(0, MOST_MARKED)
      .map((e) => e.id);
  },

  /** The ids of all that is in sight. */
  allInSight(): number[] {
    if (!held.shown) return [];
    const all = held.shown.items.meeting(held.shown.bounds);
    return all.filter((e) => !held.outOfSight.ids.has(e.id) && !held.outOfSight.layers.has(e.layer)).map((e) => e.id);
  },

  /** How the entity under a point is kept in a plan, so that the next revision is asked for the same one. */
  refAt(x: number, y: number, reach: number): EntityRef | null {
    const shown = held.shown;
    const entity = shown?.items.at(x, y, reach, held.outOfSight);
    return shown && entity ? refOf(entity, shown.drawing) : null;
  },

  /** How entities of the prepared drawing are kept in a plan, blocks included; those that are not there are left out. */
  refsOf(ids: number[]): EntityRef[] {
    const drawing = held.prepared;
    if (!drawing) return [];
    const wanted = new Set(ids);
    const inBlocks = [...drawing.blocks.values()].flatMap((b) => b.entities);
    return [...drawing.entities, ...inBlocks].filter((e) => wanted.has(e.id)).map((e) => refOf(e, drawing));
  },

  /** What picked entities are, in a few words; `null` where one is not in the drawing that is shown. */
  wordsOf(refs: readonly EntityRef[]): (string | null)[] {
    const shown = held.shown;
    return refs.map((ref) => {
      const entity = shown && resolveRef(ref, shown.drawing);
      return shown && entity ? briefly(shown.drawing, entity) : null;
    });
  },

  describe(ids: number[]): Description | null {
    return held.shown ? describe(held.shown.drawing, held.shown.items, new Set(ids)) : null;
  },

  /** The box about entities as they are drawn. */
  boxOf(ids: number[]): Scene['bounds'] {
    const box = new Box2();
    for (const e of held.shown?.items.byId(new Set(ids)) ?? []) box.addBox(held.shown!.items.boxOf(e) ?? new Box2());
    return box.toJSON();
  },

  /** What can be measured of the curve under a point. */
  curveAt(x: number, y: number, reach: number): CurveFacts | null {
    return held.shown ? curveAt(held.shown.items, x, y, reach, held.outOfSight) : null;
  },
};
