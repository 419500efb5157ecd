import type { FormatId } from './format-traits.js';
import { traitsOf } from './format-traits.js';
import type { Vec3 } from '../geometry/vector.js';
import type { Paint } from './appearance.js';
import type { Draft, Entity, FontRequest } from './entity.js';
import type { UnitName } from './units.js';

/**
 * Flags of a table's record that the model has no word for (DXF reference, "Common Symbol Table Group Codes"): 2 a layer is
 * frozen in new windows, 16 the record depends on a reference, 32 the reference was found, 64 something refers to it.
 */
export type RecordFlags = number;

export interface Layer {
  readonly name: string;
  readonly paint: Paint;
  readonly linetype: string;
  /** Line weight in mm, or `null` for the receiver's standard. */
  readonly weight: number | null;
  readonly off: boolean;
  readonly frozen: boolean;
  readonly locked: boolean;
  readonly plotted: boolean;
  /** 0 clear to 1 opaque; absent for opaque. */
  readonly opacity?: number;
  /** Name of the layer or group above it, where the source nests them. */
  readonly parent?: string;
  readonly flags?: RecordFlags;
  readonly key?: string;
  readonly rest?: string;
}

export interface Linetype {
  readonly name: string;
  readonly description: string;
  /** Positive = dash, negative = gap, 0 = dot; in drawing units. */
  readonly pattern: readonly number[];
  /** The length of the pattern as the source states it, where that is not the sum of its parts. */
  readonly stated?: number;
  readonly flags?: RecordFlags;
  readonly key?: string;
  /** Letters or shapes stand in its dashes; the whole record is kept in the source's own form. */
  readonly complex?: string;
  readonly rest?: string;
}

export interface TextStyle {
  readonly name: string;
  /** Font file or family, as the source states it. */
  readonly font: string;
  /** The outline font by family and face, where that is said beside the file. */
  readonly face?: FontRequest;
  readonly bigFont: string;
  /** 0 when each text states its own. */
  readonly fixedHeight: number;
  readonly widthFactor: number;
  readonly oblique: number;
  readonly backwards?: boolean;
  readonly upsideDown?: boolean;
  /** A font of shapes, which linetypes refer to rather than text. */
  readonly shapes?: boolean;
  /** Letters stand below each other. */
  readonly vertical?: boolean;
  /** The height that was used last. */
  readonly lastHeight?: number;
  readonly flags?: RecordFlags;
  readonly key?: string;
  readonly rest?: string;
}

/** A dimension style in the source's own tags. */
export interface DimensionStyle {
  readonly name: string;
  readonly tags: [number, string][];
  readonly flags?: RecordFlags;
  readonly key?: string;
  readonly rest?: string;
}

export interface Block {
  readonly name: string;
  readonly base: Vec3;
  readonly entities: Entity[];
  /** The block is a sheet's contents rather than something inserted. */
  readonly sheet?: boolean;
  /** Path of the drawing it refers to, where it is a reference. */
  readonly reference?: string;
  /** 8 a reference is laid over rather than attached; 16, 32 and 64 as {@link RecordFlags}. */
  readonly flags?: number;
  readonly description?: string;
  readonly layer?: string;
  /** The unit its record names ($INSUNITS code); informative: inserts already scale by it. */
  readonly unitCode?: number;
  /** Handles of its record, its beginning and its end. */
  readonly key?: string;
  readonly beginKey?: string;
  readonly endKey?: string;
  /** Tags of its record and of its beginning that the model has no word for. */
  readonly rest?: string;
  readonly beginRest?: string;
}

/** A sheet of paper with windows onto model space; what lies on it carries its name. */
export interface Sheet {
  readonly name: string;
  /** Name of the block that holds what is drawn on it (DXF), such as `*Paper_Space0`. */
  readonly block: string;
  readonly order: number;
  /** Paper in mm, and the lower left corner of the printable part; absent when the source does not say. */
  readonly paper?: { width: number; height: number; marginLeft: number; marginBottom: number };
  /** How many sheet units one mm of paper is. */
  readonly unitsPerMm: number;
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
  /** What the heads of tables say beyond their counts, such as the dictionary that hangs on them, by the name of the table. */
  heads: Map<string, { key: string; rest: string }>;
  /** Dictionaries and other objects, the root dictionary first. */
  objects: CarriedRecord[];
  /** Whole sections nobody knows. */
  sections: { name: string; raw: string }[];
}

/** A group of the source's tree, such as an SVG `g`. Transforms have already been applied to what is inside it. */
export interface GroupNode {
  readonly name: string;
  readonly parent: number | null;
  readonly key?: string;
  readonly hidden: boolean;
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
  /** The file breaks off here: nobody knows what would have followed. */
  endsHere?: true;
}

/**
 * The neutral model: everything DXF and SVG say, in one shape. Functions on a drawing return a new one that shares what
 * did not change; nothing is changed in place after reading.
 */
export interface Drawing {
  readonly format: FormatId;
  readonly version: string;
  /** What the source says one coordinate unit is; `null` when it says nothing. */
  readonly unit: SpaceUnit | null;
  /** SVG counts downwards, drafting upwards. */
  readonly yDown: boolean;
  readonly page: Page | null;
  /** Which page of how many it is, where the source has pages. */
  readonly pageOf?: { readonly number: number; readonly of: number };
  readonly layers: Layer[];
  readonly linetypes: Linetype[];
  readonly textStyles: TextStyle[];
  readonly dimensionStyles: DimensionStyle[];
  readonly blocks: Map<string, Block>;
  readonly nodes: GroupNode[];
  readonly entities: Entity[];
  readonly sheets: Sheet[];
  /** Header variables of a drafting format in the source's own form: name → value texts by group code. */
  readonly header: Map<string, [number, string][]>;
  /** Registered application names that extended data refers to. */
  readonly applications: string[];
  readonly carried: Carried;
  readonly notes: ReadingNote[];
  readonly nextId: number;
  /** Curves stand in the order in which they are to be cut: it is kept, whatever layers they are on. */
  readonly ordered?: boolean;
}

export { isDrafting } from './format-traits.js';

/** An empty drawing with the one layer and linetype that every drafting file has. */
export function emptyDrawing(format: Drawing['format'], version: string): Draft<Drawing> {
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
    carried: { classes: [], tables: new Map(), heads: new Map(), objects: [], sections: [] },
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

/** A drawing with a layer of a name, a plain one at the end where it has none. */
export function withLayer(drawing: Drawing, name: string): Drawing {
  const key = layerKey(drawing, name);
  const has = drawing.layers.some((l) => layerKey(drawing, l.name) === key);
  return has ? drawing : { ...drawing, layers: [...drawing.layers, newLayer(name)] };
}

/** The form under which a layer name is compared: without case where its format has none. */
export const layerKey = (drawing: Pick<Drawing, 'format'>, name: string): string =>
  traitsOf(drawing.format).foldsNames ? name.toLowerCase() : name;
