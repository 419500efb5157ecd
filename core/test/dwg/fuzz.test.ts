import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  NO_DECISIONS,
  UnreadableFile,
  buildScene,
  claimsOf,
  previewSvg,
  readDrawing,
  runChecks,
  takeIn,
} from '../../src/index.js';
import type { Reading } from '../../src/index.js';
import { often, timed } from '../depth.js';
import { BitReader } from '../../src/formats/dwg/bit-reader.js';
import type { Container } from '../../src/formats/dwg/container.js';
import { open2000 } from '../../src/formats/dwg/container-2000.js';
import { open2004 } from '../../src/formats/dwg/container-2004.js';
import { ObjectMap } from '../../src/formats/dwg/object-map.js';
import { readContainer, readDwg } from '../../src/formats/dwg/read.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { dressed, generatedDrawing } from '../generated.js';
import { demoFile, fonts } from '../helpers.js';

/** Park and Miller's generator: the same damage in every run. */
function generator(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

const EXTREMES = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff];

/** A copy with bytes or whole numbers changed, or a piece cut off, cut out or doubled. */
function damaged(source: Uint8Array, random: () => number): Uint8Array {
  const at = (): number => Math.floor(random() * source.length);
  const [a, b] = [at(), at()].sort((p, q) => p - q) as [number, number];
  const piece = source.subarray(a, Math.min(b, a + 200));
  const copy = source.slice();
  switch (Math.floor(random() * 6)) {
    case 0:
      copy[a] = Math.floor(random() * 256);
      return copy;
    case 1:
      for (let i = 0; i < 12; i++) copy[at()] = Math.floor(random() * 256);
      return copy;
    case 2:
      return source.slice(0, a);
    case 3:
      return Uint8Array.of(...source.subarray(0, a), ...source.subarray(a + piece.length));
    case 4:
      return Uint8Array.of(...source.subarray(0, a), ...piece, ...piece, ...source.subarray(a));
    default: {
      const view = new DataView(copy.buffer);
      for (let i = 0; i < 3; i++) {
        const k = at();
        if (k + 4 <= copy.length) view.setUint32(k, EXTREMES[Math.floor(random() * EXTREMES.length)]!, true);
      }
      return copy;
    }
  }
}

const section = readDrawing(demoFile('kestrel-row-section.dxf'), 'a.dxf').drawing;
const everything = generatedDrawing(fc.sample(dressed, { seed: 3, numRuns: 40 }));
const write = (d: typeof section, version: string): Uint8Array =>
  writeDwg(d, { unit: 'mm', version, fonts: fonts() }).bytes;

/** Damage to the file as it lies on a disk, and to what its pages hold once they are unpacked. */
const inner = (version: string): ((random: () => number) => Reading) => {
  const bytes = write(everything, version);
  const letters = String.fromCharCode(...bytes.subarray(0, 6));
  return (random) => {
    const file = open2004(bytes, letters)!;
    const which = Math.floor(random() * 6);
    if (which === 0) file.map = damaged(file.map!, random);
    else if (which === 1) file.header = damaged(file.header!, random);
    else if (which === 2) file.classes = damaged(file.classes!, random);
    else file.objects = damaged(file.objects, random);
    return readContainer(file);
  };
};
const outer = (d: typeof section, version: string): ((random: () => number) => Reading) => {
  const bytes = write(d, version);
  return (random) => readDwg(damaged(bytes, random));
};

/**
 * References that lead astray: some of those that objects make of one another (owner, next, block, layer, end mark and so
 * on) are changed to any other object of the file, the object itself among them, so that owners and chains go round.
 */
const astray = (version: string): ((random: () => number) => Reading) => {
  const lead = leading(version);
  return (random) => {
    const share = random() ** 2;
    return lead(({ same, to }) => (random() > share ? to : same[Math.floor(random() * same.length)]!));
  };
};

/** Reads a file whose every reference leads where `where` says. */
function leading(version: string): (where: (r: Reference) => number) => Reading {
  const bytes = write(everything, version);
  const letters = String.fromCharCode(...bytes.subarray(0, 6));
  const open = (): Container =>
    version < '2004' || version === 'R14' ? open2000(bytes, letters) : open2004(bytes, letters)!;
  const references = referencesIn(open());
  return (where) => {
    const file = open();
    const objects = file.objects.slice();
    for (const r of references) {
      const other = where(r);
      for (let k = 0; k < 8 * r.bytes; k++) {
        const mask = 128 >> ((r.at + k) & 7);
        if ((other >> (8 * r.bytes - 1 - k)) & 1) objects[(r.at + k) >> 3]! |= mask;
        else objects[(r.at + k) >> 3]! &= ~mask;
      }
    }
    return readContainer({ ...file, objects });
  };
}

