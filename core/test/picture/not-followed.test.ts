import { describe, expect, it } from 'vitest';
import { pictureHead, readDrawing } from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { JpegWriter } from '../../src/formats/picture/write-jpeg.js';

const codes = (bytes: Uint8Array) => readDrawing(bytes, 'a').ledger.map((r) => r.code);
const ascii = (text: string): number[] => [...text].map((c) => c.charCodeAt(0));
const joined = (...parts: (ArrayLike<number> | number[])[]): Uint8Array =>
  Uint8Array.from(parts.flatMap((p) => Array.from(p)));

const plain = (): Uint8Array => {
  const out = new JpegWriter(8, 8, 90, 72);
  out.rows(new Uint8Array(3 * 64).fill(90));
  return out.finish();
};
/** A segment put behind the first mark of a JPEG. */
const withSegment = (mark: number, content: number[]): Uint8Array => {
  const jpeg = plain();
  const size = content.length + 2;
  return joined(jpeg.subarray(0, 2), [0xff, mark, size >> 8, size & 255], content, jpeg.subarray(2));
};
/** Exif with one entry, the orientation, in either order of bytes. */
const exif = (orientation: number, little: boolean): number[] => {
  const n = (v: number, bytes: number): number[] => {
    const big = Array.from({ length: bytes }, (_, i) => (v >> (8 * (bytes - 1 - i))) & 255);
    return little ? big.reverse() : big;
  };
  return [
    ...ascii('Exif\0\0'),
    ...ascii(little ? 'II' : 'MM'),
    ...n(42, 2),
    ...n(8, 4),
    ...n(1, 2),
    ...[...n(0x0112, 2), ...n(3, 2), ...n(1, 4), ...n(orientation, 2), 0, 0],
    ...n(0, 4),
  ];
};

/** A PNG with a chunk put behind its head; nobody looks at the sum of one that is not read. */
const withChunk = (kind: string, content: number[]): Uint8Array => {
  const png = packedPng({ width: 2, height: 2, channels: 3, data: new Uint8Array(12) }, 72);
  const size = [0, 0, content.length >> 8, content.length & 255];
  return joined(png.subarray(0, 33), size, ascii(kind), content, [0, 0, 0, 0], png.subarray(33));
};

describe('what a picture says and is not followed is told', () => {
  it('a photo that is to be shown turned, whatever the order of its bytes', () => {
    for (const little of [true, false]) {
      expect(codes(withSegment(0xe1, exif(6, little)))).toEqual(['picture-turning-not-followed']);
      expect(codes(withSegment(0xe1, exif(1, little)))).toEqual([]);
    }
    expect(codes(plain())).toEqual([]);
  });
  it('a profile of colours, but for the one that all colours are taken by', () => {
    const profile = (words: string): number[] => [...ascii('ICC_PROFILE\0'), 1, 1, ...ascii(words)];
    expect(codes(withSegment(0xe2, profile('wide gamut')))).toEqual(['picture-profile-not-followed']);
    expect(codes(withSegment(0xe2, profile('sRGB IEC61966-2.1')))).toEqual([]);
    expect(codes(withSegment(0xe2, profile('s\0R\0G\0B\0')))).toEqual([]);
    expect(codes(withChunk('iCCP', ascii('wide\0\0x')))).toEqual(['picture-profile-not-followed']);
    expect(codes(withChunk('iCCP', ascii('sRGB\0\0x')))).toEqual([]);
  });
  it('sixteen bits to a sample', () => {
    const png = packedPng({ width: 2, height: 2, channels: 3, data: new Uint8Array(12) }, 72);
    png[24] = 16;
    expect(pictureHead(png)!.notFollowed).toEqual(['bits']);
    expect(codes(png)).toEqual(['picture-of-16-bits']);
  });
  it('Exif that breaks off, or leads out of its segment, says nothing', () => {
    const whole = exif(6, true);
    for (let n = 6; n < whole.length - 4; n++) expect(codes(withSegment(0xe1, whole.slice(0, n)))).toEqual([]);
    const astray = exif(6, true);
    astray[13] = 0xff;
    expect(codes(withSegment(0xe1, astray))).toEqual([]);
  });
});
