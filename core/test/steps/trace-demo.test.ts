import { describe, expect, it } from 'vitest';
import type { Kept } from '../../src/index.js';
import { CHECKS, NO_DECISIONS, prepare, readDrawing, runCheck, runStep } from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { demoFile, dxf, read } from '../helpers.js';
import { painted } from '../tracing/painted.js';

const scan = read(demoFile('kestrel-row-emblem-scan.png'), 'emblem.png');
const onlyPictures = CHECKS.find((c) => c.id === 'only-pictures')!;

describe('the emblem of the demo job, scanned aslant', () => {
  it('comes back in its two inks, its circles as circles of the size they were printed at', () => {
    const plan = [{ id: 't', step: 'trace-pictures', on: true, params: { by: 'colours' } }];
    const { drawing, ledger } = prepare(scan, NO_DECISIONS, plan);
    const inks = new Set(drawing.entities.map((e) => (e.look.fill.kind === 'rgb' ? e.look.fill.rgb.toString(16) : '')));
    expect([...inks].sort()).toEqual(['1f2a37', 'c4512d']);
    expect(drawing.unit?.unit).toBe('mm');
    // Radii of 210, 189 and 175 px at 11811 px to the metre.
    const mm = (px: number): number => (px * 1000) / 11_811;
    const radii = drawing.entities.flatMap((e) =>
      e.kind !== 'path'
        ? []
        : [...e.path.cmds].flatMap((c, i) => {
            // An arc begins with its two radii.
            const lengths = { 0: 2, 1: 2, 2: 4, 3: 6, 4: 7, 5: 0 } as Record<number, number>;
            const at = [...e.path.cmds].slice(0, i).reduce((n, k) => n + lengths[k]!, 0);
            return c === 4 ? [e.path.data[at]!] : [];
          }),
    );
    for (const px of [210, 189, 175])
      expect(
        radii.some((r) => Math.abs(r - mm(px)) < 0.01),
        `${px} px of ${radii.join(', ')}`,
      ).toBe(true);
    const told = ledger.find((r) => r.code === 'traced-as')!;
    expect(Number(/([\d.]+) % of the pixels/.exec(told.reason)![1])).toBeLessThan(0.2);
  });
});

describe('the brightness of a picture', () => {
  it('is listed in bands, every pixel once, with the threshold that parts them', () => {
    // A disc of 31 on 240: some 31,416 of 62,400 pixels are dark.
    const picture = painted(260, 240, (x, y) => (Math.hypot(x - 130, y - 120) < 100 ? 0x1f1f1f : 0xf0f0f0));
    const source = read(packedPng(picture, 254), 'disc.png');
    const rowsOf = (params: Kept) =>
      runStep(source, { id: 't', step: 'trace-pictures', on: true, params }).lists.find((l) =>
        /Brightness/.test(l.title),
      )!.rows;
    const rows = rowsOf({});
    expect(rows).toHaveLength(16);
    expect(rows.reduce((n, r) => n + Number(r[1]), 0)).toBe(260 * 240);
    const dark = rows.find((r) => r[0] === '16 to 31')!;
    expect(Math.abs(Number(dark[1]) - 31_416)).toBeLessThan(400);
    expect([dark[2], rows.at(-1)![2]]).toEqual(['darker', 'lighter']);
    expect(rows.filter((r) => String(r[2]).startsWith('parted at'))).toHaveLength(1);
    // The fullest band has the longest bar, an empty one none.
    expect([...rows].sort((a, b) => String(b[3]).length - String(a[3]).length)[0]![1]).toBe(
      Math.max(...rows.map((r) => Number(r[1]))),
    );
    expect(rows.filter((r) => r[1] === 0).every((r) => r[3] === '')).toBe(true);
    expect(rowsOf({ threshold: 200 }).find((r) => r[0] === '192 to 207')![2]).toBe('parted at 200');
  });
});

describe('a drawing that is nothing but a picture', () => {
  it('is found, and tracing it is what mends that', () => {
    const [found] = runCheck(onlyPictures, scan);
    expect([found?.message, onlyPictures.mend?.step]).toEqual([
      'The drawing is 1 picture and nothing else',
      'trace-pictures',
    ]);
    const { drawing } = prepare(scan, NO_DECISIONS, [{ id: 'm', step: 'trace-pictures', on: true, params: {} }]);
    expect(runCheck(onlyPictures, drawing)).toEqual([]);
  });
  it('is none where there is a line beside it, or no picture at all', () => {
    const line = readDrawing(dxf([0, 'LINE', 8, 'A', 10, 0, 20, 0, 11, 1, 21, 1]), 'a.dxf').drawing;
    expect(runCheck(onlyPictures, line)).toEqual([]);
    expect(runCheck(onlyPictures, { ...scan, entities: [...scan.entities, ...line.entities] })).toEqual([]);
    expect(runCheck(onlyPictures, { ...line, entities: [] })).toEqual([]);
  });
});
