import type { Vec3 } from '../geometry/vector.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, compose, planeFrame, rotation, scaling, translation } from '../geometry/affine.js';
import type { Appearance, Paint, Rgb } from './appearance.js';
import type { Block, Drawing, Layer } from './drawing.js';
import { layerIndex, layerKey } from './drawing.js';
import type { Entity, Insert } from './entity.js';
import { FOREGROUND, PALETTE } from './palette.js';

/** How an entity comes out once layers and inserts have had their say. Colours are for light ground. */
export interface Resolved {
  /** `null` = not stroked. */
  stroke: Rgb | null;
  fill: Rgb | null;
  strokeOpacity: number;
  fillOpacity: number;
  /** The colour is index 7 and follows the ground it is shown on. */
  foreground: boolean;
  /** The layer that governs it: inside an insert, layer 0 stands for the insert's own. */
  layer: string;
  visible: boolean;
}

/** What an entity inside an insert inherits. */
interface Context {
  layer: string;
  paint: Paint | null;
  frozen: boolean;
  off: boolean;
  opacity: number;
}

export interface Visit {
  entity: Entity;
  /** From the entity's coordinates (after its plane) to the space of the drawing. */
  toWorld: Affine;
  resolved: Resolved;
  /** The top-level entity this one is part of; the entity itself when it lies in no insert. */
  top: Entity;
  depth: number;
}

export interface WalkOptions {
  /** Visit hidden entities too; `resolved.visible` tells them apart. */
  hidden?: boolean;
  /** Which sheet; absent for model space. */
  sheet?: string;
  /** Called instead of expanding further when a block contains itself or nesting passes `maxDepth`. */
  onCut?: (insert: Insert, why: 'recursive' | 'deep' | 'missing' | 'many') => void;
}

const MAX_DEPTH = 64;
const MAX_INSTANCES = 2_000_000;

/** The map from block coordinates to the coordinates around the insert, for one cell of its array. */
export function insertMatrix(insert: Insert, block: Block | undefined, column = 0, row = 0): Affine {
  const base = block?.base ?? [0, 0, 0];
  let m = compose(planeFrame(insert.normal ?? [0, 0, 1]), translation(...insert.at));
  if (insert.rotation !== 0) m = compose(m, rotation(insert.rotation));
  if (column || row) m = compose(m, translation(column * insert.columnSpacing, row * insert.rowSpacing));
  if (insert.scale.some((s) => s !== 1)) m = compose(m, scaling(...insert.scale));
  return base.some((b) => b !== 0) ? compose(m, translation(-base[0], -base[1], -base[2])) : m;
}

/**
 * Visits every entity of a space, inserts expanded, with its world map and its resolved look. Inserts themselves are
 * visited too, before what is in them. A block that contains itself is cut where it repeats.
 */
