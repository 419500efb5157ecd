import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { shapeOf } from '../drawing/entity-shape.js';

/** An entity and what was found of it: `place` is where it stands in the order of its `space`. */
export interface Pair {
  want: Entity;
  got: Entity;
  space: string;
  place: number;
}

export interface Paired {
  pairs: Pair[];
  lost: { entity: Entity; space: string }[];
  extra: { entity: Entity; space: string }[];
}

/** The spaces that entities lie in: model space, each sheet, each block, by a folded name. */
function spacesOf(d: Drawing, renamed?: ReadonlyMap<string, string>): Map<string, Entity[]> {
  const out = new Map<string, Entity[]>();
  const list = (name: string): Entity[] => {
    let l = out.get(name);
    if (!l) out.set(name, (l = []));
    return l;
  };
  for (const e of d.entities) list(e.sheet === undefined ? 'model' : `sheet ${e.sheet.toLowerCase()}`).push(e);
  for (const b of d.blocks.values())
    if (!b.sheet)
      for (const e of b.entities) list(`block ${(renamed?.get(b.name.toLowerCase()) ?? b.name).toLowerCase()}`).push(e);
  return out;
}

/** A handle in its one form. */
const handle = (key: string): string => (/^[1-9A-F][0-9A-F]*$/.test(key) ? key : key.replace(/^0+/, '').toUpperCase());

/**
 * Finds each entity of a drawing again in another: by its handle where the kind is the same; then what is the same in all
 * its numbers, in the order of the file; then what is of the same kind and layer, in the order of the file. Spaces that lost
 * their name are looked through by handles alone. `renamed`: what blocks of the first are called in the second.
 */
export function pairEntities(expected: Drawing, found: Drawing, renamed: ReadonlyMap<string, string>): Paired {
  const [want, got] = [spacesOf(expected, renamed), spacesOf(found)];
  const out: Paired = { pairs: [], lost: [], extra: [] };
  const open = new Map<string, Entity[]>();
  const free = new Map<string, { e: Entity; place: number }[]>();
  // Most files hold the same handles in the same order.
  for (const [space, list] of want) {
    const there = got.get(space) ?? [];
    const left: Entity[] = [];
    const rest: { e: Entity; place: number }[] = [];
    for (let i = 0; i < Math.max(list.length, there.length); i++) {
      const [e, f] = [list[i], there[i]];
      if (e && f && e.key !== undefined && f.key !== undefined && e.kind === f.kind && handle(e.key) === handle(f.key))
        out.pairs.push({ want: e, got: f, space, place: i });
      else {
        if (e) left.push(e);
        if (f) rest.push({ e: f, place: i });
      }
    }
    if (left.length > 0) open.set(space, left);
    if (rest.length > 0) free.set(space, rest);
  }
  for (const [space, list] of got)
    if (!want.has(space))
      free.set(
        space,
        list.map((e, place) => ({ e, place })),
      );
  if (open.size > 0) pairTheRest(expected, found, open, free, out);
  for (const [space, list] of open) for (const entity of list) out.lost.push({ entity, space });
  for (const [space, list] of free) for (const { e } of list) out.extra.push({ entity: e, space });
  return out;
}

/** Pairs what does not stand in the same place; what stays open or free is left in the maps. */
function pairTheRest(
  expected: Drawing,
  found: Drawing,
  open: Map<string, Entity[]>,
  free: Map<string, { e: Entity; place: number }[]>,
  out: Paired,
): void {
  const taken = new Set<Entity>();
  const byHandle = new Map<string, { e: Entity; place: number }>();
  for (const list of free.values()) for (const f of list) if (f.e.key !== undefined) byHandle.set(handle(f.e.key), f);
  const pair = (e: Entity, f: { e: Entity; place: number }, space: string): false => {
    taken.add(f.e);
    out.pairs.push({ want: e, got: f.e, space, place: f.place });
    return false;
  };
  const alike: readonly ((e: Entity, d: Drawing) => string)[] = [
    (e, d) => `${e.layer.toLowerCase()} ${shapeKey(e, d)}`,
    (e) => `${e.layer.toLowerCase()} ${e.kind}`,
  ];
  for (const [space, list] of open) {
    let left = list.filter((e) => {
      const there = e.key === undefined ? undefined : byHandle.get(handle(e.key));
      return there && there.e.kind === e.kind && !taken.has(there.e) ? pair(e, there, space) : true;
    });
    for (const keyOf of alike) {
      if (left.length === 0) break;
      const by = new Map<string, { e: Entity; place: number }[]>();
      for (const f of free.get(space) ?? []) {
        if (taken.has(f.e)) continue;
        const key = keyOf(f.e, found);
        const same = by.get(key);
        if (same) same.push(f);
        else by.set(key, [f]);
      }
      // The first of those that are alike; taken from the end of a list turned round.
      for (const same of by.values()) same.reverse();
      left = left.filter((e) => {
        const one = by.get(keyOf(e, expected))?.pop();
        return one ? pair(e, one, space) : true;
      });
    }
    open.set(space, left);
  }
  for (const [space, list] of free)
    free.set(
      space,
      list.filter((f) => !taken.has(f.e)),
    );
  // In the order of the drawing again.
  const order = new Map<Entity, number>();
  let n = 0;
  for (const list of spacesOf(expected).values()) for (const e of list) order.set(e, n++);
  out.pairs.sort((p, q) => order.get(p.want)! - order.get(q.want)!);
}

/** What an entity is, to nine digits. */
function shapeKey(e: Entity, d: Drawing): string {
  const { words, places, rest } = shapeOf(e, d, new Map());
  return `${words} ${[...places, ...rest].map((v) => Number(v.toPrecision(9))).join(' ')}`;
}
