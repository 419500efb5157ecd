import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Entity } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { WRITABLE_DWG } from '../../src/formats/dwg/versions.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { dressed, generatedDrawing } from '../generated.js';
import { DEMO, demoFile, fonts } from '../helpers.js';
import { dxfByFirst, seenByFirst, seenBySecond } from './readers.js';

const VERSIONS = Object.keys(WRITABLE_DWG);

/** How our kinds are called by each of the two readers; `null`: it has no word for them, or answers with another. */
function nameAt(e: Entity, reader: 'first' | 'second'): string | null {
  const first = reader === 'first';
  switch (e.kind) {
    case 'polyline':
      return e.dim === 2 ? 'LWPOLYLINE' : first ? 'POLYLINE3D' : null;
    case 'ray':
      return e.both ? 'XLINE' : 'RAY';
    case 'richText':
      return 'MTEXT';
    case 'face':
      return e.solid ? 'SOLID' : first ? '3DFACE' : 'E3DFACE';
    case 'image':
      return first ? 'WIPEOUT' : null;
    // The first gives no net or polyface mesh and no array of inserts; the second calls meshes polylines.
    case 'mesh':
      return null;
    case 'insert':
      return first ? null : 'INSERT';
    case 'viewport':
    case 'opaque':
    case 'path':
      return null;
    default:
      return e.kind.toUpperCase();
  }
}

function expected(d: Drawing, reader: 'first' | 'second'): Record<string, number> {
  const out: Record<string, number> = {};
  for (const e of d.entities) {
    const name = nameAt(e, reader);
    if (name !== null) out[name] = (out[name] ?? 0) + 1;
  }
  return out;
}

const only = (kinds: Record<string, number>, wanted: Record<string, number>): Record<string, number> =>
  Object.fromEntries(Object.keys(wanted).map((k) => [k, kinds[k] ?? 0]));

/** Whether a hatch has edges of splines: the first reader stops after the first of them from version 2010 on. */
const splined = (e: Entity): boolean => e.kind === 'hatch' && e.loops.some((l) => l.path.cmds.includes(3));

/** The numbers of an entity that the first reader's own DXF shows in full. */
function numbersOf(e: Entity): unknown {
  switch (e.kind) {
    case 'line':
      return [e.start, e.end];
    case 'circle':
      return [e.centre, e.radius];
    case 'arc':
      return [e.centre, e.radius, e.start, e.end];
    case 'ellipse':
      return [e.centre, e.major, e.ratio, e.start, e.end];
    case 'point':
      return e.at;
    case 'ray':
      return [e.at, e.direction, e.both];
    case 'polyline':
      return [Array.from(e.points), e.bulges && Array.from(e.bulges), e.closed, e.elevation];
    case 'spline':
      return [e.degree, Array.from(e.knots), Array.from(e.points), e.weights && Array.from(e.weights)];
    case 'insert':
      return [e.block, e.at, e.scale, e.rotation, e.columns, e.attributes.map((a) => [a.tag, a.text, a.at, a.size])];
    case 'text':
      // That reader loses characters beyond the first 65536 in its DXF.
      return [e.at, e.size, e.rotation, /[\ud800-\udfff\ufffd]/.test(e.text) ? null : e.text];
    case 'richText':
      return [e.at, e.size, e.width, e.content];
    case 'dimension':
      return [e.form, e.points[13] && e.points[14], e.override, e.picture];
    case 'hatch':
      return [e.solid, e.pattern, e.loops.length, e.loops.map((l) => [l.path.cmds, l.path.data])];
    default:
      return null;
  }
}
const rounded = (v: unknown): unknown => {
  // Nine digits that count, and nothing below 1e-12.
  if (typeof v === 'number') return Math.abs(v) < 1e-12 ? 0 : Number(v.toPrecision(9));
  if (v instanceof Float64Array || v instanceof Uint8Array) return Array.from(v, rounded);
  return Array.isArray(v) ? v.map(rounded) : v;
};
const comparable = (d: Drawing): unknown[] =>
  d.entities
    .filter((e) => e.sheet === undefined && numbersOf(e) !== null)
    .map((e) => ({ kind: e.kind, layer: e.layer, numbers: rounded(numbersOf(e)) }));