export function walk(drawing: Drawing, visit: (v: Visit) => void, options: WalkOptions = {}): void {
  const layers = layerIndex(drawing);
  const trail = new Set<string>();
  let instances = 0;

  const layerOf = (name: string): Layer | undefined => layers.get(layerKey(drawing, name));

  const step = (entity: Entity, toWorld: Affine, context: Context | null, top: Entity | null, depth: number): void => {
    const inherits = context !== null && entity.layer === '0';
    const layerName = inherits ? context.layer : entity.layer;
    const layer = layerOf(layerName);
    // A frozen insert hides all that is in it; an off one hides only what takes its layer from it.
    const off = inherits ? context.off : (layer?.off ?? false);
    const frozen = (context?.frozen ?? false) || (layer?.frozen ?? false);
    const visible = entity.look.visible && !off && !frozen && !isHiddenNode(drawing, entity);
    // What stands in an invisible insert may still be seen: only freezing reaches through.
    if (!visible && !options.hidden && (entity.kind !== 'insert' || frozen || !entity.look.visible)) return;
    const resolved = resolve(entity.look, layer, layerName, context, visible);
    if (visible || options.hidden) visit({ entity, toWorld, resolved, top: top ?? entity, depth });
    if (entity.kind !== 'insert') {
      if (entity.kind === 'opaque' && entity.picture)
        expandPicture(entity.picture, toWorld, entity, resolved, top, depth, frozen);
      return;
    }
    const inner: Context = {
      layer: layerName,
      paint: effectivePaint(entity.look.stroke, layer, context),
      frozen,
      off,
      opacity: resolved.strokeOpacity,
    };
    for (const a of entity.attributes) if (!a.hidden) step(a, toWorld, inner, top ?? entity, depth + 1);
    const block = drawing.blocks.get(entity.block.toLowerCase());
    const key = entity.block.toLowerCase();
    if (!block) return options.onCut?.(entity, 'missing');
    if (trail.has(key)) return options.onCut?.(entity, 'recursive');
    if (depth >= MAX_DEPTH) return options.onCut?.(entity, 'deep');
    trail.add(key);
    for (let r = 0; r < entity.rows; r++) {
      for (let c = 0; c < entity.columns; c++) {
        const m = compose(toWorld, insertMatrix(entity, block, c, r));
        for (const e of block.entities) {
          if (++instances > MAX_INSTANCES) {
            options.onCut?.(entity, 'many');
            trail.delete(key);
            return;
          }
          step(e, m, inner, top ?? entity, depth + 1);
        }
      }
    }
    trail.delete(key);
  };

  // A dimension's picture block holds its lines in the coordinates of the dimension's own space.
  const expandPicture = (
    name: string,
    toWorld: Affine,
    entity: Entity,
    r: Resolved,
    top: Entity | null,
    depth: number,
    frozen: boolean,
  ): void => {
    // prettier-ignore
    const key = name.toLowerCase();
    const block = drawing.blocks.get(key);
    if (!block || trail.has(key) || depth >= MAX_DEPTH) return;
    trail.add(key);
    const layer = layerOf(r.layer);
    const inner: Context = {
      layer: r.layer,
      paint: effectivePaint(entity.look.stroke, layer, null),
      frozen,
      off: layer?.off ?? false,
      opacity: r.strokeOpacity,
    };
    for (const e of block.entities) step(e, toWorld, inner, top ?? entity, depth + 1);
    trail.delete(key);
  };

  for (const e of drawing.entities) if (e.sheet === options.sheet) step(e, IDENTITY, null, null, 0);
}

function isHiddenNode(drawing: Drawing, entity: Entity): boolean {
  for (let n = entity.node; n !== undefined && n !== null; n = drawing.nodes[n]?.parent ?? undefined) {
    if (drawing.nodes[n]?.hidden) return true;
  }
  return false;
}

function effectivePaint(paint: Paint, layer: Layer | undefined, context: Context | null): Paint {
  if (paint.kind === 'byLayer') return layer?.paint ?? { kind: 'index', index: FOREGROUND };
  if (paint.kind === 'byBlock') return context?.paint ?? { kind: 'index', index: FOREGROUND };
  return paint;
}

/** The plain colour of a paint on light ground; `null` for none. */
export function paintRgb(paint: Paint): Rgb | null {
  switch (paint.kind) {
    case 'none':
      return null;
    case 'index':
      return paint.index === FOREGROUND ? 0x000000 : (PALETTE[paint.index] ?? 0);
    case 'rgb':
    case 'gradient':
    case 'pattern':
      return paint.rgb;
    default:
      return 0x000000;
  }
}

function resolve(
  look: Appearance,
  layer: Layer | undefined,
  layerName: string,
  context: Context | null,
  visible: boolean,
): Resolved {
  // prettier-ignore
  const stroke = effectivePaint(look.stroke, layer, context);
  const fill = effectivePaint(look.fill, layer, context);
  const shown = stroke.kind === 'none' ? fill : stroke;
  const opacity = look.opacity * (context?.opacity ?? 1);
  return {
    stroke: paintRgb(stroke),
    fill: paintRgb(fill),
    strokeOpacity: opacity * look.strokeOpacity,
    fillOpacity: opacity * look.fillOpacity,
    foreground: shown.kind === 'index' && shown.index === FOREGROUND,
    layer: layerName,
    visible,
  };
}

/** The whole map of an entity's own coordinates: its plane first, then `toWorld`. */
export function planeToWorld(toWorld: Affine, normal: Vec3 | undefined): Affine {
  return normal ? compose(toWorld, planeFrame(normal)) : toWorld;
}
