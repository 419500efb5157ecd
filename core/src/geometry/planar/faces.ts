import { Joined } from '../joined.js';
import { containersOf } from '../nesting.js';
import type { Piece } from '../path-pieces.js';
import { pointAt, reversed, startOf, tangentAt } from '../path-pieces.js';
import { areaOfPieces } from '../piece-area.js';

/** An edge of a planar graph, from one numbered point to another. */
export interface GraphEdge {
  readonly a: number;
  readonly b: number;
  readonly piece: Piece;
}

/** A closed walk along half-edges (`2i` runs along edge i, `2i + 1` against it), the face it bounds on its left. */
export interface Cycle {
  readonly halves: readonly number[];
  /** Positive where it runs round its face, negative where its face lies around it. */
  readonly area: number;
}

export interface Faces {
  readonly cycles: readonly Cycle[];
  /** The cycles of each face; of face 0, the outside, all run backwards. */
  readonly faces: readonly (readonly number[])[];
  /** The face to the left of each half-edge; -1 for edges that bound nothing. */
  readonly faceOf: Int32Array;
  /** Edges with the same face on both sides: ends that dangle, and bridges between outlines. */
  readonly loose: readonly number[];
  /** V − E + F = 1 + C, of all that is not loose; `sound` says whether it holds. */
  readonly counts: { points: number; edges: number; faces: number; components: number; sound: boolean };
}

/** How closely two directions count as one, in radians: then the bend decides. */
const SAME_DIRECTION = 1e-7;

/** The faces of a planar graph whose edges meet in points alone. */
export function facesOf(edges: readonly GraphEdge[]): Faces {
  const all = edges.map((_, i) => i);
  const first = cyclesOf(edges, all);
  const walkOf = new Int32Array(2 * edges.length).fill(-1);
  first.forEach(({ halves }, c) => halves.forEach((h) => (walkOf[h] = c)));
  // An edge that one walk passes both ways holds nothing apart.
  const loose = all.filter((i) => walkOf[2 * i] === walkOf[2 * i + 1]);
  const bounding = all.filter((i) => walkOf[2 * i] !== walkOf[2 * i + 1]);
  const cycles = loose.length > 0 ? cyclesOf(edges, bounding) : first;

  const component = componentsOf(edges, bounding);
  const ofCycle = (c: Cycle): number => component(edges[c.halves[0]! >> 1]!.a);
  const rounds = cycles.flatMap((c, i) => (c.area > 0 ? [i] : []));
  const backs = cycles.flatMap((c, i) => (c.area > 0 ? [] : [i]));
  const faces: number[][] = [[], ...rounds.map((i) => [i])];
  const outlines = [...backs, ...rounds].map((i) => piecesOfCycle(edges, cycles[i]!));
  containersOf(outlines, backs.length).forEach((holders, k) => {
    const own = ofCycle(cycles[backs[k]!]!);
    // Around it lies the smallest face of another component that holds it.
    const holder = holders.find((h) => h >= backs.length && ofCycle(cycles[rounds[h - backs.length]!]!) !== own);
    faces[holder === undefined ? 0 : holder - backs.length + 1]!.push(backs[k]!);
  });
  const faceOf = new Int32Array(2 * edges.length).fill(-1);
  faces.forEach((list, f) => list.forEach((c) => cycles[c]!.halves.forEach((h) => (faceOf[h] = f))));

  const points = new Set(bounding.flatMap((i) => [edges[i]!.a, edges[i]!.b]));
  const parts = new Set([...points].map(component)).size;
  const counts = { points: points.size, edges: bounding.length, faces: faces.length, components: parts };
  const sound =
    counts.points - counts.edges + counts.faces === 1 + counts.components && backs.length === counts.components;
  return { cycles, faces, faceOf, loose, counts: { ...counts, sound } };
}

/** A half-edge as a piece in its own direction. */
export const halfPiece = (edges: readonly GraphEdge[], h: number): Piece =>
  h & 1 ? reversed(edges[h >> 1]!.piece) : edges[h >> 1]!.piece;

export const piecesOfCycle = (edges: readonly GraphEdge[], c: Cycle): Piece[] =>
  c.halves.map((h) => halfPiece(edges, h));

/** The closed walks along some of the edges, each turning as far left as it can at every point. */
export function cyclesOf(edges: readonly GraphEdge[], taken: readonly number[]): Cycle[] {
  const out = new Map<number, { h: number; angle: number; bend: number }[]>();
  for (const i of taken)
    for (const h of [2 * i, 2 * i + 1]) {
      const from = h & 1 ? edges[i]!.b : edges[i]!.a;
      const leaving = { h, ...directionOf(halfPiece(edges, h)) };
      const list = out.get(from);
      if (list) list.push(leaving);
      else out.set(from, [leaving]);
    }
  // After arriving along a half-edge, the next to the right of the way back.
  const next = new Int32Array(2 * edges.length).fill(-1);
  for (const list of out.values()) {
    list.sort((p, q) => p.angle - q.angle);
    byBend(list);
    list.forEach(({ h }, k) => (next[h ^ 1] = list[(k + list.length - 1) % list.length]!.h));
  }
  const used = new Uint8Array(2 * edges.length);
  const cycles: Cycle[] = [];
  for (const i of taken)
    for (const start of [2 * i, 2 * i + 1]) {
      if (used[start]) continue;
      const halves: number[] = [];
      for (let h = start; !used[h]; h = next[h]!) {
        used[h] = 1;
        halves.push(h);
      }
      cycles.push({ halves, area: areaOfPieces(halves.map((h) => halfPiece(edges, h))) });
    }
  return cycles;
}

/** The direction in which a piece sets out, and how far it then bends to the left (1 / length). */
function directionOf(p: Piece): { angle: number; bend: number } {
  const [x0, y0] = startOf(p);
  let [dx, dy] = tangentAt(p, 0);
  // A control point on the end says nothing of the direction.
  for (let t = 1e-6; dx === 0 && dy === 0 && t < 1; t *= 10) {
    const [x, y] = pointAt(p, t);
    [dx, dy] = [x - x0, y - y0];
  }
  const [x, y] = pointAt(p, 0.01);
  const [cx, cy] = [x - x0, y - y0];
  const l = Math.hypot(dx, dy) * (cx * cx + cy * cy);
  // One direction has one angle, to either side of the turn from π to −π.
  const angle = Math.atan2(dy, dx);
  return {
    angle: angle > Math.PI - SAME_DIRECTION ? angle - 2 * Math.PI : angle,
    bend: l > 0 ? (2 * (dx * cy - dy * cx)) / l : 0,
  };
}

/** Puts those that set out in one direction in the order in which they bend away from each other. */
function byBend(list: { angle: number; bend: number }[]): void {
  for (let i = 0; i < list.length;) {
    let j = i + 1;
    while (j < list.length && list[j]!.angle - list[j - 1]!.angle < SAME_DIRECTION) j++;
    if (j - i > 1) {
      const part = list.slice(i, j).sort((p, q) => p.bend - q.bend);
      for (let k = i; k < j; k++) list[k] = part[k - i]!;
    }
    i = j;
  }
}

/** Which component a point belongs to, by the number of one of its points. */
function componentsOf(edges: readonly GraphEdge[], taken: readonly number[]): (point: number) => number {
  const joined = new Joined(edges.reduce((most, { a, b }) => Math.max(most, a, b), -1) + 1);
  for (const i of taken) joined.unite(edges[i]!.a, edges[i]!.b);
  return (point) => joined.root(point);
}
