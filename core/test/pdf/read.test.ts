import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { NO_DECISIONS, UnreadableFile, plannedStep, prepare, readSource, stepById } from '../../src/index.js';
import { lengthOf } from '../../src/drawing/measures.js';
import { fonts } from '../helpers.js';
import type { HandmadePage } from './handmade.js';
import { handmadePdf } from './handmade.js';

const read = async (...pages: [HandmadePage, ...HandmadePage[]]): Promise<Drawing> =>
  (await readSource(handmadePdf(pages), 'a.pdf')).drawing;
const numbers = (d: Drawing, i = 0): number[] => {
  const e = d.entities[i]!;
  const all = e.kind === 'path' ? [...e.path.data] : e.kind === 'line' ? [...e.start, ...e.end] : [];
  return all.map((v) => Number(v.toFixed(4)));
};
/** A circle of four cubics with the usual handles, about a point. */
const circle = (x: number, y: number, r: number): string => {
  const k = 0.5522847498307936 * r;
  return `${x + r} ${y} m ${x + r} ${y + k} ${x + k} ${y + r} ${x} ${y + r} c ${x - k} ${y + r} ${x - r} ${y + k} ${x - r} ${y} c ${x - r} ${y - k} ${x - k} ${y - r} ${x} ${y - r} c ${x + k} ${y - r} ${x + r} ${y - k} ${x + r} ${y} c h`;
};

describe('what a page says', () => {
  it('its box, and how long a point is', async () => {
    const d = await read({ content: '0 0 m 72 0 l S', box: '0 0 595.276 841.89' });
    expect([d.page!.width, d.page!.height].map((v) => v * d.unit!.factor * 25.4)).toEqual([
      expect.closeTo(210, 3),
      expect.closeTo(297, 3),
    ]);
    expect(d.unit).toEqual({ unit: 'in', factor: 1 / 72 });
    expect(d.entities[0]).toMatchObject({ kind: 'line', start: [0, 0, 0], end: [72, 0, 0] });
  });
  it('in larger units where it says so', async () => {
    const d = await read({ content: '0 0 m 72 0 l S', more: '/UserUnit 10' });
    expect(d.unit).toEqual({ unit: 'in', factor: 10 / 72 });
  });
  // A line from (10, 20) to (60, 20) on a page of 200 × 100, as it is seen when the page is turned clockwise.
  it.each([
    [90, [20, 190, 0, 20, 140, 0], 100, 200],
    [180, [190, 80, 0, 140, 80, 0], 200, 100],
    [270, [80, 10, 0, 80, 60, 0], 100, 200],
  ])('turned by %i', async (turn, seen, width, height) => {
    const d = await read({ content: '10 20 m 60 20 l S', more: `/Rotate ${turn}` });
    expect(numbers(d)).toEqual(seen);
    expect([d.page!.width, d.page!.height]).toEqual([width, height]);
  });
  it('what lies on its layers, by name and state', async () => {
    const pdf = handmadePdf(
      [
        {
          content: '/OC /A BDC 0 0 m 9 0 l S EMC /OC /B BDC 0 1 m 9 1 l S EMC 0 2 m 9 2 l S',
          resources: '/Properties << /A 10 0 R /B 11 0 R >>',
        },
      ],
      {
        objects: ['<< /Type /OCG /Name (Walls) >>', '<< /Type /OCG /Name (Grid) >>'],
        catalog: '/OCProperties << /OCGs [10 0 R 11 0 R] /D << /OFF [11 0 R] >> >>',
      },
    );
    const { drawing } = await readSource(pdf, 'a.pdf');
    expect(drawing.layers.map((l) => [l.name, l.off])).toEqual([
      ['Walls', false],
      ['Grid', true],
      ['0', false],
    ]);
    expect(drawing.entities.map((e) => e.layer)).toEqual(['Walls', 'Grid', '0']);
  });
});

