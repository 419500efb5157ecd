import type { XmlElement } from './xml.js';
import { elementsOf, textContent } from './xml.js';

/** Undoes escapes of the form `_x20_` that exporters put in ids for characters an id may not hold. */
export const unescapeName = (id: string): string =>
  id.replace(/_x([0-9A-Fa-f]{1,6})_/g, (whole, digits: string) => {
    const code = parseInt(digits, 16);
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
  });

/** The id for a name: letters, digits, `-` and `.` stay, everything else (and a leading digit) becomes `_xHEX_`. */
export function escapeName(name: string): string {
  let out = '';
  const escape = (c: string): string => `_x${c.codePointAt(0)!.toString(16).toUpperCase()}_`;
  for (const c of name) {
    const plain = /[A-Za-z]/.test(c) || (out !== '' && /[0-9.-]/.test(c));
    // An underscore that could be taken for an escape is escaped itself.
    const underscore = c === '_' && !/^_x[0-9A-Fa-f]*_?/.test(name.slice(out.length));
    out += plain || (underscore && out !== '') ? c : escape(c);
  }
  return out || '_x_';
}

/** The name a person gave a group: a namespaced `label`, a `title` child, or its id with escapes undone. */
export function groupName(e: XmlElement): string | null {
  const label = e.foreign.get('label');
  if (label?.trim()) return label.trim();
  const title = elementsOf(e).find((c) => c.name === 'title');
  const text = title && textContent(title).trim();
  if (text) return text;
  const id = e.attributes.get('id')?.trim();
  return id ? unescapeName(id) : null;
}

/** A namespaced `groupmode="layer"` says that a group is a layer, and so does our own `data-layer`. */
export const isLayerGroup = (e: XmlElement): boolean =>
  e.foreign.get('groupmode') === 'layer' || e.attributes.has('data-layer');
