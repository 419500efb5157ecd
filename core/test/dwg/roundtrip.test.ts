import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { WRITABLE_DWG } from '../../src/formats/dwg/versions.js';
import { ObjectMap } from '../../src/formats/dwg/object-map.js';
import { dwgParts, writeDwg } from '../../src/formats/dwg/write.js';
import { TagStore } from '../../src/formats/dwg/tag-store.js';
import { composeRecords } from '../../src/formats/drafting/compose.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { canonical } from '../dxf/canonical.js';
import { bare, dressed, entity, generatedDrawing, words } from '../generated.js';
import { DEMO, demoFile, drawingOf, fonts, hop, risks } from '../helpers.js';

const VERSIONS = Object.keys(WRITABLE_DWG);
/** Those that a DXF is written in, too. */
const BOTH = VERSIONS.filter((v) => v !== 'R14');

const throughDwg = (d: Drawing, version: string): Drawing => {
  const { bytes } = writeDwg(d, { unit: 'mm', version, fonts: fonts() });
  const { drawing } = readDwg(bytes);
  expect(drawing.notes).toEqual([]);
  return drawing;
};
const throughDxf = (d: Drawing, version: string): Drawing =>
  readDrawing(writeDxf(d, { unit: 'mm', version, fonts: fonts() }).bytes, 'x.dxf').drawing;

/** The points that each form of dimension has in a DWG, beside the place of its text. */
const POINTS: Record<string, readonly number[]> = {
  linear: [10, 13, 14],
  aligned: [10, 13, 14],
  ordinate: [10, 13, 14],
  angular3: [10, 13, 14, 15],
  angular: [10, 13, 14, 15, 16],
  radius: [10, 15],
  diameter: [10, 15],
};

/**
 * What a DWG has no way to say, taken out of generated entities: a filled face lies at one height, the text of a
 * dimension at the origin is one without a place, and the other points of a dimension are those that its form needs.
 */
const sayable = <T>(list: T[]): T[] =>
  list.map((given) => {
    const e = given as {
      kind?: string;
      form?: string;
      solid?: boolean;
      corners?: number[][];
      points?: Record<number, number[]>;
    };
    if (e.kind === 'dimension') {
      const points = Object.fromEntries(
        Object.entries(e.points!).filter(([c]) => POINTS[e.form!]!.includes(Number(c))),
      );
      if (points[16]) points[16] = [points[16][0]!, points[16][1]!, 0];
      const text = e.points![11]!;
      return { ...given, points: { ...points, ...(text.some((v) => v !== 0) && { 11: text }) } };
    }
    if (e.kind !== 'face' || !e.solid || !e.corners) return given;
    const corners = e.corners.map(([x, y]) => [x, y, e.corners![0]![2]]);
    // A corner that meets the one before it counts as none.
    const [, , c, d] = corners;
    return { ...given, corners: d && d.every((v, i) => v === c![i]) ? corners.slice(0, 3) : corners };
  });

describe('written as DWG and read again', () => {
  it('every entity has the same numbers, to the last bit, in every version', () => {
    fc.assert(
      fc.property(fc.array(entity, { minLength: 1, maxLength: 12 }), fc.constantFrom(...VERSIONS), (list, version) => {
        const d = drawingOf(list as never);
        const back = throughDwg(d, version);
        expect(bare(back)).toEqual(bare(d));
        // R14 has no word for it.
        expect(back.unit).toEqual(version === 'R14' ? null : { unit: 'mm', factor: 1 });
      }),
      { numRuns: 150 },
    );
  });

  it('every kind with every property has the same words, in every version from 2004 on', () => {
    fc.assert(
      fc.property(
        fc.array(dressed, { minLength: 1, maxLength: 8 }),
        fc.constantFrom(...BOTH.filter((v) => v >= '2004')),
        (list, version) => {
          const d = generatedDrawing(sayable(list));
          expect(words(throughDwg(d, version))).toEqual(words(d));
        },
      ),
      { numRuns: 200 },
    );
  });

  it('a DWG and a DXF of the same drawing give the same model, in every version', () => {
    fc.assert(
      fc.property(fc.array(dressed, { minLength: 1, maxLength: 6 }), fc.constantFrom(...BOTH), (list, version) => {
        const d = generatedDrawing(sayable(list));
        const [a, b] = [throughDxf(d, version), throughDwg(d, version)].map(canonical);
        // A header of a DWG always says everything, a DXF what its writer thought of.
        for (const part of [a!, b!]) {
          delete part['header'];
          delete part['objects'];
          delete part['tables'];
          delete part['dimensionStyles'];
        }
        expect(b).toEqual(a);
      }),
      { numRuns: 60 },
    );
  });

  it.each(DEMO)('%s: the proof holds in every version', (name) => {
    const { drawing } = readDrawing(demoFile(name), name);
    for (const version of VERSIONS) expect(risks(hop(drawing, { format: 'dwg', version }).proof)).toEqual([]);
  });
});

