import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import { isStraight } from '../drawing/courses.js';
import type { Run } from '../drawing/courses.js';
import type { ChordRules } from '../geometry/arc-chords.js';
import { circleChords, pieceChords } from '../geometry/arc-chords.js';
import type { Piece } from '../geometry/path-pieces.js';
import { startOf } from '../geometry/path-pieces.js';
import { isFullTurn } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { KINDS_LEFT, changeCurves } from './curve-change.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Cuts arcs and free curves into straight chords. */
export const curvesToChords = defineStep({
  id: 'curves-to-chords',
  title: 'Curves to chords',
  summary: 'Arcs, circles and free curves become straight chords, as many as a bound asks for.',
  carries: ['curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([sketch.circle(12, 12, 12), sketch.path('M30 0C40 30 50 -10 60 24')]),
    params: { by: 'angle', angle: 30 },
  },
  params: {
    by: p.choice({
      title: 'As many chords as',
      default: 'sagitta',
      choices: { sagitta: 'Stay within a bound', longest: 'Are no longer than', angle: 'Turn by no more than' },
    }),
    bound: p.length({
      when: { by: 'sagitta' },
      title: 'Off the curve by at most',
      automatic: 'a ten-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    longest: p.length({ when: { by: 'longest' }, title: 'Longest chord', default: 1, above: 0 }),
    angle: p.angle({ when: { by: 'angle' }, title: 'Largest turn', default: 5, above: 0, atMost: 90 }),
    side: p.choice({
      title: 'Corners of circles and arcs',
      default: 'inscribed',
      choices: {
        inscribed: 'On the curve',
        circumscribed: 'Outside it: chords touch',
        half: 'Half way: as much out as in',
      },
    }),
    ...KINDS_LEFT,
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const bound = params.bound || extentOf(drawing).diagonal * 1e-4;
    if (!(bound > 0)) return drawing;
    const rules = (scale: number): ChordRules => ({
      by: params.by,
      side: params.side,
      angle: (params.angle * Math.PI) / 180,
      bound: bound / scale,
      longest: params.longest / scale,
    });
    return changeCurves(drawing, ctx, {
      wanted: selectedBy(params.which, drawing),
      concerns: ({ pieces }) => !pieces.every(isStraight),
      asPolylines: params.kinds === 'polylines',
      follow: bound / 4,
      code: 'as-chords',
      reason: () => 'curves-as-chords',
      change: (run, scale) => chorded(run, rules(scale)),
    });
  },
});

function chorded(run: Run, rules: ChordRules): { run: Run; off: number } {
  const circle = wholeCircle(run);
  if (circle) {
    const { points, off } = circleChords(circle.cx, circle.cy, circle.rx, rules);
    return { run: { ...run, closed: true, pieces: lines(points, true) }, off };
  }
  const points = [...startOf(run.pieces[0]!)];
  let off = 0;
  for (const piece of run.pieces) {
    const made = pieceChords(piece, rules);
    points.push(...made.points);
    off = Math.max(off, made.off);
  }
  return { run: { ...run, pieces: lines(run.closed ? points.slice(0, -2) : points, run.closed) }, off };
}

/** The circle that a run goes round once, if it does nothing else. */
function wholeCircle({ pieces, closed }: Run): Extract<Piece, { kind: 'arc' }> | null {
  const first = pieces[0];
  if (!closed || first?.kind !== 'arc' || first.rx !== first.ry) return null;
  let sweep = 0;
  for (const q of pieces) {
    if (q.kind !== 'arc' || q.rx !== first.rx || Math.hypot(q.cx - first.cx, q.cy - first.cy) > 1e-9 * q.rx)
      return null;
    sweep += q.sweep;
  }
  return isFullTurn(sweep) ? first : null;
}

function lines(points: readonly number[], closed: boolean): Piece[] {
  const out: Piece[] = [];
  for (let k = 2; k < points.length; k += 2)
    out.push({ kind: 'bezier', p: [points[k - 2]!, points[k - 1]!, points[k]!, points[k + 1]!] });
  if (closed)
    out.push({ kind: 'bezier', p: [points[points.length - 2]!, points[points.length - 1]!, points[0]!, points[1]!] });
  return out;
}
