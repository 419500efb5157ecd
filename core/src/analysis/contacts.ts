import Flatbush from 'flatbush';
import type { Drawing } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { Pieces } from './pieces.js';
import { PieceKind, distanceTo, piecesOfDrawing } from './pieces.js';
import { TOUCHING, isFullTurn } from '../geometry/tolerance.js';

/** Corners closer than this part of the diagonal meet: the same for all who ask, so that the search is made once. */
export const MET = TOUCHING;

/** So many pieces at one corner are looked at, of which most would be copies of each other. */
const MOST_AT_A_CORNER = 500;

/** Where a corner of one closed outline lies on another of the same layer. */
export interface Contact {
  x: number;
  y: number;
  /** The outline whose corner it is, and the one it lies on: places among the courses. */
  corner: number;
  on: number;
  /** The other outline has no corner there: it runs straight past. */
  past: boolean;
}

const known = new WeakMap<Drawing, { met: number; contacts: Map<string, Contact[]> }>();

/** All contacts of closed outlines, by pair. Corners closer than `met` (drawing unit) count as one place. */
export function contactsOf(drawing: Drawing, met: number, work?: Work): Map<string, Contact[]> {
  const had = known.get(drawing);
  if (had?.met === met) return had.contacts;
  const p = piecesOfDrawing(drawing, work);
  const contacts = new Map<string, Contact[]>();
  known.set(drawing, { met, contacts });
  const own: number[] = [];
  for (let i = 0; i < p.count; i++) if (p.courses[p.course[i]!]!.closed && !isLonely(p, i)) own.push(i);
  if (own.length === 0) return contacts;
  const index = new Flatbush(own.length);
  for (const i of own) {
    const [x0, y0, x1, y1] = p.ends.subarray(4 * i, 4 * i + 4);
    if (p.kind[i] === PieceKind.arc) {
      const [cx, cy, r] = p.arcs.subarray(5 * i, 5 * i + 3);
      index.add(cx! - r!, cy! - r!, cx! + r!, cy! + r!);
    } else index.add(Math.min(x0!, x1!), Math.min(y0!, y1!), Math.max(x0!, x1!), Math.max(y0!, y1!));
  }
  index.finish();
  // Where very many lie in one place, each is held against so many of them only.
  let crowded = false;
  const near = (x: number, y: number): number[] => {
    if (crowded) return index.neighbors(x, y, MOST_AT_A_CORNER, met);
    const all = index.search(x - met, y - met, x + met, y + met);
    crowded = all.length > MOST_AT_A_CORNER;
    return crowded ? all.slice(0, MOST_AT_A_CORNER) : all;
  };
  own.forEach((i, n) => {
    if (n % 4096 === 0) checkStop(work);
    const [x, y] = [p.ends[4 * i], p.ends[4 * i + 1]];
    const mine = p.course[i]!;
    for (const k of near(x!, y!)) {
      const other = p.course[own[k]!]!;
      if (
        other === mine ||
        p.courses[other]!.key !== p.courses[mine]!.key ||
        p.courses[other]!.id === p.courses[mine]!.id
      )
        continue;
      const { away, within } = distanceTo(p, own[k]!, x!, y!);
      if (away > met) continue;
      const ends = p.ends.subarray(4 * own[k]!, 4 * own[k]! + 4);
      const corner =
        Math.min(Math.hypot(x! - ends[0]!, y! - ends[1]!), Math.hypot(x! - ends[2]!, y! - ends[3]!)) <= met;
      const pair = mine < other ? `${mine} ${other}` : `${other} ${mine}`;
      const list = contacts.get(pair) ?? [];
      const there = list.find((c) => Math.hypot(c.x - x!, c.y - y!) <= met);
      // Of two pieces that meet in a corner the corner says it.
      if (!there) list.push({ x: x!, y: y!, corner: mine, on: other, past: within && !corner });
      else if (corner) there.past = false;
      contacts.set(pair, list);
    }
  });
  return contacts;
}

/** A whole circle has no corner that means anything. */
const isLonely = (p: Pieces, i: number): boolean => p.kind[i] === PieceKind.arc && isFullTurn(p.arcs[5 * i + 4]!);