describe.each(VERSIONS)('two independent readers of version %s', (version) => {
  const written = (d: Drawing): Uint8Array => writeDwg(d, { unit: 'mm', version, fonts: fonts() }).bytes;

  it('find every entity and layer of a drawing of every kind, and the same numbers', async () => {
    const d = generatedDrawing(fc.sample(dressed, { seed: 20, numRuns: 150 }));
    const bytes = written(d);
    const layers = [...new Set(['0', ...d.layers.map((l) => l.name), ...d.entities.map((e) => e.layer)])].sort();
    const first = await seenByFirst(bytes);
    // 64: a value beyond its bounds, said of attributes from 2010 on, which it reads all the same.
    expect([0, ...(version >= '2010' ? [64] : [])]).toContain(first.error);
    expect(only(first.kinds, expected(d, 'first'))).toEqual(expected(d, 'first'));
    expect(first.layers).toEqual(layers);
    const second = await seenBySecond(bytes);
    expect(only(second.kinds, expected(d, 'second'))).toEqual(expected(d, 'second'));
    expect(second.layers).toEqual(layers);
    const there = readDrawing(await dxfByFirst(bytes), 'there.dxf').drawing;
    const ours = readDwg(bytes).drawing;
    expect(comparable(there)).toEqual(comparable(ours));
    expect([...there.blocks.keys()].sort()).toEqual([...ours.blocks.keys()].sort());
    // Colours to the last digit, true ones from 2004 on; what they show is what the drawing says.
    const colours = (x: Drawing): unknown[] =>
      x.entities
        .filter((e) => numbersOf(e) !== null)
        .map((e) => {
          const p = e.look.stroke.kind === 'none' ? e.look.fill : e.look.stroke;
          return p.kind === 'rgb' ? p.rgb : p.kind === 'index' ? p.index : p.kind;
        });
    expect(colours(there)).toEqual(colours(ours));
  });

  it.each(DEMO)('find every entity of %s, its unit and its size', async (name) => {
    const { drawing: d } = readDrawing(demoFile(name), name);
    const bytes = written(d);
    const back = readDwg(bytes).drawing;
    const first = await seenByFirst(bytes);
    expect([0, ...(version >= '2010' ? [64] : [])]).toContain(first.error);
    expect(only(first.kinds, expected(back, 'first'))).toEqual(expected(back, 'first'));
    // R14 has no word for it.
    expect(first.header['INSUNITS']).toBe(version === 'R14' ? 0 : 4);
    const at = (text: string): unknown => {
      const [x, y, z] = back.header.get(text)!.map(([, v]) => Number(v));
      return { x, y, z };
    };
    expect([first.header['EXTMIN'], first.header['EXTMAX']]).toEqual([at('$EXTMIN'), at('$EXTMAX')]);
    const second = await seenBySecond(bytes);
    expect(only(second.kinds, expected(back, 'second'))).toEqual(expected(back, 'second'));
    const there = readDrawing(await dxfByFirst(bytes), 'there.dxf').drawing;
    const judged = (x: Drawing): unknown[] => {
      const doubtful = back.entities.map((e) => version >= '2010' && splined(e));
      return comparable({ ...x, entities: x.entities.filter((_, i) => !doubtful[i]) });
    };
    expect(judged(there)).toEqual(judged(back));
  });
});

