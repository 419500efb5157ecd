import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, Text } from '../../src/index.js';
import { targetFor, NO_DECISIONS, deliver, prepare, readDrawing } from '../../src/index.js';
import { IDENTITY } from '../../src/geometry/affine.js';
import { flattenEntity } from '../../src/drawing/flatten.js';
import { bytesOf, fonts, hop, read, risks, svg, textOf } from '../helpers.js';

const n = fc.integer({ min: -4000, max: 4000 }).map((v) => v / 40);
const size = fc.integer({ min: 20, max: 2000 }).map((v) => v / 40);
const colour = fc.integer({ min: 0, max: 0xffffff }).map((v) => '#' + v.toString(16).padStart(6, '0'));
const style = fc
  .record({
    fill: fc.oneof(fc.constant('none'), colour),
    stroke: fc.oneof(fc.constant('none'), colour),
    width: size,
    dash: fc.constantFrom('none', '4 2', '8 3 1 3'),
    cap: fc.constantFrom('butt', 'round', 'square'),
    rule: fc.constantFrom('nonzero', 'evenodd'),
    opacity: fc.constantFrom('1', '.5'),
  })
  .map(
    (s) =>
      `fill="${s.fill}" stroke="${s.stroke}" stroke-width="${s.width}" stroke-dasharray="${s.dash}" stroke-linecap="${s.cap}" fill-rule="${s.rule}" fill-opacity="${s.opacity}"`,
  );
const arc = fc
  .tuple(size, size, fc.constantFrom(0, 30, 75), fc.boolean(), fc.boolean(), n, n)
  .map(([a, b, r, l, s, x, y]) => `A${a} ${b} ${r} ${+l} ${+s} ${x} ${y}`);
const pathDataOf = (...more: fc.Arbitrary<string>[]) =>
  fc
    .tuple(
      n,
      n,
      fc.array(
        fc.oneof(
          fc.tuple(n, n).map((p) => `L${p.join(' ')}`),
          fc.tuple(n, n, n, n).map((p) => `Q${p.join(' ')}`),
          fc.tuple(n, n, n, n, n, n).map((p) => `C${p.join(' ')}`),
          ...more,
          fc.constant('Z'),
        ),
        { minLength: 1, maxLength: 8 },
      ),
    )
    .map(([x, y, list]) => `M${x} ${y}l3 1.5${list.join('')}`);
const transform = fc.oneof(
  fc.constant(''),
  fc.tuple(n, n).map(([x, y]) => ` transform="translate(${x} ${y})"`),
  fc.tuple(n, fc.constantFrom(1, -1, 2)).map(([a, k]) => ` transform="rotate(${a}) scale(${k} 1.5)"`),
);
const round = [
  fc.tuple(n, n, size).map(([x, y, r]) => `circle cx="${x}" cy="${y}" r="${r}"`),
  fc.tuple(n, n, size, size).map(([x, y, r, q]) => `ellipse cx="${x}" cy="${y}" rx="${r}" ry="${q}"`),
];
const shapeOf = (...more: fc.Arbitrary<string>[]) =>
  fc
    .tuple(
      fc.oneof(
        fc.tuple(n, n, size, size).map(([x, y, w, h]) => `rect x="${x}" y="${y}" width="${w}" height="${h}"`),
        fc.tuple(n, n, n, n).map(([a, b, c, d]) => `line x1="${a}" y1="${b}" x2="${c}" y2="${d}"`),
        fc.array(fc.tuple(n, n), { minLength: 2, maxLength: 9 }).map((p) => `polygon points="${p.join(' ')}"`),
        fc.array(fc.tuple(n, n), { minLength: 2, maxLength: 9 }).map((p) => `polyline points="${p.join(' ')}"`),
        ...more,
      ),
      style,
      transform,
    )
    .map(([s, look, t]) => `<${s} ${look}${t}/>`);
const name = fc
  .string({ minLength: 1, maxLength: 12, unit: fc.constantFrom(...'Kestrel Row_x20_&<>"äŁ漢7-.') })
  .filter((s) => s.trim() === s && s !== '');
const groupOf = (shape: fc.Arbitrary<string>) =>
  fc
    .tuple(fc.uniqueArray(name, { minLength: 1, maxLength: 3 }), fc.array(shape, { minLength: 1, maxLength: 4 }))
    .map(([names, shapes]) =>
      names
        .map(
          (m) =>
            `<g><title>${m.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')}</title>${shapes.join('')}</g>`,
        )
        .join(''),
    );

const asPath = (d: string): string => `path d="${d}"`;
const group = groupOf(shapeOf(...round, pathDataOf(arc).map(asPath)));
/** Without arcs and ellipses, whose radii are rounded too, so that each time they may take another turn. */
const groupWithoutArcs = groupOf(shapeOf(pathDataOf().map(asPath)));

const taken = (source: Drawing): Drawing =>
  prepare(source, { ...NO_DECISIONS, layers: { mode: 'all', names: [] } }, []).drawing;
