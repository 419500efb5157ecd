import { nearestIndex } from '../../drawing/palette.js';
import type { Codec } from './codec.js';
import { Braces } from './braces.js';
import { bounded, point } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { HARD_POINTER, SOFT_POINTER } from './fields.js';

/**
 * MULTILEADER and its style (Open Design Specification, "MLEADER", "MLeaderAnnotContext", "MLEADERSTYLE"). The bits have
 * the leaders before what they share, a DXF after it, so on reading tags are put by and given in the order of a DXF.
 */

type Both = FieldReader | FieldWriter;
type Vec = readonly [number, number, number];

/** Colours stand as one whole number whose highest byte tells its kind. */
const BY_LAYER = 0xc0;
const BY_BLOCK = 0xc1;
const TRUE = 0xc2;
const BY_INDEX = 0xc3;
const BY_BLOCK_WHOLE = (BY_BLOCK << 24) | 0;

function readColour(f: FieldReader): number {
  const index = f.data.bitShort();
  if (f.v < 2004)
    return index === 256 ? (BY_LAYER << 24) | 0 : index === 0 ? BY_BLOCK_WHOLE : (BY_INDEX << 24) | (index & 255);
  const value = f.data.bitLong() | 0;
  const flags = f.data.byte();
  if (flags & 1) f.text();
  if (flags & 2) f.text();
  return value;
}
function writeColour(f: FieldWriter, value: number): void {
  const { data } = f;
  if (f.v >= 2004) {
    data.bitShort(0);
    data.bitLong(value | 0);
    return data.byte(0);
  }
  const kind = (value >>> 24) & 255;
  const index = { [BY_LAYER]: 256, [BY_BLOCK]: 0, [TRUE]: nearestIndex(value & 0xffffff) }[kind] ?? value & 255;
  data.bitShort(index);
}

/** Tags put by until their turn. */
class PutBy {
  private readonly list: (() => void)[] = [];
  constructor(private readonly f: FieldReader) {}
  number(code: number, value: number): void {
    this.list.push(() => this.f.bag.addNumber(code, value));
  }
  point(code: number, [x, y, z]: Vec): void {
    this.list.push(() => {
      this.f.bag.addNumber(code, x);
      this.f.bag.addNumber(code + 10, y);
      this.f.bag.addNumber(code + 20, z);
    });
  }
  text(code: number, value: string): void {
    this.list.push(() => this.f.bag.addText(code, value));
  }
  handle(code: number, value: number): void {
    this.list.push(() => this.f.bag.addHandle(code, value));
  }
  give(): void {
    for (const tag of this.list) tag();
  }
}

function readLine(f: FieldReader, out: PutBy): void {
  const { data } = f;
  out.text(304, 'LEADER_LINE{');
  for (let n = bounded(f, data.bitLong(), 6); n > 0; n--) out.point(10, point(data));
  if (bounded(f, data.bitLong(), 2) > 0) {
    out.number(90, data.bitLong());
    for (let n = bounded(f, data.bitLong(), 12); n > 0; n--) {
      out.point(11, point(data));
      out.point(12, point(data));
    }
  }
  out.number(91, data.bitLong());
  if (f.v >= 2010) {
    out.number(170, data.bitShort());
    out.number(92, readColour(f));
    out.handle(340, f.ref());
    out.number(171, data.bitLong());
    out.number(40, data.bitDouble());
    out.handle(341, f.ref());
    out.number(93, data.bitLong());
  }
  out.text(305, '}');
}

function readLeader(f: FieldReader, out: PutBy): void {
  const { data } = f;
  out.text(302, 'LEADER{');
  out.number(290, data.bit());
  out.number(291, data.bit());
  out.point(10, point(data));
  out.point(11, point(data));
  for (let n = bounded(f, data.bitLong(), 12); n > 0; n--) {
    out.point(12, point(data));
    out.point(13, point(data));
  }
  out.number(90, data.bitLong());
  out.number(40, data.bitDouble());
  for (let n = bounded(f, data.bitLong(), 6); n > 0 && !data.overrun; n--) readLine(f, out);
  if (f.v >= 2010) out.number(271, data.bitShort());
  out.text(303, '}');
}

