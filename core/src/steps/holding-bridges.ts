import { selectedBy } from '../analysis/selection.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, isCircular, isStraight } from '../drawing/courses.js';
import { derive } from '../drawing/derive.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey, withLayer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, partOf, pointAt, startOf, tangentAt } from '../geometry/path-pieces.js';
import { lengthOfPiece } from '../geometry/planar/moments.js';
import { AT_END } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { takenRuns } from '../drawing/taken-runs.js';
import { asWide } from './rebuilt.js';
import { inSpaces } from './spaces.js';
import { defineStep } from './step.js';
import { tellChange, unitOf } from './tell.js';

/** Leaves bridges in closed outlines, so that what is cut out does not fall out. */
export const holdingBridges = defineStep({
  id: 'holding-bridges',
  title: 'Holding bridges',
  summary:
    'Closed outlines are left uncut in short places, so many to a side, so that parts are held until they are broken out.',
  carries: ['curves'],
  group: 'regions',
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 60, 0, 60, 40, 0, 40], true)]),
    params: { each: 30, width: 4, corner: 4 },
  },
  params: {
    each: p.length({ title: 'One on each so much of a side', default: 300, above: 0 }),
    width: p.length({ title: 'Width', default: 8, above: 0 }),
    corner: p.length({ title: 'From corners at least', default: 20, atLeast: 0 }),
    as: p.choice({
      title: 'They are',
      default: 'gaps',
      choices: { gaps: 'gaps in the outline', points: 'points on a layer', both: 'gaps, and points on a layer' },
    }),
    layer: p.text({ title: 'Layer of the points', default: 'BRIDGES', maxLength: 255, suggest: 'layers' }),
    which: p.selection({ title: 'Which outlines' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const [gaps, points] = [params.as !== 'points', params.as !== 'gaps'];
    let [outlines, bridges] = [0, 0];
    const made = inSpaces(drawing, ctx, ({ entities, scale, id }) => {
      const there = new Set(
        entities.flatMap((e) =>
          e.kind === 'point' && sameLayer(drawing, e.layer, params.layer) ? [placeKey(e.at)] : [],
        ),
      );
      let any = false;
      const out = entities.flatMap((e, i): Entity[] => {
        if (i % 512 === 0) checkStop(ctx);
        if (!wanted(e) || !e.look.visible) return [e];
        const taken = takenRuns(e, 0);
        if (!taken || taken.off > 0 || taken.runs.length !== 1 || !taken.runs[0]!.closed) return [e];
        const run = taken.runs[0]!;
        ctx.look();
        const spans = bridgesOn(run.pieces, params.each / scale, params.width / scale, params.corner / scale);
        if (spans.length === 0) {
          ctx.leave('too-short-for-bridges', e);
          return [e];
        }
        const marks = points
          ? spans.map((s) => markOf(e, run, s, params.layer, id)).filter((m) => !there.has(placeKey(m.at)))
          : [];
        if (marks.length > 0) ctx.lineage.add(marks, 'bridge-marked');
        const left = gaps ? cutBetween(run, spans) : [];
        if (!gaps) {
          if (marks.length === 0) return [e];
          [any, outlines, bridges] = [true, outlines + 1, bridges + marks.length];
          return [e, ...marks];
        }
        const parts = left.map((r, k) => entityOfRun(e, r, k === 0 ? 'whole' : 'piece', false));
        if (parts.some((q) => q === null)) return [e];
        const own = parts.map((q, k) => ({ ...asWide(e, q!), ...(k > 0 && { id: id() }) }) as Entity);
        [any, outlines, bridges] = [true, outlines + 1, bridges + spans.length];
        ctx.lineage.dashed(e, own, 'bridged', 0, params.width / scale);
        return [...own, ...marks];
      });
      return any ? out : entities;
    });
    tellChange(
      ctx,
      'curves',
      outlines,
      because('bridges-left', { count: bridges, width: Number(params.width.toPrecision(9)), unit: unitOf(drawing) }),
    );
    return made === drawing || !points ? made : withLayer(made, params.layer);
  },
});

const sameLayer = (drawing: Drawing, a: string, b: string): boolean => layerKey(drawing, a) === layerKey(drawing, b);
const placeKey = ([x, y]: readonly [number, number, number]): string => `${x.toPrecision(12)} ${y.toPrecision(12)}`;

/** A stretch of an outline by the lengths along it. */
interface Span {
  readonly from: number;
  readonly to: number;
}

