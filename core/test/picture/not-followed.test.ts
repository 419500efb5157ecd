import { describe, expect, it } from 'vitest';
import { pictureHead, readDrawing } from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { JpegWriter } from '../../src/formats/picture/write-jpeg.js';
import { ascii, joined, segmented } from './exif.js';

const codes = (bytes: Uint8Array) => readDrawing(bytes, 'a').ledger.map((r) => r.code);

const plain = (): Uint8Array => {
  const out = new JpegWriter(8, 8, 90, 72);
  out.rows(new Uint8Array(3 * 64).fill(90));
  return out.finish();
};
/** A segment put behind the first mark of a JPEG. */
const withSegment = (mark: number, content: number[]): Uint8Array => segmented(plain(), mark, content);

/** A PNG with a chunk put behind its head; nobody looks at the sum of one that is not read. */
const withChunk = (kind: string, content: number[]): Uint8Array => {
  const png = packedPng({ width: 2, height: 2, channels: 3, data: new Uint8Array(12) }, 72);
  const size = [0, 0, content.length >> 8, content.length & 255];
  return joined(png.subarray(0, 33), size, ascii(kind), content, [0, 0, 0, 0], png.subarray(33));
};

describe('what a picture says and is not followed is told', () => {
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
});
