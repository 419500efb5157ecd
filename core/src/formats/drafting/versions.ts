import { wordTable } from '../../drawing/word-table.js';

/** Versions that can be written, with the value of $ACADVER. */
export const WRITABLE_VERSIONS = wordTable<string>({
  R12: 'AC1009',
  '2000': 'AC1015',
  '2004': 'AC1018',
  '2007': 'AC1021',
  '2010': 'AC1024',
  '2013': 'AC1027',
  '2018': 'AC1032',
});

/** What a version can say. */
export interface Abilities {
  version: string;
  /** No handles needed, no subclass marks, no classes, objects or block records. */
  r12: boolean;
  /** One sheet, without an object that describes it; views of its windows in extended data. */
  oneSheet: boolean;
  trueColour: boolean;
  /** Text in UTF-8 rather than in a code page. */
  utf8: boolean;
  /** Spline edges of hatches count their fit points. */
  splineFit: boolean;
  gradients: boolean;
}

export const abilitiesOf = (version: string): Abilities => ({
  version,
  r12: version < 'AC1012',
  oneSheet: version < 'AC1015',
  trueColour: version >= 'AC1018',
  utf8: version >= 'AC1021',
  splineFit: version >= 'AC1024',
  gradients: version >= 'AC1018',
});

/** The version that an object of a kind first came with, for kinds newer than R13. */
const SINCE = wordTable<string>({
  LAYOUT: 'AC1015',
  PLOTSETTINGS: 'AC1015',
  ACDBPLACEHOLDER: 'AC1015',
  ACDBDICTIONARYWDFLT: 'AC1015',
  TABLESTYLE: 'AC1018',
  FIELD: 'AC1018',
  FIELDLIST: 'AC1018',
  MATERIAL: 'AC1021',
  VISUALSTYLE: 'AC1021',
  SCALE: 'AC1021',
  MLEADERSTYLE: 'AC1021',
  SUN: 'AC1021',
  SECTION: 'AC1021',
  CELLSTYLEMAP: 'AC1021',
  DATALINK: 'AC1021',
  TABLECONTENT: 'AC1021',
  TABLEGEOMETRY: 'AC1021',
  ACDBSECTIONVIEWSTYLE: 'AC1024',
  ACDBDETAILVIEWSTYLE: 'AC1024',
  MENTALRAYRENDERSETTINGS: 'AC1021',
  RAPIDRTRENDERSETTINGS: 'AC1027',
  MULTILEADER: 'AC1021',
  MESH: 'AC1024',
  SURFACE: 'AC1021',
  EXTRUDEDSURFACE: 'AC1021',
  REVOLVEDSURFACE: 'AC1021',
  SWEPTSURFACE: 'AC1021',
  LOFTEDSURFACE: 'AC1021',
  PLANESURFACE: 'AC1021',
  HELIX: 'AC1021',
  ARC_DIMENSION: 'AC1018',
  LARGE_RADIAL_DIMENSION: 'AC1018',
  ACAD_TABLE: 'AC1018',
  MPOLYGON: 'AC1018',
  PDFUNDERLAY: 'AC1024',
  DGNUNDERLAY: 'AC1021',
  DWFUNDERLAY: 'AC1021',
  LIGHT: 'AC1021',
});

/** Whether a version knows a kind of object or entity; kinds that nobody listed count as known. */
export const knowsKind = (version: string, type: string): boolean => (SINCE[type] ?? 'AC1012') <= version;

/** Tags that all entities may have and that came after version 2000. */
const TAG_SINCE: Record<number, string> = { 430: 'AC1018', 347: 'AC1021', 348: 'AC1021', 284: 'AC1021' };
export const knowsTag = (version: string, code: number): boolean => (TAG_SINCE[code] ?? 'AC1015') <= version;
