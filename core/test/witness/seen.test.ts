import { beforeAll, describe, expect, it } from 'vitest';
import type { Draft, Drawing, Entity, ProofItem, Renderer, Target, TargetGiven } from '../../src/index.js';
import {
  NO_DECISIONS,
  deliver,
  differing,
  prepare,
  proveDelivery,
  readDrawing,
  seenAlike,
  seenInSource,
  targetFor,
} from '../../src/index.js';
import { bytesOf, demoFile, fonts, svg, textOf } from '../helpers.js';
import { CASES } from '../svg/cases.js';
import { generatedArt } from './generated-art.js';
import { renderer } from './renderer.js';
import { often } from '../depth.js';

let judge: Renderer;
beforeAll(async () => {
  judge = await renderer();
});

const ROOT = 'width="100mm" height="100mm" viewBox="0 0 100 100"';
const read = (bytes: Uint8Array): Drawing => readDrawing(bytes, 'a.svg').drawing;
const seen = (bytes: Uint8Array, drawing = read(bytes)): ReturnType<typeof seenInSource> =>
  seenInSource(bytes, drawing, judge, fonts());

/** What a reader might have made of a file, had it misread it. */
const misread = (drawing: Drawing, change: (e: Draft<Entity>) => void): Drawing => ({
  ...drawing,
  entities: drawing.entities.map((e) => {
    const copy = { ...e } as Draft<Entity>;
    change(copy);
    return copy as Entity;
  }),
});

describe('what was read of an SVG looks like it', () => {
  it.each(CASES.map((c) => [c.name, c] as const))('%s', (_, c) => {
    const { same, why, share } = seen(svg(c.body, c.root ?? ROOT));
    if (c.miss) return expect(same).not.toBe(true);
    // Where the renderer is known to be wrong nothing is claimed.
    if (c.disputed?.startsWith('resvg')) return;
    expect(same === true || why, `${share} of it`).toBeTruthy();
  });

  it('in art by chance, of every kind of shape, paint and transform', () => {
    const shares: number[] = [];
    let judged = 0;
    const drawings = often(190);
    for (let i = 0; i < drawings; i++) {
      const bytes = bytesOf(generatedArt(i, { clips: false }));
      const found = seen(bytes);
      shares.push(found.share);
      if (found.same !== null) judged++;
      // The one thing in it that is known not to come out alike, and said.
      const told = (): boolean => readDrawing(bytes, 'a.svg').ledger.some((r) => r.code === 'group-opacity-by-part');
      expect(found.same === true || found.why || told(), `drawing ${i}: ${found.share}`).toBeTruthy();
    }
    expect(judged).toBeGreaterThan(0.79 * drawings);
    expect(Math.max(...shares)).toBeLessThan(0.05);
  }, 240_000);

  it('wherever the page shows more or less than its viewBox', () => {
    const body = '<rect x="-40" y="5" width="60" height="20" fill="#a30"/><circle cx="90" cy="80" r="30" fill="#068"/>';
    for (const root of [
      'width="200mm" height="100mm" viewBox="0 0 100 100"',
      'width="200mm" height="100mm" viewBox="0 0 100 100" preserveAspectRatio="xMinYMin slice"',
      'width="60mm" height="100mm" viewBox="0 0 100 100" preserveAspectRatio="xMaxYMax"',
      'width="60mm" height="100mm" viewBox="10 20 100 100" preserveAspectRatio="none"',
    ])
      expect(seen(svg(body, root)), root).toMatchObject({ same: true });
  });
});

