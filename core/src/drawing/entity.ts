import type { Vec3 } from '../geometry/vector.js';
import type { PathData } from '../geometry/path.js';
import type { Appearance } from './appearance.js';

/** What of an entity is seen: what lies in the union of these shapes (in the drawing's coordinates), and in `within`. */
export interface Clip {
  readonly shapes: readonly { path: PathData; rule: 'nonzero' | 'evenodd' }[];
  readonly within?: Clip;
}

/**
 * What every entity has. Coordinates are the source's own numbers: those of entities with a `normal` lie in the object
 * coordinate system of that direction (see `planeFrame`), all others in the space of their drawing or block.
 */
interface EntityBase {
  /** Unique in the drawing; given by `Drawing.nextId`. */
  readonly id: number;
  /** Where it came from: a handle (DXF), an id or path in the tree (SVG). */
  readonly key?: string;
  readonly layer: string;
  readonly look: Appearance;
  /** Index of the group node it belongs to. */
  readonly node?: number;
  /** Direction square to the entity's plane; absent for the z axis. */
  readonly normal?: Vec3;
  /** Name of the sheet it lies on; absent for model space. */
  readonly sheet?: string;
  /** How far it is drawn out along its normal, in drawing units; absent for 0. */
  readonly thickness?: number;
  /** Extended data in the source's own form (DXF group codes from 1000 on), written back to the same format. */
  readonly extended?: string;
  /** What it is cut to, until intake has cut it. */
  readonly clipTo?: Clip;
  /** It is a piece of the pattern that fills the shape before it, until intake has chosen between the two. */
  readonly tile?: boolean;
  /** Classes that the source gives it (SVG). */
  readonly classes?: string;
  /** Tags that the model has no word for, in the source's own form under their subclass marks. */
  readonly rest?: string;
}

export interface Line extends EntityBase {
  readonly kind: 'line';
  readonly start: Vec3;
  readonly end: Vec3;
}

export interface Polyline extends EntityBase {
  readonly kind: 'polyline';
  /** x, y per vertex when `dim` is 2 (at `elevation`), x, y, z when it is 3. */
  readonly points: Float64Array;
  readonly dim: 2 | 3;
  readonly elevation: number;
  readonly closed: boolean;
  /** One per vertex, for the segment that starts there; absent when all are straight. */
  readonly bulges?: Float64Array;
  /** Start and end width per vertex, in drawing units; absent when all are zero. */
  readonly widths?: Float64Array;
  /** Dashes run on through the vertices instead of starting anew at each. */
  readonly dashThrough?: boolean;
}

export interface Circle extends EntityBase {
  readonly kind: 'circle';
  readonly centre: Vec3;
  readonly radius: number;
}

/** Counter-clockwise from `start` to `end` (radians) about the normal; equal angles are a whole turn. */
export interface Arc extends EntityBase {
  readonly kind: 'arc';
  readonly centre: Vec3;
  readonly radius: number;
  readonly start: number;
  readonly end: number;
}

/** In space coordinates: `major` is the half axis that parameter 0 points along, `ratio` minor to major. */
export interface Ellipse extends EntityBase {
  readonly kind: 'ellipse';
  readonly centre: Vec3;
  readonly major: Vec3;
  readonly ratio: number;
  readonly start: number;
  readonly end: number;
}

export interface Spline extends EntityBase {
  readonly kind: 'spline';
  readonly degree: number;
  readonly knots: Float64Array;
  /** x, y, z per control point. */
  readonly points: Float64Array;
  readonly weights?: Float64Array;
  /** x, y, z per fit point. */
  readonly fitPoints?: Float64Array;
  /** The source states no control points: they were computed from the fit points. */
  readonly fitOnly?: boolean;
  /** Directions at the ends that the source states beside its fit points. */
  readonly startTangent?: Vec3;
  readonly endTangent?: Vec3;
  readonly closed: boolean;
  readonly periodic: boolean;
  /** What the source says of its form beyond that: 8 it lies in a plane, 16 it is straight (DXF reference, SPLINE, group 70). */
  readonly flags?: number;
}

