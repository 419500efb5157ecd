import type { Codec } from './codec.js';
import * as annotations from './codecs-annotations.js';
import * as bodies from './codecs-bodies.js';
import * as curves from './codecs-curves.js';
import { XRECORD } from './codec-xrecord.js';
import { HATCH } from './codecs-hatch.js';
import { MLEADERSTYLE, MULTILEADER } from './codecs-multileader.js';
import * as objects from './codecs-objects.js';
import * as placed from './codecs-placed.js';
import { DIMSTYLE } from './codecs-styles.js';
import * as tables from './codecs-tables.js';
import * as text from './codecs-text.js';
import type { NamedTable } from './fields.js';
import { wordTable } from '../../drawing/word-table.js';

/** What an object may be: its record in a DXF, how it lies in the bits, and whether it is drawn. */
export interface Kind {
  record: string;
  entity: boolean;
  /** `null`: its fields are not known here, so it is carried as bits. */
  codec: Codec | null;
  /** Number of its type; absent for those that come by a class. */
  type?: number;
  /** Has vertices or attributes of its own. */
  parent?: boolean;
  /** Looked into on reading and carried as bits; never put into bits from tags. */
  readOnly?: boolean;
}

const entity = (type: number, record: string, codec: Codec | null, parent = false): Kind => ({
  record,
  entity: true,
  codec,
  type,
  ...(parent && { parent }),
});
const object = (type: number, record: string, codec: Codec | null): Kind => ({ record, entity: false, codec, type });

/** Types that every version knows by number (Open Design Specification, "Object types"). */
const FIXED: readonly Kind[] = [
  entity(0x01, 'TEXT', text.TEXT),
  entity(0x02, 'ATTRIB', text.ATTRIB),
  entity(0x03, 'ATTDEF', text.ATTDEF),
  entity(0x04, 'BLOCK', tables.BLOCK),
  entity(0x05, 'ENDBLK', tables.ENDBLK),
  entity(0x06, 'SEQEND', tables.SEQEND),
  entity(0x07, 'INSERT', placed.INSERT),
  entity(0x08, 'INSERT', placed.MINSERT),
  entity(0x0a, 'VERTEX', curves.VERTEX_2D),
  entity(0x0b, 'VERTEX', curves.VERTEX_3D),
  entity(0x0c, 'VERTEX', curves.VERTEX_MESH),
  entity(0x0d, 'VERTEX', curves.VERTEX_PFACE),
  entity(0x0e, 'VERTEX', curves.VERTEX_PFACE_FACE),
  entity(0x0f, 'POLYLINE', curves.POLYLINE_2D, true),
  entity(0x10, 'POLYLINE', curves.POLYLINE_3D, true),
  entity(0x11, 'ARC', curves.ARC),
  entity(0x12, 'CIRCLE', curves.CIRCLE),
  entity(0x13, 'LINE', curves.LINE),
  entity(0x14, 'DIMENSION', annotations.DIMENSION_ORDINATE),
  entity(0x15, 'DIMENSION', annotations.DIMENSION_LINEAR),
  entity(0x16, 'DIMENSION', annotations.DIMENSION_ALIGNED),
  entity(0x17, 'DIMENSION', annotations.DIMENSION_ANG3PT),
  entity(0x18, 'DIMENSION', annotations.DIMENSION_ANG2LN),
  entity(0x19, 'DIMENSION', annotations.DIMENSION_RADIUS),
  entity(0x1a, 'DIMENSION', annotations.DIMENSION_DIAMETER),
  entity(0x1b, 'POINT', curves.POINT),
  entity(0x1c, '3DFACE', curves.FACE),
  entity(0x1d, 'POLYLINE', curves.POLYLINE_PFACE, true),
  entity(0x1e, 'POLYLINE', curves.POLYLINE_MESH, true),
  entity(0x1f, 'SOLID', curves.TRACE),
  entity(0x20, 'TRACE', curves.TRACE),
  entity(0x21, 'SHAPE', null),
  entity(0x22, 'VIEWPORT', placed.VIEWPORT),
  entity(0x23, 'ELLIPSE', curves.ELLIPSE),
  entity(0x24, 'SPLINE', curves.SPLINE),
  entity(0x25, 'REGION', bodies.REGION),
  entity(0x26, '3DSOLID', bodies.SOLID3D),
  entity(0x27, 'BODY', bodies.BODY),
  entity(0x28, 'RAY', curves.RAY),
  entity(0x29, 'XLINE', curves.XLINE),
  object(0x2a, 'DICTIONARY', objects.DICTIONARY),
  entity(0x2b, 'OLEFRAME', null),
  entity(0x2c, 'MTEXT', text.MTEXT),
  entity(0x2d, 'LEADER', annotations.LEADER),
  entity(0x2e, 'TOLERANCE', annotations.TOLERANCE),
  entity(0x2f, 'MLINE', annotations.MLINE),
  object(0x31, 'BLOCK_RECORD', tables.BLOCK_HEADER),
  object(0x33, 'LAYER', tables.LAYER),
  object(0x35, 'STYLE', tables.STYLE),
  object(0x39, 'LTYPE', tables.LTYPE),
  object(0x3d, 'VIEW', tables.VIEW),
  object(0x3f, 'UCS', tables.UCS),
  object(0x41, 'VPORT', tables.VPORT),
  object(0x43, 'APPID', tables.APPID),
  object(0x45, 'DIMSTYLE', DIMSTYLE),
  object(0x48, 'GROUP', objects.GROUP),
  object(0x49, 'MLINESTYLE', objects.MLINESTYLE),
  entity(0x4a, 'OLE2FRAME', objects.OLE2FRAME),
  entity(0x4d, 'LWPOLYLINE', curves.LWPOLYLINE),
  entity(0x4e, 'HATCH', HATCH),
  object(0x4f, 'XRECORD', XRECORD),
  object(0x50, 'ACDBPLACEHOLDER', objects.PLACEHOLDER),
  object(0x51, 'VBA_PROJECT', null),
  object(0x52, 'LAYOUT', objects.LAYOUT),
  entity(0x1f2, 'ACAD_PROXY_ENTITY', null),
  object(0x1f3, 'ACAD_PROXY_OBJECT', null),
];

