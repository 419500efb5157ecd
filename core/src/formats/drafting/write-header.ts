import type { Box2 } from '../../geometry/box.js';
import type { Drawing } from '../../drawing/drawing.js';
import { isDrafting } from '../../drawing/drawing.js';
import type { UnitName } from '../../drawing/units.js';
import { unitOf } from '../../drawing/units.js';
import { valueType } from './value-types.js';
import type { EntityContext } from './entity-tags.js';
import { handleNumber } from './handles.js';
import { isPointer } from './raw-tags.js';
import type { TagSink } from './tag-sink.js';

/** Header variables of the source that hold in every version. */
const ALWAYS = new Set([
  '$LTSCALE', '$CELTSCALE', '$DIMSCALE', '$LUNITS', '$LUPREC', '$AUNITS', '$AUPREC', '$ANGBASE', '$ANGDIR', '$PSLTSCALE',
  '$PDMODE', '$PDSIZE', '$TEXTSIZE', '$LIMMIN', '$LIMMAX', '$INSBASE', '$FILLMODE', '$MIRRTEXT', '$ATTMODE', '$LTSCALE',
]); // prettier-ignore
/** Those that came after R12. */
const SINCE_R13 = new Set(['$CELTSCALE', '$PSLTSCALE']);

/** What this writer states itself. */
const OWN = new Set([
  '$ACADVER', '$DWGCODEPAGE', '$EXTMIN', '$EXTMAX', '$CLAYER', '$CELTYPE', '$CECOLOR', '$TEXTSTYLE', '$DIMSTYLE',
  '$INSUNITS', '$MEASUREMENT', '$HANDSEED', '$HANDLING', '$ACADMAINTVER', '$TILEMODE',
]); // prettier-ignore

/** The HEADER section. A source of the same version gives all its variables back, others those that every version has. */
export function writeHeader(
  x: EntityContext,
  out: TagSink,
  drawing: Drawing,
  extent: Box2,
  unit: UnitName,
  unitless = false,
): void {
  const metric = !/^(in|ft|yd|mi|mil|uin)/.test(unit) || unit === 'um';
  out.string(0, 'SECTION');
  out.string(2, 'HEADER');
  const variable = (name: string): void => out.string(9, name);
  variable('$ACADVER');
  out.string(1, x.version);
  if (!x.r12) {
    variable('$DWGCODEPAGE');
    out.string(3, 'ANSI_1252');
  }
  variable('$EXTMIN');
  out.point(10, extent.empty ? [1e20, 1e20, 1e20] : [extent.minX, extent.minY, 0]);
  variable('$EXTMAX');
  out.point(10, extent.empty ? [-1e20, -1e20, -1e20] : [extent.maxX, extent.maxY, 0]);
  variable('$CLAYER');
  out.string(8, '0');
  variable('$CELTYPE');
  out.string(6, x.r12 ? 'BYLAYER' : 'ByLayer');
  variable('$CECOLOR');
  out.integer(62, 256);
  variable('$TEXTSTYLE');
  out.string(7, 'Standard');
  variable('$DIMSTYLE');
  out.string(2, 'Standard');
  if (isDrafting(drawing)) carried(x, out, drawing);
  if (!drawing.header.has('$INSBASE')) {
    variable('$INSBASE');
    out.point(10, [0, 0, 0]);
  }
  if (!x.r12) {
    variable('$INSUNITS');
    out.integer(70, unitless ? 0 : unitOf(unit).code);
    variable('$MEASUREMENT');
    out.integer(70, metric ? 1 : 0);
  } else {
    variable('$HANDLING');
    out.integer(70, 1);
  }
  variable('$HANDSEED');
  out.string(5, x.handles.seed);
  out.string(0, 'ENDSEC');
}

function carried(x: EntityContext, out: TagSink, drawing: Drawing): void {
  for (const [name, values] of drawing.header) {
    if (OWN.has(name)) continue;
    if (!x.sameVersion && (!ALWAYS.has(name) || (x.r12 && SINCE_R13.has(name)))) continue;
    const dangling = values.some(([c, v]) => isPointer(c) && handleNumber(v.trim()) !== 0 && !x.pointers.has(v));
    if (dangling) continue;
    out.string(9, name);
    for (const [code, text] of values) {
      const type = valueType(code);
      if (type === 'double') out.number(code, Number(text) || 0);
      else if (type === 'text' || type === 'bytes') out.string(code, text);
      else out.integer(code, Number(text) || 0);
    }
  }
}
