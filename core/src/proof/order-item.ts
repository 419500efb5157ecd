import Flatbush from 'flatbush';
import type { Drawing } from '../drawing/drawing.js';
import { KINDS } from '../drawing/kinds.js';
import { surveyOf } from '../drawing/survey.js';
import type { Box2 } from '../geometry/box.js';
import type { ProofItem } from './proof-item.js';

/** Boxes of one curve in both drawings differ by no more than this part of their size: other descriptions of it bulge a little otherwise. */
const LOOSE = 2e-3;

/** What is drawn one by one in model space, by the boxes of its curves, in draw order; what blocks show is not told apart. */
function boxesOf(drawing: Drawing): Box2[] {
  const survey = surveyOf(drawing);
  const out: Box2[] = [];
  survey.each(({ entity, top }, i) => {
    if (top !== entity || !KINDS[entity.kind].contour) return;
    const box = survey.box(i);
    if (!box.empty) out.push(box);
  });
  return out;
}

const cornersOf = ({ minX, minY, maxX, maxY }: Box2): number[] => [minX, minY, maxX, maxY];

/**
 * Whether curves are drawn in the file in the order in which they were to be, where that order is one to be cut in; `null` where it means
 * nothing. Each is found again by where it lies alone, whatever it became. `factor`: from the found drawing's coordinates to the expected one's.
 */
export function orderItem(expected: Drawing, found: Drawing, factor: number, limit: number): ProofItem | null {
  if (!expected.ordered) return null;
  const want = boxesOf(expected).map(cornersOf);
  const got = boxesOf(found).map((b) => cornersOf(b).map((v) => v * factor));
  const places = placesIn(want, got, limit);
  const known = places.filter((p) => p >= 0);
  const run = longestRise(known);
  const astray = known.length - run;
  const lost = want.length - known.length;
  const at = astray > 0 ? got[firstFall(places)] : undefined;
  return {
    id: 'order',
    carryOver: 'curves',
    title: 'Order in which curves are drawn, which is that of cutting',
    state: astray > 0 ? 'atRisk' : lost > 0 ? 'undecided' : 'kept',
    expected: `${want.length} one after the other`,
    found:
      astray > 0 ? `${astray} out of their order` : lost > 0 ? `${known.length} in order` : `${want.length} in order`,
    explanation:
      astray > 0
        ? 'what lies inside may be cut after what holds it'
        : lost > 0
          ? `${lost} could not be found again by where they lie, so their turn is not known`
          : 'each was found again where it lies, in its turn',
    ...(at && { at: { x: (at[0]! + at[2]!) / 2, y: (at[1]! + at[3]!) / 2 } }),
    ...(astray > 0 && { count: astray }),
  };
}

/** For each found box which wanted one it is, the first of those alike that is left; -1 where it is none. */
function placesIn(want: readonly number[][], got: readonly number[][], limit: number): number[] {
  if (want.length === 0) return got.map(() => -1);
  const index = new Flatbush(want.length);
  for (const [a, b, c, d] of want as readonly [number, number, number, number][])
    index.add((a + c) / 2, (b + d) / 2, (a + c) / 2, (b + d) / 2);
  index.finish();
  const taken = new Uint8Array(want.length);
  return got.map((box) => {
    const [a, b, c, d] = box as [number, number, number, number];
    const near = limit + LOOSE * Math.hypot(c - a, d - b);
    const [x, y] = [(a + c) / 2, (b + d) / 2];
    const alike = index
      .search(
        x - near,
        y - near,
        x + near,
        y + near,
        (i) => taken[i] === 0 && want[i]!.every((v, k) => Math.abs(v - box[k]!) <= near),
      )
      .sort((p, q) => p - q);
    const [place] = alike;
    if (place === undefined) return -1;
    taken[place] = 1;
    return place;
  });
}

/** The place of the first that comes after one it was to come before. */
function firstFall(places: readonly number[]): number {
  let highest = -1;
  return places.findIndex((p) => {
    if (p >= 0 && p < highest) return true;
    highest = Math.max(highest, p);
    return false;
  });
}

/** How many of a list rise from one to the next at most, left in their order: all others are out of it. */
function longestRise(list: readonly number[]): number {
  const tails: number[] = [];
  for (const v of list) {
    let [from, to] = [0, tails.length];
    while (from < to) {
      const mid = (from + to) >> 1;
      if (tails[mid]! < v) from = mid + 1;
      else to = mid;
    }
    tails[from] = v;
  }
  return tails.length;
}
