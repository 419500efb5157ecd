import type { Codec } from './codec.js';
import { bounded, boundedRefs, put } from './codecs-curves.js';
import { handlesOf } from './codecs-placed.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import type { Fields } from './fields.js';
import { HARD_OWNER, HARD_POINTER, NONE, SOFT_OWNER, SOFT_POINTER } from './fields.js';

/** Layouts of objects that are not drawn (Open Design Specification, "DICTIONARY" and after). */

function readDictionary(f: FieldReader): void {
  f.mark('AcDbDictionary');
  const { data, bag } = f;
  const n = bounded(f, data.bitLong(), 2);
  if (f.v === 14) data.byte();
  const cloning = f.v >= 2000 ? data.bitShort() : 1;
  const hard = f.v >= 2000 ? data.byte() : 0;
  if (hard) bag.addNumber(280, 1);
  bag.addNumber(281, cloning);
  const names: string[] = [];
  for (let i = 0; i < n && !data.overrun; i++) names.push(f.text());
  for (const name of names) {
    const handle = f.ref();
    // An entry that leads nowhere stands in the bits and is none.
    if (handle === 0) continue;
    bag.addText(3, name);
    bag.addHandle(hard ? 360 : 350, handle);
  }
}

function writeDictionary(f: FieldWriter): void {
  f.mark('AcDbDictionary');
  const { data, record } = f;
  const { store } = record;
  const entries: [string, number][] = [];
  let name: string | null = null;
  let hard = f.number(280) !== 0;
  for (let i = record.from + 1; i < record.to; i++) {
    const code = store.codes[i];
    if (code === 3) name = store.textAt(i);
    else if ((code === 350 || code === 360) && name !== null) {
      const handle = store.handleAt(i);
      if (code === 360) hard = true;
      if (f.known(handle)) entries.push([name, handle]);
      name = null;
    } else continue;
    f.use(i);
  }
  data.bitLong(entries.length);
  const cloning = f.number(281, 1);
  if (f.v === 14) data.byte(0);
  if (f.v >= 2000) {
    data.bitShort(cloning);
    data.byte(hard ? 1 : 0);
  }
  for (const [entry] of entries) f.putText(entry);
  for (const [, handle] of entries) f.putRef(hard ? HARD_OWNER : SOFT_OWNER, handle);
}

export const DICTIONARY: Codec = { read: readDictionary, write: writeDictionary };

export const DICTIONARYWDFLT: Codec = {
  read(f) {
    readDictionary(f);
    f.mark('AcDbDictionaryWithDefault');
    f.h(340, HARD_POINTER);
  },
  write(f) {
    writeDictionary(f);
    f.mark('AcDbDictionaryWithDefault');
    f.h(340, HARD_POINTER);
  },
};

export const DICTIONARYVAR: Codec = (f) => {
  f.mark('DictionaryVariables');
  f.rc(280);
  f.t(1);
};

export const PLACEHOLDER: Codec = () => undefined;

export const GROUP: Codec = {
  read(f) {
    f.mark('AcDbGroup');
    f.t(300);
    f.bs(70);
    f.bs(71);
    const n = boundedRefs(f, f.data.bitLong());
    for (let i = 0; i < n && !f.handles.overrun; i++) f.h(340, HARD_POINTER);
  },
  write(f) {
    f.mark('AcDbGroup');
    f.t(300);
    f.bs(70);
    f.bs(71, 1);
    const members = handlesOf(f, 340).filter((h) => f.known(h));
    f.data.bitLong(members.length);
    for (const h of members) f.putRef(HARD_POINTER, h);
  },
};

