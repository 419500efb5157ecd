import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { IntakeDecisions, PlannedStep } from '../../src/index.js';
import {
  DEFAULT_TARGETS,
  NO_DECISIONS,
  buildScene,
  dataAddress,
  deliver,
  mapOfStages,
  prepare,
  proveDelivery,
  readDrawing,
  underImage,
  withPictureUnder,
} from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { dxf, fonts, only, risks, svg, textOf } from '../helpers.js';

const oracle = hasEzdxf('nobody else looks for the pictures of DXF files');

const [width, height] = [200, 100];
const png = packedPng(
  { width, height, channels: 3, data: Uint8Array.from({ length: 3 * width * height }, (_, i) => (i * 7) % 256) },
  150,
);
const pictures = [{ name: 'Scan.png', data: dataAddress('image/png', png) }];
const under = {
  picture: 'scan.png',
  ...{ width, height, opacity: 40 },
  ...{ at: { x: 10, y: 20 }, right: { x: 110, y: 20 }, up: { x: 10, y: 70 } },
};
const lines = dxf([0, 'LINE', 8, 'A', 10, 0, 20, 0, 11, 120, 21, 80], { units: 5 });
const decided = (delivered: boolean, more: Partial<IntakeDecisions> = {}): IntakeDecisions => ({
  ...NO_DECISIONS,
  under: { ...under, delivered },
  ...more,
});
const source = readDrawing(lines, 'a.dxf').drawing;

