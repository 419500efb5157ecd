import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { partsOf } from '../../src/drawing/parts.js';
import { Box2 } from '../../src/geometry/box.js';
import { IDENTITY } from '../../src/geometry/affine.js';
import { addEntityBounds, BoundsSink } from '../../src/drawing/measures.js';
import { readDrawing, writeDxf } from './formats.js';
import { fonts, hop, risks } from '../helpers.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { canonical } from './canonical.js';
import { conform } from './conformance.js';

const oracle = hasEzdxf('no independent program makes or checks DXF files');
const run = <T>(script: string, ...args: string[]): T => JSON.parse(runEzdxf(script, ...args)) as T;

/** Version of the independent library → ours. */
const VERSIONS: Record<string, string> = {
  R12: 'R12',
  R2000: '2000',
  R2004: '2004',
  R2007: '2007',
  R2010: '2010',
  R2013: '2013',
  R2018: '2018',
};
const NAMES = Object.keys(VERSIONS);
const TARGETS = Object.values(VERSIONS);

interface Seen {
  errors: string[];
  fixes: string[];
  kinds: Record<string, number>;
  layers: string[];
  units: number;
  texts: string[];
  layouts: string[];
  boxes: Record<string, [string, number, number, number, number]>;
}

/** How our kinds are called there. */
const kindThere = (e: Entity): string => {
  switch (e.kind) {
    case 'polyline':
      return e.dim === 3 ? 'POLYLINE' : 'LWPOLYLINE';
    case 'richText':
      return 'MTEXT';
    case 'face':
      return e.trace ? 'TRACE' : e.solid ? 'SOLID' : '3DFACE';
    case 'mesh':
      return 'POLYLINE';
    case 'ray':
      return e.both ? 'XLINE' : 'RAY';
    case 'image':
      return e.cover ? 'WIPEOUT' : 'IMAGE';
    case 'dimension':
      return e.form === 'arc' ? 'ARC_DIMENSION' : 'DIMENSION';
    case 'opaque':
      return e.type;
    default:
      return e.kind.toUpperCase();
  }
};

const counted = (list: readonly string[]): Record<string, number> => {
  const out: Record<string, number> = {};
  for (const k of list) out[k] = (out[k] ?? 0) + 1;
  return out;
};

/** The box of one entity, compound ones by what shows them. */
function boxOf(e: Entity, d: Drawing): Box2 {
  const sink = new BoundsSink();
  addEntityBounds(e, IDENTITY, sink);
  for (const p of partsOf(e, d)) addEntityBounds(p, IDENTITY, sink);
  return sink.box;
}

describe.skipIf(!oracle)('files that an independent program made', () => {
  let folder = '';
  const file = (name: string): Uint8Array => readFileSync(join(folder, name));
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'scalaria-dxf-'));
    run('make.py', folder);
  }, 120_000);

  it.each(NAMES)('%s: every entity lies where that program says', (name) => {
    const seen = run<Seen[]>('see.py', '--boxes', join(folder, `${name}.dxf`))[0]!;
    const { drawing } = readDrawing(file(`${name}.dxf`), name);
    const model = drawing.entities.filter((e) => e.sheet === undefined);
    let compared = 0;
    for (const e of model) {
      const box = seen.boxes[e.key!.toUpperCase()];
      if (!box) continue;
      compared++;
      const [type, ...want] = box;
      const got = boxOf(e, drawing);
      // That program draws arcs as cubics, which stray by up to 3 parts in ten thousand.
      const size = Math.hypot(want[2] - want[0], want[3] - want[1]) || 1;
      [got.minX, got.minY, got.maxX, got.maxY].forEach((v, i) =>
        expect(Math.abs(v - want[i]!) / size, `${type} ${e.key} side ${i}`).toBeLessThan(5e-4),
      );
    }
    expect(compared).toBeGreaterThan(name === 'R12' ? 7 : 17);
    const there = Object.values(seen.kinds).reduce((a, b) => a + b, 0);
    expect(model.length).toBe(there);
    expect(drawing.layers.map((l) => l.name).sort()).toEqual(seen.layers);
    expect(drawing.notes).toEqual([]);
  });

  it.each(NAMES)('%s: the binary form says the same as the ASCII one', (name) => {
    const ascii = canonical(readDrawing(file(`${name}.dxf`), 'a.dxf').drawing);
    const binary = canonical(readDrawing(file(`${name}.binary.dxf`), 'b.dxf').drawing);
    for (const part of ['entities', 'layers', 'linetypes', 'textStyles', 'sheets', 'unit'])
      expect(binary[part], part).toEqual(ascii[part]);
  });

  it.each(NAMES)('%s: written in the same version, noobject is lost or changed', (name) => {
    const { drawing } = readDrawing(file(`${name}.dxf`), 'a.dxf');
    for (const binary of [false, true]) {
      const made = writeDxf(drawing, { unit: 'mm', version: VERSIONS[name]!, fonts: fonts(), binary });
      const back = readDrawing(made.bytes, 'b.dxf').drawing;
      const [want, got] = [canonical(drawing), canonical(back)];
      // Release 12 gives its table records no handles and has no blocks for its spaces.
      const parts = name === 'R12' ? ['entities', 'header', 'sheets', 'applications'] : Object.keys(want);
      for (const part of parts) {
        // A class that the maker did not list but its entities need comes in addition.
        const wanted = part === 'classes' ? expect.arrayContaining(want[part] as unknown[]) : want[part];
        expect(got[part], `${part}${binary ? ' binary' : ''}`).toEqual(wanted);
      }
      expect(made.ledger.filter((r) => r.action !== 'kept' && r.carryOver !== 'units')).toEqual([]);
    }
  });

  it.each(NAMES)('%s: written in every version, the file conforms and that program finds nothing wrong', (name) => {
    const { drawing } = readDrawing(file(`${name}.dxf`), 'a.dxf');
    const made = TARGETS.flatMap((version) =>
      [false, true].map((binary) => {
        const { bytes } = writeDxf(drawing, { unit: 'mm', version, fonts: fonts(), binary });
        const path = join(folder, `${name}-${version}${binary ? '-b' : ''}.dxf`);
        writeFileSync(path, bytes);
        if (!binary) expect(conform(bytes), path).toEqual([]);
        return { path, version, back: readDrawing(bytes, 'b.dxf').drawing };
      }),
    );
    const seen = run<Seen[]>('see.py', ...made.map((m) => m.path));
    seen.forEach((s, i) => {
      const { path, version, back } = made[i]!;
      expect(s.errors, path).toEqual([]);
      expect(s.fixes, path).toEqual([]);
      if (version !== 'R12') expect(s.units, path).toBe(4);
      const model = back.entities.filter((e) => e.sheet === undefined);
      if (version !== 'R12') expect(s.kinds, path).toEqual(counted(model.map(kindThere)));
      expect(back.layers.map((l) => l.name).sort(), path).toEqual(s.layers);
      const texts = model.flatMap((e) => (e.kind === 'text' && !e.content ? [e.text] : [])).sort();
      expect(s.texts, path).toEqual(texts);
      if (version !== 'R12')
        expect(s.layouts.sort(), path).toEqual([...back.sheets.map((l) => l.name), 'Model'].sort());
    });
  });

  it.each(TARGETS)('the fullest file delivered as %s: the proof holds', (version) => {
    const { drawing } = readDrawing(file('R2018.dxf'), 'a.dxf');
    expect(risks(hop(drawing, { format: 'dxf', version }).proof)).toEqual([]);
  });
});