export const MLINESTYLE: Codec = {
  read(f) {
    f.mark('AcDbMlineStyle');
    const { data, bag } = f;
    f.t(2);
    f.t(3);
    // The flags lie in another order than in a DXF: filled and mitres change places.
    bag.addNumber(70, swapped(data.bitShort()));
    f.colour(62, 420);
    f.angle(51);
    f.angle(52);
    const n = Math.min(data.byte(), 64);
    bag.addNumber(71, n);
    for (let i = 0; i < n && !data.overrun; i++) {
      f.bd(49);
      f.colour(62, 420);
      // Before 2018 a number in the order of the table, which nobody else has shown us.
      if (f.v < 2018) data.bitShort();
      else f.name(6, 'linetype', HARD_POINTER, 'ByLayer');
    }
  },
  write(f) {
    f.mark('AcDbMlineStyle');
    const { data, record } = f;
    const { store } = record;
    f.t(2);
    f.t(3);
    data.bitShort(swapped(f.number(70)));
    f.colour(62, 420, 256);
    f.angle(51, 90);
    f.angle(52, 90);
    const elements: { offset: number; index: number; rgb: number; linetype: string }[] = [];
    f.number(71);
    for (let i = record.from + 1; i < record.to; i++) {
      const last = elements[elements.length - 1];
      if (store.codes[i] === 49) elements.push({ offset: store.numberAt(i), index: 256, rgb: -1, linetype: 'ByLayer' });
      else if (store.codes[i] === 62 && last) last.index = store.numberAt(i);
      else if (store.codes[i] === 420 && last) last.rgb = store.numberAt(i);
      else if (store.codes[i] === 6 && last && (f.v >= 2018 || /^bylayer$/i.test(store.textAt(i))))
        last.linetype = store.textAt(i);
      else continue;
      f.use(i);
    }
    data.byte(elements.length);
    for (const e of elements) {
      data.bitDouble(e.offset);
      f.putColour(e.index, e.rgb);
      // 32767 stands for the linetype of the layer.
      if (f.v < 2018) data.bitShort(32767);
    }
    if (f.v >= 2018) for (const e of elements) f.putRef(HARD_POINTER, f.refOf('linetype', e.linetype));
  },
};

/** Group 70 of a multiline style has filled 1 and mitres 2; the bits have them the other way round. */
const swapped = (flags: number): number => (flags & ~3) | ((flags & 1) << 1) | ((flags & 2) >> 1);

export const IMAGEDEF: Codec = (f) => {
  f.mark('AcDbRasterImageDef');
  f.bl(90);
  f.r2(10);
  f.t(1);
  f.b(280, f.reading ? undefined : 1);
  f.rc(281);
  f.r2(11);
};
export const IMAGEDEF_REACTOR: Codec = {
  read(f) {
    f.mark('AcDbRasterImageDefReactor');
    f.bl(90);
    f.bag.addHandle(330, f.ownerOf);
  },
  write(f) {
    f.mark('AcDbRasterImageDefReactor');
    f.bl(90, 2);
    f.take(330);
  },
};
/** Where the corners of a frame stand in its data: behind two bytes, upper left, upper right, lower right, lower left. */
const CORNERS = { first: 2, opposite: 2 + 2 * 24 };

/** An object of another program in a frame ("OLE2FRAME"): its data go both ways as they are. */
export const OLE2FRAME: Codec = {
  read(f) {
    f.mark('AcDbOle2Frame');
    const { data, bag } = f;
    const kind = data.bitShort();
    const mode = f.v >= 2000 ? data.bitShort() : 0;
    const bytes = data.take(bounded(f, data.bitLong(), 8));
    bag.addNumber(70, 2);
    if (bytes.length >= CORNERS.opposite + 24) {
      const view = new DataView(bytes.buffer, bytes.byteOffset);
      for (const [code, at] of [
        [10, CORNERS.first],
        [11, CORNERS.opposite],
      ])
        put(
          f,
          code!,
          [0, 8, 16].map((k) => view.getFloat64(at! + k, true)),
        );
    }
    bag.addNumber(71, kind);
    bag.addNumber(72, mode);
    bag.addNumber(90, bytes.length);
    bag.addBytes(310, bytes);
    const locked = f.v >= 2000 ? data.byte() : 0;
    if (locked !== 0) bag.addNumber(73, locked);
    bag.addText(1, 'OLE');
  },
  write(f) {
    f.mark('AcDbOle2Frame');
    const { data, record } = f;
    f.number(70);
    f.textOf(3);
    f.point(10);
    f.point(11);
    data.bitShort(f.number(71, 2));
    if (f.v >= 2000) data.bitShort(f.number(72));
    f.number(90);
    let hex = '';
    for (let i = f.next(310, record.from + 1); i >= 0; i = f.next(310, i + 1)) hex += record.store.textAt(i).trim();
    data.bitLong(hex.length >> 1);
    for (let i = 0; i + 1 < hex.length; i += 2) data.byte(parseInt(hex.slice(i, i + 2), 16));
    const locked = f.number(73);
    if (f.v >= 2000) data.byte(locked);
    f.textOf(1);
  },
};
export const UNDERLAY_DEFINITION: Codec = (f) => {
  f.mark('AcDbUnderlayDefinition');
  f.t(1);
  f.t(2);
};
export const RASTERVARIABLES: Codec = (f) => {
  f.mark('AcDbRasterVariables');
  f.bl(90);
  f.bs(70);
  f.bs(71);
  f.bs(72);
};
export const WIPEOUTVARIABLES: Codec = (f) => {
  f.mark('AcDbWipeoutVariables');
  f.bs(70);
};

