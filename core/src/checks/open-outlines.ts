import type { Nurbs } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import { NearestPlaces } from '../geometry/nearest-places.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import type { CurveSink } from '../drawing/curves.js';
import { curvesOf } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { Check } from './check.js';
import { firstOf, isNoOutline } from './check.js';
import { extentOf } from './extent.js';

interface End {
  x: number;
  y: number;
  layer: string;
  id: number;
  /** The other end of the same curve. */
  otherX: number;
  otherY: number;
}

/** Finds pairs of free ends that lie close together without meeting: an outline that looks closed and is not. */
export const openOutlines: Check = {
  id: 'open-outlines',
  title: 'Open outlines',
  summary: 'An outline with a gap cannot be cut, filled or given thickness; at normal zoom the gap is invisible.',
  carries: ['curves'],
  params: {
    type: 'object',
    properties: {
      widest: {
        type: 'number',
        title: 'Widest gap to report',
        description: '0 = one hundredth of the drawing’s diagonal',
        default: 0,
        minimum: 0,
        unit: 'drawing',
      },
      met: {
        type: 'number',
        title: 'Ends closer than this have met',
        description: '0 = a thousand-millionth of the diagonal',
        default: 0,
        minimum: 0,
        unit: 'drawing',
      },
    },
    required: [],
    additionalProperties: false,
  },
  mend: {
    step: 'join-ends',
    words: 'Join these ends',
    params: (s) => ({ gap: Number(s['widest'] ?? 0), how: 'move' }),
  },
  run(drawing, params, work) {
    const gaps = gapsOf(drawing, Number(params['widest'] ?? 0), Number(params['met'] ?? 0), work);
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    return firstOf('open-outlines', gaps, ({ ids, at, size, layer }) => ({
      check: 'open-outlines',
      severity: 'warning',
      message:
        ids.length === 1
          ? `An outline does not close: its ends are ${Number(size.toPrecision(4))}${unit} apart`
          : `Two curves miss each other by ${Number(size.toPrecision(4))}${unit}`,
      at,
      size,
      layer,
      ids,
    }));
  },
};

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
  const near = met || diagonal * 1e-9;
  const free = freeEnds(endsOf(drawing), near);
  checkStop(work);
  return pairsOf(drawing, free, near, widest || diagonal / 100);
}

/** The ends of all visible open curves, in world coordinates. */
function endsOf(drawing: Drawing): End[] {
  const sink = new EndSink();
  const keys = new Map<string, string>();
  surveyOf(drawing).each(({ entity, toWorld, resolved, top }) => {
    if (isNoOutline(top)) return;
    if (entity.kind === 'hatch' || entity.kind === 'point' || isWhole(entity)) return;
    let layer = keys.get(resolved.layer);
    if (layer === undefined) keys.set(resolved.layer, (layer = layerKey(drawing, resolved.layer)));
    sink.begin(layer, entity.id);
    curvesOf(entity, toWorld, sink);
    sink.close();
  });
  return sink.ends;
}

/** Notes where the open courses of one entity after the other begin and end. */
class EndSink implements CurveSink {
  readonly ends: End[] = [];
  private layer = '';
  private id = 0;
  private open = false;
  private x0 = 0;
  private y0 = 0;
  private x1 = 0;
  private y1 = 0;

  begin(layer: string, id: number): void {
    this.layer = layer;
    this.id = id;
    this.open = false;
  }
  close(): void {
    const { x0, y0, x1, y1, layer, id } = this;
    if (!this.open || (x0 === x1 && y0 === y1)) return;
    this.ends.push({ x: x0, y: y0, otherX: x1, otherY: y1, layer, id });
    this.ends.push({ x: x1, y: y1, otherX: x0, otherY: y0, layer, id });
  }
  move(x: number, y: number): void {
    this.close();
    this.open = true;
    this.x0 = this.x1 = x;
    this.y0 = this.y1 = y;
  }
  line(x: number, y: number): void {
    this.x1 = x;
    this.y1 = y;
  }
  arc(_c: Vec3, _u: Vec3, _v: Vec3, _start: number, _sweep: number, x: number, y: number): void {
    this.line(x, y);
  }
  cubic(_a: number, _b: number, _c: number, _d: number, _e: number, _f: number, x: number, y: number): void {
    this.line(x, y);
  }
  nurbs(c: Nurbs): void {
    // Clamped curves start and end at their end control points; others are not judged.
    const n = c.points.length;
    const clamped = c.knots[0] === c.knots[c.degree] && c.knots[c.knots.length - 1] === c.knots[n / 3];
    if (!clamped) return;
    this.open = true;
    this.x0 = c.points[0];
    this.y0 = c.points[1];
    this.line(c.points[n - 3], c.points[n - 2]);
  }
}

