import type { Delivered } from '../delivery/deliver.js';
import type { Prepared } from '../delivery/pipeline.js';
import { pathTail } from '../analysis/named-files.js';
import type { Drawing } from '../drawing/drawing.js';
import { Ledger } from '../drawing/ledger.js';
import type { Stage } from '../drawing/lineage.js';
import { LINEAGE_WORDS } from '../drawing/lineage.js';
import type { Reading, Work } from '../formats/format.js';
import { UnreadableFile } from '../formats/format.js';
import { readDrawing, readSource } from '../formats/index.js';
import { ALL_PAGES } from '../formats/format.js';
import { upright } from '../intake/intake.js';
import { withPictures } from '../intake/pictures.js';
import type { FontBook } from '../text/fonts.js';
import { holdAgainst, unread } from '../yardsticks/measure.js';
import type { Yardstick } from '../yardsticks/yardstick.js';
import { scaleSeen, yardstickUnit } from '../yardsticks/yardstick.js';
import type { Departure } from './prepared.js';
import { provePrepared } from './prepared.js';
import type { Proof, ProofItem } from './prove.js';
import type { Witness } from './seen-items.js';
import { pictureInPlace } from '../formats/picture/made.js';
import { pictureItems } from './picture.js';
import { seenItems, seenPictureItems } from './seen-items.js';
import { traceItems } from './trace-items.js';
import { prove } from './prove.js';
import { statedItems } from './stated.js';

/** What of a delivery a proof needs. */
export type Proven = Pick<
  Delivered,
  'written' | 'unit' | 'ledger' | 'name' | 'stages' | 'looks' | 'beside' | 'picture'
>;

/** A file as a receiver reads it, or why it cannot be read. */
export interface ReadBack {
  readonly bytes: Uint8Array;
  readonly read: Reading | UnreadableFile;
}

/** Reads a file back; of a PDF all pages, side by side. */
export async function readBack(bytes: Uint8Array, name: string, work?: Work): Promise<ReadBack> {
  try {
    return { bytes, read: await readSource(bytes, name, { ...work, page: ALL_PAGES }) };
  } catch (e) {
    if (!(e instanceof UnreadableFile)) throw e;
    return { bytes, read: e };
  }
}

/** The same at once, for formats whose parser has not to be waited for. */
function readAtOnce(bytes: Uint8Array, name: string): ReadBack {
  try {
    return { bytes, read: readDrawing(bytes, name) };
  } catch (e) {
    if (!(e instanceof UnreadableFile)) throw e;
    return { bytes, read: e };
  }
}

/**
 * The proof of a delivery: the bytes are read back as a receiver would, and compared with what was handed to the
 * writer; and that is held against the source, stage by stage. `file` may be another copy than the one that
 * was written, and may have been read already (`readBack`). A file that cannot be read fails the proof. Given with what its reader says, what reading lost is told too.
 * With a witness, source and file are drawn and held against what was read and written.
 */
export function proveDelivery(
  given: Drawing | Reading,
  prepared: Prepared,
  delivered: Proven,
  file: Uint8Array | ReadBack,
  fonts: FontBook,
  work?: Work & { witness?: Witness; yardsticks?: readonly Yardstick[] },
): Proof {
  return proofOf(given, prepared, delivered, file, fonts, work).proof;
}

