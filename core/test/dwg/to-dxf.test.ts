import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { WRITABLE_DWG } from '../../src/formats/dwg/versions.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { conform } from '../dxf/conformance.js';
import { writeDxf } from '../dxf/formats.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { demoFile, fonts, hop } from '../helpers.js';

const oracle = hasEzdxf('no independent program judges DXF files that came from DWG and SVG');
const DXF_VERSIONS = ['R12', '2000', '2004', '2007', '2010', '2013', '2018'];

interface Seen {
  errors: string[];
  fixes: string[];
  kinds: Record<string, number>;
  layouts: string[];
}

/** Writes a drawing in every version of DXF; what our own checker and an independent program say of the files. */
function judged(drawing: Drawing, versions: readonly string[] = DXF_VERSIONS): Seen[] {
  const folder = mkdtempSync(join(tmpdir(), 'scalaria-judged-'));
  const files = versions.map((version) => {
    const { bytes } = writeDxf(drawing, { unit: 'mm', version, fonts: fonts() });
    expect(conform(bytes), version).toEqual([]);
    const name = join(folder, `${version}.dxf`);
    writeFileSync(name, bytes);
    return name;
  });
  return oracle ? (JSON.parse(runEzdxf('see.py', ...files)) as Seen[]) : [];
}

describe('a DXF that came from a DWG with layouts', () => {
  it.each(Object.keys(WRITABLE_DWG))(
    'of version %s is whole, and an independent program reads it',
    (version) => {
      const source = readDrawing(demoFile('kestrel-row-section.dxf'), 'section.dxf').drawing;
      expect(source.sheets.length).toBeGreaterThan(0);
      const dwg = writeDwg(source, { unit: 'mm', version, fonts: fonts() });
      const back = readDrawing(dwg.bytes, 'section.dwg').drawing;
      for (const [i, seen] of judged(back).entries()) {
        expect({ errors: seen.errors, fixes: seen.fixes }, DXF_VERSIONS[i]).toEqual({ errors: [], fixes: [] });
        expect(seen.kinds['DIMENSION']).toBe(
          back.entities.filter((e) => e.kind === 'dimension' && e.sheet === undefined).length,
        );
        if (DXF_VERSIONS[i] !== 'R12')
          expect(seen.layouts.sort()).toEqual(['Model', ...back.sheets.map((s) => s.name)].sort());
      }
    },
    120_000,
  );
  it('the site plan of the demo job too, as it was made elsewhere', () => {
    for (const seen of judged(readDrawing(demoFile('kestrel-row-site-plan.dwg'), 'plan.dwg').drawing)) {
      expect({ errors: seen.errors, fixes: seen.fixes }).toEqual({ errors: [], fixes: [] });
    }
  }, 120_000);
});

describe('a DXF that came from an SVG', () => {
  it.each(['kestrel-row-wayfinding-panel.svg', 'kestrel-row-sign-study.svg'])(
    '%s is whole in every version',
    (name) => {
      const { made } = hop(readDrawing(demoFile(name), name).drawing, { format: 'dxf' });
      for (const seen of judged(made.written)) {
        expect({ errors: seen.errors, fixes: seen.fixes }).toEqual({ errors: [], fixes: [] });
        expect(Object.values(seen.kinds).reduce((a, b) => a + b, 0)).toBeGreaterThan(5);
      }
    },
    120_000,
  );
});
