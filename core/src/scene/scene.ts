import type { Entity } from '../drawing/entity.js';

/**
 * A drawing cut into what a graphics card takes, per layer. Coordinates are relative to `origin`, so that single
 * precision is enough however far the drawing lies from its own origin. z is the draw order, 0 to 1.
 */
export interface Scene {
  origin: [number, number];
  /** In the drawing's coordinates. */
  bounds: { minX: number; minY: number; maxX: number; maxY: number } | null;
  /** Of what is not hidden: what a person expects to see at first. */
  visibleBounds: { minX: number; minY: number; maxX: number; maxY: number } | null;
  layers: SceneLayer[];
  items: SceneItems;
  pictures: ScenePicture[];
  /** Number of chords and triangles, for the record. */
  chords: number;
  triangles: number;
}

export interface SceneLayer {
  name: string;
  /** x, y, z of both ends of each chord. */
  lines: Float32Array;
  /** r, g, b, a per end; a colour that follows the ground has alpha 254. */
  lineColours: Uint8Array;
  /** x, y, z of each corner of each triangle. */
  triangles: Float32Array;
  triangleColours: Uint8Array;
  /** The id of the entity of the space that each chord, and each triangle, belongs to. */
  lineOwners: Uint32Array;
  triangleOwners: Uint32Array;
  /**
   * The width of each chord: above 0 in the drawing's unit, below 0 in millimetres on paper, 0 for a hairline. Empty
   * when all are hairlines.
   */
  lineWidths: Float32Array;
  /** Which ends of each chord are round: 1 the first, 2 the second. As long as the widths. */
  lineEnds: Uint8Array;
  /** How far along its curve each chord begins; only where dashes of the viewport run along curves. */
  lineRuns?: Float32Array;
}

/** A picture where it lies: triangles with the place in the picture of each corner. */
export interface ScenePicture {
  layer: string;
  /** The id of the entity of the space that it belongs to. */
  owner: number;
  /** A `data:` address. */
  data: string;
  opacity: number;
  /** x, y, z of each corner; across and down, 0 to 1, in the picture. */
  corners: Float32Array;
  inPicture: Float32Array;
}

/** The entities of a space as they are drawn, with the box of each: x and y from, x and y to. */
export interface SceneItems {
  entities: Entity[];
  boxes: Float64Array;
}

/** What a snap point is. */
export const SNAP_KINDS = [
  'end',
  'middle',
  'centre',
  'quarter point',
  'crossing',
  'perpendicular',
  'on the curve',
] as const;
export type SnapKind = (typeof SNAP_KINDS)[number];

/** The alpha that marks a colour as the foreground: black on paper, light on night ground. */
export const FOREGROUND_ALPHA = 254;
/** The alpha that marks an area that is thin as a line: letters, wide lines. Its colour is kept legible as a line's is. */
export const THIN_ALPHA = 250;
/** The alpha that marks an area as bare ground: a cover. */
export const PAPER_ALPHA = 252;
