import { describe, expect, it } from 'vitest';
import type { Drawing, Target } from '../src/index.js';
import {
  targetFor,
  NO_DECISIONS,
  boundsOf,
  formatById,
  claimsOf,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
  runChecks,
} from '../src/index.js';
import { bytesOf, fonts, only, read, risks, svg } from './helpers.js';
import { tags } from './tags.js';

/** Words that every object of the language answers to, so that a table asked for them by name finds something. */
const WORDS = ['constructor', '__proto__', 'toString', 'hasOwnProperty', 'valueOf', '__defineGetter__'];

/** A drawing in which layers, linetypes, styles, blocks, values, subclasses and even kinds are called so. */
function drafted(word: string): Drawing {
  const all = [
    0,
    'SECTION',
    2,
    'HEADER',
    9,
    '$ACADVER',
    1,
    'AC1024',
    9,
    '$INSUNITS',
    70,
    4,
    9,
    '$DWGCODEPAGE',
    ...tags(`3 ${word}  9 \$${word}  40 1  9 ${word}  1 ${word}  9`),
    '$CLAYER',
    8,
    word,
    9,
    '$CELTYPE',
    ...tags(`
  6 ${word}  0 ENDSEC  0 SECTION  2 CLASSES  0 CLASS  1 ${word}  2 ${word}  3 ${word}  90 0  91 1  280 0
  281 1  0 ENDSEC  0 SECTION  2 TABLES  0 TABLE  2 LTYPE  70 1  0 LTYPE  2 ${word}  70 0  3 ${word}  72 65
  73 2  40 3  49 2  74 0  49 -1  74 0  0 ENDTAB  0 TABLE  2 LAYER  70 1  0 LAYER  2 ${word}  70 0  62 5
  6 ${word}  0 ENDTAB  0 TABLE  2 STYLE  70 1  0 STYLE  2 ${word}  70 0  40 0  41 1  50 0  71 0  42 2.5
  3 ${word}  4 ""  0 ENDTAB  0 TABLE  2 ${word}  70 1  0 ${word}  2 ${word}  0 ENDTAB  0 ENDSEC  0 SECTION
  2 BLOCKS  0 BLOCK  8 0  2 ${word}  70 0  10 0  20 0  30 0  3 ${word}  0 CIRCLE  8 0  10 0  20 0  30 0
  40 3  0 ENDBLK  8 0  0 ENDSEC  0 SECTION  2 ENTITIES  0 LINE  5 A0  8 ${word}  6 ${word}  10 0  20 0
  30 0  11 90  21 0  31 0  1001 ${word}  1000 ${word}  0 TEXT  5 A1  8 ${word}  7 ${word}  10 0  20 20
  30 0  40 5  1 ${word}  0 MTEXT  5 A2  100 AcDbEntity  8 ${word}  100 AcDbMText  10 0  20 50  30 0  40 4
  41 60  71 1  1 ${word}  7 ${word}  100 ${word}  46 3  0 INSERT  5 A3  8 ${word}  2 ${word}  10 40  20 40
  30 0  0 ${word}  5 A4  100 ${word}  8 ${word}  10 1  20 1  30 0  0 ENDSEC  0 SECTION  2 OBJECTS
  0 DICTIONARY  5 C  330 0  100 AcDbDictionary  3 ${word}  350 D  0 ${word}  5 D  330 C  100 ${word}
  1 ${word}  0 ENDSEC  0 SECTION  2 ${word}  0 ${word}  0 ENDSEC  0 EOF
`),
  ];
  return read(bytesOf(all.join('\n') + '\n'));
}
const drawn = (word: string): Drawing =>
  read(
    svg(
      `<style>.${word} { ${word}: ${word}; fill: ${word}; stroke: ${word} }</style>` +
        `<g id="${word}" class="${word}" data-layer="${word}"><rect x="10" y="10" width="30" height="20" ${word}="${word}"/>` +
        `<text x="10" y="60" font-family="${word}" font-size="8" font-weight="${word}">${word}</text>` +
        `<rect x="1${word}" y="2" width="5" height="5" rx="1${word}" style="transform:translate(4${word})"/>` +
        `<${word} x="1"/><path d="M0 0 H50" style="${word}:${word};stroke:#336699;stroke-linecap:${word};mix-blend-mode:${word}"/></g>` +
        `<circle cx="60" cy="60" r="10" stroke="${word}" fill="url(#${word})" transform="${word}(3)"/>`,
    ),
    'words.svg',
  );

/** R12 and R14 hold names in capitals. */
const written = (word: string, { version }: Target): unknown =>
  version === 'R12' || version === 'R14' ? expect.stringMatching(new RegExp(`^${word}$`, 'i')) : word;
const targets: Target[] = [
  targetFor('dxf', { unit: 'mm' }),
  targetFor('dxf', { unit: 'mm', version: 'R12' }),
  targetFor('dxf', { unit: 'in' }),
  targetFor('dwg', { unit: 'in' }),
  ...formatById('dwg')!.versions.map((version) => targetFor('dwg', { unit: 'mm' as const, version })),
  targetFor('svg', { unit: 'mm' }),
  targetFor('svg', { unit: 'mm', style: 'sheet', colours: { '#336699': '#112233' } }),
];

describe.each(WORDS)('a drawing full of the word %s', (word) => {
  it.each([
    ['drafted', drafted],
    ['drawn', drawn],
  ] as const)('%s, is read, counted, checked, delivered in every version and proven', (_, make) => {
    const source = make(word);
    if (make === drafted) {
      expect(source.version).toBe('2010');
      expect(source.entities.map((e) => e.kind)).toEqual(['line', 'text', 'richText', 'insert', 'opaque']);
    }
    expect(Object.values(boundsOf(source)).every(Number.isFinite)).toBe(true);
    const claims = claimsOf(source);
    expect(claims.layers.map((l) => l.name)).toContain(word);
    for (const layer of claims.layers)
      for (const count of Object.values(layer.kinds)) expect(count).toBeTypeOf('number');
    expect(runChecks(source).length).toBeGreaterThan(0);
    const prepared = prepare(source, NO_DECISIONS, [], { fonts: fonts() });
    for (const target of targets) {
      const what = `${target.format} ${target.version}`;
      const made = deliver(prepared.drawing, target, 'words.x', fonts());
      const again = readDrawing(made.bytes, `words.${target.format}`).drawing;
      expect(
        again.layers.map((l) => l.name.toLowerCase()),
        what,
      ).toContain(word.toLowerCase());
      if (make === drafted && target.format !== 'svg')
        expect(only(again, 'line').look.dash, what).toMatchObject({ kind: 'linetype', name: written(word, target) });
      const proof = proveDelivery(source, prepared, made, made.bytes, fonts());
      expect(risks(proof), what).toEqual([]);
    }
  });
});