describe('art by chance, to DXF and back to SVG', () => {
  it('looks as it did: all but a hundredth of the picture in 19 of 20 drawings, and whatever does not has a row', () => {
    const parts: number[] = [];
    for (let i = 0; i < 40; i++) {
      // Lines as wide as drafting has weights for.
      const bytes = bytesOf(generatedArt(i, { clips: false, gradients: false, widest: 2 }));
      const reading = readDrawing(bytes, 'a.svg');
      const prepared = prepare(reading.drawing, NO_DECISIONS, [], { fonts: fonts() });
      const made = deliver(prepared.drawing, targetFor('dxf'), 'a.svg', fonts());
      const again = prepare(readDrawing(made.bytes, made.name).drawing, NO_DECISIONS, []).drawing;
      const text = textOf(deliver(again, targetFor('svg'), made.name, fonts()).bytes).replace(
        /width="[^"]*" height="[^"]*" viewBox="[^"]*"/,
        'width="200mm" height="160mm" viewBox="0 0 200 160"',
      );
      const [before, after] = [judge.draw(bytes)!, judge.draw(text)!];
      const { other, inked } = differing(before, after);
      parts.push(other / (before.width * before.height));
      const told = [...reading.ledger, ...prepared.ledger, ...made.ledger].some(
        (r) => r.action === 'dropped' || r.action === 'approximated',
      );
      if (other / inked > 0.002) expect(told, `drawing ${i}`).toBe(true);
    }
    parts.sort((a, b) => a - b);
    expect(parts[Math.floor(0.95 * parts.length)]).toBeLessThan(0.01);
  }, 120_000);
});

describe('what a reader misreads is seen', () => {
  const body =
    '<path d="M10 10h60v60h-60zM30 30h20v20h-20z" fill="#a03020" fill-rule="evenodd"/>' +
    '<line x1="10" y1="90" x2="90" y2="90" stroke="#204080" stroke-width="4" stroke-dasharray="8 6"/>' +
    '<circle cx="80" cy="30" r="15" fill="#30a050" fill-opacity="0.5"/>';
  const bytes = svg(body, ROOT);
  const lies: Record<string, (e: Draft<Entity>) => void> = {
    'a fill that fills its hole': (e) => void (e.look = { ...e.look, fillRule: 'nonzero' }),
    'a colour': (e) => void (e.kind === 'path' && (e.look = { ...e.look, fill: { kind: 'rgb', rgb: 0x2030a0 } })),
    opacity: (e) => void (e.look = { ...e.look, fillOpacity: 1 }),
    dashes: (e) => void (e.look = { ...e.look, dash: { kind: 'linetype', name: 'Continuous', scale: 1 } }),
    'a width': (e) => void (e.kind === 'line' && (e.look = { ...e.look, width: { kind: 'drawing', value: 1 } })),
    'a place': (e) => void (e.kind === 'circle' && (e.centre = [e.centre[0] + 3, e.centre[1], 0])),
    'a size': (e) => void (e.kind === 'circle' && (e.radius *= 1.2)),
    'a shape that is not there': (e) => void (e.kind === 'circle' && (e.look = { ...e.look, visible: false })),
  };
  it('and nothing is seen where nothing was misread', () =>
    expect(seen(bytes)).toMatchObject({ same: true, share: 0 }));
  it.each(Object.entries(lies))('%s', (_, lie) => {
    const found = seen(bytes, misread(read(bytes), lie));
    expect(found.same).toBe(false);
    expect(found.places.length).toBeGreaterThan(0);
  });
  it('with its place on the page, counted from the lower left', () => {
    const found = seen(bytes, misread(read(bytes), lies['a shape that is not there']!));
    // The circle stands at (80, 30) of 100 × 100 counted downwards, 30 across.
    const [place] = found.places;
    expect(place!.x).toBeCloseTo(0.65, 2);
    expect(place!.y).toBeCloseTo(0.55, 2);
    expect(place!.width).toBeCloseTo(0.3, 2);
    expect(place!.height).toBeCloseTo(0.3, 2);
  });
  it('and the order in which shapes lie on one another', () => {
    const two = svg(
      '<rect width="60" height="60" fill="#a00"/><rect x="30" y="30" width="60" height="60" fill="#0a0"/>',
      ROOT,
    );
    const drawing = read(two);
    expect(seen(two, { ...drawing, entities: [...drawing.entities].reverse() }).same).toBe(false);
  });
});

