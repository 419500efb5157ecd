import type { Vec3 } from '../geometry/vector.js';
import type { PathData } from '../geometry/path.js';
import type { Appearance } from './appearance.js';

/**
 * What every entity has. Coordinates are the source's own numbers: those of entities with a `normal` lie in the object
 * coordinate system of that direction (see `planeFrame`), all others in the space of their drawing or block.
 */
interface EntityBase {
  /** Unique in the drawing; given by `Drawing.nextId`. */
  id: number;
  /** Where it came from: a handle (DXF), an id or path in the tree (SVG). */
  key?: string;
  layer: string;
  look: Appearance;
  /** Index of the group node it belongs to. */
  node?: number;
  /** Direction square to the entity's plane; absent for the z axis. */
  normal?: Vec3;
  /** Name of the sheet it lies on; absent for model space. */
  sheet?: string;
  /** Extended data in the source's own form (DXF group codes from 1000 on), written back to the same format. */
  extended?: string;
}

export interface Line extends EntityBase {
  kind: 'line';
  start: Vec3;
  end: Vec3;
}

export interface Polyline extends EntityBase {
  kind: 'polyline';
  /** x, y per vertex when `dim` is 2 (at `elevation`), x, y, z when it is 3. */
  points: Float64Array;
  dim: 2 | 3;
  elevation: number;
  closed: boolean;
  /** One per vertex, for the segment that starts there; absent when all are straight. */
  bulges?: Float64Array;
  /** Start and end width per vertex, in drawing units; absent when all are zero. */
  widths?: Float64Array;
}

export interface Circle extends EntityBase {
  kind: 'circle';
  centre: Vec3;
  radius: number;
}

/** Counter-clockwise from `start` to `end` (radians) about the normal; equal angles are a whole turn. */
export interface Arc extends EntityBase {
  kind: 'arc';
  centre: Vec3;
  radius: number;
  start: number;
  end: number;
}

/** In space coordinates: `major` is the half axis that parameter 0 points along, `ratio` minor to major. */
export interface Ellipse extends EntityBase {
  kind: 'ellipse';
  centre: Vec3;
  major: Vec3;
  ratio: number;
  start: number;
  end: number;
}

export interface Spline extends EntityBase {
  kind: 'spline';
  degree: number;
  knots: Float64Array;
  /** x, y, z per control point. */
  points: Float64Array;
  weights?: Float64Array;
  /** x, y, z per fit point. */
  fitPoints?: Float64Array;
  closed: boolean;
  periodic: boolean;
}

export interface Path extends EntityBase {
  kind: 'path';
  path: PathData;
}

export interface Point extends EntityBase {
  kind: 'point';
  at: Vec3;
}

export type HorizontalAlign = 'left' | 'centre' | 'right' | 'aligned' | 'middle' | 'fit';
export type VerticalAlign = 'baseline' | 'bottom' | 'middle' | 'top';

export interface Text extends EntityBase {
  kind: 'text';
  text: string;
  /** The point that the alignment speaks of. */
  at: Vec3;
  /** The second point of `aligned` and `fit`, or the source's own left base point where it states both. */
  other?: Vec3;
  size: number;
  /** Drafting height is that of capitals; an SVG font size is the em. */
  sizeOf: 'capital' | 'em';
  rotation: number;
  widthFactor: number;
  oblique: number;
  horizontal: HorizontalAlign;
  vertical: VerticalAlign;
  /** The text style of a drafting format. */
  style?: string;
  font?: FontRequest;
  /** For attributes of an insert. */
  tag?: string;
  /** Not shown, such as an attribute marked invisible. */
  hidden?: boolean;
}

export interface FontRequest {
  family: string;
  weight: number;
  italic: boolean;
}

/** Text in lines. `content` keeps the source's formatting codes, `plain` is what a person reads. */
export interface RichText extends EntityBase {
  kind: 'richText';
  content: string;
  plain: string;
  at: Vec3;
  size: number;
  width: number;
  rotation: number;
  horizontal: 'left' | 'centre' | 'right';
  vertical: 'top' | 'middle' | 'bottom';
  lineSpacing: number;
  style?: string;
}

export interface Insert extends EntityBase {
  kind: 'insert';
  block: string;
  at: Vec3;
  scale: Vec3;
  rotation: number;
  columns: number;
  rows: number;
  columnSpacing: number;
  rowSpacing: number;
  attributes: Text[];
}

/** One boundary of a hatch, as a closed path in its plane; `edges` tells whether the source listed single edges. */
export interface HatchLoop {
  path: PathData;
  flags: number;
}

export interface Hatch extends EntityBase {
  kind: 'hatch';
  loops: HatchLoop[];
  solid: boolean;
  pattern: string;
  elevation: number;
  angle: number;
  scale: number;
  /** The families of parallel lines of a pattern, as the source computed them. */
  lines?: PatternLine[];
}

/** One family of parallel lines: direction, a point on the first, the step to the next, dashes along it. */
export interface PatternLine {
  angle: number;
  base: readonly [number, number];
  step: readonly [number, number];
  dashes: readonly number[];
}

/** Three or four corners, filled (`solid`) or a face in space. In reading order around the shape. */
export interface Face extends EntityBase {
  kind: 'face';
  solid: boolean;
  corners: readonly Vec3[];
}

/**
 * What the reader does not understand, in the source's own form. `picture` names the block that shows it, where it has
 * one. Written back only to the same format and only while nothing it depends on was moved or scaled.
 */
export interface Opaque extends EntityBase {
  kind: 'opaque';
  format: string;
  type: string;
  raw: string;
  picture?: string;
  /** Something it depends on was moved or scaled: its own numbers no longer hold. */
  stale?: boolean;
}

export type Entity =
  | Line | Polyline | Circle | Arc | Ellipse | Spline | Path | Point
  | Text | RichText | Insert | Hatch | Face | Opaque; // prettier-ignore

export type EntityKind = Entity['kind'];
