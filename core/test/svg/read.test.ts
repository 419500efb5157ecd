import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, UnreadableFile, boundsOf, hex, readDrawing, takeIn, upright } from '../../src/index.js';
import type { Drawing, Entity } from '../../src/index.js';
import { bytesOf, only, read, svg } from '../helpers.js';

const one = (body: string, attributes?: string): Drawing => read(svg(body, attributes), 'x.svg');
const fillOf = (e: Entity): string => (e.look.fill.kind === 'rgb' ? hex(e.look.fill.rgb) : e.look.fill.kind);

describe('true size', () => {
  it('of a viewBox in millimetres', () => {
    expect(one('', 'width="200mm" height="100mm" viewBox="0 0 400 200"').unit).toEqual({ unit: 'mm', factor: 0.5 });
  });
  it('of inches, points and centimetres', () => {
    expect(one('', 'width="2in" height="1in" viewBox="0 0 2 1"').unit).toEqual({ unit: 'in', factor: 1 });
    expect(one('', 'width="144pt" height="72pt" viewBox="0 0 2 1"').unit).toEqual({ unit: 'in', factor: 1 });
    expect(one('', 'width="5cm" height="5cm" viewBox="0 0 50 50"').unit).toEqual({ unit: 'cm', factor: 0.1 });
  });
  it('of pixels alone stays open; a viewBox scales the pixels', () => {
    expect(one('', 'width="480" height="240" viewBox="0 0 100 50"').unit).toEqual({ unit: 'px', factor: 4.8 });
    expect(one('', 'viewBox="0 0 100 50"').unit).toEqual({ unit: 'px', factor: 1 });
  });
  it('by meet or slice when the proportions differ', () => {
    expect(one('', 'width="200mm" height="50mm" viewBox="0 0 100 100"').unit!.factor).toBe(0.5);
    expect(
      one('', 'width="200mm" height="50mm" viewBox="0 0 100 100" preserveAspectRatio="xMidYMid slice"').unit!.factor,
    ).toBe(2);
  });
  it('with physical size and no viewBox: a user unit is a CSS pixel', () => {
    expect(one('', 'width="100mm" height="100mm"').unit).toEqual({ unit: 'in', factor: 1 / 96 });
  });
  it('lengths inside are CSS pixels, whatever the page says', () => {
    // 5 mm are 5 · 96/25.4 user units, not 5.
    expect(only(one('<circle r="5mm"/>'), 'circle').radius).toBeCloseTo((5 * 96) / 25.4, 12);
    expect(only(one('<circle r="10%"/>'), 'circle').radius).toBeCloseTo(10, 12);
  });
});

describe('a nested viewport', () => {
  it('fits its viewBox: meet, in the middle', () => {
    // 20 × 10 into 40 × 40 at (10, 10): scale 2, 10 to spare above and below.
    const d = one('<svg x="10" y="10" width="40" height="40" viewBox="0 0 20 10"><line x2="20" y2="10"/></svg>');
    expect(only(d, 'line')).toMatchObject({ start: [10, 20, 0], end: [50, 40, 0] });
  });
  it('stretches with none', () => {
    const d = one(
      '<svg width="40" height="40" viewBox="0 0 20 10" preserveAspectRatio="none"><circle cx="10" cy="5" r="5"/></svg>',
    );
    const e = only(d, 'ellipse');
    expect(e.centre).toEqual([20, 20, 0]);
    expect(Math.hypot(...e.major)).toBeCloseTo(20, 12);
    expect(e.ratio).toBeCloseTo(0.5, 12);
  });
});