describe('nobody claims to know', () => {
  it.each([
    [
      'filters',
      '<filter id="f"><feGaussianBlur stdDeviation="3"/></filter><rect width="9" height="9" filter="url(#f)"/>',
      'filters',
    ],
    [
      'drawings within drawings',
      '<image width="9" height="9" href="data:image/svg+xml;base64,AAAA"/>',
      'within itself',
    ],
    [
      'what the renderer gets wrong',
      '<style>:root{--a:#a00}</style><rect width="60" height="60" style="fill:var(--a)"/>',
      'custom properties',
    ],
  ])('%s', (_, body, why) => {
    const found = seen(svg(body, ROOT));
    expect(found.same).toBeNull();
    expect(found.why).toContain(why);
  });
  it('elements that multiply through references', () => {
    let body = '<g id="a0"><rect width="1" height="1"/></g>';
    for (let i = 1; i < 30; i++) body += `<g id="a${i}"><use href="#a${i - 1}"/><use href="#a${i - 1}"/></g>`;
    // Hidden from our reader by standing in a mask, which it does not follow.
    const bomb = svg(
      `<defs><mask id="m">${body}<use href="#a29"/></mask></defs><rect width="50" height="50" mask="url(#m)"/>`,
      ROOT,
    );
    expect(seen(bomb)).toMatchObject({ same: null, why: 'too much is drawn in it again and again' });
  });
  it('a document that breaks off', () => {
    expect(seen(bytesOf(textOf(svg('<rect width="9" height="9"/>', ROOT)).slice(0, -8)))).toMatchObject({ same: null });
  });
});

describe('a proof with a second witness', () => {
  const proofOf = (
    name: string,
    bytes: Uint8Array,
    target: 'svg' | 'dxf',
    change: (file: Uint8Array) => Uint8Array = (f) => f,
    reading = readDrawing(bytes, name),
  ): { states: Record<string, string>; holds: boolean } => {
    const prepared = prepare(reading.drawing, { ...NO_DECISIONS, pxPerInch: 96 }, [], { fonts: fonts() });
    const made = deliver(prepared.drawing, targetFor(target), name, fonts());
    const proof = proveDelivery(reading, prepared, made, change(made.bytes), fonts(), {
      witness: { renderer: judge, source: bytes },
    });
    const states = Object.fromEntries(proof.items.filter((i) => i.id.startsWith('seen')).map((i) => [i.id, i.state]));
    return { states, holds: proof.holds };
  };
  const art = svg('<g id="Cut"><rect x="10" y="10" width="60" height="40" fill="#a03020" stroke="#204080"/></g>', ROOT);

  it('sees the demo drawings the same', () => {
    for (const name of ['kestrel-row-front-elevation.dxf', 'kestrel-row-mullion.dxf', 'kestrel-row-section.dxf'])
      for (const target of ['svg', 'dxf'] as const)
        expect(proofOf(name, demoFile(name), target), `${name} → ${target}`).toEqual({
          states: { 'seen-file': 'kept' },
          holds: true,
        });
  });
  it('holds where source and file are seen the same', () => {
    expect(proofOf('a.svg', art, 'svg')).toEqual({
      states: { 'seen-source': 'kept', 'seen-file': 'kept' },
      holds: true,
    });
  });
  it('does not hold where the reader misread the source, though file and drawing agree', () => {
    const { drawing, ledger } = readDrawing(art, 'a.svg');
    const lie = misread(
      drawing,
      (e) => void (e.look = { ...e.look, fillRule: 'evenodd', fill: { kind: 'rgb', rgb: 0x123456 } }),
    );
    const { states, holds } = proofOf('a.svg', art, 'svg', undefined, { drawing: lie, ledger });
    expect(states).toEqual({ 'seen-source': 'atRisk', 'seen-file': 'kept' });
    expect(holds).toBe(false);
  });
  it('does not hold where something lies over the file that our reader takes for nothing', () => {
    const { states, holds } = proofOf('a.svg', art, 'svg', (f) =>
      bytesOf(textOf(f).replace('</svg>', '<style>rect{opacity:.2}polygon{opacity:.2}path{opacity:.2}</style></svg>')),
    );
    expect(states['seen-file']).toBe('atRisk');
    expect(holds).toBe(false);
  });
});