export const SORTENTSTABLE: Codec = {
  read(f) {
    f.mark('AcDbSortentsTable');
    const { data, bag } = f;
    const n = bounded(f, data.bitLong(), 8);
    const order: number[] = [];
    for (let i = 0; i < n && !data.overrun; i++) order.push(data.handle().handle);
    f.h(330, SOFT_POINTER);
    for (const sort of order) {
      const entity = f.ref();
      if (entity === 0) continue;
      bag.addHandle(331, entity);
      bag.addHandle(5, sort);
    }
  },
  write(f) {
    f.mark('AcDbSortentsTable');
    const { data, record } = f;
    const { store } = record;
    const pairs: [number, number][] = [];
    let entity = 0;
    for (let i = record.find(331); i >= 0 && i < record.to; i++) {
      if (store.codes[i] === 331) entity = store.handleAt(i);
      else if (store.codes[i] === 5) pairs.push([entity, store.handleAt(i)]);
      f.use(i);
    }
    const kept = pairs.filter(([e]) => f.known(e));
    data.bitLong(kept.length);
    for (const [, sort] of kept) data.handle(0, sort);
    // The space whose order it is comes after the owner, under a mark of its own.
    f.h(330, SOFT_POINTER);
    for (const [e] of kept) f.putRef(SOFT_POINTER, e);
  },
};

export const SCALE: Codec = (f) => {
  f.mark('AcDbScale');
  f.bs(70);
  f.t(300);
  f.bd(140);
  f.bd(141);
  f.b(290);
};

function plotSettings(f: Fields): void {
  f.mark('AcDbPlotSettings');
  f.t(1);
  f.t(2);
  f.bs(70);
  for (const c of [40, 41, 42, 43, 44, 45]) f.bd(c);
  f.t(4);
  for (const c of [46, 47]) f.bd(c);
  for (const c of [72, 73, 74]) f.bs(c);
  for (const c of [48, 49, 140, 141]) f.bd(c);
  if (f.v < 2004) f.t(6);
  f.bd(142);
  f.bd(143);
  f.t(7);
  f.bs(75);
  f.bd(147);
  f.bd(148);
  f.bd(149);
  if (f.v >= 2004) {
    f.bs(76, 0);
    f.bs(77, f.reading ? undefined : 2);
    f.bs(78, f.reading ? undefined : 300);
  }
}
function plotHandles(f: Fields): void {
  if (f.v >= 2004) f.h(NONE, SOFT_POINTER);
  if (f.v >= 2007) f.h(333, SOFT_POINTER);
}

export const PLOTSETTINGS: Codec = (f) => {
  plotSettings(f);
  plotHandles(f);
};

export const LAYOUT: Codec = (f) => {
  plotSettings(f);
  f.mark('AcDbLayout');
  f.t(1);
  f.bl(71);
  f.bs(70);
  f.p3(13);
  f.r2(10);
  f.r2(11);
  f.p3(12);
  f.p3(16, f.reading ? undefined : [1, 0, 0]);
  f.p3(17, f.reading ? undefined : [0, 1, 0]);
  f.bd(146);
  f.bs(76);
  f.p3(14);
  f.p3(15);
  let viewports = 0;
  if (f.v >= 2004) viewports = f.reading ? boundedRefs(f as FieldReader, f.bl(NONE)) : f.bl(NONE, 0);
  plotHandles(f);
  f.h(330, SOFT_POINTER);
  f.h(331, SOFT_POINTER);
  f.h(346, HARD_POINTER);
  f.h(345, HARD_POINTER);
  for (let i = 0; i < viewports && !(f as FieldReader).handles.overrun; i++) f.h(NONE, SOFT_POINTER);
};
