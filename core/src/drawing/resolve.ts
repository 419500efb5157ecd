import type { Vec3 } from '../geometry/vector.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, compose, planeFrame, rotation, scaling, translation } from '../geometry/affine.js';
import { isDrawable } from '../geometry/magnitude.js';
import type { Appearance, Dash, Paint, Rgb, Width } from './appearance.js';
import type { Block, Drawing, Layer } from './drawing.js';
import { layerIndex, layerKey } from './drawing.js';
import type { Entity, Insert } from './entity.js';
import { FOREGROUND, PALETTE } from './palette.js';
import { partsOf, pictureOf } from './parts.js';
import type { Reason } from './reasons.js';

/** How an entity comes out once layers and inserts have had their say. Colours are for light ground. */
export interface Resolved {
  /** `null` = not stroked. */
  stroke: Rgb | null;
  fill: Rgb | null;
  strokeOpacity: number;
  fillOpacity: number;
  /** The part of both that is the opacity of the whole shape. */
  opacity: number;
  /** The colour is index 7 and follows the ground it is shown on. */
  foreground: boolean;
  /** Width by its own word or that of its layer or insert; `standard` where nobody says. */
  width: Width;
  /** Dashes likewise; `Continuous` for unbroken lines. */
  dash: Dash;
  /** The layer that governs it: inside an insert, layer 0 stands for the insert's own. */
  layer: string;
  visible: boolean;
}

/** What an entity inside an insert inherits. */
interface Context {
  layer: string;
  paint: Paint | null;
  width: Width;
  dash: Dash;
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

/** Why what an insert shows is not all there, as a ledger says it. */
export const CUT = {
  recursive: 'inserts-in-themselves',
  deep: 'inserts-too-deep',
  missing: 'inserts-of-missing-block',
  many: 'copies-beyond-number',
  beyond: 'inserts-at-beyond-bounds',
} as const satisfies Record<string, Reason>;
export type Cut = keyof typeof CUT;

export interface WalkOptions {
  /** Visit hidden entities too; `resolved.visible` tells them apart. */
  hidden?: boolean;
  /** Which sheet; absent for model space. */
  sheet?: string;
  /** Layers frozen besides those the drawing says are, such as in one window of a sheet; by `layerKey`. */
  frozen?: ReadonlySet<string>;
  /** Called instead of expanding further when a block contains itself or nesting passes `maxDepth`. */
  onCut?: (insert: Insert, why: Cut) => void;
}

const MAX_DEPTH = 64;
const MAX_INSTANCES = 2_000_000;
/** Copies of one insert, beyond which only those at the corners of its array are visited. */
const MAX_COPIES = 1_000_000;

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

  const byName = new Map<string, Layer | undefined>();
  const layerOf = (name: string): Layer | undefined => {
    let layer = byName.get(name);
    if (layer === undefined && !byName.has(name)) byName.set(name, (layer = layers.get(layerKey(drawing, name))));
    return layer;
  };
  // Looks are shared by many entities, so what one comes to outside inserts is worked out once for each layer.
  const resolvedBy = new Map<string, Map<Appearance, Resolved>>();
  const resolvedOf = (look: Appearance, layer: Layer | undefined, name: string, visible: boolean): Resolved => {
    const key = visible ? name : `\0${name}`;
    let own = resolvedBy.get(key);
    if (!own) resolvedBy.set(key, (own = new Map()));
    let found = own.get(look);
    if (!found) own.set(look, (found = resolve(look, layer, name, null, visible)));
    return found;
  };

