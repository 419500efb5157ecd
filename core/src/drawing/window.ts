import { Box2 } from '../geometry/box.js';
import { clippedChord } from '../geometry/clip-chord.js';
import type { Drawing } from './drawing.js';
import type { Entity } from './entity.js';
import { flattenEntity } from './flatten.js';
import { BoundsSink, addEntityBounds } from './measures.js';
import { walk } from './resolve.js';
import { CHORDS, COINCIDENT } from '../geometry/tolerance.js';

/**
 * The entities of model space that lie in a window (in the drawing's coordinates): wholly, or touched by it too. What is
 * hidden counts like the rest; an insert or dimension counts by what it shows.
 */
export function inWindow(drawing: Drawing, window: Box2, touching: boolean): Set<Entity> {
  const state = new Map<Entity, boolean>();
  const met = window.diagonal * COINCIDENT;
  walk(
    drawing,
    ({ entity: e, toWorld, top }) => {
      const so = state.get(top);
      // One part outside settles a whole; one part touched settles a touch.
      if (so === touching) return;
      if (e.kind === 'insert') return;
      const box = new Box2();
      addEntityBounds(e, toWorld, new BoundsSink(box));
      if (box.empty) return;
      const holds = (outer: Box2): boolean =>
        box.minX >= outer.minX - met &&
        box.maxX <= outer.maxX + met &&
        box.minY >= outer.minY - met &&
        box.maxY <= outer.maxY + met;
      if (!touching) {
        state.set(top, holds(window));
        return;
      }
      const apart =
        box.minX > window.maxX || box.maxX < window.minX || box.minY > window.maxY || box.maxY < window.minY;
      state.set(top, !apart && (holds(window) || crosses(e, toWorld, window)));
    },
    { hidden: true },
  );
  return new Set([...state].filter(([, inside]) => inside).map(([e]) => e));
}

/** Whether any chord of an entity's curves passes through a window. */
function crosses(e: Entity, toWorld: Parameters<typeof flattenEntity>[1], w: Box2): boolean {
  let hit = false;
  let [x, y] = [0, 0];
  flattenEntity(e, toWorld, w.diagonal * CHORDS, {
    moveTo: (px, py) => void ([x, y] = [px, py]),
    lineTo: (px, py) => {
      hit ||= clippedChord(w, x, y, px, py) !== null;
      [x, y] = [px, py];
    },
  });
  return hit;
}