const written = (d: Drawing, more: object = {}): Uint8Array =>
  deliver(d, targetFor('svg', { decimals: 9, ...more }), 'x.svg', fonts()).bytes;

/** The farthest that a chord of one drawing is from the other, in parts of the size. */
function apart(a: Drawing, b: Drawing): number {
  const chords = (d: Drawing) => {
    const list: number[] = [];
    let [x, y] = [0, 0];
    for (const e of d.entities)
      flattenEntity(e, IDENTITY, 0.01, {
        moveTo: (px, py) => void ([x, y] = [px, py]),
        lineTo: (px, py) => {
          list.push(x, y, px, py);
          [x, y] = [px, py];
        },
      });
    return Float64Array.from(list);
  };
  const [p, q] = [chords(a), chords(b)];
  return Math.max(distanceOf(p, q), distanceOf(q, p));
}
/** From ends of `a`'s chords, some forty of them, to the nearest chord of `b`. */
function distanceOf(a: Float64Array, b: Float64Array): number {
  let worst = 0;
  const step = 2 * Math.max(1, Math.floor(a.length / 80));
  for (let i = 0; i < a.length; i += step) {
    let best = Infinity;
    for (let j = 0; j < b.length && best > 1e-12; j += 4) {
      const [x0, y0, x1, y1] = [b[j]!, b[j + 1]!, b[j + 2]!, b[j + 3]!];
      const [dx, dy] = [x1 - x0, y1 - y0];
      const l = dx * dx + dy * dy;
      const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((a[i]! - x0) * dx + (a[i + 1]! - y0) * dy) / l));
      best = Math.min(best, Math.hypot(a[i]! - x0 - t * dx, a[i + 1]! - y0 - t * dy));
    }
    worst = Math.max(worst, best);
  }
  return worst;
}

/** What is said of looks, numbers as they are or, as `wanted`, to the digits that are written. */
const looks = (d: Drawing, asked: (v: number) => unknown = (v) => v) =>
  d.entities.map(({ kind, look, layer }) => {
    const { fill, stroke, fillOpacity, cap, fillRule, dash, width } = look;
    return {
      layer,
      fill,
      stroke,
      ...(fill.kind !== 'none' && {
        fillOpacity,
        fillRule: kind === 'circle' || kind === 'ellipse' ? 'nonzero' : fillRule,
      }),
      ...(stroke.kind !== 'none' && {
        cap,
        dash: dash.kind === 'lengths' && dash.lengths.map(asked),
        width: width.kind === 'drawing' && asked(width.value),
      }),
    };
  });
const kindOf = (e: Entity): string => e.kind;

describe('what is written is read back', () => {
  it.each([
    ['plain', '1.1'],
    ['inline', '2'],
    ['sheet', '1.1'],
  ] as const)('the same shapes, style, names and order, with style %s in version %s', (form, version) => {
    fc.assert(
      fc.property(fc.array(group, { minLength: 1, maxLength: 3 }), (groups) => {
        const first = taken(read(svg(groups.join('')), 'x.svg'));
        const back = taken(readDrawing(written(first, { style: form, version }), 'x.svg').drawing);
        expect(back.entities.map(kindOf)).toEqual(first.entities.map(kindOf));
        expect(looks(back)).toEqual(looks(first, (v) => expect.closeTo(v, 5)));
        expect(back.layers.map((l) => l.name)).toEqual(expect.arrayContaining(first.layers.map((l) => l.name)));
        first.entities.forEach((e, i) => {
          const one = (x: Entity): Drawing => ({ ...first, entities: [x] });
          expect(apart(one(e), one(back.entities[i]!))).toBeLessThan(0.02);
        });
      }),
      { numRuns: 60, interruptAfterTimeLimit: 20_000 },
    );
  });
  it('and written again is the same file', () => {
    fc.assert(
      fc.property(fc.array(groupWithoutArcs, { minLength: 1, maxLength: 2 }), (groups) => {
        const first = written(taken(read(svg(groups.join('')), 'x.svg')), { decimals: 4 });
        const again = written(taken(readDrawing(first, 'x.svg').drawing), { decimals: 4 });
        const third = written(taken(readDrawing(again, 'x.svg').drawing), { decimals: 4 });
        expect(textOf(third)).toBe(textOf(again));
      }),
      { numRuns: 60 },
    );
  });
});