export interface Path extends EntityBase {
  readonly kind: 'path';
  readonly path: PathData;
}

export interface Point extends EntityBase {
  readonly kind: 'point';
  readonly at: Vec3;
}

/** A line without end: in one direction from `at`, or in `both`. */
export interface Ray extends EntityBase {
  readonly kind: 'ray';
  readonly at: Vec3;
  readonly direction: Vec3;
  readonly both: boolean;
}

export type HorizontalAlign = 'left' | 'centre' | 'right' | 'aligned' | 'middle' | 'fit';
export type VerticalAlign = 'baseline' | 'bottom' | 'middle' | 'top';

export interface Text extends EntityBase {
  readonly kind: 'text';
  readonly text: string;
  /** The point that the alignment speaks of. */
  readonly at: Vec3;
  /** The second point of `aligned` and `fit`, or the source's own left base point where it states both. */
  readonly other?: Vec3;
  readonly size: number;
  /** Drafting height is that of capitals; an SVG font size is the em. */
  readonly sizeOf: 'capital' | 'em';
  readonly rotation: number;
  readonly widthFactor: number;
  readonly oblique: number;
  readonly horizontal: HorizontalAlign;
  readonly vertical: VerticalAlign;
  /** The text style of a drafting format. */
  readonly style?: string;
  readonly font?: FontRequest;
  /** The source's own coding of the text, where it says more than the characters (lines under and over them). */
  readonly content?: string;
  /** Set from right to left, or standing on its head. */
  readonly backwards?: boolean;
  readonly upsideDown?: boolean;
  /** Set along a path (in the text's own plane) from `offset` on, instead of straight from `at`. */
  readonly along?: { path: PathData; offset: number };
  /** Room added after each letter, in drawing units. */
  readonly spacing?: number;
  /** Pieces of the line in styles of their own; joined they are `text`. */
  readonly runs?: readonly TextRun[];
  /** Letters moved or turned one by one. */
  readonly letters?: readonly LetterShift[];
  /** For attributes of an insert and their definitions. */
  readonly tag?: string;
  /** Flags of an attribute beyond what the model says of it: 4 to be verified, 8 preset (DXF reference, ATTDEF, group 70). */
  readonly flags?: number;
  /** Not shown, such as an attribute marked invisible. */
  readonly hidden?: boolean;
  /** The definition of an attribute: what is asked for on inserting. Shown in an insert only when `constant`. */
  readonly definition?: { prompt: string; constant: boolean };
}

/** A piece of a line of text. `scale` and `rise` (upwards) are parts of the size of the whole line. */
export interface TextRun {
  readonly text: string;
  readonly scale: number;
  readonly rise: number;
  readonly font?: FontRequest;
  readonly look?: Appearance;
}

/**
 * How a letter departs from where it would follow the one before: `dx` along the line, `dy` upwards, both in sizes of
 * the line, and stays so for what follows; `turn` counter-clockwise in radians, for this letter alone. `at` counts
 * UTF-16 units of the text.
 */
export interface LetterShift {
  readonly at: number;
  readonly dx: number;
  readonly dy: number;
  readonly turn: number;
}

export interface FontRequest {
  readonly family: string;
  readonly weight: number;
  readonly italic: boolean;
  /** Families that the source names to fall back to, in order. */
  readonly or?: readonly string[];
}

/** Text in lines. `content` keeps the source's formatting codes, `plain` is what a person reads. */
export interface RichText extends EntityBase {
  readonly kind: 'richText';
  readonly content: string;
  readonly plain: string;
  readonly at: Vec3;
  readonly size: number;
  readonly width: number;
  readonly rotation: number;
  readonly horizontal: 'left' | 'centre' | 'right';
  readonly vertical: 'top' | 'middle' | 'bottom';
  readonly lineSpacing: number;
  /** Lines stand exactly so far apart, however high their letters; otherwise at least so far. */
  readonly exactSpacing?: boolean;
  readonly style?: string;
}

