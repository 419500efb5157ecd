import { gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { UnreadableFile, readDrawing } from '../../src/index.js';
import { linesOf } from '../../src/text/layout.js';
import { entitiesOf } from '../../src/formats/svg/xml.js';
import { bytesOf, fonts, hop, only, read, risks, svg } from '../helpers.js';

const one = (body: string) => read(svg(body), 'a.svg');
const lines = (body: string) => linesOf(only(one(body), 'text'), { textStyles: [] }, fonts());
const advance = (text: string): number => fonts().outline(text, 'Spline Sans').advance;
const style = 'font-family="Spline Sans" font-size="10"';

describe('text along a path', () => {
  it('on a straight one: each letter where it would stand anyway', () => {
    const got = lines(`<path id="p" d="M5 50H95"/><text ${style}><textPath href="#p">tram</textPath></text>`);
    expect(got.map((l) => l.text).join('')).toBe('tram');
    got.forEach((l, i) => {
      // Kerning belongs to the letter before: a letter begins where the line up to it ends, less itself.
      expect(l.x).toBeCloseTo(5 + (advance('tram'.slice(0, i + 1)) - advance('tram'[i]!)) * 10, 6);
      expect(l.y).toBeCloseTo(50, 6);
    });
  });
  it('on a circle: the middle of each letter lies on it, and turns with it', () => {
    const got = lines(
      `<path id="p" d="M10 50A40 40 0 0 1 90 50"/><text ${style}><textPath href="#p" startOffset="50%" text-anchor="middle">HHHHH</textPath></text>`,
    );
    const w = advance('H') * 10;
    for (const l of got) {
      const [mx, my] = [l.x + (Math.cos(l.rotation) * w) / 2, l.y + (Math.sin(l.rotation) * w) / 2];
      expect(Math.hypot(mx - 50, my - 50)).toBeCloseTo(40, 2);
    }
    // Half way round the upper half lies the top; with text-anchor middle the third letter stands there, level.
    expect(got[2]!.rotation).toBeCloseTo(0, 2);
    expect(got[0]!.rotation).toBeLessThan(0);
  });
  it('letters whose middle is off its end are not set', () => {
    expect(lines(`<path id="p" d="M0 0H12"/><text ${style}><textPath href="#p">HHHHH</textPath></text>`).length).toBe(
      Math.floor(12 / (advance('H') * 10) + 0.5),
    );
  });
  it('follows the transforms of the text and of the path, and an offset in lengths', () => {
    const body = `<path id="p" transform="translate(0 5)" d="M0 0H90"/><g transform="scale(2)"><text ${style}><textPath href="#p" startOffset="3">a</textPath></text></g>`;
    const [l] = lines(body);
    expect([l!.x, l!.y]).toEqual([expect.closeTo(6, 6), expect.closeTo(10, 6)]);
  });
  it('is proven through DXF and SVG, turned over and all', () => {
    const drawing = one(
      `<path id="p" fill="none" stroke="#000" d="M10 50A40 40 0 0 1 90 50"/><text ${style}><textPath href="#p">Kestrel Row</textPath></text>`,
    );
    for (const format of ['dxf', 'svg'] as const) expect(risks(hop(drawing, { format }).proof), format).toEqual([]);
  });
});

describe('letter spacing', () => {
  it('adds to each letter', () => {
    const got = lines(`<text ${style} x="1" y="2" letter-spacing="4">abc</text>`);
    expect(got.map((l) => l.x)).toEqual(
      [1, 1 + (advance('ab') - advance('b')) * 10 + 4, 1 + (advance('abc') - advance('c')) * 10 + 8].map((v) =>
        expect.closeTo(v, 6),
      ),
    );
  });
  it('counts for anchors', () => {
    const [l] = lines(`<text ${style} x="100" text-anchor="end" letter-spacing="1">ab</text>`);
    expect(l!.x).toBeCloseTo(100 - advance('ab') * 10 - 2, 6);
  });
  it('is proven', () => {
    const drawing = one(`<text ${style} x="9" y="9" letter-spacing="0.3em">Row</text>`);
    for (const format of ['dxf', 'svg'] as const) expect(risks(hop(drawing, { format }).proof), format).toEqual([]);
  });
});

describe('entities of a document type', () => {
  it('are put in, one within another', () => {
    const text =
      '<!DOCTYPE svg [<!ENTITY ink "#c4512d"><!ENTITY st "fill:&ink;">]><svg xmlns="http://www.w3.org/2000/svg"><path style="&st;" d="M0 0H1V1Z"/></svg>';
    const d = readDrawing(bytesOf(text), 'a.svg').drawing;
    expect(only(d, 'path').look.fill).toMatchObject({ kind: 'rgb', rgb: 0xc4512d });
  });
  it('a bomb is defused: what would grow beyond bounds is left out', () => {
    let doctype = '<!ENTITY a0 "xxxxxxxxxxxxxxxx">';
    for (let i = 1; i < 40; i++) doctype += `<!ENTITY a${i} "${`&a${i - 1};`.repeat(10)}">`;
    const found = entitiesOf(doctype);
    expect([...found.values()].every((v) => v.length <= 65_536)).toBe(true);
    expect(found.has('a3')).toBe(true);
    expect(found.has('a9')).toBe(false);
  });
  it('those in other files, and rings, are nothing', () => {
    expect(entitiesOf('<!ENTITY x SYSTEM "file:///etc/passwd">').size).toBe(0);
    expect(entitiesOf('<!ENTITY a "&b;"><!ENTITY b "&a;">').get('b')).toBe('&b;');
  });
});

describe('SVGZ', () => {
  it('is read like what is inside', () => {
    const d = readDrawing(Uint8Array.from(gzipSync(svg('<circle r="3"/>'))), 'a.svgz').drawing;
    expect(only(d, 'circle').radius).toBe(3);
  });
  it('a damaged one, one packed twice and one that unpacks without end are refused', () => {
    const packed = Uint8Array.from(gzipSync(svg('<circle r="3"/>'.repeat(999))));
    expect(() => readDrawing(packed.slice(0, 40).fill(7, 20), 'a.svgz')).toThrow(UnreadableFile);
    expect(() => readDrawing(Uint8Array.from(gzipSync(packed)), 'a.svgz')).toThrow(/packed twice/);
    expect(() => readDrawing(Uint8Array.from(gzipSync(Buffer.alloc(60 << 20))), 'a.svgz')).toThrow(/far more/);
  });
});