describe('a picture under the drawing', () => {
  it('is not delivered unless that is asked for', () => {
    const made = prepare(source, decided(false), [], { pictures });
    expect(made.drawing.entities.map((e) => e.kind)).toEqual(['line']);
    const asked = prepare(source, decided(true), [], { pictures });
    expect(asked.drawing.entities.map((e) => e.kind)).toEqual(['image', 'line']);
    expect(asked.ledger.map((r) => r.code)).toContain('picture-put-under');
  });
  it('goes where the drawing goes: unit, correction, origin, and is cut by nothing', () => {
    const window = { minX: 0, minY: 0, maxX: 60, maxY: 60, touching: true };
    const crop: PlannedStep = {
      id: 'c',
      step: 'shift-origin',
      on: true,
      params: {},
    };
    const d = decided(true, { correction: 2, origin: { mode: 'point', x: 20, y: 40 }, window });
    const { drawing } = prepare(source, d, [crop], { pictures });
    const image = only(drawing, 'image');
    // Twice as large, then moved by 20 and 40: the corner from 10, 20 to 0, 0; a pixel is 1 cm wide and high.
    expect(image.at.map((v) => v + 0)).toEqual([0, 0, 0]);
    expect([image.u[0], image.u[1], image.v[0], image.v[1]]).toEqual([1, 0, 0, 1]);
    expect(image.clip).toBeUndefined();
    const written = deliver(drawing, { ...DEFAULT_TARGETS.svg, unit: 'mm' }, 'a', fonts());
    const [, w, h] = /<image[^>]*width="([\d.]+)"[^>]*height="([\d.]+)"/.exec(textOf(written.bytes))!;
    expect([Number(w), Number(h)]).toEqual([2000, 1000]);
  });
  it('lies right under an SVG, whose y points down', () => {
    const { drawing } = readDrawing(svg('<path d="M0 0L100 100" stroke="#000"/>'), 'a.svg');
    const made = prepare(drawing, decided(true), [], { pictures });
    const image = only(made.drawing, 'image');
    expect([image.at[0], image.at[1]]).toEqual([10, 20]);
    expect([image.v[0], image.v[1]]).toEqual([0, 0.5]);
    expect(mapOfStages(drawing, made.stages).map((v) => v + 0)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]);
  });
  it.each([
    ['dxf', '2010'],
    ['dxf', '2000'],
    ['dwg', '2010'],
    ['dwg', '2000'],
  ] as const)('is named by a %s %s at its true size, with proof', (format, version) => {
    const prepared = prepare(source, decided(true), [], { pictures });
    const versions = DEFAULT_TARGETS[format];
    const made = deliver(prepared.drawing, { ...versions, version, unit: 'mm' }, 'a.dxf', fonts());
    const proof = proveDelivery(source, prepared, made, made.bytes, fonts());
    expect(risks(proof)).toEqual([]);
    const image = only(readDrawing(made.bytes, 'b').drawing, 'image');
    expect([image.file, image.pixels]).toEqual(['scan.png', [width, height]]);
    // Corners in millimetres, within half a pixel of 5 mm: the source counts in centimetres.
    const corner = (i: number, j: number) =>
      [0, 1].map((k) => image.at[k]! + i * width * image.u[k]! + j * height * image.v[k]!);
    const corners = [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 1)];
    const want = [
      [100, 200],
      [1100, 200],
      [1100, 700],
      [100, 700],
    ];
    corners.forEach((c, i) => c.forEach((v, k) => expect(Math.abs(v - want[i]![k]!)).toBeLessThan(2.5)));
    expect(made.ledger.find((r) => r.code === 'picture-named')?.reason).toMatch(/scan\.png/);
  });
  it('the definition in a DXF stands in the dictionary that the root lists, each by its handle', () => {
    const prepared = prepare(source, decided(true), [], { pictures });
    const text = textOf(deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'a.dxf', fonts()).bytes);
    const records = text.split(/\r?\n\s*0\r?\n(?=[A-Z])/).map((r) => r.split('\n').map((l) => l.trim()));
    const one = (type: string) => records.find((r) => r[0] === type)!;
    const value = (r: string[], code: string): string => r[r.findIndex((l, i) => i % 2 === 1 && l === code) + 1]!;
    const [image, definition, reactor] = [one('IMAGE'), one('IMAGEDEF'), one('IMAGEDEF_REACTOR')];
    expect(value(image, '340')).toBe(value(definition, '5'));
    expect(value(image, '360')).toBe(value(reactor, '5'));
    expect(value(reactor, '330')).toBe(value(image, '5'));
    const dictionary = records.find((r) => r[0] === 'DICTIONARY' && value(r, '5') === value(definition, '330'))!;
    expect([value(dictionary, '3'), value(dictionary, '350')]).toEqual(['scan', value(definition, '5')]);
    const root = records.find((r) => r[0] === 'DICTIONARY' && value(r, '330') === '0')!;
    const at = root.indexOf('ACAD_IMAGE_DICT');
    expect(root[at + 2]).toBe(value(dictionary, '5'));
    expect(value(definition, '1')).toBe('scan.png');
  });
  it.skipIf(!oracle).each(['2000', '2004', '2010', '2018'])(
    'DXF %s: another program finds it, and nothing wrong',
    (version) => {
      const { drawing } = prepare(source, decided(true), [], { pictures });
      const { bytes } = deliver(drawing, { ...DEFAULT_TARGETS.dxf, version }, 'a.dxf', fonts());
      const file = join(mkdtempSync(join(tmpdir(), 'scalaria-under-')), 'a.dxf');
      writeFileSync(file, bytes);
      expect(JSON.parse(runEzdxf('pictures.py', file))).toEqual({
        pictures: [
          { file: 'scan.png', at: [10, 20], u: [0.5, 0], v: [0, 0.5], pixels: [width, height], layer: 'Picture' },
        ],
        wrong: [],
      });
    },
  );
  it('one that the job has not is named as missing', () => {
    const { ledger } = prepare(source, decided(true), []);
    const row = ledger.find((r) => r.code === 'picture-missing');
    expect([row?.action, row?.reason]).toEqual(['dropped', expect.stringContaining('scan.png')]);
  });
  it('is seen under the drawing, as clear as that is asked for', () => {
    const prepared = prepare(source, decided(false), [], { pictures });
    const scene = buildScene(prepared.drawing, fonts());
    const image = underImage(
      { ...under, delivered: false },
      mapOfStages(source, prepared.stages),
      pictures[0]!.data,
      1,
    );
    const seen = withPictureUnder(scene, image, 0.4, fonts());
    const [shown] = seen.pictures;
    expect(shown?.opacity).toBe(0.4);
    const xs = [...shown!.corners].filter((_, i) => i % 3 === 0).map((v) => v + seen.origin[0]);
    const ys = [...shown!.corners].filter((_, i) => i % 3 === 1).map((v) => v + seen.origin[1]);
    expect([Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]).toEqual([10, 110, 20, 70]);
    // Behind the line, whatever is drawn first.
    const depth = (p: ArrayLike<number>): number => Math.max(...Array.from(p).filter((_, i) => i % 3 === 2));
    expect(depth(shown!.corners)).toBeLessThan(
      Math.min(...seen.layers.filter((l) => l.lines.length > 0).map((l) => depth(l.lines))),
    );
    expect(withPictureUnder(scene, { ...image, data: undefined } as unknown as typeof image, 0.4, fonts())).toBe(scene);
  });
});
