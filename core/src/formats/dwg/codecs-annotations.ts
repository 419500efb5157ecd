import type { Codec } from './codec.js';
import { bounded, point, points, put } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { HARD_POINTER, NONE, SOFT_POINTER } from './fields.js';

/** Layouts of dimensions, leaders and frames of tolerance (Open Design Specification, "DIMENSION" and after). */

type Both = FieldReader | FieldWriter;

/** The forms of a dimension as group 70 counts them. */
export const FORM = { linear: 0, aligned: 1, angular: 2, diameter: 3, radius: 4, angular3: 5, ordinate: 6 };

const OWN_BLOCK = 32;
const ORDINATE_X = 64;
const PLACED = 128;

/** What all dimensions share. Group 70 is put together from the form and two bits. */
function common(f: Both, form: number): void {
  f.mark('AcDbDimension');
  if (f.v >= 2010) f.rc(280, 0);
  f.plainExtrusion();
  if (f.reading) {
    const { data } = f;
    const [x, y] = [data.double(), data.double()];
    const z = data.bitDouble();
    if (x !== 0 || y !== 0 || z !== 0) put(f, 11, [x, y, z]);
    const bits = data.byte();
    // The first bit says that the text is where it belongs, the second that the block is this dimension's alone.
    f.bag.addNumber(70, form | (bits & 2 ? OWN_BLOCK : 0) | (bits & 1 ? 0 : PLACED));
  } else {
    const p = f.point(11);
    const { data } = f;
    data.double(p[0]);
    data.double(p[1]);
    data.bitDouble(p[2]);
    const flags = f.number(70);
    data.byte((flags & PLACED ? 0 : 1) | (flags & OWN_BLOCK ? 2 : 0));
  }
  f.t(1);
  f.angle(53, 0);
  f.angle(51, 0);
  // The scale and the angle of the insert of the picture block.
  if (f.reading) {
    f.p3(NONE);
    f.angle(54, 0);
  } else {
    f.putPoint([1, 1, 1]);
    f.angle(54, 0);
  }
  if (f.v >= 2000) {
    f.bs(71, 5);
    f.bs(72, 1);
    f.bd(41, 1);
    f.bd(42, 0);
  }
  if (f.v >= 2007) {
    f.b(73, 0);
    f.b(74, 0);
    f.b(75, 0);
  }
  if (f.reading) {
    const [x, y] = [f.data.double(), f.data.double()];
    if (x !== 0 || y !== 0) put(f, 12, [x, y, 0]);
  } else {
    const p = f.point(12);
    f.data.double(p[0]);
    f.data.double(p[1]);
  }
}

function ends(f: Both): void {
  f.name(3, 'dimstyle', HARD_POINTER, f.reading ? undefined : 'Standard');
  f.name(2, 'block', HARD_POINTER);
}

const dimension = (form: number, own: (f: Both) => void): Codec => {
  const both = (f: Both): void => {
    common(f, form);
    own(f);
    ends(f);
  };
  return { read: both, write: both };
};

export const DIMENSION_LINEAR = dimension(FORM.linear, (f) => {
  f.mark('AcDbAlignedDimension');
  f.p3(13);
  f.p3(14);
  f.p3(10);
  f.angle(52, 0);
  f.angle(50, 0);
  if (f.reading) f.mark('AcDbRotatedDimension');
});
export const DIMENSION_ALIGNED = dimension(FORM.aligned, (f) => {
  f.mark('AcDbAlignedDimension');
  f.p3(13);
  f.p3(14);
  f.p3(10);
  f.angle(52, 0);
});
export const DIMENSION_ANG3PT = dimension(FORM.angular3, (f) => {
  f.mark('AcDb3PointAngularDimension');
  for (const c of [10, 13, 14, 15]) f.p3(c);
});
export const DIMENSION_ANG2LN = dimension(FORM.angular, (f) => {
  f.mark('AcDb2LineAngularDimension');
  if (f.reading) put(f, 16, [f.data.double(), f.data.double(), 0]);
  else {
    const p = f.point(16);
    f.data.double(p[0]);
    f.data.double(p[1]);
  }
  for (const c of [13, 14, 15, 10]) f.p3(c);
});
export const DIMENSION_RADIUS = dimension(FORM.radius, (f) => {
  f.mark('AcDbRadialDimension');
  f.p3(10);
  f.p3(15);
  f.bd(40, 0);
});
export const DIMENSION_DIAMETER = dimension(FORM.diameter, (f) => {
  f.mark('AcDbDiametricDimension');
  f.p3(15);
  f.p3(10);
  f.bd(40, 0);
});
/** Whether it measures x stands in bits of its own, and among the flags of group 70 in a DXF. */
export const DIMENSION_ORDINATE: Codec = {
  read(f) {
    common(f, FORM.ordinate);
    f.mark('AcDbOrdinateDimension');
    for (const c of [10, 13, 14]) f.p3(c);
    if (f.data.byte() & 1) f.bag.change(70, f.bag.integer(70) | ORDINATE_X);
    ends(f);
  },
  write(f) {
    common(f, FORM.ordinate);
    f.mark('AcDbOrdinateDimension');
    for (const c of [10, 13, 14]) f.p3(c);
    f.mark('AcDbDimension');
    f.data.byte(f.number(70) & ORDINATE_X ? 1 : 0);
    ends(f);
  },
};
export const ARC_DIMENSION = dimension(5, (f) => {
  f.mark('AcDbArcDimension');
  for (const c of [10, 13, 14, 15]) f.p3(c);
  f.b(NONE, 0);
  f.bd(40, 0);
  f.bd(41, 0);
  const leader = f.b(71, 0);
  const given = f.reading ? leader !== 0 : f.has(16) || f.has(17);
  for (const c of [16, 17]) f.p3(given ? c : NONE, [0, 0, 0]);
});