/** An independent maker of DWG files: what we read must be what it was told to write. */
describe('files that another program made', () => {
  type Maker = Record<string, new (...a: unknown[]) => Record<string, unknown>> & {
    ACadVersion: Record<string, number>;
    DwgWriter: { writeToBuffer(doc: unknown): Uint8Array };
    DxfReader: { readFromStream(bytes: Uint8Array): Record<string, unknown> };
  };
  let maker: Maker;
  beforeAll(async () => {
    maker = (await import('@node-projects/acad-ts')) as unknown as Maker;
  });
  const LETTERS = ['AC1014', 'AC1015', 'AC1018', 'AC1024', 'AC1027', 'AC1032'];

  it.each(LETTERS)(
    '%s: lines, circles, arcs, ellipses, polylines and texts have the numbers they were given',
    (letters) => {
      const doc = new maker['CadDocument']!() as {
        entities: { add(e: unknown): void };
        header: Record<string, unknown>;
      };
      const xyz = (x: number, y: number, z = 0): unknown => new maker['XYZ']!(x, y, z);
      const add = (kind: string, fields: Record<string, unknown>): void => {
        const e = new maker[kind]!();
        Object.assign(e, fields);
        doc.entities.add(e);
      };
      add('Line', { startPoint: xyz(1.5, 2.25, 3), endPoint: xyz(-4, 1e6 + 1 / 3, 0) });
      add('Circle', { center: xyz(10, 20, 0), radius: 7.125 });
      add('Arc', { center: xyz(-10, 0.1, 0), radius: 2, startAngle: 0.5, endAngle: 2.5 });
      add('Ellipse', {
        center: xyz(3, 4),
        majorAxisEndPoint: xyz(6, 8),
        radiusRatio: 0.25,
        startParameter: 0.125,
        endParameter: 3,
      });
      add('Point', { location: xyz(0.1, 0.2, 0.3) });
      add('TextEntity', { value: 'Kestrel Row', insertPoint: xyz(5, 6), height: 2.5, rotation: 0.75 });
      doc.header['version'] = maker.ACadVersion[letters];
      const { drawing } = readDwg(maker.DwgWriter.writeToBuffer(doc));
      const found = drawing.entities.map((e) => {
        switch (e.kind) {
          case 'line':
            return [e.start, e.end];
          case 'circle':
            return [e.centre, e.radius];
          case 'arc':
            return [e.centre, e.radius, e.start, e.end];
          case 'ellipse':
            return [e.centre, e.major, e.ratio, e.start, e.end];
          case 'point':
            return [e.at];
          case 'text':
            return [e.text, e.at, e.size, e.rotation];
          default:
            return [e.kind];
        }
      });
      expect(found).toEqual([
        [
          [1.5, 2.25, 3],
          [-4, 1e6 + 1 / 3, 0],
        ],
        [[10, 20, 0], 7.125],
        [[-10, 0.1, 0], 2, 0.5, 2.5],
        [[3, 4, 0], [6, 8, 0], 0.25, 0.125, 3],
        [[0.1, 0.2, 0.3]],
        ['Kestrel Row', [5, 6, 0], 2.5, 0.75],
      ]);
    },
  );

  it.each(LETTERS)('%s: a demo drawing comes through it with its curves', (letters) => {
    const source = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf').drawing;
    const doc = maker.DxfReader.readFromStream(demoFile('kestrel-row-section.dxf'));
    (doc['header'] as Record<string, unknown>)['version'] = maker.ACadVersion[letters];
    for (const b of doc['blockRecords'] as Iterable<{ entities: Iterable<Record<string, unknown>> }>)
      for (const e of b.entities)
        if (e.constructor.name === 'Viewport') e['ambientLightColor'] ??= new maker['Color']!(250);
    const { drawing } = readDwg(maker.DwgWriter.writeToBuffer(doc));
    const curves = (d: Drawing): unknown[] =>
      d.entities
        .filter((e) => ['line', 'circle', 'polyline', 'spline', 'hatch'].includes(e.kind))
        .map((e) => [e.kind, e.layer, rounded(numbersOf(e))]);
    expect(curves(drawing)).toEqual(curves(source));
    expect(drawing.notes).toEqual([]);
  });
});
