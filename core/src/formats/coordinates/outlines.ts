import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { boundsOf } from '../../drawing/bounds.js';
import type { Run } from '../../drawing/courses.js';
import { isCircular, isStraight, polylineOfRun } from '../../drawing/courses.js';
import type { Drawing } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Entity, Polyline } from '../../drawing/entity.js';
import { flattenEntity } from '../../drawing/flatten.js';
import { flattened } from '../../drawing/flattened.js';
import { KINDS, kindName } from '../../drawing/kinds.js';
import type { CarryOver, Ledger } from '../../drawing/ledger.js';
import type { Lineage } from '../../drawing/lineage.js';
import type { Reason } from '../../drawing/reasons.js';
import { because } from '../../drawing/reasons.js';
import { walk } from '../../drawing/resolve.js';
import { takenRuns } from '../../drawing/taken-runs.js';
import { IDENTITY } from '../../geometry/affine.js';
import { asBiarcs } from '../../geometry/biarcs.js';
import { COINCIDENT } from '../../geometry/tolerance.js';
import type { Arranged, WriteOptions } from '../format.js';

/** Curves lie within this part of the drawing's diagonal, where nothing is said. */
const BY_SIZE = 1e-5;

/** What of an object is an outline, and how far it may lie from it. */
interface Outlines {
  readonly made: Pick<Polyline, 'points' | 'dim' | 'bulges'>[];
  /** Curves of it that do not close, and outlines that enclose nothing. */
  readonly open: number;
  readonly bare: number;
  readonly off: number;
}

/**
 * Brings a drawing to what coordinates as text can hold: closed polylines of straight edges and, where bulges are asked for, arcs;
 * in three dimensions where heights are. All that is no closed outline is left out and told.
 */
export function arrangeCoordinates(_drawing: Drawing, options: WriteOptions): Arranged {
  const high = options.columns === 'heights';
  return {
    without: () => false,
    moves: [],
    pages: [],
    kinds: { blocks: 'break', hatches: 'outlines' },
    reshape: [
      ...(high
        ? []
        : [
            {
              title: 'Heights',
              run: (from: Drawing, lineage: Lineage, ledger: Ledger) => flattened(from, ledger, lineage),
            },
          ]),
      { title: 'Outlines', run: (from, lineage, ledger) => outlinesOf(from, options, lineage, ledger) },
    ],
  };
}

function outlinesOf(from: Drawing, options: WriteOptions, lineage: Lineage, ledger: Ledger): Drawing {
  const size = boundsOf(from, { hidden: true }).diagonal;
  const bound = options.tolerance ?? (size * BY_SIZE || BY_SIZE);
  const seen = new Set<Entity>();
  walk(from, ({ top }) => void seen.add(top));
  const used = new Set<string>();
  const entities: Entity[] = [];
  let id = 1;
  const leave = (e: Entity, carryOver: CarryOver, reason: Reason): void => {
    lineage.remove(e, 'no-outline');
    ledger.add({ carryOver, action: 'dropped', reason, id: e.id });
  };
  for (const e of from.entities) {
    if (e.sheet !== undefined) {
      lineage.remove(e, 'sheet-not-chosen');
      ledger.add({ carryOver: 'links', action: 'dropped', onPurpose: true, reason: 'sheets-left-out' });
      continue;
    }
    if (!seen.has(e)) {
      lineage.remove(e, 'hidden-content');
      ledger.add({ carryOver: 'layers', action: 'dropped', onPurpose: true, reason: 'hidden-not-drawn', id: e.id });
      continue;
    }
    if (e.kind === 'text' || e.kind === 'richText') {
      leave(e, 'text', 'text-no-coordinates');
      continue;
    }
    const found = !KINDS[e.kind].contour
      ? null
      : options.columns === 'heights'
        ? inSpace(e, bound)
        : inPlane(e, bound, options.columns === 'plain');
    if (!found) {
      leave(e, e.kind === 'image' ? 'links' : 'curves', because('kind-no-coordinates', { what: kindName(e.kind, 2) }));
      continue;
    }
    if (found.bare > 0)
      ledger.add({ carryOver: 'curves', action: 'dropped', reason: 'outlines-without-area', id: e.id });
    if (found.open > 0) ledger.add({ carryOver: 'curves', action: 'dropped', reason: 'open-no-coordinates', id: e.id });
    if (found.made.length === 0) {
      lineage.remove(e, 'no-outline');
      continue;
    }
    used.add(e.layer);
    const to = found.made.map((m): Polyline => ({
      kind: 'polyline',
      id: id++,
      layer: '0',
      look: DRAFTING_DEFAULT,
      elevation: 0,
      closed: true,
      ...m,
    }));
    if (found.open + found.bare > 0) lineage.reduce([e], to, 'as-outline', found.off);
    else lineage.replace(e, to, 'as-outline', found.off);
    if (found.off > 0)
      ledger.add({
        carryOver: 'curves',
        action: 'changed',
        onPurpose: true,
        reason: 'curves-as-outlines',
        deviation: { value: found.off, unit: options.unit },
        id: e.id,
      });
    entities.push(...to);
  }
  const left = (carryOver: CarryOver, reason: Reason, count: number): void =>
    ledger.add({ carryOver, action: 'dropped', onPurpose: true, reason, count });
  if (entities.length > 0) left('colour', 'looks-no-coordinates', entities.length);
  if (used.size > 1) left('layers', 'layers-no-coordinates', used.size);
  return {
    ...emptyDrawing('coordinates', '1'),
    unit: from.unit,
    layers: [newLayer('0')],
    blocks: from.blocks,
    entities,
    nextId: id,
  };
}

