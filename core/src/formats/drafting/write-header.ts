import type { Box2 } from '../../geometry/box.js';
import type { Drawing } from '../../drawing/drawing.js';
import { isDrafting } from '../../drawing/drawing.js';
import type { UnitName } from '../../drawing/units.js';
import { unitFromCode, unitOf } from '../../drawing/units.js';
import { valueType } from './value-types.js';
import type { EntityContext } from './entity-tags.js';
import { handleNumber } from './handles.js';
import { isPointer } from './raw-tags.js';
import type { TagSink } from './tag-sink.js';

/** Header variables of the source that hold in every version. */
const ALWAYS = new Set([
  '$LTSCALE',
  '$CELTSCALE',
  '$DIMSCALE',
  '$LUNITS',
  '$LUPREC',
  '$AUNITS',
  '$AUPREC',
  '$ANGBASE',
  '$ANGDIR',
  '$PSLTSCALE',
  '$PDMODE',
  '$PDSIZE',
  '$TEXTSIZE',
  '$LIMMIN',
  '$LIMMAX',
  '$INSBASE',
  '$FILLMODE',
  '$MIRRTEXT',
  '$ATTMODE',
  '$LTSCALE',
  '$TILEMODE',
]);
/** Those that came after R12. */
const SINCE_R13 = new Set(['$CELTSCALE', '$PSLTSCALE']);

/** What this writer states itself. */
const OWN = new Set([
  '$ACADVER',
  '$DWGCODEPAGE',
  '$EXTMIN',
  '$EXTMAX',
  '$CLAYER',
  '$CELTYPE',
  '$CECOLOR',
  '$TEXTSTYLE',
  '$DIMSTYLE',
  '$INSUNITS',
  '$MEASUREMENT',
  '$HANDSEED',
  '$HANDLING',
  '$ACADMAINTVER',
]);

/** The HEADER section. A source of the same version gives all its variables back, others those that every version has. */
export function writeHeader(
  x: EntityContext,
  out: TagSink,
  drawing: Drawing,
  extent: Box2,
  unit: UnitName,
  unitless = false,
): void {
  const metric = isMetric(unit);
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
  current(x, out, drawing);
  if (isDrafting(drawing)) carried(x, out, drawing);
  if (!drawing.header.has('$INSBASE')) {
    variable('$INSBASE');
    out.point(10, [0, 0, 0]);
  }
  if (!x.r12) {
    variable('$INSUNITS');
    out.integer(70, unitless ? 0 : unitOf(unit).code);
    variable('$MEASUREMENT');
    out.integer(70, measurement(drawing, metric));
  } else {
    variable('$HANDLING');
    out.integer(70, 1);
  }
  variable('$HANDSEED');
  out.string(5, x.handles.seed);
  out.string(0, 'ENDSEC');
}

/** What is drawn with next: the layer, linetype, colour and styles that the person left chosen, where they are written. */
function current(x: EntityContext, out: TagSink, drawing: Drawing): void {
  const chosen = (name: string): string | undefined =>
    isDrafting(drawing) ? drawing.header.get(name)?.[0]?.[1].trim() : undefined;
  const among = (name: string, list: readonly { name: string }[]): string | undefined => {
    const want = chosen(name)?.toLowerCase();
    return want === undefined ? undefined : list.find((r) => r.name.toLowerCase() === want)?.name;
  };
  const put = (name: string, code: number, value: string): void => {
    out.string(9, name);
    out.string(code, value);
  };
  const layer = among('$CLAYER', drawing.layers);
  put('$CLAYER', 8, layer === undefined ? '0' : x.layers.nameFor(layer));
  const linetype = among('$CELTYPE', drawing.linetypes);
  const fixed = /^by(layer|block)$/i.test(linetype ?? 'ByLayer');
  const by = /^byblock$/i.test(linetype ?? '') ? 'ByBlock' : 'ByLayer';
  const spelt = x.sameVersion ? chosen('$CELTYPE') : undefined;
  put('$CELTYPE', 6, !fixed ? x.linetypes.nameFor(linetype!) : (spelt ?? (x.r12 ? by.toUpperCase() : by)));
  out.string(9, '$CECOLOR');
  const colour = Number(chosen('$CECOLOR') ?? 256);
  out.integer(62, colour >= 0 && colour <= 256 ? colour : 256);
  const style = among(
    '$TEXTSTYLE',
    drawing.textStyles.filter((s) => !s.shapes),
  );
  put('$TEXTSTYLE', 7, style === undefined ? 'Standard' : x.styles.nameFor(style));
  const dimensionStyle = among('$DIMSTYLE', drawing.dimensionStyles);
  put('$DIMSTYLE', 2, dimensionStyle === undefined ? 'Standard' : x.dimensionStyles.nameFor(dimensionStyle));
}

/** Whether hatches and linetypes are taken from metric files: as the source says, while its unit stays of the same system. */
function measurement(drawing: Drawing, metric: boolean): number {
  const said = drawing.header.get('$MEASUREMENT')?.[0]?.[1].trim();
  const was = unitFromCode(Number(drawing.header.get('$INSUNITS')?.[0]?.[1] ?? '0'));
  const stays = was !== null && isMetric(was) === metric;
  return stays && (said === '0' || said === '1') ? Number(said) : metric ? 1 : 0;
}

const isMetric = (unit: UnitName): boolean => !/^(in|ft|yd|mi|mil|uin)/.test(unit) || unit === 'um';

function carried(x: EntityContext, out: TagSink, drawing: Drawing): void {
  for (const [name, values] of drawing.header) {
    if (OWN.has(name) || (name === '$TILEMODE' && drawing.sheets.length === 0)) continue;
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
