import type { DimVariable } from './dim-variables.js';
import { DIM_HANDLES, DIM_VARIABLES, DIM_WEIGHTS, OLD_DIM_SIZES, OLD_DIM_VARIABLES } from './dim-variables.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import type { NamedTable } from './fields.js';
import { HARD_POINTER } from './fields.js';
import type { HeaderVariable } from './header-variables.js';
import { HEADER_VARIABLES } from './header-variables.js';
import { degreesOf, formatDecimal, radiansOf } from '../drafting/numbers.js';
import { weightNumber, weightOf } from './codecs-tables.js';

/** Dimension variables in the order in which a header has them. */
const OLD_DIMS: readonly DimVariable[] = [...OLD_DIM_VARIABLES, ['DIMTXSTY', 'style', 340, 0], ...OLD_DIM_SIZES];
const NEW_DIMS: readonly DimVariable[] = [...DIM_VARIABLES, ...DIM_HANDLES, ...DIM_WEIGHTS];

const MS_PER_DAY = 86_400_000;
const CELWEIGHT = 0x1f;

/** Header variables as a DXF has them: name with its dollar, values by group code. */
export type HeaderValues = Map<string, [number, string][]>;

/** What a header says: its variables, and handles of what every drawing has, by the targets of `HEADER_VARIABLES`. */
export interface HeaderRead {
  values: HeaderValues;
  targets: Map<string, number>;
  /** References to records of tables, whose names are known once those are read. */
  named: { name: string; code: number; table: NamedTable; handle: number }[];
}

/** A value that is no number is read as 0. */
const spelt = (code: number, value: number): string =>
  !Number.isFinite(value)
    ? '0'
    : (code >= 10 && code < 60) || (code >= 140 && code < 150)
      ? formatDecimal(value)
      : String(Math.trunc(value));

const DIM_TABLES: Record<string, NamedTable> = { style: 'style', block: 'block', linetype: 'linetype' };
const DIM_CODES: Record<string, number> = { style: 7, block: 1, linetype: 6 };

/** Reads the variables; the reader stands behind the size of the part, its streams set up. */
export function readHeader(f: FieldReader): HeaderRead {
  const out: HeaderRead = { values: new Map(), targets: new Map(), named: [] };
  const { data } = f;
  if (f.v >= 2013) data.bitLongLong();
  for (const v of HEADER_VARIABLES) {
    if (f.v < v.since || f.v > v.until) continue;
    readVariable(f, v, out);
    if (data.overrun) break;
  }
  return out;
}

function readVariable(f: FieldReader, v: HeaderVariable, out: HeaderRead): void {
  const { data } = f;
  const say = (values: readonly number[], step = 10): void => {
    if (v.name === '') return;
    const list = values.map((n, k): [number, string] => {
      const code = v.code + step * k;
      return [code, spelt(code, v.name === 'ANGBASE' ? degreesOf(n) : n)];
    });
    out.values.set(`$${v.name}`, list);
  };
  switch (v.kind) {
    case 'b':
      return say([data.bit()]);
    case 'bs':
      say([data.bitShort()]);
      // A plot style by its handle follows.
      if (v.name === 'CEPSNTYPE' && out.values.get('$CEPSNTYPE')?.[0]?.[1] === '3') f.ref();
      return;
    case 'bl':
      return say([data.bitLong()]);
    case 'rc':
      return say([data.byte()]);
    case 'bd':
      return say([data.bitDouble()]);
    case 't': {
      const text = f.text();
      if (v.name !== '') out.values.set(`$${v.name}`, [[v.code, text]]);
      return;
    }
    case 'p3':
      return say([data.bitDouble(), data.bitDouble(), data.bitDouble()]);
    case 'r2':
      return say([data.double(), data.double()]);
    case 'time': {
      const days = data.bitLong();
      return say([days + data.bitLong() / MS_PER_DAY]);
    }
    case 'colour': {
      const index = colourIndex(f);
      return say([index]);
    }
    case 'seed': {
      const { handle } = data.handle();
      out.targets.set('SEED', handle);
      out.values.set('$HANDSEED', [[5, handle.toString(16).toUpperCase()]]);
      return;
    }
    case 'ref': {
      const handle = f.ref();
      if (v.target !== undefined) out.targets.set(v.target, handle);
      if (v.table) out.named.push({ name: v.name, code: v.code, table: v.table, handle });
      return;
    }
    case 'weights': {
      const flags = data.bitLong();
      const put = (name: string, code: number, value: number): void =>
        void out.values.set(`$${name}`, [[code, String(value)]]);
      put('CELWEIGHT', 370, weightOf(flags & CELWEIGHT));
      put('ENDCAPS', 280, (flags >> 5) & 3);
      put('JOINSTYLE', 280, (flags >> 7) & 3);
      put('LWDISPLAY', 290, flags & 0x200 ? 0 : 1);
      put('XEDIT', 290, flags & 0x400 ? 0 : 1);
      put('EXTNAMES', 290, flags & 0x800 ? 1 : 0);
      put('PSTYLEMODE', 290, flags & 0x2000 ? 1 : 0);
      put('OLESTARTUP', 290, flags & 0x4000 ? 1 : 0);
      return;
    }
    case 'dims':
      return readDims(f, out);
  }
}

function colourIndex(f: FieldReader): number {
  const { data } = f;
  const index = data.bitShort();
  if (f.v < 2004) return index;
  const value = data.bitLong() >>> 0;
  const flags = data.byte();
  if (flags & 1) f.text();
  if (flags & 2) f.text();
  return value >>> 24 === 0xc0 ? 256 : value >>> 24 === 0xc1 ? 0 : value >>> 24 === 0xc3 ? value & 255 : index;
}

