import type { ReadWork } from '../formats/format.js';
import type { IntakeDecisions } from './decisions.js';

/** How a file is to be read, as it was decided: what its reader is told. */
export type ReadAs = Pick<ReadWork, 'encoding' | 'page' | 'letters' | 'pens' | 'decimal' | 'third'>;

/** What of the decisions concerns reading itself. */
export const readAs = (d: Partial<IntakeDecisions> | null | undefined): ReadAs => ({
  encoding: d?.encoding ?? null,
  page: d?.fromPage ?? null,
  letters: d?.letters ?? null,
  pens: d?.pens ?? null,
  decimal: d?.decimal ?? null,
  third: d?.third ?? null,
});
