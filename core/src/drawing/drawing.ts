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
  /** 0 clear to 1 opaque; absent for opaque. */
  opacity?: number;
  /** Name of the layer or group above it, where the source nests them. */
  parent?: string;
  key?: string;
  rest?: string;
}

export interface Linetype {
  name: string;
  description: string;
  /** Positive = dash, negative = gap, 0 = dot; in drawing units. */
  pattern: readonly number[];
  key?: string;
  /** Letters or shapes stand in its dashes; the whole record is kept in the source's own form. */
  complex?: string;
  rest?: string;
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
  backwards?: boolean;
  upsideDown?: boolean;
  /** A font of shapes, which linetypes refer to rather than text. */
  shapes?: boolean;
  key?: string;
  rest?: string;
}

/** A dimension style in the source's own tags. */
export interface DimensionStyle {
  name: string;
  tags: [number, string][];
  key?: string;
  rest?: string;
}

export interface Block {
  name: string;
  base: Vec3;
  entities: Entity[];
  /** The block is a sheet's contents rather than something inserted. */
  sheet?: boolean;
  /** Path of the drawing it refers to, where it is a reference. */
  reference?: string;
  description?: string;
  layer?: string;
  /** The unit its record names ($INSUNITS code); informative: inserts already scale by it. */
  unitCode?: number;
  /** Handles of its record, its beginning and its end. */
  key?: string;
  beginKey?: string;
  endKey?: string;
  /** Tags of its record and of its beginning that the model has no word for. */
  rest?: string;
  beginRest?: string;
}

/** A sheet of paper with windows onto model space; what lies on it carries its name. */
export interface Sheet {
  name: string;
  /** Name of the block that holds what is drawn on it (DXF), such as `*Paper_Space0`. */
  block: string;
  order: number;
  /** Paper in mm, and the lower left corner of the printable part; absent when the source does not say. */
  paper?: { width: number; height: number; marginLeft: number; marginBottom: number };
  /** How many sheet units one mm of paper is. */
  unitsPerMm: number;
}

/** A record that only its own format can take back, in the source's own form. */
export interface CarriedRecord {
  type: string;
  key: string;
  raw: string;
}

/** What of the source has no place in the model and is written back to the same format. */
export interface Carried {
  /** Application classes, one text each. */
  classes: string[];
  /** Records of the tables VPORT, VIEW, UCS and of tables nobody knows. */
  tables: Map<string, CarriedRecord[]>;
  /** Dictionaries and other objects, the root dictionary first. */
  objects: CarriedRecord[];
  /** Whole sections nobody knows. */
  sections: { name: string; raw: string }[];
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
  format: 'dxf' | 'dwg' | 'svg';
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
  sheets: Sheet[];
  /** Header variables of a drafting format in the source's own form: name → value texts by group code. */
  header: Map<string, [number, string][]>;
  /** Registered application names that extended data refers to. */
  applications: string[];
  carried: Carried;
  notes: ReadingNote[];
  nextId: number;
}

/** Whether a drawing came in a drafting format, which keeps handles, tables and objects of its own. */
export const isDrafting = (drawing: Pick<Drawing, 'format'>): boolean => drawing.format !== 'svg';

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
    carried: { classes: [], tables: new Map(), objects: [], sections: [] },
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
