import type { Codec } from './codec.js';
import { bounded, put } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import type { Fields } from './fields.js';
import { HARD_OWNER, HARD_POINTER, NONE, SOFT_POINTER } from './fields.js';

/** Layouts of the records of tables (Open Design Specification, "LAYER" and its like). */

/** What every record begins with: its name and whether it comes from a reference. */
export function entryName(f: Fields, mark: string): void {
  f.mark(mark);
  f.t(2);
  if (f.v < 2007) f.b(NONE, 1);
  f.bs(NONE, 0);
  if (f.v < 2007) f.b(NONE, 0);
}

/** Line weights in hundredths of a millimetre, by the number that bits have for them. */
const WEIGHTS = [0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211];

export function weightOf(number: number): number {
  if (number === 29 || number === -1) return -1;
  if (number === 30) return -2;
  if (number === 31) return -3;
  return WEIGHTS[number] ?? -1;
}
export function weightNumber(weight: number): number {
  if (weight < 0) return weight === -2 ? 30 : weight === -3 ? 31 : 29;
  const i = WEIGHTS.indexOf(weight);
  return i < 0 ? 29 : i;
}

const FROZEN = 1;
const OFF = 2;
const FROZEN_IN_NEW = 4;
const LOCKED = 8;
const PLOTTED = 16;

export const LAYER: Codec = {
  read(f) {
    entryName(f, 'AcDbLayerTableRecord');
    const { data, bag } = f;
    let bits = 0;
    if (f.v < 2000) {
      bits |= data.bit() ? FROZEN : 0;
      bits |= data.bit() ? OFF : 0;
      bits |= data.bit() ? FROZEN_IN_NEW : 0;
      bits |= data.bit() ? LOCKED : 0;
      bits |= PLOTTED;
    } else bits = data.bitShort();
    f.colour(62, 420);
    bag.addNumber(70, (bits & FROZEN ? 1 : 0) | (bits & FROZEN_IN_NEW ? 2 : 0) | (bits & LOCKED ? 4 : 0));
    if (bits & OFF) bag.change(62, -Math.abs(bag.integer(62, 7)));
    if (!(bits & PLOTTED)) bag.addNumber(290, 0);
    if (f.v >= 2000) bag.addNumber(370, weightOf((bits >> 5) & 31));
    f.h(NONE, HARD_POINTER);
    if (f.v >= 2000) f.h(390, HARD_POINTER);
    if (f.v >= 2007) f.h(347, HARD_POINTER);
    f.name(6, 'linetype', HARD_POINTER);
    // A visual style, from 2013 on.
    if (f.v >= 2013 && f.handles.left >= 8) f.h(348, HARD_POINTER);
  },
  write(f) {
    entryName(f, 'AcDbLayerTableRecord');
    const flags = f.number(70);
    const index = f.number(62, 7);
    const rgb = f.has(420) ? f.number(420) : -1;
    const weight = weightNumber(f.number(370, -3));
    if (f.v < 2000) {
      for (const on of [flags & 1, index < 0, flags & 2, flags & 4]) f.data.bit(on ? 1 : 0);
      f.number(290, 1);
      f.take(390);
      f.putColour(Math.abs(index), rgb);
      f.h(NONE, HARD_POINTER);
      return f.name(6, 'linetype', HARD_POINTER, 'Continuous');
    }
    f.data.bitShort(
      (flags & 1 ? FROZEN : 0) |
        (index < 0 ? OFF : 0) |
        (flags & 2 ? FROZEN_IN_NEW : 0) |
        (flags & 4 ? LOCKED : 0) |
        (f.number(290, 1) ? PLOTTED : 0) |
        (weight << 5),
    );
    f.putColour(Math.abs(index), rgb);
    f.h(NONE, HARD_POINTER);
    f.h(390, HARD_POINTER);
    if (f.v >= 2007) f.h(347, HARD_POINTER);
    f.name(6, 'linetype', HARD_POINTER, 'Continuous');
    if (f.v >= 2013) f.h(348, HARD_POINTER);
  },
};

