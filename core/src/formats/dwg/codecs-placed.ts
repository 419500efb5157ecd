import type { Vec3 } from '../../geometry/vector.js';
import type { Codec } from './codec.js';
import { bounded, boundedRefs, point, points, put } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import type { Fields } from './fields.js';
import { HARD_OWNER, HARD_POINTER, NONE, SOFT_POINTER } from './fields.js';

/** Layouts of what is placed: inserts, pictures, viewports, shapes (Open Design Specification). */

/** Scales of an insert; equal ones and ones are said in two bits. */
function readScale(f: FieldReader): void {
  const { data, bag } = f;
  let s: number[];
  if (f.v < 2000) s = point(data) as unknown as number[];
  else {
    switch (data.bits2()) {
      case 3:
        s = [1, 1, 1];
        break;
      case 1:
        s = [1, data.defaultDouble(1), data.defaultDouble(1)];
        break;
      case 2: {
        const x = data.double();
        s = [x, x, x];
        break;
      }
      default: {
        const x = data.double();
        s = [x, data.defaultDouble(x), data.defaultDouble(x)];
      }
    }
  }
  s.forEach((k, i) => bag.addNumber(41 + i, k));
}

export function putScale(f: FieldWriter, [x, y, z]: Vec3): void {
  const { data } = f;
  if (f.v < 2000) return f.putPoint([x, y, z]);
  if (x === 1 && y === 1 && z === 1) return data.bits2(3);
  if (x === 1) {
    data.bits2(1);
    data.defaultDouble(y, 1);
    return data.defaultDouble(z, 1);
  }
  if (x === y && x === z) {
    data.bits2(2);
    return data.double(x);
  }
  data.bits2(0);
  data.double(x);
  data.defaultDouble(y, x);
  data.defaultDouble(z, x);
}

/** The block's name comes with the handles; attributes are told of by whoever reads or writes the objects. */
const insert = (many: boolean): Codec => ({
  read(f) {
    f.mark(many ? 'AcDbMInsertBlock' : 'AcDbBlockReference');
    f.p3(10);
    readScale(f);
    f.angle(50);
    f.plainExtrusion();
    const attributes = f.data.bit();
    if (attributes) f.bag.addNumber(66, 1);
    if (f.v >= 2004 && attributes) f.owned = f.data.bitLong();
    if (many) {
      f.bs(70);
      f.bs(71);
      f.bd(44);
      f.bd(45);
    }
    f.name(2, 'block', HARD_POINTER);
    if (attributes) f.readOwned();
  },
  write(f) {
    f.mark(many ? 'AcDbMInsertBlock' : 'AcDbBlockReference');
    f.p3(10);
    putScale(f, [f.number(41, 1), f.number(42, 1), f.number(43, 1)]);
    f.angle(50);
    f.plainExtrusion();
    f.number(66);
    const attributes = f.children.length > 0;
    f.data.bit(attributes);
    if (f.v >= 2004 && attributes) f.data.bitLong(f.children.length);
    if (many) {
      f.bs(70, 1);
      f.bs(71, 1);
      f.bd(44);
      f.bd(45);
    }
    f.name(2, 'block', HARD_POINTER);
    if (attributes) f.putOwned();
  },
});
export const INSERT = insert(false);
export const MINSERT = insert(true);

/**
 * ACAD_TABLE begins as an insert of the block that shows it ("AcDbBlockReference"); its rows and cells behind that are
 * carried as bits.
 */
export const TABLE: Codec = {
  read(f) {
    f.mark('AcDbBlockReference');
    f.p3(10);
    readScale(f);
    f.angle(50);
    f.plainExtrusion();
    f.name(2, 'block', HARD_POINTER);
    f.seal = true;
  },
  write: () => {
    throw new TypeError('a table goes into bits only as the bits it came in');
  },
};

/** The flag that what lies within the outline is hidden, rather than what lies outside. */
const INVERTED = 16;

/** References to pages of other documents ("UNDERLAY"): PDF and the like. */
export const UNDERLAY: Codec = {
  read(f) {
    f.mark('AcDbUnderlayReference');
    const { data } = f;
    f.plainExtrusion();
    f.p3(10);
    f.angle(50);
    for (const c of [41, 42, 43]) f.bd(c);
    const flags = f.rc(280);
    f.rc(281);
    f.rc(282);
    for (const c of flags & INVERTED ? [11, 12] : [11])
      for (let n = bounded(f, data.bitLong(), 128); n > 0; n--) put(f, c, [data.double(), data.double()]);
    f.h(340, HARD_POINTER);
  },
  write(f) {
    f.mark('AcDbUnderlayReference');
    const { data } = f;
    f.plainExtrusion();
    f.p3(10);
    f.angle(50);
    for (const c of [41, 42, 43]) f.bd(c, 1);
    const flags = f.rc(280, 0);
    f.rc(281, 100);
    f.rc(282, 0);
    for (const c of flags & INVERTED ? [11, 12] : [11]) {
      const outline = points(f, c);
      data.bitLong(outline.length);
      for (const p of outline) {
        data.double(p[0]);
        data.double(p[1]);
      }
    }
    f.h(340, HARD_POINTER);
  },
};

