import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, deliver, prepare, readSource, targetFor } from '../../src/index.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { fonts } from '../helpers.js';
import { hasPoppler, laidOver, rasterOf } from '../poppler.js';

/** A page that a browser printed: text in two embedded fonts, art turned by four degrees and seen through, dashes, a gradient cut to round corners. */
const printed = (): Uint8Array => readFileSync(fileURLToPath(new URL('../files/printed.pdf', import.meta.url)));

describe('a page that a program of another kind made', () => {
  it('says its size, its words line by line, and in which fonts', async () => {
    const { drawing } = await readSource(printed(), 'printed.pdf');
    const mm = (v: number): number => v * drawing.unit!.factor * 25.4;
    expect([mm(drawing.page!.width), mm(drawing.page!.height)]).toEqual([
      expect.closeTo(210, 0),
      expect.closeTo(148, 0),
    ]);
    const texts = drawing.entities.flatMap((e) => (e.kind === 'text' ? [e] : []));
    expect(texts.map((t) => t.text)).toEqual([
      'Kestrel Row, 12 °C',
      'Trams towards the harbour every 8',
      'minutes; the last leaves at 23:40. Tickets',
      'are sold on board, and at the kiosk beside',
      'platform 2.',
    ]);
    expect(texts.map((t) => [t.font!.family, t.font!.weight])).toEqual([
      ['Liberation Sans', 700],
      ...Array.from({ length: 4 }, () => ['Liberation Serif', 400]),
    ]);
    // 9 mm and 4 mm high, as was said in the style of the page.
    expect(texts.map((t) => mm(t.size))).toEqual([9, 4, 4, 4, 4].map((v) => expect.closeTo(v, 1)));
  });
  it.skipIf(!hasPoppler('nobody holds what was read against the page'))(
    'is drawn as poppler draws it: less than 0.5 % of the pixels at 150 to the inch differ by more than half',
    async () => {
      const { drawing } = await readSource(printed(), 'printed.pdf', { letters: 'outlines' });
      const again = deliver(
        prepare(drawing, NO_DECISIONS, []).drawing,
        targetFor('pdf', { margin: 0 }),
        'again',
        fonts(),
      );
      const [a, b] = [rasterOf(printed(), 150), rasterOf(again.bytes, 150)];
      // The second page is as large as what is drawn on the first, and is laid over where it lies there.
      const box = boundsOf(prepare(drawing, NO_DECISIONS, []).drawing);
      const px = (v: number): number => v * 150;
      const [dx, dy] = [Math.round(px(box.minX)), Math.round(px(drawing.page!.height / 72 - box.maxY))];
      const { differs, inked } = laidOver(a, b, dx, dy);
      expect(inked).toBeGreaterThan(100_000);
      expect(differs / (a.width * a.height)).toBeLessThan(0.005);
    },
  );
});