describe('what is seen different', () => {
  const seenFile = (bytes: Uint8Array, target: TargetGiven & Pick<Target, 'format'>): ProofItem => {
    const reading = readDrawing(bytes, 'a.svg');
    const prepared = prepare(reading.drawing, NO_DECISIONS, []);
    const made = deliver(prepared.drawing, targetFor(target.format, target), 'a.svg', fonts());
    const witness = { renderer: judge, source: bytes };
    return proveDelivery(reading, prepared, made, made.bytes, fonts(), { witness }).items.find(
      (i) => i.id === 'seen-file',
    )!;
  };
  const fade =
    '<radialGradient id="g" gradientUnits="userSpaceOnUse" cx="45" cy="30" r="60"><stop stop-color="#a00"/><stop offset="1" stop-color="#00a"/></radialGradient>';
  it('is no risk where rows tell of a loss, and says so with its place', () => {
    const item = seenFile(svg(`${fade}<rect width="90" height="60" fill="url(#g)"/>`, ROOT), { format: 'dxf' });
    expect(item.state).toBe('changed');
    expect(item.found).toMatch(/^seen different: \d+/);
    expect(item.explanation).toMatch(/tells? of what is not carried as it was: look whether that is all/);
    expect(item.at).toBeDefined();
  });
  it('is none where all of it was asked for: colours by a chart, one width for all lines', () => {
    const bytes = svg('<path d="M10 10h60v40" fill="none" stroke="#336699" stroke-width="5"/>', ROOT);
    const asked = { hairline: 1, colours: [{ from: '#336699', to: '#aa1122' }] };
    expect(seenFile(bytes, { format: 'svg', ...asked }).state).toBe('kept');
  });
  it('nobody looks for where there is too much', () => {
    const one = read(svg('<line x2="9" y2="9" stroke="#000"/>', ROOT));
    const many = { ...one, entities: Array.from({ length: 60_001 }, (_, id) => ({ ...one.entities[0]!, id })) };
    expect(seenAlike(many, many, judge, fonts())).toMatchObject({ same: null, why: 'it holds too much to be drawn' });
    expect(
      seen(
        bytesOf(
          `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><desc>${'x'.repeat(12_000_001)}</desc></svg>`,
        ),
        one,
      ),
    ).toMatchObject({ same: null });
  });
});

describe('a copy that came back from elsewhere', () => {
  const art = svg('<g id="Cut"><rect x="10" y="10" width="60" height="40" fill="#a03020"/></g>', ROOT);
  const seenOf = (copy: (text: string) => string): { state: string; explanation: string } => {
    const reading = readDrawing(art, 'a.svg');
    const prepared = prepare(reading.drawing, NO_DECISIONS, []);
    const made = deliver(prepared.drawing, targetFor('svg'), 'a.svg', fonts());
    const witness = { renderer: judge, source: art };
    const proof = proveDelivery(reading, prepared, made, bytesOf(copy(textOf(made.bytes))), fonts(), { witness });
    return proof.items.find((i) => i.id === 'seen-file')!;
  };
  it('is looked at as the file itself', () => {
    expect(seenOf((t) => t.replace('#a03020', '#20a030')).state).toBe('atRisk');
    expect(seenOf((t) => t).state).toBe('kept');
  });
  it('in another unit, or with what the renderer has no limits for, is not', () => {
    const inches = seenOf((t) => t.replace(/width="100mm" height="100mm"/, 'width="100in" height="100in"'));
    expect(inches).toMatchObject({ state: 'undecided' });
    expect(inches.explanation).toContain('another unit');
    const effects = seenOf((t) => t.replace('</svg>', '<filter id="f"><feTurbulence numOctaves="9"/></filter></svg>'));
    expect(effects).toMatchObject({ state: 'undecided' });
  });
});

describe('two drawings', () => {
  const drawing = (): Drawing =>
    prepare(
      read(svg('<rect x="10" y="10" width="60" height="40" fill="#a03020"/><circle cx="80" cy="80" r="9"/>', ROOT)),
      NO_DECISIONS,
      [],
    ).drawing;
  it('are alike, or differ where they do', () => {
    expect(seenAlike(drawing(), drawing(), judge, fonts())).toMatchObject({ same: true, share: 0 });
    const less = { ...drawing(), entities: drawing().entities.slice(0, 1) };
    const found = seenAlike(drawing(), less, judge, fonts());
    expect(found.same).toBe(false);
    // The circle, y turned over.
    expect(found.places[0]!.x + found.places[0]!.width / 2).toBeCloseTo(80, 0);
    expect(found.places[0]!.y + found.places[0]!.height / 2).toBeCloseTo(-80, 0);
  });
  it('of which one holds nothing differ', () => {
    expect(seenAlike(drawing(), { ...drawing(), entities: [] }, judge, fonts()).same).toBe(false);
  });
});