/** Chords in space, each as near to its curve as the bound says. */
function inSpace(e: Entity, bound: number): Outlines | null {
  const runs: number[][] = [];
  flattenEntity(e, IDENTITY, bound, {
    moveTo: (x, y, z) => void runs.push([x, y, z]),
    lineTo: (x, y, z) => {
      const run = runs[runs.length - 1]!;
      const n = run.length;
      if (x !== run[n - 3] || y !== run[n - 2] || z !== run[n - 1]) run.push(x, y, z);
    },
  });
  if (runs.length === 0) return null;
  const out = { made: [] as Outlines['made'], open: 0, bare: 0, off: isAngular(e) ? 0 : bound };
  for (const run of runs) {
    const n = run.length;
    if (n < 6 || !meets(run, 3)) out.open++;
    else if (n < 12) out.bare++;
    else out.made.push({ dim: 3, points: Float64Array.from(run.slice(0, n - 3)) });
  }
  return out;
}

/** Straight edges alone: chords are the curves themselves. */
const isAngular = (e: Entity): boolean =>
  e.kind === 'line' || e.kind === 'face' || (e.kind === 'polyline' && e.bulges === undefined);

/** The last point of x, y(, z) is the first, but for rounding. */
function meets(run: readonly number[], dim: number): boolean {
  const n = run.length;
  const reach = run.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  for (let i = 0; i < dim; i++) if (Math.abs(run[i]! - run[n - dim + i]!) > COINCIDENT * reach) return false;
  return true;
}

/** Lines and arcs in the plane, or chords. */
function inPlane(e: Entity, bound: number, straight: boolean): Outlines | null {
  if (!straight && e.kind === 'polyline' && e.closed && e.dim === 2 && e.normal === undefined) return asItIs(e);
  const taken = straight ? null : takenRuns(e, bound / 2);
  if (!taken) return flat(inSpace(e, bound));
  const out = { made: [] as Outlines['made'], open: 0, bare: 0, off: taken.off };
  for (const run of taken.runs) {
    if (!run.closed) {
      out.open++;
      continue;
    }
    const { pieces, off } = asBiarcs(run.pieces, bound / 2);
    out.off = Math.max(out.off, taken.off + off);
    const line = closedLine({ ...run, pieces });
    if (line) out.made.push(line);
    else out.bare++;
  }
  return out;
}

/** A closed polyline says what the text does: its numbers stay, but for a last point that is the first again. */
function asItIs({ points, bulges }: Polyline): Outlines {
  const n = points.length / 2;
  const again = n > 2 && points[0] === points[2 * n - 2] && points[1] === points[2 * n - 1];
  const own = bulges?.some((b) => b !== 0) ? bulges : undefined;
  const kept = again ? n - 1 : n;
  if (kept < (own ? 2 : 3)) return { made: [], open: 0, bare: 1, off: 0 };
  const line = { dim: 2 as const, points: points.slice(0, 2 * kept), ...(own && { bulges: own.slice(0, kept) }) };
  return { made: [line], open: 0, bare: 0, off: 0 };
}

/** A closed run of lines and arcs as points and bulges; `null` where it encloses nothing. */
function closedLine(run: Run): Outlines['made'][number] | null {
  if (!run.pieces.every((p) => isStraight(p) || isCircular(p))) return null;
  const made = polylineOfRun(PLAIN, run);
  if (made?.kind !== 'polyline' || made.points.length < (made.bulges ? 4 : 6)) return null;
  return { dim: 2, points: made.points, ...(made.bulges && { bulges: made.bulges }) };
}

const PLAIN: Entity = {
  kind: 'line',
  id: 0,
  layer: '0',
  look: DRAFTING_DEFAULT,
  start: [0, 0, 0],
  end: [1, 0, 0],
};

/** The same in two dimensions: all lies in the plane already. */
function flat(o: Outlines | null): Outlines | null {
  return (
    o && { ...o, made: o.made.map(({ points }) => ({ dim: 2 as const, points: points.filter((_, i) => i % 3 < 2) })) }
  );
}
