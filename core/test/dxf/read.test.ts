import { describe, expect, it } from 'vitest';
import { UnreadableFile, readDrawing } from '../../src/index.js';
import { bytesOf, dxf, only, read, textOf } from '../helpers.js';

const one = (...tags: (string | number)[]) => read(dxf(tags));

describe('entities', () => {
  it('LINE, with its handle and layer', () => {
    const e = only(one(0, 'LINE', 5, '2F', 8, 'WALLS', 10, 1.5, 20, -2, 30, 3, 11, 4, 21, 5, 31, 6), 'line');
    expect(e).toMatchObject({ key: '2F', layer: 'WALLS', start: [1.5, -2, 3], end: [4, 5, 6] });
  });
  it('ARC in radians, ELLIPSE as it is', () => {
    const d = one(
      0,
      'ARC',
      8,
      '0',
      10,
      1,
      20,
      2,
      40,
      3,
      50,
      90,
      51,
      180,
      0,
      'ELLIPSE',
      8,
      '0',
      10,
      0,
      20,
      0,
      11,
      0,
      21,
      4,
      40,
      0.25,
      41,
      0,
      42,
      3,
    );
    expect(only(d, 'arc').start).toBeCloseTo(Math.PI / 2, 15);
    expect(only(d, 'ellipse')).toMatchObject({ major: [0, 4, 0], ratio: 0.25, end: 3 });
  });
  it('LWPOLYLINE with bulges, widths and closing', () => {
    const e = only(
      one(
        0,
        'LWPOLYLINE',
        8,
        '0',
        90,
        3,
        70,
        1,
        38,
        7,
        10,
        0,
        20,
        0,
        42,
        0.5,
        10,
        4,
        20,
        0,
        40,
        0.1,
        41,
        0.2,
        10,
        4,
        20,
        4,
      ),
      'polyline',
    );
    expect(Array.from(e.points)).toEqual([0, 0, 4, 0, 4, 4]);
    expect(Array.from(e.bulges!)).toEqual([0.5, 0, 0]);
    expect(Array.from(e.widths!)).toEqual([0, 0, 0.1, 0.2, 0, 0]);
    expect(e).toMatchObject({ closed: true, elevation: 7 });
  });
  it('POLYLINE with VERTEX records; the frame of a fitted curve is left out', () => {
    const vertex = (x: number, y: number, flags: number) => [0, 'VERTEX', 8, '0', 10, x, 20, y, 30, 0, 70, flags];
    const d = one(
      0,
      'POLYLINE',
      8,
      '0',
      66,
      1,
      70,
      1,
      ...vertex(0, 0, 0),
      ...vertex(9, 9, 16),
      ...vertex(5, 0, 8),
      0,
      'SEQEND',
      0,
      'POINT',
      8,
      '0',
      10,
      1,
      20,
      1,
    );
    expect(Array.from(only(d, 'polyline').points)).toEqual([0, 0, 5, 0]);
    expect(d.entities.length).toBe(2);
  });
  it('POLYLINE in space', () => {
    const e = only(
      one(0, 'POLYLINE', 8, '0', 66, 1, 70, 8, 0, 'VERTEX', 8, '0', 10, 1, 20, 2, 30, 3, 70, 32, 0, 'SEQEND'),
      'polyline',
    );
    expect(e.dim).toBe(3);
    expect(Array.from(e.points)).toEqual([1, 2, 3]);
  });
  it('SPLINE from fit points alone gets the curve through them', () => {
    const e = only(
      one(0, 'SPLINE', 8, '0', 70, 0, 71, 3, 74, 3, 11, 0, 21, 0, 31, 0, 11, 5, 21, 5, 31, 0, 11, 10, 21, 0, 31, 0),
      'spline',
    );
    expect(e.points.length).toBe(21);
    expect(Array.from(e.fitPoints!)).toEqual([0, 0, 0, 5, 5, 0, 10, 0, 0]);
  });
  it('TEXT: group 11 counts once an alignment is stated', () => {
    const left = only(one(0, 'TEXT', 8, '0', 10, 1, 20, 2, 40, 2.5, 1, 'x', 11, 9, 21, 9), 'text');
    expect(left.at).toEqual([1, 2, 0]);
    const centred = only(one(0, 'TEXT', 8, '0', 10, 1, 20, 2, 40, 2.5, 1, 'x', 72, 1, 11, 9, 21, 8, 73, 2), 'text');
    expect(centred).toMatchObject({ at: [9, 8, 0], horizontal: 'centre', vertical: 'middle' });
  });
  it('TEXT escapes: ° ± Ø, by number, \\U+, and no line codes', () => {
    expect(
      only(one(0, 'TEXT', 8, '0', 10, 0, 20, 0, 40, 1, 1, '%%c5 %%p1 3%%d %%065 %%uunder%%u \\U+00E9'), 'text').text,
    ).toBe('Ø5 ±1 3° A under é');
  });
  it('MTEXT: paragraphs, fonts, stacks, braces, caret escapes', () => {
    const e = only(
      one(
        0,
        'MTEXT',
        8,
        '0',
        10,
        0,
        20,
        0,
        40,
        2,
        41,
        50,
        71,
        5,
        3,
        '{\\fArial|b1;Bold}\\P\\S1/2; ',
        1,
        '\\~x\\\\y^Jz \\{a\\}',
      ),
      'richText',
    );
    expect(e.plain).toBe('Bold\n1/2 \u00a0x\\y\nz {a}');
    expect(e).toMatchObject({ horizontal: 'centre', vertical: 'middle', width: 50 });
  });
  it('INSERT with attributes, closed by SEQEND or not', () => {
    const attrib = [0, 'ATTRIB', 8, '0', 10, 1, 20, 1, 40, 2, 1, 'A-1', 2, 'NO', 70, 0];
    const tail = [0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 1, 21, 1];
    for (const end of [[0, 'SEQEND'], []]) {
      const d = one(
        0,
        'INSERT',
        8,
        '0',
        2,
        'B',
        66,
        1,
        10,
        5,
        20,
        5,
        41,
        2,
        42,
        -2,
        50,
        90,
        ...attrib,
        ...end,
        ...tail,
      );
      const e = only(d, 'insert');
      expect(e.attributes.map((a) => [a.tag, a.text])).toEqual([['NO', 'A-1']]);
      expect(e.scale).toEqual([2, -2, 1]);
      expect(d.entities.length).toBe(2);
    }
  });
  it('HATCH loops as polylines with bulges and as edges', () => {
    const head = [
      0,
      'HATCH',
      8,
      '0',
      62,
      1,
      10,
      0,
      20,
      0,
      30,
      0,
      210,
      0,
      220,
      0,
      230,
      1,
      2,
      'SOLID',
      70,
      1,
      71,
      0,
      91,
      2,
    ];
    const polyline = [92, 3, 72, 1, 73, 1, 93, 2, 10, 0, 20, 0, 42, 1, 10, 10, 20, 0, 42, 1, 97, 0];
    const edges = [
      92, 1, 93, 2, 72, 2, 10, 5, 20, 0, 40, 2, 50, 0, 51, 180, 73, 1, 72, 1, 10, 3, 20, 0, 11, 7, 21, 0, 97, 0,
    ];
    const e = only(one(...head, ...polyline, ...edges, 75, 0, 76, 1, 98, 0), 'hatch');
    expect(e.loops.length).toBe(2);
    expect(e.look.fill).toEqual({ kind: 'index', index: 1 });
    // A whole turn of bulge 1 twice: two arcs of radius 5.
    expect(e.loops[0]!.path.data[2]).toBe(5);
  });
  it('SOLID corners are uncrossed', () => {
    const e = only(one(0, 'SOLID', 8, '0', 10, 0, 20, 0, 11, 1, 21, 0, 12, 0, 22, 1, 13, 1, 23, 1), 'face');
    expect(e.corners.map((c) => c.slice(0, 2))).toEqual([
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ]);
  });
  it('what is not understood stays opaque, word for word, and is named in the ledger', () => {
    const { drawing, ledger } = readDrawing(dxf([0, 'GLYPHTHING', 5, '3A', 8, '0', 290, 1, 340, 'FF']), 'x.dxf');
    expect(only(drawing, 'opaque').raw).toContain('GLYPHTHING');
    expect(ledger.some((r) => r.reason.includes('GLYPHTHING'))).toBe(true);
  });
  it('thickness and the way text is set are held, once they say something', () => {
    const line = [0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 1, 21, 1, 39];
    expect(only(one(...line, 5), 'line').thickness).toBe(5);
    expect(only(one(...line, 0), 'line').thickness).toBeUndefined();
    const text = only(one(0, 'TEXT', 8, '0', 10, 0, 20, 0, 40, 1, 1, 'x', 71, 4), 'text');
    expect([text.upsideDown, text.backwards]).toEqual([true, undefined]);
  });
  it('extended data is kept as it was', () => {
    const e = only(one(0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 1, 21, 1, 1001, 'APP', 1000, 'note', 1040, 2.5), 'line');
    expect(e.extended!.replace(/\s+/g, ' ').trim()).toBe('1001 APP 1000 note 1040 2.5');
  });
});

