import { PlaceGrid } from '../geometry/place-grid.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
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
      description: '0 = a ten-millionth of the diagonal',
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
    for (const list of contactsOf(drawing, met, work).values()) {
      if (list.length !== 1) continue;
      const [a, b] = [p.courses[list[0]!.corner], p.courses[list[0]!.on]];
      tell(`Two outlines (${a!.entity}, ${b!.entity}) touch in this point only`, list[0]!.x, list[0]!.y, a!, b!);
    }
    for (const c of p.courses) {
      if (!c.closed || c.count < 4) continue;
      const at = pinch(p, c, met);
      if (at) tell(`A ${c.entity} touches itself in a corner`, at.x, at.y, c, c);
    }
    return found;
  },
});

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
