import type { Appearance, Paint } from '../../drawing/appearance.js';
import { meanOpacity } from '../../drawing/appearance.js';
import { derive } from '../../drawing/derive.js';
import type { Entity } from '../../drawing/entity.js';
import { twoColours } from '../../drawing/hatch-gradient.js';
import { lengthOf } from '../../drawing/measures.js';
import type { EntityTags } from './entity-tags.js';
import type { FillBoundary } from './even-odd.js';
import { fillBoundary, tellFillRule } from './even-odd.js';
import type { Place } from './places.js';
import { tellEach } from './places.js';
import { writeHatch } from './write-hatch.js';

/** The hatch that stands for an entity's fill; written before its outline so that it lies under it. */
export function fillOf(w: EntityTags, e: Entity, owner: string): void {
  const { x } = w;
  if (e.look.fill.kind === 'none') return;
  const { id } = e;
  const places = x.placesOf(e);
  const boundary = fillBoundary(e, true);
  if (boundary) fillHatch(w, e, owner, boundary, places);
  if (e.look.stroke.kind !== 'none') return;
  const length = lengthOf(e);
  tellEach(x.ledger, places, ({ key, scale }) => ({
    carryOver: 'curves',
    action: 'changed',
    reason: boundary ? 'fill-got-outline' : 'flat-fill-as-line',
    onPurpose: true,
    id,
    added: { [key]: length * scale },
  }));
}

/** Levels of a channel by which a gradient of two colours may be off and still looks the same. */
const SEEN_LEVELS = 4;

/** A look whose gradient is said elsewhere: its plain colour, as clear as the gradient is on average. */
const plainly = (look: Appearance, fill: Extract<Paint, { kind: 'gradient' }>): Appearance => ({
  ...look,
  fill: { kind: 'rgb', rgb: fill.rgb },
  fillOpacity: look.fillOpacity * meanOpacity(fill),
});

function fillHatch(w: EntityTags, e: Entity, owner: string, boundary: FillBoundary, places: readonly Place[]): void {
  const { x } = w;
  const { id } = e;
  const solid = { solid: true, pattern: 'SOLID', elevation: 0, angle: 0, scale: 1 };
  const { fill } = e.look;
  const two = x.gradients ? twoColours(fill, boundary.hatches.flat()) : null;
  for (const loops of boundary.hatches) {
    const hatch = derive(e, 'piece', {
      kind: 'hatch',
      loops,
      ...solid,
      // Several that lie on one another have their plain colour: each would begin its gradient anew.
      ...(two &&
        boundary.hatches.length === 1 &&
        fill.kind === 'gradient' && { gradient: two.gradient, look: plainly(e.look, fill) }),
    });
    writeHatch(w, hatch, owner, false);
  }
  if (two && boundary.hatches.length === 1)
    x.ledger.add({
      carryOver: 'colour',
      action: two.off <= SEEN_LEVELS ? 'changed' : 'approximated',
      onPurpose: true,
      id,
      reason: 'gradient-as-two-colours',
    });
  tellFillRule(x.ledger, places, id, boundary, x.unit);
  tellEach(x.ledger, places, () => ({
    carryOver: 'colour',
    action: 'changed',
    reason: 'fill-as-hatch',
    onPurpose: true,
    becomes: { from: 'fill', to: 'hatch', gone: 1, entities: boundary.hatches.length },
    id,
  }));
}
