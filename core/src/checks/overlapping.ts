import { checkStop } from '../formats/format.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import type { Pieces } from '../analysis/pieces.js';
import { PieceKind, distanceTo, piecesOfDrawing } from '../analysis/pieces.js';
import { AKind, aKind, lengthWords } from './words.js';
import { TOUCHING } from '../geometry/tolerance.js';

/** Where a piece runs along its line or circle, from `from` to `to`. */
interface Span {
  piece: number;
  /** What tells its line or circle from others: direction and offset, or the centre. */
  a: number;
  b: number;
  radius: number;
  from: number;
  to: number;
}

/** Finds lines and arcs that run over each other for part of their way. */
export const overlapping = defineCheck({
  id: 'overlapping',
  title: 'Overlaps',
  summary:
    'Lines and arcs that run over each other for part of their way are cut or drawn twice there, and dashes blur.',
  carries: ['curves'],
  params: {
    from: p.length({
      title: 'Report overlaps from this length on',
      automatic: 'a ten-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    within: p.length({
      title: 'On each other when closer than',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    shared: p.choice({
      title: 'Shared edges of closed outlines',
      default: 'no',
      choices: { no: 'ignore', yes: 'report' },
    }),
  },
  mend: {
    step: 'merge-overlaps',
    words: 'Merge these overlaps',
    params: (s) => ({ within: s.within, from: s.from, closed: s.shared === 'yes' ? 'merged' : 'left' }),
  },
  run(drawing, params, work) {
    const pieces = piecesOfDrawing(drawing, work);
    const grain = params.within || pieces.diagonal * TOUCHING;
    const least = Math.max(params.from || pieces.diagonal * 1e-4, 2 * grain);
    if (!(grain > 0)) return [];
    // Lines and arcs of each layer by themselves.
    const layers = new Map<string, { lines: Span[]; arcs: Span[] }>();
    const layerOf = pieces.courses.map(({ key }) => {
      let own = layers.get(key);
      if (!own) layers.set(key, (own = { lines: [], arcs: [] }));
      return own;
    });
    for (let i = 0; i < pieces.count; i++) {
      if (i % 4096 === 0) checkStop(work);
      const span = spanOf(pieces, i);
      if (!span) continue;
      const own = layerOf[pieces.course[i]!]!;
      (pieces.kind[i]! === PieceKind.line ? own.lines : own.arcs).push(span);
    }
    // Directions are stretched, so that one distance serves them and the offsets of lines.
    const groups = [...layers.values()].flatMap(({ lines, arcs }) => [
      ...together(lines, grain / SAME_WAY, grain),
      ...together(arcs, 1, grain),
    ]);
    const found: Finding[] = [];
    for (const spans of groups) {
      spans.sort((a, b) => a.from - b.from || a.to - b.to);
      let longest = spans[0]!;
      for (const s of spans) {
        if (s === longest) continue;
        const length = Math.min(longest.to, s.to) - s.from;
        if (
          length >= least &&
          lieOnEachOther(pieces, longest, s, length, grain) &&
          isMeant(pieces, longest.piece, s.piece, grain, params.shared === 'yes')
        )
          found.push(told(pieces, longest, s, length, lengthWords(drawing, length)));
        if (s.to > longest.to) longest = s;
      }
    }
    return found.sort((a, b) => (b.size ?? 0) - (a.size ?? 0));
  },
});

/** Directions closer than this (radians) may be the same. */
const SAME_WAY = 1e-6;

/** Where a piece runs along its line or circle; `null` for free curves and pieces of no length. */
function spanOf(p: Pieces, i: number): Span | null {
  if (p.kind[i] === PieceKind.line) {
    const [e, k] = [p.ends, 4 * i];
    // Rightwards, and what is upright upwards: noise in its last digits must not turn it over.
    const [dx, dy] = [e[k + 2]! - e[k]!, e[k + 3]! - e[k + 1]!];
    const turned = Math.abs(dx) <= 2 * SAME_WAY * Math.abs(dy) ? dy < 0 : dx < 0;
    const [from0, to0] = turned ? [k + 2, k] : [k, k + 2];
    const [x0, y0, x1, y1] = [e[from0], e[from0 + 1], e[to0], e[to0 + 1]];
    const length = Math.hypot(x1! - x0!, y1! - y0!);
    if (!(length > 0)) return null;
    const [ux, uy] = [(x1! - x0!) / length, (y1! - y0!) / length];
    const from = x0! * ux + y0! * uy;
    return { piece: i, a: Math.atan2(uy, ux), b: x0! * uy - y0! * ux, radius: 0, from, to: from + length };
  }
  if (p.kind[i] !== PieceKind.arc) return null;
  const [cx, cy, r, start, sweep] = p.arcs.subarray(5 * i, 5 * i + 5);
  const turn = 2 * Math.PI;
  let from = sweep! >= 0 ? start! : start! + sweep!;
  from -= Math.floor(from / turn) * turn;
  return { piece: i, a: cx!, b: cy!, radius: r!, from: from * r!, to: (from + Math.abs(sweep!)) * r! };
}

/** Spans whose lines or circles may be the same, in groups of two and more. */
function together(list: readonly Span[], stretch: number, grain: number): Span[][] {
  const grid = PlaceGrid.of(
    list,
    (s) => s.a * stretch,
    (s) => s.b,
    grain,
  );
  return grid.groups().flatMap((group) =>
    bySize(
      group.map((i) => list[i]!),
      grain,
    ),
  );
}

/** Circles about one centre are told apart by their radius; lines have none. */
function bySize(list: Span[], grain: number): Span[][] {
  list.sort((a, b) => a.radius - b.radius);
  const out: Span[][] = [];
  let from = 0;
  for (let i = 1; i <= list.length; i++) {
    if (i < list.length && list[i]!.radius - list[i - 1]!.radius <= grain) continue;
    if (i - from > 1) out.push(list.slice(from, i));
    from = i;
  }
  return out;
}

/** Where along its line or circle a place is, as a point. */
function pointOn(p: Pieces, s: Span, along: number): { x: number; y: number } {
  if (p.kind[s.piece] !== PieceKind.line) {
    const [cx, cy, r] = p.arcs.subarray(5 * s.piece, 5 * s.piece + 3);
    return { x: cx! + r! * Math.cos(along / r!), y: cy! + r! * Math.sin(along / r!) };
  }
  const [x0, y0, x1, y1] = p.ends.subarray(4 * s.piece, 4 * s.piece + 4);
  const [dx, dy] = [x1! - x0!, y1! - y0!];
  const forward = Math.abs(dx) <= 2 * SAME_WAY * Math.abs(dy) ? dy >= 0 : dx >= 0;
  const part = (along - s.from) / (s.to - s.from);
  const t = forward ? part : 1 - part;
  return { x: x0! + t * dx, y: y0! + t * dy };
}

/** Near by their numbers is not yet near in place: both ends of what they share are looked at. */
const lieOnEachOther = (p: Pieces, a: Span, b: Span, length: number, grain: number): boolean =>
  [b.from, b.from + length].every((along) => {
    const at = pointOn(p, b, along);
    return distanceTo(p, a.piece, at.x, at.y).away <= 2 * grain;
  });

/** Whether two overlapping pieces are worth telling: not doubles of each other, and not an edge of two areas. */
function isMeant(p: Pieces, a: number, b: number, grain: number, shared: boolean): boolean {
  const [ca, cb] = [p.courses[p.course[a]!], p.courses[p.course[b]!]];
  if (!shared && ca !== cb && ca!.closed && cb!.closed) return false;
  const same = (u: number, v: number): boolean => Math.abs(u - v) <= grain;
  const [p0, p1] = [ca!.box, cb!.box];
  const twins =
    ca!.count === cb!.count &&
    same(p0.minX, p1.minX) &&
    same(p0.minY, p1.minY) &&
    same(p0.maxX, p1.maxX) &&
    same(p0.maxY, p1.maxY);
  return ca === cb || !twins;
}

function told(p: Pieces, a: Span, b: Span, length: number, words: string): Finding {
  const [ca, cb] = [p.courses[p.course[a.piece]!], p.courses[p.course[b.piece]!]];
  const at = pointOn(p, a, b.from + length / 2);
  return {
    check: 'overlapping',
    severity: 'warning',
    message:
      ca === cb
        ? `${AKind(ca!.entity)} runs over itself for ${words}`
        : `${AKind(ca!.entity)} and ${aKind(cb!.entity)} run over each other for ${words}`,
    at,
    size: length,
    span: length * 2,
    layer: cb!.layer,
    ids: ca!.id === cb!.id ? [ca!.id] : [ca!.id, cb!.id],
  };
}
