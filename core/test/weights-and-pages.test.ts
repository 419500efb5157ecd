import { describe, expect, it } from 'vitest';
import type { Drawing, TargetGiven } from '../src/index.js';
import { GROUND, NO_DECISIONS, boundsOf, deliver, prepare, readDrawing, targetFor } from '../src/index.js';
import { nearestWeight } from '../src/formats/drafting/weights.js';
import { bytesOf, demoFile, dxf, fonts, hop, read, risks, svg, textOf } from './helpers.js';
import { renderer } from './witness/renderer.js';

describe('the thinnest line', () => {
  const source = read(
    dxf(
      [0, 'LINE', 8, 'A', 370, 0, 10, 0, 20, 0, 11, 9, 21, 0, 0, 'LINE', 8, 'A', 370, 50, 10, 0, 20, 5, 11, 9, 21, 5],
      { units: 4 },
    ),
  );
  it('is seen in an SVG, which paints nothing of width 0, and the ledger says what it became', () => {
    const { made, proof } = hop(source, { format: 'svg' });
    expect(textOf(made.bytes)).toMatch(/stroke-width="\.05"/);
    expect(textOf(made.bytes)).not.toMatch(/stroke-width="0"/);
    expect(risks(proof)).toEqual([]);
    expect(made.ledger).toContainEqual(
      expect.objectContaining({ reason: expect.stringMatching(/weight 0/) as string, count: 1 }),
    );
  });
  it('stays weight 0 from drafting to drafting', () => {
    for (const format of ['dxf', 'dwg'] as const)
      expect(hop(source, { format }).back.entities.map((e) => e.look.width)).toEqual(
        source.entities.map((e) => e.look.width),
      );
  });
  it('is never what a thin pen becomes: 0.01 mm is the least weight there is, 0.05', () => {
    expect([0, 0.001, 0.02, 0.06, 0.08, 9].map(nearestWeight)).toEqual([0, 5, 5, 5, 9, 211]);
  });
});

describe('the size of a page', () => {
  const size = (attributes: string): [number, number, string] => {
    const drawing = read(
      bytesOf(
        `<svg xmlns="http://www.w3.org/2000/svg" ${attributes} viewBox="0 0 100 100"><path d="M0 0H100V100H0Z"/></svg>`,
      ),
      'a.svg',
    );
    const { drawing: d } = prepare(drawing, { ...NO_DECISIONS, unit: 'mm', pxPerInch: 96 }, [], { fonts: fonts() });
    const b = boundsOf(d);
    return [b.width, b.height, d.unit!.unit];
  };
  it.each([
    ['width="10cm" height="3.9370078740157481in"', 100],
    ['width="3.9370078740157481in" height="100mm"', 100],
    ['width="100mm" height="377.95275590551182px"', 100],
    ['width="377.95275590551182px" height="10cm"', 100],
    ['width="283.46456692913387pt" height="400Q"', 100],
    ['width="20cm" height="50mm"', 50],
  ])('%s: its sides are compared as lengths', (attributes, side) => {
    const [w, h, unit] = size(attributes);
    expect([w, h]).toEqual([expect.closeTo(side, 9), expect.closeTo(side, 9)]);
    expect(unit).toBe('mm');
  });
});

it('rich text with a turned normal stands in R12 where it stands in the source', () => {
  // The insertion point of rich text is in world coordinates whatever its normal (DXF reference, MTEXT group 10).
  const source = read(
    dxf(
      [
        0,
        'MTEXT',
        5,
        '31',
        8,
        'A',
        100,
        'AcDbMText',
        10,
        200,
        20,
        10,
        30,
        5,
        40,
        4,
        41,
        0,
        71,
        1,
        72,
        1,
        1,
        'AB',
        210,
        0,
        220,
        0,
        230,
        -1,
      ],
      { units: 4 },
    ),
  );
  const { made, proof } = hop(source, { format: 'dxf', version: 'R12' });
  expect(risks(proof)).toEqual([]);
  const tags = textOf(made.bytes).split(/\r?\n/);
  const from = tags.lastIndexOf('TEXT');
  const value = (code: string): number => Number(tags[tags.indexOf(code, from) + 1]);
  // In the plane of (0, 0, -1) world x is counted backwards (arbitrary axis algorithm), and so is z.
  expect([value(' 10'), value(' 30'), value('230')]).toEqual([expect.closeTo(-200, 9), expect.closeTo(-5, 9), -1]);
});

