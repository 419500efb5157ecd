import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { EntityRef } from '../drawing/entity-ref.js';
import { refOf, resolveRef } from '../drawing/entity-ref.js';
import type { PartsFound } from './find.js';
import type { SaidOfPart } from './said.js';

/** A part as it is kept: its outline, the block it stands in where it stands in one, and which of several such it is. */
export interface PartRef {
  readonly outline: EntityRef;
  readonly placed: EntityRef | null;
  readonly copy: number;
}

/** What was decided about a part. */
export interface KeptPart {
  readonly part: PartRef;
  /** Empty where it has none yet. */
  readonly number: string;
  /** A person gave the number: it goes before what the drawing says. */
  readonly byHand?: boolean;
  /** What a person says of it, which goes before what the drawing says. */
  readonly words?: Omit<SaidOfPart, 'number'>;
  /** It is knowingly left out of files, and why. */
  readonly leftOut?: string;
}

/** What was decided about a drawing's parts as it lives on from one revision to the next. */
export interface KeptNumbers {
  readonly given: readonly KeptPart[];
  /** Numbers of parts that are gone: never given again. */
  readonly retired: readonly string[];
}

export const NO_NUMBERS: KeptNumbers = { given: [], retired: [] };

/** What stands where an outline is drawn, for finding the part again: the outline, and what it is placed by. */
const standsIn = ({ visits, rings, parts }: PartsFound, i: number): { entity: Entity; top: Entity } => {
  const { entity, top } = visits[rings[parts[i]!.outer]!.owner]!;
  return { entity, top };
};

/** The parts by what they stand in, several of one outline in the order in which they are seen. */
function byPlace(found: PartsFound): Map<Entity, Map<Entity, number[]>> {
  const out = new Map<Entity, Map<Entity, number[]>>();
  found.parts.forEach((_, i) => {
    const { entity, top } = standsIn(found, i);
    let inner = out.get(top);
    if (!inner) out.set(top, (inner = new Map()));
    const list = inner.get(entity);
    if (list) list.push(i);
    else inner.set(entity, [i]);
  });
  return out;
}

/** Parts as they are kept, by their places. */
export function partRefs(drawing: Drawing, found: PartsFound): (i: number) => PartRef {
  const copies = new Int32Array(found.parts.length);
  for (const inner of byPlace(found).values())
    for (const list of inner.values()) list.forEach((i, copy) => (copies[i] = copy));
  return (i) => {
    const { entity, top } = standsIn(found, i);
    return { outline: refOf(entity, drawing), placed: top === entity ? null : refOf(top, drawing), copy: copies[i]! };
  };
}

/**
 * Which parts of a drawing are those that something was decided about before: an outline is found again by its place, its shape and
 * its key, as everything that is kept of a drawing is. What is not found is `gone`, with its number.
 */
export function keptAgain(
  drawing: Drawing,
  found: PartsFound,
  { given }: KeptNumbers,
): { of: ReadonlyMap<number, KeptPart>; gone: readonly KeptPart[] } {
  const places = byPlace(found);
  const of = new Map<number, KeptPart>();
  const gone: KeptPart[] = [];
  for (const kept of given) {
    const entity = resolveRef(kept.part.outline, drawing);
    const top = kept.part.placed === null ? entity : resolveRef(kept.part.placed, drawing);
    const part = entity && top ? places.get(top)?.get(entity)?.[kept.part.copy] : undefined;
    if (part === undefined || of.has(part)) gone.push(kept);
    else of.set(part, kept);
  }
  return { of, gone };
}