const style = (f: Fields): void => {
  entryName(f, 'AcDbTextStyleTableRecord');
};
const SHAPES = 1;
const VERTICAL = 4;

export const STYLE: Codec = {
  read(f) {
    style(f);
    const { data, bag } = f;
    const shapes = data.bit();
    const vertical = data.bit();
    bag.addNumber(70, (vertical ? VERTICAL : 0) | (shapes ? SHAPES : 0));
    f.bd(40);
    f.bd(41);
    f.angle(50);
    f.rc(71);
    f.bd(42);
    f.t(3);
    f.t(4);
    f.h(NONE, HARD_POINTER);
  },
  write(f) {
    style(f);
    const flags = f.number(70);
    f.data.bit(flags & SHAPES);
    f.data.bit(flags & VERTICAL);
    f.bd(40);
    f.bd(41, 1);
    f.angle(50);
    f.rc(71);
    f.bd(42, 2.5);
    f.t(3);
    f.t(4);
    f.h(NONE, HARD_POINTER);
  },
};

const TEXT_AREA = 256;

export const LTYPE: Codec = {
  read(f) {
    entryName(f, 'AcDbLinetypeTableRecord');
    const { data, bag } = f;
    f.t(3);
    f.bd(40);
    f.rc(72);
    const n = data.byte();
    bag.addNumber(73, n);
    const dashes: { at: number; shape: number; rest: number[]; flags: number }[] = [];
    for (let i = 0; i < n && !data.overrun; i++) {
      const length = data.bitDouble();
      const shape = data.bitShort();
      const [x, y] = [data.double(), data.double()];
      const [scale, turn] = [data.bitDouble(), data.bitDouble()];
      dashes.push({ at: length, shape, rest: [scale, turn, x, y], flags: data.bitShort() });
    }
    const letters = dashes.some((d) => d.flags & 2);
    let area: Uint8Array | null = null;
    if (f.v < 2007) area = data.take(TEXT_AREA);
    else if (letters) area = data.take(2 * TEXT_AREA);
    f.h(NONE, HARD_POINTER);
    for (const d of dashes) {
      bag.addNumber(49, d.at);
      bag.addNumber(74, d.flags);
      const font = f.ref();
      if (!(d.flags & 6)) continue;
      bag.addNumber(75, d.flags & 2 ? 0 : d.shape);
      if (font > 0) bag.addHandle(340, font);
      const [scale, turn, x, y] = d.rest;
      bag.addNumber(46, scale!);
      bag.addNumber(50, (turn! * 180) / Math.PI);
      bag.addNumber(44, x!);
      bag.addNumber(45, y!);
      if (d.flags & 2 && area) bag.addText(9, lettersAt(f, area, d.shape));
    }
  },
  write(f) {
    entryName(f, 'AcDbLinetypeTableRecord');
    f.take(70);
    const { data, record } = f;
    const { store } = record;
    f.t(3);
    f.bd(40);
    f.rc(72, 65);
    f.number(73);
    interface Dash {
      length: number;
      flags: number;
      shape: number;
      font: number;
      scale: number;
      turn: number;
      x: number;
      y: number;
      letters: string;
    }
    const dashes: Dash[] = [];
    for (let i = record.from + 1; i < record.to; i++) {
      const code = store.codes[i];
      const last = dashes[dashes.length - 1];
      if (code === 49) {
        dashes.push({
          length: store.numberAt(i),
          flags: 0,
          shape: 0,
          font: 0,
          scale: 0,
          turn: 0,
          x: 0,
          y: 0,
          letters: '',
        });
      } else if (!last) continue;
      else if (code === 74) last.flags = store.numberAt(i);
      else if (code === 75) last.shape = store.numberAt(i);
      else if (code === 340) last.font = store.handleAt(i);
      else if (code === 46) last.scale = store.numberAt(i);
      else if (code === 50) last.turn = (store.numberAt(i) * Math.PI) / 180;
      else if (code === 44) last.x = store.numberAt(i);
      else if (code === 45) last.y = store.numberAt(i);
      else if (code === 9) last.letters = store.textAt(i);
      else continue;
      f.use(i);
    }
    const wide = f.v >= 2007;
    const area = new Uint8Array(wide ? 2 * TEXT_AREA : TEXT_AREA);
    let used = 0;
    data.byte(dashes.length);
    for (const d of dashes) {
      let shape = d.shape;
      if (d.flags & 2) {
        shape = used;
        used += putLetters(area, used, d.letters, wide);
      }
      data.bitDouble(d.length);
      data.bitShort(shape);
      data.double(d.x);
      data.double(d.y);
      data.bitDouble(d.scale);
      data.bitDouble(d.turn);
      data.bitShort(d.flags);
    }
    if (!wide || dashes.some((d) => d.flags & 2)) data.put(area);
    f.h(NONE, HARD_POINTER);
    for (const d of dashes) f.putRef(HARD_POINTER, d.font);
  },
};

