import { nearestIndex } from '../../drawing/palette.js';
import type { Codec } from './codec.js';
import { bounded, boundedRefs, put } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';

const POLYLINE = 2;
const DERIVED = 4;

/** HATCH (Open Design Specification, "HATCH"): its tags stand in the same order in both forms. */
export const HATCH: Codec = { read, write };

function read(f: FieldReader): void {
  f.mark('AcDbHatch');
  const { data, bag } = f;
  const gradient = f.v >= 2004 ? readGradient(f) : null;
  put(f, 10, [0, 0, data.bitDouble()]);
  f.plainExtrusion();
  if (!bag.has(210)) put(f, 210, [0, 0, 1]);
  f.t(2);
  const solid = f.b(70);
  f.b(71);
  const paths = bounded(f, data.bitLong(), 8);
  bag.addNumber(91, paths);
  let derived = false;
  const boundaries: number[] = [];
  for (let i = 0; i < paths && !data.overrun; i++) {
    const flags = data.bitLong();
    bag.addNumber(92, flags);
    derived ||= (flags & DERIVED) !== 0;
    if (flags & POLYLINE) readPolyline(f);
    else {
      const edges = bounded(f, data.bitLong(), 8);
      bag.addNumber(93, edges);
      for (let k = 0; k < edges && !data.overrun; k++) readEdge(f);
    }
    boundaries.push(boundedRefs(f, data.bitLong()));
  }
  f.bs(75);
  f.bs(76);
  if (!solid) {
    bag.addAngle(52, data.bitDouble());
    f.bd(41);
    f.b(77);
    const lines = bounded(f, data.bitShort() & 0xffff, 10);
    bag.addNumber(78, lines);
    for (let i = 0; i < lines; i++) {
      bag.addAngle(53, data.bitDouble());
      for (const c of [43, 44, 45, 46]) bag.addNumber(c, data.bitDouble());
      const dashes = bounded(f, data.bitShort() & 0xffff, 2);
      bag.addNumber(79, dashes);
      for (let k = 0; k < dashes; k++) bag.addNumber(49, data.bitDouble());
    }
  }
  if (derived) f.bd(47);
  const seeds = bounded(f, data.bitLong(), 128);
  bag.addNumber(98, seeds);
  for (let i = 0; i < seeds; i++) put(f, 10, [data.double(), data.double()]);
  // What the boundary was made of is left: the boundary itself stands in the hatch.
  for (const n of boundaries) for (let k = 0; k < n && !f.handles.overrun; k++) f.ref();
  gradient?.();
}

/** The gradient comes first in the bits and last in a DXF. */
function readGradient(f: FieldReader): () => void {
  const { data, bag } = f;
  const [is, reserved] = [data.bitLong(), data.bitLong()];
  const [angle, shift] = [data.bitDouble(), data.bitDouble()];
  const single = data.bitLong();
  const tint = data.bitDouble();
  const n = bounded(f, data.bitLong(), 20);
  const stops: [number, number, number][] = [];
  for (let i = 0; i < n; i++) {
    const offset = data.bitDouble();
    const index = data.bitShort();
    const rgb = data.bitLong() >>> 0;
    const flags = data.byte();
    if (flags & 1) f.text();
    if (flags & 2) f.text();
    stops.push([offset, index, rgb]);
  }
  const name = f.text();
  return () => {
    if (!is) return;
    bag.addNumber(450, is);
    bag.addNumber(451, reserved);
    bag.addNumber(460, angle);
    bag.addNumber(461, shift);
    bag.addNumber(452, single);
    bag.addNumber(462, tint);
    bag.addNumber(453, stops.length);
    for (const [offset, , rgb] of stops) {
      bag.addNumber(463, offset);
      bag.addNumber(63, nearestIndex(rgb & 0xffffff));
      bag.addNumber(421, rgb & 0xffffff);
    }
    bag.addText(470, name);
  };
}

