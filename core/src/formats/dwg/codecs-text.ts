import type { Vec3 } from '../../geometry/vector.js';
import type { Codec, TwoWay } from './codec.js';
import { bounded, point, put } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { UPWARDS } from './field-writer.js';
import { HARD_POINTER, NONE } from './fields.js';

/** Layouts of text (Open Design Specification, TEXT, ATTRIB, ATTDEF, MTEXT). */

/** What the bits of a text leave out when it has its usual value, from version 2000 on. */
const PLAIN = {
  height: 1,
  aligned: 2,
  oblique: 4,
  rotation: 8,
  width: 16,
  generation: 32,
  horizontal: 64,
  vertical: 128,
};

function readTextFields(f: FieldReader, vertical: 73 | 74): void {
  f.mark('AcDbText');
  const { data, bag } = f;
  let z = 0;
  let flags = 0;
  let at: [number, number];
  let aligned: [number, number] | null = null;
  if (f.v < 2000) {
    z = data.bitDouble();
    at = [data.double(), data.double()];
    aligned = [data.double(), data.double()];
  } else {
    flags = data.byte();
    if (!(flags & PLAIN.height)) z = data.double();
    at = [data.double(), data.double()];
    if (!(flags & PLAIN.aligned)) aligned = [data.defaultDouble(at[0]), data.defaultDouble(at[1])];
  }
  put(f, 10, [...at, z]);
  f.extrusion();
  f.thickness();
  const number = f.v < 2000 ? () => data.bitDouble() : () => data.double();
  const oblique = flags & PLAIN.oblique ? 0 : number();
  const rotation = flags & PLAIN.rotation ? 0 : number();
  bag.addNumber(40, number());
  const width = flags & PLAIN.width ? 1 : number();
  bag.addText(1, f.text());
  bag.addAngle(50, rotation);
  if (width !== 1) bag.addNumber(41, width);
  if (oblique !== 0) bag.addAngle(51, oblique);
  const generation = flags & PLAIN.generation ? 0 : data.bitShort();
  if (generation !== 0) bag.addNumber(71, generation);
  const h = flags & PLAIN.horizontal ? 0 : data.bitShort();
  if (h !== 0) bag.addNumber(72, h);
  const v = flags & PLAIN.vertical ? 0 : data.bitShort();
  // Before 2000 the second point always stands there; it means something only with an alignment.
  if (aligned && (f.v >= 2000 || h !== 0 || v !== 0)) put(f, 11, [...aligned, z]);
  if (v !== 0) bag.addNumber(vertical, v);
}

function writeTextFields(f: FieldWriter, vertical: 73 | 74): void {
  f.mark('AcDbText');
  putText(f, {
    at: f.point(10),
    second: f.has(11) ? f.point(11) : undefined,
    height: f.number(40),
    width: f.number(41, 1),
    rotation: f.radians(50),
    oblique: f.radians(51),
    generation: f.number(71),
    h: f.number(72),
    v: f.number(vertical),
    normal: f.point(210, UPWARDS),
    thickness: f.number(39),
    text: f.textOf(1),
  });
}

/** What a line of text is made of; angles in radians. */
export interface TextFields {
  at: Vec3;
  second: Vec3 | undefined;
  height: number;
  width: number;
  rotation: number;
  oblique: number;
  generation: number;
  h: number;
  v: number;
  normal: Vec3;
  thickness: number;
  text: string;
}

export function putText(f: FieldWriter, fields: TextFields): void {
  const { data } = f;
  const { at, second, height, width, rotation, oblique, generation, h, v } = fields;
  if (f.v < 2000) {
    data.bitDouble(at[2]);
    for (const p of [at, second ?? at]) {
      data.double(p[0]);
      data.double(p[1]);
    }
  } else {
    data.byte(
      (at[2] === 0 ? PLAIN.height : 0) |
        (second ? 0 : PLAIN.aligned) |
        (oblique === 0 ? PLAIN.oblique : 0) |
        (rotation === 0 ? PLAIN.rotation : 0) |
        (width === 1 ? PLAIN.width : 0) |
        (generation === 0 ? PLAIN.generation : 0) |
        (h === 0 ? PLAIN.horizontal : 0) |
        (v === 0 ? PLAIN.vertical : 0),
    );
    if (at[2] !== 0) data.double(at[2]);
    data.double(at[0]);
    data.double(at[1]);
    if (second) {
      data.defaultDouble(second[0], at[0]);
      data.defaultDouble(second[1], at[1]);
    }
  }
  f.putExtrusion(fields.normal);
  f.putThickness(fields.thickness);
  const old = f.v < 2000;
  const number = (value: number, plain: number): void => {
    if (old) data.bitDouble(value);
    else if (value !== plain) data.double(value);
  };
  number(oblique, 0);
  number(rotation, 0);
  number(height, NaN);
  number(width, 1);
  f.putText(fields.text);
  for (const value of [generation, h, v]) if (old || value !== 0) data.bitShort(value);
}

