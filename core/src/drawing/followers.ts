import type { Entity } from './entity.js';
import type { Ledger } from './ledger.js';

/** Writes to the ledger what could not follow a move or scale as it was. */
export const noteFollowers =
  (ledger: Ledger) =>
  (e: Entity, became: 'insert' | 'stale'): void => {
    const type = e.kind === 'opaque' ? e.type : e.kind;
    if (became === 'insert')
      ledger.add({ carryOver: 'text', action: 'changed', reason: `${type} scaled or moved as its picture`, id: e.id });
    else
      ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        reason: `${type} is not understood and cannot follow a move or scale`,
        id: e.id,
      });
  };
