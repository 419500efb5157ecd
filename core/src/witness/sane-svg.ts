import { UnreadableFile } from '../formats/format.js';
import type { XmlElement } from '../formats/svg/xml.js';
import { MAX_DEPTH, elementsOf, parseXml } from '../formats/svg/xml.js';

/** More elements than these, each counted as often as it is referred to, are not drawn. */
const MOST_ELEMENTS = 200_000;

/**
 * Why a file is not given to the renderer, which has no limits of its own; `null` when it may be: elements that multiply
 * through references, effects whose effort nothing bounds, drawings within drawings.
 */
export function whyNotDrawn(text: string): string | null {
  if (/<([\w-]+:)?(fe[A-Z]\w+)/.test(text)) return 'it holds filters, which are not carried';
  if (/data:image\/svg/i.test(text)) return 'it holds drawings within itself as pictures';
  let document;
  try {
    document = parseXml(text);
  } catch (e) {
    if (!(e instanceof UnreadableFile)) throw e;
    return 'it is not whole';
  }
  if (document.broken || document.tooDeep > 0) return 'it is not whole';
  const { byId, root } = document;
  const known = new Map<XmlElement, number>();
  const within = new Set<XmlElement>();
  /** How many elements are drawn for one; through a chain of references deeper than the renderer may go, without end. */
  const cost = (e: XmlElement, depth: number): number => {
    const found = known.get(e);
    if (found !== undefined) return found;
    if (within.has(e)) return 0;
    if (depth > 4 * MAX_DEPTH) return Infinity;
    within.add(e);
    let sum = 1;
    for (const c of elementsOf(e)) sum += cost(c, depth + 1);
    for (const value of [...e.attributes.values(), ...e.foreign.values()])
      for (const [, whole, part] of value.matchAll(/^#(.+)$|url\(\s*["']?#([^)"']+)/g)) {
        const target = byId.get((whole ?? part)!.trim());
        if (target) sum += cost(target, depth + 1);
      }
    within.delete(e);
    known.set(e, sum);
    return sum;
  };
  return cost(root, 0) > MOST_ELEMENTS ? 'too much is drawn in it again and again' : null;
}
