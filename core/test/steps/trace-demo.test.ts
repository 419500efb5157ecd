import { describe, expect, it } from 'vitest';
import { CHECKS, NO_DECISIONS, prepare, readDrawing, runCheck } from '../../src/index.js';
import { demoFile, dxf, read } from '../helpers.js';

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
