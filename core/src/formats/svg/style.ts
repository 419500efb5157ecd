import type { Declaration, StyleSheet } from './css.js';
import { parseStyleAttribute } from './css.js';
import { parseLength } from './lengths.js';
import { soundValue } from './style-values.js';
import type { XmlElement } from './xml.js';
import { wordTable } from '../../drawing/word-table.js';

/** Properties that pass from an element to its children (SVG 2, "Property index"). */
const INHERITED = new Set([
  'fill',
  'fill-opacity',
  'fill-rule',
  'stroke',
  'stroke-opacity',
  'stroke-width',
  'stroke-dasharray',
  'stroke-dashoffset',
  'stroke-linecap',
  'stroke-linejoin',
  'stroke-miterlimit',
  'paint-order',
  'color',
  'visibility',
  'font-family',
  'font-size',
  'font-weight',
  'font-style',
  'font-stretch',
  'letter-spacing',
  'word-spacing',
  'text-anchor',
  'white-space',
  'marker-start',
  'marker-mid',
  'marker-end',
  'clip-rule',
  'dominant-baseline',
  'writing-mode',
  'direction',
  'text-transform',
  'font-variant',
  'font-variant-caps',
]);

const OWN = new Set([
  'opacity',
  'display',
  'clip-path',
  'mask',
  'filter',
  'mix-blend-mode',
  'transform',
  'translate',
  'rotate',
  'scale',
  'transform-origin',
  'transform-box',
  'vector-effect',
  'overflow',
  'stop-color',
  'stop-opacity',
  'alignment-baseline',
  'baseline-shift',
  'text-decoration',
  'text-decoration-line',
  'x',
  'y',
  'r',
  'cx',
  'cy',
  'rx',
  'ry',
  'width',
  'height',
  'd',
]);

/** Properties that are geometry: attributes of the same name are read as such, not as style. */
const GEOMETRY = new Set([
  'x',
  'y',
  'r',
  'cx',
  'cy',
  'rx',
  'ry',
  'width',
  'height',
  'd',
  'transform',
  'translate',
  'rotate',
  'scale',
]);

const SAYS_STYLE = new Set(['style', ...[...INHERITED, ...OWN].filter((n) => !GEOMETRY.has(n))]);
const NO_RULES: readonly number[] = [];
const MOST_CHILDREN = 100_000;

/** The computed style of an element: property values as text, inherited ones filled in. */
export class Style {
  private constructor(
    private readonly inherited: ReadonlyMap<string, string>,
    private readonly own: ReadonlyMap<string, string>,
    private readonly custom: ReadonlyMap<string, string>,
  ) {}

  /** The style outside any element, anew each time: what it remembers of its children belongs to one document. */
  static get initial(): Style {
    return new Style(new Map(), new Map(), new Map());
  }

  get(name: string): string | undefined {
    return this.own.get(name) ?? this.inherited.get(name);
  }

  /** Computed size of the font, in user units. */
  get fontSize(): number {
    return Number(this.inherited.get('font-size') ?? 16);
  }

  /** Styles of children that say the same are one and the same object, so that looks need to be made once. */
  private children: Map<string, Style> | null = null;

  /** The style of a child element. Attributes are weakest, then stylesheets, then `style`, then what is `!important`. */
  child(e: XmlElement, sheet: StyleSheet): Style {
    let key = '';
    for (const [name, value] of e.attributes) if (SAYS_STYLE.has(name)) key += `${name}\u0000${value}\u0000`;
    const rules = sheet.empty ? NO_RULES : sheet.matching(e);
    if (rules.length > 0) key += rules.join();
    const known = this.children?.get(key);
    if (known) return known;
    const made = this.childOf(e, sheet, rules);
    this.children ??= new Map();
    if (this.children.size < MOST_CHILDREN) this.children.set(key, made);
    return made;
  }

