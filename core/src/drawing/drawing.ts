import type { Vec3 } from '../geometry/vector.js';
import type { Paint } from './appearance.js';
import type { Entity } from './entity.js';
import type { UnitName } from './units.js';

export interface Layer {
  name: string;
  paint: Paint;
  linetype: string;
  /** Line weight in mm, or `null` for the receiver's standard. */
  weight: number | null;
  off: boolean;
  frozen: boolean;
  locked: boolean;
  plotted: boolean;
  /** Name of the layer or group above it, where the source nests them. */
  parent?: string;
  key?: string;
}

export interface Linetype {
  name: string;
  description: string;
  /** Positive = dash, negative = gap, 0 = dot; in drawing units. */
  pattern: readonly number[];
}

export interface TextStyle {
  name: string;
  /** Font file or family, as the source states it. */
  font: string;
  bigFont: string;
  /** 0 when each text states its own. */
  fixedHeight: number;
  widthFactor: number;
  oblique: number;
}

/** A dimension style in the source's own tags, references to other records left out. */
export interface DimensionStyle {
  name: string;
  tags: [number, string][];
}

export interface Block {
  name: string;
  base: Vec3;
  entities: Entity[];
  /** The block is a sheet's contents rather than something inserted. */
  sheet?: boolean;
  /** Path of the drawing it refers to, where it is a reference. */
  reference?: string;
}

/** A group of the source's tree, such as an SVG `g`. Transforms have already been applied to what is inside it. */
export interface GroupNode {
  name: string;
  parent: number | null;
  key?: string;
  hidden: boolean;
}

/** How long one coordinate unit is: `factor` × `unit`. `px` is a CSS pixel whose physical size nobody has stated. */
export interface SpaceUnit {
  unit: UnitName | 'px';
  factor: number;
}

/** The page of a source that has one, in its own coordinates. */
export interface Page {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Something that the reader met and that the drawing cannot show in full; `where` is a line, handle or path. */
export interface ReadingNote {
  text: string;
  where?: string;
  count: number;
  severity: 'note' | 'warning';
}

/**
 * The neutral model: everything DXF and SVG say, in one shape. Functions on a drawing return a new one that shares what
 * did not change; nothing is changed in place after reading.
 */
export interface Drawing {
  format: 'dxf' | 'svg';
  version: string;
  /** What the source says one coordinate unit is; `null` when it says nothing. */
  unit: SpaceUnit | null;
  /** SVG counts downwards, drafting upwards. */
  yDown: boolean;
  page: Page | null;
  layers: Layer[];
  linetypes: Linetype[];
  textStyles: TextStyle[];
  dimensionStyles: DimensionStyle[];
  blocks: Map<string, Block>;
  nodes: GroupNode[];
  entities: Entity[];
  sheets: string[];
  /** Header variables of a drafting format in the source's own form: name → value texts by group code. */
  header: Map<string, [number, string][]>;
  /** Registered application names that extended data refers to. */
  applications: string[];
  notes: ReadingNote[];
  nextId: number;
}

/** An empty drawing with the one layer and linetype that every drafting file has. */
export function emptyDrawing(format: Drawing['format'], version: string): Drawing {
  return {
    format,
    version,
    unit: null,
    yDown: false,
    page: null,
    layers: [],
    linetypes: [],
    textStyles: [],
    dimensionStyles: [],
    blocks: new Map(),
    nodes: [],
    entities: [],
    sheets: [],
    header: new Map(),
    applications: [],
    notes: [],
    nextId: 1,
  };
}

export const newLayer = (name: string, paint: Paint = { kind: 'index', index: 7 }): Layer => ({
  name,
  paint,
  linetype: 'Continuous',
  weight: null,
  off: false,
  frozen: false,
  locked: false,
  plotted: true,
});

/** A layer by its name, the case of letters aside, as drafting formats compare names. */
export function layerIndex(drawing: Drawing): Map<string, Layer> {
  return new Map(drawing.layers.map((l) => [layerKey(drawing, l.name), l]));
}

/** The form under which a layer name is compared: without case in drafting formats, as written in SVG. */
export const layerKey = (drawing: Pick<Drawing, 'format'>, name: string): string =>
  drawing.format === 'svg' ? name : name.toLowerCase();
