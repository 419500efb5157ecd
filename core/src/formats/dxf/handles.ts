import type { Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';

/** Gives out handles. Those that the source's entities have are kept; all others lie above the highest of them. */
export class Handles {
  private kept = new Set<string>();
  private next: number;

  constructor(drawing: Drawing) {
    let most = 0xff;
    if (drawing.format === 'dxf') {
      const meet = (e: Entity): void => {
        const h = /^[0-9A-Fa-f]{1,12}$/.test(e.key ?? '') ? parseInt(e.key!, 16) : 0;
        if (h > most) most = h;
        if (e.kind === 'insert') e.attributes.forEach(meet);
      };
      drawing.entities.forEach(meet);
      for (const b of drawing.blocks.values()) b.entities.forEach(meet);
    }
    this.next = most + 1;
  }

  fresh(): string {
    return (this.next++).toString(16).toUpperCase();
  }

  /** The entity's own handle if it has a legal one that nobody else has taken, otherwise a fresh one. */
  keep(key: string | undefined, sameFormat: boolean): string {
    if (sameFormat && key && /^[0-9A-Fa-f]{1,12}$/.test(key)) {
      const upper = key.toUpperCase().replace(/^0+(?=.)/, '');
      if (upper !== '0' && !this.kept.has(upper)) {
        this.kept.add(upper);
        return upper;
      }
    }
    return this.fresh();
  }

  /** The seed: above every handle given out. */
  get seed(): string {
    return this.next.toString(16).toUpperCase();
  }
}
