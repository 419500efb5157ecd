import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Kept, Target } from '../../src/index.js';
import {
  DEFAULT_TARGETS,
  NO_DECISIONS,
  UnreadableFile,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
} from '../../src/index.js';
import { DEMO, bytesOf, demoFile, dxf, fonts, textOf } from '../helpers.js';

const MM = { ...NO_DECISIONS, unit: 'mm' } as const;
const read = (text: string, work = {}) => readDrawing(bytesOf(text), 'a.txt', work).drawing;

/** Written as coordinates, and proven. */
function written(bytes: Uint8Array, name: string, options: Kept = {}, unit: Target['unit'] = null) {
  const { drawing } = readDrawing(bytes, name);
  const prepared = prepare(drawing, drawing.unit ? NO_DECISIONS : MM, []);
  const made = deliver(prepared.drawing, { ...DEFAULT_TARGETS.coordinates, options, unit }, name, fonts());
  const proof = (file = made.bytes) => proveDelivery(drawing, prepared, made, file, fonts());
  return { made, text: textOf(made.bytes), proof };
}

/** The area of outlines of the text by hand: the sum of their corners, and of each edge’s segment of a circle. */
function areaByHand(text: string): number {
  const rows = text.split('\n').filter((l) => !l.startsWith('#') && !l.startsWith('x'));
  const outlines = rows.join('\n').trim().split('\n\n');
  return outlines.reduce((sum, o) => {
    const p = o.split('\n').map((l) => l.split('\t').map(Number));
    return (
      sum +
      p.reduce((area, [x, y, b = 0], i) => {
        const [x1, y1] = p[(i + 1) % p.length]!;
        const turn = 4 * Math.atan(b);
        const chord = Math.hypot(x1! - x!, y1! - y!);
        const r = b === 0 ? 0 : chord / (2 * Math.sin(turn / 2));
        return area + (x! * y1! - x1! * y!) / 2 + (b === 0 ? 0 : (r * r * (turn - Math.sin(turn))) / 2);
      }, 0)
    );
  }, 0);
}

describe('coordinates as a drawing', () => {
  it('each outline is a closed polyline; a comment states the unit', () => {
    const d = read('# unit: mm\n-3 10\n3 10\n3 190\n-3 190\n\n0 0\n1 0\n1 1\n0 0\n');
    expect(d.unit).toEqual({ unit: 'mm', factor: 1 });
    expect(d.entities.map((e) => e.kind === 'polyline' && [e.closed, e.dim, [...e.points]])).toEqual([
      [true, 2, [-3, 10, 3, 10, 3, 190, -3, 190]],
      [true, 2, [0, 0, 1, 0, 1, 1]],
    ]);
    expect(read('0 0\n1 0\n1 1').unit).toBeNull();
    expect(read('# unit: furlong\n0 0\n1 0\n1 1').unit).toBeNull();
  });
  it('is seen by its first numbers, by its name where they are wrong, and never in a DXF', () => {
    const named = (text: string, name: string) => readDrawing(bytesOf(text), name).drawing.format;
    expect(named('x;y\n1,5;2\n3;4\n5;9\n', 'anything')).toBe('coordinates');
    expect(named('1\t2\n3\t4\n5\t9', 'points.xyz')).toBe('coordinates');
    expect(() => named('x y\nhello', 'points.csv')).toThrow(/line 2: “hello” is no number|line 2: there is one/);
    expect(() => named('hello', 'letter')).toThrow(/not a DXF/);
    expect(named(textOf(dxf([0, 'LINE', 8, 'A', 10, 0, 20, 0, 11, 1, 21, 1])), 'points.txt')).toBe('dxf');
  });
  it('text in two bytes to a letter, as sheets of numbers are saved', () => {
    const two = Uint8Array.from([0xff, 0xfe, ...[...'0\t0\r\n4\t0\r\n4\t2\r\n'].flatMap((c) => [c.charCodeAt(0), 0])]);
    expect(readDrawing(two, 'a.txt').drawing.entities).toHaveLength(1);
  });
  it('refuses wrong lines by number and reason, and asks what is open; nothing is taken in half', () => {
    const refused = (text: string, work = {}): UnreadableFile => {
      try {
        read(text, work);
      } catch (e) {
        if (e instanceof UnreadableFile) return e;
      }
      throw new Error('was read');
    };
    const bad = refused('0 0\n1 a\n1 1\n\n2\n3 3 3 3\n9\n');
    expect(bad.found).toMatch(
      /^\d lines cannot be read: line 2: “a” is no number; line 5: .*; line 6: .*; and 1 more$/,
    );
    expect(bad.where).toBe('line 2');
    expect(refused('1,2,3,4\n2,2,3,4\n2,5,7,4').found).toMatch(/commas/);
    const comma = read('1,2,3,4\n2,2,3,4\n2,5,7,4', { decimal: 'comma' }).entities[0];
    expect(comma?.kind === 'polyline' && [...comma.points]).toEqual([1.2, 3.4, 2.2, 3.4, 2.5, 7.4]);
    expect(refused('0 0 1\n100 0 1').found).toMatch(/between −1 and 1/);
    expect(refused('# nothing\n').found).toMatch(/no coordinates/);
  });
  it('a third number is a bulge or a height, as it is said', () => {
    expect(read('0 0 1\n100 0 1', { third: 'bulge' }).entities[0]).toMatchObject({ bulges: Float64Array.of(1, 1) });
    // A circle of diameter 100: 2500 π.
    expect(areaByHand(written(bytesOf('x y bulge\n0 0 1\n100 0 1'), 'a.txt').text)).toBeCloseTo(7853.981634, 5);
    const high = read('0 0 5\n100 0 5\n100 50 7', { third: 'height' }).entities[0];
    expect(high?.kind === 'polyline' && [high.dim, [...high.points]]).toEqual([3, [0, 0, 5, 100, 0, 5, 100, 50, 7]]);
  });
});

