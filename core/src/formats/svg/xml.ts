import { SaxesParser } from 'saxes';
import type { Work } from '../format.js';
import { UnreadableFile, checkStop } from '../format.js';

/** An element of the document, with local names; `line` counts from 1. */
export interface XmlElement {
  name: string;
  /** Attributes without a namespace, by name. */
  attributes: Map<string, string>;
  /** Attributes of any namespace, by local name. */
  foreign: Map<string, string>;
  children: (XmlElement | string)[];
  parent: XmlElement | null;
  line: number;
}

/** Deeper elements are left out; beyond `HOPELESS_DEPTH` reading ends, since it would take the square of the depth. */
export const MAX_DEPTH = 256;
const HOPELESS_DEPTH = 2048;
export const MAX_ELEMENTS = 4_000_000;
const MAX_ATTRIBUTE = 64 << 20;

class TooDeep extends Error {}

export interface XmlDocument {
  root: XmlElement;
  byId: Map<string, XmlElement>;
  /** Elements nested deeper than `MAX_DEPTH`, which were left out. */
  tooDeep: number;
  /** What ended reading before the document's end, if anything did. */
  broken: { message: string; line: number } | null;
}

const SVG_NS = 'http://www.w3.org/2000/svg';

/** Most entities of a document's own, and how long one may be once those within it are put in. */
const MAX_ENTITIES = 1000;
const MAX_ENTITY_LENGTH = 65_536;
/** How many characters the entities of a document may come to wherever they are used, taken together. */
const MAX_EXPANDED = 16 << 20;

/**
 * The entities that a document type declares in itself, by name, each with those before it put in. One that refers to
 * a later one, or grows beyond bounds, is left out; those in other files (SYSTEM, PUBLIC) are never fetched.
 */
export function entitiesOf(doctype: string): Map<string, string> {
  const found = new Map<string, string>();
  for (const m of doctype.matchAll(/<!ENTITY\s+([\w.:-]+)\s+(?:"([^"]*)"|'([^']*)')\s*>/g)) {
    if (found.size >= MAX_ENTITIES) break;
    const [, name, a, b] = m;
    let value = '';
    let whole = true;
    let last = 0;
    const raw = a ?? b ?? '';
    for (const r of raw.matchAll(/&([\w.:-]+);/g)) {
      const inner = found.get(r[1]!);
      if (inner === undefined) continue;
      value += raw.slice(last, r.index) + inner;
      last = r.index + r[0].length;
      if (value.length > MAX_ENTITY_LENGTH) {
        whole = false;
        break;
      }
    }
    value += raw.slice(last);
    if (whole && value.length <= MAX_ENTITY_LENGTH && !found.has(name!)) found.set(name!, characters(value));
  }
  return found;
}

/** Character references in the value of an entity are what they stand for (XML 1.0 §4.4), but for `&` and `<`. */
const characters = (value: string): string =>
  value.replace(/&#(?:x([0-9a-f]{1,6})|(\d{1,7}));/gi, (said, hex: string | undefined, ten: string | undefined) => {
    const code = hex === undefined ? Number(ten) : parseInt(hex, 16);
    return code === 0x26 || code === 0x3c || code === 0 || code > 0x10ffff ? said : String.fromCodePoint(code);
  });

/**
 * A document with the entities put in that hold elements: what they stand for is read as if it stood there. Entities in attributes,
 * comments and sections of characters stay. What would come to more than 16 million characters is left to be refused.
 */
