import type { Drawing } from '../../drawing/drawing.js';
import { isDrafting } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import { HandleSet } from './handle-set.js';

/** Whether a handle is in its one form: capitals without leading zeros. */
const isPlain = (key: string): boolean => key.charCodeAt(0) !== 48 && key === key.toUpperCase();

/** A handle in its one form. */
export const handleText = (h: number): string => h.toString(16).toUpperCase();

/** The number behind a handle, or -1 for what is none. */
export function handleNumber(text: string | undefined): number {
  if (text === undefined || text.length === 0 || text.length > 12) return -1;
  let h = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    const digit = c >= 48 && c <= 57 ? c - 48 : c >= 65 && c <= 70 ? c - 55 : c >= 97 && c <= 102 ? c - 87 : -1;
    if (digit < 0) return -1;
    h = h * 16 + digit;
  }
  return h;
}

/**
 * Gives out handles. Those that the source's records and entities have are kept; all others lie above the highest of
 * them.
 */
export class Handles {
  private readonly taken = new HandleSet();
  private readonly reserved = new HandleSet();
  private next: number;

  constructor(drawing: Drawing) {
    let most = 0xff;
    const highest = (h: number): void => {
      if (h > most) most = h;
    };
    if (isDrafting(drawing)) {
      forEachKey(
        drawing,
        (key) => {
          const h = handleNumber(key);
          this.reserved.addNumber(h);
          highest(h);
        },
        (key) => highest(handleNumber(key)),
      );
    }
    this.next = most + 1;
  }

  fresh(): string {
    return handleText(this.next++);
  }

  /** The record's own handle: records come before entities, so an entity that has the same one gets another. */
  record(key: string | undefined, sameFormat: boolean): string {
    const h = sameFormat ? handleNumber(key) : -1;
    if (h <= 0 || !this.taken.addNumber(h)) return this.fresh();
    return handleText(h);
  }

  /** The entity's own handle if it has a legal one that nobody else has taken, otherwise a fresh one. */
  keep(key: string | undefined, sameFormat: boolean): string {
    const h = this.keepNumber(key, sameFormat);
    return key !== undefined && isPlain(key) && handleNumber(key) === h ? key : handleText(h);
  }

  /** The same as a number. */
  keepNumber(key: string | undefined, sameFormat: boolean): number {
    const h = sameFormat ? handleNumber(key) : -1;
    return h <= 0 || this.reserved.has(h) || !this.taken.addNumber(h) ? this.next++ : h;
  }

  /** The handles that were kept up to now. */
  addKept(to: HandleSet): void {
    to.addAll(this.taken);
  }

  /** The seed: above every handle given out. */
  get seed(): string {
    return handleText(this.next);
  }
}

/** Tells of the handles of a drawing: those of its records (tables, blocks, objects), and on request those of its entities. */
export function forEachKey(
  drawing: Drawing,
  record: (key: string | undefined) => void,
  entity?: (key: string | undefined) => void,
): void {
  for (const list of [drawing.layers, drawing.linetypes, drawing.textStyles, drawing.dimensionStyles]) {
    for (const r of list) record(r.key);
  }
  for (const list of drawing.carried.tables.values()) for (const r of list) record(r.key);
  for (const head of drawing.carried.heads.values()) record(head.key);
  for (const o of drawing.carried.objects) record(o.key);
  for (const b of drawing.blocks.values()) {
    record(b.key);
    record(b.beginKey);
    record(b.endKey);
  }
  if (!entity) return;
  const meet = (e: Entity): void => {
    entity(e.key);
    if (e.kind === 'insert') for (const a of e.attributes) entity(a.key);
  };
  drawing.entities.forEach(meet);
  for (const b of drawing.blocks.values()) b.entities.forEach(meet);
}
