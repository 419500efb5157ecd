import type { NamedTable } from './fields.js';

/**
 * How a header variable lies in the bits. `ref` is a handle in the stream of handles; `seed` one among the data without
 * a stream of its own; `time` a day and its milliseconds.
 */
export type HeaderKind =
  'b' | 'bs' | 'bl' | 'rc' | 'bd' | 't' | 'p3' | 'r2' | 'colour' | 'time' | 'ref' | 'dims' | 'seed' | 'weights';

/**
 * One variable, in the order of the bits (Open Design Specification, "Header variables"): its name in a DXF ('' for what
 * a DXF has no name for), its group code there, what it is when the drawing does not say, the versions that have it.
 */
export interface HeaderVariable {
  kind: HeaderKind;
  name: string;
  code: number;
  otherwise: number | readonly number[] | string;
  since: number;
  until: number;
  table?: NamedTable;
  /** What the reference leads to where it is not a named record: a control object or a dictionary. */
  target?: string;
  /** How the reference is meant. */
  meant?: number;
}

const list: HeaderVariable[] = [];
const CODES: Record<HeaderKind, number> = {
  b: 70,
  bs: 70,
  bl: 70,
  rc: 280,
  bd: 40,
  t: 1,
  p3: 10,
  r2: 10,
  colour: 62,
  time: 40,
  ref: 0,
  dims: 0,
  seed: 5,
  weights: 0,
};

interface Range {
  code?: number;
  since?: number;
  until?: number;
}
function add(kind: HeaderKind, name: string, otherwise: HeaderVariable['otherwise'] = 0, range: Range = {}): void {
  const { code = CODES[kind], since = 0, until = 9999 } = range;
  list.push({ kind, name, code, otherwise, since, until });
}
/** Several of a kind: names with their standard value after a colon where it is not 0. */
function all(kind: HeaderKind, names: string, range: Range = {}): void {
  for (const n of names.split(' ')) {
    const [name, value] = n.split(':');
    add(kind, name! === '-' ? '' : name!, Number(value ?? 0), range);
  }
}
function ref(name: string, meant: number, more: Partial<HeaderVariable> = {}): void {
  list.push({ kind: 'ref', name, code: 0, otherwise: 0, since: 0, until: 9999, meant, ...more });
}

const OLD: Range = { until: 14 };
const R2000: Range = { since: 2000 };
const R2004: Range = { since: 2004 };
const R2007: Range = { since: 2007 };

add('bd', '', 412148564080);
all('bd', '-:1 -:1 -:1');
for (const s of ['m', '', '', '']) add('t', '', s);
all('bl', '-:24 -');
all('bs', '-', OLD);
ref('', 5, { until: 2000 });
all('b', 'DIMASO:1 DIMSHO:1');
all('b', 'DIMSAV', OLD);
all('b', 'PLINEGEN ORTHOMODE REGENMODE:1 FILLMODE:1 QTEXTMODE PSLTSCALE:1 LIMCHECK');
all('b', 'BLIPMODE', OLD);
all('b', '-', R2004);
all('b', 'USRTIMER:1 SKPOLY ANGDIR SPLFRAME');
all('b', 'ATTREQ ATTDIA', OLD);
all('b', 'MIRRTEXT WORLDVIEW:1');
all('b', '-', OLD);
all('b', 'TILEMODE:1 PLIMCHECK VISRETAIN:1');
all('b', 'DELOBJ', OLD);
all('b', 'DISPSILH -');
all('bs', 'PROXYGRAPHICS:1');
all('bs', 'DRAGMODE', OLD);
all('bs', 'TREEDEPTH:3020 LUNITS:2 LUPREC:4 AUNITS AUPREC');
all('bs', 'OSMODE', OLD);
all('bs', 'ATTMODE:1');
all('bs', 'COORDS', OLD);
all('bs', 'PDMODE');
all('bs', 'PICKSTYLE', OLD);
all('bl', '- - -', R2004);
all(
  'bs',
  'USERI1 USERI2 USERI3 USERI4 USERI5 SPLINESEGS:8 SURFU:6 SURFV:6 SURFTYPE:6 SURFTAB1:6 SURFTAB2:6 SPLINETYPE:6 SHADEDGE:3 SHADEDIF:70 UNITMODE MAXACTVP:64 -:4 CMLJUST -:50',
);
all('bd', 'LTSCALE:1 TEXTSIZE:2.5 TRACEWID:1 SKETCHINC:1 FILLETRAD THICKNESS');
add('bd', 'ANGBASE', 0, { code: 50 });
all(
  'bd',
  'PDSIZE PLINEWID USERR1 USERR2 USERR3 USERR4 USERR5 CHAMFERA CHAMFERB CHAMFERC CHAMFERD -:0.5 CMLSCALE:1 CELTSCALE:1',
);
add('t', 'MENU', '.', { until: 2004 });
add('time', 'TDCREATE');
add('time', 'TDUPDATE');
all('bl', '- - -', R2004);
add('time', 'TDINDWG');
add('time', 'TDUSRTIMER');
add('colour', 'CECOLOR', 256);
add('seed', 'HANDSEED');
ref('CLAYER', 5, { table: 'layer', code: 8 });
ref('TEXTSTYLE', 5, { table: 'style', code: 7 });
ref('CELTYPE', 5, { table: 'linetype', code: 6 });
ref('', 5, { since: 2007 });
ref('DIMSTYLE', 5, { table: 'dimstyle', code: 2 });
ref('CMLSTYLE', 5, { table: 'mlinestyle', code: 2 });
add('bd', 'PSVPSCALE', 0, R2000);
/** The origin and the planes of one space: P stands before the names of those of paper. */
function space(p: 'P' | ''): void {
  add('p3', `${p}INSBASE`, [0, 0, 0]);
  add('p3', `${p}EXTMIN`, [1e20, 1e20, 1e20]);
  add('p3', `${p}EXTMAX`, [-1e20, -1e20, -1e20]);
  add('r2', `${p}LIMMIN`, [0, 0]);
  add('r2', `${p}LIMMAX`, [420, 297]);
  add('bd', `${p}ELEVATION`);
  add('p3', `${p}UCSORG`, [0, 0, 0]);
  add('p3', `${p}UCSXDIR`, [1, 0, 0]);
  add('p3', `${p}UCSYDIR`, [0, 1, 0]);
  ref('', 5);
  ref('', 5, R2000);
  add('bs', `${p}UCSORTHOVIEW`, 0, R2000);
  ref('', 5, R2000);
  for (const side of ['TOP', 'BOTTOM', 'LEFT', 'RIGHT', 'FRONT', 'BACK'])
    add('p3', `${p}UCSORG${side}`, [0, 0, 0], R2000);
}
space('P');
space('');
add('dims', '');
const control = (target: string, more: Partial<HeaderVariable> = {}): void => ref('', 3, { target, ...more });
for (const t of ['BLOCK_RECORD', 'LAYER', 'STYLE', 'LTYPE', 'VIEW', 'UCS', 'VPORT', 'APPID', 'DIMSTYLE']) control(t);
control('VX', { until: 2000 });
const dictionary = (target: string, meant: number, more: Partial<HeaderVariable> = {}): void =>
  ref('', meant, { target, ...more });