describe('how lines and fills are drawn', () => {
  it('width, caps, corners and dashes by the scale they are under; a width of 0 is the thinnest line', async () => {
    const d = await read({ content: '2 0 0 2 0 0 cm 3 w 1 J 2 j [4 1] 2 d 0 0 m 5 0 l S 0 w 0 5 m 5 5 l S' });
    expect(d.entities[0]!.look).toMatchObject({
      width: { kind: 'paper', mm: expect.closeTo((6 * 25.4) / 72, 6) as number },
      cap: 'round',
      join: 'bevel',
      dash: { kind: 'lengths', lengths: [8, 2], offset: 4 },
    });
    expect(d.entities[1]!.look.width).toEqual({ kind: 'paper', mm: 0 });
  });
  it('lines before any start are left out and counted; what follows is there', async () => {
    const pdf = handmadePdf([{ content: '40 40 l 1 2 3 4 5 6 c S 7 7 l 0 0 m 50 0 l h S' }]);
    const { drawing: d, ledger } = await readSource(pdf, 'a.pdf');
    expect(ledger).toMatchObject([{ code: 'pdf-lines-without-start', action: 'dropped', count: 3 }]);
    expect(d.entities.map((e) => e.kind)).toEqual(['path']);
    const [e] = d.entities;
    expect(e?.kind === 'path' && [...e.path.data]).toEqual([0, 0, 50, 0]);
  });
  it('widths stay those of the paper when the drawing is scaled, or scale with it where that is said', async () => {
    const pdf = handmadePdf([{ content: '3 w 0 0 m 50 0 l S' }]);
    const scaled = async (pens: 'paper' | 'drawing') => {
      const { drawing } = await readSource(pdf, 'a.pdf', { pens });
      return prepare(drawing, { ...NO_DECISIONS, unit: 'mm', correction: 500 }, []).drawing.entities[0]!.look.width;
    };
    // 3 points are 1.0583 mm.
    expect(await scaled('paper')).toEqual({ kind: 'paper', mm: expect.closeTo(1.0583, 4) });
    expect(await scaled('drawing')).toEqual({ kind: 'drawing', value: expect.closeTo(529.1667, 3) });
  });
  it('colours of three kinds, rules of filling, and being seen through', async () => {
    const d = await read({
      content: '1 0 0 rg 0 0 9 9 re f* 0 0 1 0 k 0 0 9 9 re f /G gs 0.5 G 1 g 0 0 9 9 re B',
      resources: '/ExtGState << /G << /CA 0.5 /ca 0.25 >> >>',
    });
    const looks = d.entities.map((e) => e.look);
    expect(looks.map((l) => [l.fill, l.fillRule])).toMatchObject([
      [{ rgb: 0xff0000 }, 'evenodd'],
      [{ kind: 'rgb' }, 'nonzero'],
      [{ rgb: 0xffffff }, 'nonzero'],
    ]);
    expect([looks[2]!.strokeOpacity, looks[2]!.fillOpacity]).toEqual([0.5, 0.25]);
    expect(looks[2]!.stroke).toMatchObject({ rgb: 0x808080 });
  });
  it('forms within forms, each with its own map, and what is cut to their boxes', async () => {
    const form = (matrix: string, content: string, resources = ''): string =>
      `<< /Type /XObject /Subtype /Form /BBox [0 0 50 50] /Matrix [${matrix}] /Resources << ${resources} >> /Length ${content.length} >>\nstream\n${content}\nendstream`;
    const pdf = handmadePdf([{ content: '1 0 0 1 10 0 cm /F Do', resources: '/XObject << /F 10 0 R >>' }], {
      objects: [form('2 0 0 2 0 0', '/G Do', '/XObject << /G 11 0 R >>'), form('1 0 0 1 0 5', '0 0 m 3 0 l S')],
    });
    const { drawing: d } = await readSource(pdf, 'a.pdf');
    expect(numbers(d)).toEqual([10, 10, 0, 16, 10, 0]);
    expect(d.entities[0]!.clipTo).toBeDefined();
  });
  it('a frame around all of the page cuts nothing; another one is kept', async () => {
    const d = await read({
      content: '0 0 200 100 re W n 0 0 m 9 0 l S q 0 0 20 20 re W n 0 9 m 90 9 l S Q 0 8 m 9 8 l S',
    });
    expect(d.entities.map((e) => e.clipTo !== undefined)).toEqual([false, true, false]);
    // Taken in, what lies outside the frame is cut off: 20 of 90.
    const cut = prepare(d, NO_DECISIONS, []).drawing.entities[1]!;
    expect(lengthOf(cut) * 72).toBeCloseTo(20, 6);
  });
  it('what is said and not followed is told', async () => {
    const { ledger } = await readSource(
      handmadePdf([
        {
          content: '/G gs 0 0 9 9 re f BT /F 9 Tf 3 Tr 0 0 Td (scan) Tj ET',
          resources:
            '/ExtGState << /G << /BM /Multiply >> >> /Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>',
          more: '/Annots [<< /Type /Annot /Subtype /Square /Rect [0 0 9 9] >>]',
        },
      ]),
      'a.pdf',
    );
    expect(ledger.map((r) => r.code)).toEqual([
      'blend-modes-not-carried',
      'pdf-unseen-text-left-out',
      'pdf-annotations-left-out',
    ]);
  });
  it('tiles of a pattern are the pieces they show, cut to the shape', async () => {
    const tile = '0 0 1 rg 0 0 2 2 re f';
    const pdf = handmadePdf([{ content: '/Pattern cs /P scn 0 0 20 10 re f', resources: '/Pattern << /P 10 0 R >>' }], {
      objects: [
        `<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 5 5] /XStep 5 /YStep 5 /Resources << >> /Length ${tile.length} >>\nstream\n${tile}\nendstream`,
      ],
    });
    const { drawing: d } = await readSource(pdf, 'a.pdf');
    // 4 × 2 tiles lie in the shape, and 3 rows and 5 columns touch it.
    const pieces = prepare(d, NO_DECISIONS, []).drawing.entities.filter((e) => e.look.fill.kind === 'rgb');
    expect(pieces).toHaveLength(8);
    expect(pieces.every((e) => e.look.fill.kind === 'rgb' && e.look.fill.rgb === 0x0000ff)).toBe(true);
  });
});

