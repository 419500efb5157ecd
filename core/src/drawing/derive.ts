import type { Draft, Entity, EntityKind } from './entity.js';

type Of<K extends EntityKind> = Extract<Entity, { kind: K }>;
type Base = Pick<Entity, keyof Entity>;

/** What an entity is made of beside what every entity has. */
type Made<K extends EntityKind> = Omit<Of<K>, keyof Base> & { kind: K } & Partial<Omit<Base, 'kind'>>;

/**
 * An entity that comes of another: the only way to make one, so that nothing an entity carries is forgotten here and kept there.
 *
 * - `whole`: it is what becomes of the other, or the first of several: it has its handle and its extended data.
 * - `piece`: one more of several, or something that stands beside it: what can belong to one thing only stays behind.
 *
 * Layer, look, group, plane, sheet, thickness, classes and clips go along either way; what `made` states counts before them,
 * and what it states as `undefined` goes. Tags of the record (`rest`) belong to the kind it was and never go along.
 */
export function derive<K extends EntityKind>(from: Entity, as: 'whole' | 'piece', made: Made<K>): Of<K> {
  const { id, layer, look } = from;
  const out: Record<string, unknown> = { kind: made.kind, id, layer, look };
  for (const name of SHARED) if (from[name] !== undefined) out[name] = from[name];
  if (as === 'whole') for (const name of OWN) if (from[name] !== undefined) out[name] = from[name];
  for (const [name, value] of Object.entries(made)) {
    if (value !== undefined) out[name] = value;
    else delete out[name];
  }
  return out as unknown as Of<K>;
}

/** What all pieces share. */
const SHARED = ['node', 'normal', 'sheet', 'thickness', 'clipTo', 'tile', 'classes'] as const;
/** What can belong to one thing only. */
const OWN = ['key', 'extended'] as const;

/** What is left of an entity's base; the compiler asks where a new field of all entities belongs. */
type Decided = (typeof SHARED)[number] | (typeof OWN)[number] | 'kind' | 'id' | 'layer' | 'look' | 'rest';
const everyFieldIsDecided: Exclude<keyof Draft<Base>, Decided> extends never ? true : never = true;
void everyFieldIsDecided;

/** The insert that shows an entity by its block, where and as large as the block is. */
export const insertOf = (e: Entity, block: string): Of<'insert'> =>
  derive(e, 'whole', {
    kind: 'insert',
    block,
    at: [0, 0, 0],
    scale: [1, 1, 1],
    rotation: 0,
    columns: 1,
    rows: 1,
    columnSpacing: 0,
    rowSpacing: 0,
    attributes: [],
    normal: undefined,
  });
