import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, ProofItem, Target } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, prove, readDrawing } from '../../src/index.js';
import { parseRaw } from '../../src/formats/drafting/raw-tags.js';
import { fonts } from '../helpers.js';

type Tag = [number, string];
const source = readDrawing(readFileSync(new URL('../files/every-kind.dxf', import.meta.url)), 'every-kind.dxf').drawing;

/** A drawing prepared with all its layers, and written. */
function written(target: Target) {
  const prepared = prepare(source, { ...NO_DECISIONS, layers: { mode: 'all', names: [] } }, [], { fonts: fonts() });
  return deliver(prepared.drawing, target, 'every-kind.dxf', fonts());
}
const made = written({ ...DEFAULT_TARGETS.dxf, version: '2018' });
const tags = parseRaw(new TextDecoder().decode(made.bytes)) as unknown as Tag[];
const proofOf = (list: readonly (readonly [number, string])[]): ProofItem[] => {
  const text = list.map(([c, v]) => `${c}\n${v}\n`).join('');
  const found = readDrawing(new TextEncoder().encode(text), 'copy.dxf').drawing;
  return prove(made.written, found, { ledger: made.ledger, fonts: fonts() }).items;
};
const atRisk = (items: readonly ProofItem[]): ProofItem[] => items.filter((i) => i.state === 'atRisk');

/** Where the n-th record of a type begins and ends. */
function recordAt(type: string, n = 0, holds: (record: Tag[]) => boolean = () => true): [number, number] {
  for (let i = 0; i < tags.length; i++) {
    if (tags[i]![0] !== 0 || tags[i]![1].trim() !== type) continue;
    let end = i + 1;
    while (end < tags.length && tags[end]![0] !== 0) end++;
    if (holds(tags.slice(i, end)) && n-- === 0) return [i, end];
  }
  throw new Error(`no ${type} among what was written`);
}

/** The file with one value of a record otherwise; a code that is not there is put behind the layer. */
function changed(type: string, code: number, value: string, nth = 0, holds?: (record: Tag[]) => boolean): Tag[] {
  const [from, to] = recordAt(type, 0, holds);
  const at = tags.map(([c], i) => (c === code && i > from && i < to ? i : -1)).filter((i) => i >= 0)[nth];
  const out = tags.slice();
  if (at !== undefined) out[at] = [code, value];
  else out.splice(tags.findIndex(([c], i) => c === 8 && i > from) + 1, 0, [code, value]);
  return out;
}
const named =
  (name: string) =>
  (record: Tag[]): boolean =>
    record.some(([c, v]) => c === 2 && v.trim() === name);
const without = (type: string): Tag[] => {
  const [from, to] = recordAt(type);
  return [...tags.slice(0, from), ...tags.slice(to)];
};
const setting = (name: string, code: number, value: string): Tag[] => {
  const at = tags.findIndex(([c, v]) => c === 9 && v.trim() === name);
  const out = tags.slice();
  out[at + 1] = [code, value];
  return out;
};
const twice = (type: string): Tag[] => {
  const [from, to] = recordAt(type);
  return [
    ...tags.slice(0, to),
    ...tags.slice(from, to).map(([c, v]): Tag => (c === 5 ? [5, 'FFF1'] : [c, v])),
    ...tags.slice(to),
  ];
};

