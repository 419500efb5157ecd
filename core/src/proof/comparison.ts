import type { LedgerRow } from '../drawing/ledger.js';
import type { Measures } from './measure.js';
import type { ProofItem } from './proof-item.js';

/** How far apart two numbers may be, relative to the drawing's size, before they count as different. */
export const RELATIVE = 2e-6;

export interface Comparison {
  a: Measures;
  b: Measures;
  limit: number;
  stated: number;
  /** How far a coordinate may be off by rounding that was asked for, and what that may come to in all lengths. */
  rounding: { grain: number; amount: number };
  unit: string;
  ledger: readonly LedgerRow[];
  items: ProofItem[];
}

export const round = (v: number): string => String(Number(v.toPrecision(7)));

export const total = (m: Map<string, number>): number => [...m.values()].reduce((s, v) => s + v, 0);

/** What colours became, by the ledger. */
export const recolouring = (ledger: readonly LedgerRow[]): Map<string, string> =>
  new Map(ledger.flatMap((r) => Object.entries(r.recoloured ?? {})));
