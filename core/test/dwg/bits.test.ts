import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { BitReader } from '../../src/formats/dwg/bit-reader.js';
import { BitWriter } from '../../src/formats/dwg/bit-writer.js';
import { crc16, crc32, pageSum } from '../../src/formats/dwg/checksums.js';
import { pack, unpack } from '../../src/formats/dwg/lz.js';
import { ObjectMap, writeObjectMap } from '../../src/formats/dwg/object-map.js';
import { bytesOf } from '../helpers.js';

/** Bytes from bits as a person writes them. */
const bits = (text: string): Uint8Array => {
  const b = text.replace(/[^01]/g, '');
  return Uint8Array.from({ length: Math.ceil(b.length / 8) }, (_, i) =>
    parseInt(b.slice(8 * i, 8 * i + 8).padEnd(8, '0'), 2),
  );
};
const reading = (...bytes: number[]): BitReader => new BitReader(Uint8Array.from(bytes));
const writing = (put: (w: BitWriter) => void): Uint8Array => {
  const w = new BitWriter();
  put(w);
  return w.written.slice();
};

describe('bit codes, worked out by hand', () => {
  it.each([
    ['bit short 0', '10', (w: BitWriter) => w.bitShort(0), (r: BitReader) => r.bitShort(), 0],
    ['bit short 256', '11', (w: BitWriter) => w.bitShort(256), (r: BitReader) => r.bitShort(), 256],
    ['bit short 15', '01 00001111', (w: BitWriter) => w.bitShort(15), (r: BitReader) => r.bitShort(), 15],
    ['bit short 257', '00 00000001 00000001', (w: BitWriter) => w.bitShort(257), (r: BitReader) => r.bitShort(), 257],
    ['bit short -2', '00 11111110 11111111', (w: BitWriter) => w.bitShort(-2), (r: BitReader) => r.bitShort(), -2],
    ['bit long 0', '10', (w: BitWriter) => w.bitLong(0), (r: BitReader) => r.bitLong(), 0],
    ['bit long 200', '01 11001000', (w: BitWriter) => w.bitLong(200), (r: BitReader) => r.bitLong(), 200],
    [
      'bit long 257',
      '00 00000001 00000001 00000000 00000000',
      (w: BitWriter) => w.bitLong(257),
      (r: BitReader) => r.bitLong(),
      257,
    ],
    ['bit double 1', '01', (w: BitWriter) => w.bitDouble(1), (r: BitReader) => r.bitDouble(), 1],
    ['bit double 0', '10', (w: BitWriter) => w.bitDouble(0), (r: BitReader) => r.bitDouble(), 0],
    // 0.5 is 3F E0 00 00 00 00 00 00, its lowest byte first.
    [
      'bit double 0.5',
      '00' + '00000000'.repeat(6) + '11100000 00111111',
      (w: BitWriter) => w.bitDouble(0.5),
      (r: BitReader) => r.bitDouble(),
      0.5,
    ],
    [
      'default double, the same',
      '00',
      (w: BitWriter) => w.defaultDouble(7.5, 7.5),
      (r: BitReader) => r.defaultDouble(7.5),
      7.5,
    ],
    // 1 + 2^-52 differs from 1 in its lowest byte only.
    [
      'default double, four bytes',
      '01 00000001 00000000 00000000 00000000',
      (w: BitWriter) => w.defaultDouble(1 + 2 ** -52, 1),
      (r: BitReader) => r.defaultDouble(1),
      1 + 2 ** -52,
    ],
    // 1 + 2^-16: 3F F0 00 10 00 00 00 00; bytes 4 and 5 come first.
    [
      'default double, six bytes',
      '10 00010000 00000000' + '00000000'.repeat(4),
      (w: BitWriter) => w.defaultDouble(1 + 2 ** -16, 1),
      (r: BitReader) => r.defaultDouble(1),
      1 + 2 ** -16,
    ],
    // 4610 = 36 × 128 + 2.
    ['modular 4610', '10000010 00100100', (w: BitWriter) => w.modular(4610), (r: BitReader) => r.modular(), 4610],
    // 1413 = 11 × 128 + 5, the sign in bit 0x40 of the last byte.
    [
      'signed modular -1413',
      '10000101 01001011',
      (w: BitWriter) => w.signedModular(-1413),
      (r: BitReader) => r.signedModular(),
      -1413,
    ],
    [
      'signed modular 64 needs a second byte',
      '11000000 00000000',
      (w: BitWriter) => w.signedModular(64),
      (r: BitReader) => r.signedModular(),
      64,
    ],
    // 4650033 = 141 × 32768 + 29745 (hex 7431).
    [
      'modular short 4650033',
      '00110001 11110100 10001101 00000000',
      (w: BitWriter) => w.modularShort(4650033),
      (r: BitReader) => r.modularShort(),
      4650033,
    ],
  ] as const)('%s', (_, text, put, take, value) => {
    expect(writing(put)).toEqual(bits(text));
    expect(take(new BitReader(bits(text)))).toBe(value);
  });

  it('memory that was used before leaves nothing behind, at any bit', () => {
    const code = fc.oneof(
      fc.tuple(fc.constant('bit'), fc.boolean()),
      fc.tuple(fc.constant('bits2'), fc.nat(3)),
      fc.tuple(fc.constant('byte'), fc.nat(255)),
      fc.tuple(fc.constant('long'), fc.integer()),
      fc.tuple(fc.constant('bitDouble'), fc.double({ noNaN: true, noDefaultInfinity: true })),
      fc.tuple(fc.constant('bitShort'), fc.nat(3000)),
      fc.tuple(fc.constant('put'), fc.uint8Array({ maxLength: 5 })),
      fc.tuple(fc.constant('handle'), fc.nat(70_000)),
      fc.tuple(fc.constant('align'), fc.constant(0)),
    );
    const run = (w: BitWriter, list: readonly (readonly [string, unknown])[]): Uint8Array => {
      const put = w as unknown as Record<string, (...v: unknown[]) => void>;
      for (const [name, value] of list) put[name]!(...(name === 'handle' ? [5, value] : [value]));
      return w.written.slice();
    };
    fc.assert(
      fc.property(
        fc.array(code, { maxLength: 60 }),
        fc.array(code, { maxLength: 60 }),
        fc.integer(),
        (before, list, patched) => {
          const used = new BitWriter();
          run(used, before);
          // What lies beyond is anything.
          used.bytes.fill(0xff, (used.at >> 3) + 1);
          used.clear();
          expect(run(used, list)).toEqual(run(new BitWriter(), list));
          // A number over others leaves those around it as they are.
          const w = new BitWriter();
          run(w, [['bits2', 2], ['long', 0], ...list]);
          const plain = w.written.slice();
          w.patchLong(2, patched);
          const r = new BitReader(w.written);
          expect([r.bits2(), r.long()]).toEqual([2, patched]);
          w.patchLong(2, 0);
          expect(w.written).toEqual(plain);
        },
      ),
    );
  });

  it('handles: code, length, highest byte first; relative ones count from their own', () => {
    expect(writing((w) => w.handle(5, 0x12f))).toEqual(Uint8Array.of(0x52, 0x01, 0x2f));
    expect(writing((w) => w.handle(4, 0))).toEqual(Uint8Array.of(0x40));
    expect(reading(0x52, 0x01, 0x2f).handle()).toEqual({ code: 5, handle: 0x12f });
    expect(reading(0x60).handle(100)).toEqual({ code: 4, handle: 101 });
    expect(reading(0x80).handle(100)).toEqual({ code: 4, handle: 99 });
    expect(reading(0xa1, 7).handle(100)).toEqual({ code: 4, handle: 107 });
    expect(reading(0xc1, 7).handle(100)).toEqual({ code: 4, handle: 93 });
  });

  it('reading past the end gives zeros and says so', () => {
    const r = reading(0xff);
    expect([r.byte(), r.byte(), r.double(), r.bit()]).toEqual([255, 0, 0, 0]);
    expect(r.overrun).toBe(true);
    expect(reading(1, 2).take(3)).toHaveLength(2);
  });

  it('what was written at any bit comes back', () => {
    const item = fc.oneof(
      fc.record({ k: fc.constant('bitShort' as const), v: fc.integer({ min: -32768, max: 32767 }) }),
      fc.record({ k: fc.constant('bitLong' as const), v: fc.integer() }),
      fc.record({ k: fc.constant('bitDouble' as const), v: fc.double({ noNaN: true, noDefaultInfinity: true }) }),
      fc.record({ k: fc.constant('modular' as const), v: fc.integer({ min: 0, max: 2 ** 31 - 1 }) }),
      fc.record({
        k: fc.constant('signedModular' as const),
        v: fc.integer({ min: -(2 ** 30), max: 2 ** 30 }).map((v) => v + 0),
      }),
      fc.record({ k: fc.constant('modularShort' as const), v: fc.integer({ min: 0, max: 2 ** 29 }) }),
      fc.record({ k: fc.constant('bitLongLong' as const), v: fc.integer({ min: 0, max: Number.MAX_SAFE_INTEGER }) }),
      fc.record({ k: fc.constant('bit' as const), v: fc.integer({ min: 0, max: 1 }) }),
    );
    fc.assert(
      fc.property(
        fc.array(item),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.double({ noNaN: true }),
        (list, a, b) => {
          const w = new BitWriter();
          for (const { k, v } of list) w[k](v);
          w.defaultDouble(a, b);
          w.put(Uint8Array.of(1, 2, 250));
          const r = new BitReader(w.written);
          for (const { k, v } of list) expect(r[k]()).toBe(v);
          expect(r.defaultDouble(b)).toBe(a);
          expect(r.take(3)).toEqual(Uint8Array.of(1, 2, 250));
          expect(r.overrun).toBe(false);
        },
      ),
    );
  });

  it('bits of two writers one after the other, and a long put over others', () => {
    const [a, b] = [new BitWriter(), new BitWriter()];
    a.bit(1);
    a.long(0);
    b.byte(0xab);
    b.bit(1);
    a.append(b);
    a.patchLong(1, 0x01020304);
    const r = new BitReader(a.written);
    expect([r.bit(), r.long(), r.byte(), r.bit()]).toEqual([1, 0x01020304, 0xab, 1]);
  });
});

