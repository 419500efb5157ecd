import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { conform } from './conformance.js';
import { readDrawing, writeDxf } from './formats.js';
import { DEMO, demoFile, drawingOf, fonts, hop, risks, textOf } from '../helpers.js';
import { PYTHON, hasEzdxf } from '../ezdxf.js';
import { bare, dressed, entity, generatedDrawing, words } from '../generated.js';

const VERSIONS = ['2000', '2004', '2007', '2010', '2013', '2018'];

describe('written and read again', () => {
  it('every entity has the same numbers, to the last bit, in every version', () => {
    fc.assert(
      fc.property(fc.array(entity, { minLength: 1, maxLength: 12 }), fc.constantFrom(...VERSIONS), (list, version) => {
        const d = drawingOf(list as never);
        const { bytes } = writeDxf(d, { unit: 'mm', version, fonts: fonts() });
        const { drawing } = readDrawing(bytes, 'x.dxf');
        expect(bare(drawing)).toEqual(bare(d));
        expect(drawing.notes).toEqual([]);
        expect(drawing.unit).toEqual({ unit: 'mm', factor: 1 });
      }),
      { numRuns: 150 },
    );
  });

  it('every kind with every property has the same words, in every version from 2004 on, ASCII and binary', () => {
    const versions = ['2004', '2007', '2010', '2013', '2018'];
    fc.assert(
      fc.property(
        fc.array(dressed, { minLength: 1, maxLength: 8 }),
        fc.constantFrom(...versions),
        fc.boolean(),
        (list, version, binary) => {
          const d = generatedDrawing(list);
          const { bytes } = writeDxf(d, { unit: 'mm', version, fonts: fonts(), binary });
          if (!binary) expect(conform(bytes)).toEqual([]);
          const { drawing } = readDrawing(bytes, 'x.dxf');
          expect(words(drawing)).toEqual(words(d));
        },
      ),
      { numRuns: 200 },
    );
  });

  it('the same drawing gives the same bytes', () => {
    const { drawing } = readDrawing(demoFile(DEMO[0]!), DEMO[0]!);
    const write = (): string => textOf(writeDxf(drawing, { unit: 'mm', fonts: fonts() }).bytes);
    expect(write()).toBe(write());
  });

  it.each(DEMO.slice(0, 3))('%s: handles are kept, the proof holds', (name) => {
    const { drawing } = readDrawing(demoFile(name), name);
    const { proof, back } = hop(drawing, { format: 'dxf' });
    expect(risks(proof)).toEqual([]);
    expect(back.entities.map((e) => e.key)).toEqual(drawing.entities.map((e) => e.key));
  });
});

const oracle = hasEzdxf('no independent reader looks at our DXF files');

const AUDIT = `
import ezdxf, json, sys
out = []
for f in sys.argv[1:]:
    d = ezdxf.readfile(f)
    a = d.audit()
    m = d.modelspace()
    out.append({'errors': [e.message for e in a.errors], 'fixes': [e.message for e in a.fixes],
      'kinds': sorted(e.dxftype() for e in m), 'layers': sorted(l.dxf.name for l in d.layers),
      'units': d.header.get('$INSUNITS'), 'texts': sorted(e.plain_text() for e in m.query('TEXT')),
      'circles': [[*e.dxf.center, e.dxf.radius] for e in m.query('CIRCLE')]})
print(json.dumps(out))
`;

describe.skipIf(!oracle)('an independent reader', () => {
  it('finds nothing wrong in any version of any demo drawing, and reads what we wrote', () => {
    const folder = mkdtempSync(join(tmpdir(), 'scalaria-'));
    const made = DEMO.flatMap((name, i) =>
      VERSIONS.map((version) => {
        const { drawing } = readDrawing(demoFile(name), name);
        const { made: m, back } = hop(drawing, { format: 'dxf', version });
        const file = join(folder, `${i}-${version}.dxf`);
        writeFileSync(file, m.bytes);
        return { file, back };
      }),
    );
    const found = JSON.parse(
      execFileSync(PYTHON, ['-c', AUDIT, ...made.map((m) => m.file)], { encoding: 'utf8', maxBuffer: 1 << 26 }),
    ) as {
      errors: string[];
      fixes: string[];
      kinds: string[];
      layers: string[];
      units: number;
      texts: string[];
      circles: number[][];
    }[];
    found.forEach((f, i) => {
      const { file, back } = made[i]!;
      expect(f.errors, file).toEqual([]);
      expect(f.fixes, file).toEqual([]);
      expect(f.kinds.length, file).toBe(back.entities.filter((e) => e.sheet === undefined).length);
      expect(f.units, file).toBe(back.unit!.unit === 'mm' ? 4 : 1);
      const names = back.layers.map((l) => l.name).sort();
      // That reader always has a layer of its own for definition points.
      expect(
        f.layers.filter((l) => l !== 'Defpoints'),
        file,
      ).toEqual(names);
      const texts = back.entities.flatMap((e) => (e.kind === 'text' && e.sheet === undefined ? [e.text] : [])).sort();
      // Before 2007 characters outside the code page stand as `\U+XXXX`, which that program leaves as it is.
      const plain = f.texts.map((t) =>
        t.replace(/\\U\+([0-9A-F]{4})/g, (_, c: string) => String.fromCharCode(parseInt(c, 16))),
      );
      expect(plain.sort(), file).toEqual(texts);
      const circles = back.entities.flatMap((e) => (e.kind === 'circle' ? [[...e.centre, e.radius]] : []));
      expect(f.circles, file).toEqual(circles);
    });
  });
});
