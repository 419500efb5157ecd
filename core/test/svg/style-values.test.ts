import { describe, expect, it } from 'vitest';
import { readDrawing } from '../../src/index.js';
import { hex } from '../../src/drawing/palette.js';
import { soundValue } from '../../src/formats/svg/style-values.js';

/** The fill of a rectangle as a browser computes it, and how opaque it is. */
function seen(rect: string, around = '', css = ''): [string, number] {
  const text = `<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><style>${css}</style><g ${around}><rect width="5" height="5" ${rect}/></g></svg>`;
  const { look } = readDrawing(new TextEncoder().encode(text), 'a.svg').drawing.entities[0]!;
  const fill = look.fill.kind === 'rgb' ? hex(look.fill.rgb) : look.fill.kind;
  return [fill, Number((look.opacity * look.fillOpacity).toFixed(4))];
}

describe('values of style are settled by the grammar of their property', () => {
  // Worked out by the rules of CSS Cascade 4, CSS Color 4 and CSS Variables 1, not by running anything.
  it.each<[string, [string, number], string, string?, string?]>([
    ['opacity in percent', ['#ff0000', 0.5], 'fill="#f00" opacity="50%"'],
    ['opacity of the fill in percent', ['#ff0000', 0.25], 'fill="#f00" fill-opacity="25%"'],
    ['opacity beyond 1', ['#ff0000', 1], 'fill="#f00" opacity="7"'],
    ['opacity that is none', ['#ff0000', 1], 'fill="#f00" opacity="half"'],
    [
      'an inherited opacity is the parent’s own',
      ['#ff0000', 0.25],
      'fill="#f00" style="opacity:inherit"',
      'opacity=".5"',
    ],
    ['an inherited opacity of a parent without one', ['#ff0000', 1], 'fill="#f00" style="opacity:inherit"'],
    ['a later value that is none leaves the earlier', ['#ff0000', 1], 'style="fill:#f00;fill:oops"'],
    ['a value that is none leaves the attribute', ['#0000ff', 1], 'fill="#00f" style="fill:12px"'],
    ['a value that is none leaves the parent’s', ['#00ff00', 1], 'fill="nocolour"', 'fill="#0f0"'],
    ['initial is what stands outside any element', ['#000000', 1], 'fill="initial"', 'fill="#0f0"'],
    ['initial in a style', ['#000000', 1], 'style="fill:initial"', 'fill="#0f0"'],
    ['unset of what is inherited is the parent’s', ['#00ff00', 1], 'style="fill:unset"', 'fill="#0f0"'],
    ['unset of what is not is the initial', ['#ff0000', 1], 'fill="#f00" opacity=".5" style="opacity:unset"'],
    ['inherit goes past the own attribute', ['#00ff00', 1], 'fill="#f00" style="fill:inherit"', 'fill="#0f0"'],
    ['a variable', ['#112233', 1], 'style="fill:var(--a)"', 'style="--a:#123"'],
    ['a fallback with brackets of its own', ['#010203', 1], 'style="fill:var(--none, rgb(1, 2, 3))"'],
    ['a fallback within a fallback', ['#445566', 1], 'style="fill:var(--none, var(--nor-this, #456))"'],
    [
      'a variable is worked out where it is set',
      ['#ff0000', 1],
      'style="--b:#00f;fill:var(--a)"',
      'style="--b:#f00;--a:var(--b)"',
    ],
    ['variables in whatever order', ['#aabbcc', 1], 'style="fill:var(--a);--a:var(--b);--b:#abc"'],
    ['important in a sheet', ['#ff00ff', 1], 'class="k" style="fill:#0f0"', '', '.k{fill:#f0f !important}'],
    ['clear colours', ['#ff0000', 0.5], 'fill="rgba(255,0,0,50%)"'],
  ])('%s', (_, expected, rect, around, css) => {
    expect(seen(rect, around, css)).toEqual(expected);
  });

  it('a font in one word, also where nothing stands between size and name', () => {
    const font = (style: string) => {
      const text = `<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><style>text{${style}}</style><text>Kestrel</text></svg>`;
      const e = readDrawing(new TextEncoder().encode(text), 'a.svg').drawing.entities[0]!;
      return e.kind === 'text' && [e.font!.family, e.font!.weight, e.size];
    };
    expect(font("font:bold 16px 'Source Serif'")).toEqual(['Source Serif', 700, 16]);
    expect(font('font:bold 16px Spline Sans')).toEqual(['Spline Sans', 700, 16]);
  });

  it('a stylesheet for paper or of another language is not the screen’s', () => {
    const fill = (attributes: string): string => {
      const text = `<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><style ${attributes}>rect{fill:#f00}</style><rect width="5" height="5"/></svg>`;
      const { drawing } = readDrawing(new TextEncoder().encode(text), 'a.svg');
      const { fill: f } = drawing.entities[0]!.look;
      return f.kind === 'rgb' ? hex(f.rgb) : f.kind;
    };
    expect(fill('')).toBe('#ff0000');
    expect(fill('media="all" type="text/css"')).toBe('#ff0000');
    expect(fill('media="screen, print"')).toBe('#ff0000');
    expect(fill('media="print"')).toBe('#000000');
    expect(fill('type="text/less"')).toBe('#000000');
  });

  it('what the outermost element says holds for all, or is a row', () => {
    const read = (root: string) =>
      readDrawing(
        new TextEncoder().encode(
          `<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10" ${root}><rect width="5" height="5" fill-opacity=".5"/></svg>`,
        ),
        'a.svg',
      );
    const { look } = read('opacity="50%"').drawing.entities[0]!;
    expect([look.opacity, look.fillOpacity]).toEqual([0.5, 0.5]);
    expect(read('style="display:none"').drawing.entities[0]?.look.visible ?? false).toBe(false);
    for (const [root, carryOver] of [
      ['transform="scale(2)"', 'origin'],
      ['filter="url(#f)"', 'colour'],
      ['mask="url(#m)"', 'colour'],
    ])
      expect(
        read(root!)
          .ledger.filter((r) => r.action === 'dropped')
          .map((r) => r.carryOver),
        root,
      ).toEqual([carryOver]);
  });

  it('sound values have one form, whatever stands round them', () => {
    expect([' 25% ', '.25', '0.25', '2.5e-1'].map((v) => soundValue('opacity', v))).toEqual(Array(4).fill('0.25'));
    expect(['', '%', '1 2', 'NaN', 'calc(1)'].map((v) => soundValue('opacity', v))).toEqual(Array(5).fill(null));
    expect(soundValue('fill-rule', 'EvenOdd')).toBe('evenodd');
    expect(soundValue('stroke', 'url(#g) red')).toBe('url(#g) red');
    expect(soundValue('font-family', 'anything, goes')).toBe('anything, goes');
  });
});