function readPolyline(f: FieldReader): void {
  const { data, bag } = f;
  const bulged = data.bit();
  bag.addNumber(72, bulged);
  bag.addNumber(73, data.bit());
  const n = bounded(f, data.bitLong(), 128);
  bag.addNumber(93, n);
  for (let i = 0; i < n; i++) {
    put(f, 10, [data.double(), data.double()]);
    if (bulged) bag.addNumber(42, data.bitDouble());
  }
}

function readEdge(f: FieldReader): void {
  const { data, bag } = f;
  const kind = data.byte();
  bag.addNumber(72, kind);
  const pair = (code: number): void => put(f, code, [data.double(), data.double()]);
  switch (kind) {
    case 1:
      pair(10);
      return pair(11);
    case 2:
    case 3:
      pair(10);
      if (kind === 3) pair(11);
      bag.addNumber(40, data.bitDouble());
      bag.addAngle(50, data.bitDouble());
      bag.addAngle(51, data.bitDouble());
      return bag.addNumber(73, data.bit());
    case 4: {
      bag.addNumber(94, data.bitLong());
      const rational = data.bit();
      bag.addNumber(73, rational);
      bag.addNumber(74, data.bit());
      const knots = bounded(f, data.bitLong(), 2);
      const n = bounded(f, data.bitLong(), 128);
      bag.addNumber(95, knots);
      bag.addNumber(96, n);
      for (let i = 0; i < knots; i++) bag.addNumber(40, data.bitDouble());
      for (let i = 0; i < n; i++) {
        pair(10);
        if (rational) bag.addNumber(42, data.bitDouble());
      }
      if (f.v < 2010) return;
      const fit = bounded(f, data.bitLong(), 128);
      bag.addNumber(97, fit);
      for (let i = 0; i < fit; i++) pair(11);
      // The tangents stand there even when there is nothing to fit.
      const tangents = [data.double(), data.double(), data.double(), data.double()];
      if (fit === 0) return;
      put(f, 12, tangents.slice(0, 2));
      return put(f, 13, tangents.slice(2));
    }
    default:
      data.overrun = true;
  }
}

/** Walks the tags of a hatch one after the other. */
class Walk {
  i: number;
  constructor(
    private readonly f: FieldWriter,
    code: number,
  ) {
    const at = f.record.find(code);
    this.i = at < 0 ? f.record.to : at;
  }
  is(code: number): boolean {
    return this.i < this.f.record.to && this.f.record.store.codes[this.i] === code;
  }
  /** The number of the next tag when it has the code. */
  take(code: number, otherwise = 0): number {
    if (!this.is(code)) return otherwise;
    this.f.use(this.i);
    return this.f.record.store.numberAt(this.i++);
  }
  /** The same for an angle. */
  radians(code: number): number {
    if (!this.is(code)) return 0;
    this.f.use(this.i);
    return this.f.record.store.radiansAt(this.i++);
  }
  seek(code: number): boolean {
    while (this.i < this.f.record.to && !this.is(code)) this.i++;
    return this.i < this.f.record.to;
  }
}

