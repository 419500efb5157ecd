import type { Drawing, Sheet } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import type { RawTag } from './raw-tags.js';
import { handleOf, parseRaw, rawValue } from './raw-tags.js';

/** The objects of a drawing that mean something to the model, found among those that are carried. */
export class ObjectIndex {
  private readonly byKey = new Map<string, { type: string; raw: string }>();

  constructor(private readonly drawing: Drawing) {
    for (const o of drawing.carried.objects) if (o.key) this.byKey.set(o.key, o);
  }

  private ofType(type: string): { key: string; tags: RawTag[] }[] {
    return this.drawing.carried.objects
      .filter((o) => o.type === type)
      .map((o) => ({ key: o.key, tags: parseRaw(o.raw) }));
  }

  /**
   * The sheets in the order of their tabs. `blockOf` gives the name of the block whose record has a handle. A layout's
   * plot settings come before its own tags; paper is given in mm, or in inches when 72 is 0 (DXF reference, LAYOUT).
   */
  sheets(blockOf: (handle: string) => string | undefined): Sheet[] {
    const found: Sheet[] = [];
    for (const { tags } of this.ofType('LAYOUT')) {
      const split = tags.findIndex(([c, v]) => c === 100 && v.trim() === 'AcDbLayout');
      if (split < 0) continue;
      const plot = tags.slice(0, split);
      const own = tags.slice(split);
      const owner = handleOf(rawValue(own, 330));
      const block = owner === null ? undefined : blockOf(owner);
      if (block === undefined || /^\*model_space$/i.test(block)) continue;
      const n = (code: number): number => Number(rawValue(plot, code) ?? 0) || 0;
      const scale = [n(142), n(143)];
      const inches = n(72) === 0;
      const k = inches ? 1 / 25.4 : 1;
      const unitsPerMm = scale[0]! > 0 && scale[1]! > 0 ? (scale[1]! / scale[0]!) * k : k;
      found.push({
        name: rawValue(own, 1) ?? '',
        block,
        order: Number(rawValue(own, 71) ?? 0) || 0,
        ...(n(44) > 0 && n(45) > 0
          ? { paper: { width: n(44), height: n(45), marginLeft: n(40), marginBottom: n(41) } }
          : {}),
        unitsPerMm,
      });
    }
    return found.sort((a, b) => a.order - b.order);
  }

  /** The path of an image definition. */
  pictureFile(handle: string): string | undefined {
    const o = this.byKey.get(handle);
    return o?.type === 'IMAGEDEF' ? rawValue(parseRaw(o.raw), 1) : undefined;
  }

  /** The order of drawing per space (by the handle of its block record): entity handle → handle to sort by. */
  sortTables(): Map<string, Map<string, number>> {
    const out = new Map<string, Map<string, number>>();
    for (const { tags } of this.ofType('SORTENTSTABLE')) {
      const own = tags.slice(tags.findIndex(([c, v]) => c === 100 && v.trim() === 'AcDbSortentsTable') + 1);
      const space = handleOf(rawValue(own, 330));
      if (space === null) continue;
      const order = new Map<string, number>();
      let entity: string | null = null;
      for (const [code, value] of own) {
        if (code === 331) entity = handleOf(value);
        else if (code === 5 && entity) order.set(entity, parseInt(handleOf(value) ?? '0', 16));
      }
      out.set(space, order);
    }
    return out;
  }
}

/** Puts entities in the order of a sort table; those it does not list sort by their own handle. Stable. */
export function inDrawOrder(entities: Entity[], order: Map<string, number>): Entity[] {
  const rank = (e: Entity): number => {
    const key = handleOf(e.key);
    if (key === null) return Infinity;
    return order.get(key) ?? parseInt(key, 16);
  };
  const ranked = entities.map((e) => ({ e, rank: rank(e) }));
  ranked.sort((a, b) => (a.rank === b.rank ? 0 : a.rank - b.rank));
  return ranked.map((r) => r.e);
}