describe('shapes', () => {
  it('rect, with and without round corners; radii are limited to half the side', () => {
    expect(Array.from(only(one('<rect x="1" y="2" width="3" height="4"/>'), 'polyline').points)).toEqual([
      1, 2, 4, 2, 4, 6, 1, 6,
    ]);
    expect(boundsOf(one('<rect x="1" y="2" width="3" height="4" rx="9"/>')).toJSON()).toEqual({
      minX: 1,
      minY: 2,
      maxX: 4,
      maxY: 6,
    });
  });
  it('nothing for zero sizes', () => {
    expect(one('<rect width="0" height="4"/><circle r="0"/><path d="M1 1"/><polyline points="1,1"/>').entities).toEqual(
      [],
    );
  });
  it('a circle stays one under a turn and scale, and becomes an ellipse under a stretch', () => {
    expect(only(one('<circle r="2" transform="translate(5 5) rotate(30) scale(3)"/>'), 'circle').radius).toBeCloseTo(
      6,
      12,
    );
    expect(only(one('<circle r="2" transform="scale(3 1)"/>'), 'ellipse').ratio).toBeCloseTo(1 / 3, 12);
  });
  it('transform-origin, skew and lists of transforms', () => {
    expect(
      only(one('<line x2="1" transform="rotate(90)" style="transform-origin:1px 0"/>'), 'line').start.map(
        (v) => Math.round(v * 1e9) / 1e9 + 0,
      ),
    ).toEqual([1, -1, 0]);
    expect(only(one('<line x2="0" y2="1" transform="skewX(45)"/>'), 'line').end[0]).toBeCloseTo(1, 12);
  });
  it('path data: packed flags, implied commands, reflected points, relative after close', () => {
    const p = (d: string): number[] => Array.from(only(one(`<path d="${d}"/>`), 'path').path.data);
    expect(p('M0 0a5 5 0 0110 0')).toEqual([0, 0, 5, 5, 0, 0, 1, 10, 0]);
    expect(p('m1 1 2 0 0 2')).toEqual([1, 1, 3, 1, 3, 3]);
    expect(p('M0 0C0 1 1 1 1 0S2-1 2 0')).toEqual([0, 0, 0, 1, 1, 1, 1, 0, 1, -1, 2, -1, 2, 0]);
    expect(p('M0 0Q1 1 2 0T4 0')).toEqual([0, 0, 1, 1, 2, 0, 3, -1, 4, 0]);
    expect(p('M1 1h2v2zl-1 0')).toEqual([1, 1, 3, 1, 3, 3, 1, 1, 0, 1]);
    expect(p('M.5.5-1-1e1')).toEqual([0.5, 0.5, -1, -10]);
  });
  it('path data with an error keeps what comes before it', () => {
    const d = one('<path d="M0 0L5 5 L x 9"/>');
    expect(Array.from(only(d, 'path').path.data)).toEqual([0, 0, 5, 5]);
    expect(d.notes[0]!.text).toMatch(/error/);
  });
});

describe('style', () => {
  const rect = '<rect id="r" class="a b" width="1" height="1" fill="red"/>';
  const fill = (css: string, body = rect): string => fillOf(one(`<style>${css}</style>${body}`).entities[0]!);
  it('a stylesheet beats attributes, style beats stylesheets, !important beats all', () => {
    expect(fill('rect{fill:lime}')).toBe('#00ff00');
    expect(fill('rect{fill:lime}', rect.replace('fill="red"', 'style="fill:blue"'))).toBe('#0000ff');
    expect(fill('rect{fill:lime!important}', rect.replace('fill="red"', 'style="fill:blue"'))).toBe('#00ff00');
  });
  it('by specificity: id over class over type, then the later', () => {
    expect(fill('#r{fill:#010101} .a{fill:#020202} rect{fill:#030303}')).toBe('#010101');
    expect(fill('.a.b{fill:#010101} .a{fill:#020202}')).toBe('#010101');
    expect(fill('.a{fill:#010101} .b{fill:#020202}')).toBe('#020202');
  });
  it('descendant, child and attribute selectors', () => {
    const nested = `<g id="g"><g>${rect}</g></g>`;
    expect(fill('#g rect{fill:#010101}', nested)).toBe('#010101');
    expect(fill('#g > rect{fill:#010101}', nested)).toBe('#ff0000');
    expect(fill('[class~=b]{fill:#010101}')).toBe('#010101');
  });
  it('inherits, with currentColor and custom properties', () => {
    expect(fillOf(one('<g fill="#123"><rect width="1" height="1"/></g>').entities[0]!)).toBe('#112233');
    expect(fillOf(one('<g color="teal"><rect width="1" height="1" fill="currentColor"/></g>').entities[0]!)).toBe(
      '#008080',
    );
    expect(fill('svg{--k:#0a0b0c} rect{fill:var(--k)}')).toBe('#0a0b0c');
    expect(fill('rect{fill:var(--none, #0d0e0f)}')).toBe('#0d0e0f');
  });
  it.each([
    ['rgb(1,2,3)', '#010203'],
    ['rgb(100%,0%,0%)', '#ff0000'],
    ['hsl(120 100% 50%)', '#00ff00'],
    ['#abc', '#aabbcc'],
    ['rebeccapurple', '#663399'],
    ['none', 'none'],
  ])('reads %s', (text, want) => {
    expect(fillOf(one(`<rect width="1" height="1" fill="${text}"/>`).entities[0]!)).toBe(want);
  });
  it('the fill is black when nobody says anything, and a line has none', () => {
    expect(fillOf(one('<rect width="1" height="1"/>').entities[0]!)).toBe('#000000');
    expect(fillOf(one('<line x2="1" stroke="red"/>').entities[0]!)).toBe('none');
  });
  it('stroke width and dashes scale with the transform', () => {
    const { look } = one(
      '<g transform="scale(3)"><line x2="1" stroke="red" stroke-width="2" stroke-dasharray="1 2"/></g>',
    ).entities[0]!;
    expect(look.width).toEqual({ kind: 'drawing', value: 6 });
    expect(look.dash).toEqual({ kind: 'lengths', lengths: [3, 6], offset: 0 });
  });
  it('a gradient carries its mean colour', () => {
    const d = one(
      '<linearGradient id="a"><stop offset="0" stop-color="#000"/><stop offset="1" stop-color="#fff"/></linearGradient><linearGradient id="b" href="#a"/><rect width="1" height="1" fill="url(#b)"/>',
    );
    expect(d.entities[0]!.look.fill).toMatchObject({ kind: 'gradient', rgb: 0x808080 });
  });
});