it('numbers beyond all bounds leave their object out, with its kind, layer and place; the rest is read', () => {
  const source = read(
    dxf([
      0,
      'LINE',
      5,
      '20',
      8,
      'FAR',
      10,
      '1e300',
      20,
      0,
      11,
      9,
      21,
      0,
      0,
      'LINE',
      5,
      '21',
      8,
      'A',
      10,
      0,
      20,
      0,
      11,
      9,
      21,
      0,
    ]),
  );
  expect(source.entities.map((e) => e.key)).toEqual(['21']);
  expect(source.notes[0]!.text).toMatch(/LINE with a number beyond all bounds \(1e300\)/);
  expect(source.notes[0]!.where).toMatch(/line \d+/);
});

describe('the page of an SVG', () => {
  const page = (d: Drawing, target: TargetGiven = {}): { width: string; box: number[] } => {
    const text = textOf(deliver(d, targetFor('svg', target), 'a', fonts()).bytes);
    const [, width, box] = /width="([^"]*)" height="[^"]*" viewBox="([^"]*)"/.exec(text)!;
    return { width: width!, box: box!.split(' ').map(Number) };
  };
  const art = (inside: string, root = 'width="100mm" height="80mm" viewBox="0 0 100 80"'): Drawing =>
    prepare(readDrawing(svg(inside, root), 'a.svg').drawing, NO_DECISIONS, []).drawing;
  const square = '<rect x="20" y="30" width="40" height="10" fill="#a00" stroke="#000" stroke-width="4"/>';

  it('is that of the source', () => {
    expect(page(art(square))).toEqual({ width: '100mm', box: [0, 0, 100, 80] });
    expect(page(art(square, 'width="100mm" height="80mm" viewBox="-10 5 200 160"'))).toEqual({
      width: '100mm',
      box: [-5, 2.5, 100, 80],
    });
  });
  it('goes where the drawing goes', () => {
    const source = readDrawing(svg(square, 'width="100mm" height="80mm" viewBox="0 0 100 80"'), 'a.svg').drawing;
    const moved = prepare(
      source,
      { ...NO_DECISIONS, origin: { ...NO_DECISIONS.origin, mode: 'lowerLeft' } },
      [],
    ).drawing;
    // The outline of the square begins at 20 from the left and ends at 40 from above.
    expect(page(moved).box).toEqual([-20, -40, 100, 80]);
  });
  it('that shows nothing of the drawing is not kept', () => {
    const { box } = page(art('<rect x="300" y="300" width="40" height="10" fill="#a00"/>'));
    expect(box).toEqual([300, 300, 40, 10]);
  });
  it('of a drafting drawing holds lines as wide as they are', () => {
    const bytes = dxf(
      [0, 'LWPOLYLINE', 8, '0', 370, 200, 90, 4, 70, 1, 10, 0, 20, 0, 10, 50, 20, 0, 10, 50, 20, 30, 10, 0, 20, 30],
      { units: 4 },
    );
    const drawing = prepare(readDrawing(bytes, 'a.dxf').drawing, NO_DECISIONS, []).drawing;
    // A line of 2 mm reaches over its outline by 1 mm on each side.
    expect(page(drawing)).toEqual({ width: '52mm', box: [-1, -31, 52, 32] });
    expect(page(drawing, { page: 'outlines' })).toEqual({ width: '50mm', box: [0, -30, 50, 30] });
  });
  it('never cuts a line: on a larger page nothing more is seen', async () => {
    const judge = await renderer();
    for (const name of ['kestrel-row-front-elevation.dxf', 'kestrel-row-mullion.dxf', 'kestrel-row-section.dxf']) {
      const drawing = prepare(readDrawing(demoFile(name), name).drawing, NO_DECISIONS, []).drawing;
      const text = textOf(deliver(drawing, targetFor('svg'), name, fonts()).bytes);
      const [x, y, w, h] = page(drawing).box as [number, number, number, number];
      const pad = 0.1 * w;
      const larger = text.replace(
        /width="[^"]*" height="[^"]*" viewBox="[^"]*"/,
        `width="${w + 2 * pad}" height="${h + 2 * pad}" viewBox="${x - pad} ${y - pad} ${w + 2 * pad} ${h + 2 * pad}"`,
      );
      const picture = judge.draw(larger)!;
      const rim = Math.floor((pad / (w + 2 * pad)) * picture.width) - 1;
      for (let i = 0; i < picture.width * picture.height; i++) {
        const [px, py] = [i % picture.width, Math.floor(i / picture.width)];
        if (px >= rim && py >= rim && px < picture.width - rim && py < picture.height - rim) continue;
        expect([...picture.pixels.subarray(4 * i, 4 * i + 3)], `${name} at ${px}, ${py}`).toEqual([...GROUND]);
      }
    }
  });
});