function readContext(f: FieldReader): void {
  const { data, bag } = f;
  const leaders = new PutBy(f);
  for (let n = bounded(f, data.bitLong(), 12); n > 0 && !data.overrun; n--) readLeader(f, leaders);
  const number = (code: number, value: number): void => bag.addNumber(code, value);
  const place = (code: number): void => {
    const p = point(data);
    for (let k = 0; k < 3; k++) number(code + 10 * k, p[k]!);
  };
  const handle = (code: number): void => bag.addHandle(code, f.ref());
  bag.addText(300, 'CONTEXT_DATA{');
  number(40, data.bitDouble());
  place(10);
  for (const c of [41, 140, 145]) number(c, data.bitDouble());
  for (const c of [174, 175, 176, 177]) number(c, data.bitShort());
  const text = data.bit();
  number(290, text);
  if (text) {
    bag.addText(304, f.text());
    place(11);
    handle(340);
    place(12);
    place(13);
    for (const c of [42, 43, 44, 45]) number(c, data.bitDouble());
    number(170, data.bitShort());
    number(90, readColour(f));
    number(171, data.bitShort());
    number(172, data.bitShort());
    number(91, readColour(f));
    number(141, data.bitDouble());
    number(92, data.bitLong());
    number(291, data.bit());
    number(292, data.bit());
    number(173, data.bitShort());
    number(293, data.bit());
    number(142, data.bitDouble());
    number(143, data.bitDouble());
    number(294, data.bit());
    for (let n = bounded(f, data.bitLong(), 2); n > 0; n--) number(144, data.bitDouble());
    number(295, data.bit());
    data.bit();
    number(296, 0);
  } else {
    const block = data.bit();
    number(296, block);
    if (block) {
      handle(341);
      for (const c of [14, 15, 16]) place(c);
      number(46, data.bitDouble());
      number(93, readColour(f));
      for (let k = 0; k < 16; k++) number(47, data.bitDouble());
    }
  }
  for (const c of [110, 111, 112]) place(c);
  number(297, data.bit());
  leaders.give();
  if (f.v >= 2010) {
    const top = data.bitShort();
    number(272, data.bitShort());
    number(273, top);
  }
  bag.addText(301, '}');
}

function putPoint(f: FieldWriter, n: Braces, code: number, otherwise: Vec): void {
  for (let k = 0; k < 3; k++) f.data.bitDouble(n.number(code + 10 * k, otherwise[k]));
}
/** The points whose numbers stand one after the other, from `list` of codes x, y, z. */
function pointsOf(f: FieldWriter, n: Braces, code: number): Vec[] {
  const { store } = f.record;
  const out: [number, number, number][] = [];
  for (const t of n.all(code, code + 10, code + 20)) {
    if (t.code === code) out.push([0, 0, 0]);
    const last = out[out.length - 1];
    if (last) last[(t.code - code) / 10] = store.numberAt(t.at);
  }
  return out;
}
function putPairs(f: FieldWriter, a: readonly Vec[], b: readonly Vec[]): void {
  const n = Math.min(a.length, b.length);
  f.data.bitLong(n);
  for (let i = 0; i < n; i++) {
    f.putPoint([...a[i]!]);
    f.putPoint([...b[i]!]);
  }
}

function writeLine(f: FieldWriter, n: Braces): void {
  const { data } = f;
  const list = pointsOf(f, n, 10);
  data.bitLong(list.length);
  for (const p of list) f.putPoint([...p]);
  const broken = n.has(90) || n.has(11);
  data.bitLong(broken ? 1 : 0);
  if (broken) {
    data.bitLong(n.number(90));
    putPairs(f, pointsOf(f, n, 11), pointsOf(f, n, 12));
  }
  data.bitLong(n.number(91));
  if (f.v < 2010) return;
  data.bitShort(n.number(170, 1));
  writeColour(f, n.number(92, BY_BLOCK_WHOLE));
  f.putRef(HARD_POINTER, n.handle(340));
  data.bitLong(n.number(171, -2));
  data.bitDouble(n.number(40));
  f.putRef(HARD_POINTER, n.handle(341));
  data.bitLong(n.number(93));
}

function writeLeader(f: FieldWriter, n: Braces): void {
  const { data } = f;
  data.bit(n.number(290, 1));
  data.bit(n.number(291, 1));
  putPoint(f, n, 10, [0, 0, 0]);
  putPoint(f, n, 11, [1, 0, 0]);
  putPairs(f, pointsOf(f, n, 12), pointsOf(f, n, 13));
  data.bitLong(n.number(90));
  data.bitDouble(n.number(40));
  const lines = n.parts('LEADER_LINE');
  data.bitLong(lines.length);
  for (const l of lines) writeLine(f, l);
  if (f.v >= 2010) data.bitShort(n.number(271));
}