describe('groups, layers and names', () => {
  it('the topmost named group is the layer; titles and labels beat ids; escapes are undone', () => {
    const d = one(
      '<g id="Floor_x20_plan"><g id="inner"><path d="M0 0H1"/></g></g><g id="x"><title>Öffnung</title><path d="M0 0H1"/></g><path d="M0 0H1"/>',
    );
    expect(d.entities.map((e) => e.layer)).toEqual(['Floor plan', 'Öffnung', '0']);
    expect(d.nodes.map((n) => n.name)).toEqual(['Floor plan', 'inner', 'Öffnung']);
  });
  it('reads a namespaced label', () => {
    const d = read(
      bytesOf(
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:v="urn:v"><g id="l1" v:label="Cut lines" v:groupmode="layer"><path d="M0 0H1"/></g></svg>',
      ),
      'x.svg',
    );
    expect(d.layers[0]!.name).toBe('Cut lines');
  });
  it('hidden groups are hidden layers', () => {
    const d = one('<g id="a" display="none"><path d="M0 0H1"/></g>');
    expect(d.layers[0]).toMatchObject({ name: 'a', off: true });
    expect(d.entities[0]!.look.visible).toBe(false);
  });
});

describe('use and symbol', () => {
  it('places instances, with inherited style', () => {
    const d = one('<defs><path id="p" d="M0 0H1"/></defs><use href="#p" x="5" y="6" stroke="red"/>');
    expect(Array.from(only(d, 'path').path.data)).toEqual([5, 6, 6, 6]);
    expect(only(d, 'path').look.stroke).toEqual({ kind: 'rgb', rgb: 0xff0000 });
  });
  it('fits a symbol', () => {
    const d = one(
      '<symbol id="s" viewBox="0 0 10 10"><line x2="10" y2="10"/></symbol><use href="#s" width="20" height="20"/>',
    );
    expect(only(d, 'line').end).toEqual([20, 20, 0]);
  });
});

describe('text', () => {
  it('each run with a place of its own', () => {
    const d = one(
      '<text x="1" y="2" font-size="10" font-family="\'Spline Sans\', serif">One <tspan x="1" dy="12">two</tspan></text>',
    );
    expect(d.entities.map((e) => e.kind === 'text' && [e.text, e.at[0], e.at[1], e.size, e.font!.family])).toEqual([
      ['One', 1, 2, 10, 'Spline Sans'],
      ['two', 1, 14, 10, 'Spline Sans'],
    ]);
  });
  it('turned, scaled and anchored', () => {
    const e = only(one('<text transform="rotate(90) scale(2)" font-size="10" text-anchor="middle">x</text>'), 'text');
    expect(e.rotation).toBeCloseTo(Math.PI / 2, 12);
    expect(e.size).toBeCloseTo(20, 12);
    expect(e.horizontal).toBe('centre');
  });
  it('set wide keeps its height and gets a width factor', () => {
    expect(only(one('<text transform="scale(1.5 1)" font-size="10">x</text>'), 'text')).toMatchObject({
      size: 10,
      widthFactor: 1.5,
    });
  });
});

it('turned over, an SVG has y upwards and its origin where it was', () => {
  const d = upright(one('<circle cx="10" cy="20" r="1"/>'));
  expect(only(d, 'circle').centre).toEqual([10, -20, 0]);
  expect(d.page).toEqual({ x: 0, y: -100, width: 100, height: 100 });
});

