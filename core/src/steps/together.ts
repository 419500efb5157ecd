import type { Appearance } from '../drawing/appearance.js';
import type { Entity } from '../drawing/entity.js';
import { p } from '../parameters/parameter.js';

/** What happens where several become one and their layers or looks differ; chosen once for all steps of a drawing. */
export const TOGETHER = {
  together: p.choice({
    title: 'Where layers or looks differ',
    default: 'apart',
    choices: { apart: 'Keep apart', first: 'As the first of them', most: 'As most of them' },
  }),
};
export type Together = 'apart' | 'first' | 'most';

/** Tells which entities may become one, and like which of them. */
export class Alike {
  private readonly looks = new WeakMap<Appearance, string>();

  constructor(private readonly mode: Together) {}

  /** Entities of different keys are kept apart. Planes and thickness always count. */
  key(e: Entity): string {
    const place = `${e.thickness ?? 0} ${e.clipTo ? e.id : ''}`;
    return this.mode === 'apart' ? `${this.kind(e)}|${place}` : place;
  }

  /** What becomes of several is derived of this one; `weight` tells how much each counts. They come in draw order. */
  model<E extends Entity>(list: readonly E[], weight: (e: E) => number): E {
    if (this.mode !== 'most') return list[0]!;
    const sums = new Map<string, number>();
    for (const e of list) sums.set(this.kind(e), (sums.get(this.kind(e)) ?? 0) + weight(e));
    const most = [...sums].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
    return list.find((e) => this.kind(e) === most)!;
  }

  private kind(e: Entity): string {
    let look = this.looks.get(e.look);
    if (look === undefined) this.looks.set(e.look, (look = JSON.stringify(e.look)));
    return `${e.layer.toLowerCase()}|${e.node ?? ''}|${look}`;
  }
}