describe('what was written is found again, entity by entity', () => {
  it('without a fault where nothing was done to it', () => {
    expect(atRisk(proofOf(tags))).toEqual([]);
  });

  // Each was made by hand; nothing of all this changes a length, a place or a colour that is measured.
  it.each<[string, Tag[], string, string]>([
    ['a text turned by 90 degrees', changed('TEXT', 50, '120'), 'exact-text-settings', 'rotation'],
    ['a text turned by a thousandth', changed('TEXT', 50, '30.001'), 'exact-text-settings', 'rotation'],
    ['a text of another width', changed('TEXT', 41, '0.95'), 'exact-text-settings', 'widthFactor'],
    ['a text of another slant', changed('TEXT', 51, '16'), 'exact-text-settings', 'oblique'],
    ['a text of another style', changed('TEXT', 7, 'Standard'), 'exact-text-settings', 'style'],
    [
      'exact lines',
      changed('MTEXT', 73, '1', 0, (r) => r.some(([c, v]) => c === 73 && v.trim() === '2')),
      'exact-text-settings',
      'exactSpacing',
    ],
    [
      'a width along a polyline',
      changed('LWPOLYLINE', 41, '0.71', 0, (r) => r.some(([c]) => c === 41)),
      'exact-widths',
      'widths',
    ],
    ['a thickness', changed('LINE', 39, '2.5', 0, (r) => r.some(([c]) => c === 39)), 'exact-widths', 'thickness'],
    [
      'a linetype',
      changed('CIRCLE', 6, 'DASHED', 0, (r) => r.some(([c, v]) => c === 6 && v === 'CENTER')),
      'exact-linetype',
      'linetype',
    ],
    ['a linetype scale', changed('CIRCLE', 48, '2', 0, (r) => r.some(([c]) => c === 48)), 'exact-linetype', 'linetype'],
    ['a line weight', changed('ARC', 370, '53', 0, (r) => r.some(([c]) => c === 370)), 'exact-weight', 'line weight'],
    [
      'a transparency',
      changed('ARC', 440, '33554500', 0, (r) => r.some(([c]) => c === 440)),
      'exact-transparency',
      'opacity',
    ],
    ['one made invisible', changed('ELLIPSE', 60, '1'), 'exact-visibility', 'visible'],
    [
      'an index colour behind a true colour',
      changed('CIRCLE', 62, '2', 0, (r) => r.some(([c]) => c === 420)),
      'exact-colour',
      'colour',
    ],
    ['a dimension that says 99', changed('DIMENSION', 1, '99'), 'exact-dimensions', 'override'],
    ['a measured point', changed('DIMENSION', 13, '0.5'), 'exact-dimensions', 'points'],
    ['the tag of an attribute', changed('ATTRIB', 2, 'NUMERO'), 'exact-attributes', 'tag'],
    ['an attribute that is shown', changed('ATTRIB', 70, '4'), 'exact-attributes', 'hidden'],
    ['an attribute to be verified', changed('ATTDEF', 70, '14'), 'exact-attributes', 'flags'],
    ['a hatch pattern turned', changed('HATCH', 52, '16'), 'exact-fills', 'angle'],
    ['an island ignored', changed('HATCH', 75, '2'), 'exact-fills', 'islands'],
    ['a user’s pattern', changed('HATCH', 76, '1'), 'exact-fills', 'patternBy'],
    ['a spline’s weight', changed('SPLINE', 41, '2.5', 1), 'exact-numbers', 'weights'],
    [
      'an end moved by a ten-millionth',
      changed('LINE', 10, '1.0000001', 0, (r) => r.some(([c, v]) => c === 10 && Number(v) === 1)),
      'exact-numbers',
      'start',
    ],
    [
      'extended data',
      changed('LINE', 1040, '2.6', 0, (r) => r.some(([c]) => c === 1001)),
      'exact-extended',
      'extended',
    ],
    [
      'a window that is turned',
      changed('VIEWPORT', 51, '11', 0, (r) => r.some(([c, v]) => c === 51 && Number(v) === 10)),
      'exact-numbers',
      'twist',
    ],
    ['a layer switched off', changed('LAYER', 62, '-3', 0, named('FRAME')), 'exact-layer-states', 'off'],
    ['a layer frozen', changed('LAYER', 70, '1', 0, named('FRAME')), 'exact-layer-states', 'frozen'],
    ['a layer locked', changed('LAYER', 70, '4', 0, named('FRAME')), 'exact-layer-states', 'locked'],
    [
      'a layer that is plotted again',
      changed('LAYER', 290, '1', 0, named('PLOTLESS')),
      'exact-layer-states',
      'plotted',
    ],
    ['the linetype of a layer', changed('LAYER', 6, 'DOT', 0, named('FRAME')), 'exact-layer-states', 'linetype'],
    ['the weight of a layer', changed('LAYER', 370, '40', 0, named('FRAME')), 'exact-layer-states', 'weight'],
    ['the dashes of a linetype', changed('LTYPE', 49, '7', 0, named('CENTER')), 'exact-linetypes', 'pattern'],
    ['the font of a style', changed('STYLE', 3, 'other.ttf', 0, named('Tall')), 'exact-text-styles', 'font'],
    ['a dimension style', changed('DIMSTYLE', 40, '2', 0, named('EZDXF')), 'exact-dimension-styles', 'tags'],
    ['a base point', changed('BLOCK', 10, '1.5', 0, named('Window')), 'exact-block-records', 'base'],
    ['the global linetype scale', setting('$LTSCALE', 40, '3'), 'exact-settings', '$LTSCALE'],
    ['the current layer', setting('$CLAYER', 8, 'GLASS'), 'exact-settings', '$CLAYER'],
    ['how points are shown', setting('$PDMODE', 70, '2'), 'exact-settings', '$PDMODE'],
    ['one that is gone', without('RAY'), 'exact-entities', 'construction line'],
    ['one that nobody wrote', twice('RAY'), 'exact-entities', 'was not written'],
  ])('tells of %s, by name', (_, damaged, id, word) => {
    const found = atRisk(proofOf(damaged));
    const item = found.find((i) => i.id === id);
    expect(item, JSON.stringify(found.map((i) => [i.id, i.explanation]))).toBeDefined();
    expect(item!.explanation).toContain(word);
  });

  it('says whose it is and where to look', () => {
    const [item] = atRisk(proofOf(changed('ELLIPSE', 60, '1')));
    expect(item!.explanation).toMatch(/^ellipse [0-9A-F]+ on layer FRAME: visible yes became no$/);
    // About the middle of the ellipse at 5, 6.
    expect(Math.hypot(item!.at!.x - -5, item!.at!.y - 6)).toBeLessThan(15);
  });

  it('tells of a sheet whose line is gone, and of what changed places', () => {
    const onSheet = (r: Tag[]): boolean => r.some(([c, v]) => c === 67 && v.trim() === '1');
    const [from, to] = recordAt('LINE', 0, onSheet);
    const gone = atRisk(proofOf([...tags.slice(0, from), ...tags.slice(to)]));
    expect(gone.map((i) => [i.id, /sheet Layout1 is not there/.test(i.explanation)])).toEqual([
      ['exact-entities', true],
    ]);
    const [a, b] = [recordAt('RAY'), recordAt('XLINE')];
    const swapped = [
      ...tags.slice(0, a[0]),
      ...tags.slice(b[0], b[1]),
      ...tags.slice(a[1], b[0]),
      ...tags.slice(a[0], a[1]),
      ...tags.slice(b[1]),
    ];
    // The order that the file lists stands above that of its records: without it these two are what is drawn.
    const order = recordAt('SORTENTSTABLE');
    const unsorted = swapped.filter((t) => !tags.slice(order[0], order[1]).includes(t));
    expect(atRisk(proofOf(unsorted)).map((i) => i.id)).toContain('exact-order');
  });
});

