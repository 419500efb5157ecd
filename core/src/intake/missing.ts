import { filesNamedBy } from '../analysis/named-files.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { Ledger } from '../drawing/ledger.js';
import { because } from '../drawing/reasons.js';
import type { FontBook } from '../text/fonts.js';
import { familyOf } from '../text/layout.js';

/** More characters than these are counted, not listed. */
const MOST_LISTED = 8;
/** Letters that every font has. */
const PLAIN = /^[ -~\s]*$/;

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/** Says which files a drawing names that nobody gave. */
export function tellMissingFiles(drawing: Drawing, ledger: Ledger): void {
  const bound = new Set(
    [...drawing.blocks.values()].flatMap((b) => (b.reference && b.entities.length > 0 ? [b.reference] : [])),
  );
  for (const f of filesNamedBy(drawing)) {
    if (f.kind === 'drawing' && (f.places === 0 || bound.has(f.path))) continue;
    const reason = because(f.kind === 'drawing' ? 'reference-missing' : 'picture-missing', { name: f.name });
    ledger.add({ carryOver: 'links', action: 'dropped', reason, count: f.places });
  }
}

/** Says which letters of a drawing no font here has. */
export function tellMissingLetters(drawing: Drawing, fonts: FontBook, ledger: Ledger): void {
  const missing = lettersMissing(drawing, fonts);
  if (missing.length === 0) return;
  const listed = missing.slice(0, MOST_LISTED).map((c) => `“${c}”`);
  const more = missing.length > MOST_LISTED ? ` and ${missing.length - MOST_LISTED} more` : '';
  const reason = because('letters-in-no-font', { what: listed.join(', ') + more });
  ledger.add({ carryOver: 'text', action: 'approximated', reason, count: missing.length });
}

/** The characters of all texts that no font here has, each once. */
function lettersMissing(drawing: Drawing, fonts: FontBook): string[] {
  const asked = new Map<string, Set<string>>();
  const look = (e: Entity): void => {
    if (e.kind === 'insert') return e.attributes.forEach(look);
    if (e.kind !== 'text' && e.kind !== 'richText') return;
    const text = e.kind === 'text' ? e.text : e.plain;
    if (PLAIN.test(text)) return;
    const family = familyOf(e, drawing);
    let letters = asked.get(family);
    if (!letters) asked.set(family, (letters = new Set()));
    for (const { segment } of graphemes.segment(text)) if (!PLAIN.test(segment)) letters.add(segment);
  };
  drawing.entities.forEach(look);
  for (const b of drawing.blocks.values()) b.entities.forEach(look);
  const missing = new Set<string>();
  for (const [family, letters] of asked)
    for (const l of letters) if (fonts.outline(l, family).missing.length > 0) missing.add(l);
  return [...missing];
}