const style = (f: FieldReader | FieldWriter): void =>
  f.name(7, 'style', HARD_POINTER, f.reading ? undefined : 'Standard');

export const TEXT: Codec = {
  read(f) {
    readTextFields(f, 73);
    style(f);
  },
  write(f) {
    writeTextFields(f, 73);
    style(f);
  },
};

const ONE_LINE = 1;

/**
 * What attributes and their definitions have beyond a text: their name and how they are shown. From 2018 on those of
 * several lines (a form of `lines`) hold a rich text, which is answered on reading and which a DXF has behind group 101.
 */
function attributeFields(
  f: FieldReader | FieldWriter,
  mark: string,
  lines: number,
): ReturnType<FieldReader['inner']> | null {
  let text: ReturnType<FieldReader['inner']> | null = null;
  f.mark(mark);
  if (f.v >= 2010) f.rc(NONE, 0);
  if (f.v >= 2018) {
    if (f.reading) {
      if (f.data.byte() > ONE_LINE) {
        text = f.inner(() => MTEXT.read(f));
        const size = f.data.bitShort() & 0xffff;
        if (size > 0) {
          f.data.take(size);
          f.ref();
          f.data.bitShort();
        }
      }
    } else {
      f.data.byte(f.embedded ? lines : ONE_LINE);
      if (f.embedded) {
        f.inner(() => MTEXT.write(f));
        f.data.bitShort(0);
      }
    }
  }
  f.t(2);
  f.bs(73, 0);
  f.rc(70);
  if (f.v >= 2007) f.b(280, 0);
  return text;
}
function giveInner(f: FieldReader, text: ReturnType<typeof attributeFields>): void {
  if (!text) return;
  f.bag.embed();
  // Its mark is that of a record of its own.
  f.bag.addFrom(text.bag, text.from + 1);
}

export const ATTRIB: Codec = {
  read(f) {
    readTextFields(f, 74);
    const text = attributeFields(f, 'AcDbAttribute', 2);
    style(f);
    giveInner(f, text);
  },
  write(f) {
    writeTextFields(f, 74);
    attributeFields(f, 'AcDbAttribute', 2);
    style(f);
  },
};

export const ATTDEF: Codec = {
  read(f) {
    readTextFields(f, 74);
    const text = attributeFields(f, 'AcDbAttributeDefinition', 4);
    if (f.v >= 2010) f.rc(NONE);
    f.t(3);
    style(f);
    giveInner(f, text);
  },
  write(f) {
    writeTextFields(f, 74);
    attributeFields(f, 'AcDbAttributeDefinition', 4);
    if (f.v >= 2010) f.rc(NONE, 0);
    f.t(3);
    style(f);
  },
};

/** A DXF breaks long text into pieces of 250: those before the last in group 3. */
const PIECE = 250;

