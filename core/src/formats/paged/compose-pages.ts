import { boundsOf } from '../../drawing/bounds.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { Drawing } from '../../drawing/drawing.js';
import { layerIndex, layerKey, withLayer } from '../../drawing/drawing.js';
import type { Clip, Draft, Entity } from '../../drawing/entity.js';
import type { Lineage } from '../../drawing/lineage.js';
import { transformDrawing } from '../../drawing/transform.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, planarSimilarity } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import { movedBox } from '../../geometry/moved-box.js';
import { PathBuilder } from '../../geometry/path.js';
import { addTextReach } from '../../text/text-reach.js';
import type { FontBook } from '../../text/fonts.js';

/** What a page shows of the drawing: of model space or of a sheet, moved by a similarity, and no further than its frame. */
export interface View {
  readonly sheet: string | undefined;
  readonly map: Affine;
  /** Where the page is, what lies outside is not seen; absent where all of it is. */
  readonly frame?: Box2;
  /** Layers that are not shown in it, by `layerKey`. */
  readonly frozen?: ReadonlySet<string>;
}

/** A page: where it lies among all pages, and what it shows. */
export interface PagePlan {
  readonly box: Box2;
  readonly views: readonly View[];
  /** What is drawn on it beside: marks and its name. Without ids. */
  readonly marks: readonly Entity[];
}

export const MARK_LAYER = 'Page marks';

/** All pages side by side as one drawing; `pageOf` says on which each object lies, by its id. */
export interface Composed {
  readonly drawing: Drawing;
  readonly pageOf: ReadonlyMap<number, number>;
  /** Objects that lie on no page. */
  readonly off: number;
}

/** What objects cover, texts as wide as they are set; each once. */
class Reaches {
  private readonly known = new Map<Entity, Box2>();
  constructor(
    private readonly drawing: Drawing,
    private readonly fonts: FontBook,
  ) {}

  of(e: Entity): Box2 {
    let box = this.known.get(e);
    if (!box) {
      box = boundsOf({ ...this.drawing, entities: [{ ...e, sheet: undefined } as Entity] }, { hidden: true });
      if (e.kind === 'text' || e.kind === 'richText') addTextReach(e, IDENTITY, this.drawing, this.fonts, box);
      this.known.set(e, box);
    }
    return box;
  }
}

const framePath = (b: Box2): Clip => ({
  shapes: [
    {
      path: new PathBuilder()
        .moveTo(b.minX, b.minY)
        .lineTo(b.maxX, b.minY)
        .lineTo(b.maxX, b.maxY)
        .lineTo(b.minX, b.maxY)
        .close()
        .build(),
      rule: 'nonzero',
    },
  ],
});

/**
 * Lays what pages show side by side. An object that several pages show is there several times; what a frame cuts keeps its curves and
 * is cut to the frame when it is drawn. Everything is told to the lineage, with the map by which it came there.
 */
export function composePages(from: Drawing, plans: readonly PagePlan[], fonts: FontBook, lineage: Lineage): Composed {
  const reaches = new Reaches(from, fonts);
  const layers = layerIndex(from);
  const copies = new Map<Entity, number>();
  const entities: Entity[] = [];
  const pageOf = new Map<number, number>();
  let nextId = from.nextId;
  plans.forEach((plan, page) => {
    for (const view of plan.views) {
      const clip = view.frame && framePath(view.frame);
      const shown = from.entities.filter((e) => {
        if (e.sheet !== view.sheet || e.kind === 'viewport') return false;
        const key = layerKey(from, e.layer);
        // A layer that is off or frozen everywhere goes along, hidden; one that this window alone does not show stays away.
        if (view.frozen?.has(key) && layers.get(key)?.frozen !== true) return false;
        const box = movedBox(reaches.of(e), view.map);
        return view.frame === undefined || box.empty || box.meets(view.frame);
      });
      const bare = shown.map((e) => ({ ...e, sheet: undefined }) as Entity);
      const there = transformDrawing({ ...from, entities: bare }, view.map).entities;
      const k = planarSimilarity(view.map) ?? 1;
      shown.forEach((e, i) => {
        const { sheet: _, ...rest } = there[i]!;
        const copy = { ...rest, id: nextId++ } as Draft<Entity>;
        if (k !== 1 && copy.kind !== 'insert') copy.look = withDashes(copy.look, k);
        const whole = view.frame === undefined || within(movedBox(reaches.of(e), view.map), view.frame);
        if (clip && !whole) copy.clipTo = copy.clipTo ? { ...clip, within: copy.clipTo } : clip;
        entities.push(copy as Entity);
        pageOf.set(copy.id, page);
        const before = copies.get(e) ?? 0;
        lineage.placed(e, copy as Entity, view.map, before > 0);
        copies.set(e, before + 1);
      });
    }
    for (const mark of plan.marks) {
      const made = { ...mark, id: nextId++, layer: MARK_LAYER } as Entity;
      entities.push(made);
      pageOf.set(made.id, page);
      lineage.add([made], 'page-marked');
    }
  });
  let off = 0;
  for (const e of from.entities) {
    if (copies.has(e)) continue;
    lineage.remove(e, 'on-no-page');
    if (e.kind !== 'viewport') off++;
  }
  const marked = plans.some((p) => p.marks.length > 0) ? withLayer(from, MARK_LAYER) : from;
  return { drawing: { ...marked, entities, nextId, sheets: [], page: null }, pageOf, off };
}

const within = (a: Box2, b: Box2): boolean =>
  a.empty || (a.minX >= b.minX && a.maxX <= b.maxX && a.minY >= b.minY && a.maxY <= b.maxY);

/** Dashes of named linetypes are as long as the drawing says: shown smaller they are smaller. */
function withDashes(look: Appearance, k: number): Appearance {
  return look.dash.kind === 'linetype' ? { ...look, dash: { ...look.dash, scale: look.dash.scale * k } } : look;
}