/** A reference: its first bit and its bytes, the object it stands in, where it leads, and what else it could lead to. */
interface Reference {
  at: number;
  bytes: number;
  from: number;
  to: number;
  same: number[];
}

/** All absolute references of a file. */
function referencesIn(file: Container): Reference[] {
  const map = ObjectMap.read(file.map!);
  const width = (h: number): number => (h < 0x100 ? 1 : h < 0x10000 ? 2 : 3);
  const bySize = new Map<number, number[]>();
  for (const h of map.handles) bySize.set(width(h), [...(bySize.get(width(h)) ?? []), h]);
  const out: Reference[] = [];
  for (const handle of map.handles) {
    const r = new BitReader(file.objects);
    r.reset(map.offsetOf(handle) * 8, file.objects.length * 8);
    const size = r.modularShort();
    const handleBits = file.v >= 2010 ? r.modular() : 0;
    const start = r.at;
    const end = start + size * 8;
    if (file.v < 2010) r.bitShort();
    const from = file.v >= 2010 ? end - handleBits : start + r.long();
    r.reset(from, end);
    while (r.left >= 16) {
      const at = r.at + 8;
      const { handle: to, code } = r.handle();
      const n = (r.at - at) / 8;
      if (to > 0 && code < 6 && n === width(to)) out.push({ at, bytes: n, from: handle, to, same: bySize.get(n)! });
    }
  }
  return out;
}

const CASES: [string, number, () => (random: () => number) => Reading][] = [
  ['version 2000, a section', 1500, () => outer(section, '2000')],
  ['version 2000, every kind', 2500, () => outer(everything, '2000')],
  ['version R14', 800, () => outer(everything, 'R14')],
  ['version 2004', 800, () => outer(everything, '2004')],
  ['version 2018', 800, () => outer(everything, '2018')],
  ['version 2004, unpacked', 1200, () => inner('2004')],
  ['version 2010, unpacked', 1200, () => inner('2010')],
  ['version 2018, unpacked', 1200, () => inner('2018')],
  ['version 2000, references astray', 1000, () => astray('2000')],
  ['version 2010, references astray', 1000, () => astray('2010')],
];

describe('damaged DWG files', () => {
  it.each(CASES)(
    '%s: read, shown, checked, written or refused with words; nothing else',
    (name, rounds, make) => {
      const one = make();
      const random = generator(name.length * 7919 + rounds);
      const times = often(0.5 * rounds);
      let read = 0;
      let slowest = 0;
      const before = process.memoryUsage().rss;
      for (let i = 0; i < times; i++) {
        try {
          const { made, ms } = timed(() => one(random));
          slowest = Math.max(slowest, ms);
          const { drawing } = made;
          read++;
          if (i % 50 !== 0) continue;
          const { drawing: taken } = takeIn(drawing, NO_DECISIONS);
          claimsOf(drawing);
          previewSvg(taken);
          runChecks(taken);
          buildScene(taken, fonts());
          writeDxf(drawing, { version: '2013', unit: 'mm', fonts: fonts() });
          writeDwg(drawing, { version: '2013', unit: 'mm', fonts: fonts() });
        } catch (e) {
          if (!(e instanceof UnreadableFile)) throw new Error(`round ${i}`, { cause: e });
        }
      }
      expect(read).toBeGreaterThan(times / 4);
      expect(slowest).toBeLessThan(5000);
      expect(process.memoryUsage().rss - before).toBeLessThan(1.5e9);
    },
    600_000,
  );
});

describe.each(['2000', '2004', '2010'])('owners that go round, version %s', (version) => {
  const lead = leading(version);
  it('nothing but its own references stand in the way of a sound file', () => {
    expect(lead((r) => r.to).drawing.entities.length).toBe(everything.entities.length);
  });
  it('objects that own, follow and contain themselves are read once', () => {
    const { drawing } = lead((r) => (r.same.includes(r.from) ? r.from : r.to));
    expect(drawing.entities.length).toBeLessThanOrEqual(everything.entities.length);
    const keys = drawing.entities.map((e) => e.key);
    expect(new Set(keys).size).toBe(keys.length);
  });
  it('a ring through every object comes to an end', () => {
    // Each object refers to the one with the next handle, the last to the first.
    const { drawing } = lead((r) => r.same[(r.same.indexOf(r.from) + 1) % r.same.length]!);
    expect(drawing.entities.length).toBeLessThanOrEqual(everything.entities.length);
    buildScene(drawing, fonts());
    writeDwg(drawing, { version: '2010', unit: 'mm', fonts: fonts() });
  });
});
