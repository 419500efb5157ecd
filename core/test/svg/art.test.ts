import { describe, expect, it } from 'vitest';
import type { ArtDecisions } from '../../src/index.js';
import { ART_DEFAULT, NO_DECISIONS, readDrawing, takeIn } from '../../src/index.js';
import { Cmd } from '../../src/geometry/path.js';
import { hop, read, risks, svg } from '../helpers.js';

const taken = (body: string, art: Partial<ArtDecisions> = {}) =>
  takeIn(read(svg(body), 'x.svg'), { ...NO_DECISIONS, art: { ...ART_DEFAULT, ...art } });
const reasons = (t: ReturnType<typeof taken>): string[] => t.ledger.map((r) => `${r.action} ${r.reason} ${r.count}`);
const half = '<clipPath id="c"><rect width="50" height="100"/></clipPath>';

describe('clips', () => {
  it('cut a circle to an arc and a line, kept as one outline; what is inside stays what it was', () => {
    const body = `${half}<g clip-path="url(#c)"><circle cx="50" cy="50" r="20"/><circle cx="20" cy="50" r="9"/><circle cx="80" cy="50" r="9"/></g>`;
    const t = taken(body);
    expect(t.drawing.entities.map((e) => e.kind)).toEqual(['path', 'circle']);
    const [cut] = t.drawing.entities;
    expect(cut!.kind === 'path' && [...cut.path.cmds].filter((c) => c === Cmd.Arc).length).toBeGreaterThan(0);
    expect(reasons(t)).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^changed shapes cut to their clip paths.* 1$/),
        expect.stringMatching(/^dropped shapes wholly hidden by a clip path.* 1$/),
      ]),
    );
  });
  it('come whole when that is decided, and the ledger says what is not hidden', () => {
    const t = taken(`${half}<circle clip-path="url(#c)" cx="50" cy="50" r="20"/>`, { clips: 'whole' });
    expect(t.drawing.entities.map((e) => e.kind)).toEqual(['circle']);
    expect(reasons(t).join()).toMatch(/dropped clip paths not applied/);
  });
  it('of a shape with fill and line give the area that is left and the line that is left', () => {
    const t = taken(`${half}<circle clip-path="url(#c)" cx="50" cy="50" r="20" stroke="#000"/>`);
    expect(t.drawing.entities.map((e) => [e.look.fill.kind, e.look.stroke.kind])).toEqual([
      ['rgb', 'none'],
      ['none', 'rgb'],
    ]);
    expect(new Set(t.drawing.entities.map((e) => e.id)).size).toBe(2);
  });
  it('that are empty hide everything; those that are not there hide nothing', () => {
    expect(taken('<clipPath id="c"/><circle clip-path="url(#c)" r="20"/>').drawing.entities).toEqual([]);
    expect(taken('<circle clip-path="url(#none)" r="20"/>').drawing.entities.length).toBe(1);
  });
  it('in a circle end', () => {
    const body =
      '<clipPath id="a" clip-path="url(#b)"><rect width="9" height="9"/></clipPath><clipPath id="b" clip-path="url(#a)"><rect width="9" height="9"/></clipPath><rect clip-path="url(#a)" width="20" height="20"/>';
    expect(taken(body).drawing.entities.length).toBe(1);
  });
  it('go to DXF as cut curves, and the proof holds', () => {
    const source = read(
      svg(
        `${half}<g clip-path="url(#c)"><circle cx="50" cy="50" r="20" fill="none" stroke="#000"/><path d="M0 0H100V90" stroke="#000" fill="none"/></g>`,
      ),
      'x.svg',
    );
    const { proof, back } = hop(source, { format: 'dxf' });
    expect(risks(proof)).toEqual([]);
    expect(back.entities.length).toBe(2);
  });
});

describe('fill patterns', () => {
  const body =
    '<pattern id="p" width="10" height="10" patternUnits="userSpaceOnUse"><rect width="5" height="5" fill="#c00"/></pattern><rect x="0" y="0" width="20" height="20" fill="url(#p)" stroke="#000"/>';
  it('come as shapes under the line of what they fill', () => {
    const t = taken(body);
    expect(t.drawing.entities.map((e) => e.look.fill.kind)).toEqual(['rgb', 'rgb', 'rgb', 'rgb', 'none']);
  });
  it('or as one plain colour', () => {
    const t = taken(body, { patterns: 'colour' });
    expect(t.drawing.entities.map((e) => e.look.fill)).toEqual([{ kind: 'rgb', rgb: 0xcc0000 }]);
    expect(reasons(t).join()).toMatch(/approximated fill patterns replaced by one plain colour/);
  });
  it('too fine to draw are shown by their colour, and said', () => {
    const d = read(svg(body.replaceAll('"10"', '".1"')), 'x.svg');
    expect(d.entities.length).toBe(1);
    expect(d.notes[0]!.text).toMatch(/more than 4000 tiles/);
  });
  it('that fill themselves end', () => {
    const d = read(
      svg(
        '<pattern id="p" width="9" height="9" patternUnits="userSpaceOnUse"><rect width="9" height="9" fill="url(#p)"/></pattern><rect width="20" height="20" fill="url(#p)"/>',
      ),
      'x.svg',
    );
    expect(d.entities.length).toBeLessThan(20);
  });
});

