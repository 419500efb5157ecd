import type { Drawing } from '../../drawing/drawing.js';
import type { Ledger, LedgerEntry } from '../../drawing/ledger.js';
import { because } from '../../drawing/reasons.js';
import { CUT } from '../../drawing/resolve.js';
import type { WriteOptions } from '../write-options.js';
import type { Drawn } from './draw.js';
import type { PictureFrame } from './shown.js';
import { pngPerInch } from './png.js';
import { jpegPerInch } from './write-jpeg.js';

/** The resolution that a file of a format can state, nearest to one; `null` where none is near. */
const statedPerInch = (pxPerInch: number, format: 'png' | 'jpeg'): number | null =>
  format === 'png' ? pngPerInch(pxPerInch) : jpegPerInch(pxPerInch);

/** Nearer than this the stated resolution is the true one. */
const SAME = 1e-9;

/** Writes the rows of a picture: what became of the drawing, and what was drawn otherwise than it says. */
export function tellOfPicture(
  ledger: Ledger,
  drawing: Drawing,
  made: { drawn: Drawn; frame: PictureFrame; beyond: number; hidden: number },
  options: WriteOptions,
  format: 'png' | 'jpeg',
): void {
  const { drawn, frame } = made;
  const asked = (row: Omit<LedgerEntry, 'action' | 'onPurpose'>): void =>
    ledger.add({ action: 'changed', onPurpose: true, ...row });
  const { width, height } = frame;
  const size = Number((1 / frame.perUnit).toPrecision(7));
  asked({ carryOver: 'curves', reason: because('drawn-as-pixels', { width, height, size, unit: options.unit }) });
  tellResolution(ledger, frame, options, format);
  const left = (carryOver: LedgerEntry['carryOver'], reason: LedgerEntry['reason'], count: number): void => {
    if (count > 0) ledger.add({ carryOver, action: 'dropped', onPurpose: true, reason, count });
  };
  left('links', 'beyond-the-picture', made.beyond);
  left('layers', 'hidden-not-drawn', made.hidden);
  left('links', 'sheets-left-out', drawing.entities.filter((e) => e.sheet !== undefined).length);
  for (const id of drawn.thin) asked({ carryOver: 'colour', reason: 'thin-lines-one-pixel', id });
  for (const id of drawn.turned) asked({ carryOver: 'colour', reason: 'foreground-white-on-dark', id });
  for (const id of drawn.framed) ledger.add({ carryOver: 'links', action: 'dropped', reason: 'picture-as-frame', id });
  for (const [id, why] of drawn.cut) ledger.add({ carryOver: 'links', action: 'dropped', reason: CUT[why], id });
  for (const id of drawn.dense)
    ledger.add({ carryOver: 'colour', action: 'approximated', reason: 'hatch-cut-short', id });
  for (const [id, paint] of drawn.plain)
    ledger.add({ carryOver: 'colour', action: 'dropped', reason: because('paints-to-plain-colour', { paint }), id });
  for (const [id, letters] of drawn.missing)
    ledger.add({ carryOver: 'text', action: 'dropped', reason: because('letters-missing', { letters }), id });
  const { recoloured } = drawn;
  if (recoloured.size > 0)
    asked({
      carryOver: 'colour',
      count: recoloured.size,
      reason: options.ink === 'black' ? 'black-only' : 'recoloured-by-chart',
      recoloured: Object.fromEntries(recoloured),
    });
  if (options.hairline)
    asked({ carryOver: 'colour', reason: because('one-width-for-all', { width: options.hairline }) });
}

/** What the file itself can say of its size, and how far off that is over its longer side. */
function tellResolution(ledger: Ledger, frame: PictureFrame, options: WriteOptions, format: 'png' | 'jpeg'): void {
  const { pxPerInch: exact } = frame;
  const stated = statedPerInch(exact, format);
  if (stated === null) {
    ledger.add({ carryOver: 'scale', action: 'dropped', onPurpose: true, reason: 'picture-without-resolution' });
    return;
  }
  const off = Math.abs(exact / stated - 1);
  if (off <= SAME) return;
  const value = Number(((off * Math.max(frame.width, frame.height)) / frame.perUnit).toPrecision(2));
  const digits = (v: number): number => Number(v.toPrecision(8));
  ledger.add({
    carryOver: 'scale',
    action: 'approximated',
    onPurpose: true,
    reason: because('picture-resolution-rounded', { stated: digits(stated), exact: digits(exact) }),
    deviation: { value, unit: options.unit },
  });
}
