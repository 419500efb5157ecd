import type { Vec3 } from '../../geometry/vector.js';

/** What a DXF says at the beginning of a block and a DWG in the block's record. */
export interface BlockWords {
  /** As group 70 of BLOCK: 1 anonymous, 2 with attribute definitions, 4 a reference, 8 an overlaid one. */
  flags: number;
  base: Vec3;
  /** Path of the reference. */
  path: string;
  description: string;
}
