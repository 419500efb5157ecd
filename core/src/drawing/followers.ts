import type { Entity } from './entity.js';
import type { Follower } from './transform.js';
import type { Ledger } from './ledger.js';

/** Writes to the ledger what could not follow a move or scale as it was. */
export const noteFollowers =
  (ledger: Ledger) =>
  (e: Entity, became: Follower): void => {
    const type = e.kind === 'opaque' ? e.type : e.kind;
    if (became === 'insert')
      ledger.add({ carryOver: 'text', action: 'changed', reason: `${type} scaled or moved as its picture`, id: e.id });
    else if (became === 'number')
      ledger.add({
        carryOver: 'text',
        action: 'kept',
        reason: 'dimensions with a typed number keep it, though lengths were multiplied',
        id: e.id,
      });
    else if (e.kind === 'opaque' && e.drawn)
      ledger.add({
        carryOver: 'curves',
        action: 'changed',
        reason: `${type} scaled or moved as the lines and texts that show it`,
        id: e.id,
      });
    else
      ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        reason: `${type} is not understood and cannot follow a move or scale`,
        id: e.id,
      });
  };
