import { PlaceGrid } from '../geometry/place-grid.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { kindName } from '../drawing/kinds.js';
import { AKind } from './words.js';
import type { Contact } from '../analysis/contacts.js';
import { MET, contactsOf } from '../analysis/contacts.js';
import { PieceKind, piecesOfDrawing } from '../analysis/pieces.js';
import type { Course, Pieces } from '../analysis/pieces.js';

/** Finds closed outlines that touch themselves or another in one point only. */
export const touchingOutlines = defineCheck({
  id: 'touching-outlines',
  title: 'Outlines touching in a point',
  summary:
    'Areas that hang together by a single point fall apart or stick together by chance: solids made of them have no clean edge there.',
  carries: ['curves'],
  params: {
    met: p.length({
      title: 'One point when closer than',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
  },
  run(drawing, params, work) {
    const p = piecesOfDrawing(drawing, work);
    const met = params.met || p.diagonal * MET;
    if (!(met > 0)) return [];
    const found: Finding[] = [];
    const tell = (message: string, x: number, y: number, a: Course, b: Course): void =>
      void found.push({
        check: 'touching-outlines',
        severity: 'warning',
        message,
        at: { x, y },
        size: null,
        span: Math.min(a.box.diagonal, b.box.diagonal) / 2,
        layer: a.layer,
        ids: a.id === b.id ? [a.id] : [a.id, b.id],
      });
    const contacts = contactsOf(drawing, met, work);
    const nets = knots(contacts.values(), met);
    for (const list of contacts.values()) {
      if (list.length !== 1) continue;
      const { corner, on, x, y } = list[0]!;
      const [a, b] = [p.courses[corner], p.courses[on]];
      // Faces, and areas that share edges with others at this place, are a net: what meets there hangs together by its edges.
      if (isFace(a!) && isFace(b!)) continue;
      const here = nets.at(x, y);
      if (here?.has(corner) && here.has(on)) continue;
      tell(
        `Two outlines (${kindName(a!.entity)}, ${kindName(b!.entity)}) touch in this point only`,
        list[0]!.x,
        list[0]!.y,
        a!,
        b!,
      );
    }
    for (const c of p.courses) {
      if (!c.closed || c.count < 4) continue;
      const at = pinch(p, c, met);
      if (at) tell(`${AKind(c.entity)} touches itself in a corner`, at.x, at.y, c, c);
    }
    return found;
  },
});

const isFace = (c: Course): boolean => c.entity === 'face' || c.entity === 'mesh';

/** Where areas share edges: at each end of a common edge, which outlines have it. */
function knots(
  contacts: Iterable<readonly Contact[]>,
  met: number,
): { at: (x: number, y: number) => ReadonlySet<number> | undefined } {
  const places = new Map<string, Set<number>>();
  // Twice as coarse as what counts as met, and asked in the neighbouring cells too.
  const cell = 4 * met;
  const key = (i: number, k: number): string => `${i} ${k}`;
  for (const list of contacts) {
    if (list.length < 2) continue;
    for (const c of list) {
      const k = key(Math.round(c.x / cell), Math.round(c.y / cell));
      const known = places.get(k) ?? new Set();
      places.set(k, known.add(c.corner).add(c.on));
    }
  }
  return {
    at: (x, y) => {
      const [i, k] = [Math.round(x / cell), Math.round(y / cell)];
      let found: Set<number> | undefined;
      for (let di = -1; di <= 1; di++)
        for (let dk = -1; dk <= 1; dk++) {
          const here = places.get(key(i + di, k + dk));
          if (here) found = found ? new Set([...found, ...here]) : here;
        }
      return found;
    },
  };
}

/** A place that an outline comes back to before its end. */
function pinch(p: Pieces, c: Course, met: number): { x: number; y: number } | null {
  const corners: number[] = [];
  for (let i = c.first; i < c.first + c.count; i++) {
    const [x0, y0, x1, y1] = [p.ends[4 * i], p.ends[4 * i + 1], p.ends[4 * i + 2], p.ends[4 * i + 3]];
    // A point drawn twice in a row is no pinch.
    if (p.kind[i]! !== PieceKind.line || Math.hypot(x1! - x0!, y1! - y0!) > met) corners.push(i);
  }
  const grid = PlaceGrid.of(
    corners,
    (i) => p.ends[4 * i]!,
    (i) => p.ends[4 * i + 1]!,
    met,
  );
  let at: { x: number; y: number } | null = null;
  for (let k = 0; k < corners.length && !at; k++) {
    const [x, y] = [p.ends[4 * corners[k]!], p.ends[4 * corners[k]! + 1]];
    grid.near(x!, y!, (other) => {
      if (other !== k) at = { x: x!, y: y! };
      return at !== null;
    });
  }
  return at;
}
