import type { XmlElement } from './xml.js';
import { elementsOf, textContent } from './xml.js';

/** Undoes escapes of the form `_x20_` that exporters put in ids for characters an id may not hold. */
export const unescapeName = (id: string): string =>
  id.replace(/_x([0-9A-Fa-f]{1,6})_/g, (whole, digits: string) => {
    const code = parseInt(digits, 16);
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
  });

/**
 * A plain id for a name: its letters and digits, without accents, all else as a hyphen. What cannot be told from it is said
 * by a `title`, which {@link groupName} prefers.
 */
export function plainId(name: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(/[^A-Za-z0-9_.-]+/g, '-')
    .replace(/^[-.]+|[-.]+$/g, '');
  if (plain === '') return 'group';
  return /^[A-Za-z_]/.test(plain) ? plain : `n${plain}`;
}

/** Whether a group with this id and no title is called by this name. */
export const idSays = (id: string, name: string): boolean => id === name && unescapeName(id) === name;

/** A name in a `title`: line breaks and indents round it come from how the file is set out, blanks are its own. */
const titled = (text: string): string => text.replace(/^\s*[\n\r\t]\s*|\s*[\n\r\t]\s*$/g, '');

/** The name a person gave a group: a namespaced `label`, a `title` child, or its id with escapes undone. */
export function groupName(e: XmlElement): string | null {
  const label = e.foreign.get('label');
  if (label?.trim()) return label.trim();
  const title = elementsOf(e).find((c) => c.name === 'title');
  const text = title && titled(textContent(title));
  if (text?.trim()) return text;
  const id = e.attributes.get('id')?.trim();
  return id ? unescapeName(id) : null;
}

/** A namespaced `groupmode="layer"` says that a group is a layer, and so does our own `data-layer`. */
export const isLayerGroup = (e: XmlElement): boolean =>
  e.foreign.get('groupmode') === 'layer' || e.attributes.has('data-layer');
