import { Box2 } from '../geometry/box.js';
import type { Drawing } from './drawing.js';
import { BoundsSink, addEntityBounds, lengthOf } from './measures.js';
import type { Visit } from './resolve.js';
import { walk } from './resolve.js';

/** So many objects are gathered at most: an array of blocks may show more than any memory holds. */
const MAX_SURVEYED = 1_000_000;

/**
 * What is in sight in model space, inserts taken apart, gathered in one walk for all who ask: the checks and the proof look
 * at the same list, with boxes and lengths worked out once.
 */
export class Survey {
  readonly visits: readonly Visit[];
  /** Objects that were left out, more than `MAX_SURVEYED`. */
  readonly beyond: number;
  /** minX, minY, maxX, maxY of each; Infinity and -Infinity where an object has no place. */
  private boxes: Float64Array | null = null;
  private lengths: Float64Array | null = null;

  constructor(drawing: Drawing) {
    const visits: Visit[] = [];
    let beyond = 0;
    walk(drawing, (v) => {
      if (visits.length < MAX_SURVEYED) visits.push(v);
      else beyond++;
    });
    this.visits = visits;
    this.beyond = beyond;
  }

  /** Calls `look` for each object, in the order of the walk. */
  each(look: (visit: Visit, index: number) => void): void {
    for (let i = 0; i < this.visits.length; i++) look(this.visits[i]!, i);
  }

  /** The boxes of all: minX, minY, maxX, maxY each. */
  get bounds(): Float64Array {
    if (this.boxes) return this.boxes;
    const boxes = new Float64Array(4 * this.visits.length);
    for (let i = 0; i < this.visits.length; i++) {
      const box = new Box2();
      addEntityBounds(this.visits[i]!.entity, this.visits[i]!.toWorld, new BoundsSink(box));
      boxes[4 * i] = box.minX;
      boxes[4 * i + 1] = box.minY;
      boxes[4 * i + 2] = box.maxX;
      boxes[4 * i + 3] = box.maxY;
    }
    return (this.boxes = boxes);
  }

  /** The box of one. */
  box(i: number): Box2 {
    const b = this.bounds;
    const box = new Box2();
    if (b[4 * i]! <= b[4 * i + 2]!) {
      box.add(b[4 * i]!, b[4 * i + 1]!);
      box.add(b[4 * i + 2]!, b[4 * i + 3]!);
    }
    return box;
  }

  /** The length of the curves of one, worked out when first asked for. */
  length(i: number): number {
    this.lengths ??= new Float64Array(this.visits.length).fill(-1);
    const known = this.lengths[i]!;
    if (known >= 0) return known;
    const { entity, toWorld } = this.visits[i]!;
    return (this.lengths[i] = lengthOf(entity, toWorld));
  }
}

const known = new WeakMap<Drawing, Survey>();

/** The survey of a drawing, made once. Drawings do not change after they were made. */
export function surveyOf(drawing: Drawing): Survey {
  let survey = known.get(drawing);
  if (!survey) known.set(drawing, (survey = new Survey(drawing)));
  return survey;
}