/** Letters in the area behind the dashes, ended by zero. */
function lettersAt(f: FieldReader, area: Uint8Array, offset: number): string {
  if (f.v >= 2007) {
    let end = offset;
    while (end + 1 < area.length && (area[end] || area[end + 1])) end += 2;
    return new TextDecoder('utf-16le').decode(area.subarray(offset, end));
  }
  let end = offset;
  while (end < area.length && area[end]) end++;
  return f.decoding.decode(area, offset, end);
}
function putLetters(area: Uint8Array, at: number, text: string, wide: boolean): number {
  const size = wide ? 2 : 1;
  const fits = text.slice(0, Math.max(0, Math.floor((area.length - at) / size) - 1));
  for (let i = 0; i < fits.length; i++) {
    const c = fits.charCodeAt(i);
    area[at + i * size] = c;
    if (wide) area[at + 2 * i + 1] = c >> 8;
  }
  return (fits.length + 1) * size;
}

export const APPID: Codec = (f) => {
  entryName(f, 'AcDbRegAppTableRecord');
  f.rc(NONE);
  f.h(NONE, HARD_POINTER);
  flags(f);
};

/** Group 70 of records that have no flags in the bits. */
function flags(f: Fields): void {
  if (f.reading) (f as FieldReader).bag.addNumber(70, 0);
  else (f as FieldWriter).take(70);
}

/** What views and viewports share after their size: target, direction and how the view is cut. */
function camera(f: Fields, codes: { target: number; direction: number; twist: number }): void {
  f.p3(codes.target);
  f.p3(codes.direction, f.reading ? undefined : [0, 0, 1]);
  f.angle(codes.twist);
  for (const c of [42, 43, 44]) f.bd(c, f.reading || c !== 42 ? undefined : 50);
}

/** The view mode as group 71 counts its bits: perspective 1, front clip 2, back clip 4, front not at the eye 16. */
function viewMode(f: Fields): void {
  if (f.reading) {
    const { data, bag } = f as FieldReader;
    const bits = [data.bit(), data.bit(), data.bit(), data.bit()];
    bag.addNumber(71, bits[0]! | (bits[1]! << 1) | (bits[2]! << 2) | (bits[3] ? 0 : 16));
  } else {
    const w = f as FieldWriter;
    const mode = w.number(71);
    for (const b of [1, 2, 4]) w.data.bit(mode & b);
    w.data.bit(!(mode & 16));
  }
}

/** Lights of a view, from version 2007 on. */
function lights(f: Fields): void {
  if (f.v < 2007) return;
  f.b(292, f.reading ? undefined : 1);
  f.rc(282, f.reading ? undefined : 1);
  f.bd(141);
  f.bd(142);
  f.colour(63, 421, 250);
}