/** The same, with what the file was read back as; `null` where it cannot be read. */
export function proofOf(
  given: Drawing | Reading,
  prepared: Prepared,
  delivered: Proven,
  file: Uint8Array | ReadBack,
  fonts: FontBook,
  work?: Work & { witness?: Witness; yardsticks?: readonly Yardstick[] },
): { proof: Proof; back: Drawing | null } {
  const { drawing: source, ledger: reading } = 'ledger' in given ? given : { drawing: given, ledger: [] };
  const { bytes, read: came } = file instanceof Uint8Array ? readAtOnce(file, delivered.name) : file;
  if (came instanceof UnreadableFile) {
    const item: ProofItem = {
      id: 'readable',
      carryOver: 'links',
      title: 'The file can be read',
      state: 'atRisk',
      expected: 'a whole file',
      found: came.found,
      explanation: `${came.where}. ${came.remedy}`,
    };
    const items = [item, ...yardstickItems(work?.yardsticks ?? [], null, fonts)];
    return { proof: { holds: false, unit: delivered.unit, items }, back: null };
  }
  const read = came.drawing;
  const { picture } = delivered;
  if (picture) {
    const shown = { ...delivered, made: picture, bytes };
    const items = [
      ...sourceItems(source),
      ...preparedItems(source, prepared, delivered, fonts, work),
      ...pictureItems(shown, fonts),
      ...yardstickItems(work?.yardsticks ?? [], null, fonts),
      ...(work?.witness ? seenPictureItems(source, reading, shown, work.witness, fonts) : []),
      ...(work?.witness ? traceItems(prepared.stages, work.witness.renderer) : []),
      ...statedItems(delivered.ledger),
      ...statedItems(reading),
      ...statedItems(prepared.ledger.filter((r) => !r.onPurpose)),
    ];
    const holds = items.every((i) => i.state !== 'atRisk');
    return { proof: { holds, unit: delivered.unit, items }, back: pictureInPlace(read, picture, delivered.unit) };
  }
  const proof = prove(delivered.written, read, { ledger: delivered.ledger, unit: delivered.unit, fonts }, work);
  const { written, ledger: writing, looks } = delivered;
  const back = withPicturesBeside(upright(read), written);
  const looked = { source, reading, written, bytes, back, writing, looks };
  const items = [
    ...sourceItems(source),
    ...preparedItems(source, prepared, delivered, fonts, work),
    ...damageItems(read),
    ...proof.items,
    ...yardstickItems(work?.yardsticks ?? [], back, fonts),
    ...(work?.witness ? seenItems(looked, work.witness, fonts) : []),
    ...(work?.witness ? traceItems(prepared.stages, work.witness.renderer) : []),
    ...statedItems(reading),
    ...statedItems(prepared.ledger.filter((r) => !r.onPurpose)),
  ];
  return { proof: { ...proof, items, holds: items.every((i) => i.state !== 'atRisk') }, back };
}

/** A file that names pictures is looked at as its receiver has it: with them beside it. */
function withPicturesBeside(back: Drawing, written: Drawing): Drawing {
  const given = written.entities.flatMap((e) =>
    e.kind === 'image' && e.file !== undefined && e.data !== undefined
      ? [{ name: pathTail(e.file), data: e.data }]
      : [],
  );
  return withPictures(back, given, new Ledger('write'));
}

/** Features of known size, measured in the file. One that finds no partner is undecided, never held. */
function yardstickItems(list: readonly Yardstick[], back: Drawing | null, fonts: FontBook): ProofItem[] {
  return (back ? holdAgainst(list, back, fonts) : list.map(unread)).map((h, i): ProofItem => {
    const y = list[i]!;
    const unit = yardstickUnit(y);
    const said = (v: number | string): string =>
      `${typeof v === 'number' ? Number(v.toPrecision(7)) : v}${unit && ` ${unit}`}`;
    const sees = scaleSeen(y);
    return {
      id: `yardstick-${y.id}`,
      carryOver: y.what === 'stroke' || y.what === 'fill' ? 'colour' : y.what === 'text' ? 'text' : 'scale',
      title: `Yardstick: ${y.title}`,
      state: h.state === 'holds' ? 'kept' : h.state === 'fails' ? 'atRisk' : 'undecided',
      expected: `${said(y.expected)}${typeof y.expected === 'number' ? ` ± ${y.tolerance}` : ''}`,
      found: h.measured === null ? 'not found' : said(h.measured),
      explanation: [
        h.why,
        sees === null ? '' : `sees an error of scale from ${Number((sees * 100).toPrecision(2))} % on`,
        y.source,
      ]
        .filter(Boolean)
        .join('; '),
    };
  });
}

/**
 * Whether what was handed to the writer is the source, but for what was decided: nothing went or came unsaid, and all lies where
 * it is said to lie.
 */
