import { describe, expect, it } from 'vitest';
import type { Image } from '../../src/index.js';
import { NO_DECISIONS, boundsOf, deliver, prepare, proveDelivery, readDrawing, targetFor } from '../../src/index.js';
import { bytesOf, fonts, risks, svg } from '../helpers.js';
import { renderer } from '../witness/renderer.js';

/** 4 × 2 pixels in 4 and 2 shades. */
const PICTURE =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAQAAAACCAIAAADwyuo0AAAAGUlEQVR4nGNgYEhhYAgA4wYGhhQGhgoQBgA1jwRlQj0K1wAAAABJRU5ErkJggg==';
const picture = (more: string): string => `<image x="30" y="10" width="20" height="60" href="${PICTURE}" ${more}/>`;
const SLICED = 'preserveAspectRatio="xMidYMid slice"';

/** What is not as it was in SVG, in the eyes of the renderer and of the proof. */
async function departures(bytes: Uint8Array): Promise<string[]> {
  const source = readDrawing(bytes, 'a.svg');
  const prepared = prepare(source.drawing, NO_DECISIONS, []);
  const made = deliver(prepared.drawing, targetFor('svg', { unit: 'mm' }), 'a', fonts());
  const witness = { renderer: await renderer(), source: bytes };
  const proof = proveDelivery(source, prepared, made, made.bytes, fonts(), { witness });
  const seen = proof.items.filter((i) => i.id.startsWith('seen-') && i.state !== 'kept');
  return [...risks(proof), ...seen.map((i) => `${i.id} ${i.state}: ${i.found}`)];
}
const imageOf = (bytes: Uint8Array): Image => {
  const { drawing } = prepare(readDrawing(bytes, 'a.svg').drawing, NO_DECISIONS, []);
  return drawing.entities.find((e): e is Image => e.kind === 'image')!;
};

describe('pictures', () => {
  it('that fill their place are cut off where they reach over it', async () => {
    const bytes = svg(picture(SLICED));
    // 60 high, so 30 to a pixel; of 120 across 20 are seen: two thirds of a pixel about the middle.
    const clip = [...imageOf(bytes).clip!];
    [2 - 1 / 3 - 0.5, -0.5, 2 + 1 / 3 - 0.5, 1.5].forEach((v, i) => expect(clip[i]).toBeCloseTo(v, 9));
    const box = boundsOf(prepare(readDrawing(bytes, 'a.svg').drawing, NO_DECISIONS, []).drawing);
    expect([box.minX, box.maxX, box.height].map((v) => Number(v.toFixed(9)))).toEqual([30, 50, 60]);
    expect(await departures(bytes)).toEqual([]);
  });
  it.each([
    ['upright', picture(SLICED)],
    ['turned', `<g transform="rotate(20 50 50)">${picture(SLICED)}</g>`],
    [
      'clipped by a triangle',
      `<clipPath id="c"><path d="M30 10h20v40z"/></clipPath><g clip-path="url(#c)">${picture('preserveAspectRatio="none"')}</g>`,
    ],
    [
      'clipped by a circle, turned',
      `<clipPath id="c"><circle cx="40" cy="40" r="15"/></clipPath><g transform="rotate(20 50 50)" clip-path="url(#c)">${picture('preserveAspectRatio="none"')}</g>`,
    ],
    ['mirrored', `<g transform="matrix(-1 0 0 1 100 0)">${picture(SLICED)}</g>`],
  ])('look as they did: %s', async (_, body) => {
    expect(await departures(svg(body))).toEqual([]);
  });
  it('that a clip leaves in pieces are whole, which is said; those beside it are gone', () => {
    const clipped = (shape: string) =>
      prepare(
        readDrawing(svg(`<clipPath id="c">${shape}</clipPath><g clip-path="url(#c)">${picture(SLICED)}</g>`), 'a.svg')
          .drawing,
        NO_DECISIONS,
        [],
      );
    const pieces = clipped('<rect x="20" y="30" width="40" height="5"/><rect x="20" y="45" width="40" height="5"/>');
    expect(pieces.ledger.map((r) => r.code)).toContain('picture-kept-whole-at-clip');
    expect(clipped('<rect x="60" y="10" width="9" height="9"/>').drawing.entities).toEqual([]);
  });
});

describe('what is used', () => {
  it.each([
    [
      'an svg of the size that its use states',
      '<svg id="s" width="50" height="50" viewBox="0 0 10 10"><rect width="10" height="10" fill="#c00"/></svg><use href="#s" x="60" y="60" width="20" height="20"/>',
    ],
    [
      'an svg of its own size',
      '<svg id="s" width="30" height="30" viewBox="0 0 10 10"><rect width="10" height="10" fill="#c00"/></svg><use href="#s" x="60" y="60"/>',
    ],
  ])('%s', async (_, body) => {
    expect(await departures(svg(body))).toEqual([]);
  });
});

it('the size of a use is that of what it uses, not of what lies within', () => {
  const body =
    '<svg id="s" viewBox="0 0 10 10"><svg width="5" height="5"><rect width="9" height="9"/></svg></svg><use href="#s" x="60" y="60" width="20" height="20"/>';
  const { drawing } = prepare(readDrawing(svg(body), 'a.svg').drawing, NO_DECISIONS, []);
  const box = boundsOf({ ...drawing, entities: drawing.entities.slice(1) });
  // A tenth of 20 to a unit, 5 units wide, cut off there.
  expect([box.minX, box.maxX, -box.maxY, -box.minY].map((v) => Number(v.toFixed(9)))).toEqual([60, 70, 60, 70]);
});

describe('translate, rotate and scale as properties come before transform', () => {
  const boxOf = (style: string): number[] => {
    const box = boundsOf(
      readDrawing(
        bytesOf(
          `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100"><rect width="30" height="20" style="${style}"/></svg>`,
        ),
        'a.svg',
      ).drawing,
    );
    return [box.minX, box.minY, box.maxX, box.maxY].map((v) => Number(v.toFixed(9)));
  };
  // By hand, y downwards as the page counts.
  it.each([
    ['translate: 20px 5px', [20, 5, 50, 25]],
    ['translate: 10%', [10, 0, 40, 20]],
    ['rotate: 90deg', [-20, 0, 0, 30]],
    ['rotate: 0.25turn', [-20, 0, 0, 30]],
    ['scale: 2', [0, 0, 60, 40]],
    ['scale: 150% 1', [0, 0, 45, 20]],
    ['transform: scale(150%)', [0, 0, 45, 30]],
    ['scale: 2; translate: 5px; transform: translate(10px, 0)', [25, 0, 85, 40]],
    ['translate: none; rotate: none; scale: none', [0, 0, 30, 20]],
  ])('%s', (style, want) => {
    expect(boxOf(style)).toEqual(want);
  });
  it('are no attributes: letters that are turned one by one are not turned together', () => {
    const turned = readDrawing(svg('<text x="10" y="50" rotate="90">ab</text>'), 'a.svg').drawing.entities[0]!;
    expect(turned.kind === 'text' && turned.rotation).toBeCloseTo(0, 9);
  });
});
