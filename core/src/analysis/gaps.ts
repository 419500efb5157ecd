import { NearestPlaces } from '../geometry/nearest-places.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { extentOf } from './extent.js';
import { piecesOfDrawing } from './pieces.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** Two free ends that miss each other: of one curve, or of two. */
export interface Gap {
  ids: number[];
  /** The middle between them. */
  at: { x: number; y: number };
  size: number;
  layer: string;
}

/**
 * All gaps of a drawing, the widest first. `widest`: from which width on ends are not meant to meet (0: a hundredth of the
 * diagonal); `met`: below which they have met (0: a thousand-millionth of it). Both in the drawing's unit.
 */
export function gapsOf(drawing: Drawing, widest: number, met: number, work?: Work): Gap[] {
  const { diagonal } = extentOf(drawing);
  const near = met || diagonal * COINCIDENT;
  const ends = endsOf(drawing, work);
  const free = freeEnds(ends, near, work);
  return pairsOf(drawing, ends, free, near, widest || diagonal / 100, work);
}

/** The ends of all visible open curves, in world coordinates, in columns; the other end of end `i` is `i ^ 1`. */
interface Ends {
  count: number;
  x: Float64Array;
  y: Float64Array;
  /** Which layer, as a number of its own. */
  layer: Int32Array;
  id: Int32Array;
  /** The layers under the names by which they are compared. */
  layers: string[];
}

function endsOf(drawing: Drawing, work?: Work): Ends {
  const { courses, ends } = piecesOfDrawing(drawing, work);
  const most = 2 * courses.length;
  const out: Ends = {
    count: 0,
    x: new Float64Array(most),
    y: new Float64Array(most),
    layer: new Int32Array(most),
    id: new Int32Array(most),
    layers: [],
  };
  const numbers = new Map<string, number>();
  for (const { closed, key, id, first, count, entity } of courses) {
    if (closed || entity === 'face') continue;
    let layer = numbers.get(key);
    if (layer === undefined) {
      numbers.set(key, (layer = numbers.size));
      out.layers.push(key);
    }
    const [from, to] = [4 * first, 4 * (first + count - 1) + 2];
    for (const at of [from, to]) {
      out.x[out.count] = ends[at]!;
      out.y[out.count] = ends[at + 1]!;
      out.layer[out.count] = layer;
      out.id[out.count++] = id;
    }
  }
  return out;
}

/** The ends at which nothing else of the same layer ends. */
function freeEnds(ends: Ends, met: number, work?: Work): Int32Array {
  const { count } = ends;
  if (count === 0 || !(met > 0)) return new Int32Array(0);
  const [x, y, layer] = [ends.x.subarray(0, count), ends.y.subarray(0, count), ends.layer.subarray(0, count)];
  const grid = new PlaceGrid(x, y, met, layer);
  const out = new Int32Array(count);
  let n = 0;
  let own = 0;
  let free = true;
  const other = (j: number): boolean => {
    if (j !== own) free = false;
    return !free;
  };
  for (own = 0; own < count; own++) {
    if (own % 8192 === 0) checkStop(work);
    free = true;
    grid.near(x[own]!, y[own]!, other, layer[own]);
    if (free) out[n++] = own;
  }
  return out.subarray(0, n);
}

/**
 * Whether two ends lie apart on purpose: those of curves side by side, such as rails and slats, and those whose distance is
 * more than a quarter of what the curves themselves span.
 */
function meantApart({ x, y }: Ends, a: number, b: number): boolean {
  const [gx, gy] = [x[b]! - x[a]!, y[b]! - y[a]!];
  const gap = Math.hypot(gx, gy);
  const [ax, ay] = [x[a]! - x[a ^ 1]!, y[a]! - y[a ^ 1]!];
  const [bx, by] = [x[b]! - x[b ^ 1]!, y[b]! - y[b ^ 1]!];
  const [aLong, bLong] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
  if (gap > Math.min(aLong, bLong) / 4) return true;
  const along = (dx: number, dy: number, l: number): number => Math.abs(dx * gx + dy * gy) / (l * gap);
  const parallel = Math.abs(ax * bx + ay * by) / (aLong * bLong) > 0.98;
  return parallel && along(ax, ay, aLong) < 0.5 && along(bx, by, bLong) < 0.5;
}

/** Pairs each free end with its nearest free neighbour; a pair that is nearest to each other is one gap. */
function pairsOf(drawing: Drawing, ends: Ends, free: Int32Array, met: number, widest: number, work?: Work): Gap[] {
  if (free.length < 2) return [];
  const { x, y, id } = ends;
  const nearest = new Int32Array(ends.count).fill(-1);
  // One index per layer, so that ends of other layers are never even looked at.
  const byLayer: number[][] = ends.layers.map(() => []);
  for (const i of free) byLayer[ends.layer[i]!]!.push(i);
  for (const members of byLayer) {
    const index = new NearestPlaces(
      Float64Array.from(members, (i) => x[i]!),
      Float64Array.from(members, (i) => y[i]!),
    );
    members.forEach((i, k) => {
      if (k % 4096 === 0) checkStop(work);
      const found = index.nearestTo(k, met, widest);
      if (found >= 0) nearest[i] = members[found]!;
    });
  }
  const names = new Map(drawing.layers.map((l) => [layerKey(drawing, l.name), l.name]));
  const gaps: Gap[] = [];
  for (const a of free) {
    const b = nearest[a]!;
    if (b <= a || nearest[b] !== a || (id[a] !== id[b] && meantApart(ends, a, b))) continue;
    const layer = ends.layers[ends.layer[a]!]!;
    gaps.push({
      ids: id[a] === id[b] ? [id[a]!] : [id[a]!, id[b]!],
      at: { x: (x[a]! + x[b]!) / 2, y: (y[a]! + y[b]!) / 2 },
      size: Math.hypot(x[a]! - x[b]!, y[a]! - y[b]!),
      layer: names.get(layer) ?? layer,
    });
  }
  return gaps.sort((p, q) => q.size - p.size);
}
