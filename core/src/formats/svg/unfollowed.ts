import { because } from '../../drawing/reasons.js';
import type { PlainReason } from '../../drawing/reasons.js';
import type { ReadingNotes } from './reading-notes.js';
import type { State } from './state.js';
import { referred } from './state.js';
import type { Style } from './style.js';
import type { XmlDocument, XmlElement } from './xml.js';
import { elementsOf } from './xml.js';

export const ANIMATION = /^(animate|animateTransform|animateMotion|animateColor|set)$/;

/** Scripts, event attributes and references out of the file never go further. */
export function tellUnsafe(e: XmlElement, notes: ReadingNotes): void {
  if (e.name === 'script') notes.note('scripts are left out', `line ${e.line}`, 'warning', 'never');
  for (const [name] of e.attributes) {
    if (name.startsWith('on') && /^on[a-z]+$/.test(name))
      notes.note('event attributes are left out', `line ${e.line}`, 'warning', 'never');
  }
  const href = e.attributes.get('href') ?? e.foreign.get('href');
  if (href && !href.startsWith('#') && !href.startsWith('data:') && e.name !== 'a') {
    const what =
      e.name === 'image'
        ? 'a picture outside the file is looked for among those of the job, never fetched'
        : 'a reference out of the file is never fetched';
    notes.note(what, `line ${e.line}`, 'warning', e.name === 'image' ? 'asked' : 'never');
  }
}

/** Effects and paints that are not carried. */
export function tellEffects(e: XmlElement, style: Style, document: XmlDocument, notes: ReadingNotes): void {
  const has = (name: string): boolean => {
    const v = style.get(name) ?? e.attributes.get(name);
    return v !== undefined && v !== 'none' && v !== '' && v !== 'normal';
  };
  if (has('mask')) notes.miss('colour', 'masks-not-carried', e);
  if (has('filter')) notes.miss('colour', 'filters-not-carried', e);
  if (has('mix-blend-mode')) notes.miss('colour', 'blend-modes-not-carried', e);
  for (const name of ['fill', 'stroke'] as const) {
    const value = style.get(name);
    if (!value?.startsWith('url(')) continue;
    const server = referred(document, value)?.name;
    if (server !== undefined && !/^(linearGradient|radialGradient|pattern)$/.test(server))
      notes.miss('colour', because('paint-not-carried', { server }), e);
  }
}

/** What a shape says beside its form and look, and what of it does not go along. */
export function tellUnfollowed(e: XmlElement, { style }: State, notes: ReadingNotes): void {
  if (e.attributes.has('pathLength') && (style.get('stroke-dasharray') ?? 'none') !== 'none')
    notes.miss('colour', 'path-length-not-followed', e);
  const names = [...e.attributes.keys()];
  const said = (reason: PlainReason, there: boolean): void => {
    if (there) notes.ledger.add({ carryOver: 'links', action: 'dropped', onPurpose: true, reason });
  };
  said('classes-not-carried', e.attributes.has('class'));
  said(
    'data-not-carried',
    names.some((n) => n.startsWith('data-')),
  );
  for (const c of elementsOf(e)) {
    said('titles-not-carried', c.name === 'title' || c.name === 'desc');
    if (ANIMATION.test(c.name)) notes.miss('links', 'animation-not-carried', c);
  }
}

/** What the outermost element says of the whole picture and is not followed. */
export function tellOfTheWhole(root: XmlElement, { style }: State, notes: ReadingNotes): void {
  const where = `line ${root.line}`;
  if (style.get('transform') ?? root.attributes.get('transform'))
    notes.note('a transform of the outermost element is not followed', where, 'warning', 'origin');
  for (const name of ['clip-path', 'mask', 'filter'])
    if ((style.get(name) ?? 'none') !== 'none')
      notes.note(`${name} of the outermost element is not followed`, where, 'warning', 'colour');
}
