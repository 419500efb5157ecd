import { describe, expect, it } from 'vitest';
import type { XmlElement } from '../../src/formats/svg/xml.js';
import { parseXml } from '../../src/formats/svg/xml.js';
import { StyleSheet, parseStyleAttribute } from '../../src/formats/svg/css.js';

const document = parseXml(`<svg xmlns="http://www.w3.org/2000/svg" id="root">
  <g id="panel" class="sign wide" data-kind="kestrel-row">
    <rect id="a" class="edge"/>
    <path id="b" class="edge thin"/>
    <g id="inner"><path id="c" lang="en-GB"/></g>
    <text id="d"/>
  </g>
</svg>`);
const byId = (id: string): XmlElement => document.byId.get(id)!;
const IDS = ['root', 'panel', 'a', 'b', 'inner', 'c', 'd'];

/** Which elements a selector picks. */
const picks = (selector: string): string[] => {
  const sheet = new StyleSheet();
  sheet.add(`${selector} { fill: red }`);
  return IDS.filter((id) => sheet.matching(byId(id)).length > 0);
};
/** What wins for an element: the last declaration of each name. */
const computed = (css: string, id: string): Record<string, string> => {
  const sheet = new StyleSheet();
  sheet.add(css);
  return Object.fromEntries(sheet.declarations(sheet.matching(byId(id))).map((d) => [d.name, d.value]));
};

describe('selectors', () => {
  it.each([
    ['path', ['b', 'c']],
    ['.edge', ['a', 'b']],
    ['.edge.thin', ['b']],
    ['#c', ['c']],
    ['*', IDS],
    ['path, text', ['b', 'c', 'd']],
    // Anywhere within, and right within.
    ['#panel path', ['b', 'c']],
    ['#panel > path', ['b']],
    ['svg g g path', ['c']],
    // Right behind, and anywhere behind.
    ['rect + path', ['b']],
    ['rect + text', []],
    ['rect ~ text', ['d']],
    [':root', ['root']],
    ['g > :first-child', ['a', 'c']],
    // Attributes: there, equal, one word, beginning, end, within, a language.
    ['[lang]', ['c']],
    ['[class="edge"]', ['a']],
    ['[class~="edge"]', ['a', 'b']],
    ['[data-kind^="kestrel"]', ['panel']],
    ['[data-kind$="row"]', ['panel']],
    ['[data-kind*="l-r"]', ['panel']],
    ['[lang|="en"]', ['c']],
    ['[data-kind^=""]', []],
  ])('%s', (selector, ids) => {
    expect(picks(selector)).toEqual(ids);
  });

  it('that are not followed are named, and take nothing else with them', () => {
    const sheet = new StyleSheet();
    sheet.add(
      'path:hover { fill: red } path::before { fill: red } @media print { path { fill: red } } path { fill: blue }',
    );
    expect([...sheet.ignored.keys()]).toEqual(['selector path:hover', 'selector path::before', '@media']);
    expect(sheet.declarations(sheet.matching(byId('b'))).map((d) => d.value)).toEqual(['blue']);
  });
});

describe('who wins', () => {
  it('an id over classes, a class over types, whatever their order and number', () => {
    const css = '#b { fill: red } .edge.thin { fill: green } svg g path { fill: blue } path { stroke: black }';
    expect(computed(css, 'b')).toEqual({ fill: 'red', stroke: 'black' });
    expect(computed('.edge { fill: red } g path { fill: blue }', 'b')).toEqual({ fill: 'red' });
    expect(computed('[lang] { fill: red } svg g g path { fill: blue }', 'c')).toEqual({ fill: 'red' });
  });
  it('of equals the later, also from a later sheet', () => {
    const sheet = new StyleSheet();
    sheet.add('path { fill: red } #b { stroke: red }');
    sheet.add('path { fill: green; stroke: blue }');
    const last = Object.fromEntries(sheet.declarations(sheet.matching(byId('b'))).map((d) => [d.name, d.value]));
    expect(last).toEqual({ fill: 'green', stroke: 'red' });
  });
  it('what is important over all that is not', () => {
    expect(computed('path { fill: red !important } #b { fill: blue }', 'b')).toEqual({ fill: 'red' });
    expect(computed('path { fill: red !important } #b { fill: blue !important }', 'b')).toEqual({ fill: 'blue' });
  });
});

describe('a style attribute', () => {
  it('is read by parts: names in any case, blanks, a missing end', () => {
    expect(parseStyleAttribute(' FILL : #F00 ;stroke-width:2px; ;broken;stroke:')).toEqual([
      { name: 'fill', value: '#F00', important: false },
      { name: 'stroke-width', value: '2px', important: false },
      { name: 'stroke', value: '', important: false },
    ]);
  });
  it('with brackets, quotes or an exclamation mark by the parser: semicolons within them end nothing', () => {
    const names = parseStyleAttribute('fill:url("a;b.svg#c");stroke:red!important;font-family:"Kestrel; Row", serif');
    expect(names.map((d) => [d.name, d.important])).toEqual([
      ['fill', false],
      ['stroke', true],
      ['font-family', false],
    ]);
    expect(names[2]!.value.replace(/\s*,\s*/, ', ')).toBe('"Kestrel; Row", serif');
  });
  it('custom properties keep their case', () => {
    expect(parseStyleAttribute('--Edge:calc(1px + 2px)').map((d) => d.name)).toEqual(['--Edge']);
  });
});

it('fonts that a document holds are named once, with or without a name', () => {
  const sheet = new StyleSheet();
  sheet.add(
    '@font-face { font-family: "Kestrel Sans"; src: url(x) } @font-face { src: url(y) } @font-face { font-family: Kestrel }',
  );
  expect([...sheet.fonts]).toEqual(['Kestrel Sans', 'without a name', 'Kestrel']);
  expect(sheet.empty).toBe(true);
});