describe('layers and looks', () => {
  it('negative colour is off, flag 1 frozen, 4 locked; true colour beats the index', () => {
    const d = read(dxf([], { layers: [0, 'LAYER', 2, 'A', 70, 5, 62, -3, 6, 'DASHED', 370, 35, 420, 0x102030] }));
    expect(d.layers[0]).toMatchObject({
      off: true,
      frozen: true,
      locked: true,
      weight: 0.35,
      paint: { kind: 'rgb', rgb: 0x102030, index: 3 },
    });
  });
  it('a layer that only an entity names exists too', () => {
    expect(one(0, 'POINT', 8, 'Ghost', 10, 0, 20, 0).layers.map((l) => l.name)).toEqual(['Ghost']);
  });
});

describe('encodings and line ends', () => {
  it('code page 1252 before 2007, UTF-8 from then on', () => {
    const old = dxf([0, 'TEXT', 8, '0', 10, 0, 20, 0, 40, 1, 1, 'X@'], { version: 'AC1015' });
    old[textOf(old).indexOf('X@') + 1] = 0xe9;
    expect(only(read(old), 'text').text).toBe('Xé');
    expect(only(read(dxf([0, 'TEXT', 8, '0', 10, 0, 20, 0, 40, 1, 1, 'é 漢 🚋'])), 'text').text).toBe('é 漢 🚋');
  });
  it('CR, CRLF, blanks around values, comments, a byte order mark', () => {
    const plain = textOf(dxf([0, 'CIRCLE', 8, '0', 999, 'a comment', 10, ' 1.5 ', 20, 2, 40, 3]));
    for (const text of [plain, plain.replace(/\n/g, '\r\n'), plain.replace(/\n/g, '\r'), '\ufeff' + plain]) {
      expect(only(read(bytesOf(text)), 'circle')).toMatchObject({ centre: [1.5, 2, 0], radius: 3 });
    }
  });
});

