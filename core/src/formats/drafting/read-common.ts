import type { Vec3 } from '../../geometry/vector.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { Entity } from '../../drawing/entity.js';
import type { Bag } from './bag.js';
import type { LookReader } from './read-look.js';
import type { CodeSet } from './rest.js';
import { extendedOf, restOf } from './rest.js';

/** What every entity record states, in the shape all entities share. */
export interface Common {
  id: number;
  key?: string;
  layer: string;
  look: Appearance;
  normal?: Vec3;
  sheet?: string;
  thickness?: number;
  extended?: string;
  rest?: string;
}

/** What the entities of paper space are marked with until the layouts are known. */
export const ON_PAPER = '*paper_space';
/** What a sheet is called that a file or a format needs and nobody named. */
export const MADE_SHEET = 'Sheet 1';

export function readCommon(bag: Bag, looks: LookReader, id: number, filled: boolean, known?: CodeSet): Common {
  const common: Common = { id, layer: bag.has(8) ? bag.text(8) : '0', look: looks.read(bag, filled) };
  const handle = bag.find(5);
  if (handle >= 0) common.key = bag.textAt(handle);
  if (bag.has(210) || bag.has(230)) {
    const n: Vec3 = [bag.number(210), bag.number(220), bag.number(230, 1)];
    if ((n[0] !== 0 || n[1] !== 0 || n[2] <= 0) && (n[0] || n[1] || n[2])) common.normal = n;
  }
  if (bag.has(67) && bag.integer(67) === 1) common.sheet = ON_PAPER;
  const extended = extendedOf(bag);
  if (extended !== undefined) common.extended = extended;
  if (known) {
    if (known[39] === 1 && bag.has(39)) {
      const thickness = bag.number(39);
      if (thickness !== 0) common.thickness = thickness;
    }
    const rest = restOf(bag, known);
    if (rest !== undefined) common.rest = rest;
  }
  return common;
}

/** How one kind of record is read: the codes it is understood by, and the entity it gives (`null`: it makes no sense). */
export interface EntityReader {
  known: CodeSet;
  filled?: boolean;
  read(bag: Bag, common: Common): Entity | null;
}