export const LEADER: Codec = {
  read(f) {
    f.mark('AcDbLeader');
    const { data, bag } = f;
    data.bit();
    const annotation = data.bitShort();
    bag.addNumber(73, annotation);
    f.bs(72);
    const n = bounded(f, data.bitLong(), 6);
    bag.addNumber(76, n);
    for (let i = 0; i < n; i++) put(f, 10, point(data));
    point(data);
    f.plainExtrusion();
    f.p3(211, [1, 0, 0]);
    f.p3(212, [0, 0, 0]);
    if (f.v >= 14) f.p3(213, [0, 0, 0]);
    if (f.v < 2000) f.bd(NONE);
    if (f.v < 2010) {
      f.bd(40, 0);
      f.bd(41, 0);
    }
    f.b(74, 1);
    f.b(71);
    f.h(340, SOFT_POINTER);
    f.name(3, 'dimstyle', HARD_POINTER);
  },
  write(f) {
    f.mark('AcDbLeader');
    const { data } = f;
    data.bit(0);
    data.bitShort(f.number(73, 3));
    f.bs(72);
    f.number(76);
    const list = points(f, 10);
    data.bitLong(list.length);
    list.forEach((p) => f.putPoint(p));
    f.putPoint(list[0] ?? [0, 0, 0]);
    f.plainExtrusion();
    f.p3(211, [1, 0, 0]);
    f.p3(212, [0, 0, 0]);
    if (f.v >= 14) f.p3(213, [0, 0, 0]);
    if (f.v < 2000) f.bd(NONE, 0.09);
    if (f.v < 2010) {
      f.bd(40, 0);
      f.bd(41, 0);
    }
    f.b(74, 1);
    f.b(71, 1);
    if (f.v < 2000) {
      data.bitShort(0);
      data.bitDouble(0.18);
      data.bit(0);
      data.bit(0);
      data.bitShort(0);
      data.bitShort(0);
      data.bit(0);
      data.bit(0);
    } else {
      data.bitShort(0);
      data.bit(0);
      data.bit(0);
    }
    f.h(340, SOFT_POINTER);
    f.name(3, 'dimstyle', HARD_POINTER, 'Standard');
  },
};

const tolerance = (f: Both): void => {
  f.mark('AcDbFcf');
  if (f.v < 2000) {
    f.bs(NONE);
    f.bd(NONE);
    f.bd(NONE);
  }
  f.p3(10);
  f.p3(11, f.reading ? undefined : [1, 0, 0]);
  f.plainExtrusion();
  f.t(1);
  f.name(3, 'dimstyle', HARD_POINTER, f.reading ? undefined : 'Standard');
};
export const TOLERANCE: Codec = { read: tolerance, write: tolerance };

const MOST_ELEMENTS = 64;

export const MLINE: Codec = {
  read(f) {
    f.mark('AcDbMline');
    const { data, bag } = f;
    f.bd(40);
    f.rc(70);
    f.p3(10);
    f.plainExtrusion();
    f.bs(71);
    const elements = Math.min(data.byte(), MOST_ELEMENTS);
    const n = bounded(f, data.bitShort() & 0xffff, 18);
    bag.addNumber(72, n);
    bag.addNumber(73, elements);
    for (let i = 0; i < n; i++) {
      for (const c of [11, 12, 13]) put(f, c, point(data));
      for (let e = 0; e < elements; e++) {
        for (const [count, value] of [
          [74, 41],
          [75, 42],
        ]) {
          const parts = bounded(f, data.bitShort() & 0xffff, 2);
          bag.addNumber(count!, parts);
          for (let p = 0; p < parts; p++) bag.addNumber(value!, data.bitDouble());
        }
      }
    }
    f.h(340, HARD_POINTER);
  },
  write(f) {
    f.mark('AcDbMline');
    const { data, record } = f;
    const { store } = record;
    f.bd(40, 1);
    f.rc(70);
    f.p3(10);
    f.plainExtrusion();
    f.bs(71, 1);
    const elements = f.number(73);
    data.byte(elements);
    const n = f.number(72);
    data.bitShort(n);
    // The lists stand one after the other, as they do in the bits.
    let at = record.find(73);
    const take = (code: number): number => {
      const i = f.next(code, at + 1);
      if (i < 0) return 0;
      at = i;
      return store.numberAt(i);
    };
    for (let i = 0; i < n; i++) {
      for (const c of [11, 12, 13]) for (const k of [0, 10, 20]) data.bitDouble(take(c + k));
      for (let e = 0; e < elements; e++) {
        for (const [count, value] of [
          [74, 41],
          [75, 42],
        ]) {
          const parts = take(count!);
          data.bitShort(parts);
          for (let p = 0; p < parts; p++) data.bitDouble(take(value!));
        }
      }
    }
    f.textOf(2);
    f.h(340, HARD_POINTER);
  },
};