describe('what is lost is named', () => {
  const reasons = (body: string): string[] =>
    readDrawing(svg(body), 'x.svg').ledger.map((r) => `${r.action} ${r.reason}`);
  it.each([
    ['<g mask="url(#m)"><path d="M0 0H1"/></g>', /dropped masks/],
    ['<path filter="url(#f)" d="M0 0H1"/>', /dropped filter/],
    ['<path clip-path="circle(3px)" d="M0 0H1"/>', /dropped clip path circle/],
    ['<clipPath id="t"><text>A</text></clipPath><path clip-path="url(#t)" d="M0 0H1"/>', /dropped text as a clip path/],
    ['<path d="M0 0H1"><animate/></path><animate/>', /dropped animation/],
    ['<foreignObject><p/></foreignObject>', /dropped foreignObject/],
    ['<image href="data:,"/>', /dropped pictures/],
    ['<text><textPath href="#p">along</textPath></text>', /approximated text on a path that is not there/],
  ])('%s', (body, want) => expect(reasons(body).join('\n')).toMatch(want));
});

it('what is lost is named with its place, and so are fonts held in the file', () => {
  const body =
    '<style>@font-face{font-family:"Tram Sans";src:url(data:font/woff2;base64,AA)}</style>\n<mask id="m"/>\n<rect id="sky" mask="url(#m)" width="9" height="9"/>\n<meshgradient id="g"/><rect fill="url(#g)" width="9" height="9"/>';
  expect(
    one(body)
      .notes.map((n) => [n.text, n.where])
      .sort(),
  ).toEqual([
    ['<meshgradient> is not known and left out', 'line 4'],
    ['masks are not carried', 'line 3, rect sky'],
    ['paint by <meshgradient> is not carried', 'line 4, rect'],
    ['the font Tram Sans is held in the file and not read from it', 'in a stylesheet'],
  ]);
});

describe('safety', () => {
  it('gigantic and broken numbers neither hang nor reach the drawing', () => {
    const body = `<rect width="1e999" height="9"/><circle r="1e308" cx="1e308"/><path d="M0 0L1e400 5L${'9'.repeat(5000)} 1"/><path transform="scale(1e300)" d="M0 0L1e300 1"/><text font-size="1e999">a</text><rect x="${'1'.repeat(100000)}" width="1" height="1"/>`;
    const d = takeIn(one(body), NO_DECISIONS).drawing;
    for (const e of d.entities) {
      if (e.kind === 'path') expect(e.path.data.every(Number.isFinite)).toBe(true);
      if (e.kind === 'polyline') expect(e.points.every(Number.isFinite)).toBe(true);
    }
    expect(() => boundsOf(d)).not.toThrow();
  });
  it('scripts and event attributes are left out and said', () => {
    const d = one('<script>alert(1)</script><rect width="1" height="1" onclick="x()"/>');
    expect(d.entities.length).toBe(1);
    expect(d.notes.map((n) => n.text).join()).toMatch(/scripts.*event/);
  });
  it('entities of a document type are not expanded', () => {
    const bomb =
      '<!DOCTYPE svg [<!ENTITY a "xxxxxxxxxx"><!ENTITY b "&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>';
    expect(() => readDrawing(bytesOf(bomb), 'x.svg')).not.toThrow();
  });
  it('100,000 nested groups are cut at 256 and said', () => {
    const d = one('<g>'.repeat(100_000) + '<path d="M0 0H1"/>' + '</g>'.repeat(100_000));
    expect(d.entities).toEqual([]);
    expect(d.notes.map((n) => n.text).join()).toMatch(/256/);
  });
  it('a use that contains itself, directly or in a ring, ends', () => {
    const d = one('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/><path d="M0 0H1"/></g>');
    expect(d.entities.length).toBeGreaterThan(0);
    expect(d.notes.map((n) => n.text).join()).toMatch(/contains itself/);
  });
  it('a document that breaks off keeps what came before', () => {
    const { drawing, ledger } = readDrawing(
      bytesOf('<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H1"/><path d="M0'),
      'x.svg',
    );
    expect(drawing.entities.length).toBe(1);
    expect(ledger.some((r) => r.action === 'dropped' && r.reason.includes('broken off'))).toBe(true);
  });
  it('another root is refused with its name', () => {
    expect(() => readDrawing(bytesOf('<html><svg xmlns="http://www.w3.org/2000/svg"/></html>'), 'x.svg')).toThrow(
      UnreadableFile,
    );
  });
});
