import { describe, expect, it } from 'vitest';
import {
  NO_DECISIONS,
  UnreadableFile,
  buildScene,
  claimsOf,
  previewSvg,
  readDrawing,
  runChecks,
  takeIn,
} from '../src/index.js';
import { DEMO, demoFile, fonts } from './helpers.js';

/** Park and Miller's generator: the same damage in every run. */
function generator(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

/** A copy with a few bytes changed, a piece cut out, doubled, or swapped with another. */
function damaged(source: Uint8Array, random: () => number): Uint8Array {
  const at = (): number => Math.floor(random() * source.length);
  const [a, b] = [at(), at()].sort((p, q) => p - q) as [number, number];
  const piece = source.subarray(a, Math.min(b, a + 400));
  switch (Math.floor(random() * 5)) {
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
    default: {
      // Digits become other digits: numbers that are huge, codes that mean something else.
      const copy = source.slice();
      for (let i = 0; i < 40; i++) {
        const k = at();
        if (copy[k]! >= 48 && copy[k]! <= 57) copy[k] = 48 + Math.floor(random() * 10);
      }
      return copy;
    }
  }
}

const ROUNDS = Number(process.env['FUZZ_ROUNDS'] ?? 250);

describe('damaged files', () => {
  it.each(DEMO)('%s: read, shown, checked or refused with words; nothing else', (name) => {
    const source = Uint8Array.from(demoFile(name));
    const random = generator(name.length * 7919);
    let read = 0;
    for (let i = 0; i < ROUNDS; i++) {
      const bytes = damaged(source, random);
      try {
        const { drawing } = readDrawing(bytes, name);
        read++;
        const { drawing: taken } = takeIn(drawing, NO_DECISIONS);
        claimsOf(drawing);
        previewSvg(taken);
        runChecks(taken);
        if (i % 10 === 0) buildScene(taken, fonts());
      } catch (e) {
        if (!(e instanceof UnreadableFile)) throw new Error(`round ${i}`, { cause: e });
      }
    }
    // Most damage leaves something to be read.
    expect(read).toBeGreaterThan(ROUNDS / 2);
  });
});
