import { traitsOf } from '../drawing/format-traits.js';
import { because } from '../drawing/reasons.js';
import { UserError } from '../errors.js';
import { planarSimilarity, scaling } from '../geometry/affine.js';
import type { Drawing } from '../drawing/drawing.js';
import { isDrafting } from '../drawing/drawing.js';
import { noteFollowers } from '../drawing/followers.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { Ledger } from '../drawing/ledger.js';
import type { Lineage, Stage } from '../drawing/lineage.js';
import { Stages } from '../drawing/lineage.js';
import type { UnitName } from '../drawing/units.js';
import { conversion } from '../drawing/units.js';
import type { Arranged, Work, Writing } from '../formats/format.js';
import type { Entity } from '../drawing/entity.js';
import type { AskedLooks } from '../formats/write-options.js';
import { UnwritableNumber, placeOfUnwritable } from '../formats/unwritable.js';
import { withTemplate } from '../formats/drafting/template.js';
import { FORMAT_CATALOGUE } from '../formats/catalogue.js';
import { formatById } from '../formats/index.js';
import type { Beside, PictureMade } from '../formats/picture/shown.js';
import { valuesOf } from '../parameters/lengths.js';
import type { FontBook } from '../text/fonts.js';
import type { NamedPicture } from './named-pictures.js';
import { namedPictures } from './named-pictures.js';
import { textToOutlines } from '../text/outlines.js';
import { baseName, legalName } from './base-name.js';
import type { Target } from './target.js';
import { targetFault } from './target.js';
import { KINDS_DEFAULT } from '../intake/decisions.js';
import { chooseKinds } from '../intake/kinds.js';

/** A delivery that cannot be made as asked; the message says why and what to do. */
export class CannotDeliver extends UserError {
  override name = 'CannotDeliver';
  constructor(message: string) {
    super('cannot-deliver', message);
  }
}

export interface Delivered {
  name: string;
  bytes: Uint8Array;
  mediaType: string;
  unit: UnitName;
  /** The drawing exactly as it was handed to the writer: what the file must hold. */
  written: Drawing;
  ledger: LedgerRow[];
  /** What was done to the prepared drawing before it was handed to the writer, for the proof. */
  stages: readonly Stage[];
  /** Small texts that belong beside it (`besideName`). */
  beside: readonly Beside[];
  /** Pictures that it names, which belong beside it too. */
  along: readonly NamedPicture[];
  /** Of a picture: what it shows, and how. */
  picture?: PictureMade;
  /** How it was asked to look otherwise than the drawing. */
  looks: AskedLooks;
}

/**
 * Writes a prepared drawing as the target asks, converted to the target's unit, with the tables of a template where
 * there is one. Throws `CannotDeliver` when the unit
 * is still undecided or the target makes no sense.
 */