describe('the object map', () => {
  it('lists every object by rising handles, whatever handles the source gave', () => {
    const key = fc.integer({ min: 0x30, max: 0xfffff }).map((n) => n.toString(16).toUpperCase());
    fc.assert(
      fc.property(
        fc.uniqueArray(key, { minLength: 2, maxLength: 30 }),
        fc.constantFrom(...VERSIONS),
        (keys, version) => {
          const d = drawingOf(
            keys.map((k, i) => ({ kind: 'line', key: k, start: [i, 0, 0], end: [i, 1, 0] })) as never,
          );
          d.format = 'dxf';
          d.layers = d.layers.map((l, i) => (i === 0 ? { ...l, key: keys[0]! } : l));
          const { parts } = dwgParts(d, WRITABLE_DWG[version]!, { unit: 'mm', version, fonts: fonts() });
          const map = ObjectMap.read(parts.map(1000));
          expect([map.badPieces, map.truncated]).toEqual([0, false]);
          const at = new Map([...map.handles].map((h) => [h, map.offsetOf(h)]));
          // Each lies where none other does, all within what was written.
          expect(new Set(at.values()).size).toBe(at.size);
          const size = parts.objects.reduce((n, piece) => n + piece.length, 0);
          for (const offset of at.values()) expect(offset >= 1000 && offset < 1000 + size).toBe(true);
          const back = readDwg(writeDwg(d, { unit: 'mm', version, fonts: fonts() }).bytes).drawing;
          expect(back.entities.map((e) => e.key).slice(1)).toEqual(keys.slice(1));
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('the short way into bits', () => {
  const partsOf = (
    d: Drawing,
    version: string,
    short: boolean,
  ): { objects: readonly Uint8Array[]; ledger: unknown } => {
    const { parts, ledger } = dwgParts(
      d,
      WRITABLE_DWG[version]!,
      { unit: 'mm', version, fonts: fonts() },
      undefined,
      short,
    );
    return { objects: parts.objects, ledger };
  };
  it('comes to the same bytes as the way through tags, whatever the entity', () => {
    fc.assert(
      fc.property(fc.array(entity, { minLength: 1, maxLength: 12 }), fc.constantFrom(...VERSIONS), (list, version) => {
        const d = drawingOf(list as never);
        expect(partsOf(d, version, true)).toEqual(partsOf(d, version, false));
      }),
      { numRuns: 150 },
    );
  });
  it('does so for every drawing of the demo job', () => {
    for (const name of DEMO) {
      const { drawing } = readDrawing(demoFile(name), name);
      for (const version of ['2000', '2018'])
        expect(partsOf(drawing, version, true), `${name} ${version}`).toEqual(partsOf(drawing, version, false));
    }
  });
  it('is taken by the frequent kinds', () => {
    const { drawing } = readDrawing(demoFile('kestrel-row-site-plan.dwg'), 'plan.dwg');
    const { body } = composeRecords(
      drawing,
      { unit: 'mm', fonts: fonts() },
      { name: 'DWG', version: 'AC1015', sink: () => new TagStore(true), holds: () => false },
    );
    const taken = body.starts.filter((start) => start < 0).length;
    const plain = [...drawing.entities, ...[...drawing.blocks.values()].flatMap((b) => b.entities)].filter((e) =>
      ['line', 'circle', 'arc', 'point', 'text'].includes(e.kind),
    ).length;
    expect(taken).toBeGreaterThan(plain / 2);
  });
  it('refuses numbers that are none', () => {
    const d = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [NaN, 0, 0] }] as never);
    expect(() => partsOf(d, '2000', true)).toThrow(/cannot hold NaN/);
  });
});
