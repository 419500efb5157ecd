import { Ajv } from 'ajv';
import { describe, expect, test } from 'vitest';
import type { Drawing, FormatEntry, Kept, Target } from '../../src/index.js';
import {
  DEFAULT_TARGETS,
  FORMAT_CATALOGUE,
  NO_DECISIONS,
  dataAddress,
  defaultsOf,
  deliver,
  faultOf,
  prepare,
  targetAskedSchema,
  targetFault,
  targetFor,
  targetSchema,
  templateOf,
  traitsOf,
  upgradedTarget,
} from '../../src/index.js';
import { demoFile, fonts, read, svg } from '../helpers.js';

const FORMATS = Object.values(FORMAT_CATALOGUE) as FormatEntry[];

describe('a target', () => {
  test('as it was kept before options were declared is the same target', () => {
    const old = {
      format: 'svg',
      version: '2',
      unit: 'mm',
      style: 'sheet',
      decimals: 3,
      hairline: null,
      colours: { '#336699': '#112233' },
      binary: true,
    } as const;
    const now = upgradedTarget({ ...old });
    expect(now).toEqual({
      format: 'svg',
      version: '2',
      unit: 'mm',
      options: { style: 'sheet', decimals: 3, hairline: null, colours: [{ from: '#336699', to: '#112233' }] },
    });
    expect(targetFault(now as unknown as Target)).toBeNull();
    expect(upgradedTarget({ ...now })).toEqual(now);
    // Style and decimals never meant anything to DXF: they are gone, what it knows stays.
    const dxf = upgradedTarget({
      format: 'dxf',
      version: '2010',
      unit: null,
      style: 'plain',
      decimals: 6,
      binary: true,
      template: 'x',
    });
    expect(dxf.options).toEqual({ binary: true, template: 'x' });
    expect(templateOf(dxf as unknown as Target)).toBe('x');
  });

  test('is judged in words, and by its schema alike', () => {
    const accepts = new Ajv({ strict: false }).compile(targetSchema);
    const asked = new Ajv({ strict: false }).compile(targetAskedSchema);
    const bad: [Partial<Target>, RegExp][] = [
      [{ version: '1899' }, /version "1899" cannot be written; one of/],
      [{ options: { decimals: 16 } }, /SVG: Decimals must be at most 15/],
      [{ options: { decimals: 2.5 } }, /whole number/],
      [{ options: { style: 'loud' } }, /Looks written as must be one of plain, inline, sheet/],
      [{ options: { hairline: 0 } }, /One width for all lines must be above 0/],
      [{ options: { colours: [{ from: 'red', to: '#ffffff' }] } }, /#rrggbb/],
      [{ options: { binary: true } }, /"binary" is not a parameter/],
    ];
    for (const [change, words] of bad) {
      const t = { ...DEFAULT_TARGETS.svg, ...change };
      expect(targetFault(t), words.source).toMatch(words);
      expect(accepts(t), words.source).toBe(false);
      // What is asked for goes through to those who say it in words.
      expect(asked(t), words.source).toBe(true);
    }
    for (const f of FORMATS) {
      const whole = { ...DEFAULT_TARGETS[f.id], options: defaultsOf(f.options) };
      expect([targetFault(whole), accepts(whole)], f.id).toEqual([null, true]);
    }
  });
});

/** What an option is set to, and a drawing on which that shows: the compiler knows no names, so the test asks for each. */
const ASKED: Record<string, { value: Kept[string]; of: () => Drawing; beside?: Kept; pixels?: Kept }> = {
  text: { value: 'outlines', of: () => read(demoFile('kestrel-row-section.dxf')) },
  curves: { value: 'pieces', of: art },
  tolerance: { value: 2, of: art, beside: { curves: 'arcs' } },
  columns: { value: 'plain', of: art },
  binary: { value: true, of: art },
  style: { value: 'sheet', of: art },
  decimals: { value: 1, of: art },
  arcs: { value: 'cubics', of: () => read(demoFile('kestrel-row-mullion.dxf')) },
  blocks: { value: 'shared', of: () => read(demoFile('kestrel-row-front-elevation.dxf')) },
  page: { value: 'outlines', of: art },
  pageSize: { value: 'paper', of: art },
  margin: { value: 3, of: art },
  fit: { value: 'fitted', of: art, beside: { pageSize: 'paper' } },
  scale: { value: 2, of: art, beside: { pageSize: 'paper' }, pixels: { size: 'resolution' } },
  part: { value: 'box', of: art, beside: { corner: { x: 10, y: -10 }, opposite: { x: 40, y: -30 } } },
  shows: { value: 'box', of: art, beside: { corner: { x: 10, y: -10 }, opposite: { x: 40, y: -30 } } },
  corner: {
    value: { x: 10, y: -10 },
    of: art,
    beside: { part: 'box', opposite: { x: 40, y: -30 } },
    pixels: { shows: 'box', opposite: { x: 40, y: -30 } },
  },
  opposite: {
    value: { x: 40, y: -30 },
    of: art,
    beside: { part: 'box', corner: { x: 10, y: -10 } },
    pixels: { shows: 'box', corner: { x: 10, y: -10 } },
  },
  sheet: { value: 'Other', of: twoSheets, beside: { shows: 'sheet', pixels: 500 } },
  size: { value: 'resolution', of: art },
  pixels: { value: 300, of: art },
  perInch: { value: 75, of: art, beside: { size: 'resolution' } },
  marginIn: { value: 'mm', of: art, beside: { margin: 30 } },
  ground: { value: 'colour', of: art, beside: { groundColour: '#223344' } },
  groundColour: { value: '#223344', of: art, beside: { ground: 'colour' } },
  widths: { value: 'true', of: art, beside: { pixels: 100 } },
  quality: { value: 40, of: art },
  paper: { value: 'a3', of: art, beside: { pageSize: 'paper' } },
  turned: { value: 'upright', of: art, beside: { pageSize: 'paper' } },
  ink: { value: 'black', of: art },
  picturesAt: {
    value: 20,
    of: () =>
      read(
        svg(`<image href="${dataAddress('image/png', demoFile('kestrel-row-sketch.png'))}" width="90" height="50"/>`),
      ),
  },
  checkBar: { value: true, of: art },
  overlap: { value: 20, of: art, beside: { pageSize: 'tiles', scale: 0.3 } },
  sheets: { value: 'Other', of: twoSheets, beside: { pageSize: 'sheets' } },
  hairline: { value: 0.5, of: art },
  colours: { value: [{ from: '#336699', to: '#112233' }], of: art },
};

function twoSheets(): Drawing {
  const d = read(demoFile('kestrel-row-section.dxf'));
  // It states no paper, so that it is as large as what is drawn on it.
  const { paper: _paper, ...other } = d.sheets[0]!;
  return { ...d, sheets: [...d.sheets, { ...other, name: 'Other', order: 9 }] };
}

function art(): Drawing {
  const body =
    '<path d="M0.123 0.456 C10 40 60 40 90 5 A30 30 0 0 1 50 60 L0.123 0.456 Z" fill="none" stroke="#336699"/>';
  return read(svg(body, 'width="100mm" height="100mm" viewBox="0 0 100 100"'));
}

describe('what is asked of a writer', () => {
  const bytes = (d: Drawing, target: Target): string => {
    const p = prepare(d, { ...NO_DECISIONS, pxPerInch: 96 }, []).drawing;
    return Buffer.from(deliver(p, target, 'x', fonts()).bytes).toString('latin1');
  };
  const options = FORMATS.flatMap((f) => Object.keys(f.options).map((name) => [f.id, name] as const));

  test.each(options.filter(([, name]) => name !== 'template'))('%s: %s changes what is written', (format, name) => {
    const { value, of, beside: pages, pixels } = ASKED[name]!;
    const isPicture = traitsOf(format).pixels === true;
    const asked: Kept = { ...(isPicture && name !== 'pixels' && { pixels: 200 }), ...((isPicture && pixels) || pages) };
    const known: object = FORMAT_CATALOGUE[format].options;
    const beside = Object.fromEntries(Object.entries(asked).filter(([k]) => k in known)) as Kept;
    const given = { ...beside, [name]: value };
    expect(faultOf(FORMAT_CATALOGUE[format].options, given)).toBeNull();
    const without = bytes(of(), targetFor(format, { ...beside }));
    expect(bytes(of(), targetFor(format, given)) === without, name).toBe(false);
    // Its default, said aloud, changes nothing.
    const standard = { ...beside, [name]: defaultsOf(FORMAT_CATALOGUE[format].options)[name] };
    expect(bytes(of(), targetFor(format, standard)) === without, name).toBe(true);
  });

  test('a bound that carries its unit is the same bound in a file of any unit', () => {
    const arcs = (unit: 'mm' | 'cm', tolerance: Kept[string]): number =>
      bytes(art(), targetFor('dxf', { unit, curves: 'arcs', tolerance })).split('\n 42\r\n').length;
    const half = { value: 0.5, unit: 'mm' };
    expect(arcs('cm', half)).toBe(arcs('mm', half));
    expect(arcs('mm', half)).toBe(arcs('mm', 0.5));
    expect(arcs('cm', 0.5)).toBeLessThan(arcs('cm', half));
  });
});
