import { csvOf } from '../drawing/csv.js';
import type { PageFont } from '../pages/frame.js';
import { escaped, figure, pageOf, tableOf } from '../pages/frame.js';

/** How far a correction is. */
export const CORRECTION_STATES = {
  asked: 'asked',
  answered: 'answered',
  mended: 'mended',
  stands: 'stands as it is',
} as const;
export type CorrectionState = keyof typeof CORRECTION_STATES;

/** Something that only the author of a source can mend. */
export interface AskedOfAuthor {
  readonly id: string;
  readonly drawing: string;
  /** The revision that it was asked of, and the one that mended it. */
  readonly revision: number;
  readonly mendedIn: number | null;
  /** The newest revision in which it was still there. */
  readonly seenIn: number;
  readonly what: string;
  readonly layer: string;
  readonly at: { readonly x: number; readonly y: number } | null;
  readonly unit: string;
  readonly measured: string;
  readonly proposed: string;
  readonly answer: string;
  readonly state: CorrectionState;
  /** A picture of its place, as plain SVG of numbers and colours. */
  readonly picture: string;
}

/** How far a correction is, in words. */
export const correctionWords = (c: Pick<AskedOfAuthor, 'state' | 'mendedIn' | 'seenIn' | 'revision'>): string =>
  c.state === 'mended' && c.mendedIn !== null
    ? `mended in revision ${c.mendedIn}`
    : c.seenIn > c.revision
      ? `${CORRECTION_STATES[c.state]}, still there in revision ${c.seenIn}`
      : CORRECTION_STATES[c.state];

/** Corrections as a page to be sent to the author: readable without the application, with a picture of each place. */
export function correctionsPage(
  job: string,
  date: string,
  list: readonly AskedOfAuthor[],
  fonts?: readonly PageFont[],
): string {
  const byDrawing = new Map<string, AskedOfAuthor[]>();
  for (const c of list) byDrawing.set(c.drawing, [...(byDrawing.get(c.drawing) ?? []), c]);
  const open = list.filter((c) => c.state === 'asked').length;
  return pageOf(
    `Corrections: ${job}`,
    [
      `<h1>Corrections: ${escaped(job)}</h1>`,
      `<p class="quiet">${escaped(date)} · ${list.length} in all, ${open} not answered yet</p>`,
      ...[...byDrawing].map(
        ([drawing, own]) =>
          `<h2>${escaped(drawing)} <span class="quiet num">${own.length}</span></h2><div class="places">${own.map(figureOf).join('')}</div>`,
      ),
      `<h2>As a list</h2>${tableOf(
        ['Drawing', 'Revision#', 'What', 'Measured', 'Proposed', 'State', 'Answer'],
        list.map((c) => [
          escaped(c.drawing),
          String(c.revision),
          escaped(c.what),
          escaped(c.measured),
          escaped(c.proposed),
          escaped(correctionWords(c)),
          escaped(c.answer),
        ]),
      )}`,
    ],
    fonts,
  );
}

function figureOf(c: AskedOfAuthor): string {
  const lines = [
    `<b>${escaped(c.what)}</b>`,
    c.measured && `measured: ${escaped(c.measured)}`,
    c.proposed && `proposed: ${escaped(c.proposed)}`,
    `<span class="quiet num">${[c.at && `at ${figure(c.at.x)}, ${figure(c.at.y)} ${escaped(c.unit)}`, c.layer && `layer ${escaped(c.layer)}`, `revision ${c.revision}`].filter(Boolean).join(' · ')}</span>`,
    escaped(correctionWords(c)),
    c.answer && `answer: ${escaped(c.answer)}`,
  ];
  return `<figure><div>${c.picture}</div><figcaption>${lines.filter(Boolean).join('<br>')}</figcaption></figure>`;
}

/** The same as comma-separated values. */
export const correctionsCsv = (list: readonly AskedOfAuthor[]): string =>
  csvOf([
    ['drawing', 'revision', 'what', 'layer', 'x', 'y', 'unit', 'measured', 'proposed', 'state', 'mended in', 'answer'],
    ...list.map((c) => [
      ...[c.drawing, c.revision, c.what, c.layer, c.at?.x ?? '', c.at?.y ?? '', c.unit, c.measured, c.proposed],
      ...[CORRECTION_STATES[c.state], c.mendedIn ?? '', c.answer],
    ]),
  ]);

/** A finding as it is told again in another revision. */
export interface FoundAgain {
  readonly check: string;
  readonly message: string;
  readonly at: { readonly x: number; readonly y: number } | null;
}

/**
 * Whether what was asked for is still found: by the same check at its place, or, where one of them has no place, in the same
 * words. `near`: how far a place may have moved and still be the same.
 */
export const isStillFound = (
  asked: { readonly check: string; readonly what: string; readonly at: AskedOfAuthor['at'] },
  found: readonly FoundAgain[],
  near: number,
): boolean =>
  found.some((f) => {
    if (f.check !== asked.check) return false;
    if (!f.at || !asked.at) return f.message === asked.what;
    return Math.hypot(f.at.x - asked.at.x, f.at.y - asked.at.y) <= near;
  });