describe('SVG to DXF and back', () => {
  it('keeps geometry within 1e-6 of its size, whatever the curves', () => {
    fc.assert(
      fc.property(
        fc.array(pathDataOf(arc), { minLength: 1, maxLength: 4 }),
        fc.constantFrom('2000', '2010', '2018'),
        (paths, version) => {
          const source = read(svg(paths.map((d) => `<path fill="none" stroke="#000" d="${d}"/>`).join('')), 'x.svg');
          const { made, proof } = hop(source, { format: 'dxf', version });
          expect(risks(proof)).toEqual([]);
          const { proof: second } = hop(readDrawing(made.bytes, 'x.dxf').drawing, { format: 'svg', decimals: 9 });
          // The proof measures both ways against 1e-6 of the size.
          expect(risks(second)).toEqual([]);
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('text', () => {
  const word = fc
    .string({ minLength: 1, maxLength: 6, unit: fc.constantFrom(...'Kestrl Row7°&<') })
    .filter((s) => s.trim() === s && !s.includes('  '));
  const piece = fc.tuple(
    word,
    fc.constantFrom(10, 14),
    colour,
    fc.constantFrom(400, 700),
    fc.constantFrom('0', '3', 'super'),
  );
  it('in pieces of several styles, moved and turned letters comes back as it was', () => {
    fc.assert(
      fc.property(
        fc.array(piece, { minLength: 1, maxLength: 4 }),
        fc.boolean(),
        fc.array(fc.constantFrom(0, 2, -3), { maxLength: 4 }),
        (pieces, moved, shifts) => {
          const spans = pieces
            .map(
              ([t, s, c, w, r]) =>
                `<tspan font-size="${s}" fill="${c}" font-weight="${w}" baseline-shift="${r}">${t.replace(/&/g, '&amp;').replace(/</g, '&lt;')}</tspan>`,
            )
            .join('');
          const lists = moved
            ? ` dx="0 ${shifts.join(' ')}" dy="0 ${shifts.join(' ')}" rotate="${shifts.map((s) => 10 * s).join(' ') || 0}"`
            : '';
          const first = taken(
            read(svg(`<text x="20" y="40" font-family="Spline Sans"${lists}>${spans}</text>`), 'x.svg'),
          );
          const back = taken(readDrawing(written(first), 'x.svg').drawing);
          const plain = (d: Drawing) =>
            d.entities.map((e) => {
              const { text, runs, letters, size: em } = e as Text;
              const round = (v: number): number => Math.round(v * 1e6) / 1e6 + 0;
              return {
                text,
                em: round(em),
                runs: runs?.map((r) => [r.text, round(r.scale), round(r.rise), r.font?.weight ?? 0, r.look?.fill]),
                letters: letters?.map((l) => [l.at, round(l.dx), round(l.dy), round(l.turn)]),
              };
            });
          // A rise is written as a step of the letters, and read as one.
          const settled = (d: Drawing) => plain(taken(readDrawing(written(d), 'x.svg').drawing));
          expect(settled(back)).toEqual(plain(back));
          expect(back.entities.map((e) => (e as Text).text)).toEqual(first.entities.map((e) => (e as Text).text));
        },
      ),
      { numRuns: 120 },
    );
  });
  it('along a path stays along it', () => {
    const body =
      '<path id="p" d="M10 60A40 40 0 0 1 90 60" fill="none"/><text font-size="8"><textPath href="#p" startOffset="20%">Kestrel</textPath></text>';
    const { made, back, proof } = hop(read(svg(body), 'x.svg'), { format: 'svg' });
    expect(textOf(made.bytes)).toContain('<textPath');
    const texts = back.entities.filter((e): e is Text => e.kind === 'text');
    expect(texts.length).toBe(1);
    expect(texts[0]!.along!.offset).toBeCloseTo(0.2 * 40 * Math.PI, 4);
    expect(risks(proof)).toEqual([]);
  });
});

describe('the writer’s choices', () => {
  const d = (): Drawing =>
    read(
      bytesOf(
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm" viewBox="0 0 90 90"><path d="M10 10A20 20 0 0 1 50 10" stroke="#123456" stroke-width="3" fill="none"/></svg>',
      ),
      'x.svg',
    );
  it('arcs as cubics stay within the tolerance of the proof', () => {
    const { made, proof } = hop(d(), { format: 'svg', arcs: 'cubics' });
    expect(textOf(made.bytes)).not.toMatch(/[aA]20/);
    expect(textOf(made.bytes)).toMatch(/ d="M10 10[cC]/);
    expect(risks(proof)).toEqual([]);
    expect(made.ledger.find((r) => /as cubics/.test(r.reason))?.deviation?.value).toBeCloseTo(20 * 4.3e-6, 9);
  });
  it('one width for all lines, in millimetres', () => {
    expect(textOf(hop(d(), { format: 'svg', hairline: 0.1 }).made.bytes)).toContain('stroke-width=".1"');
    expect(textOf(hop(d(), { format: 'svg', hairline: 0.1, unit: 'cm' }).made.bytes)).toContain('stroke-width=".01"');
  });
  it('colours by a chart, which the proof knows of', () => {
    const { made, proof } = hop(d(), { format: 'svg', colours: { '#123456': '#ff0000' } });
    expect(textOf(made.bytes)).toContain('stroke="#ff0000"');
    expect(risks(proof)).toEqual([]);
  });
  it('version 2 needs no xlink and says no version', () => {
    const text = textOf(hop(d(), { format: 'svg', version: '2' }).made.bytes);
    expect(text).not.toMatch(/xlink|version="1.1"/);
  });
});
