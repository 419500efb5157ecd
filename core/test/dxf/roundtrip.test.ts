import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Entity } from '../../src/index.js';
import { readDrawing, writeDxf } from './formats.js';
import { DEMO, demoFile, drawingOf, fonts, hop, risks, textOf } from '../helpers.js';

const VERSIONS = ['2000', '2004', '2007', '2010', '2013', '2018'];

const n = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((v) => v + 0);
const p3 = fc.tuple(n, n, n);
const positive = fc.double({ min: 1e-3, max: 1e5, noNaN: true });
const angle = fc.integer({ min: 0, max: 35999 }).map((v) => ((v / 100) * Math.PI) / 180);
const layer = fc.constantFrom('A', 'Bemaßung', 'long layer name with blanks', '漢字');
const entity = fc.oneof(
  fc.record({ kind: fc.constant('line'), layer, start: p3, end: p3 }),
  fc.record({ kind: fc.constant('circle'), layer, centre: p3, radius: positive }),
  fc.record({ kind: fc.constant('arc'), layer, centre: p3, radius: positive, start: angle, end: angle }),
  fc.record({
    kind: fc.constant('ellipse'),
    layer,
    centre: p3,
    major: p3.filter((v) => Math.hypot(...v) > 1),
    ratio: fc.double({ min: 0.01, max: 1, noNaN: true }),
    start: angle,
    end: angle,
  }),
  fc.record({ kind: fc.constant('point'), layer, at: p3 }),
  fc
    .record({ layer, pts: fc.array(fc.tuple(n, n, fc.constantFrom(0, 0, 1, -0.5, 0.25)), { minLength: 2, maxLength: 8 }), closed: fc.boolean(), elevation: n })
    .map(({ layer: l, pts, closed, elevation }) => ({
      kind: 'polyline', layer: l, points: Float64Array.from(pts.flatMap(([x, y]) => [x, y])), dim: 2, elevation, closed,
      ...(pts.some((p) => p[2] !== 0) && { bulges: Float64Array.from(pts.map((p) => p[2])) }),
    })), // prettier-ignore
  fc.record({
    kind: fc.constant('text'), layer, text: fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme' }).filter((t) => t.trim() === t && !/[\r\n\\%\u0000-\u001f\u0080-\u009f\u2028\u2029\ufeff]/.test(t) && t !== ''), at: p3, size: positive,
    sizeOf: fc.constant('capital'), rotation: angle, widthFactor: fc.constant(1), oblique: fc.constant(0),
    horizontal: fc.constant('left'), vertical: fc.constant('baseline'), style: fc.constant('Standard'),
  }), // prettier-ignore
);

/** What must be the same: everything but ids and handles. */
const bare = (d: Drawing): unknown[] => d.entities.map(({ id: _i, key: _k, look: _l, ...e }: Entity) => e);

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

/** An independent reader; Debian's python3-ezdxf. */
const oracle = ((): boolean => {
  try {
    execFileSync('/usr/bin/python3', ['-c', 'import ezdxf'], { stdio: 'ignore' });
    return true;
  } catch {
    console.warn('SKIPPED: python3-ezdxf is not installed, so no independent reader looks at our DXF files');
    return false;
  }
})();

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
    const found = JSON.parse(execFileSync('/usr/bin/python3', ['-c', AUDIT, ...made.map((m) => m.file)], { encoding: 'utf8', maxBuffer: 1 << 26 })) as {
      errors: string[]; fixes: string[]; kinds: string[]; layers: string[]; units: number; texts: string[]; circles: number[][];
    }[]; // prettier-ignore
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
      expect(f.texts, file).toEqual(texts);
      const circles = back.entities.flatMap((e) => (e.kind === 'circle' ? [[...e.centre, e.radius]] : []));
      expect(f.circles, file).toEqual(circles);
    });
  });
});
