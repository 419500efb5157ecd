import { describe, expect, it } from 'vitest';
import { CHECKS, DRAFTING_DEFAULT, findingsReport, inventoryOf, runChecks } from '../src/index.js';
import { demoFile, drawingOf, read } from './helpers.js';
import { ONCE } from './sketches.js';

const painted = (rgb: number, more: object = {}) => ({
  kind: 'line',
  start: [0, 0, 0],
  end: [3, 4, 0],
  layer: 'A',
  look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb } },
  ...more,
});

describe('inventory', () => {
  it('counts colours with their index, exact or nearest, most used first', () => {
    const d = drawingOf([painted(0xff0000), painted(0xff0000), painted(0x123456)] as never);
    const { swatches } = inventoryOf(d);
    expect(swatches.map((s) => [s.hex, s.exact, s.lines, s.areas, s.texts])).toEqual([
      ['#ff0000', true, 2, 0, 0],
      ['#123456', false, 1, 0, 0],
    ]);
    expect(swatches[0]!.index).toBe(1);
  });
  it('lengths and points per layer; an insert counts what it shows', () => {
    const ring = {
      kind: 'polyline',
      points: Float64Array.of(0, 0, 10, 0, 10, 10, 0, 10),
      dim: 2,
      elevation: 0,
      closed: true,
      layer: 'B',
    };
    const d = drawingOf([painted(1), ring] as never);
    d.blocks.set('p', { name: 'P', base: [0, 0, 0], entities: [{ ...painted(1), id: 90 }] as never });
    d.entities.push({
      kind: 'insert',
      id: 91,
      layer: 'A',
      look: DRAFTING_DEFAULT,
      block: 'P',
      at: [50, 0, 0],
      scale: [2, 2, 2],
      rotation: 0,
      ...ONCE,
    });
    expect(inventoryOf(d).layers).toEqual([
      { name: 'A', entities: 2, length: 15, nodes: 0 },
      { name: 'B', entities: 1, length: 40, nodes: 4 },
    ]);
    expect(inventoryOf(d).kinds).toContainEqual({ kind: 'insert', count: 1 });
  });
});

describe('the report', () => {
  const report = (name: string): string => {
    const d = read(demoFile('kestrel-row-section.dxf'));
    const checks = new Map(CHECKS.map((c) => [c.id, c]));
    return findingsReport(d, {
      name,
      format: 'DXF 2018',
      findings: runChecks(d),
      checks,
      inventory: inventoryOf(d),
      purpose: 'Cutting',
      strip: [
        { carryOver: 'curves', state: 'kept' },
        { carryOver: 'text', state: 'atRisk' },
      ],
      aside: [{ ...runChecks(d)[0]!, why: 'the <client> knows' }],
      fonts: [{ family: 'Spline Sans', weight: 400, address: 'data:font/woff2;base64,AAAA' }],
    });
  };
  it('says what was found, where, and what the drawing holds', () => {
    const html = report('section.dxf');
    expect(html).toContain('The text says 400, the drawing measures 370 mm');
    expect(html).toContain('<h1>section.dxf</h1>');
    expect(html).toContain('#7f3f00');
    expect(html).toMatch(/<td>CONCRETE<\/td><td class="n">\d+<\/td>/);
  });
  it('has our type, the states, a scale bar, and a unit beside each number', () => {
    const html = report('section.dxf');
    expect(html).toContain("font-family:'Spline Sans';font-weight:400;src:url(data:font/woff2");
    expect(html).toMatch(/<b>text<\/b><svg.*?<\/svg> at risk/);
    expect(html).toContain('made ready for: cutting');
    // The section is 4200 mm wide and 4455 high: 336 units of the picture, which is 640 wide, are 4455 mm, so 30 % of its
    // width are 2546 mm, and 2000 mm are 336 / 4455 · 2000 / 640 = 23.57 % of it.
    expect(html).toContain('<span>2000 mm</span>');
    expect(html).toContain('class="bar" style="width:23.57%"');
    expect(html).toContain('the &lt;client&gt; knows');
    for (const [, at] of html.matchAll(/<td class="n">(-?[\d.]+, -?[\d.]+[^<]*)<\/td>/g)) expect(at).toMatch(/ mm$/);
    expect(html).not.toMatch(/richText|\d insert\b/);
  });
  it('takes nothing of the drawing for markup, runs nothing and fetches nothing', () => {
    const html = report('<img src=x onerror=alert(1)>.dxf');
    expect(html).not.toContain('<img');
    expect(html).not.toMatch(/<script|https?:(?!\/\/www\.w3\.org)|url\((?!data:)/);
  });
});
