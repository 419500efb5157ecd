import { IDENTITY, applyPoint } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { Drawing } from './drawing.js';
import type { Entity, Insert } from './entity.js';
import { KINDS } from './kinds.js';
import { BoundsSink, addEntityBounds } from './measures.js';
import { insertMatrix } from './resolve.js';

/**
 * How far blocks reach at most, hidden content and all: enough to tell that an insert adds nothing to a box without
 * looking at what is in it.
 */
export class BlockReach {
  private readonly known = new Map<string, Box2 | null>();

  constructor(private readonly blocks: Drawing['blocks']) {}

  /** Whether an insert lies within a box for certain; `false` says nothing. */
  within(insert: Insert, box: Box2): boolean {
    const own = this.placed(insert);
    return own !== null && (own.empty || (box.holds(own.minX, own.minY, 0) && box.holds(own.maxX, own.maxY, 0)));
  }

  /** A box around an insert; `null` where it takes more than the box of its block to tell. */
  private placed(insert: Insert): Box2 | null {
    if (insert.normal !== undefined || insert.attributes.length > 0 || insert.columns * insert.rows !== 1) return null;
    const block = this.of(insert.block.toLowerCase());
    if (!block || block.empty) return block;
    const m = insertMatrix(insert, this.blocks.get(insert.block.toLowerCase()));
    const out = new Box2();
    for (const x of [block.minX, block.maxX])
      for (const y of [block.minY, block.maxY]) {
        const p = applyPoint(m, [x, y, 0]);
        out.add(p[0], p[1]);
      }
    return out;
  }

  private of(key: string): Box2 | null {
    const known = this.known.get(key);
    if (known !== undefined) return known;
    // A block that meets itself further in is not told of.
    this.known.set(key, null);
    const box = this.boxOf(this.blocks.get(key)?.entities ?? []);
    this.known.set(key, box);
    return box;
  }

  private boxOf(entities: readonly Entity[]): Box2 | null {
    const sink = new BoundsSink();
    for (const e of entities) {
      if (e.kind === 'insert') {
        const inner = this.placed(e);
        if (!inner) return null;
        sink.box.addBox(inner);
      } else if (KINDS[e.kind].shown === 'parts') return null;
      else addEntityBounds(e, IDENTITY, sink);
    }
    return sink.box;
  }
}
