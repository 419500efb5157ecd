import { because } from './reasons.js';
import type { Entity } from './entity.js';
import type { Follower } from './transform.js';
import type { Ledger } from './ledger.js';

/** Writes to the ledger what could not follow a move or scale as it was. */
export const noteFollowers =
  (ledger: Ledger) =>
  (e: Entity, became: Follower): void => {
    const type = e.kind === 'opaque' ? e.type : e.kind;
    if (became === 'insert')
      ledger.add({
        carryOver: 'text',
        action: 'changed',
        reason: because('follows-by-picture', { what: type }),
        id: e.id,
      });
    else if (became === 'number')
      ledger.add({
        carryOver: 'text',
        action: 'kept',
        reason: 'typed-number-kept',
        id: e.id,
      });
    else if (e.kind === 'opaque' && e.drawn)
      ledger.add({
        carryOver: 'curves',
        action: 'changed',
        reason: because('follows-by-parts', { what: type }),
        id: e.id,
      });
    else
      ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        reason: because('cannot-follow', { what: type }),
        id: e.id,
      });
  };
