import type { Drawing } from '../../drawing/drawing.js';
import type { EntityContext } from './entity-tags.js';
import { parseRaw, rawValue } from './raw-tags.js';
import type { TagSink } from './tag-sink.js';
import { knowsKind } from './versions.js';
import { wordTable } from '../../drawing/word-table.js';

/** Class name, the program that brought it, flags, and whether it is an entity (DXF reference, "CLASSES"). */
const CLASSES = wordTable<readonly [cpp: string, application: string, flags: number, entity: number]>({
  ACDBDICTIONARYWDFLT: ['AcDbDictionaryWithDefault', 'ObjectDBX Classes', 0, 0],
  ACDBPLACEHOLDER: ['AcDbPlaceHolder', 'ObjectDBX Classes', 0, 0],
  LAYOUT: ['AcDbLayout', 'ObjectDBX Classes', 0, 0],
  IMAGE: ['AcDbRasterImage', 'ISM', 2175, 1],
  IMAGEDEF: ['AcDbRasterImageDef', 'ISM', 0, 0],
  IMAGEDEF_REACTOR: ['AcDbRasterImageDefReactor', 'ISM', 1, 0],
  RASTERVARIABLES: ['AcDbRasterVariables', 'ISM', 0, 0],
  WIPEOUT: ['AcDbWipeout', 'WipeOut', 2175, 1],
  ARC_DIMENSION: ['AcDbArcDimension', 'ACDB_ARCDIMENSION_CLASS', 1025, 1],
  MULTILEADER: ['AcDbMLeader', 'ACDB_MLEADER_CLASS', 1025, 1],
  MLEADERSTYLE: ['AcDbMLeaderStyle', 'ACDB_MLEADERSTYLE_CLASS', 4095, 0],
  HELIX: ['AcDbHelix', 'ObjectDBX Classes', 0, 1],
  PDFUNDERLAY: ['AcDbPdfReference', 'ObjectDBX Classes', 1153, 1],
  DWFUNDERLAY: ['AcDbDwfReference', 'ObjectDBX Classes', 1153, 1],
  DGNUNDERLAY: ['AcDbDgnReference', 'ObjectDBX Classes', 1153, 1],
  PDFDEFINITION: ['AcDbPdfDefinition', 'ObjectDBX Classes', 1153, 0],
  DWFDEFINITION: ['AcDbDwfDefinition', 'ObjectDBX Classes', 1153, 0],
  DGNDEFINITION: ['AcDbDgnDefinition', 'ObjectDBX Classes', 1153, 0],
  LWPOLYLINE: ['AcDbPolyline', 'ObjectDBX Classes', 0, 1],
  HATCH: ['AcDbHatch', 'ObjectDBX Classes', 0, 1],
  XRECORD: ['AcDbXrecord', 'ObjectDBX Classes', 0, 0],
  SORTENTSTABLE: ['AcDbSortentsTable', 'ObjectDBX Classes', 0, 0],
  DICTIONARYVAR: ['AcDbDictionaryVar', 'ObjectDBX Classes', 0, 0],
});

/** Kinds that need no class from version 2000 on. */
const NUMBERED = new Set(['LWPOLYLINE', 'HATCH', 'XRECORD']);

/** The classes of the source, and those of `used` kinds that it does not list. */
export function writeClasses(x: EntityContext, out: TagSink, drawing: Drawing, used: ReadonlySet<string>): void {
  out.string(0, 'SECTION');
  out.string(2, 'CLASSES');
  const listed = new Set<string>();
  const counted = x.version >= 'AC1018';
  for (const raw of x.sameFormat ? drawing.carried.classes : []) {
    const tags = parseRaw(raw);
    const name = (rawValue(tags, 1) ?? '').toUpperCase();
    if (listed.has(name)) continue;
    listed.add(name);
    // Counts of instances came with version 2004.
    const missing = counted && !tags.some(([c]) => c === 91);
    for (const [c, v] of tags) {
      if (c !== 91 || counted) out.string(c, v);
      if (c === 90 && missing) out.integer(91, 0);
    }
  }
  for (const name of used) {
    const known = CLASSES[name];
    if (
      !known ||
      listed.has(name) ||
      (!x.oneSheet && NUMBERED.has(name)) ||
      !(x.sameVersion || knowsKind(x.version, name))
    )
      continue;
    const [cpp, application, flags, entity] = known;
    out.string(0, 'CLASS');
    out.string(1, name);
    out.string(2, cpp);
    out.string(3, application);
    out.integer(90, flags);
    if (counted) out.integer(91, 1);
    out.integer(280, 0);
    out.integer(281, entity);
  }
  out.string(0, 'ENDSEC');
}