export type DimensionForm =
  'linear' | 'aligned' | 'angular' | 'diameter' | 'radius' | 'angular3' | 'ordinate' | 'arc' | 'jogged';

/**
 * A dimension. `points` are the definition points by their DXF group code (10, 13, 14, 15 and 17 in space; 11, 12 and
 * 16 in the object plane). `picture` names the block that shows it, in the coordinates of the dimension's own space.
 */
export interface Dimension extends EntityBase {
  readonly kind: 'dimension';
  readonly form: DimensionForm;
  readonly points: Partial<Record<10 | 11 | 12 | 13 | 14 | 15 | 16 | 17, Vec3>>;
  /** What stands instead of the measured value: empty or `<>` for the value itself, a blank for nothing. */
  readonly override: string;
  /** The value that the source states as measured; absent when it states none. */
  readonly stated?: number;
  readonly style: string;
  readonly picture?: string;
  /** Direction along which a linear dimension measures, and the tilt of its extension lines. */
  readonly rotation: number;
  readonly oblique: number;
  /** Turn of the text against its standard direction. */
  readonly textRotation: number;
  /** An ordinate dimension measures x rather than y. */
  readonly ordinateX: boolean;
  /** Flags of group 70 beyond the form: 32 the picture is its own, 128 the text was placed by hand. */
  readonly flags: number;
}

/** A line of vertices that points at something. */
export interface Leader extends EntityBase {
  readonly kind: 'leader';
  /** x, y, z per vertex; the first is the tip. */
  readonly points: Float64Array;
  readonly arrow: boolean;
  readonly curved: boolean;
  readonly style: string;
}

/** Corner points with faces over them. `grid` is the M × N net of a polygon mesh. */
export interface Mesh extends EntityBase {
  readonly kind: 'mesh';
  /** x, y, z per corner. */
  readonly points: Float64Array;
  /** Per face its number of corners, then their indices; an index is given as `-1 - index` where its edge is hidden. */
  readonly faces: Int32Array;
  readonly grid?: { m: number; n: number; closedM: boolean; closedN: boolean };
  /** Layer and look of each face, where the source gives faces their own; `null` for a face like the mesh. */
  readonly faceLooks?: readonly ({ layer: string; look: Appearance } | null)[];
}

/** A picture in its place, or (`cover`) an area that hides what lies under it. */
export interface Image extends EntityBase {
  readonly kind: 'image';
  readonly cover: boolean;
  /** Lower left corner, and the steps of one pixel along the width and the height. */
  readonly at: Vec3;
  readonly u: Vec3;
  readonly v: Vec3;
  readonly pixels: readonly [number, number];
  /** Boundary in pixels from the upper left corner: two opposite corners, or a polygon; absent when not clipped. */
  readonly clip?: Float64Array;
  /** Path of the picture's file as the source states it. */
  readonly file?: string;
  /** The picture itself as a `data:` address, where the source holds it. */
  readonly data?: string;
}

/** A window of a sheet onto model space. */
export interface Viewport extends EntityBase {
  readonly kind: 'viewport';
  readonly at: Vec3;
  readonly width: number;
  readonly height: number;
  /** 1 is the sheet's own view, which shows nothing of model space. */
  readonly number: number;
  readonly on: boolean;
  /** Its place among the windows that are on, as the source counts them; absent when that is its number. */
  readonly stacking?: number;
  /** What of model space stands in its middle, in the view's coordinates, and how high it is there. */
  readonly centre: readonly [number, number];
  readonly viewHeight: number;
  readonly target: Vec3;
  readonly direction: Vec3;
  readonly twist: number;
  /** Names of layers frozen in this window only. */
  readonly frozen: readonly string[];
}

