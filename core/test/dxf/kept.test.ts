import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Affine } from '../../src/geometry/affine.js';
import type { Drawing, Entity } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, readDrawing, transformDrawing } from '../../src/index.js';
import { mapped } from '../../src/drawing/break-up.js';
import { parseRaw } from '../../src/formats/drafting/raw-tags.js';
import { fonts } from '../helpers.js';

type Tag = readonly [number, string];
const read = (name: string): Drawing =>
  readDrawing(readFileSync(new URL(`../files/${name}`, import.meta.url)), name).drawing;
function written(d: Drawing, format: 'dxf' | 'dwg' = 'dxf', version = '2018') {
  const all = { ...NO_DECISIONS, unit: d.unit ? null : ('mm' as const), layers: { mode: 'all' as const, names: [] } };
  const prepared = prepare(d, all, [], { fonts: fonts() });
  return deliver(prepared.drawing, { ...DEFAULT_TARGETS[format], version }, 'a', fonts());
}
/** The records of a DXF as they stand in its text: not by our reader. */
function records(bytes: Uint8Array): Tag[][] {
  const out: Tag[][] = [];
  for (const tag of parseRaw(new TextDecoder().decode(bytes)) as unknown as Tag[]) {
    if (tag[0] === 0) out.push([]);
    out[out.length - 1]!.push(tag);
  }
  return out;
}
const said = (list: Tag[][], type: string, code: number, where: (r: Tag[]) => boolean = () => true): string[] =>
  list.filter((r) => r[0]![1].trim() === type && where(r)).map((r) => r.find(([c]) => c === code)?.[1].trim() ?? '');

describe('a file that lost twelve things without a word', () => {
  const list = records(written(read('silent-changes.dxf'), 'dxf', '2010').bytes);
  const head = (name: string): string | undefined => {
    const tags = list.find((r) => r[0]![1].trim() === 'SECTION')!;
    const at = tags.findIndex(([c, v]) => c === 9 && v.trim() === name);
    return tags[at + 1]?.[1].trim();
  };
  it.each<[string, () => unknown, unknown]>([
    ['a spline that lies in no plane is not said to', () => said(list, 'SPLINE', 70), ['0']],
    ['nor given a normal', () => said(list, 'SPLINE', 230), ['']],
    ['a hatch pattern by the user', () => said(list, 'HATCH', 76), ['0']],
    ['crossed', () => said(list, 'HATCH', 77), ['1']],
    ['with its seed point', () => said(list, 'HATCH', 98), ['1']],
    ['exact line spacing', () => said(list, 'MTEXT', 73), ['2']],
    ['a style that runs downwards', () => said(list, 'STYLE', 70).filter((f) => f === '4'), ['4']],
    ['transparency by block', () => said(list, 'CIRCLE', 440), ['16777216']],
    ['a reference laid over', () => said(list, 'BLOCK', 70).filter((f) => f === '12'), ['12']],
    ['the current layer', () => head('$CLAYER'), 'CUR'],
    ['the current text style', () => head('$TEXTSTYLE'), 'OpenSans'],
    ['the measurement', () => head('$MEASUREMENT'), '0'],
    ['the sheet that is in front', () => head('$TILEMODE'), '0'],
  ])('%s', (_, found, expected) => {
    expect(found()).toEqual(expected);
  });

  it('layer states still hang on the table of layers', () => {
    const table = list.find((r) => r[0]![1].trim() === 'TABLE' && r.some(([c, v]) => c === 2 && v.trim() === 'LAYER'))!;
    const dictionary = table.find(([c]) => c === 360)![1].trim();
    const owned = list.find(
      (r) => r[0]![1].trim() === 'DICTIONARY' && r.some(([c, v]) => c === 5 && v.trim() === dictionary),
    )!;
    const owner = table.find(([c]) => c === 5)![1].trim();
    expect(owned.find(([c]) => c === 330)![1].trim()).toBe(owner);
    // And every layer says that it belongs to the same table.
    expect(new Set(said(list, 'LAYER', 330))).toEqual(new Set([owner]));
  });
});

