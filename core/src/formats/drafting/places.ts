import type { Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import type { Ledger, LedgerEntry } from '../../drawing/ledger.js';
import { curveKey } from '../../drawing/ledger.js';
import { hex } from '../../drawing/palette.js';
import { walk } from '../../drawing/resolve.js';

/** Where an entity comes to lie in model space: its layer and colour there, and the scale. */
export interface Place {
  /** `curveKey` of its layer and colour once inserts have had their say. */
  key: string;
  /** The same with the colour that it is filled with. */
  fillKey: string;
  scale: number;
}

/**
 * The places of the entities that `wanted` picks: one for each time an insert shows them, none for what lies on a sheet
 * or in a block that nobody inserts. The ledger counts by them, as the proof does.
 */
export function placesOf(drawing: Drawing, wanted: (e: Entity) => boolean): Map<Entity, Place[]> {
  const places = new Map<Entity, Place[]>();
  walk(
    drawing,
    ({ entity: e, resolved: r, toWorld: m }) => {
      if (!wanted(e)) return;
      const filled = r.fill ?? r.stroke ?? 0;
      const rgb = e.kind === 'hatch' || r.stroke === null ? filled : r.stroke;
      const place = {
        key: curveKey(r.layer, hex(rgb)),
        fillKey: curveKey(r.layer, hex(filled)),
        scale: Math.sqrt(Math.abs(m[0] * m[4] - m[1] * m[3])),
      };
      const list = places.get(e);
      if (list) list.push(place);
      else places.set(e, [place]);
    },
    { hidden: true },
  );
  return places;
}

/**
 * Adds the row that `at` gives for each place of an entity. What comes to lie in none (on a sheet, in a block that nobody
 * inserts) becomes the same, and its row counts for nothing that is measured.
 */
export function tellEach(ledger: Ledger, places: readonly Place[], at: (place: Place) => LedgerEntry): void {
  for (const place of places) ledger.add(at(place));
  if (places.length > 0) return;
  const { added: _a, filled: _f, deviation: _d, becomes, ...entry } = at({ key: '', fillKey: '', scale: 0 });
  ledger.add({ ...entry, ...(becomes && { becomes: { ...becomes, gone: 0, entities: 0 } }) });
}