describe('checksums', () => {
  const nine = bytesOf('123456789');
  it('have the known values for the digits 1 to 9', () => {
    expect(crc16(0, nine)).toBe(0xbb3d);
    expect(crc32(0, nine)).toBe(0xcbf43926);
    // Starting from 1 the sum of pages is Adler's: a = 1 + 477, b = 2334.
    expect(pageSum(1, nine)).toBe(0x091e01de);
  });
  it('go on from where they stopped', () => {
    expect(crc16(crc16(0xc0c1, nine, 0, 4), nine, 4)).toBe(crc16(0xc0c1, nine));
    // Two bytes at a time come to the same as one by one, whatever the length.
    for (let n = 0; n <= 9; n++) {
      const one = [...nine.subarray(0, n)].reduce((c, b) => crc16(c, Uint8Array.of(b)), 0xc0c1);
      expect(crc16(0xc0c1, nine, 0, n)).toBe(one);
    }
  });
});

describe('compression', () => {
  const text = (made: { bytes: Uint8Array }): string => new TextDecoder().decode(made.bytes);
  it.each([
    // A count of 1 stands for four plain bytes; 4C 00 copies three from four back.
    ['a near copy', [1, 97, 98, 99, 100, 0x4c, 0x00, 0x11], 7, 'abcdabc'],
    // Its lowest two bits say that two plain bytes follow.
    ['plain bytes after a copy', [1, 97, 98, 99, 100, 0x4e, 0x00, 120, 121, 0x11], 9, 'abcdabcxy'],
    // 22: four bytes, by an offset of two bytes, one back: the last byte four times more.
    ['a copy that overlaps itself', [1, 97, 98, 99, 100, 0x22, 0x00, 0x00, 0x11], 8, 'abcddddd'],
    // 20 and 01: 31 + 1 + 2 bytes.
    ['a long copy', [1, 97, 98, 99, 100, 0x20, 0x01, 0x00, 0x00, 0x11], 38, `abcd${'d'.repeat(34)}`],
    // 00 and 01: 15 + 1 + 3 plain bytes.
    ['a long run of plain bytes', [0, 1, ...Array.from({ length: 19 }, () => 122), 0x11], 19, 'z'.repeat(19)],
  ])('%s', (_, packed, size, plain) => {
    const made = unpack(Uint8Array.from(packed), 0, packed.length, size);
    expect(made.whole).toBe(true);
    expect(text(made)).toBe(plain);
  });

  it('a copy from before the beginning, and one beyond the size, end it', () => {
    expect(unpack(Uint8Array.of(1, 97, 98, 99, 100, 0x5c, 0x04, 0x11), 0, 8, 50).whole).toBe(false);
    expect(
      unpack(Uint8Array.of(1, 97, 98, 99, 100, 0x20, 0, 0, 0, 0, 1, 0, 0), 0, 13, 20).bytes.length,
    ).toBeLessThanOrEqual(20);
  });

  it('whatever is packed unpacks to itself', () => {
    const runs = fc.array(
      fc.oneof(
        fc.uint8Array({ minLength: 1, maxLength: 60 }),
        fc
          .tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 1, max: 900 }))
          .map(([b, n]) => new Uint8Array(n).fill(b)),
        fc.constant(bytesOf('Kestrel Row tram stop, platform edge. ')),
      ),
      { maxLength: 60 },
    );
    fc.assert(
      fc.property(runs, (list) => {
        const bytes = Uint8Array.from(list.flatMap((l) => [...l]));
        // In a hurry too; the second time with what was met in the first forgotten.
        for (const hurried of [false, true]) {
          const packed = pack(bytes, hurried);
          expect(unpack(packed, 0, packed.length, bytes.length).bytes).toEqual(bytes);
        }
        expect(pack(bytes)).toEqual(pack(bytes));
      }),
    );
    // Copies from farther back than 16384 have a form of their own.
    const far = new Uint8Array(80_000).map((_, i) => (i * 2654435761) >>> 13);
    far.set(far.subarray(0, 20_000), 40_000);
    far.set(far.subarray(0, 5_000), 30_000);
    expect(unpack(pack(far), 0, 1e6, far.length).bytes).toEqual(far);
  });
});

