import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { readSource, scaleEvidence } from '../../src/index.js';
import { demoFile, drawingOf } from '../helpers.js';

/** Lines of lengths (in mm of what is shown) as a page shows them, with texts beside them. */
const page = (scale: number, lengths: readonly number[], texts: readonly string[] = []): Drawing =>
  drawingOf([
    ...lengths.map((l, i) => ({ kind: 'line', start: [0, i, 0], end: [l / scale, i, 0] }) as never),
    ...texts.map(
      (text) =>
        ({
          ...{
            kind: 'text',
            text,
            at: [0, 0, 0],
            size: 2.5,
            sizeOf: 'capital',
            rotation: 0,
            widthFactor: 1,
            oblique: 0,
          },
          ...{ horizontal: 'left', vertical: 'baseline' },
        }) as never,
    ),
  ]);
const ODD = [1234.5, 871.3, 2077.7, 3391.1, 655.9, 1717.3, 4003.9, 981.7, 1531.1];

describe('what is evidence for the scale of a page', () => {
  it('a scale that is written on it, in whatever form', () => {
    for (const text of ['1:50', 'Plan, scale 1 : 50', 'M 1:50'])
      expect(scaleEvidence(page(50, ODD, [text]))[0]!.scale, text).toBe(50);
  });
  it('a time of day, a ratio of something else and a longer number are none', () => {
    expect(scaleEvidence(page(50, ODD, ['11:50', '1:50:00', 'mix 1:50.5', '21 : 50']))).toEqual([]);
  });
  it('numbers beside lines that are so long, in mm or in m', () => {
    expect(scaleEvidence(page(50, ODD, ['1234.5', '871.3', '2077.7']))[0]!.scale).toBe(50);
    const [best] = scaleEvidence(page(200, [12_340, 8710, 20_770], ['12.34', '8.71', '20,77']));
    expect(best).toMatchObject({ scale: 200, reasons: [expect.stringContaining('3 numbers on it are lengths in m')] });
  });
  it('lengths that come out round bear out a scale that is written, and say nothing alone', () => {
    const plan = [2400, 3650, 1200, 5150, 850, 900, 2350, 1750, 4050, 600];
    expect(scaleEvidence(page(50, plan))).toEqual([]);
    const [best, other] = scaleEvidence(page(50, plan, ['detail 1:20', '1:50']));
    expect([best!.scale, other!.scale]).toEqual([50, 20]);
    expect(best!.reasons[1]).toBe('10 of 10 lengths are multiples of 50 mm');
  });
  it('nothing in a drawing whose lengths are of no scale, and in one without a size', () => {
    expect(scaleEvidence(page(1, [17.31, 23.77, 91.13, 47.29, 5.711, 33.373, 61.57, 77.71, 13.13]))).toEqual([]);
    expect(scaleEvidence({ ...page(50, ODD, ['1:50']), unit: null })).toEqual([]);
  });
  it('the map of the leaflet: 1 : 500, by its word, its numbers and its lengths', async () => {
    const { drawing } = await readSource(demoFile('kestrel-row-leaflet.pdf'), 'leaflet.pdf', { page: 2 });
    const [best, next] = scaleEvidence(drawing);
    expect(best!.scale).toBe(500);
    expect(best!.reasons).toEqual([
      '“1 : 500” is written on it',
      '2 numbers on it are lengths in m, such as 30',
      expect.stringMatching(/^\d+ of \d+ lengths are multiples of 500 mm$/),
    ]);
    expect(best!.score - (next?.score ?? 0)).toBeGreaterThan(2);
  });
});