function preparedItems(
  source: Drawing,
  prepared: Prepared,
  { written, unit, stages: own }: Pick<Delivered, 'written' | 'unit' | 'stages'>,
  fonts: FontBook,
  work?: Work,
): ProofItem[] {
  const stages = [...prepared.stages, ...own];
  const found = provePrepared(source, written, stages, fonts, work);
  const { unexplained, displaced, gone, grown } = found;
  const count = (d: Drawing): number =>
    d.entities.length + [...d.blocks.values()].reduce((n, b) => n + b.entities.length, 0);
  const [had, have] = [count(source), count(written)];
  const first = unexplained[0];
  const sum = `${have} prepared${gone > 0 ? ` + ${gone} left out on purpose` : ''}${grown === 0 ? '' : `, ${Math.abs(grown)} ${grown > 0 ? 'more' : 'fewer'} by what was cut or made`}${gone > 0 || grown !== 0 ? ` = ${had}` : ''}`;
  const adds = had + grown === have + gone;
  const accounted: ProofItem = {
    id: 'accounted',
    carryOver: 'layers',
    title: 'Objects accounted for, those in blocks too',
    state:
      unexplained.length > 0 || had + grown !== have + gone ? 'atRisk' : gone > 0 || grown !== 0 ? 'changed' : 'kept',
    expected: adds ? sum : String(had),
    found: adds
      ? sum
      : (gone > 0 ? `${have} prepared + ${gone} left out on purpose` : `${have} prepared`) +
        (grown === 0 ? '' : `, ${Math.abs(grown)} ${grown > 0 ? 'more' : 'fewer'} by what was cut or made`),
    explanation: first
      ? `${unexplained.length} unexplained. ${first.title}: a ${first.what}, layer ${first.layer}`
      : gone > 0
        ? `left out on purpose: ${reasonsOf(stages)}`
        : '',
  };
  if (found.measured === 0) return [accounted];
  const worst = displaced.reduce<Departure | null>(
    (most, d) => (!most || (d.off ?? 0) > (most.off ?? 0) ? d : most),
    null,
  );
  const words = (v: number): string => `${Number(v.toPrecision(4))} ${unit}`;
  const place: ProofItem = {
    id: 'prepared-place',
    carryOver: 'curves',
    title: 'Prepared drawing lies where its source lies',
    state: worst ? 'atRisk' : found.stated ? 'changed' : 'kept',
    expected: found.stated ? `moved by ${words(found.stated.within)} at most` : 'in place',
    found: worst
      ? worst.off === Infinity
        ? 'nothing there'
        : `off by ${words(worst.off ?? 0)}`
      : `${found.measured} measured, in place`,
    explanation: worst
      ? `${worst.title}: a ${worst.what}${worst.layer ? ` on layer ${worst.layer}` : ''} does not lie where it is said to` +
        (displaced.length > 1 ? `, and ${displaced.length - 1} more` : '')
      : found.stated
        ? `the largest move that was asked for: ${found.stated.title}`
        : '',
    ...(worst?.at && { at: worst.at }),
  };
  return [accounted, place];
}

/** What was left behind and why, the most first. */
function reasonsOf(stages: readonly Stage[]): string {
  const counts = new Map<string, number>();
  for (const { descents } of stages)
    for (const { code, from, claim } of descents)
      if (claim.kind === 'gone') counts.set(LINEAGE_WORDS[code], (counts.get(LINEAGE_WORDS[code]) ?? 0) + from.length);
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .map(([words, n]) => `${n} ${words}`)
    .join('; ');
}

/** Where the source itself breaks off: what was written holds for what could be read, and for no more. */
function sourceItems(source: Drawing): ProofItem[] {
  return source.notes
    .filter((n) => n.endsHere)
    .map((n, i) => ({
      id: `source-${i}`,
      carryOver: 'curves' as const,
      title: 'The source could be read to its end',
      state: 'lost' as const,
      expected: 'a whole file',
      found: n.text,
      explanation: `${n.where ?? ''}: what came after it is missing`,
      about: 'source' as const,
    }));
}

/** What the reader had to put up with in a file that should be whole. */
function damageItems(read: Drawing): ProofItem[] {
  return read.notes
    .filter((n) => n.severity === 'warning')
    .map((n, i) => ({
      id: `reading-${i}`,
      carryOver: 'links' as const,
      title: 'The file reads without a fault',
      state: 'atRisk' as const,
      expected: 'no fault',
      found: n.count > 1 ? `${n.text} (${n.count})` : n.text,
      explanation: n.where ?? '',
    }));
}