dictionary('ACAD_GROUP', 5);
dictionary('ACAD_MLINESTYLE', 5);
dictionary('ROOT', 3);
all('bs', '-:1 -:70', R2000);
add('t', 'HYPERLINKBASE', '', R2000);
add('t', 'STYLESHEET', '', R2000);
dictionary('ACAD_LAYOUT', 5, R2000);
dictionary('ACAD_PLOTSETTINGS', 5, R2000);
dictionary('ACAD_PLOTSTYLENAME', 5, R2000);
dictionary('ACAD_MATERIAL', 5, R2004);
dictionary('ACAD_COLOR', 5, R2004);
dictionary('ACAD_VISUALSTYLE', 5, R2007);
ref('', 5, { since: 2013 });
add('weights', '', 0, R2000);
add('bs', 'INSUNITS', 0, R2000);
add('bs', 'CEPSNTYPE', 0, { since: 2000, code: 380 });
add('t', 'FINGERPRINTGUID', '{00000000-0000-0000-0000-000000000000}', { since: 2000, code: 2 });
add('t', 'VERSIONGUID', '{00000000-0000-0000-0000-000000000000}', { since: 2000, code: 2 });
all('rc', 'SORTENTS:127 INDEXCTL HIDETEXT:1 XCLIPFRAME DIMASSOC:2 HALOGAP', R2004);
all('bs', 'OBSCOLOR:257 INTERSECTIONCOLOR:257', R2004);
all('rc', 'OBSLTYPE INTERSECTIONDISPLAY', R2004);
add('t', 'PROJECTNAME', '', R2004);
ref('', 5, { target: '*PAPER_SPACE' });
ref('', 5, { target: '*MODEL_SPACE' });
ref('', 5, { target: 'ByLayer' });
ref('', 5, { target: 'ByBlock' });
ref('', 5, { target: 'Continuous' });
add('b', 'CAMERADISPLAY', 0, { since: 2007, code: 290 });
all('bl', '- -', R2007);
all('bd', '-', R2007);
all('bd', 'STEPSPERSEC:2 STEPSIZE:6 3DDWFPREC:2 LENSLENGTH:50 CAMERAHEIGHT', R2007);
all('rc', 'SOLIDHIST SHOWHIST:1', R2007);
all('bd', 'PSOLWIDTH:5 PSOLHEIGHT:80 LOFTANG1:1.570796326794897 LOFTANG2:1.570796326794897 LOFTMAG1 LOFTMAG2', R2007);
all('bs', 'LOFTPARAM:7', R2007);
all('rc', 'LOFTNORMALS:1', R2007);
all('bd', 'LATITUDE LONGITUDE NORTHDIRECTION', R2007);
add('bl', 'TIMEZONE', -8000, R2007);
all('rc', 'LIGHTGLYPHDISPLAY:1 TILEMODELIGHTSYNCH:1 DWFFRAME:2 DGNFRAME', R2007);
all('b', '-', R2007);
add('colour', 'INTERFERECOLOR', 1, R2007);
for (let i = 0; i < 3; i++) ref('', 5, R2007);
all('rc', 'CSHADOW', R2007);
add('bd', 'SHADOWPLANELOCATION', 0, R2007);
all('bs', '-:1 -:1 -:1 -:1', { since: 14 });

/** All variables in the order of the bits. */
export const HEADER_VARIABLES: readonly HeaderVariable[] = list;
