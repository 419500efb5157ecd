import { describe, expect, it } from 'vitest';
import { UnreadableFile, readDrawing } from '../../src/index.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { WRITABLE_DWG } from '../../src/formats/dwg/versions.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { bytesOf, demoFile, fonts } from '../helpers.js';

const NAME = 'kestrel-row-section.dxf';
const source = readDrawing(demoFile(NAME), NAME).drawing;
const write = (version: string): Uint8Array => writeDwg(source, { unit: 'mm', version, fonts: fonts() }).bytes;
const texts = (bytes: Uint8Array): string =>
  readDwg(bytes)
    .drawing.notes.map((n) => n.text)
    .join('; ');

describe('damaged DWG files', () => {
  it('a wrong byte in an object is told of, and the others are read', () => {
    const bytes = write('2000');
    // Somewhere in the middle of the objects, which lie between the classes and their map.
    const list = new DataView(bytes.buffer, bytes.byteOffset);
    const part = (n: number): [number, number] => [
      list.getUint32(0x1a + 9 * n, true),
      list.getUint32(0x1e + 9 * n, true),
    ];
    const [from, to] = [part(1)[0] + part(1)[1], part(2)[0]];
    bytes[Math.floor((from + to) / 2)]! ^= 0x10;
    const { drawing } = readDwg(bytes);
    expect(drawing.notes.map((n) => n.text).join()).toMatch(/checksum is wrong|end before their fields/);
    expect(drawing.entities.length).toBeGreaterThan(source.entities.length - 3);
  });

  it('a wrong byte in a page is told of', () => {
    const bytes = write('2010');
    // The pages of data lie between the picture and the maps.
    bytes[bytes.length - 0x800]! ^= 0xff;
    try {
      expect(texts(bytes)).toMatch(/checksum|ends early/);
    } catch (e) {
      expect(e).toBeInstanceOf(UnreadableFile);
    }
  });

  it.each(Object.keys(WRITABLE_DWG))(
    'version %s cut anywhere is read as far as it goes, or refused with words',
    (v) => {
      const bytes = write(v);
      let read = 0;
      const ends = Array.from({ length: 39 }, (_, k) => Math.floor((bytes.length * (k + 1)) / 40));
      for (const end of [...ends, bytes.length - 300, bytes.length - 60, bytes.length - 2]) {
        try {
          const { drawing } = readDwg(bytes.subarray(0, end));
          read++;
          // From 2004 on a copy of the header stands last, which nobody needs.
          if (v === '2000' || end < bytes.length - 108) expect(drawing.notes.length).toBeGreaterThan(0);
        } catch (e) {
          expect(e).toBeInstanceOf(UnreadableFile);
          expect((e as UnreadableFile).remedy).not.toBe('');
        }
      }
      // The list of objects stands near the end of a file of version 2000; little can be missing behind it.
      if (v === '2000') expect(read).toBeGreaterThan(0);
    },
  );

  it('versions that are not known are named', () => {
    for (const letters of ['AC1009', 'AC1035', 'AC1002'])
      expect(() => readDwg(bytesOf(`${letters}${'\0'.repeat(500)}`))).toThrow(letters);
  });

  it('a count that no file could hold asks for no memory', () => {
    const bytes = write('2000');
    const before = process.memoryUsage().arrayBuffers;
    // Every object in turn says that it is as large as can be.
    for (let at = 200; at + 2 < bytes.length; at += 37) {
      const hurt = bytes.slice();
      hurt[at] = 0xff;
      hurt[at + 1] = 0x7f;
      try {
        readDwg(hurt);
      } catch (e) {
        expect(e).toBeInstanceOf(UnreadableFile);
      }
    }
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(400e6);
  });
});