export function deliver(
  prepared: Drawing,
  target: Target,
  sourceName: string,
  fonts: FontBook,
  given: { work?: Work; template?: Drawing } = {},
): Delivered {
  const { work, template } = given;
  const fault = targetFault(target);
  if (fault) throw new CannotDeliver(fault);
  const own = prepared.unit;
  const unitless = !own && target.unitless === true && traitsOf(target.format).unitless && target.unit === null;
  if (!unitless && (!own || own.unit === 'px'))
    throw new CannotDeliver('The unit of the drawing is undecided, so its size is unknown');
  // Without a unit nothing is converted, and what has to be counted in one counts in millimetres.
  const counted: { unit: UnitName; factor: number } =
    own && own.unit !== 'px' ? { unit: own.unit, factor: own.factor } : { unit: 'mm', factor: 1 };
  const unit = target.unit ?? counted.unit;
  const ledger = new Ledger('write');
  if (unitless) {
    ledger.add({
      carryOver: 'units',
      action: 'dropped',
      onPurpose: true,
      reason: 'unit-unstated',
    });
  }
  const k = counted.factor * conversion(counted.unit, unit);
  const stages = new Stages(prepared);
  if (k !== 1) {
    stages.move('Unit of the file', scaling(k, k, k), noteFollowers(ledger));
    ledger.add({
      carryOver: 'units',
      action: 'changed',
      onPurpose: true,
      reason: because('unit-converted', { from: counted.unit, to: unit }),
    });
  }
  stages.run('Unit of the file', (from) => ({ ...from, unit: unitless ? null : { unit, factor: 1 } }));
  // Lengths of the options are counted in the unit of the file.
  const options = valuesOf(
    FORMAT_CATALOGUE[target.format].options,
    target.options,
    unitless ? null : { unit, factor: 1 },
  );
  const text = 'text' in options ? options.text : 'keep';
  if (text !== 'keep') stages.run('Letters', (from, lineage) => textToOutlines(from, fonts, ledger, text, lineage));
  if (template) {
    if (!isDrafting(template) || !isDrafting(target))
      throw new CannotDeliver('A template is a DXF or DWG and serves a DXF or DWG. Choose another, or none.');
    stages.run('Template', (from) => withTemplate(from, template, ledger));
    const theirs = template.unit?.unit;
    if (theirs && theirs !== unit) {
      ledger.add({
        carryOver: 'units',
        action: 'kept',
        reason: because('template-unit-kept', { theirs, unit }),
      });
    }
  }
  const format = formatById(target.format)!;
  const title = baseName(sourceName);
  const arranged = format.arrange?.(stages.drawing, { ...options, unit, fonts });
  if (arranged) stages.run('Hidden objects', (from, lineage) => withoutHidden(from, arranged, ledger, lineage));
  const asDrawn: LedgerRow[] = [];
  /** They were not handed to the writer: what became of them is no part of what it did. */
  const chosen = (kinds: Partial<typeof KINDS_DEFAULT>): void => {
    const made = chooseKinds(stages.drawing, { ...KINDS_DEFAULT, ...kinds });
    stages.follow(made);
    for (const { becomes: _, ...row } of made.rows) asDrawn.push(row);
  };
  if (arranged?.kinds) chosen(arranged.kinds);
  for (const { title, run } of arranged?.reshape ?? [])
    stages.run(title, (from, lineage) => run(from, lineage, ledger));
  // On paper at a scale a dimension says what it said: measured anew it would say how long it is on the paper.
  if (arranged?.compose?.scaled || arranged?.moves.some(({ map }) => planarSimilarity(map) !== 1))
    chosen({ dimensions: 'lines' });
  for (const { title, map, row } of arranged?.moves ?? []) {
    stages.move(title, map, noteFollowers(ledger));
    ledger.add(row);
  }
  let pageOf: ReadonlyMap<number, number> | undefined;
  const composing = arranged?.compose;
  if (composing) {
    stages.run(composing.title, (from, lineage) => {
      const made = composing.run(from, lineage);
      ({ pageOf } = made);
      if (made.off > 0)
        ledger.add({
          carryOver: 'links',
          action: 'dropped',
          onPurpose: true,
          reason: 'off-all-pages',
          count: made.off,
        });
      return made.drawing;
    });
    for (const row of composing.rows) ledger.add(row);
  }
  const written = stages.drawing;
  const {
    bytes,
    ledger: rows,
    beside,
  } = inWords(written, () =>
    format.write(
      written,
      {
        ...options,
        version: target.version,
        unit,
        ...(unitless && { unitless }),
        title,
        fonts,
        ...(arranged && { pages: arranged.pages, pageOf, ...(arranged.picture && { picture: arranged.picture }) }),
      },
      work,
    ),
  );
  return {
    name: `${deliveredName(target, sourceName)}.${format.extension}`,
    bytes,
    beside: beside ?? [],
    along: isDrafting(target) ? namedPictures(written) : [],
    ...(arranged?.picture && { picture: arranged.picture }),
    mediaType: format.mediaType,
    unit,
    written,
    ledger: [...ledger.rows, ...asDrawn, ...rows],
    stages: stages.list,
    looks: {
      ...('hairline' in options && options.hairline !== undefined && { hairline: options.hairline }),
      ...('ink' in options && options.ink === 'black' && { ink: options.ink }),
      ...('colours' in options && options.colours !== undefined && { colours: options.colours }),
    },
  };
}

/** What a file is called, without its ending. */
export const deliveredName = (target: Pick<Target, 'name'>, sourceName: string): string =>
  target.name === undefined ? baseName(sourceName) : legalName(target.name);

/** A drawing without what its format has no way to hide. */
function withoutHidden(from: Drawing, { without }: Arranged, ledger: Ledger, lineage: Lineage): Drawing {
  const seen = (list: Entity[]): Entity[] => {
    const kept = list.filter((e) => {
      const left = without(e);
      if (left) {
        lineage.remove(e, 'hidden-content');
        ledger.add({ carryOver: 'layers', action: 'dropped', reason: 'hidden-not-in-pdf', id: e.id });
      }
      return !left;
    });
    return kept.length === list.length ? list : kept;
  };
  const entities = seen(from.entities);
  const blocks = new Map([...from.blocks].map(([key, b]) => [key, { ...b, entities: seen(b.entities) }]));
  const same = entities === from.entities && [...blocks].every(([k, b]) => b.entities === from.blocks.get(k)!.entities);
  return same ? from : { ...from, entities, blocks };
}

/** Writes; a number that no file can hold is told with its place. */
function inWords(written: Drawing, write: () => Writing): Writing {
  try {
    return write();
  } catch (e) {
    if (!(e instanceof UnwritableNumber)) throw e;
    const place = placeOfUnwritable(written) ?? 'something in it';
    throw new CannotDeliver(
      `No file can hold ${e.number}, which is a number of ${place}. Cancel out on taking in, or mend it in the source`,
    );
  }
}
