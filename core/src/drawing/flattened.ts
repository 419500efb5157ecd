import type { Drawing } from './drawing.js';
import { layFlat } from './lay-flat.js';
import type { Ledger } from './ledger.js';
import type { Lineage } from './lineage.js';
import { because } from './reasons.js';

/** Everything on the XY plane, with what that did to it in the ledger. */
export function flattened(drawing: Drawing, ledger: Ledger, lineage: Lineage): Drawing {
  const flat = layFlat(drawing, lineage);
  const unit = drawing.unit?.unit ?? '';
  if (flat.changed > 0)
    ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      reason: 'laid-flat',
      count: flat.changed,
      deviation: { value: flat.farthest, unit },
    });
  if (flat.taken > 0)
    ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      reason: 'tilted-insert-from-above',
      count: flat.taken,
      becomes: { from: 'entity', to: 'parts', gone: flat.taken, entities: flat.made },
    });
  if (flat.shorter > 0)
    ledger.add({
      carryOver: 'scale',
      action: 'changed',
      onPurpose: true,
      reason: because('shorter-than-in-space', { percent: Number((flat.lost * 100).toPrecision(3)) }),
      count: flat.shorter,
    });
  if (flat.left > 0)
    ledger.add({
      carryOver: 'curves',
      action: 'approximated',
      reason: 'tilted-dimension-kept',
      count: flat.left,
    });
  return flat.drawing;
}