  private childOf(e: XmlElement, sheet: StyleSheet, rules: readonly number[]): Style {
    const text = e.attributes.get('style');
    const fromSheet = sheet.declarations(rules);
    const inline = text ? parseStyleAttribute(text) : [];
    const inherited = new Map(this.inherited);
    const own = new Map<string, string>();
    let custom = this.custom;
    let touched = false;
    const put = (name: string, raw: string): void => {
      if (name.startsWith('--')) {
        custom = new Map(custom).set(name, raw);
        return;
      }
      const given = raw.includes('var(') ? substitute(raw, custom) : raw;
      if (name === 'font') {
        shorthandFont(given, inherited);
        const size = inherited.get('font-size');
        if (size !== undefined) inherited.set('font-size', sizeInPixels(size, this.fontSize));
        touched = true;
        return;
      }
      const word = given.trim().toLowerCase();
      // Words that every property knows (CSS Cascade 4, §7): the parent's value, or the one outside any element.
      const parents = word === 'inherit' || (/^(unset|revert|revert-layer)$/.test(word) && INHERITED.has(name));
      if (parents || /^(initial|unset|revert|revert-layer)$/.test(word)) {
        const [to, from] = OWN.has(name) ? [own, this.own] : [inherited, this.inherited];
        const value = parents ? from.get(name) : undefined;
        if (value === undefined) to.delete(name);
        else to.set(name, value);
        touched = true;
        return;
      }
      // What a property does not know is no declaration: the one before it stands.
      const value = soundValue(name, given);
      if (value === null) return;
      if (name === 'marker') for (const m of ['marker-start', 'marker-mid', 'marker-end']) inherited.set(m, value);
      if (INHERITED.has(name)) {
        inherited.set(name, name === 'font-size' ? sizeInPixels(value, this.fontSize) : value);
        touched = true;
      } else if (OWN.has(name)) own.set(name, value);
    };
    for (const [name, value] of e.attributes) {
      if (!GEOMETRY.has(name) && (INHERITED.has(name) || OWN.has(name))) put(name, value.trim());
    }
    const order: Declaration[] = [
      ...fromSheet.filter((d) => !d.important),
      ...inline.filter((d) => !d.important),
      ...fromSheet.filter((d) => d.important),
      ...inline.filter((d) => d.important),
    ];
    // Custom properties first, whatever their place, since any value may use them.
    for (const d of order) if (d.name.startsWith('--')) put(d.name, d.value);
    // They are worked out where they are set, not where they are used.
    if (custom !== this.custom)
      custom = new Map([...custom].map(([n, v]) => [n, v.includes('var(') ? substitute(v, custom) : v]));
    for (const d of order) if (!d.name.startsWith('--')) put(d.name, d.value);
    const same = !touched && order.length === 0;
    return new Style(same ? this.inherited : inherited, own, custom);
  }
}

/** Sizes by name, in parts of the medium 16 px (CSS Fonts 4 §3.5). */
const NAMED_SIZES = wordTable<number>({
  'xx-small': 0.6,
  'x-small': 0.75,
  small: 8 / 9,
  medium: 1,
  large: 1.2,
  'x-large': 1.5,
  'xx-large': 2,
});

/** A font size as a number of user units; relative ones count from the parent's. */
function sizeInPixels(value: string, parent: number): string {
  const word = value.trim().toLowerCase();
  if (NAMED_SIZES[word] !== undefined) return String(16 * NAMED_SIZES[word]);
  if (word === 'larger') return String(parent * 1.2);
  if (word === 'smaller') return String(parent / 1.2);
  const size = word.endsWith('rem')
    ? parseLength(word, { percentOf: 16, em: 16 })
    : parseLength(word, { percentOf: parent, em: parent });
  return String(size ?? parent);
}

/** Longer values hold no variables that a person wrote, and looking for them would take the square of their length. */
const MAX_VALUE = 10_000;

function substitute(value: string, custom: ReadonlyMap<string, string>, depth = 0): string {
  if (depth > 16) return '';
  if (value.length > MAX_VALUE) return value;
  let out = '';
  let at = 0;
  for (let i = value.indexOf('var('); i >= 0; i = value.indexOf('var(', at)) {
    const end = closing(value, i + 4);
    if (end < 0) break;
    const inner = value.slice(i + 4, end);
    const comma = inner.indexOf(',');
    const name = (comma < 0 ? inner : inner.slice(0, comma)).trim();
    const found = (custom.get(name) ?? (comma < 0 ? '' : inner.slice(comma + 1))).trim();
    out += value.slice(at, i) + (found.includes('var(') ? substitute(found, custom, depth + 1) : found);
    at = end + 1;
  }
  return out + value.slice(at);
}

/** Where the bracket closes that was opened before `from`; -1 where it does not. */
function closing(text: string, from: number): number {
  let depth = 1;
  for (let i = from; i < text.length; i++) {
    if (text[i] === '(') depth++;
    else if (text[i] === ')' && --depth === 0) return i;
  }
  return -1;
}

/** `font: italic bold 12px/30px Georgia, serif`. */
function shorthandFont(value: string, into: Map<string, string>): void {
  const match =
    /^(.*?)\s*((?:\d+\.?\d*|\.\d+)(?:px|pt|pc|mm|cm|in|em|ex|%)?)(?:\s*\/\s*\S+)?(?:\s+|(?=["']))(.+)$/.exec(
      value.trim(),
    );
  if (!match) return;
  into.set('font-size', match[2]!);
  into.set('font-family', match[3]!);
  into.set('font-weight', /bold|[1-9]00/.exec(match[1]!)?.[0] ?? 'normal');
  into.set('font-style', /italic|oblique/.exec(match[1]!)?.[0] ?? 'normal');
}