describe('kept from file to file', () => {
  const source = read('every-kind.dxf');
  const of = <K extends Entity['kind']>(d: Drawing, kind: K): Extract<Entity, { kind: K }>[] =>
    d.entities.filter((e): e is Extract<Entity, { kind: K }> => e.kind === kind);

  it.each(['dxf', 'dwg'] as const)('faces of a mesh with their own colours and layers, in a %s', (format) => {
    const looks = (d: Drawing): unknown =>
      of(d, 'mesh')
        .flatMap((m) => m.faceLooks ?? [])
        .map((f) => f && [f.layer, f.look.stroke]);
    const back = readDrawing(written(source, format).bytes, `a.${format}`).drawing;
    expect(looks(source)).toEqual([
      ['GLASS', { kind: 'index', index: 2 }],
      ['GLASS', { kind: 'index', index: 3 }],
    ]);
    expect(looks(back)).toEqual(looks(source));
  });

  it('a trace is no solid, and an attribute keeps every bit of its flags', () => {
    const list = records(written(source).bytes);
    expect(said(list, 'TRACE', 39)).toEqual(['1.0']);
    expect(said(list, 'SOLID', 39)).toContain('1.0');
    expect([said(list, 'ATTDEF', 70), said(list, 'ATTRIB', 70)]).toEqual([['10'], ['5']]);
  });

  it('extended data of an application that no table lists gets its line', () => {
    const line = of(source, 'line').find((e) => e.extended)!;
    const d = { ...source, entities: [{ ...line, extended: '1001\nBAY\n1000\n3\n' }], applications: [] };
    expect(said(records(written(d).bytes), 'APPID', 2)).toContain('BAY');
    const back = readDrawing(written(d, 'dwg').bytes, 'a.dwg').drawing;
    expect(back.entities[0]!.extended?.replace(/\r/g, '')).toContain('BAY');
  });

  it('what goes with a curve goes where the curve goes: directions at ends, seed points', () => {
    // A quarter turn, three times the size, then aside.
    const m: Affine = [0, 3, 0, -3, 0, 0, 0, 0, 3, 50, 20, 0];
    const [before, after] = [source, transformDrawing(source, m)];
    const [s, t] = [of(before, 'spline')[0]!, of(after, 'spline')[0]!];
    expect([s.startTangent, s.endTangent]).toEqual([
      [1, 0, 0],
      [0, 1, 0],
    ]);
    for (const [v, w] of [
      [t.startTangent!, [0, 1, 0]],
      [t.endTangent!, [-1, 0, 0]],
    ] as const)
      v.forEach((x, i) => expect(x).toBeCloseTo(w[i]!, 12));
    // The hatch is seen from behind: its own x runs the other way.
    const [h, k] = [of(before, 'hatch')[0]!, of(after, 'hatch')[0]!];
    expect([...h.seeds!]).toEqual([2, 2, 4, 3]);
    const onLoop = (e: typeof h): number[] => {
      const { data } = e.loops[0]!.path;
      return [e.seeds![0]! - data[0]!, e.seeds![1]! - data[1]!];
    };
    expect(Math.hypot(...onLoop(k))).toBeCloseTo(3 * Math.hypot(...onLoop(h)), 9);
    const [taken] = mapped(s, m);
    expect((taken as typeof s).startTangent![1]).toBeCloseTo(1, 12);
  });

  it('in R12 what R12 knows, in its own tags', () => {
    const list = records(written(read('every-kind-r12.dxf'), 'dxf', 'R12').bytes);
    expect(said(list, 'POINT', 50).filter((v) => v !== '')).toEqual(['30.0']);
    expect(said(list, 'ATTDEF', 73)).toEqual(['3']);
    expect(said(list, 'BLOCK', 4).filter((t) => t !== '')).toEqual(['A window']);
  });
});