describe('damage', () => {
  const good = textOf(dxf([0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 1, 21, 1, 0, 'CIRCLE', 8, '0', 10, 5, 20, 5, 40, 2]));
  it('a file cut off keeps what is whole and says so', () => {
    const { drawing, ledger } = readDrawing(bytesOf(good.slice(0, good.indexOf('CIRCLE') + 20)), 'x.dxf');
    expect(drawing.entities[0]!.kind).toBe('line');
    expect(drawing.notes[0]!.text).toMatch(/ends/);
    expect(ledger.some((r) => r.action === 'dropped' && r.reason.includes('cut off'))).toBe(true);
  });
  it('numbers that are none count and are located', () => {
    const d = one(0, 'LINE', 8, '0', 10, '1,5', 20, '-nan', 11, '1.#INF', 21, 2);
    expect(only(d, 'line')).toMatchObject({ start: [1.5, 0, 0], end: [0, 2, 0] });
    expect(d.notes[0]).toMatchObject({ count: 3 });
    expect(d.notes[0]!.where).toMatch(/line \d+/);
  });
  it('lines that are no group code are passed over and counted', () => {
    const d = read(bytesOf(good.replace('0\nCIRCLE', 'stray\n0\nCIRCLE')));
    expect(d.entities.map((e) => e.kind)).toEqual(['line', 'circle']);
    expect(d.notes[0]!.text).toMatch(/group code/);
  });
  it('something else is refused with words', () => {
    for (const [text, found] of [
      ['PK\x03\x04', /ZIP archive/],
      ['hello', /not a DXF, DWG, SVG or PDF file/],
      ['', /empty/],
    ] as const) {
      const read = (): unknown => readDrawing(bytesOf(text), 'x.dxf');
      expect(read).toThrow(UnreadableFile);
      expect(read).toThrow(found);
    }
  });
});

describe('text in code pages', () => {
  const text = (value: string, page = 'ANSI_1252'): string => {
    const tags = [
      0,
      'SECTION',
      2,
      'HEADER',
      9,
      '$ACADVER',
      1,
      'AC1015',
      9,
      '$DWGCODEPAGE',
      3,
      page,
      0,
      'ENDSEC',
      0,
      'SECTION',
      2,
      'ENTITIES',
      0,
      'TEXT',
      8,
      '0',
      10,
      0,
      20,
      0,
      40,
      1,
      1,
      value,
      0,
      'ENDSEC',
      0,
      'EOF',
    ];
    const bytes = Uint8Array.from([...tags.join('\n'), '\n'].map((c) => c.charCodeAt(0)));
    return only(read(bytes), 'text').text;
  };
  it('two-byte escapes of the East Asian pages, and those that name no character', () => {
    expect(text('\\M+18ABF\\M+18E9A')).toBe('漢字');
    expect(text('\\M+5BABA')).toBe('汉');
    expect(text('\\M+1FFFF')).toBe('\\M+1FFFF');
  });
  it('a page nobody knows reads as western', () => expect(text('\xe9', 'ANSI_1259')).toBe('é'));
  it('Cyrillic and Japanese pages', () => {
    expect(text('\xcf\xeb\xe0\xed', 'ANSI_1251')).toBe('План');
    expect(text('\x8a\xbf', 'ANSI_932')).toBe('漢');
  });
});