describe('object map', () => {
  it('two objects, by hand: sizes and checksums with their highest byte first', () => {
    const made = writeObjectMap([1, 2], [100, 120]);
    expect([...made.subarray(0, 7)]).toEqual([0, 7, 1, 0xe4, 0x00, 1, 0x14]);
    expect((made[7]! << 8) | made[8]!).toBe(crc16(0xc0c1, made, 0, 7));
    expect([...made.subarray(9, 11)]).toEqual([0, 2]);
    const map = ObjectMap.read(made);
    expect([map.offsetOf(1), map.offsetOf(2), map.offsetOf(3)]).toEqual([100, 120, -1]);
    expect([map.badPieces, map.truncated]).toEqual([0, false]);
  });
  it('thousands of objects come back; a wrong byte is told of', () => {
    const handles = Array.from({ length: 5000 }, (_, i) => 3 * i + 1);
    const offsets = handles.map((h, i) => (i % 2 ? 7 * h : 1_000_000 - h));
    const made = writeObjectMap(handles, offsets);
    const map = ObjectMap.read(made);
    expect(handles.map((h) => map.offsetOf(h))).toEqual(offsets);
    made[100]! ^= 4;
    expect(ObjectMap.read(made).badPieces).toBe(1);
    expect(ObjectMap.read(made.subarray(0, 3000)).truncated).toBe(true);
  });
});
