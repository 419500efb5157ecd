import type { Affine } from '../geometry/affine.js';
import { IDENTITY, compose, largestScale } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { Drawing, Sheet } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { Entity, Viewport } from '../drawing/entity.js';
import { boundsOf } from '../drawing/bounds.js';
import { walk } from '../drawing/resolve.js';
import { windowBox, windowMap } from '../drawing/sheet-window.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { FontBook } from '../text/fonts.js';
import { LayerBuffers } from './buffers.js';
import type { GlyphCache } from './painter.js';
import { Painter } from './painter.js';
import type { Scene } from './scene.js';

/** How finely curves are cut: a part of the drawing's diagonal. */
const FINENESS = 1 / 20000;
/** A drawing of more entities than these is cut less finely: what is looked at closely is cut anew. */
export const MANY = 50_000;
const FINENESS_OF_MANY = 1 / 6000;
const FINENESS_OF_DRAFT = 1 / 800;
/** How small a part of a feature's size its chords may miss it by, whatever the size of the drawing. */
const ROUND = 1 / 300;
const ROUND_OF_MANY = 1 / 80;
const ROUND_OF_DRAFT = 1 / 8;
/** Distance in draw order from one entity to the next: what single precision can still tell apart. */
const DEPTH_STEP = 2 ** -22;

export interface SceneOptions {
  /** Which sheet; absent for model space. */
  sheet?: string;
  work?: Work;
  /** How far chords may lie from their curves, in the drawing's unit; absent for a part of the drawing's size. */
  tolerance?: number;
  /** A first picture, quickly: curves by few chords, no letters, no lines of patterns, no widths. */
  draft?: boolean;
  /** Only these entities of the space, as part of the whole drawing whose box is given. */
  part?: { entities: readonly Entity[]; bounds: Box2 };
}

/**
 * Cuts a drawing (y upwards) into chords and triangles: model space, or one sheet with what its windows show of model
 * space. Hidden content is cut too, on its own layers, so that the view can switch it; entities hidden by themselves
 * are left out.
 */
export function buildScene(drawing: Drawing, fonts: FontBook, options: SceneOptions = {}): Scene {
  const { sheet, work, part, tolerance, draft = false } = options;
  const space = sheet === undefined ? {} : { sheet };
  const bounds = part?.bounds ?? boundsOf(drawing, { hidden: true, ...space });
  const paper = paperOf(drawing.sheets.find((s) => s.name === sheet));
  if (paper) {
    bounds.add(paper.minX, paper.minY);
    bounds.add(paper.maxX, paper.maxY);
  }
  const shown = part ? { ...drawing, entities: [...part.entities] } : drawing;
  const origin = part ? boundsOf(shown, { hidden: true, ...space }) : bounds;
  const builder = new SceneBuilder(shown, fonts, bounds, origin.empty ? bounds : origin, work, tolerance, draft);
  if (paper) builder.paper(paper);
  builder.space(space, IDENTITY, bounds.diagonal || 1);
  if (sheet !== undefined) {
    for (const e of drawing.entities) if (e.kind === 'viewport' && e.sheet === sheet) builder.window(e);
  }
  return builder.finish(sheet === undefined && !part ? boundsOf(drawing) : bounds);
}

/** The edge of a sheet's paper in its coordinates, whose origin is the corner of what can be printed. */
function paperOf(sheet: Sheet | undefined): Box2 | null {
  if (!sheet?.paper) return null;
  const { width, height, marginLeft, marginBottom } = sheet.paper;
  const k = sheet.unitsPerMm;
  return Box2.of(0 - marginLeft * k, 0 - marginBottom * k, (width - marginLeft) * k, (height - marginBottom) * k);
}

/** The name under which the edge of the paper is drawn; no layer of a drawing is called so. */
const PAPER_EDGE = '\u0000paper';

class SceneBuilder {
  private readonly origin: [number, number];
  private readonly layers: Map<string, LayerBuffers>;
  private readonly glyphs: GlyphCache = new Map();
  private readonly entities: Entity[] = [];
  private readonly boxes: number[] = [];
  private n = 0;