/**
 * Where bridges go: each side gets one for each full length `each` of it, evenly, none nearer to a corner than is asked. A side is
 * what runs from one corner to the next: an outline without a corner is one side.
 */
function bridgesOn(pieces: readonly Piece[], each: number, width: number, corner: number): Span[] {
  const lengths = pieces.map(lengthOfPiece);
  const total = lengths.reduce((a, b) => a + b, 0);
  const starts: number[] = [];
  let at = 0;
  pieces.forEach((q, i) => {
    if (isCorner(pieces[(i + pieces.length - 1) % pieces.length]!, q)) starts.push(at);
    at += lengths[i]!;
  });
  const sides: (Span & { readonly ends: boolean })[] =
    starts.length === 0
      ? [{ from: 0, to: total, ends: false }]
      : starts.map((from, i) => ({ from, to: starts[i + 1] ?? starts[0]! + total, ends: true }));
  const out: Span[] = [];
  for (const { from, to, ends } of sides) {
    const long = to - from;
    const n = Math.floor((long / each) * (1 + AT_END));
    for (let k = 0; k < n; k++) {
      const middle = from + (long * (k + 0.5)) / n;
      const near = Math.min(middle - from, to - middle) - width / 2;
      if (ends && near < corner) continue;
      out.push({ from: middle - width / 2, to: middle + width / 2 });
    }
  }
  // Bridges that meet leave nothing between them to cut.
  if (out.length * width >= total) return [];
  return out.sort((a, b) => a.from - b.from);
}

/** Whether an outline turns where one piece follows another. */
function isCorner(a: Piece, b: Piece): boolean {
  const [u, v] = [tangentAt(a, 1), tangentAt(b, 0)];
  return Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])) > 1e-6;
}

/** What of a closed outline lies between the bridges, from each to the next. */
function cutBetween(run: Run, spans: readonly Span[]): Run[] {
  const lengths = run.pieces.map(lengthOfPiece);
  const total = lengths.reduce((a, b) => a + b, 0);
  return spans.map(({ to }, i) => {
    const next = spans[(i + 1) % spans.length]!.from + (i + 1 === spans.length ? total : 0);
    return { pieces: stretch(run.pieces, lengths, to, next), closed: false, z: run.z };
  });
}

/** The pieces between two lengths along a closed outline; beyond its end it begins again. */
function stretch(pieces: readonly Piece[], lengths: readonly number[], from: number, to: number): Piece[] {
  const out: Piece[] = [];
  const total = lengths.reduce((a, b) => a + b, 0);
  let at = 0;
  for (let turn = 0; turn < 2; turn++)
    for (const [i, q] of pieces.entries()) {
      const l = lengths[i]!;
      const [a, b] = [Math.max(0, (from - at) / l), Math.min(1, (to - at) / l)];
      if (b - a > AT_END) {
        // Lines and arcs are run through evenly; of other curves the parameter is looked for.
        const [s, t] = [paramAt(q, a), paramAt(q, b)];
        out.push(
          s === 0 && t === 1
            ? q
            : partOf(q, s, t, s > 0 ? pointAt(q, s) : startOf(q), t < 1 ? pointAt(q, t) : endOf(q)),
        );
      }
      at += l;
      if (at > to + total) return out;
    }
  return out;
}

/** The parameter at which a part of a piece's length is run through. */
function paramAt(q: Piece, part: number): number {
  if (part <= 0 || part >= 1 || isStraight(q) || isCircular(q)) return Math.min(1, Math.max(0, part));
  const whole = lengthOfPiece(q);
  let [lo, hi] = [0, 1];
  for (let k = 0; k < 48; k++) {
    const m = (lo + hi) / 2;
    if (lengthOfPiece(partOf(q, 0, m, startOf(q), pointAt(q, m))) < part * whole) lo = m;
    else hi = m;
  }
  return (lo + hi) / 2;
}

/** A point in the middle of a bridge. */
function markOf(e: Entity, run: Run, span: Span, layer: string, id: () => number): Extract<Entity, { kind: 'point' }> {
  const lengths = run.pieces.map(lengthOfPiece);
  const middle = (span.from + span.to) / 2;
  const total = lengths.reduce((a, b) => a + b, 0);
  const [first] = stretch(run.pieces, lengths, middle % total, (middle % total) + total / 2);
  const [x, y] = startOf(first!);
  return { ...derive(e, 'piece', { kind: 'point', at: [x, y, run.z], layer, normal: undefined }), id: id() };
}
