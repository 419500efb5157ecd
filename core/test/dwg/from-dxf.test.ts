import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { WRITABLE_DWG } from '../../src/formats/dwg/versions.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { canonical } from '../dxf/canonical.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { dressed, generatedDrawing, words } from '../generated.js';
import { fonts } from '../helpers.js';

/** Those that a DXF is written in, too. */
const VERSIONS = Object.keys(WRITABLE_DWG).filter((v) => v !== 'R14');
const dwg = (d: Drawing, version: string): Drawing =>
  readDwg(writeDwg(d, { unit: 'mm', version, fonts: fonts() }).bytes).drawing;
const dxf = (d: Drawing, version: string): Drawing =>
  readDrawing(writeDxf(d, { unit: 'mm', version, fonts: fonts() }).bytes, 'x.dxf').drawing;

describe('from one form to the other and back', () => {
  it('DWG → model → DWG, and DWG → DXF → DWG, are the same model', () => {
    fc.assert(
      fc.property(fc.array(dressed, { minLength: 1, maxLength: 6 }), fc.constantFrom(...VERSIONS), (list, version) => {
        // What a DWG cannot say is gone after the first time.
        const once = dwg(generatedDrawing(list), version);
        expect(words(dwg(once, version))).toEqual(words(once));
        expect(dwg(once, version).entities.map((e) => e.key)).toEqual(once.entities.map((e) => e.key));
        expect(words(dwg(dxf(once, version), version))).toEqual(words(once));
        expect(words(dxf(once, version))).toEqual(words(once));
      }),
      { numRuns: 60 },
    );
  });
});

const oracle = hasEzdxf('no independent program makes DXF files for DWG');

/** Kinds that go to DWG as what shows them. */
const CONVERTED = new Set(['HELIX', 'MESH', 'MULTILEADER']);
/** Whole turns and the numbers of viewports are not kept; usual values may or may not be said; the case of linetype names is that of the table. */
const plain = (e: Record<string, unknown>): unknown => {
  const { rest: _r, number: _n, stacking: _s, look, rotation, attributes, stated, points, ...own } = e;
  const l = look as { dash?: { name?: string } } | undefined;
  const dash = l?.dash?.name === undefined ? l?.dash : { ...l.dash, name: l.dash.name.toLowerCase() };
  const turn =
    typeof rotation === 'number' ? Number(((rotation + 4 * Math.PI) % (2 * Math.PI)).toPrecision(9)) : rotation;
  // A length of 0 is one that was not stated, and a text at the origin one without a place.
  const said =
    e['kind'] === 'dimension'
      ? { stated: stated || undefined, points: onlyPlaced(points as Record<string, number[]>) }
      : { stated, points };
  // A DWG says by its kind that a dimension is that of an arc.
  if (own['form'] === 'arc') own['flags'] = (own['flags'] as number) & 160;
  return {
    ...own,
    ...said,
    look: { ...l, dash },
    rotation: turn,
    attributes: (attributes as Record<string, unknown>[] | undefined)?.map(plain),
  };
};
const onlyPlaced = (points: Record<string, number[]>): unknown =>
  Object.fromEntries(Object.entries(points).filter(([, p]) => p.some((v) => v !== 0)));

describe.skipIf(!oracle)('DXF files that an independent program made, with every entity it knows', () => {
  let folder = '';
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'scalaria-dwg-'));
    runEzdxf('make.py', folder);
  }, 120_000);

  it.each(VERSIONS)('come through DWG %s with everything that the model holds', (version) => {
    const { drawing } = readDrawing(readFileSync(join(folder, `R${version}.dxf`)), 'a.dxf');
    const back = dwg(drawing, version);
    expect(back.notes).toEqual([]);
    const entities = (d: Drawing): Map<string, unknown> =>
      new Map(
        (canonical(d)['entities'] as Record<string, unknown>[])
          .filter((e) => e['kind'] !== 'opaque' || !CONVERTED.has(e['type'] as string))
          .map((e) => [e['key'] as string, e['kind'] === 'opaque' ? { type: e['type'], layer: e['layer'] } : plain(e)]),
      );
    const [want, got] = [entities(drawing), entities(back)];
    expect(want.size).toBeGreaterThan(45);
    for (const [key, e] of want) expect(got.get(key), key).toEqual(e);
    const same = (part: string): void => expect(canonical(back)[part], part).toEqual(canonical(drawing)[part]);
    for (const part of ['unit', 'applications', 'sheets']) same(part);
    expect(back.layers.map(({ rest: _r, ...l }) => l)).toEqual(drawing.layers.map(({ rest: _r, ...l }) => l));
    const linetypes = (d: Drawing): unknown[] => d.linetypes.map((l) => [l.name.toLowerCase(), l.pattern]).sort();
    expect(linetypes(back)).toEqual(linetypes(drawing));
    const blocks = (d: Drawing): unknown[] =>
      [...d.blocks.values()].map((b) => [b.name, b.base, b.entities.length]).sort();
    expect(blocks(back)).toEqual(blocks(drawing));
    // Dictionaries, groups and the like: the same handles.
    const known = new Set(back.carried.objects.map((o) => o.key));
    for (const o of drawing.carried.objects)
      if (/^(DICTIONARY|LAYOUT|XRECORD|GROUP|IMAGEDEF|SORTENTSTABLE|MLINESTYLE|DICTIONARYVAR)$/.test(o.type))
        expect(known, `${o.type} ${o.key}`).toContain(o.key);
  });
});
