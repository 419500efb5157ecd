import { describe, expect, it } from 'vitest';
import {
  NO_DECISIONS,
  UnreadableFile,
  buildScene,
  claimsOf,
  formatById,
  previewSvg,
  readDrawing,
  runChecks,
  takeIn,
} from '../src/index.js';
import { often, timed } from './depth.js';
import { DEMO, demoFile, fonts } from './helpers.js';

/** Park and Miller's generator: the same damage in every run. */
function generator(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

const LINE_END = 10;

/** A copy with a few bytes changed, a piece cut out, doubled, or lines swapped with each other. */
function damaged(source: Uint8Array, random: () => number): Uint8Array {
  const at = (): number => Math.floor(random() * source.length);
  const [a, b] = [at(), at()].sort((p, q) => p - q) as [number, number];
  const piece = source.subarray(a, Math.min(b, a + 400));
  switch (Math.floor(random() * 7)) {
    case 0: {
      const copy = source.slice();
      for (let i = 0; i < 12; i++) copy[at()] = Math.floor(random() * 256);
      return copy;
    }
    case 1:
      return source.slice(0, a);
    case 2:
      return Uint8Array.of(...source.subarray(0, a), ...source.subarray(a + piece.length));
    case 3:
      return Uint8Array.of(...source.subarray(0, a), ...piece, ...piece, ...source.subarray(a));
    case 4: {
      // Digits become other digits: numbers that are huge, codes that mean something else.
      const copy = source.slice();
      for (let i = 0; i < 40; i++) {
        const k = at();
        if (copy[k]! >= 48 && copy[k]! <= 57) copy[k] = 48 + Math.floor(random() * 10);
      }
      return copy;
    }
    case 5: {
      // A line goes somewhere else: codes and values fall out of step.
      const from = source.indexOf(LINE_END, a) + 1;
      const to = source.indexOf(LINE_END, from) + 1;
      const where = source.indexOf(LINE_END, b) + 1;
      if (from === 0 || to === 0 || where < to) return source.slice(0, b);
      return Uint8Array.of(
        ...source.subarray(0, from),
        ...source.subarray(to, where),
        ...source.subarray(from, to),
        ...source.subarray(where),
      );
    }
    default: {
      // Numbers that are none.
      const words = ['1.#INF', '-nan', '1,5', '', '1e999', '99999999999999999999', '-32768'];
      const word = new TextEncoder().encode(words[Math.floor(random() * words.length)]!);
      const from = source.indexOf(LINE_END, a) + 1;
      const to = source.indexOf(LINE_END, from);
      if (from === 0 || to < 0) return source.slice(0, a);
      return Uint8Array.of(...source.subarray(0, from), ...word, ...source.subarray(to));
    }
  }
}

/** 8,000 damaged files in all at full depth. */
const ROUNDS = often(1200);

const dxf = formatById('dxf')!;
const section = (version: string, binary: boolean): Uint8Array =>
  dxf.write(readDrawing(demoFile('kestrel-row-section.dxf'), 'a.dxf').drawing, {
    version,
    unit: 'mm',
    binary,
    fonts: fonts(),
  }).bytes;
const FILES: [string, () => Uint8Array][] = [
  ...DEMO.map((name): [string, () => Uint8Array] => [name, () => Uint8Array.from(demoFile(name))]),
  ['binary.dxf', () => section('2018', true)],
  ['release-12.dxf', () => section('R12', false)],
];

describe('damaged files', () => {
  it.each(FILES)(
    '%s: read, shown, checked, written or refused with words; nothing else',
    (name, make) => {
      const source = make();
      const random = generator(name.length * 7919);
      let read = 0;
      let slowest = 0;
      const before = process.memoryUsage().rss;
      for (let i = 0; i < ROUNDS; i++) {
        const bytes = damaged(source, random);
        try {
          const { made, ms } = timed(() => readDrawing(bytes, name));
          slowest = Math.max(slowest, ms);
          const { drawing } = made;
          read++;
          if (i % 10 !== 0) continue;
          const { drawing: taken } = takeIn(drawing, NO_DECISIONS);
          claimsOf(drawing);
          previewSvg(taken);
          runChecks(taken);
          if (i % 40 === 0) {
            buildScene(taken, fonts());
            for (const s of taken.sheets) buildScene(taken, fonts(), { sheet: s.name });
          }
          if (i % 80 === 0) dxf.write(drawing, { version: '2013', unit: 'mm', fonts: fonts() });
        } catch (e) {
          if (!(e instanceof UnreadableFile)) throw new Error(`round ${i}`, { cause: e });
        }
      }
      // Most damage leaves something to be read, none of it takes long or holds on to memory.
      expect(read).toBeGreaterThan(ROUNDS / 3);
      expect(slowest).toBeLessThan(5000);
      expect(process.memoryUsage().rss - before).toBeLessThan(1.5e9);
    },
    600_000,
  );
});
