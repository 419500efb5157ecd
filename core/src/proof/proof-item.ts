import type { EntityKind } from '../drawing/entity.js';
import type { CarryOver } from '../drawing/ledger.js';

export type ProofState = 'kept' | 'changed' | 'undecided' | 'atRisk' | 'lost';

/** One comparison. `undecided`: nobody could tell. `expected` and `found` are for people; `difference` is the number behind them where there is one. */
export interface ProofItem {
  id: string;
  carryOver: CarryOver;
  title: string;
  state: ProofState;
  expected: string;
  found: string;
  explanation: string;
  at?: { x: number; y: number };
  /** What to look at where it is no single place: all objects of a kind, or on a layer. */
  shows?: { kind?: EntityKind; layer?: string };
  /** How many things a loss is about. */
  count?: number;
  /** It is about what was taken in, not about what was written. */
  about?: 'source';
}