export interface Insert extends EntityBase {
  readonly kind: 'insert';
  readonly block: string;
  readonly at: Vec3;
  readonly scale: Vec3;
  readonly rotation: number;
  readonly columns: number;
  readonly rows: number;
  readonly columnSpacing: number;
  readonly rowSpacing: number;
  readonly attributes: Text[];
}

/** One boundary of a hatch, as a closed path in its plane; `edges` tells whether the source listed single edges. */
export interface HatchLoop {
  readonly path: PathData;
  readonly flags: number;
  /** What the file that holds it states of its elliptic edges that end between quarter turns: programs differ. */
  readonly ellipses?: EllipseAngles;
}

/** Parameters of the ellipse, or directions from its centre. At quarter turns both are the same. */
export type EllipseAngles = 'parameters' | 'directions';

export interface Hatch extends EntityBase {
  readonly kind: 'hatch';
  readonly loops: HatchLoop[];
  readonly solid: boolean;
  readonly pattern: string;
  readonly elevation: number;
  readonly angle: number;
  readonly scale: number;
  /** The families of parallel lines of a pattern, as the source computed them. */
  readonly lines?: PatternLine[];
  /** Which of nested loops are filled: every other one, only the outermost, or all. */
  readonly islands?: 'outer' | 'ignore';
  readonly gradient?: HatchGradient;
  /** Who defined the pattern: the person drawing, or a file of their own; absent for a pattern that comes along with programs. */
  readonly patternBy?: 'user' | 'file';
  /** A second family of lines stands square on the first. */
  readonly double?: boolean;
  /** Points (x, y in its plane) from which its boundary was found. */
  readonly seeds?: Float64Array;
  /** It follows the entities that its boundary was made from. */
  readonly associative?: boolean;
}

/** Two colours (or one and a tint) across a hatch. */
export interface HatchGradient {
  readonly name: string;
  readonly angle: number;
  readonly shift: number;
  readonly oneColour: boolean;
  readonly tint: number;
  readonly stops: readonly { offset: number; rgb: number }[];
}

/** One family of parallel lines: direction, a point on the first, the step to the next, dashes along it. */
export interface PatternLine {
  readonly angle: number;
  readonly base: readonly [number, number];
  readonly step: readonly [number, number];
  readonly dashes: readonly number[];
}

/** Three or four corners, filled (`solid`) or a face in space. In reading order around the shape. */
export interface Face extends EntityBase {
  readonly kind: 'face';
  readonly solid: boolean;
  readonly corners: readonly Vec3[];
  /** Edges of a face in space that are not shown: bit 1 for the first, 2, 4 and 8 for the others. */
  readonly hiddenEdges?: number;
  /** The source calls it a trace, which is drawn like any filled face. */
  readonly trace?: boolean;
}

/**
 * What the reader does not understand, in the source's own form. `picture` names the block that shows it, where it has
 * one. Written back only to the same format and only while nothing it depends on was moved or scaled.
 */
export interface Opaque extends EntityBase {
  readonly kind: 'opaque';
  readonly format: string;
  readonly type: string;
  readonly raw: string;
  readonly picture?: string;
  /** What it looks like, decoded from it: simple entities in the space it lies in. */
  readonly drawn?: Entity[];
  /** Something it depends on was moved or scaled: its own numbers no longer hold. */
  readonly stale?: boolean;
}

export type Entity =
  | Line
  | Polyline
  | Circle
  | Arc
  | Ellipse
  | Spline
  | Path
  | Point
  | Text
  | RichText
  | Insert
  | Hatch
  | Face
  | Mesh
  | Ray
  | Dimension
  | Leader
  | Image
  | Viewport
  | Opaque;

export type EntityKind = Entity['kind'];

/** An entity while it is being made: nobody else has it yet. Once it is in a drawing, nothing of it changes. */
export type Draft<E> = { -readonly [K in keyof E]: E[K] };
