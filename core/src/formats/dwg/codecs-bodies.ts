import type { Codec } from './codec.js';
import { bounded } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { HARD_OWNER, NONE } from './fields.js';

/**
 * REGION, 3DSOLID and BODY (Open Design Specification, "3DSOLID"): the text of the solid modeller, hidden character by
 * character as a DXF has it too. In a DXF it stands in lines of at most 255, continued in group 3. Bodies in binary form
 * are carried as bits.
 */
const TEXT = 1;
const LINE = 255;
/** How much text stands in one piece of the bits. */
const PIECE = 4096;

const latin1 = (bytes: Uint8Array): string => {
  let out = '';
  for (let i = 0; i < bytes.length; i += 8192) out += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return out;
};

function read(f: FieldReader, mark: string): void {
  f.mark('AcDbModelerGeometry');
  const { data, bag } = f;
  const empty = data.bit();
  if (empty) {
    f.seal = true;
    return;
  }
  data.bit();
  const form = data.bitShort();
  if (form !== TEXT) {
    f.seal = true;
    return;
  }
  bag.addNumber(70, form);
  let text = '';
  for (let n = bounded(f, data.bitLong(), 8); n > 0 && !data.overrun; n = bounded(f, data.bitLong(), 8))
    text += latin1(data.take(n));
  for (const line of text.replace(/\r\n?/g, '\n').split('\n')) {
    if (line === '') continue;
    for (let at = 0; at < line.length; at += LINE) bag.addText(at === 0 ? 1 : 3, line.slice(at, at + LINE));
  }
  if (mark !== '') f.mark(mark);
}

function write(f: FieldWriter): void {
  f.mark('AcDbModelerGeometry');
  const { data, record } = f;
  const { store } = record;
  f.number(70);
  let text = '';
  for (let i = record.from + 1; i < record.to; i++) {
    const code = store.codes[i];
    if (code !== 1 && code !== 3) continue;
    f.use(i);
    if (code === 1 && text !== '') text += '\n';
    text += store.textAt(i);
  }
  text += '\n';
  data.bit(0);
  data.bit(0);
  data.bitShort(TEXT);
  for (let at = 0; at < text.length; at += PIECE) {
    const piece = text.slice(at, at + PIECE);
    data.bitLong(piece.length);
    for (let k = 0; k < piece.length; k++) data.byte(piece.charCodeAt(k));
  }
  data.bitLong(0);
  // No wires to draw it by; whoever shows it makes them.
  data.bit(0);
  if (f.v >= 2007) data.bitLong(0);
}

export const REGION: Codec = { read: (f) => read(f, ''), write };
export const BODY: Codec = { read: (f) => read(f, ''), write };
export const SOLID3D: Codec = {
  read: (f) => read(f, 'AcDb3dSolid'),
  write(f) {
    write(f);
    f.mark('AcDb3dSolid');
    if (f.v >= 2007) f.h(350, HARD_OWNER);
    else f.h(NONE, HARD_OWNER);
  },
};
