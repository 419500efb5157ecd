import { describe, expect, it } from 'vitest';
import type { Reading } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, readDrawing, targetFor } from '../../src/index.js';
import { bytesOf, fonts, svg, textOf } from '../helpers.js';

const read = (text: string): Reading => readDrawing(bytesOf(text), 'a.svg');
const document = (declared: string, inside: string): string =>
  `<!DOCTYPE svg [${declared}]><svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${inside}</svg>`;

describe('entities that a document declares', () => {
  it('hold elements, as often as they are named', () => {
    const { drawing } = read(
      document("<!ENTITY dot \"<circle r='3' cx='9'/>\">", '&dot;<g transform="scale(2)">&dot;</g>'),
    );
    expect(drawing.entities.map((e) => (e.kind === 'circle' ? [e.centre[0], e.radius] : e.kind))).toEqual([
      [9, 3],
      [18, 6],
    ]);
  });
  it('may hold others that hold elements', () => {
    const declared = '<!ENTITY dot "<circle r=\'3\'/>"><!ENTITY two "<g>&dot;&dot;</g>">';
    expect(read(document(declared, '&two;')).drawing.entities.length).toBe(2);
  });
  it('hold letters by their numbers', () => {
    const { drawing } = read(document('<!ENTITY name "Fa&#231;ade c&#xF4;t&#233;">', '<text y="9">&name;</text>'));
    expect(drawing.entities[0]).toMatchObject({ kind: 'text', text: 'Façade côté' });
  });
  it('stay what they are in comments and in sections of characters', () => {
    const { drawing } = read(
      document(
        '<!ENTITY dot "<circle r=\'3\'/>">',
        '<!-- &dot; --><text y="9"><![CDATA[&dot;]]></text><rect width="2" height="2"/>',
      ),
    );
    expect(drawing.entities.map((e) => e.kind)).toEqual(['text', 'polyline']);
  });
  it('that hold elements without end are not put in without end', () => {
    const value = `<circle r='3'/><desc>${'x'.repeat(59_972)}</desc>`;
    const declared = `<!ENTITY many "${value}">`;
    expect(value.length).toBe(60_000);
    expect(() => read(document(declared, '&many;'.repeat(900)))).toThrow(/16 million characters/);
    // As many as there is room for are read.
    expect(read(document(declared, '&many;'.repeat(20))).drawing.entities.length).toBe(20);
  });
});

describe('a clip by letters', () => {
  it('hides nothing, as its row says', () => {
    const inside =
      '<clipPath id="c"><text y="20">Row</text></clipPath><rect width="9" height="9" clip-path="url(#c)"/>';
    const { drawing, ledger } = read(textOf(svg(inside)));
    expect(drawing.entities.map((e) => e.clipTo)).toEqual([undefined]);
    expect(ledger.map((r) => r.code)).toContain('clip-text-not-applied');
  });
  it('leaves the clip that it stands in', () => {
    const inside =
      '<clipPath id="c"><text y="20">Row</text></clipPath><clipPath id="d"><rect width="4" height="4"/></clipPath>' +
      '<g clip-path="url(#d)"><rect width="9" height="9" clip-path="url(#c)"/></g>';
    const { drawing } = prepare(read(textOf(svg(inside))).drawing, { ...NO_DECISIONS, unit: 'mm' }, []);
    expect(drawing.entities.length).toBe(1);
  });
});

describe('lengths where CSS says them', () => {
  it.each(['inline', 'sheet'] as const)('have a unit, written %s', (style) => {
    const source = read(
      '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100"><text y="20" font-family="Spline Sans" font-size="10" letter-spacing="1.5">Kestrel</text></svg>',
    ).drawing;
    const drawing = prepare(source, NO_DECISIONS, []).drawing;
    const text = textOf(deliver(drawing, targetFor('svg', { style }), 'a.svg', fonts()).bytes);
    expect(text).toMatch(/letter-spacing:1\.5px/);
    expect(text).toMatch(/font-size:10px/);
  });
});

describe('letters as they are shown', () => {
  it.each([
    ['uppercase', 'KESTREL ROW'],
    ['lowercase', 'kestrel row'],
    ['capitalize', 'Kestrel Row'],
  ])('text-transform: %s', (how, shown) => {
    const { drawing, ledger } = read(textOf(svg(`<text y="9" style="text-transform:${how}">kestrel Row</text>`)));
    expect(drawing.entities[0]).toMatchObject({ text: shown });
    expect(ledger.map((r) => r.code)).toContain('text-transform-applied');
  });
  it('families to fall back to are written again, in their order', () => {
    const { drawing } = read(
      textOf(svg('<text y="9" font-family="Harbour Slab, \'Source Serif 4\', serif">Row</text>')),
    );
    const prepared = prepare(drawing, { ...NO_DECISIONS, unit: 'mm' }, []).drawing;
    expect(textOf(deliver(prepared, targetFor('svg'), 'a.svg', fonts()).bytes)).toContain(
      'font-family="Harbour Slab, Source Serif 4, serif"',
    );
  });
});

it('dashes in percent are parts of the diagonal of the viewport they stand in', () => {
  // 100 × 100: the diagonal over the square root of two is 100; 40 × 30: it is 25 √2.
  const dash = 'd="M0 0h50" stroke="#000" stroke-dasharray="10% 4%"';
  const { drawing } = read(
    '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">' +
      `<path ${dash}/><svg width="40" height="30"><path ${dash}/></svg></svg>`,
  );
  const lengths = drawing.entities.map((e) => (e.look.dash.kind === 'lengths' ? e.look.dash.lengths : []));
  expect(lengths[0]).toEqual([10, 4]);
  expect(lengths[1]![0]).toBeCloseTo(2.5 * Math.SQRT2, 9);
  expect(lengths[1]![1]).toBeCloseTo(Math.SQRT2, 9);
});
