import type { Vec3 } from '../../geometry/vector.js';

/** The tables whose records are referred to by name in a DXF and by handle in a DWG. */
export type NamedTable = 'layer' | 'linetype' | 'style' | 'dimstyle' | 'block' | 'appid' | 'mlinestyle';

/** How a reference is meant (Open Design Specification, "Handle references"). */
export const SOFT_OWNER = 2;
export const HARD_OWNER = 3;
export const SOFT_POINTER = 4;
export const HARD_POINTER = 5;

/** Stands for a field that a DXF has no group code for: read and passed over, written with its default. */
export const NONE = -1;

/**
 * The fields of an object in the order in which a DWG has them. A record's layout is said once, as a function that calls
 * these: on reading each call takes bits and gives a tag with the group code, on writing it takes the tag and gives
 * bits. Each call answers with the value. With a default, a tag of that value is left out, and a missing one stands for it.
 */
export interface Fields {
  /** The version as in `DWG_VERSIONS`. */
  readonly v: number;
  readonly reading: boolean;
  /** The subclass that the following tags belong to; on writing they are looked for there first. */
  mark(name: string): void;
  /** B, BS, BL, BLL, RC, RS, RL: whole numbers. */
  b(code: number, otherwise?: number): number;
  bs(code: number, otherwise?: number): number;
  bl(code: number, otherwise?: number): number;
  rc(code: number, otherwise?: number): number;
  rl(code: number, otherwise?: number): number;
  /** BD, RD. */
  bd(code: number, otherwise?: number): number;
  rd(code: number, otherwise?: number): number;
  /** BD and RD in radians, as a tag in degrees. */
  angle(code: number, otherwise?: number): number;
  rawAngle(code: number, otherwise?: number): number;
  /** BT: a thickness. */
  thickness(): number;
  /** 3BD, 2BD, 2RD. */
  p3(code: number, otherwise?: Vec3): Vec3;
  p2(code: number): readonly [number, number];
  r2(code: number, otherwise?: readonly [number, number]): readonly [number, number];
  /** BE: the direction of extrusion; (0, 0, 1) is left out. */
  extrusion(): void;
  /** The same as 3BD. */
  plainExtrusion(): void;
  /** TV, or from the stream of strings. */
  t(code: number, otherwise?: string): string;
  /** CMC: a colour by index (`code`), from 2004 on by `code` and a true colour in `rgb`. */
  colour(code: number, rgb: number, otherwise?: number): void;
  /** A handle; 0 is left out. */
  h(code: number, ref: number): number;
  /** A handle of a table's record, as its name. */
  name(code: number, table: NamedTable, ref: number, otherwise?: string): void;
  /** Whether the record to be written has the tag; `false` on reading. */
  has(code: number): boolean;
}