function writeContext(f: FieldWriter, n: Braces): void {
  const { data } = f;
  const leaders = n.parts('LEADER');
  data.bitLong(leaders.length);
  for (const l of leaders) writeLeader(f, l);
  data.bitDouble(n.number(40, 1));
  putPoint(f, n, 10, [0, 0, 0]);
  for (const [c, usual] of [
    [41, 1],
    [140, 1],
    [145, 0],
  ])
    data.bitDouble(n.number(c!, usual));
  for (const c of [174, 175, 176, 177]) data.bitShort(n.number(c));
  const text = n.number(290) !== 0;
  data.bit(text);
  if (text) {
    f.putText(n.text(304));
    putPoint(f, n, 11, [0, 0, 1]);
    f.putRef(HARD_POINTER, n.handle(340));
    putPoint(f, n, 12, [0, 0, 0]);
    putPoint(f, n, 13, [1, 0, 0]);
    for (const [c, usual] of [
      [42, 0],
      [43, 0],
      [44, 0],
      [45, 1],
    ])
      data.bitDouble(n.number(c!, usual));
    data.bitShort(n.number(170, 1));
    writeColour(f, n.number(90, BY_BLOCK_WHOLE));
    data.bitShort(n.number(171, 1));
    data.bitShort(n.number(172, 1));
    writeColour(f, n.number(91, BY_BLOCK_WHOLE));
    data.bitDouble(n.number(141, 1.5));
    data.bitLong(n.number(92));
    data.bit(n.number(291));
    data.bit(n.number(292));
    data.bitShort(n.number(173));
    data.bit(n.number(293));
    data.bitDouble(n.number(142));
    data.bitDouble(n.number(143));
    data.bit(n.number(294));
    const columns = n.all(144);
    data.bitLong(columns.length);
    for (const c of columns) data.bitDouble(f.record.store.numberAt(c.at));
    data.bit(n.number(295, 1));
    data.bit(0);
    n.number(296);
  } else {
    const block = n.number(296) !== 0;
    data.bit(block);
    if (block) {
      f.putRef(SOFT_POINTER, n.handle(341));
      putPoint(f, n, 14, [0, 0, 1]);
      putPoint(f, n, 15, [0, 0, 0]);
      putPoint(f, n, 16, [1, 1, 1]);
      data.bitDouble(n.number(46));
      writeColour(f, n.number(93, BY_BLOCK_WHOLE));
      const matrix = n.all(47);
      for (let k = 0; k < 16; k++)
        data.bitDouble(matrix[k] ? f.record.store.numberAt(matrix[k]!.at) : k % 5 === 0 ? 1 : 0);
    }
  }
  putPoint(f, n, 110, [0, 0, 0]);
  putPoint(f, n, 111, [1, 0, 0]);
  putPoint(f, n, 112, [0, 1, 0]);
  data.bit(n.number(297));
  if (f.v < 2010) return;
  data.bitShort(n.number(273, 9));
  data.bitShort(n.number(272, 9));
}

export const MULTILEADER: Codec = {
  fits: (record) => Braces.of({ record, use: () => undefined }).parts('CONTEXT_DATA').length > 0,
  read(f) {
    f.mark('AcDbMLeader');
    const { data, bag } = f;
    if (f.v >= 2010) f.bs(270);
    readContext(f);
    const colour = (code: number): void => bag.addNumber(code, readColour(f));
    f.h(340, HARD_POINTER);
    f.bl(90);
    f.bs(170);
    colour(91);
    f.h(341, HARD_POINTER);
    f.bl(171);
    f.b(290);
    f.b(291);
    f.bd(41);
    f.h(342, HARD_POINTER);
    f.bd(42);
    f.bs(172);
    f.h(343, HARD_POINTER);
    for (const c of [173, 95, 174, 175]) f.bs(c);
    colour(92);
    f.b(292);
    f.h(344, HARD_POINTER);
    colour(93);
    f.p3(10);
    f.bd(43);
    f.bs(176);
    f.b(293);
    if (f.v < 2010) {
      for (let n = bounded(f, data.bitLong(), 1); n > 0; n--) {
        f.b(94);
        f.h(345, HARD_POINTER);
      }
      for (let n = bounded(f, data.bitLong(), 4); n > 0 && !data.overrun; n--) {
        f.h(330, SOFT_POINTER);
        const label = f.text();
        f.bs(177);
        f.bd(44);
        bag.addText(302, label);
      }
      f.b(294);
      f.bs(178);
      f.bs(179);
      f.bd(45);
      return;
    }
    f.bs(271);
    const top = data.bitShort();
    f.bs(272);
    bag.addNumber(273, top);
    if (f.v >= 2013) f.b(295);
  },
  write(f) {
    f.mark('AcDbMLeader');
    const { data } = f;
    const root = Braces.of(f);
    const version = root.number(270, 2);
    if (f.v >= 2010) data.bitShort(version);
    writeContext(f, root.parts('CONTEXT_DATA')[0]!);
    f.putRef(HARD_POINTER, root.handle(340));
    data.bitLong(root.number(90));
    data.bitShort(root.number(170, 1));
    writeColour(f, root.number(91, BY_BLOCK_WHOLE));
    f.putRef(HARD_POINTER, root.handle(341));
    data.bitLong(root.number(171, -2));
    data.bit(root.number(290, 1));
    data.bit(root.number(291, 1));
    data.bitDouble(root.number(41));
    f.putRef(HARD_POINTER, root.handle(342));
    data.bitDouble(root.number(42));
    data.bitShort(root.number(172, 2));
    f.putRef(HARD_POINTER, root.handle(343));
    for (const [c, usual] of [
      [173, 1],
      [95, 1],
      [174, 1],
      [175, 0],
    ])
      data.bitShort(root.number(c!, usual));
    writeColour(f, root.number(92, BY_BLOCK_WHOLE));
    data.bit(root.number(292));
    f.putRef(HARD_POINTER, root.handle(344));
    writeColour(f, root.number(93, BY_BLOCK_WHOLE));
    putPoint(f, root, 10, [1, 1, 1]);
    data.bitDouble(root.number(43));
    data.bitShort(root.number(176));
    data.bit(root.number(293));
    if (f.v < 2010) return writeLabels(f, root);
    data.bitShort(root.number(271));
    data.bitShort(root.number(273, 9));
    data.bitShort(root.number(272, 9));
    if (f.v >= 2013) data.bit(root.number(295));
    // Arrowheads and labels of blocks one by one have no place from version 2010 on.
    for (const [code, usual] of [
      [294, 0],
      [178, 0],
      [179, 1],
      [45, 1],
    ] as const)
      root.usual(code, usual);
  },
};