describe('gradients', () => {
  const body =
    '<linearGradient id="g"><stop stop-color="#000"/><stop offset="1" stop-color="#fff" stop-opacity=".5"/></linearGradient><rect width="20" height="20" fill="url(#g)"/>';
  it('stay gradients on their shape, wherever it goes', () => {
    const { back } = hop(read(svg(body), 'x.svg'), { format: 'svg', unit: 'cm' });
    const paint = back.entities[0]!.look.fill;
    expect(paint.kind === 'gradient' && paint.stops.map((s) => [s.offset, s.rgb, s.opacity])).toEqual([
      [0, 0, 1],
      [1, 0xffffff, 0.5],
    ]);
    // 20 user units of 1 mm, in centimetres.
    expect(paint.kind === 'gradient' && paint.place!.map[0]).toBeCloseTo(2, 9);
  });
  it.each([
    ['mean', 0x808080, 0.75],
    ['first', 0x000000, 1],
    ['last', 0xffffff, 0.5],
  ] as const)('become their %s colour', (how, rgb, opacity) => {
    const { look } = taken(body, { gradients: how }).drawing.entities[0]!;
    expect([look.fill, look.fillOpacity]).toEqual([{ kind: 'rgb', rgb }, opacity]);
  });
});

describe('layers by a rule, decided on taking in', () => {
  const body =
    '<g id="a"><g id="b"><rect class="x y" width="9" height="9" fill="#f00"/></g><path class="y x" d="M0 0H9" stroke="#00f" stroke-width="2"/></g>';
  it.each([
    ['path', ['a / b', 'a']],
    ['fill', ['fill #ff0000', 'fill #000000']],
    ['stroke', ['stroke none', 'stroke #0000ff']],
    ['class', ['class x y']],
    ['width', ['width 1', 'width 2']],
  ] as const)('by %s', (rule, names) => {
    const t = takeIn(read(svg(body + '<g id="z"/>'), 'x.svg'), { ...NO_DECISIONS, layersFrom: rule });
    expect(t.drawing.layers.map((l) => l.name)).toEqual(names);
  });
});

describe('pictures', () => {
  const png =
    'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVR4nGP4z8DAwMDAxAADCBYAHfkDAh0Kk0EAAAAASUVORK5CYII=';
  it('held in the file go along in SVG, in their place', () => {
    const { back, proof } = hop(read(svg(`<image x="10" y="20" width="40" height="40" href="${png}"/>`), 'x.svg'), {
      format: 'svg',
    });
    const [e] = back.entities;
    expect(e).toMatchObject({ kind: 'image', pixels: [2, 2], data: png });
    expect(risks(proof)).toEqual([]);
  });
  it('outside it are named and never fetched; anything else than a picture is not taken', () => {
    const d = read(
      svg(
        '<image width="9" height="9" href="http://example.invalid/a.png"/><image width="9" height="9" href="data:text/html,x"/>',
      ),
      'x.svg',
    );
    expect(d.entities.map((e) => e.kind === 'image' && [e.file, e.data])).toEqual([
      ['http://example.invalid/a.png', undefined],
      [undefined, undefined],
    ]);
    expect(d.notes.map((n) => n.text)).toContain(
      'a picture outside the file is looked for among those of the job, never fetched',
    );
    expect(read(svg('<use href="other.svg#a"/>'), 'x.svg').notes.map((n) => n.text)).toContain(
      'a reference out of the file is never fetched',
    );
  });
});

it('nothing of what is hidden by a clip is counted as lost without a word', () => {
  const source = readDrawing(
    svg(`${half}<g clip-path="url(#c)"><rect x="10" width="80" height="9"/><rect x="70" width="9" height="9"/></g>`),
    'x.svg',
  ).drawing;
  expect(risks(hop(source, { format: 'svg' }).proof)).toEqual([]);
});
