/**
 * The compression of version 2007 (Open Design Specification, "R2007 compression"). Copies work as elsewhere; plain bytes
 * come in pieces of up to 32 whose parts stand in an order of their own, listed in `ORDER`.
 */

type Part = readonly [from: number, count: number];

/** Parts as they are written here: `from+count`, in the order in which they are taken. */
function partsOf(text: string): Part[] {
  return text.split(' ').flatMap((p): Part[] => {
    const [from, count] = p.split('+').map(Number);
    return count === undefined ? [] : [[from!, count]];
  });
}

/** For each length below 32: where the next bytes are taken from, and how many. A part of 16 comes as its two halves, swapped. */
const PARTS: readonly (readonly Part[])[] = [
  '',
  '0+1',
  '1+1 0+1',
  '2+1 1+1 0+1',
  '0+4',
  '4+1 0+4',
  '5+1 1+4 0+1',
  '6+1 5+1 1+4 0+1',
  '0+8',
  '8+1 0+8',
  '9+1 1+8 0+1',
  '10+1 9+1 1+8 0+1',
  '8+4 0+8',
  '12+1 8+4 0+8',
  '13+1 9+4 1+8 0+1',
  '14+1 13+1 9+4 1+8 0+1',
  '8+8 0+8',
  '9+8 8+1 0+8',
  '17+1 9+8 1+8 0+1',
  '18+1 17+1 16+1 8+8 0+8',
  '16+4 8+8 0+8',
  '20+1 16+4 8+8 0+8',
  '21+1 20+1 16+4 8+8 0+8',
  '22+1 21+1 20+1 16+4 8+8 0+8',
  '16+8 8+8 0+8',
  '17+8 16+1 8+8 0+8',
  '25+1 17+8 16+1 8+8 0+8',
  '26+1 25+1 17+8 16+1 8+8 0+8',
  '24+4 16+8 8+8 0+8',
  '28+1 24+4 16+8 8+8 0+8',
  '29+1 28+1 24+4 16+8 8+8 0+8',
  '30+1 26+4 18+8 10+8 2+8 1+1 0+1',
].map(partsOf);
const WHOLE = partsOf('24+8 16+8 8+8 0+8');

/** The order in which the bytes of a piece of plain bytes stand, as positions in the packed data. */
const orderOf = (parts: readonly (readonly [number, number])[]): Uint8Array =>
  Uint8Array.from(parts.flatMap(([from, count]) => Array.from({ length: count }, (_, k) => from + k)));
const ORDER = PARTS.map(orderOf);
const ORDER_32 = orderOf(WHOLE);

/** Positions in the packed data of `n` plain bytes in the order in which they come out, for pieces of 32 and what is left. */
export function plainOrder(n: number): number[] {
  const out: number[] = [];
  let at = 0;
  for (; n - at >= 32; at += 32) for (const k of ORDER_32) out.push(at + k);
  for (const k of ORDER[n - at]!) out.push(at + k);
  return out;
}

/** Unpacks `bytes` to at most `size` bytes; `whole` is `false` when it asked for what is not there. */
export function unpack2007(bytes: Uint8Array, size: number): { bytes: Uint8Array; whole: boolean } {
  const out = new Uint8Array(size);
  const end = bytes.length;
  let i = 0;
  let o = 0;
  let length = 0;
  let offset = 0;
  const next = (): number => (i < end ? bytes[i++]! : 0);
  const done = (whole: boolean): { bytes: Uint8Array; whole: boolean } => ({
    bytes: o === size ? out : out.subarray(0, o),
    whole: whole && o === size,
  });
  let op = next();
  if (op >> 4 === 2) {
    i += 2;
    length = next() & 7;
    if (length === 0) return done(false);
  }
  const instruction = (): void => {
    switch (op >> 4) {
      case 0:
        length = (op & 15) + 0x13;
        offset = next();
        op = next();
        length += (op >> 3) & 16;
        offset += ((op & 0x78) << 5) + 1;
        return;
      case 1:
        length = (op & 15) + 3;
        offset = next();
        op = next();
        offset += ((op & 0xf8) << 5) + 1;
        return;
      case 2:
        offset = next();
        offset |= next() << 8;
        length = op & 7;
        if ((op & 8) === 0) {
          op = next();
          length += op & 0xf8;
        } else {
          offset++;
          length += next() << 3;
          op = next();
          length += ((op & 0xf8) << 8) + 0x100;
        }
        return;
      default:
        length = op >> 4;
        offset = op & 15;
        op = next();
        offset += ((op & 0xf8) << 1) + 1;
    }
  };
  while (i < end) {
    if (length === 0) {
      length = op + 8;
      if (length === 0x17) {
        let n = next();
        length += n;
        if (n === 0xff) {
          do {
            n = next();
            n |= next() << 8;
            length += n;
          } while (n === 0xffff && i < end);
        }
      }
    }
    if (o + length > size || i + length > end) return done(false);
    let left = length;
    for (; left >= 32; left -= 32, i += 32) for (const k of ORDER_32) out[o++] = bytes[i + k]!;
    for (const k of ORDER[left]!) out[o++] = bytes[i + k]!;
    i += left;
    length = 0;
    if (i >= end) break;
    op = next();
    instruction();
    for (;;) {
      if (offset > o || offset <= 0 || o + length > size) return done(false);
      for (let k = 0; k < length; k++, o++) out[o] = out[o - offset]!;
      length = op & 7;
      if (length !== 0 || i >= end) break;
      op = next();
      if (op >> 4 === 0) break;
      if (op >> 4 === 15) op &= 15;
      instruction();
    }
  }
  return done(true);
}