describe('text', () => {
  const font = '/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-BoldOblique >> >>';
  it('is text, with its font, place, size, turn and width', async () => {
    const d = await read({ content: 'BT /F 12 Tf 0 2 -2 0 50 20 Tm 50 Tz (Kestrel) Tj ET', resources: font });
    expect(d.entities).toMatchObject([
      {
        kind: 'text',
        text: 'Kestrel',
        at: [50, 20, 0],
        size: 24,
        widthFactor: 0.5,
        font: { family: 'Helvetica', weight: 700, italic: true },
      },
    ]);
    expect((d.entities[0] as { rotation: number }).rotation).toBeCloseTo(Math.PI / 2, 12);
  });
  it('letters set one by one are one line, words stand apart, what is further off is another', async () => {
    const d = await read({
      // Helvetica: K 667, e 556 thousandths wide in bold.
      content: 'BT /F 10 Tf 0 0 Td (K) Tj 7.22 0 Td (e) Tj 9 0 Td (R) Tj 60 0 Td (x) Tj ET',
      resources: font,
    });
    expect(d.entities.map((e) => (e as { text: string }).text)).toEqual(['Ke R', 'x']);
  });
  it('room between letters is kept as such, in the drawing’s own length', async () => {
    const d = await read({ content: '2 0 0 2 0 0 cm BT /F 10 Tf 3 Tc (abc) Tj ET', resources: font });
    expect(d.entities[0]).toMatchObject({ text: 'abc', size: 20, spacing: 6 });
  });
  it('letters that are drawings of their own are drawn', async () => {
    const glyph = '500 0 0 0 400 700 d1 0 0 400 700 re f';
    const pdf = handmadePdf([{ content: 'BT /F 10 Tf 20 30 Td (aa) Tj ET', resources: '/Font << /F 10 0 R >>' }], {
      objects: [
        '<< /Type /Font /Subtype /Type3 /FontBBox [0 0 400 700] /FontMatrix [0.001 0 0 0.001 0 0] /CharProcs << /a 11 0 R >> /Encoding << /Differences [97 /a] >> /FirstChar 97 /LastChar 97 /Widths [500] /Resources << >> >>',
        `<< /Length ${glyph.length} >>\nstream\n${glyph}\nendstream`,
      ],
    });
    const { drawing: d, ledger } = await readSource(pdf, 'a.pdf');
    expect(d.entities.map((e) => e.kind)).toEqual(['path', 'path']);
    // The second begins where the first, half an em wide, ends.
    expect(numbers(d, 1).slice(0, 4)).toEqual([25, 30, 29, 30]);
    expect(ledger.map((r) => r.code)).toContain('pdf-drawn-letters');
  });
  it('without a meaning comes as nothing, told, where its letters have no shape either', async () => {
    const { drawing, ledger } = await readSource(
      handmadePdf([
        {
          content: 'BT /F 12 Tf <01> Tj ET',
          resources:
            '/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Odd /FirstChar 1 /LastChar 1 /Widths [500] /Encoding << /Differences [1 /g1] >> >> >>',
        },
      ]),
      'a.pdf',
    );
    expect(drawing.entities).toEqual([]);
    expect(ledger.map((r) => r.code)).toContain('pdf-letters-not-read');
  });
});

describe('sizes', () => {
  const recovered = async (pointsPerInch: number): Promise<number> => {
    const content = `${circle(100, 50, 6 * (pointsPerInch / 25.4))} S`;
    const d = await read({ content });
    const { drawing } = prepare(d, { ...NO_DECISIONS, unit: 'mm' }, [plannedStep(stepById('recover-arcs')!, 'a', {})], {
      fonts: fonts(),
    });
    const [e] = drawing.entities;
    return e?.kind === 'circle' ? 2 * e.radius : NaN;
  };
  it('a circle of 12 mm in four cubics, 34.0157 points wide, is a circle of 12.000 mm again', async () => {
    expect((12 * 72) / 25.4).toBeCloseTo(34.0157, 4);
    expect(Math.abs((await recovered(72)) - 12)).toBeLessThan(0.003);
  });
  it('points taken for those of printers, 72.27 to the inch, come out as 11.955', async () => {
    // Drawn 34.0157 · 72/72.27 points wide, as a program does that takes one for the other.
    expect(await recovered((72 * 72) / 72.27)).toBeCloseTo(11.955, 3);
  });
});

