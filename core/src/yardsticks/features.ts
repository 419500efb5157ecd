import { outlinesSeen } from '../analysis/outline-roles.js';
import { boundsOf } from '../drawing/bounds.js';
import { curvesOf } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import { hex } from '../drawing/palette.js';
import type { Visit } from '../drawing/resolve.js';
import { surveyOf } from '../drawing/survey.js';
import { TAU, normalAngle } from '../geometry/arcs.js';
import type { Box2 } from '../geometry/box.js';
import type { Piece } from '../geometry/path-pieces.js';
import { boxOfPieces } from '../geometry/pieces-box.js';

/** A closed outline as yardsticks see it; lengths in the drawing's unit. */
export interface ShapeFeature {
  /** The middle of its box. */
  readonly x: number;
  readonly y: number;
  /** The diagonal of its box. */
  readonly size: number;
  readonly area: number;
  /** Across its box, where it is no whole circle any more. */
  readonly diameter: number;
  readonly stroke: string | null;
  readonly fill: string | null;
  readonly isHole: boolean;
  readonly isCircle: boolean;
  readonly pieces: readonly Piece[];
}

/** What a drawing has to measure, whatever kinds of objects its format made of it. */
export interface Features {
  readonly box: Box2;
  /** Ends, corners, centres, middles and the outermost points of arcs: x and y of each in turn. */
  readonly points: Float64Array;
  readonly shapes: readonly ShapeFeature[];
}

const known = new WeakMap<Drawing, Features>();

/** The features of what is in sight in model space; worked out once for each drawing. */
export function featuresOf(drawing: Drawing): Features {
  let made = known.get(drawing);
  if (!made) known.set(drawing, (made = find(drawing)));
  return made;
}

function find(drawing: Drawing): Features {
  const points: number[] = [];
  surveyOf(drawing).each((v) => addPoints(v, points));
  const { rings, visits } = outlinesSeen(drawing);
  const shapes = rings.map(({ pieces, area, diameter, around, owner }): ShapeFeature => {
    const box = boxOfPieces(pieces);
    const { stroke, fill } = visits[owner]!.resolved;
    return {
      x: (box.minX + box.maxX) / 2,
      y: (box.minY + box.maxY) / 2,
      size: box.diagonal,
      area,
      diameter: diameter ?? (box.width + box.height) / 2,
      isCircle: diameter !== null,
      pieces,
      stroke: stroke === null ? null : hex(stroke),
      fill: fill === null ? null : hex(fill),
      isHole: around.length % 2 === 1,
    };
  });
  return { box: boundsOf(drawing), points: Float64Array.from(points), shapes };
}

function addPoints({ entity, toWorld }: Visit, out: number[]): void {
  if (entity.kind === 'text' || entity.kind === 'richText' || entity.kind === 'insert') return;
  let [px, py] = [0, 0];
  const end = (x: number, y: number): void => {
    out.push(x, y);
    [px, py] = [x, y];
  };
  curvesOf(entity, toWorld, {
    move: end,
    line: (x, y) => {
      out.push((px + x) / 2, (py + y) / 2);
      end(x, y);
    },
    arc: (c, u, v, start, sweep, x, y) => {
      const at = (t: number): void =>
        void out.push(c[0] + u[0] * Math.cos(t) + v[0] * Math.sin(t), c[1] + u[1] * Math.cos(t) + v[1] * Math.sin(t));
      out.push(c[0], c[1]);
      at(start + sweep / 2);
      // Where the arc turns back in x and in y: the places a circle is measured across, however it is cut into arcs.
      for (const axis of [0, 1] as const) {
        const turn = Math.atan2(v[axis], u[axis]);
        for (const t of [turn, turn + TAU / 2])
          if (normalAngle(sweep < 0 ? start - t : t - start) <= Math.abs(sweep)) at(t);
      }
      end(x, y);
    },
    cubic: (_a, _b, _c, _d, _e, _f, x, y) => end(x, y),
    nurbs: (curve) => {
      const { points } = curve;
      out.push(points[0]!, points[1]!);
      end(points[points.length - 3]!, points[points.length - 2]!);
    },
  });
}