export const VPORT: Codec = (f) => {
  entryName(f, 'AcDbViewportTableRecord');
  flags(f);
  viewSize(f);
  if (f.reading) {
    const r = f as FieldReader;
    put(r, 12, [r.data.double(), r.data.double()]);
  } else f.r2(12);
  camera(f, { target: 17, direction: 16, twist: 51 });
  viewMode(f);
  if (f.v >= 2000) f.rc(281);
  lights(f);
  f.r2(10);
  f.r2(11);
  if (f.reading) {
    const { data, bag } = f as FieldReader;
    const follow = data.bit();
    bag.change(71, bag.integer(71) | (follow << 3));
  } else {
    const w = f as FieldWriter;
    w.data.bit(w.number(71) & 8);
  }
  f.bs(72, f.reading ? undefined : 1000);
  f.b(73, f.reading ? undefined : 1);
  ucsIcon(f);
  f.b(76);
  f.r2(15);
  f.b(75);
  f.b(77);
  f.bs(78);
  f.angle(50);
  f.r2(13);
  f.r2(14);
  if (f.v >= 2000) {
    f.b(NONE, 0);
    f.b(65, f.reading ? undefined : 0);
    f.p3(110);
    f.p3(111, f.reading ? undefined : [1, 0, 0]);
    f.p3(112, f.reading ? undefined : [0, 1, 0]);
    f.bd(146);
    f.bs(79);
  }
  if (f.v >= 2007) {
    f.bs(60, f.reading ? undefined : 3);
    f.bs(61, f.reading ? undefined : 5);
  }
  f.h(NONE, HARD_POINTER);
  if (f.v >= 2007) {
    f.h(332, SOFT_POINTER);
    f.h(348, HARD_POINTER);
    f.h(361, HARD_OWNER);
  }
  if (f.v >= 2000) {
    f.h(345, HARD_POINTER);
    f.h(346, HARD_POINTER);
  }
};

/** Height (40) and width; a DXF has their ratio (41). */
function viewSize(f: Fields): void {
  if (f.reading) {
    const { data, bag } = f as FieldReader;
    const height = data.bitDouble();
    const width = data.bitDouble();
    bag.addNumber(40, height);
    bag.addNumber(41, height !== 0 ? width / height : 1);
  } else {
    const w = f as FieldWriter;
    const height = w.number(40, 1);
    w.data.bitDouble(height);
    w.data.bitDouble(height * w.number(41, 1));
  }
}

function ucsIcon(f: Fields): void {
  if (f.reading) {
    const { data, bag } = f as FieldReader;
    const first = data.bit();
    bag.addNumber(74, first | (data.bit() << 1));
  } else {
    const w = f as FieldWriter;
    const icon = w.number(74, 3);
    w.data.bit(icon & 1);
    w.data.bit(icon & 2);
  }
}

export const VIEW: Codec = (f) => {
  entryName(f, 'AcDbViewTableRecord');
  f.bd(40);
  f.bd(41);
  f.r2(10);
  f.p3(12);
  f.p3(11, f.reading ? undefined : [0, 0, 1]);
  f.angle(50);
  for (const c of [42, 43, 44]) f.bd(c);
  viewMode(f);
  if (f.v >= 2000) f.rc(281);
  lights(f);
  f.b(70);
  let ucs = 0;
  if (f.v >= 2000) {
    ucs = f.b(72);
    if (ucs) {
      f.p3(110);
      f.p3(111);
      f.p3(112);
      f.bd(146);
      f.bs(79);
    }
  }
  if (f.v >= 2007) f.b(73);
  f.h(NONE, HARD_POINTER);
  if (f.v >= 2007) {
    f.h(332, SOFT_POINTER);
    f.h(348, HARD_POINTER);
    f.h(361, HARD_OWNER);
  }
  if (ucs) {
    f.h(346, HARD_POINTER);
    f.h(345, HARD_POINTER);
  }
  if (f.v >= 2007) f.h(334, SOFT_POINTER);
};

export const UCS: Codec = (f) => {
  entryName(f, 'AcDbUCSTableRecord');
  flags(f);
  f.p3(10);
  f.p3(11);
  f.p3(12);
  if (f.v >= 2000) {
    f.bd(146);
    f.bs(79);
    f.bs(NONE, 0);
  }
  f.h(NONE, HARD_POINTER);
  if (f.v >= 2000) {
    f.h(346, HARD_POINTER);
    f.h(NONE, HARD_POINTER);
  }
};

