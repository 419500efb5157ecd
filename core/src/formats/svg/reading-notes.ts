import type { Drawing } from '../../drawing/drawing.js';
import type { Draft } from '../../drawing/entity.js';
import type { CarryOver, LedgerAction, LedgerEntry } from '../../drawing/ledger.js';
import { Ledger } from '../../drawing/ledger.js';
import type { Reason } from '../../drawing/reasons.js';
import { because, reasonWords } from '../../drawing/reasons.js';
import type { StyleSheet } from './css.js';
import type { Reporter } from './state.js';
import type { XmlDocument, XmlElement } from './xml.js';

/** What a note is about: what it touches, something that is never followed whoever asks, or what is asked for elsewhere. */
type About = CarryOver | 'never' | 'asked';

/** Nobody knows what would have followed: everything that counts content is in doubt. */
const BROKEN_OFF: readonly LedgerEntry[] = [
  { carryOver: 'curves', action: 'dropped', reason: 'file-broken-off' },
  ...(['layers', 'text', 'colour', 'links'] as const).map((carryOver): LedgerEntry => ({
    carryOver,
    action: 'changed',
    reason: 'file-broken-off',
  })),
];

/** What reading does not follow or carry: notes with their place, and rows of the ledger. */
export class ReadingNotes implements Reporter {
  readonly ledger = new Ledger('read');
  private readonly notes = new Map<
    string,
    { where: string; count: number; severity: 'note' | 'warning'; about: About }
  >();
  /** Notes that have their row already. */
  private readonly told = new Set<string>();
  private brokenOff: string | null = null;

  /** Something that is not understood or not followed: told among the notes with its place, and at the end in the ledger. */
  note(text: string, where: string, severity: 'note' | 'warning' = 'warning', about: About = 'links'): void {
    const known = this.notes.get(text);
    if (known) known.count++;
    else this.notes.set(text, { where, count: 1, severity, about });
  }

  /** Something that an element asks for and that is not carried: in the ledger, and with its place among the notes. */
  miss(carryOver: CarryOver, reason: Reason, e: XmlElement): void {
    const id = e.attributes.get('id');
    this.lose(carryOver, 'dropped', reason);
    this.note(reasonWords(reason), `line ${e.line}${id ? `, ${e.name} ${id}` : `, ${e.name}`}`, 'note');
    this.told.add(reasonWords(reason));
  }

  lose(carryOver: CarryOver, action: LedgerAction, reason: Reason, id?: number): void {
    this.ledger.add({ carryOver, action, reason, ...(id !== undefined && { id }) });
  }

  /** Hands all that was noted to the drawing and the ledger, with what the document and its stylesheets hold beside. */
  finish(document: XmlDocument, sheet: StyleSheet, drawing: Draft<Drawing>): void {
    if (document.broken) {
      this.note(
        `the document breaks off: ${document.broken.message}; what comes before it is kept`,
        `line ${document.broken.line}`,
      );
      this.brokenOff = [...this.notes.keys()].at(-1)!;
      this.told.add(this.brokenOff);
      for (const row of BROKEN_OFF) this.ledger.add(row);
    }
    if (document.tooDeep > 0)
      this.note('elements nested more than 256 deep are left out', `${document.tooDeep} elements`, 'warning', 'curves');
    for (const [name, count] of sheet.ignored)
      this.notes.set(`style rules not followed: ${name}`, {
        where: 'in a stylesheet',
        count,
        severity: 'warning',
        about: 'colour',
      });
    for (const family of sheet.fonts)
      this.notes.set(`the font ${family} is held in the file and not read from it`, {
        where: 'in a stylesheet',
        count: 1,
        severity: 'note',
        about: 'text',
      });
    for (const [text, { where, count, severity, about }] of this.notes) {
      const endsHere = text === this.brokenOff;
      drawing.notes.push({ text, where, count, severity, ...(endsHere && { endsHere }) });
      if (this.told.has(text) || about === 'asked') continue;
      const carryOver = about === 'never' ? 'links' : about;
      // What is only remarked on loses nothing.
      const action = severity === 'note' ? 'kept' : 'dropped';
      const reason = because('read-otherwise', { what: text });
      this.ledger.add({ carryOver, action, reason, count, onPurpose: about === 'never' });
    }
  }
}