describe('a drawing as coordinates', () => {
  const circle = dxf([0, 'CIRCLE', 8, 'A', 10, 50, 20, 0, 40, 50], { units: 4 });

  it('a circle is two points that bulge by one', () => {
    const { text, proof } = written(circle, 'a.dxf');
    expect(text.split('\n').slice(0, 2)).toEqual(['# unit: mm', 'x\ty\tbulge']);
    expect(areaByHand(text)).toBeCloseTo(7853.981634, 5);
    expect(proof().holds).toBe(true);
    expect(written(circle, 'a.dxf', {}, 'cm').text).toMatch(/^# unit: cm\n/);
    expect(areaByHand(written(circle, 'a.dxf', {}, 'cm').text)).toBeCloseTo(78.53981634, 7);
  });
  it('without a third number it is chords within the bound', () => {
    const { text, proof } = written(circle, 'a.dxf', { columns: 'plain', tolerance: 0.01 });
    // Chords that lie within 0.01 of r = 50 make sagitta r(1 − cos(π/n)) ≤ 0.01: at least 158 corners.
    const corners = text.trim().split('\n').length - 1;
    expect(corners).toBeGreaterThanOrEqual(158);
    expect(corners).toBeLessThan(240);
    expect(areaByHand(text)).toBeCloseTo((corners * 2500 * Math.sin((2 * Math.PI) / corners)) / 2, 3);
    expect(proof().holds).toBe(true);
  });
  it('heights stay where they are asked for, and are told where they are not', () => {
    const tilted = dxf(
      [0, 'POLYLINE', 8, 'A', 66, 1, 70, 9].concat(
        ...[
          [0, 0, 1],
          [10, 0, 2],
          [10, 10, 4.25],
        ].map(([x, y, z]) => [0, 'VERTEX', 8, 'A', 10, x!, 20, y!, 30, z!, 70, 32]),
        [0, 'SEQEND', 8, 'A'],
      ),
      { units: 4 },
    );
    const high = written(tilted, 'a.dxf', { columns: 'heights' });
    expect(high.text).toBe('# unit: mm\nx\ty\theight\n0\t0\t1\n10\t0\t2\n10\t10\t4.25\n');
    expect(high.proof().holds).toBe(true);
    const flat = written(tilted, 'a.dxf');
    expect(flat.text).toBe('# unit: mm\n0\t0\n10\t0\n10\t10\n');
    expect(flat.made.ledger.map((r) => r.code)).toContain('laid-flat');
  });
  it('what does not close, text and points are left out, each told with its reason', () => {
    const mixed = dxf(
      [
        ...[0, 'LINE', 8, 'A', 10, 0, 20, 0, 11, 9, 21, 9],
        ...[0, 'POINT', 8, 'A', 10, 3, 20, 3],
        ...[0, 'TEXT', 8, 'A', 10, 0, 20, 0, 40, 5, 1, 'Kestrel Row'],
        ...[0, 'CIRCLE', 8, 'A', 10, 50, 20, 0, 40, 50],
      ],
      { units: 4 },
    );
    const { made, proof } = written(mixed, 'a.dxf');
    const lost = made.ledger.filter((r) => r.action === 'dropped' && !r.onPurpose).map((r) => [r.carryOver, r.code]);
    expect(lost).toEqual([
      ['curves', 'open-no-coordinates'],
      ['curves', 'kind-no-coordinates'],
      ['text', 'text-no-coordinates'],
    ]);
    expect(proof().items.find((i) => i.id === 'accounted')?.found).toMatch(/3 left out on purpose/);
    const letters = written(mixed, 'a.dxf', { text: 'outlines' });
    expect(letters.text.split('\n\n').length).toBeGreaterThan(10);
  });
  it.each(DEMO)('%s: the proof holds, and a number that is changed fails it', (name) => {
    const { made, text, proof } = written(demoFile(name), name);
    const found = proof();
    expect(found.items.filter((i) => i.state === 'atRisk')).toEqual([]);
    expect(made.written.entities.length).toBeGreaterThan(3);
    const other = text.replace(/\n(-?[\d.]+)\t/, (_, x) => `\n${Number(x) + 1}\t`);
    expect(other).not.toBe(text);
    expect(proof(bytesOf(other)).holds).toBe(false);
    const fewer = text.slice(0, text.lastIndexOf('\n\n') + 1);
    expect(proof(bytesOf(fewer)).holds).toBe(false);
  });
});

describe('law', () => {
  it('outlines of any numbers come back number for number', () => {
    const v = fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e12, max: 1e12 });
    const outline = fc.array(fc.tuple(v, v, fc.double({ noNaN: true, min: -1, max: 1 })), {
      minLength: 3,
      maxLength: 7,
    });
    fc.assert(
      fc.property(fc.array(outline, { minLength: 1, maxLength: 4 }), (outlines) => {
        const lines = outlines.map((o) => o.map((p) => p.map((n) => n + 0).join(';')).join('\n'));
        const d = read(`x;y;bulge\n${lines.join('\n\n')}`);
        const made = deliver(prepare(d, MM, []).drawing, DEFAULT_TARGETS.coordinates, 'a', fonts());
        const again = readDrawing(made.bytes, 'b.txt').drawing;
        const numbers = (l: typeof d) =>
          l.entities.map((e) => e.kind === 'polyline' && [[...e.points], [...(e.bulges ?? [])]]);
        expect(numbers(again)).toEqual(numbers(d));
      }),
      { numRuns: 60 },
    );
  });
});