describe('from one version to another', () => {
  it.each([
    ['dxf', '2010'],
    ['dxf', '2000'],
    ['dxf', 'R12'],
    ['dwg', '2018'],
    ['dwg', '2004'],
    ['dwg', '2000'],
  ] as const)('every kind as %s %s: what is otherwise is what the ledger says', (format, version) => {
    const one = written({ ...DEFAULT_TARGETS[format], version });
    const back = readDrawing(one.bytes, `a.${format}`).drawing;
    const items = prove(one.written, back, { ledger: one.ledger, fonts: fonts() }).items;
    expect(atRisk(items).map((i) => [i.id, i.explanation])).toEqual([]);
    expect(items.find((i) => i.id === 'exact-entities')).toBeDefined();
    // A row excuses what it is about: without the ledger the same file does not stand.
    const alone = prove(one.written, back, { ledger: [], fonts: fonts() }).items;
    if (version === 'R12') expect(atRisk(alone).length).toBeGreaterThan(3);
  });

  it('a tolerance does not grow with the size of a drawing or the number of its entities', () => {
    const many: Entity[] = Array.from({ length: 3000 }, (_, i) => ({
      ...(source.entities[2] as Extract<Entity, { kind: 'circle' }>),
      id: 10_000 + i,
      key: (0x9000 + i).toString(16).toUpperCase(),
      centre: [i * 17, 5, 0],
      normal: undefined,
    })) as never;
    const want: Drawing = { ...source, entities: many };
    const got: Drawing = {
      ...want,
      entities: many.map((e, i) => (i === 7 ? { ...e, centre: [7 * 17 + 1e-6, 5, 0] } : e)) as never,
    };
    const found = atRisk(prove(want, got, { ledger: [], fonts: fonts() }).items);
    expect(found.map((i) => i.id)).toEqual(['exact-numbers']);
    expect(Math.abs(found[0]!.at!.x - 119)).toBeLessThan(5);
  });
});