function readDims(f: FieldReader, out: HeaderRead): void {
  const { data } = f;
  const one = (v: DimVariable): void => {
    const [name, kind, , , since = 0] = v;
    if (f.v < since) return;
    const say = (code: number, value: number): void => void out.values.set(`$${name}`, [[code, spelt(code, value)]]);
    switch (kind) {
      case 'b':
        return say(70, data.bit());
      case 'bs':
        return say(70, data.bitShort());
      case 'rc':
        return say(70, data.byte());
      case 'bd':
        return say(40, data.bitDouble());
      case 'colour':
        return say(70, colourIndex(f));
      case 't':
        return void out.values.set(`$${name}`, [[1, f.text()]]);
      default:
        out.named.push({ name, code: DIM_CODES[kind]!, table: DIM_TABLES[kind]!, handle: f.ref() });
    }
  };
  (f.v < 2000 ? OLD_DIMS : NEW_DIMS).forEach(one);
}

/** Where the references of a header lead: by the names of `HEADER_VARIABLES`, and the seed. */
export type HeaderTargets = (target: string) => number;

/** Writes the variables; what the drawing does not say gets its usual value. */
export function writeHeader(f: FieldWriter, values: HeaderValues, target: HeaderTargets): void {
  const { data } = f;
  if (f.v >= 2013) data.bitLongLong(0);
  const said = (name: string, k: number): number | null => {
    const text = values.get(`$${name}`)?.[k]?.[1];
    const n = text === undefined ? NaN : Number(text);
    return Number.isFinite(n) ? n : null;
  };
  const number = (v: HeaderVariable, k = 0): number => {
    const usual = Array.isArray(v.otherwise) ? (v.otherwise as number[])[k]! : (v.otherwise as number);
    return v.name === '' ? usual : (said(v.name, k) ?? usual);
  };
  const text = (name: string, otherwise: string): string => values.get(`$${name}`)?.[0]?.[1] ?? otherwise;
  const named = (v: { name: string; table?: NamedTable }): number => {
    const usual = { layer: '0', style: 'Standard', dimstyle: 'Standard', linetype: 'ByLayer', mlinestyle: 'Standard' };
    const table = v.table!;
    const given = text(v.name, '');
    const found = given === '' ? 0 : f.refOf(table, given);
    return found || f.refOf(table, (usual as Record<string, string>)[table] ?? '');
  };
  const ref = (handle: number, meant: number): void => f.putRef(meant, handle);
  for (const v of HEADER_VARIABLES) {
    if (f.v < v.since || f.v > v.until) continue;
    switch (v.kind) {
      case 'b':
        data.bit(number(v));
        break;
      case 'bs':
        data.bitShort(v.name === 'CEPSNTYPE' ? Math.min(number(v), 2) : number(v));
        break;
      case 'bl':
        data.bitLong(number(v));
        break;
      case 'rc':
        data.byte(number(v));
        break;
      case 'bd':
        data.bitDouble(v.name === 'ANGBASE' ? radiansOf(number(v)) : number(v));
        break;
      case 't':
        f.putText(v.name === '' ? String(v.otherwise) : text(v.name, String(v.otherwise)));
        break;
      case 'p3':
        for (let k = 0; k < 3; k++) data.bitDouble(number(v, k));
        break;
      case 'r2':
        for (let k = 0; k < 2; k++) data.double(number(v, k));
        break;
      case 'time': {
        const days = number(v);
        data.bitLong(Math.floor(days));
        data.bitLong(Math.round((days - Math.floor(days)) * MS_PER_DAY));
        break;
      }
      case 'colour':
        f.putColour(number(v), -1);
        break;
      case 'seed':
        data.handle(0, target('SEED'));
        break;
      case 'ref':
        ref(v.table ? named(v) : v.target === undefined ? 0 : target(v.target), v.meant ?? HARD_POINTER);
        break;
      case 'weights':
        data.bitLong(
          weightNumber(said('CELWEIGHT', 0) ?? -1) |
            ((said('ENDCAPS', 0) ?? 0) << 5) |
            ((said('JOINSTYLE', 0) ?? 0) << 7) |
            (said('LWDISPLAY', 0) ? 0 : 0x200) |
            ((said('XEDIT', 0) ?? 1) ? 0 : 0x400) |
            ((said('EXTNAMES', 0) ?? 1) ? 0x800 : 0) |
            ((said('PSTYLEMODE', 0) ?? 1) ? 0x2000 : 0) |
            (said('OLESTARTUP', 0) ? 0x4000 : 0),
        );
        break;
      case 'dims':
        for (const [name, kind, , standard, since = 0] of f.v < 2000 ? OLD_DIMS : NEW_DIMS) {
          if (f.v < since) continue;
          const n = said(name, 0) ?? standard;
          if (kind === 'b') data.bit(n);
          else if (kind === 'bs') data.bitShort(n);
          else if (kind === 'rc') data.byte(n);
          else if (kind === 'bd') data.bitDouble(n);
          else if (kind === 'colour') f.putColour(n, -1);
          else if (kind === 't') f.putText(text(name, ''));
          else {
            const given = text(name, kind === 'style' ? 'Standard' : '');
            ref(given === '' ? 0 : f.refOf(DIM_TABLES[kind]!, given), HARD_POINTER);
          }
        }
        break;
    }
  }
}