describe('pages', () => {
  const two = handmadePdf([{ content: '0 0 m 5 0 l S' }, { content: '0 0 m 7 0 l S', box: '0 0 50 60' }]);
  it('the first, another one, or all side by side', async () => {
    const first = (await readSource(two, 'a.pdf')).drawing;
    expect([numbers(first), first.pageOf]).toEqual([[0, 0, 0, 5, 0, 0], { number: 1, of: 2 }]);
    const second = (await readSource(two, 'a.pdf', { page: 2 })).drawing;
    expect([numbers(second), second.pageOf]).toEqual([[0, 0, 0, 7, 0, 0], { number: 2, of: 2 }]);
    const all = (await readSource(two, 'a.pdf', { page: 0 })).drawing;
    // 200 points, and 20 mm between.
    const x = 200 + (20 * 72) / 25.4;
    expect(numbers(all, 1)).toEqual([x, 0, 0, x + 7, 0, 0].map((v) => Number(v.toFixed(4))));
  });
  it('one that is not there is refused with how many there are', async () => {
    await expect(readSource(two, 'a.pdf', { page: 3 })).rejects.toThrow(/no page 3.*its 2 pages/s);
  });
});

describe('what cannot be read', () => {
  it('is refused in words: locked, damaged, cut off', async () => {
    const plain = handmadePdf([{ content: '0 0 m 5 0 l S' }]);
    const locked = handmadePdf([{ content: '0 0 m 5 0 l S' }], {
      objects: [`<< /Filter /Standard /V 1 /R 2 /P -4 /O <${'1'.repeat(64)}> /U <${'2'.repeat(64)}> >>`],
      trailer: '/Encrypt 10 0 R /ID [<00112233445566778899AABBCCDDEEFF> <00112233445566778899AABBCCDDEEFF>]',
    });
    await expect(readSource(locked, 'a.pdf')).rejects.toThrow(/locked by a password/);
    await expect(readSource(plain.subarray(0, 30), 'a.pdf')).rejects.toThrow(UnreadableFile);
    await expect(
      readSource(
        Uint8Array.from('%PDF-1.4 and nothing else', (c) => c.charCodeAt(0)),
        'a.pdf',
      ),
    ).rejects.toThrow(UnreadableFile);
  });
  it('a table that points nowhere is mended by looking for the objects', async () => {
    const text = String.fromCharCode(...handmadePdf([{ content: '0 0 m 5 0 l S' }]));
    const broken = text.replace(/startxref\n\d+/, 'startxref\n99999');
    const { drawing } = await readSource(
      Uint8Array.from(broken, (c) => c.charCodeAt(0)),
      'a.pdf',
    );
    expect(numbers(drawing)).toEqual([0, 0, 0, 5, 0, 0]);
  });
  it('letters that draw themselves, many times over, end', async () => {
    const glyph = '500 0 d0 BT /F 1 Tf (aaaaaaaa) Tj ET';
    const pdf = handmadePdf([{ content: 'BT /F 10 Tf (a) Tj ET 0 0 m 5 0 l S', resources: '/Font << /F 10 0 R >>' }], {
      objects: [
        '<< /Type /Font /Subtype /Type3 /FontBBox [0 0 9 9] /FontMatrix [0.001 0 0 0.001 0 0] /CharProcs << /a 11 0 R >> /Encoding << /Differences [97 /a] >> /FirstChar 97 /LastChar 97 /Widths [500] /Resources << /Font << /F 10 0 R >> >> >>',
        `<< /Length ${glyph.length} >>\nstream\n${glyph}\nendstream`,
      ],
    });
    const { drawing } = await readSource(pdf, 'a.pdf');
    expect(drawing.entities.length).toBeLessThan(10);
  });
  it('a content that calls itself ends', async () => {
    const pdf = handmadePdf([{ content: '/F Do 0 0 m 5 0 l S', resources: '/XObject << /F 10 0 R >>' }], {
      objects: [
        '<< /Type /XObject /Subtype /Form /BBox [0 0 9 9] /Resources << /XObject << /F 10 0 R >> >> /Length 5 >>\nstream\n/F Do\nendstream',
      ],
    });
    const { drawing } = await readSource(pdf, 'a.pdf');
    expect(drawing.entities.length).toBeGreaterThan(0);
  });
});
