import { describe, expect, it } from 'vitest';
import type { RichText, Text } from '../../src/index.js';
import { DRAFTING_DEFAULT, FontBook, UserError, loadFont } from '../../src/index.js';
import { familyOf, linesOf } from '../../src/text/layout.js';
import { CMD_LENGTH } from '../../src/geometry/path.js';
import { bytesOf, fonts } from '../helpers.js';
import { PLAIN_TEXT } from '../sketches.js';

const styles = {
  textStyles: [
    { name: 'NOTES', font: 'C:\\fonts\\Notes.shx', bigFont: '', fixedHeight: 0, widthFactor: 1, oblique: 0 },
  ],
};
const base = { id: 1, layer: '0', look: DRAFTING_DEFAULT };
const text = (more: Partial<Text> = {}): Text => ({
  kind: 'text',
  ...base,
  text: 'Kestrel',
  at: [10, 20, 0],
  size: 7,
  sizeOf: 'capital',
  ...PLAIN_TEXT,
  ...more,
});
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
    expect(() => loadFont(bytesOf('not a font'), 'x')).toThrow(UserError);
    expect(new FontBook([]).capital('any')).toBe(0.7);
  });
  it('are named by their style, without folder and ending', () => {
    expect(familyOf(text({ style: 'notes' }), styles)).toBe('Notes');
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
    kind: 'richText',
    ...base,
    content: 'one\\Ptwo',
    plain: 'one\ntwo',
    at: [0, 0, 0],
    size: 3,
    width: 0,
    rotation: 0,
    horizontal: 'left',
    vertical: 'top',
    lineSpacing: 1,
    ...more,
  });
  it('hangs from its top: the first baseline lies one capital below, each next one 5/3 of it', () => {
    expect(linesOf(rich(), styles, fonts()).map((l) => [l.text, l.y])).toEqual([
      ['one', -3],
      ['two', -8],
    ]);
  });
  it('stands on its bottom, or is centred', () => {
    expect(linesOf(rich({ vertical: 'bottom' }), styles, fonts()).map((l) => l.y)).toEqual([5, 0]);
    expect(linesOf(rich({ vertical: 'middle' }), styles, fonts()).map((l) => l.y)).toEqual([1, -4]);
  });
  it('wraps at blanks so that no line is wider than asked, and never inside a word', () => {
    const lines = linesOf(
      rich({ content: 'tram stop shelter at Kestrel-Row-by-the-river', width: 30 }),
      styles,
      fonts(),
    );
    expect(lines.length).toBeGreaterThan(1);
    expect(lines.map((l) => l.text).join(' ')).toBe('tram stop shelter at Kestrel-Row-by-the-river');
    for (const l of lines.filter((x) => x.text.includes(' ')))
      expect(fonts().outline(l.text, '').advance * l.em).toBeLessThanOrEqual(30);
  });
  const set = (content: string, more: Partial<RichText> = {}) => linesOf(rich({ content, ...more }), styles, fonts());
  it('each style of a line is set on its own, one after the other', () => {
    const [a, b, c] = set('plain {\\C1;\\Lred} rest');
    expect([a!.text, b!.text, c!.text]).toEqual(['plain', 'red', 'rest']);
    expect(b).toMatchObject({ paint: { kind: 'index', index: 1 }, underline: true });
    expect(c!.paint).toBeUndefined();
    expect(b!.x).toBeCloseTo(fonts().outline('plain ', a!.family).advance * a!.em, 9);
    // What follows begins after the blank, not with it.
    const at = b!.x + fonts().outline('red', '').advance * b!.em + fonts().outline(' ', '').advance * c!.em;
    expect(c!.x).toBeCloseTo(at, 9);
  });
  it('heights: absolute, or times what holds; the tallest sets the distance of lines', () => {
    const [small, big, below] = set('{\\H1.5;a}{\\H2x;b}\\Pc');
    expect(big!.em / small!.em).toBeCloseTo(4, 9);
    // Capitals of 6 first, then a line of capitals of 3 at 5/3 of them.
    expect([small!.y, big!.y, below!.y]).toEqual([-6, -6, -11]);
  });
  it('font, width, slant and true colour', () => {
    const [l] = set('\\fGlass House|b1|i0;\\W0.8;\\Q15;\\c255;x');
    expect(l).toMatchObject({ family: 'Glass House', widthFactor: 0.8, paint: { kind: 'rgb', rgb: 0xff0000 } });
    expect(l!.oblique).toBeCloseTo(Math.PI / 12, 12);
  });
  it('fractions: one over the other, with a bar or without; the slanted one in line', () => {
    const [top, bottom] = set('\\S1/2;');
    expect([top!.text, bottom!.text]).toEqual(['1', '2']);
    expect(top!.y).toBeGreaterThan(bottom!.y);
    expect([top!.underline, bottom!.underline]).toEqual([true, undefined]);
    expect(set('\\S+0.1^-0.2;')[0]!.underline).toBeUndefined();
    expect(set('\\S3#4;').map((l) => l.text)).toEqual(['3/4']);
  });
  it('alignment of a paragraph within its column', () => {
    const [l] = set('\\pxqr;end', { width: 40 });
    expect(l).toMatchObject({ anchor: 'right', x: 40 });
    const [c] = set('\\pxqc;mid', { width: 40, horizontal: 'right' });
    expect(c).toMatchObject({ anchor: 'centre', x: -20 });
  });
  it('carets, tabs, braces, no-break blanks and broken codes', () => {
    expect(set('a^Jb').map((l) => l.text)).toEqual(['a', 'b']);
    expect(set('\\{x\\}')[0]!.text).toBe('{x}');
    expect(set('1\\~mm', { width: 0.001 }).map((l) => l.text)).toEqual(['1\u00a0mm']);
    expect(
      set('}}a{b')
        .map((l) => l.text)
        .join(''),
    ).toBe('ab');
    expect(set('\\H;a')[0]!.text).toBe('a');
    expect(set('\\fArial').length).toBe(0);
  });
});

