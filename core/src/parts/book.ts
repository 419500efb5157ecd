import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { printOf } from '../drawing/entity-ref.js';
import type { EntityKind } from '../drawing/entity.js';
import type { Work } from '../formats/format.js';
import { valuesOf } from '../parameters/lengths.js';
import type { Kept } from '../parameters/parameter.js';
import type { Decided } from './decided.js';
import { decided } from './decided.js';
import { PART_FIELDS, listRules } from './fields.js';
import type { PartFinding } from './find.js';
import { PART_FINDING_WORDS } from './find.js';
import type { KeptNumbers, KeptPart, PartRef } from './kept.js';
import type { HoleCount, PartsList } from './list.js';
import { partsList } from './list.js';
import { numberFaults } from './number.js';
import type { SaidOfPart, Sayable } from './said.js';
import { SAYABLE } from './said.js';

/** A line of the parts list as it is shown and kept; lengths and areas in the drawing's unit. */
export interface BookedPart extends Decided {
  /** What it is known by while its drawing stays as it is: the print of its first member. */
  readonly key: string;
  readonly refs: readonly PartRef[];
  /** What the drawing says of it; its name after what holds it together, where nothing else is said. */
  readonly said: SaidOfPart;
  readonly length: number;
  readonly width: number;
  readonly area: number;
  readonly cutLength: number;
  readonly holes: readonly HoleCount[];
  readonly mirrored: number;
  readonly marks: number;
  readonly labels: readonly string[];
}

/** A line as it is shown: what its part is found again by stays with the list. */
export type ListedPart = Omit<BookedPart, 'refs'>;

/** What is wrong with parts, told with what it is about. */
export interface PartTold {
  readonly code: PartFinding['code'];
  readonly words: string;
  readonly kind: EntityKind;
  readonly layer: string;
  readonly x: number;
  readonly y: number;
  /** The layer, group or block that it is about, where it is about one. */
  readonly called: string;
}

/** The parts of a drawing as they are told, and what was decided about them, found again on it as it is now. */
export interface PartsBook {
  readonly unit: string;
  readonly rows: readonly BookedPart[];
  readonly findings: readonly PartTold[];
  readonly kept: KeptNumbers;
  /** Numbers of parts that are gone since they were decided. */
  readonly gone: readonly string[];
}

/** Findings of a list with the objects that they are about. */
export const partsTold = ({ findings, found }: Pick<PartsList, 'findings' | 'found'>): PartTold[] =>
  findings.map(({ code, visit, x, y, called }) => {
    const { entity, resolved } = found.visits[visit]!;
    return { code, words: PART_FINDING_WORDS[code], kind: entity.kind, layer: resolved.layer, x, y, called };
  });

/** The list of a drawing's parts by rules as a form keeps them (`PART_FIELDS`). */
export function listParts(drawing: Drawing, rules: Kept, kept?: KeptNumbers, work?: Work): PartsList {
  const values = valuesOf(PART_FIELDS, rules, drawing.unit);
  return partsList(drawing, listRules(values, boundsOf(drawing).diagonal), kept, work);
}

export const keyOfPart = (ref: PartRef): string => {
  const text = JSON.stringify([ref.outline, ref.placed, ref.copy]);
  return printOf(text) + printOf(`${text} again`);
};

/** Finds and lists the parts of a drawing. Numbers that nobody gave are not there. */
export function partsBook(drawing: Drawing, rules: Kept, kept?: KeptNumbers, work?: Work): PartsBook {
  const list = listParts(drawing, rules, kept, work);
  return {
    unit: drawing.unit?.unit ?? 'units',
    rows: list.rows.map(({ members: _m, number, numbered, leftOut, refs, said, ...row }): BookedPart => ({
      ...row,
      refs,
      said,
      key: keyOfPart(refs[0]!),
      number: numbered === 'new' ? '' : number,
      numbered: numbered === 'new' ? 'none' : numbered,
      leftOut,
    })),
    findings: partsTold(list),
    kept: list.kept,
    gone: list.gone,
  };
}

/** What is said of a part anew: an empty number takes it back, an empty word leaves it to the drawing again; `null` takes it in again. */
export interface PartChange {
  readonly number?: string;
  readonly words?: Omit<SaidOfPart, 'number'>;
  readonly leftOut?: string | null;
}