const isWhole = (e: Entity): boolean =>
  e.kind === 'circle' || e.kind === 'face' || ((e.kind === 'polyline' || e.kind === 'spline') && e.closed);

/** The ends at which nothing else of the same layer ends. */
function freeEnds(ends: End[], met: number): End[] {
  if (ends.length === 0 || !(met > 0)) return [];
  const layers = new Map<string, number>();
  const layerOf = (e: End): number => {
    let n = layers.get(e.layer);
    if (n === undefined) layers.set(e.layer, (n = layers.size));
    return n;
  };
  const grid = PlaceGrid.of(ends, (e) => e.x, (e) => e.y, met, layerOf); // prettier-ignore
  return ends.filter((e, i) => {
    let free = true;
    const other = (j: number): boolean => {
      if (j !== i) free = false;
      return !free;
    };
    grid.near(e.x, e.y, other, layerOf(e));
    return free;
  });
}

/**
 * Whether two ends lie apart on purpose: those of curves side by side, such as rails and slats, and those whose distance is
 * more than a quarter of what the curves themselves span.
 */
function meantApart(a: End, b: End): boolean {
  const gap = Math.hypot(a.x - b.x, a.y - b.y);
  const [ax, ay] = [a.x - a.otherX, a.y - a.otherY];
  const [bx, by] = [b.x - b.otherX, b.y - b.otherY];
  const [aLong, bLong] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
  if (gap > Math.min(aLong, bLong) / 4) return true;
  const along = (x: number, y: number, l: number): number => Math.abs(x * (b.x - a.x) + y * (b.y - a.y)) / (l * gap);
  const parallel = Math.abs(ax * bx + ay * by) / (aLong * bLong) > 0.98;
  return parallel && along(ax, ay, aLong) < 0.5 && along(bx, by, bLong) < 0.5;
}

/** Pairs each free end with its nearest free neighbour; a pair that is nearest to each other is one gap. */
function pairsOf(drawing: Drawing, free: End[], met: number, widest: number): Gap[] {
  if (free.length < 2) return [];
  const nearest = new Int32Array(free.length).fill(-1);
  // One index per layer, so that ends of other layers are never even looked at.
  const byLayer = new Map<string, number[]>();
  free.forEach((e, i) => {
    const list = byLayer.get(e.layer);
    if (list) list.push(i);
    else byLayer.set(e.layer, [i]);
  });
  for (const members of byLayer.values()) {
    const place = (of: (e: End) => number): Float64Array => Float64Array.from(members, (i) => of(free[i]));
    const index = new NearestPlaces(place((e) => e.x), place((e) => e.y)); // prettier-ignore
    members.forEach((i, k) => {
      const found = index.nearestTo(k, met, widest);
      if (found >= 0) nearest[i] = members[found];
    });
  }
  const names = new Map(drawing.layers.map((l) => [layerKey(drawing, l.name), l.name]));
  const gaps: Gap[] = [];
  nearest.forEach((j, i) => {
    if (j <= i || nearest[j] !== i) return;
    const [a, b] = [free[i], free[j]];
    if (a.id !== b.id && meantApart(a, b)) return;
    gaps.push({
      ids: a.id === b.id ? [a.id] : [a.id, b.id],
      at: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
      size: Math.hypot(a.x - b.x, a.y - b.y),
      layer: names.get(a.layer) ?? a.layer,
    });
  });
  return gaps.sort((p, q) => q.size - p.size);
}