describe('where a line stands by its alignment', () => {
  // The letters themselves, as their font draws them: an ink box that knows nothing of alignment.
  const inkOf = (t: Text, words: string): { below: number; above: number } => {
    const l = linesOf({ ...t, text: words }, styles, fonts())[0]!;
    const { path } = fonts().outline(words, l.family, l.weight, l.italic);
    let [low, high] = [Infinity, -Infinity];
    let at = 0;
    for (const cmd of path.cmds) {
      for (let i = at + 1; i < at + CMD_LENGTH[cmd]!; i += 2)
        [low, high] = [Math.min(low, path.data[i]!), Math.max(high, path.data[i]!)];
      at += CMD_LENGTH[cmd]!;
    }
    return { below: l.y + low * l.em, above: l.y + high * l.em };
  };
  it('bottom: nothing of the deepest letters lies below the point, and they reach near it', () => {
    const { below } = inkOf(text({ vertical: 'bottom' }), 'gjpqy');
    expect(below - 20).toBeGreaterThan(-0.6);
    expect(below - 20).toBeLessThan(1.5);
  });
  it('top: capitals end at the point; middle: half of a capital lies on either side; baseline: they stand on it', () => {
    expect(inkOf(text({ vertical: 'top' }), 'H').above).toBeCloseTo(20, 6);
    const middle = inkOf(text({ vertical: 'middle' }), 'H');
    expect((middle.above + middle.below) / 2).toBeCloseTo(20, 6);
    expect(inkOf(text(), 'H')).toMatchObject({ below: expect.closeTo(20, 6), above: expect.closeTo(27, 6) });
  });
  it('is the same, turned, whichever way the line runs', () => {
    for (const vertical of ['top', 'middle', 'bottom', 'baseline'] as const)
      for (const rotation of [0.3, Math.PI / 2, 2.8]) {
        const [flat, turned] = [line(text({ vertical })), line(text({ vertical, rotation }))];
        const up = flat.y - 20;
        expect(turned.x).toBeCloseTo(10 - up * Math.sin(rotation), 12);
        expect(turned.y).toBeCloseTo(20 + up * Math.cos(rotation), 12);
      }
  });
});