function write(f: FieldWriter): void {
  f.mark('AcDbHatch');
  const { data } = f;
  if (f.v >= 2004) writeGradient(f);
  data.bitDouble(f.point(10)[2]);
  f.plainExtrusion();
  f.t(2);
  const solid = f.b(70);
  f.b(71);
  const walk = new Walk(f, 91);
  const paths = walk.take(91);
  data.bitLong(paths);
  let derived = false;
  for (let i = 0; i < paths; i++) {
    walk.seek(92);
    const flags = walk.take(92);
    derived ||= (flags & DERIVED) !== 0;
    data.bitLong(flags);
    if (flags & POLYLINE) writePolyline(f, walk);
    else {
      const edges = walk.take(93);
      data.bitLong(edges);
      for (let k = 0; k < edges; k++) writeEdge(f, walk);
    }
    walk.take(97);
    data.bitLong(0);
  }
  f.bs(75);
  f.bs(76, 1);
  if (!solid) {
    data.bitDouble(f.radians(52));
    // The codes 41 and up also stand in the boundary; those of the pattern follow its angle.
    const rest = new Walk(f, 52);
    rest.take(52);
    data.bitDouble(rest.take(41, 1));
    data.bit(rest.take(77));
    const lines = rest.take(78);
    data.bitShort(lines);
    for (let i = 0; i < lines; i++) {
      data.bitDouble(rest.radians(53));
      for (const c of [43, 44, 45, 46]) data.bitDouble(rest.take(c));
      const dashes = rest.take(79);
      data.bitShort(dashes);
      for (let k = 0; k < dashes; k++) data.bitDouble(rest.take(49));
    }
  }
  if (derived) data.bitDouble(f.number(47, 1));
  const seeds = new Walk(f, 98);
  const n = seeds.take(98);
  data.bitLong(n);
  for (let i = 0; i < n; i++) {
    data.double(seeds.take(10));
    data.double(seeds.take(20));
  }
}

function writeGradient(f: FieldWriter): void {
  const { data } = f;
  const is = f.number(450);
  data.bitLong(is);
  data.bitLong(f.number(451));
  data.bitDouble(f.number(460));
  data.bitDouble(f.number(461));
  data.bitLong(f.number(452));
  data.bitDouble(f.number(462));
  f.number(453);
  const offsets = is ? f.all(463) : [];
  const colours = is ? f.all(421) : [];
  if (is) f.all(63);
  data.bitLong(offsets.length);
  offsets.forEach((offset, i) => {
    data.bitDouble(offset);
    f.putColour(0, (colours[i] ?? 0) & 0xffffff);
  });
  f.putText(f.textOf(470));
}

function writePolyline(f: FieldWriter, walk: Walk): void {
  const { data } = f;
  const bulged = walk.take(72);
  data.bit(bulged);
  data.bit(walk.take(73, 1));
  const n = walk.take(93);
  data.bitLong(n);
  for (let i = 0; i < n; i++) {
    data.double(walk.take(10));
    data.double(walk.take(20));
    if (bulged) data.bitDouble(walk.take(42));
  }
}

function writeEdge(f: FieldWriter, walk: Walk): void {
  const { data } = f;
  const kind = walk.take(72, 1);
  data.byte(kind);
  const pair = (code: number): void => {
    data.double(walk.take(code));
    data.double(walk.take(code + 10));
  };
  switch (kind) {
    case 1:
      pair(10);
      return pair(11);
    case 2:
    case 3:
      pair(10);
      if (kind === 3) pair(11);
      data.bitDouble(walk.take(40));
      data.bitDouble(walk.radians(50));
      data.bitDouble(walk.radians(51));
      return data.bit(walk.take(73, 1));
    case 4: {
      data.bitLong(walk.take(94));
      const rational = walk.take(73);
      data.bit(rational);
      data.bit(walk.take(74));
      const knots = walk.take(95);
      const n = walk.take(96);
      data.bitLong(knots);
      data.bitLong(n);
      for (let i = 0; i < knots; i++) data.bitDouble(walk.take(40));
      for (let i = 0; i < n; i++) {
        pair(10);
        if (rational) data.bitDouble(walk.take(42, 1));
      }
      const fit = walk.take(97);
      if (f.v >= 2010) data.bitLong(fit);
      for (let i = 0; i < fit; i++) {
        const [x, y] = [walk.take(11), walk.take(21)];
        if (f.v < 2010) continue;
        data.double(x);
        data.double(y);
      }
      const tangents = [12, 22, 13, 23].map((c) => walk.take(c));
      if (f.v >= 2010) tangents.forEach((t) => data.double(t));
      return;
    }
  }
}
