import type { Delivered, Prepared } from '../delivery/deliver.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import { UnreadableFile } from '../formats/format.js';
import { readDrawing } from '../formats/index.js';
import type { FontBook } from '../text/fonts.js';
import type { Proof, ProofItem } from './prove.js';
import { prove } from './prove.js';

/**
 * The proof of a delivery: the bytes are read back as a receiver would, and compared with what was handed to the
 * writer; then the source is held against what was prepared. `bytes` may be another copy of the file than the one that
 * was written. A file that cannot be read fails the proof.
 */
export function proveDelivery(
  source: Drawing,
  prepared: Prepared,
  delivered: Pick<Delivered, 'written' | 'unit' | 'ledger' | 'name'>,
  bytes: Uint8Array,
  fonts: FontBook,
  work?: Work,
): Proof {
  let read: Drawing;
  try {
    read = readDrawing(bytes, delivered.name).drawing;
  } catch (e) {
    if (!(e instanceof UnreadableFile)) throw e;
    const item: ProofItem = {
      id: 'readable',
      carryOver: 'links',
      title: 'The file can be read',
      state: 'atRisk',
      expected: 'a whole file',
      found: e.found,
      explanation: `${e.where}. ${e.remedy}`,
    };
    return { holds: false, unit: delivered.unit, items: [item] };
  }
  const proof = prove(delivered.written, read, { ledger: delivered.ledger, unit: delivered.unit, fonts }, work);
  const items = [accounted(source, prepared), ...damageItems(read), ...proof.items];
  return { ...proof, items, holds: items.every((i) => i.state !== 'atRisk') };
}

/** Every entity of the source is in the prepared drawing or was left behind by a row of the ledger. */
function accounted(source: Drawing, prepared: Prepared): ProofItem {
  const left = prepared.ledger
    .filter((r) => r.carryOver === 'layers' && r.action === 'dropped')
    .reduce((n, r) => n + r.count, 0);
  const count = (d: Drawing): number =>
    d.entities.length + [...d.blocks.values()].reduce((n, b) => n + b.entities.length, 0);
  const [had, have] = [count(source), count(prepared.drawing)];
  // What became more or fewer on the way, such as shapes cut to a clip.
  const grown = prepared.ledger.reduce((n, r) => n + (r.becomes ? r.becomes.entities - r.becomes.gone : 0), 0);
  const right = had + grown === have + left;
  return {
    id: 'accounted',
    carryOver: 'layers',
    title: 'Entities of the source accounted for',
    state: right ? (left > 0 || grown !== 0 ? 'changed' : 'kept') : 'atRisk',
    expected: String(had),
    found:
      (left > 0 ? `${have} prepared + ${left} left behind` : `${have} prepared`) +
      (grown === 0 ? '' : `, ${Math.abs(grown)} ${grown > 0 ? 'more' : 'fewer'} by what was cut or made`),
    explanation: right
      ? left > 0
        ? 'left behind on purpose, by what was decided on taking in'
        : ''
      : 'some entities went without a row in the ledger',
  };
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
