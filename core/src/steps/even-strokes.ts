import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, pathOfRun, runsOf } from '../drawing/courses.js';
import { NO_PAINT } from '../drawing/appearance.js';
import { derive } from '../drawing/derive.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { fitCircle } from '../geometry/fit-circle.js';
import { pointAt } from '../geometry/path-pieces.js';
import type { MiddleLine } from '../geometry/recover/middle-line.js';
import { middleLine } from '../geometry/recover/middle-line.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { inSpaces } from './spaces.js';
import { defineStep } from './step.js';
import { movedBy, unitOf } from './tell.js';

/** Makes lines of one width of long thin shapes, such as brushed strokes that were expanded. */
export const evenStrokes = defineStep({
  id: 'even-strokes',
  title: 'Even strokes',
  summary: 'Long thin filled shapes, such as expanded brush strokes, become their middle line with one width.',
  carries: ['curves', 'colour'],
  group: 'regions',
  example: {
    drawing: exampleDrawing([
      sketch.path('M0 0L48 2L48 8L0 8.5Z', { stroke: { kind: 'none' }, fill: { kind: 'rgb', rgb: 0x1c5470 } }),
    ]),
    params: { spread: 60 },
  },
  params: {
    spread: p.number({
      title: 'Widths of one stroke differ by at most',
      default: 30,
      atLeast: 0,
      atMost: 200,
      suffix: '% of their mean',
    }),
    bound: p.length({
      title: 'Middle line within',
      automatic: 'a two-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    which: p.selection({ title: 'Which shapes' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const bound = params.bound || extentOf(drawing).diagonal / 2000;
    if (!(bound > 0)) return drawing;
    const told = { count: 0, least: Infinity, greatest: 0, sum: 0, off: 0, before: 0, after: 0 };
    const made = inSpaces(drawing, ctx, ({ entities, scale }) => {
      let any = false;
      const out = entities.map((e, i): Entity => {
        if (i % 16 === 0) checkStop(ctx);
        if (!wanted(e) || e.look.fill.kind === 'none' || e.look.stroke.kind !== 'none' || !e.look.visible) return e;
        const runs = runsOf(e);
        if (!runs || runs.length === 0 || runs.length > 2) return e;
        ctx.look();
        const line = middleLine(
          runs.map((r) => r.pieces),
          bound / scale,
        );
        if (!line) return e;
        if ((line.greatest - line.least) / line.mean > params.spread / 100) {
          ctx.leave('stroke-widths-differ', e);
          return e;
        }
        const to = strokeOf(e, line, runs);
        any = true;
        told.count++;
        told.least = Math.min(told.least, line.least * scale);
        told.greatest = Math.max(told.greatest, line.greatest * scale);
        told.sum += line.mean * scale;
        told.off = Math.max(told.off, line.off * scale);
        told.before += runs.reduce((n, r) => n + r.pieces.length, 0);
        told.after += line.pieces.length + (line.closed ? 0 : 1);
        // The line lies half a width inside its edges, and its edges from it.
        ctx.lineage.replace(e, [to], 'stroke-evened', line.greatest * 0.75 + line.off);
        return to;
      });
      return any ? out : entities;
    });
    if (told.count === 0) return made;
    const unit = unitOf(drawing);
    const n = (v: number): string => `${Number(v.toPrecision(4))}`;
    ctx.ledger.add({
      carryOver: 'curves',
      action: 'approximated',
      onPurpose: true,
      count: told.count,
      reason: because('strokes-evened', {
        least: n(told.least),
        mean: n(told.sum / told.count),
        greatest: `${n(told.greatest)} ${unit}`,
        before: told.before,
        after: told.after,
      }),
      deviation: movedBy(drawing, told.off),
    });
    return made;
  },
});

/** The line for a shape; a ring that is round is a circle. */
function strokeOf(e: Entity, line: MiddleLine, runs: readonly Run[]): Entity {
  const look = {
    ...e.look,
    stroke: e.look.fill,
    strokeOpacity: e.look.fillOpacity,
    fill: NO_PAINT,
    width: { kind: 'drawing' as const, value: line.width },
    cap: line.cap,
    join: 'round' as const,
    dash: { kind: 'linetype' as const, name: 'Continuous', scale: 1 },
  };
  const run: Run = { pieces: line.pieces, closed: line.closed, z: runs[0]!.z };
  if (line.closed) {
    const circle = fitCircle(line.pieces.flatMap((q) => [...pointAt(q, 0), ...pointAt(q, 0.5)]));
    if (circle && circle.off <= Math.max(line.width * 0.02, line.off))
      return derive(e, 'whole', {
        kind: 'circle',
        centre: [circle.x, circle.y, run.z],
        radius: circle.radius,
        look,
        normal: undefined,
      });
  }
  const made = entityOfRun(e, run);
  return made ? { ...made, look } : derive(e, 'whole', { kind: 'path', path: pathOfRun(run), look, normal: undefined });
}