  constructor(
    private readonly drawing: Drawing,
    private readonly fonts: FontBook,
    private readonly bounds: Box2,
    about: Box2,
    private readonly work: Work | undefined,
    private readonly tolerance: number | undefined,
    private readonly draft: boolean,
  ) {
    this.origin = about.empty ? [0, 0] : [(about.minX + about.maxX) / 2, (about.minY + about.maxY) / 2];
    this.layers = new Map(drawing.layers.map((l) => [l.name, new LayerBuffers(this.origin)]));
  }

  /** Cuts a space under a map, for a picture that is `diagonal` across. */
  space(which: { sheet?: string; frozen?: ReadonlySet<string> }, m: Affine, diagonal: number, clip?: Box2): void {
    const { drawing, work } = this;
    const onPaper = drawing.header.get('$PSLTSCALE')?.[0]?.[1].trim() === '1';
    const dashes = clip && !onPaper ? largestScale(m) : 1;
    const total = drawing.entities.length + 1;
    let top = 0;
    let last: Entity | null = null;
    let box = new Box2();
    const settle = (): void => {
      if (!last || clip || box.empty) return;
      this.entities.push(last);
      this.boxes.push(box.minX, box.minY, box.maxX, box.maxY);
      box = new Box2();
    };
    const many = total > MANY;
    const coarse = diagonal * (this.draft ? FINENESS_OF_DRAFT : many ? FINENESS_OF_MANY : FINENESS);
    const painter = new Painter(
      drawing,
      this.fonts,
      this.glyphs,
      this.tolerance ?? coarse,
      this.bounds,
      (diagonal * 20) / 20000,
      dashes,
      this.draft ? ROUND_OF_DRAFT : many ? ROUND_OF_MANY : ROUND,
      this.draft,
    );
    walk(
      drawing,
      (v) => {
        if (v.top !== last) {
          settle();
          last = v.top;
          top++;
          if (top % 2048 === 0) {
            checkStop(work);
            work?.onProgress?.(top / total);
          }
        }
        if (!v.entity.look.visible || (which.frozen && !v.resolved.visible)) return;
        let buffers = this.layers.get(v.resolved.layer);
        if (!buffers) this.layers.set(v.resolved.layer, (buffers = new LayerBuffers(this.origin)));
        this.n++;
        buffers.depth = Math.min(1, this.n * DEPTH_STEP);
        buffers.clip = clip ?? null;
        buffers.owner = v.top.id;
        buffers.box = box;
        const placed = m === IDENTITY ? v : { ...v, toWorld: compose(m, v.toWorld) };
        painter.draw(placed, buffers);
      },
      { hidden: true, ...which },
    );
    settle();
  }

  paper(box: Box2): void {
    const edge = new LayerBuffers(this.origin);
    edge.colour(0x808080, 0.6, false);
    edge.chord(box.minX, box.minY, box.maxX, box.minY);
    edge.chord(box.maxX, box.minY, box.maxX, box.maxY);
    edge.chord(box.maxX, box.maxY, box.minX, box.maxY);
    edge.chord(box.minX, box.maxY, box.minX, box.minY);
    this.layers.set(PAPER_EDGE, edge);
  }

  /** What a window of a sheet shows of model space, when it looks straight down. */
  window(w: Viewport): void {
    const m = windowMap(w);
    if (!m) return;
    const clip = windowBox(w);
    const frozen = new Set(w.frozen.map((n) => layerKey(this.drawing, n)));
    this.space({ frozen }, m, clip.diagonal, clip);
  }

  finish(visible: Box2): Scene {
    const made = [...this.layers].map(([name, b]) => b.finish(name));
    return {
      origin: this.origin,
      bounds: this.bounds.toJSON(),
      visibleBounds: visible.toJSON(),
      layers: made,
      items: { entities: this.entities, boxes: Float64Array.from(this.boxes) },
      pictures: [...this.layers].flatMap(([layer, b]) => b.pictures.map((p) => ({ ...p, layer }))),
      chords: made.reduce((s, l) => s + l.lines.length / 6, 0),
      triangles: made.reduce((s, l) => s + l.triangles.length / 9, 0),
    };
  }
}