/** Types that come by a class: the name of the class in a DXF. */
const BY_CLASS: readonly Kind[] = [
  { record: 'IMAGE', entity: true, codec: placed.IMAGE },
  { record: 'WIPEOUT', entity: true, codec: placed.WIPEOUT },
  { record: 'LWPOLYLINE', entity: true, codec: curves.LWPOLYLINE },
  { record: 'HATCH', entity: true, codec: HATCH },
  { record: 'ARC_DIMENSION', entity: true, codec: annotations.ARC_DIMENSION },
  { record: 'MULTILEADER', entity: true, codec: MULTILEADER },
  { record: 'HELIX', entity: true, codec: curves.HELIX },
  { record: 'PDFUNDERLAY', entity: true, codec: placed.UNDERLAY },
  { record: 'DWFUNDERLAY', entity: true, codec: placed.UNDERLAY },
  { record: 'DGNUNDERLAY', entity: true, codec: placed.UNDERLAY },
  { record: 'ACAD_TABLE', entity: true, codec: placed.TABLE, readOnly: true },
  { record: 'MLEADERSTYLE', entity: false, codec: MLEADERSTYLE },
  { record: 'PDFDEFINITION', entity: false, codec: objects.UNDERLAY_DEFINITION },
  { record: 'DWFDEFINITION', entity: false, codec: objects.UNDERLAY_DEFINITION },
  { record: 'DGNDEFINITION', entity: false, codec: objects.UNDERLAY_DEFINITION },
  { record: 'ACDBDICTIONARYWDFLT', entity: false, codec: objects.DICTIONARYWDFLT },
  { record: 'DICTIONARYVAR', entity: false, codec: objects.DICTIONARYVAR },
  { record: 'ACDBPLACEHOLDER', entity: false, codec: objects.PLACEHOLDER },
  { record: 'XRECORD', entity: false, codec: XRECORD },
  { record: 'LAYOUT', entity: false, codec: objects.LAYOUT },
  { record: 'PLOTSETTINGS', entity: false, codec: objects.PLOTSETTINGS },
  { record: 'IMAGEDEF', entity: false, codec: objects.IMAGEDEF },
  { record: 'IMAGEDEF_REACTOR', entity: false, codec: objects.IMAGEDEF_REACTOR },
  { record: 'RASTERVARIABLES', entity: false, codec: objects.RASTERVARIABLES },
  { record: 'WIPEOUTVARIABLES', entity: false, codec: objects.WIPEOUTVARIABLES },
  { record: 'SORTENTSTABLE', entity: false, codec: objects.SORTENTSTABLE },
  { record: 'SCALE', entity: false, codec: objects.SCALE },
];

export const KINDS_BY_TYPE: ReadonlyMap<number, Kind> = new Map(FIXED.map((k) => [k.type!, k]));
export const KINDS_BY_CLASS: ReadonlyMap<string, Kind> = new Map(BY_CLASS.map((k) => [k.record, k]));

/** The control objects: type, name of their table, and whether two of their entries stand apart from the others. */
export const CONTROLS: readonly { type: number; entry: number; table: string }[] = [
  { type: 0x30, entry: 0x31, table: 'BLOCK_RECORD' },
  { type: 0x32, entry: 0x33, table: 'LAYER' },
  { type: 0x34, entry: 0x35, table: 'STYLE' },
  { type: 0x38, entry: 0x39, table: 'LTYPE' },
  { type: 0x3c, entry: 0x3d, table: 'VIEW' },
  { type: 0x3e, entry: 0x3f, table: 'UCS' },
  { type: 0x40, entry: 0x41, table: 'VPORT' },
  { type: 0x42, entry: 0x43, table: 'APPID' },
  { type: 0x44, entry: 0x45, table: 'DIMSTYLE' },
];
/** Entries of viewports that versions before 2004 keep beside the table of views. */
export const VIEWPORT_CONTROL = 0x46;
export const VIEWPORT_ENTRY = 0x47;

/** Tables whose records other objects refer to, and how they call them. */
export const NAMED = wordTable<NamedTable>({
  BLOCK_RECORD: 'block',
  LAYER: 'layer',
  STYLE: 'style',
  LTYPE: 'linetype',
  APPID: 'appid',
  DIMSTYLE: 'dimstyle',
});
