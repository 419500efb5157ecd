import { describe, expect, it } from 'vitest';
import type { RichText, Text } from '../../src/index.js';
import { DRAFTING_DEFAULT, FontBook, loadFont } from '../../src/index.js';
import { familyOf, linesOf } from '../../src/text/layout.js';
import { bytesOf, fonts } from '../helpers.js';

const styles = {
  textStyles: [
    { name: 'NOTES', font: 'C:\\fonts\\Isocp.shx', bigFont: '', fixedHeight: 0, widthFactor: 1, oblique: 0 },
  ],
};
const base = { id: 1, layer: '0', look: DRAFTING_DEFAULT };
const text = (more: Partial<Text> = {}): Text => ({
  kind: 'text', ...base, text: 'Kestrel', at: [10, 20, 0], size: 7, sizeOf: 'capital', rotation: 0, widthFactor: 1, oblique: 0,
  horizontal: 'left', vertical: 'baseline', ...more,
}); // prettier-ignore
const line = (t: Text) => linesOf(t, styles, fonts())[0]!;

describe('fonts', () => {
  it('know the height of their capitals and their widths', () => {
    const f = fonts();
    expect(f.has('spline sans')).toBe(true);
    expect(f.capital('Spline Sans')).toBeGreaterThan(0.6);
    expect(f.outline('', 'Spline Sans').advance).toBe(0);
    expect(f.outline('MM', 'Spline Sans').advance).toBeGreaterThan(f.outline('ii', 'Spline Sans').advance);
  });
  it('of extended Latin come from the second file; what none has is listed', () => {
    expect(fonts().outline('Łódź ° ± Ø', 'Spline Sans').missing).toEqual([]);
    expect(fonts().outline('漢a', 'Spline Sans').missing).toEqual(['漢']);
  });
  it('that are none are refused', () => {
    expect(() => loadFont('x', bytesOf('not a font'))).toThrow(RangeError);
    expect(new FontBook([]).capital('any')).toBe(0.7);
  });
  it('are named by their style, without folder and ending', () => {
    expect(familyOf(text({ style: 'notes' }), styles)).toBe('Isocp');
    expect(familyOf(text({ font: { family: 'Serif', weight: 400, italic: false } }), styles)).toBe('Serif');
  });
});

describe('one line', () => {
  it('has its em from the height of capitals, or states it', () => {
    const capital = fonts().capital('');
    expect(line(text()).em).toBeCloseTo(7 / capital, 12);
    expect(line(text({ sizeOf: 'em', size: 12 })).em).toBe(12);
  });
  it('is moved to its baseline: top by the capitals, middle by half of them, also when turned', () => {
    expect(line(text({ vertical: 'top' }))).toMatchObject({ x: 10, y: 13 });
    expect(line(text({ vertical: 'middle' }))).toMatchObject({ x: 10, y: 16.5 });
    const turned = line(text({ vertical: 'top', rotation: Math.PI / 2 }));
    expect(turned.x).toBeCloseTo(17, 12);
    expect(turned.y).toBeCloseTo(20, 12);
  });
  it('fitted between two points is stretched along them', () => {
    const l = line(text({ horizontal: 'fit', other: [13, 24, 0] }));
    expect(l.stretchTo).toBeCloseTo(5, 12);
    expect(l.rotation).toBeCloseTo(Math.atan2(4, 3), 12);
  });
});

describe('rich text', () => {
  const rich = (more: Partial<RichText> = {}): RichText => ({
    kind: 'richText', ...base, content: '', plain: 'one\ntwo', at: [0, 0, 0], size: 3, width: 0, rotation: 0, horizontal: 'left',
    vertical: 'top', lineSpacing: 1, ...more,
  }); // prettier-ignore
  it('hangs from its top: the first baseline lies one capital below, each next one 5/3 of it', () => {
    expect(linesOf(rich(), styles, fonts()).map((l) => [l.text, l.y])).toEqual([['one', -3], ['two', -8]]); // prettier-ignore
  });
  it('stands on its bottom, or is centred', () => {
    expect(linesOf(rich({ vertical: 'bottom' }), styles, fonts()).map((l) => l.y)).toEqual([5, 0]);
    expect(linesOf(rich({ vertical: 'middle' }), styles, fonts()).map((l) => l.y)).toEqual([1, -4]);
  });
  it('wraps at blanks so that no line is wider than asked, and never inside a word', () => {
    const lines = linesOf(rich({ plain: 'tram stop shelter at Kestrel-Row-by-the-river', width: 30 }), styles, fonts());
    expect(lines.length).toBeGreaterThan(1);
    expect(lines.map((l) => l.text).join(' ')).toBe('tram stop shelter at Kestrel-Row-by-the-river');
    for (const l of lines.filter((x) => x.text.includes(' ')))
      expect(fonts().outline(l.text, '').advance * l.em).toBeLessThanOrEqual(30);
  });
});
