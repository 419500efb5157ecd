import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { hex, walk } from '../../src/index.js';
import { bytesOf, dxf, read } from '../helpers.js';
import { tags } from '../tags.js';

const LAYERS = tags(`
  0 LAYER  2 0  70 0  62 7  0 LAYER  2 RED  70 0  62 1  0 LAYER  2 BLUE  70 0  62 5  0 LAYER  2 OFF  70 0
  62 -3  0 LAYER  2 ICE  70 1  62 4
`);
const line = (layer: string, colour?: number): (string | number)[] => [
  0,
  'LINE',
  8,
  layer,
  ...(colour === undefined ? [] : [62, colour]),
  ...tags('10 0  20 0  11 1  21 0'),
];
const block = (name: string, ...content: (string | number)[]): (string | number)[] => [
  0,
  'BLOCK',
  8,
  '0',
  2,
  name,
  ...tags('70 0  10 0  20 0'),
  ...content,
  0,
  'ENDBLK',
];
const insert = (name: string, layer: string, more: (string | number)[] = []): (string | number)[] => [
  0,
  'INSERT',
  8,
  layer,
  2,
  name,
  10,
  0,
  20,
  0,
  ...more,
];

/** Colour and layer of every line that is seen. */
function seen(d: Drawing): string[] {
  const out: string[] = [];
  walk(
    d,
    ({ entity, resolved }) => entity.kind === 'line' && out.push(`${resolved.layer} ${hex(resolved.stroke ?? 0)}`),
  );
  return out;
}

describe('what an entity in a block looks like', () => {
  const show = (content: (string | number)[], on: string, colour?: number): string[] =>
    seen(
      read(
        dxf(insert('B', on, colour === undefined ? [] : [62, colour]), {
          layers: LAYERS,
          blocks: block('B', ...content),
        }),
      ),
    );

  it('on layer 0 by layer: that of the insert’s layer', () => {
    expect(show(line('0'), 'RED')).toEqual(['RED #ff0000']);
  });
  it('on a layer of its own: that layer’s', () => {
    expect(show(line('BLUE'), 'RED')).toEqual(['BLUE #0000ff']);
  });
  it('by block: that of the insert, its layer’s when the insert states none', () => {
    expect(show(line('BLUE', 0), 'RED', 3)).toEqual(['BLUE #00ff00']);
    expect(show(line('BLUE', 0), 'RED')).toEqual(['BLUE #ff0000']);
  });
  it('on an off layer, an insert hides only what takes its layer from it', () => {
    expect(show([...line('0'), ...line('BLUE')], 'OFF')).toEqual(['BLUE #0000ff']);
  });
  it('on a frozen layer, an insert hides all of it', () => {
    expect(show([...line('0'), ...line('BLUE')], 'ICE')).toEqual([]);
  });
});

it('inheritance goes through nested inserts', () => {
  const blocks = [...block('INNER', ...line('0', 0)), ...block('OUTER', ...insert('INNER', '0', [62, 0]))];
  expect(seen(read(dxf(insert('OUTER', 'RED', [62, 5]), { layers: LAYERS, blocks })))).toEqual(['RED #0000ff']);
});

it('a block that contains itself is cut where it repeats', () => {
  const blocks = block('SELF', ...line('RED'), ...insert('SELF', '0'));
  const d = read(dxf(insert('SELF', '0'), { layers: LAYERS, blocks }));
  const cuts: string[] = [];
  walk(d, () => {}, { onCut: (_, why) => cuts.push(why) });
  expect(seen(d)).toEqual(['RED #ff0000']);
  expect(cuts).toEqual(['recursive']);
});

it('an array of inserts is drawn once per cell, 60 levels deep or not', () => {
  let blocks = block('L0', ...line('RED'));
  for (let i = 1; i <= 60; i++) blocks = [...blocks, ...block(`L${i}`, ...insert(`L${i - 1}`, '0'))];
  const d = read(dxf(insert('L60', '0', [70, 3, 71, 2, 44, 10, 45, 20]), { layers: LAYERS, blocks }));
  expect(seen(d).length).toBe(6);
});

describe('widths and dashes', () => {
  const layers = tags('0 LAYER  2 W  70 0  62 7  6 DASHED  370 70');
  const of = (...entities: (string | number)[]) => {
    const out: unknown[] = [];
    const d = read(
      dxf(entities, {
        layers,
        blocks: block('B', ...line('0'), 0, 'LINE', 8, '0', 6, 'BYBLOCK', 370, -2, 10, 0, 20, 0, 11, 1, 21, 0),
      }),
    );
    walk(d, ({ entity, resolved }) => {
      if (entity.kind === 'line') out.push([resolved.width, resolved.dash.kind === 'linetype' && resolved.dash.name]);
    });
    return out;
  };
  it('by layer', () => expect(of(...line('W'))).toEqual([[{ kind: 'paper', mm: 0.7 }, 'DASHED']]));
  it('of their own', () => {
    const own = of(0, 'LINE', 8, 'W', 6, 'DOTS', 370, 25, 10, 0, 20, 0, 11, 1, 21, 0);
    expect(own).toEqual([[{ kind: 'paper', mm: 0.25 }, 'DOTS']]);
  });
  it('in a block: layer 0 takes the layer of the insert, by block takes what the insert itself has', () => {
    const both = of(0, 'INSERT', 8, 'W', 6, 'DOTS', 370, 30, 2, 'B', 10, 0, 20, 0);
    expect(both).toEqual([
      [{ kind: 'paper', mm: 0.7 }, 'DASHED'],
      [{ kind: 'paper', mm: 0.3 }, 'DOTS'],
    ]);
  });
  it('by block outside a block: nobody says', () => {
    expect(of(0, 'LINE', 8, '0', 6, 'BYBLOCK', 370, -2, 10, 0, 20, 0, 11, 1, 21, 0)).toEqual([
      [{ kind: 'standard' }, 'Continuous'],
    ]);
  });
});

describe('draw order', () => {
  it('follows the sort table; what it does not list sorts by its own handle', () => {
    const e = (handle: string, x: number): (string | number)[] => [0, 'POINT', 5, handle, 8, '0', 10, x, 20, 0];
    const all = [
      0,
      'SECTION',
      2,
      'HEADER',
      9,
      '$ACADVER',
      ...tags(`
  1 AC1024  0 ENDSEC  0 SECTION  2 TABLES  0 TABLE  2 BLOCK_RECORD  70 1  0 BLOCK_RECORD  5 1F
  2 *Model_Space  0 ENDTAB  0 ENDSEC  0 SECTION  2 BLOCKS  0 BLOCK  2 *Model_Space  0 ENDBLK  0 ENDSEC
  0 SECTION  2 ENTITIES
`),
      ...e('A1', 1),
      ...e('A2', 2),
      ...e('A3', 3),
      ...tags(`
  0 ENDSEC  0 SECTION  2 OBJECTS  0 SORTENTSTABLE  5 B0  100 AcDbSortentsTable  330 1F  331 A1  5 A3
  331 A3  5 A1  0 ENDSEC  0 EOF
`),
    ];
    const d = read(bytesOf(all.join('\n') + '\n'));
    expect(d.entities.map((x) => x.kind === 'point' && x.at[0])).toEqual([3, 2, 1]);
  });
});