/** Names of blocks are told apart by flags in bits; group 70 of the record is its unit. */
export const BLOCK_HEADER: Codec = {
  read(f) {
    entryName(f, 'AcDbBlockTableRecord');
    const { data } = f;
    const anonymous = data.bit();
    const attributes = data.bit();
    const reference = data.bit();
    const overlaid = data.bit();
    if (f.v >= 2000) data.bit();
    f.owned = f.v >= 2004 && !reference && !overlaid ? data.bitLong() : 0;
    const flags = (anonymous ? 1 : 0) | (attributes ? 2 : 0) | (reference ? 4 : 0) | (overlaid ? 8 : 0);
    const block = {
      flags,
      base: [data.bitDouble(), data.bitDouble(), data.bitDouble()] as const,
      path: f.text(),
      description: '',
    };
    let inserts = 0;
    if (f.v >= 2000) {
      while (data.byte() !== 0 && !data.overrun) inserts++;
      block.description = f.text();
      data.take(bounded(f, data.bitLong(), 8));
    }
    if (f.v >= 2007) {
      const unit = data.bitShort();
      if (unit !== 0) f.bag.addNumber(70, unit);
      f.b(280, 1);
      f.rc(281, 0);
    }
    f.block = block;
    f.h(NONE, HARD_POINTER);
    f.blockBegin = f.ref();
    f.children.length = 0;
    f.firstChild = f.lastChild = 0;
    if (f.v < 2004) {
      if (!reference && !overlaid) {
        f.firstChild = f.ref();
        f.lastChild = f.ref();
      }
    } else for (let i = 0; i < f.owned && !f.handles.overrun; i++) f.children.push(f.ref());
    f.sequenceEnd = f.ref();
    for (let i = 0; i < inserts && !f.handles.overrun; i++) f.ref();
    if (f.v >= 2000) f.h(340, HARD_POINTER);
  },
  write(f) {
    entryName(f, 'AcDbBlockTableRecord');
    const { data } = f;
    const b = f.block!;
    data.bit(b.flags & 1);
    data.bit(b.flags & 2);
    data.bit(b.flags & 4);
    data.bit(b.flags & 8);
    if (f.v >= 2000) data.bit(0);
    const reference = (b.flags & 12) !== 0;
    if (f.v >= 2004 && !reference) data.bitLong(f.children.length);
    f.putPoint(b.base);
    f.putText(b.path);
    // One for each insert, ended by zero.
    if (f.v >= 2000) {
      for (let i = 0; i < b.inserts.length; i++) data.byte(1);
      data.byte(0);
      f.putText(b.description);
      data.bitLong(0);
    }
    if (f.v >= 2007) {
      f.bs(70);
      f.b(280, 1);
      f.rc(281);
    }
    f.h(NONE, HARD_POINTER);
    f.putRef(HARD_OWNER, b.begin);
    if (f.v < 2004) {
      if (!reference) {
        f.putRef(SOFT_POINTER, f.children[0] ?? 0);
        f.putRef(SOFT_POINTER, f.children[f.children.length - 1] ?? 0);
      }
    } else if (!reference) for (const c of f.children) f.putRef(HARD_OWNER, c);
    f.putRef(HARD_OWNER, f.sequenceEnd);
    if (f.v < 2000) return void f.take(340);
    for (const i of b.inserts) f.putRef(SOFT_POINTER, i);
    f.h(340, HARD_POINTER);
  },
};

/** BLOCK: its name; what else a DXF says there stands in the record. ENDBLK and SEQEND have nothing of their own. */
export const BLOCK: Codec = {
  read(f) {
    f.mark('AcDbBlockBegin');
    f.t(2);
  },
  write(f) {
    f.mark('AcDbBlockBegin');
    f.t(2);
    for (const c of [70, 10, 20, 30, 3, 1, 4]) f.take(c);
  },
};
export const ENDBLK: Codec = (f) => f.mark('AcDbBlockEnd');
export const SEQEND: Codec = () => undefined;