export const MTEXT: TwoWay = {
  read(f) {
    f.mark('AcDbMText');
    const { data, bag } = f;
    f.p3(10);
    f.plainExtrusion();
    const direction = [data.bitDouble(), data.bitDouble(), data.bitDouble()];
    const width = data.bitDouble();
    const height = f.v >= 2007 ? data.bitDouble() : 0;
    bag.addNumber(40, data.bitDouble());
    bag.addNumber(41, width);
    if (height !== 0) bag.addNumber(46, height);
    f.bs(71);
    f.bs(72, 1);
    // How large it came out: worked out anew by whoever shows it.
    f.bd(NONE);
    f.bd(NONE);
    const text = f.text();
    let from = 0;
    for (; text.length - from > PIECE; from += PIECE) bag.addText(3, text.slice(from, from + PIECE));
    bag.addText(1, text.slice(from));
    f.name(7, 'style', HARD_POINTER);
    // As an angle where the direction lies in the plane of the text, as most do.
    const tilted = bag.has(210);
    if (tilted || direction[2] !== 0) put(f, 11, direction);
    else {
      const turn = Math.atan2(direction[1]!, direction[0]!);
      bag.addAngle(50, turn < 0 ? turn + 2 * Math.PI : turn);
    }
    if (f.v >= 2000) {
      f.bs(73, 1);
      f.bd(44, 1);
      f.b(NONE);
    }
    if (f.v >= 2004 && !data.overrun) background(f);
    if (f.v >= 2018 && !data.overrun) readColumns(f);
  },
  write(f) {
    f.mark('AcDbMText');
    const { data } = f;
    f.p3(10);
    f.plainExtrusion();
    const turn = f.radians(50);
    const direction = f.has(11) ? f.point(11) : ([Math.cos(turn), Math.sin(turn), 0] as const);
    f.putPoint(direction);
    data.bitDouble(f.number(41));
    if (f.v >= 2007) data.bitDouble(f.number(46));
    const size = f.number(40);
    data.bitDouble(size);
    f.bs(71, 1);
    f.bs(72, 1);
    data.bitDouble(f.number(43));
    data.bitDouble(f.number(42));
    const { record } = f;
    let text = '';
    for (let i = f.next(3, record.from + 1); i >= 0; i = f.next(3, i + 1)) text += record.store.textAt(i);
    f.putText(text + f.textOf(1));
    f.name(7, 'style', HARD_POINTER, 'Standard');
    if (f.v >= 2000) {
      f.bs(73, 1);
      f.bd(44, 1);
      data.bit(0);
    }
    if (f.v >= 2004) background(f);
    if (f.v >= 2018) writeColumns(f, direction);
  },
};

const DYNAMIC = 2;

/** From 2018 on a text says once more where it stands, and then its columns, which a DXF has in an object of their own. */
function readColumns(f: FieldReader): void {
  const { data, bag } = f;
  if (!data.bit()) return;
  data.bitShort();
  data.bit();
  f.ref();
  data.bitLong();
  const [direction, at] = [point(data), point(data)];
  const sizes = [data.bitDouble(), data.bitDouble(), data.bitDouble(), data.bitDouble()];
  const form = data.bitShort();
  if (form === 0 || data.overrun) return;
  const count = data.bitLong();
  const [width, gutter] = [data.bitDouble(), data.bitDouble()];
  const [automatic, reversed] = [data.bit(), data.bit()];
  bag.embed();
  bag.addNumber(70, 1);
  put(f, 10, direction);
  put(f, 11, at);
  sizes.forEach((v, i) => bag.addNumber(40 + i, v));
  bag.addNumber(71, form);
  bag.addNumber(72, count);
  bag.addNumber(44, width);
  bag.addNumber(45, gutter);
  bag.addNumber(73, automatic);
  bag.addNumber(74, reversed);
  if (form === DYNAMIC && !automatic)
    for (let i = bounded(f, count, 2); i > 0; i--) bag.addNumber(46, data.bitDouble());
}

function writeColumns(f: FieldWriter, direction: Vec3): void {
  const { data } = f;
  data.bit(1);
  data.bitShort(0);
  data.bit(1);
  f.putRef(HARD_POINTER, f.refOf('appid', 'ACAD'));
  data.bitLong(f.number(71, 1));
  f.putPoint(direction);
  f.putPoint(f.point(10));
  data.bitDouble(f.number(41));
  data.bitDouble(f.number(46));
  data.bitDouble(f.number(43));
  data.bitDouble(f.number(42));
  const columns = f.embedded;
  const form = columns?.number(71) ?? 0;
  data.bitShort(form);
  if (!columns || form === 0) return;
  const { store } = columns;
  const heights: number[] = [];
  for (let i = columns.find(46); i >= 0; i = columns.find(46, i + 1)) heights.push(store.numberAt(i));
  const automatic = columns.number(73) !== 0;
  const counted = form === DYNAMIC && !automatic;
  data.bitLong(counted ? heights.length : columns.number(72));
  data.bitDouble(columns.number(44));
  data.bitDouble(columns.number(45));
  data.bit(automatic);
  data.bit(columns.number(74));
  if (counted) for (const h of heights) data.bitDouble(h);
}

function background(f: FieldReader | FieldWriter): void {
  const flags = f.bl(90, 0);
  if (!(flags & 1 || (f.v >= 2018 && flags & 16))) return;
  f.bd(45, f.reading ? undefined : 1.5);
  f.colour(63, 421);
  f.bl(441, 0);
}
