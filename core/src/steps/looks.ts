import type { Appearance, Paint, Rgb } from '../drawing/appearance.js';
import { AppearancePool } from '../drawing/appearance.js';
import type { Drawing, Layer } from '../drawing/drawing.js';
import { layerIndex, layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { LineageCode } from '../drawing/lineage.js';
import { paintRgb } from '../drawing/resolve.js';
import { checkStop } from '../formats/format.js';
import type { Selection } from '../parameters/parameter.js';
import { takesEverything } from '../parameters/parameter.js';
import { selectedBy } from '../analysis/selection.js';
import type { StepContext } from './step.js';
import { changeAll } from './all-entities.js';

export interface LookChange {
  which: Selection;
  /** The look of an entity, given what its layer says where it says nothing itself; the very same where nothing changes. */
  look(look: Appearance, layer: Layer | undefined, e: Entity): Appearance;
  /** What becomes of a layer where everything is meant. */
  layer?(layer: Layer): Layer;
  /** What else changes of an entity whose look is meant; the very same where nothing does. `within`: how far that reaches. */
  alter?(e: Entity): { e: Entity; within: number };
  code?: LineageCode;
}

/** Changes how entities look, in model space and in blocks, and layers where everything is meant. `count`: entities changed. */
export function changeLooks(
  drawing: Drawing,
  ctx: StepContext,
  o: LookChange,
): { drawing: Drawing; count: number; layers: number } {
  const wanted = selectedBy(o.which, drawing);
  const all = takesEverything(o.which);
  const byName = layerIndex(drawing);
  const pool = new AppearancePool();
  const known = new Map<string, Map<Appearance, Appearance>>();
  let [count, n] = [0, 0];
  const lookOf = (look: Appearance, e: Entity): Appearance => {
    // Looks are shared: what one comes to on a layer is worked out once, for letters and for all else.
    const key = `${e.kind === 'text' || e.kind === 'richText' ? 'letters' : 'curves'} ${e.layer}`;
    let of = known.get(key);
    if (!of) known.set(key, (of = new Map()));
    let made = of.get(look);
    if (!made) {
      made = o.look(look, all ? undefined : byName.get(layerKey(drawing, e.layer)), e);
      if (made !== look) made = pool.share(made);
      of.set(look, made);
    }
    return made;
  };
  const change = (e: Entity): Entity => {
    if (++n % 4096 === 0) checkStop(ctx);
    if (e.sheet !== undefined || !wanted(e)) return e;
    ctx.look();
    const look = lookOf(e.look, e);
    const runs = e.kind === 'text' ? e.runs?.map((r) => (r.look ? { ...r, look: lookOf(r.look, e) } : r)) : undefined;
    const sameRuns = e.kind !== 'text' || !runs || runs.every((r, i) => r.look === e.runs![i]!.look);
    const other = o.alter?.(e) ?? { e, within: 0 };
    if (look === e.look && sameRuns && other.e === e) return e;
    count++;
    const made = { ...other.e, look, ...(runs && { runs }) } as Entity;
    ctx.lineage.replace(e, [made], o.code ?? 'repainted', other.within);
    return made;
  };
  const made = changeAll(drawing, (e, block) => (block?.sheet ? e : change(e)));
  let changedLayers = 0;
  const layers =
    all && o.layer
      ? drawing.layers.map((l) => {
          const made = o.layer!(l);
          if (made !== l) changedLayers++;
          return made;
        })
      : drawing.layers;
  if (count === 0 && changedLayers === 0) return { drawing, count: 0, layers: 0 };
  return { drawing: { ...made, layers }, count, layers: changedLayers };
}

/** A paint under a map of colours; the very same where its colour stays. Gradients follow with all their stops. */
export function mappedPaint(paint: Paint, to: (rgb: Rgb) => Rgb | Paint): Paint {
  const plain = (rgb: Rgb): Rgb => {
    const made = to(rgb);
    return typeof made === 'number' ? made : (paintRgb(made) ?? rgb);
  };
  switch (paint.kind) {
    case 'rgb':
    case 'index': {
      const rgb = paintRgb(paint)!;
      const made = to(rgb);
      if (typeof made !== 'number') return JSON.stringify(made) === JSON.stringify(paint) ? paint : made;
      return made === rgb ? paint : { kind: 'rgb', rgb: made };
    }
    case 'gradient': {
      const stops = paint.stops.map((s) => ({ ...s, rgb: plain(s.rgb) }));
      const rgb = plain(paint.rgb);
      return rgb === paint.rgb && stops.every((s, i) => s.rgb === paint.stops[i]!.rgb)
        ? paint
        : { ...paint, stops, rgb };
    }
    case 'pattern': {
      const rgb = plain(paint.rgb);
      return rgb === paint.rgb ? paint : { ...paint, rgb };
    }
    default:
      return paint;
  }
}

/** A look under a map of colours. What comes from a layer that is not changed itself (`layer` is given) is stated from here on. */
export function mappedLook(look: Appearance, layer: Layer | undefined, to: (rgb: Rgb) => Rgb | Paint): Appearance {
  const side = (paint: Paint): Paint => {
    if (paint.kind !== 'byLayer' || !layer) return mappedPaint(paint, to);
    const made = mappedPaint(layer.paint, to);
    return made === layer.paint ? paint : made;
  };
  const [stroke, fill] = [side(look.stroke), side(look.fill)];
  return stroke === look.stroke && fill === look.fill ? look : { ...look, stroke, fill };
}
