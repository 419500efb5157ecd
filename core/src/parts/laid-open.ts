import { breakUp } from '../drawing/break-up.js';
import { pathOfRun } from '../drawing/courses.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { PartsFound } from './find.js';

/** What something is to the part that it belongs to. */
export const PART_ROLES = ['outline', 'hole', 'mark', 'label', 'none'] as const;
export type PartRole = (typeof PART_ROLES)[number];

/** How often each role is there. */
export function rolesCounted(roles: Iterable<PartRole>): Record<PartRole, number> {
  const counts = { outline: 0, hole: 0, mark: 0, label: 0, none: 0 };
  for (const role of roles) counts[role]++;
  return counts;
}

/** Something seen of a drawing, with its role and its part by its place among the parts; `null` for what belongs to none. */
export interface LaidOpen {
  readonly entity: Entity;
  readonly role: PartRole;
  readonly part: number | null;
}

/**
 * All that is in sight of a drawing as objects of their own, each with what it is to which part: blocks taken apart, and each closed
 * outline a path of its own. Ids count from 1. What a block shows that cannot be told apart stays whole and belongs to none.
 */
export function laidOpen(drawing: Drawing, found: PartsFound): LaidOpen[] {
  const { visits, rings, parts } = found;
  const roles = new Map<number, { role: PartRole; part: number }>();
  const ofRing = new Map<number, { role: PartRole; part: number }>();
  parts.forEach(({ outer, holes, marks, labels, offered }, part) => {
    ofRing.set(outer, { role: 'outline', part });
    for (const h of holes) ofRing.set(h, { role: 'hole', part });
    for (const m of marks) roles.set(m, { role: 'mark', part });
    for (const l of [...labels, ...offered]) roles.set(l, { role: 'label', part });
  });
  const ringsOf = new Map<number, number[]>();
  rings.forEach((r, i) => {
    // A small outline is a mark, and drawn as the object that it is.
    if (!ofRing.has(i)) return;
    const list = ringsOf.get(r.owner);
    if (list) list.push(i);
    else ringsOf.set(r.owner, [i]);
  });
  const out: LaidOpen[] = [];
  let id = 1;
  const add = (entity: Entity, role: PartRole, part: number | null): void =>
    void out.push({ entity: { ...entity, id: id++ }, role, part });
  const { opened, places } = contentsOf(drawing, found);
  visits.forEach(({ entity, top, resolved }, i) => {
    if (entity.kind === 'insert') return;
    for (const r of ringsOf.get(i) ?? []) {
      const { role, part } = ofRing.get(r)!;
      const path = pathOfRun({ pieces: rings[r]!.pieces, closed: true, z: 0 });
      const look = { ...entity.look, fill: { kind: 'none' as const } };
      add({ kind: 'path', id: 0, path, look, layer: resolved.layer }, role, part);
    }
    if (ringsOf.has(i)) return;
    const { role, part } = roles.get(i) ?? { role: 'none' as const, part: null };
    if (top === entity || top.kind !== 'insert') return add(entity, role, part);
    const contents = opened.get(top)![places[i]!];
    if (contents === top) add(top, 'none', null);
    else if (contents) add(contents, role, part);
  });
  return out;
}

/** What placed blocks show, one by one, and which of it each thing seen is. */
function contentsOf(drawing: Drawing, { visits }: PartsFound): { opened: Map<Entity, Entity[]>; places: Int32Array } {
  const places = new Int32Array(visits.length).fill(-1);
  const counts = new Map<Entity, number>();
  visits.forEach(({ entity, top }, i) => {
    if (entity.kind === 'insert' || top === entity) return;
    const n = counts.get(top) ?? 0;
    places[i] = n;
    counts.set(top, n + 1);
  });
  const opened = new Map<Entity, Entity[]>();
  for (const [top, n] of counts) {
    const contents = top.kind === 'insert' ? breakUp(top, drawing, true) : [];
    // Where they cannot be told apart by their order the block is drawn once, whole.
    opened.set(top, contents.length === n ? contents : [top]);
  }
  return { opened, places };
}