function withMarkup(text: string): string {
  const head = /<!DOCTYPE[^[>]*\[([\s\S]*?)\]\s*>/.exec(text);
  if (!head) return text;
  const marked = new Map([...entitiesOf(head[1]!)].filter(([, value]) => value.includes('<')));
  if (marked.size === 0) return text;
  const from = head.index + head[0].length;
  let left = MAX_EXPANDED;
  const body = text
    .slice(from)
    .replace(
      /<!--[\s\S]*?-->|<!\[CDATA\[[\s\S]*?\]\]>|<[^>]*>|&([\w.:-]+);/g,
      (all: string, name: string | undefined) => {
        const value = name === undefined ? undefined : marked.get(name);
        if (value === undefined || value.length > left) return all;
        left -= value.length;
        return value;
      },
    );
  return text.slice(0, from) + body;
}

/**
 * Reads XML into a tree. No external entity is ever fetched, the document's own are expanded within bounds; depth and
 * count are bounded. A document that breaks off keeps what came before.
 */
export function parseXml(source: string, work?: Work): XmlDocument {
  const text = withMarkup(source);
  const parser = new SaxesParser({ xmlns: true, position: true });
  const byId = new Map<string, XmlElement>();
  let root: XmlElement | null = null;
  let at: XmlElement | null = null;
  let depth = 0;
  let count = 0;
  let tooDeep = 0;
  let broken: XmlDocument['broken'] = null;

  parser.on('doctype', (text) => {
    let expanded = 0;
    for (const [name, value] of entitiesOf(text)) {
      const get = (): string => {
        expanded += value.length;
        if (expanded <= MAX_EXPANDED) return value;
        throw new UnreadableFile(
          'The entities that the file declares come to more than 16 million characters where they are used',
          `line ${parser.line}`,
          'Export it again without entities of its own.',
        );
      };
      Object.defineProperty(parser.ENTITIES, name, { get, enumerable: true, configurable: true });
    }
  });
  parser.on('opentag', (tag) => {
    depth++;
    if (depth > MAX_DEPTH) {
      tooDeep++;
      if (depth > HOPELESS_DEPTH) throw new TooDeep();
      return;
    }
    if (++count > MAX_ELEMENTS) {
      throw new UnreadableFile(
        `More than ${MAX_ELEMENTS} elements`,
        `line ${parser.line}`,
        'Split the drawing into several files.',
      );
    }
    const element: XmlElement = {
      name: tag.uri === SVG_NS || tag.uri === '' ? tag.local : `other:${tag.local}`,
      attributes: new Map(),
      foreign: new Map(),
      children: [],
      parent: at,
      line: parser.line,
    };
    for (const a of Object.values(tag.attributes)) {
      if (a.prefix === 'xmlns' || a.name === 'xmlns') continue;
      if (a.value.length > MAX_ATTRIBUTE) {
        throw new UnreadableFile(
          'An attribute is over 64 MB long',
          `line ${parser.line}`,
          'Split the path it describes.',
        );
      }
      if (a.uri === '') element.attributes.set(a.local, a.value);
      else element.foreign.set(a.local, a.value);
    }
    const id = element.attributes.get('id');
    if (id !== undefined && !byId.has(id)) byId.set(id, element);
    if (at) at.children.push(element);
    else root ??= element;
    at = element;
  });
  parser.on('closetag', () => {
    if (depth <= MAX_DEPTH && at) at = at.parent;
    depth--;
  });
  const put = (t: string): void => {
    if (at && depth <= MAX_DEPTH) at.children.push(t);
  };
  parser.on('text', put);
  parser.on('cdata', put);
  parser.on('error', (e) => {
    broken ??= { message: e.message.replace(/^\d+:\d+: /, ''), line: parser.line };
  });

  const STEP = 1 << 18;
  for (let i = 0; i < text.length && !broken; i += STEP) {
    checkStop(work);
    work?.onProgress?.((0.6 * i) / text.length);
    try {
      parser.write(text.slice(i, i + STEP));
    } catch (e) {
      if (!(e instanceof TooDeep)) throw e;
      broken ??= { message: `elements are nested more than ${HOPELESS_DEPTH} deep`, line: parser.line };
    }
  }
  if (!broken) parser.close();
  if (!root) {
    const why: { message: string; line: number } | null = broken;
    const detail = why as { message: string; line: number } | null;
    throw new UnreadableFile(
      detail ? `This is not well-formed XML: ${detail.message}` : 'There is no XML in this file',
      `line ${detail?.line ?? 1}`,
      'Check that it was exported as SVG and drop it again.',
    );
  }
  return { root, byId, tooDeep, broken };
}

/** The text inside an element and all below it. */
export function textContent(e: XmlElement): string {
  return e.children.map((c) => (typeof c === 'string' ? c : textContent(c))).join('');
}

/** The child elements. */
export const elementsOf = (e: XmlElement): XmlElement[] =>
  e.children.filter((c): c is XmlElement => typeof c !== 'string');