const rowOf = (row: BookedPart, of: ReadonlyMap<string, KeptPart>): BookedPart => ({
  ...row,
  ...decided(row.said, of.get(sameRef(row.refs[0]!)), row.refs.length),
});

/** All lines with what is kept of their parts now. */
export function rowsAfter(rows: readonly BookedPart[], kept: KeptNumbers): BookedPart[] {
  const of = new Map(kept.given.map((k): [string, KeptPart] => [sameRef(k.part), k]));
  return rows.map((r) => rowOf(r, of));
}

/** The change that takes a change back. */
export const changeBack = (row: ListedPart, change: PartChange): PartChange => ({
  ...(change.number !== undefined && { number: row.numbered === 'kept' ? row.number : '' }),
  ...(change.words && {
    words: Object.fromEntries(
      Object.keys(change.words).map((name) => [
        name,
        row.byHand.includes(name as Sayable) ? String(row[name as keyof Decided]) : '',
      ]),
    ),
  }),
  ...(change.leftOut !== undefined && { leftOut: row.leftOut }),
});

const sameRef = (a: PartRef): string => JSON.stringify([a.outline, a.placed, a.copy]);

/** What is kept of a drawing's parts once some of them are changed; each change is of a part with all its members. */
export function keptAfter(
  kept: KeptNumbers,
  changes: readonly { readonly refs: readonly PartRef[]; readonly change: PartChange }[],
): KeptNumbers {
  const entries = new Map(kept.given.map((k): [string, KeptPart] => [sameRef(k.part), k]));
  for (const { refs, change } of changes)
    for (const part of refs) {
      const key = sameRef(part);
      const made = changedPart(entries.get(key) ?? { part, number: '' }, change);
      if (made) entries.set(key, made);
      else entries.delete(key);
    }
  const given = [...entries.values()];
  const used = new Set(given.map((k) => k.number.toLowerCase()));
  // A number that somebody gives again on purpose is no longer one of a part that is gone.
  return { given, retired: kept.retired.filter((n) => !used.has(n.toLowerCase())) };
}

function changedPart(before: KeptPart, { number, words, leftOut }: PartChange): KeptPart | null {
  let { number: own, byHand = false, leftOut: out } = before;
  if (number !== undefined) [own, byHand] = [number.trim(), number.trim() !== ''];
  if (leftOut !== undefined) out = leftOut ?? undefined;
  const all = { ...before.words, ...words };
  const said = Object.fromEntries(
    SAYABLE.flatMap((name) => {
      const value = name === 'number' ? undefined : all[name]?.trim();
      return value ? [[name, value]] : [];
    }),
  ) as KeptPart['words'] & object;
  const isSaid = Object.keys(said).length > 0;
  if (own === '' && !isSaid && out === undefined) return null;
  return {
    part: before.part,
    number: own,
    ...(byHand && { byHand }),
    ...(isSaid && { words: said }),
    ...(out !== undefined && { leftOut: out }),
  };
}

/** Parts without a number, and those that share one, of all lists of a job; what is left out needs none. */
export function numberFaultsOf<T extends Pick<BookedPart, 'number' | 'leftOut'>>(
  rows: readonly T[],
): { missing: T[]; twice: Map<string, T[]> } {
  const counted = rows.filter((r) => r.leftOut === null);
  const { missing, twice } = numberFaults(counted.map((r) => r.number));
  return {
    missing: missing.map((i) => counted[i]!),
    twice: new Map([...twice].map(([n, list]) => [n, list.map((i) => counted[i]!)])),
  };
}

/** How many parts went out, are knowingly left out, and are still to come: together, all of them. */
export interface Coverage {
  readonly parts: number;
  readonly delivered: number;
  readonly leftOut: number;
  readonly open: number;
}

/** Counts parts, each as often as it is needed. */
export function coverageOf(rows: readonly (Pick<BookedPart, 'quantity' | 'leftOut'> & { files: number })[]): Coverage {
  let [parts, delivered, leftOut] = [0, 0, 0];
  for (const r of rows) {
    parts += r.quantity;
    if (r.leftOut !== null) leftOut += r.quantity;
    else if (r.files > 0) delivered += r.quantity;
  }
  return { parts, delivered, leftOut, open: parts - delivered - leftOut };
}
