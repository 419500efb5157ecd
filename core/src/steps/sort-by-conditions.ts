import type { Drawing, Layer } from '../drawing/drawing.js';
import { layerIndex, layerKey, newLayer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { rolesOf } from '../analysis/outline-roles.js';
import type { DepthSources } from '../analysis/hole-depth.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import { changeAll } from './all-entities.js';
import type { LayerCondition } from './layer-conditions.js';
import { conditionTest, depthTest } from './layer-conditions.js';
import { stated } from './stated-look.js';
import type { StepContext } from './step.js';
import { tellChange } from './tell.js';

/** What becomes of an object: the rule that takes it, by its place, or that none does, or that nobody can say. */
type Fate = number | 'rest' | 'undecided';

export interface SortRules {
  readonly rules: readonly LayerCondition[];
  readonly depths: DepthSources;
  /** Where holes go of which a rule would have to know whether they go through. */
  readonly undecided: string;
  readonly rest: 'keep' | 'one' | 'ask';
  readonly restLayer: string;
}

/**
 * Puts what is in sight onto layers by rules, the first that takes it counting. All layers that rules name are there afterwards, in
 * their order, empty ones too. What a block shows in several places goes where all of them would; sheets stay as they are.
 * Throws `UserError` where rules leave something over and are not to.
 */
export function sortByConditions(drawing: Drawing, o: SortRules, ctx: StepContext): Drawing {
  const rules = o.rules.filter((r) => r.to.trim() !== '');
  const fates = fatesOf(drawing, rules, o, ctx);
  const taken = rules.map(() => 0);
  let undecided = 0;
  const over = new Map<string, number>();
  const layerOf = (e: Entity): string => {
    const fate = fates.get(e);
    if (fate === undefined) return e.layer;
    if (fate === 'undecided') {
      undecided++;
      return o.undecided.trim() || e.layer;
    }
    if (fate !== 'rest') {
      taken[fate]!++;
      return rules[fate]!.to.trim();
    }
    over.set(e.layer, (over.get(e.layer) ?? 0) + 1);
    return (o.rest === 'one' && o.restLayer.trim()) || e.layer;
  };

  const old = layerIndex(drawing);
  const layers = new Map<string, Layer>();
  const need = (name: string): Layer => {
    const key = layerKey(drawing, name);
    let layer = layers.get(key);
    if (!layer) layers.set(key, (layer = old.get(key) ?? newLayer(name)));
    return layer;
  };
  if (old.has('0')) need('0');
  for (const r of rules) need(r.to.trim());
  let moved = 0;
  const emptied = new Set<string>();
  let n = 0;
  const made = changeAll(drawing, (e, block) => {
    if (++n % 4096 === 0) checkStop(ctx);
    if (e.sheet !== undefined) return e;
    // What layer 0 of a block shows is of the layer that the block is placed on.
    if (block && e.layer === '0' && fates.has(e)) {
      if (fates.get(e) !== 'rest') ctx.leave('layer-0-of-block', e);
      return e;
    }
    const name = layerOf(e);
    if (layerKey(drawing, name) === layerKey(drawing, e.layer)) return e;
    moved++;
    emptied.add(layerKey(drawing, e.layer));
    const from = old.get(layerKey(drawing, e.layer)) ?? newLayer(e.layer);
    const to = need(name);
    const placed = { ...e, layer: to.name, look: stated(e.look, from, to) } as Entity;
    ctx.lineage.replace(e, [placed], 'resorted');
    return placed;
  });
  if (o.rest === 'ask' && over.size > 0) {
    const counts = [...over].slice(0, 8).map(([name, count]) => `${name} (${count})`);
    throw new UserError(
      'wrong-parameter',
      `no rule takes what lies on ${counts.join(', ')}${over.size > 8 ? ` and ${over.size - 8} more layers` : ''}: write a rule for it, or say what happens to the rest`,
    );
  }
  tellAll(ctx, rules, taken, moved, undecided, o.undecided, over);
  const still = layersInUse(made);
  for (const l of drawing.layers) {
    const key = layerKey(drawing, l.name);
    if (!emptied.has(key) || still.has(key)) need(l.name);
  }
  const list = [...layers.values()];
  const same = list.length === drawing.layers.length && list.every((l, i) => l === drawing.layers[i]);
  return made === drawing && same ? drawing : { ...made, layers: list };
}

function fatesOf(
  drawing: Drawing,
  rules: readonly LayerCondition[],
  o: SortRules,
  ctx: StepContext,
): ReadonlyMap<Entity, Fate> {
  const depthOf = depthTest(rules, o.depths);
  const tests = rules.map((r) => conditionTest(r, drawing, depthOf));
  const roles = rolesOf(drawing, ctx);
  const fates = new Map<Entity, Fate>();
  const torn = new Set<Entity>();
  roles.forEach((seen, n) => {
    if (n % 4096 === 0) checkStop(ctx);
    const { entity, top } = seen.visit;
    // Attributes go with their block.
    if (top.kind === 'insert' && top.attributes.includes(entity as never)) return;
    const plate = seen.around === null ? null : roles[seen.around]!;
    let fate: Fate = 'rest';
    for (let i = 0; i < tests.length && fate === 'rest'; i++) {
      const meets = tests[i]!(seen, plate);
      if (meets === 'undecided') fate = 'undecided';
      else if (meets) fate = i;
    }
    const known = fates.get(entity);
    if (known === undefined) {
      ctx.look();
      fates.set(entity, fate);
    } else if (known !== fate) torn.add(entity);
  });
  for (const e of torn) {
    ctx.leave('shown-as-different-things', e);
    fates.delete(e);
  }
  return fates;
}

function tellAll(
  ctx: StepContext,
  rules: readonly LayerCondition[],
  taken: readonly number[],
  moved: number,
  undecided: number,
  undecidedLayer: string,
  over: ReadonlyMap<string, number>,
): void {
  const counts = rules.map((r, i) => `${r.to.trim()} ${taken[i]}`);
  const rest = [...over.values()].reduce((sum, n) => sum + n, 0);
  if (rest > 0) counts.push(`the rest ${rest}`);
  tellChange(ctx, 'layers', moved, because('sorted-by-rules', { counts: counts.join(', ') }));
  tellChange(ctx, 'layers', undecided, because('depth-undecided', { layer: undecidedLayer }));
  const idle = rules.flatMap((r, i) => (taken[i] === 0 ? [r.to.trim()] : []));
  if (idle.length > 0) ctx.leave(because('rules-idle', { rules: idle.join(', ') }), undefined, idle.length);
}

function layersInUse(drawing: Drawing): ReadonlySet<string> {
  const names = new Set<string>();
  const look = (e: Entity): void => {
    names.add(e.layer);
    if (e.kind === 'insert') for (const a of e.attributes) names.add(a.layer);
  };
  drawing.entities.forEach(look);
  for (const b of drawing.blocks.values()) b.entities.forEach(look);
  return new Set([...names].map((name) => layerKey(drawing, name)));
}