/** Before version 2010: arrowheads one by one (94, 345), and the labels of a block (330, 177, 44, 302). */
function writeLabels(f: FieldWriter, root: Braces): void {
  const { data, record } = f;
  const { store } = record;
  const heads = root.all(345);
  const defaults = root.all(94);
  data.bitLong(heads.length);
  heads.forEach((t, i) => {
    data.bit(defaults[i] ? store.numberAt(defaults[i].at) : 0);
    f.putRef(HARD_POINTER, store.handleAt(t.at));
  });
  const labels = root.all(302);
  const [definitions, places, widths] = [root.all(330), root.all(177), root.all(44)];
  data.bitLong(labels.length);
  labels.forEach((t, i) => {
    f.putRef(SOFT_POINTER, definitions[i] ? store.handleAt(definitions[i].at) : 0);
    f.putText(store.textAt(t.at));
    data.bitShort(places[i] ? store.numberAt(places[i].at) : i);
    data.bitDouble(widths[i] ? store.numberAt(widths[i].at) : 0);
  });
  data.bit(root.number(294));
  data.bitShort(root.number(178));
  data.bitShort(root.number(179));
  data.bitDouble(root.number(45));
}

/** A colour that a DXF has as one whole number. */
function wholeColour(f: Both, code: number): void {
  if (f.reading) (f as FieldReader).bag.addNumber(code, readColour(f as FieldReader));
  else writeColour(f as FieldWriter, f.number(code, BY_BLOCK_WHOLE));
}

function style(f: Both): void {
  f.mark('AcDbMLeaderStyle');
  if (f.v >= 2010) f.bs(179, f.reading ? undefined : 2);
  for (const c of [170, 171, 172]) f.bs(c);
  f.bl(90);
  f.bd(40);
  f.bd(41);
  f.bs(173);
  wholeColour(f, 91);
  f.h(340, HARD_POINTER);
  f.bl(92);
  f.b(290);
  f.bd(42);
  f.b(291);
  f.bd(43);
  f.t(3);
  f.h(341, HARD_POINTER);
  f.bd(44);
  f.t(300);
  f.h(342, HARD_POINTER);
  for (const c of [174, 178, 175, 176]) f.bs(c);
  wholeColour(f, 93);
  f.bd(45);
  f.b(292);
  f.b(297);
  f.bd(46);
  f.h(343, HARD_POINTER);
  wholeColour(f, 94);
  for (const c of [47, 49, 140]) f.bd(c, f.reading ? undefined : 1);
  f.b(293);
  f.bd(141);
  f.b(294);
  f.bs(177);
  f.bd(142, f.reading ? undefined : 1);
  f.b(295);
  f.b(296);
  f.bd(143);
  if (f.v < 2010) return;
  f.bs(271);
  f.bs(273, f.reading ? undefined : 9);
  f.bs(272, f.reading ? undefined : 9);
  if (f.v >= 2013) f.b(298);
}
export const MLEADERSTYLE: Codec = { read: style, write: style };
