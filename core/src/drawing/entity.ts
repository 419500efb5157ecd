import type { Vec3 } from '../geometry/vector.js';
import type { PathData } from '../geometry/path.js';
import type { Appearance } from './appearance.js';

/** What of an entity is seen: what lies in the union of these shapes (in the drawing's coordinates), and in `within`. */
export interface Clip {
  shapes: readonly { path: PathData; rule: 'nonzero' | 'evenodd' }[];
  within?: Clip;
}

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
  /** How far it is drawn out along its normal, in drawing units; absent for 0. */
  thickness?: number;
  /** Extended data in the source's own form (DXF group codes from 1000 on), written back to the same format. */
  extended?: string;
  /** What it is cut to, until intake has cut it. */
  clipTo?: Clip;
  /** It is a piece of the pattern that fills the shape before it, until intake has chosen between the two. */
  tile?: boolean;
  /** Classes that the source gives it (SVG). */
  classes?: string;
  /** Tags that the model has no word for, in the source's own form under their subclass marks. */
  rest?: string;
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
  /** Dashes run on through the vertices instead of starting anew at each. */
  dashThrough?: boolean;
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
  /** The source states no control points: they were computed from the fit points. */
  fitOnly?: boolean;
  /** Directions at the ends that the source states beside its fit points. */
  startTangent?: Vec3;
  endTangent?: Vec3;
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

/** A line without end: in one direction from `at`, or in `both`. */
export interface Ray extends EntityBase {
  kind: 'ray';
  at: Vec3;
  direction: Vec3;
  both: boolean;
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
  /** The source's own coding of the text, where it says more than the characters (lines under and over them). */
  content?: string;
  /** Set from right to left, or standing on its head. */
  backwards?: boolean;
  upsideDown?: boolean;
  /** Set along a path (in the text's own plane) from `offset` on, instead of straight from `at`. */
  along?: { path: PathData; offset: number };
  /** Room added after each letter, in drawing units. */
  spacing?: number;
  /** Pieces of the line in styles of their own; joined they are `text`. */
  runs?: readonly TextRun[];
  /** Letters moved or turned one by one. */
  letters?: readonly LetterShift[];
  /** For attributes of an insert and their definitions. */
  tag?: string;
  /** Not shown, such as an attribute marked invisible. */
  hidden?: boolean;
  /** The definition of an attribute: what is asked for on inserting. Shown in an insert only when `constant`. */
  definition?: { prompt: string; constant: boolean };
}

/** A piece of a line of text. `scale` and `rise` (upwards) are parts of the size of the whole line. */
export interface TextRun {
  text: string;
  scale: number;
  rise: number;
  font?: FontRequest;
  look?: Appearance;
}

/**
 * How a letter departs from where it would follow the one before: `dx` along the line, `dy` upwards, both in sizes of
 * the line, and stays so for what follows; `turn` counter-clockwise in radians, for this letter alone. `at` counts
 * UTF-16 units of the text.
 */
export interface LetterShift {
  at: number;
  dx: number;
  dy: number;
  turn: number;
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

export type DimensionForm =
  'linear' | 'aligned' | 'angular' | 'diameter' | 'radius' | 'angular3' | 'ordinate' | 'arc' | 'jogged';

/**
 * A dimension. `points` are the definition points by their DXF group code (10, 13, 14, 15 and 17 in space; 11, 12 and
 * 16 in the object plane). `picture` names the block that shows it, in the coordinates of the dimension's own space.
 */
export interface Dimension extends EntityBase {
  kind: 'dimension';
  form: DimensionForm;
  points: Partial<Record<10 | 11 | 12 | 13 | 14 | 15 | 16 | 17, Vec3>>;
  /** What stands instead of the measured value: empty or `<>` for the value itself, a blank for nothing. */
  override: string;
  /** The value that the source states as measured; absent when it states none. */
  stated?: number;
  style: string;
  picture?: string;
  /** Direction along which a linear dimension measures, and the tilt of its extension lines. */
  rotation: number;
  oblique: number;
  /** Turn of the text against its standard direction. */
  textRotation: number;
  /** An ordinate dimension measures x rather than y. */
  ordinateX: boolean;
  /** Flags of group 70 beyond the form: 32 the picture is its own, 128 the text was placed by hand. */
  flags: number;
}

/** A line of vertices that points at something. */
export interface Leader extends EntityBase {
  kind: 'leader';
  /** x, y, z per vertex; the first is the tip. */
  points: Float64Array;
  arrow: boolean;
  curved: boolean;
  style: string;
}

/** Corner points with faces over them. `grid` is the M × N net of a polygon mesh. */
export interface Mesh extends EntityBase {
  kind: 'mesh';
  /** x, y, z per corner. */
  points: Float64Array;
  /** Per face its number of corners, then their indices; an index is given as `-1 - index` where its edge is hidden. */
  faces: Int32Array;
  grid?: { m: number; n: number; closedM: boolean; closedN: boolean };
}

/** A picture in its place, or (`wipeout`) an area that hides what lies under it. */
export interface Image extends EntityBase {
  kind: 'image';
  wipeout: boolean;
  /** Lower left corner, and the steps of one pixel along the width and the height. */
  at: Vec3;
  u: Vec3;
  v: Vec3;
  pixels: readonly [number, number];
  /** Boundary in pixels from the upper left corner: two opposite corners, or a polygon; absent when not clipped. */
  clip?: Float64Array;
  /** Path of the picture's file as the source states it. */
  file?: string;
  /** The picture itself as a `data:` address, where the source holds it. */
  data?: string;
}

/** A window of a sheet onto model space. */
export interface Viewport extends EntityBase {
  kind: 'viewport';
  at: Vec3;
  width: number;
  height: number;
  /** 1 is the sheet's own view, which shows nothing of model space. */
  number: number;
  on: boolean;
  /** What of model space stands in its middle, in the view's coordinates, and how high it is there. */
  centre: readonly [number, number];
  viewHeight: number;
  target: Vec3;
  direction: Vec3;
  twist: number;
  /** Names of layers frozen in this window only. */
  frozen: readonly string[];
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
  /** Which of nested loops are filled: every other one, only the outermost, or all. */
  islands?: 'outer' | 'ignore';
  gradient?: HatchGradient;
}

/** Two colours (or one and a tint) across a hatch. */
export interface HatchGradient {
  name: string;
  angle: number;
  shift: number;
  oneColour: boolean;
  tint: number;
  stops: readonly { offset: number; rgb: number }[];
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
  /** Edges of a face in space that are not shown: bit 1 for the first, 2, 4 and 8 for the others. */
  hiddenEdges?: number;
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
  /** What it looks like, decoded from it: simple entities in the space it lies in. */
  drawn?: Entity[];
  /** Something it depends on was moved or scaled: its own numbers no longer hold. */
  stale?: boolean;
}

export type Entity =
  | Line | Polyline | Circle | Arc | Ellipse | Spline | Path | Point
  | Text | RichText | Insert | Hatch | Face | Mesh | Ray
  | Dimension | Leader | Image | Viewport | Opaque; // prettier-ignore

export type EntityKind = Entity['kind'];