  const step = (entity: Entity, toWorld: Affine, context: Context | null, top: Entity | null, depth: number): void => {
    const inherits = context !== null && entity.layer === '0';
    const layerName = inherits ? context.layer : entity.layer;
    const layer = layerOf(layerName);
    // A frozen insert hides all that is in it; an off one hides only what takes its layer from it.
    const off = inherits ? context.off : (layer?.off ?? false);
    const frozen =
      (context?.frozen ?? false) ||
      (layer?.frozen ?? false) ||
      (options.frozen?.has(layerKey(drawing, layerName)) ?? false);
    const visible = entity.look.visible && !off && !frozen && !isHiddenNode(drawing, entity);
    // What stands in an invisible insert may still be seen: only freezing reaches through.
    if (!visible && !options.hidden && (entity.kind !== 'insert' || frozen || !entity.look.visible)) return;
    // The definition of an attribute stands for itself only outside inserts.
    if (context !== null && entity.kind === 'text' && entity.definition && !entity.definition.constant) return;
    const resolved =
      context === null
        ? resolvedOf(entity.look, layer, layerName, visible)
        : resolve(entity.look, layer, layerName, context, visible);
    if (visible || options.hidden) visit({ entity, toWorld, resolved, top: top ?? entity, depth });
    if (entity.kind !== 'insert') {
      if (entity.kind === 'opaque' || entity.kind === 'dimension' || entity.kind === 'leader')
        expand(entity, toWorld, resolved, layer, context, top, depth, frozen, off);
      return;
    }
    const inner = contextOf(entity, resolved, layer, context, frozen, off);
    for (const a of entity.attributes) if (!a.hidden) step(a, toWorld, inner, top ?? entity, depth + 1);
    const block = drawing.blocks.get(entity.block.toLowerCase());
    const key = entity.block.toLowerCase();
    if (!block) return options.onCut?.(entity, 'missing');
    if (trail.has(key)) return options.onCut?.(entity, 'recursive');
    if (depth >= MAX_DEPTH) return options.onCut?.(entity, 'deep');
    trail.add(key);
    // Of an array beyond all counting the copies at its corners stand for all: they reach as far as all do.
    const vast = entity.rows * entity.columns > MAX_COPIES;
    if (vast) options.onCut?.(entity, 'many');
    for (let r = 0; r < entity.rows; r += vast ? entity.rows - 1 || 1 : 1) {
      for (let c = 0; c < entity.columns; c += vast ? entity.columns - 1 || 1 : 1) {
        const m = compose(toWorld, insertMatrix(entity, block, c, r));
        if (!m.every(isDrawable)) {
          options.onCut?.(entity, 'beyond');
          continue;
        }
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

  /** A compound entity is followed by what shows it: its picture block, or the parts it amounts to. */
  const expand = (
    entity: Entity,
    toWorld: Affine,
    resolved: Resolved,
    layer: Layer | undefined,
    context: Context | null,
    top: Entity | null,
    depth: number,
    frozen: boolean,
    off: boolean,
  ): void => {
    const picture = pictureOf(entity, drawing);
    if (picture === undefined) {
      // Parts look as the entity itself does, so they inherit what it inherits.
      for (const e of partsOf(entity, drawing)) step(e, toWorld, context, top ?? entity, depth + 1);
      return;
    }
    const key = picture.toLowerCase();
    if (trail.has(key) || depth >= MAX_DEPTH) return;
    trail.add(key);
    const inner = contextOf(entity, resolved, layer, context, frozen, off);
    for (const e of drawing.blocks.get(key)?.entities ?? []) step(e, toWorld, inner, top ?? entity, depth + 1);
    trail.delete(key);
  };

  for (const e of drawing.entities) if (e.sheet === options.sheet) step(e, IDENTITY, null, null, 0);
}

/** What the contents of an insert or picture inherit. */
function contextOf(
  entity: Entity,
  resolved: Resolved,
  layer: Layer | undefined,
  context: Context | null,
  frozen: boolean,
  off: boolean,
): Context {
  return {
    layer: resolved.layer,
    paint: effectivePaint(entity.look.stroke, layer, context),
    width: resolved.width,
    dash: resolved.dash,
    frozen,
    off,
    opacity: resolved.strokeOpacity,
  };
}

function effectiveWidth(width: Width, layer: Layer | undefined, context: Context | null): Width {
  if (width.kind === 'byLayer')
    return layer && layer.weight !== null ? { kind: 'paper', mm: layer.weight } : { kind: 'standard' };
  if (width.kind === 'byBlock') return context?.width ?? { kind: 'standard' };
  return width;
}

const CONTINUOUS: Dash = { kind: 'linetype', name: 'Continuous', scale: 1 };

/** The dashes of a line, those of its layer or insert where it says so. */
export function effectiveDash(dash: Dash, layer: Layer | undefined, context: Context | null): Dash {
  if (dash.kind !== 'linetype') return dash;
  const name = dash.name.toLowerCase();
  if (name === 'bylayer') {
    const own = layer?.linetype ?? 'Continuous';
    return own.toLowerCase() === 'continuous' && dash.scale === 1 ? CONTINUOUS : { ...dash, name: own };
  }
  if (name === 'byblock') {
    const own = context?.dash ?? CONTINUOUS;
    return own.kind === 'linetype' ? { ...own, scale: own.scale * dash.scale } : own;
  }
  return dash;
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
  const stroke = effectivePaint(look.stroke, layer, context);
  const fill = effectivePaint(look.fill, layer, context);
  const shown = stroke.kind === 'none' ? fill : stroke;
  const opacity =
    look.opacity * (look.opacity === 1 && !look.opacityFrom ? (layer?.opacity ?? 1) : 1) * (context?.opacity ?? 1);
  return {
    stroke: paintRgb(stroke),
    fill: paintRgb(fill),
    opacity,
    strokeOpacity: opacity * look.strokeOpacity,
    fillOpacity: opacity * look.fillOpacity,
    width: effectiveWidth(look.width, layer, context),
    dash: effectiveDash(look.dash, layer, context),
    foreground: shown.kind === 'index' && shown.index === FOREGROUND,
    layer: layerName,
    visible,
  };
}

/** The whole map of an entity's own coordinates: its plane first, then `toWorld`. */
export function planeToWorld(toWorld: Affine, normal: Vec3 | undefined): Affine {
  return normal ? compose(toWorld, planeFrame(normal)) : toWorld;
}
