import type { Appearance } from '../drawing/appearance.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { refOf, resolveRef } from '../drawing/entity-ref.js';
import { hex } from '../drawing/palette.js';
import type { Stage } from '../drawing/lineage.js';
import { paintRgb } from '../drawing/resolve.js';
import type { ChartRow, Kept, KeptValue } from '../parameters/parameter.js';
import { MOST_GIVEN_BACK, giveLayersBack } from '../steps/give-layers-back.js';
import type { PlannedStep } from '../steps/step.js';
import { plannedStep } from '../steps/step.js';

/** What each object of a drawing was at the beginning of some stages; several where it was made of several. */
export function originsOf(stages: readonly Stage[]): (e: Entity) => readonly Entity[] {
  const first = stages[0];
  let known = new Map<Entity, readonly Entity[]>((first?.before.entities ?? []).map((e) => [e, [e]]));
  for (const { before, after, descents } of stages) {
    const next = new Map<Entity, readonly Entity[]>();
    for (const { from, to } of descents) {
      const origins = [...new Set(from.flatMap((e) => known.get(e) ?? []))];
      for (const e of to) next.set(e, origins);
    }
    // What only moved with everything keeps its id.
    const byId = new Map(before.entities.map((e) => [e.id, e]));
    for (const e of after.entities) {
      if (next.has(e)) continue;
      const was = known.has(e) ? e : byId.get(e.id);
      next.set(e, (was && known.get(was)) ?? []);
    }
    known = next;
  }
  return (e) => known.get(e) ?? (stages.length === 0 ? [e] : []);
}

/** An object of a file that left, with what it was before. */
export interface Sent {
  /** As it was read back from the file. */
  readonly entity: Entity;
  /** The object of the source that it came from; `null` where it came from none, or from several of different layers. */
  readonly was: Entity | null;
}

/** What came back of what left. */
export interface CameBack {
  /** Objects found again in their place, and by their handle where they were moved or redrawn. */
  readonly byPlace: number;
  readonly byHandle: number;
  /** Objects that left and are not there any more. */
  readonly gone: number;
  /** Objects that are new: those that the chart backwards gives a layer, and those that stay undecided, by layer. */
  readonly fresh: number;
  readonly charted: number;
  readonly undecided: readonly { readonly layer: string; readonly objects: number; readonly from: readonly string[] }[];
  /** The step that gives the layers back; `null` where nothing is to be given. */
  readonly step: PlannedStep | null;
  /** Objects beyond what one step can hold. */
  readonly beyond: number;
}

/**
 * Finds the objects of a file that left in the one that came back, first in their place, then by their handle, and makes the step that gives
 * each its own layer and look again. What is new goes the chart backwards where a layer came from one alone.
 */
export function comingBack(source: Drawing, sent: readonly Sent[], file: Drawing, returned: Drawing): CameBack {
  const taken = new Set<Entity>();
  let [byPlace, byHandle, beyond, given] = [0, 0, 0, 0];
  type Group = { readonly look: Kept; readonly picked: string[] };
  const groups = new Map<string, Group>();
  const printOf = (ref: string): string => ref.split('/').slice(0, 2).join('/').split('.')[0]!;
  const open: { s: Sent; ref: string }[] = [];
  const give = (e: Entity, was: Entity | null): void => {
    taken.add(e);
    if (!was) return;
    if (++given > MOST_GIVEN_BACK) return void beyond++;
    const look = { layer: was.layer, ...lookOf(was.look) };
    const key = JSON.stringify(look);
    const group: Group = groups.get(key) ?? { look, picked: [] };
    group.picked.push(refOf(e, returned));
    groups.set(key, group);
  };
  // In their place first, so that no handle that was given anew takes what lies where it lay.
  for (const s of sent) {
    const ref = refOf(s.entity, file);
    const found = resolveRef(ref, returned);
    if (found && !taken.has(found) && printOf(refOf(found, returned)) === printOf(ref)) {
      byPlace++;
      give(found, s.was);
    } else open.push({ s, ref });
  }
  let gone = 0;
  for (const { s, ref } of open) {
    const found = resolveRef(ref, returned);
    if (found && !taken.has(found)) {
      byHandle++;
      give(found, s.was);
    } else gone++;
  }
  const fresh = returned.entities.filter((e) => e.sheet === undefined && !taken.has(e));
  const { chart, from } = backwards(sent, file);
  const rows = fresh.filter((e) => chart.has(layerKey(file, e.layer)));
  const left = new Map<string, number>();
  for (const e of fresh) if (!chart.has(layerKey(file, e.layer))) left.set(e.layer, (left.get(e.layer) ?? 0) + 1);
  const params: Kept = {
    objects: [...groups.values()].map(({ look, picked }) => ({ ...look, picked })),
    layers: layersOf(source, new Set([...groups.values()].map((g) => String(g.look['layer'])))),
    chart: [...chart.values()] as unknown as KeptValue,
  };
  const any = groups.size > 0 || rows.length > 0;
  return {
    ...{ byPlace, byHandle, gone, fresh: fresh.length, charted: rows.length, beyond },
    undecided: [...left].map(([layer, objects]) => ({ layer, objects, from: from.get(layerKey(file, layer)) ?? [] })),
    step: any ? plannedStep(giveLayersBack, 'layers-back', params) : null,
  };
}

/** The chart backwards: layers of the file that came from one layer alone; of the others, from which. */
function backwards(
  sent: readonly Sent[],
  file: Drawing,
): { chart: Map<string, ChartRow>; from: Map<string, string[]> } {
  const from = new Map<string, Set<string>>();
  const names = new Map<string, string>();
  for (const { entity, was } of sent) {
    const key = layerKey(file, entity.layer);
    names.set(key, entity.layer);
    const known = from.get(key) ?? new Set<string>();
    if (was) known.add(was.layer);
    from.set(key, known);
  }
  const chart = new Map<string, ChartRow>();
  for (const [key, sources] of from) {
    const [only] = sources;
    if (sources.size === 1 && only !== names.get(key)) chart.set(key, { from: names.get(key)!, to: only! });
  }
  return { chart, from: new Map([...from].map(([k, s]) => [k, [...s]])) };
}

const colourOf = (paint: Appearance['stroke']): string | null => {
  const rgb = paint.kind === 'byLayer' || paint.kind === 'byBlock' ? null : paintRgb(paint);
  return rgb === null ? null : hex(rgb);
};

function lookOf({ stroke, width, dash }: Appearance): Kept {
  const linetype = dash.kind === 'linetype' && dash.name.toLowerCase() !== 'bylayer' ? dash.name : '';
  return { colour: colourOf(stroke), weight: width.kind === 'paper' ? width.mm : null, linetype };
}

/** Layers of the source as they looked. */
const layersOf = (source: Drawing, names: ReadonlySet<string>): KeptValue =>
  source.layers
    .filter((l) => names.has(l.name))
    .map((l) => ({
      // The foreground is what a layer has by itself.
      colour: l.paint.kind === 'index' && l.paint.index === 7 ? null : colourOf(l.paint),
      ...{ name: l.name, weight: l.weight },
      linetype: l.linetype.toLowerCase() === 'continuous' ? '' : l.linetype,
    }));
