import type { Drawing } from './drawing.js';
import type { Entity } from './entity.js';
import { shapeOf } from './entity-shape.js';

/**
 * A picked entity as it is kept with a plan: `kind/print/source key`. Ids follow the order of reading, so one entity more
 * in the next revision would make them mean another; the key and the print of the shape go with the entity itself.
 */
export type EntityRef = string;

/** What SVG elements without an id are called: by their line, which moves with whatever stands above them. */
const BY_LINE = /^line \d+$/;

/** The print of an entity's shape: FNV-1a (32 bits) over its words and its numbers to nine digits. */
function printOf(e: Entity, drawing: Drawing): string {
  const { words, places, rest } = shapeOf(e, drawing, new Map());
  const text = `${words} ${[...places, ...rest].map((v) => Number(v.toPrecision(9))).join(' ')}`;
  let sum = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) sum = Math.imul(sum ^ text.charCodeAt(i), 0x01000193);
  return (sum >>> 0).toString(16).padStart(8, '0');
}

/** The reference to keep of an entity of the drawing. */
export const refOf = (e: Entity, drawing: Drawing): EntityRef => `${e.kind}/${printOf(e, drawing)}/${e.key ?? ''}`;

/**
 * The entity that a reference means in a drawing, among those in no block: the one of its shape (and key, where several
 * have the shape), else the one of its key, which was redrawn. `null` where that would be a guess.
 */
export function resolveRef(ref: EntityRef, drawing: Drawing): Entity | null {
  const match = /^(\w+)\/([0-9a-f]{8})\/(.*)$/s.exec(ref);
  if (!match) return null;
  const [, kind, print, key] = match;
  const sameKind = drawing.entities.filter((e) => e.kind === kind);
  const sameShape = sameKind.filter((e) => printOf(e, drawing) === print);
  const keyed = (list: readonly Entity[]): Entity[] => list.filter((e) => e.key === key);
  if (sameShape.length === 1) return sameShape[0]!;
  if (key === '') return null;
  const [one, another] = keyed(sameShape.length > 0 ? sameShape : sameKind);
  if (one === undefined || another !== undefined) return null;
  return sameShape.length === 0 && BY_LINE.test(key!) ? null : one;
}
