import type * as csstree from 'css-tree';
import generate from 'css-tree/generator';
import parse from 'css-tree/parser';
import type { XmlElement } from './xml.js';

/** One declaration of a stylesheet with what decides who wins. */
export interface Declaration {
  name: string;
  value: string;
  important: boolean;
}

interface Rule {
  matches: (e: XmlElement) => boolean;
  specificity: number;
  declarations: Declaration[];
}

/** The rules of a document's stylesheets, ready to be asked for an element. */
export class StyleSheet {
  private rules: Rule[] = [];
  /** At-rules and selectors that are not followed, by name. */
  readonly ignored = new Map<string, number>();
  /** Families of fonts that the document holds. */
  readonly fonts = new Set<string>();

  add(css: string): void {
    const tree = parse(css, { onParseError: () => this.ignore('unreadable rule') });
    if (tree.type !== 'StyleSheet') return;
    for (const node of tree.children.toArray()) {
      if (node.type === 'Atrule' && node.name === 'font-face') this.fonts.add(fontFaceFamily(node));
      else if (node.type === 'Atrule') this.ignore(`@${node.name}`);
      else if (node.type === 'Rule' && node.prelude.type === 'SelectorList') {
        const declarations = declarationsOf(node.block);
        for (const selector of node.prelude.children.toArray()) {
          if (selector.type !== 'Selector') continue;
          const compiled = compileSelector(selector);
          if (compiled) this.rules.push({ ...compiled, declarations });
          else this.ignore(`selector ${generate(selector)}`);
        }
      }
    }
    this.rules.sort((a, b) => a.specificity - b.specificity);
  }

  /** Takes over the rules of another sheet. */
  take(other: StyleSheet): void {
    this.rules = other.rules;
  }

  private ignore(name: string): void {
    this.ignored.set(name, (this.ignored.get(name) ?? 0) + 1);
  }

  get empty(): boolean {
    return this.rules.length === 0;
  }

  /** Which rules apply to an element, the strongest last. */
  matching(e: XmlElement): number[] {
    const out: number[] = [];
    for (let i = 0; i < this.rules.length; i++) if (this.rules[i]!.matches(e)) out.push(i);
    return out;
  }

  /** The declarations of some rules, the strongest last; important ones after all others. */
  declarations(rules: readonly number[]): Declaration[] {
    const all = rules.flatMap((i) => this.rules[i]!.declarations);
    return [...all.filter((d) => !d.important), ...all.filter((d) => d.important)];
  }
}

/** The family that a `@font-face` rule gives. */
function fontFaceFamily(rule: csstree.Atrule): string {
  const family = rule.block && declarationsOf(rule.block).find((d) => d.name === 'font-family')?.value;
  return family?.replace(/^["']|["']$/g, '') || 'without a name';
}

function declarationsOf(block: csstree.Block): Declaration[] {
  const out: Declaration[] = [];
  for (const d of block.children.toArray()) {
    if (d.type === 'Declaration') out.push(declaration(d));
  }
  return out;
}

const declaration = (d: csstree.Declaration): Declaration => ({
  name: d.property.startsWith('--') ? d.property : d.property.toLowerCase(),
  value: generate(d.value).trim(),
  important: d.important !== false,
});

/** The declarations of a `style` attribute. */
export function parseStyleAttribute(text: string): Declaration[] {
  // The common case needs no parser: plain name:value pairs.
  if (!/["'(\\/!]/.test(text)) {
    const out: Declaration[] = [];
    for (const part of text.split(';')) {
      const colon = part.indexOf(':');
      if (colon > 0)
        out.push({
          name: part.slice(0, colon).trim().toLowerCase(),
          value: part.slice(colon + 1).trim(),
          important: false,
        });
    }
    return out;
  }
  const tree = parse(text, { context: 'declarationList', onParseError: () => {} });
  return tree.type === 'DeclarationList'
    ? tree.children
        .toArray()
        .filter((d): d is csstree.Declaration => d.type === 'Declaration')
        .map(declaration)
    : [];
}

type Test = (e: XmlElement) => boolean;

/** Type, class, id, attribute, `*`, first-child, and the descendant, child and sibling combinators (Selectors 3). */
function compileSelector(selector: csstree.Selector): { matches: Test; specificity: number } | null {
  const compounds: { tests: Test[]; combinator: string }[] = [{ tests: [], combinator: ' ' }];
  let specificity = 0;
  for (const node of selector.children.toArray()) {
    const last = compounds[compounds.length - 1]!;
    switch (node.type) {
      case 'Combinator':
        compounds.push({ tests: [], combinator: node.name });
        break;
      case 'TypeSelector':
        if (node.name !== '*') {
          const name = node.name.replace(/^.*\|/, '');
          last.tests.push((e) => e.name === name);
          specificity += 1;
        }
        break;
      case 'ClassSelector':
        last.tests.push((e) => (e.attributes.get('class') ?? '').split(/\s+/).includes(node.name));
        specificity += 1000;
        break;
      case 'IdSelector':
        last.tests.push((e) => e.attributes.get('id') === node.name);
        specificity += 1000000;
        break;
      case 'AttributeSelector': {
        const test = attributeTest(node);
        if (!test) return null;
        last.tests.push(test);
        specificity += 1000;
        break;
      }
      case 'PseudoClassSelector':
        if (node.name !== 'first-child' && node.name !== 'root') return null;
        last.tests.push(node.name === 'root' ? (e) => e.parent === null : (e) => elementIndex(e) === 0);
        specificity += 1000;
        break;
      default:
        return null;
    }
  }
  const match = (e: XmlElement, i: number): boolean => {
    if (!compounds[i]!.tests.every((t) => t(e))) return false;
    if (i === 0) return true;
    switch (compounds[i]!.combinator) {
      case '>':
        return e.parent !== null && match(e.parent, i - 1);
      case '+':
      case '~': {
        const before = siblingsBefore(e);
        return compounds[i]!.combinator === '+'
          ? before.length > 0 && match(before[before.length - 1]!, i - 1)
          : before.some((s) => match(s, i - 1));
      }
      default:
        for (let p = e.parent; p; p = p.parent) if (match(p, i - 1)) return true;
        return false;
    }
  };
  return { matches: (e) => match(e, compounds.length - 1), specificity };
}

const siblingsBefore = (e: XmlElement): XmlElement[] => {
  const all = (e.parent?.children ?? []).filter((c): c is XmlElement => typeof c !== 'string');
  return all.slice(0, all.indexOf(e));
};
const elementIndex = (e: XmlElement): number => siblingsBefore(e).length;

function attributeTest(node: csstree.AttributeSelector): Test | null {
  const name = node.name.name;
  const value = node.value === null ? null : node.value.type === 'String' ? node.value.value : node.value.name;
  const get = (e: XmlElement): string | undefined => e.attributes.get(name);
  if (value === null) return (e) => get(e) !== undefined;
  switch (node.matcher) {
    case '=':
      return (e) => get(e) === value;
    case '~=':
      return (e) => (get(e) ?? '').split(/\s+/).includes(value);
    case '^=':
      return (e) => value !== '' && (get(e) ?? '').startsWith(value);
    case '$=':
      return (e) => value !== '' && (get(e) ?? '').endsWith(value);
    case '*=':
      return (e) => value !== '' && (get(e) ?? '').includes(value);
    case '|=':
      return (e) => get(e) === value || (get(e) ?? '').startsWith(value + '-');
    default:
      return null;
  }
}