const image = (mark: string): Codec => ({
  read(f) {
    f.mark(mark);
    const { data, bag } = f;
    f.bl(90, 0);
    f.p3(10);
    f.p3(11);
    f.p3(12);
    put(f, 13, [data.double(), data.double()]);
    f.bs(70);
    f.b(280, 1);
    f.rc(281, 50);
    f.rc(282, 50);
    f.rc(283, 0);
    if (f.v >= 2010) f.b(290, 0);
    const kind = data.bitShort();
    bag.addNumber(71, kind);
    const n = kind === 1 ? 2 : bounded(f, data.bitLong(), 128);
    bag.addNumber(91, n);
    for (let i = 0; i < n; i++) put(f, 14, [data.double(), data.double()]);
    f.h(340, HARD_POINTER);
    f.h(360, HARD_OWNER);
  },
  write(f) {
    f.mark(mark);
    const { data } = f;
    f.bl(90);
    f.p3(10);
    f.p3(11);
    f.p3(12);
    f.r2(13);
    f.bs(70, 7);
    f.b(280, 1);
    f.rc(281, 50);
    f.rc(282, 50);
    f.rc(283, 0);
    if (f.v >= 2010) f.b(290);
    f.number(71);
    f.number(91);
    const clip = points(f, 14);
    data.bitShort(clip.length === 2 ? 1 : 2);
    if (clip.length !== 2) data.bitLong(clip.length);
    for (const p of clip) {
      data.double(p[0]);
      data.double(p[1]);
    }
    f.h(340, HARD_POINTER);
    f.h(360, HARD_OWNER);
  },
});
export const IMAGE = image('AcDbRasterImage');
export const WIPEOUT = image('AcDbWipeout');

/** The flag that a viewport is off, and the flags of one that nobody changed. */
const OFF = 0x20000;
const USUAL = 0x8060;

/** What a viewport says after its flags, from version 2000 on. */
function viewportRest(f: Fields): void {
  f.t(1, '');
  f.rc(281, 0);
  f.b(74, 0);
  f.b(71, 1);
  f.p3(110, [0, 0, 0]);
  f.p3(111, [1, 0, 0]);
  f.p3(112, [0, 1, 0]);
  f.bd(146, 0);
  f.bs(79, 0);
  if (f.v >= 2004) f.bs(170, 0);
  if (f.v < 2007) return;
  f.b(292, 1);
  f.rc(282, 1);
  f.bd(141, 0);
  f.bd(142, 0);
  f.colour(63, 421, 250);
}

export const VIEWPORT: Codec = {
  read(f) {
    f.mark('AcDbViewport');
    const { data, bag } = f;
    f.p3(10);
    f.bd(40);
    f.bd(41);
    // Its number is told by its order alone.
    bag.addNumber(69, 2);
    let frozen = 0;
    if (f.v >= 2000) {
      f.p3(17);
      f.p3(16);
      f.angle(51);
      f.bd(45);
      f.bd(42, 50);
      f.bd(43, 0);
      f.bd(44, 0);
      f.angle(50, 0);
      put(f, 12, [data.double(), data.double()]);
      for (const c of [13, 14, 15]) f.r2(c, [0, 0]);
      f.bs(72, 1000);
      if (f.v >= 2007) f.bs(61, 5);
      frozen = boundedRefs(f, data.bitLong());
      const flags = data.bitLong() >>> 0;
      const shown = flags & ~OFF;
      if (shown !== USUAL) bag.addNumber(90, shown);
      // Off in the flags is what a DXF says with a status of 0; the numbers count within the sheet.
      bag.addNumber(68, flags & OFF ? 0 : 2);
      viewportRest(f);
    }
    if (f.v < 2000) f.h(NONE, HARD_POINTER);
    for (let i = 0; i < frozen && !f.handles.overrun; i++) f.h(331, SOFT_POINTER);
    if (f.v >= 2000) {
      f.h(340, HARD_POINTER);
      if (f.v < 2004) f.h(NONE, HARD_POINTER);
      f.h(345, HARD_POINTER);
      f.h(346, HARD_POINTER);
    }
    if (f.v >= 2007) {
      f.h(332, SOFT_POINTER);
      f.h(348, HARD_POINTER);
      f.h(333, SOFT_POINTER);
      f.h(361, HARD_OWNER);
    }
  },
  write(f) {
    f.mark('AcDbViewport');
    const { data } = f;
    f.p3(10);
    f.bd(40);
    f.bd(41);
    const on = f.number(68) > 0;
    f.number(69);
    // What it shows stands in extended data.
    if (f.v < 2000) return f.putRef(HARD_POINTER, 0);
    f.p3(17);
    f.p3(16, [0, 0, 1]);
    f.angle(51);
    f.bd(45);
    f.bd(42, 50);
    f.bd(43);
    f.bd(44);
    f.angle(50);
    for (const c of [12, 13, 14, 15]) f.r2(c);
    f.bs(72, 1000);
    if (f.v >= 2007) f.bs(61, 5);
    const frozen = [...handlesOf(f, 331), ...handlesOf(f, 341)].filter((h) => f.known(h));
    data.bitLong(frozen.length);
    const flags = f.number(90, USUAL) & ~OFF;
    data.bitLong(on ? flags : flags | OFF);
    viewportRest(f);
    for (const h of frozen) f.putRef(f.v < 2004 ? HARD_POINTER : SOFT_POINTER, h);
    f.h(340, HARD_POINTER);
    if (f.v < 2004) f.putRef(HARD_POINTER, f.viewportHeader(f.record.handle));
    f.h(345, HARD_POINTER);
    f.h(346, HARD_POINTER);
    if (f.v >= 2007) {
      f.h(332, SOFT_POINTER);
      f.h(348, HARD_POINTER);
      f.h(333, SOFT_POINTER);
      f.h(361, HARD_OWNER);
    }
  },
};

/** All handles with the code. */
export function handlesOf(f: FieldWriter, code: number): number[] {
  const out: number[] = [];
  const { record } = f;
  for (let i = f.next(code, record.from + 1); i >= 0; i = f.next(code, i + 1)) out.push(record.store.handleAt(i));
  return out;
}
