import type { Affine } from '../../geometry/affine.js';
import { applyPoint, planarSimilarity } from '../../geometry/affine.js';
import { principalAxes } from '../../geometry/ellipses.js';
import { PathBuilder, transformPath } from '../../geometry/path.js';
import type { DoublePool } from '../../geometry/pool.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { Clip, Entity } from '../../drawing/entity.js';
import { parseLength } from './lengths.js';
import { parsePathData } from '../../geometry/path-data.js';
import type { Style } from './style.js';
import type { XmlElement } from './xml.js';
import { isSame } from '../../geometry/tolerance.js';

/** What a shape reader needs to know about where it stands. */
export interface ShapeContext {
  ctm: Affine;
  style: Style;
  base: {
    id: number;
    key: string;
    layer: string;
    look: Appearance;
    node?: number;
    classes?: string;
    clipTo?: Clip;
    tile?: boolean;
  };
  viewport: { width: number; height: number };
  em: number;
  fault: (text: string) => void;
  /** Where the numbers of paths are kept. */
  pool?: DoublePool;
}

const SHAPES = new Set(['rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon', 'path']);
export const isShape = (name: string): boolean => SHAPES.has(name);

/** The entity of a shape element; `null` when the standard says that it draws nothing. */
export function readShape(e: XmlElement, x: ShapeContext): Entity | null {
  const length = (name: string, of: 'x' | 'y' | 'r', otherwise = 0): number => {
    const { width, height } = x.viewport;
    const percentOf = of === 'x' ? width : of === 'y' ? height : Math.sqrt((width * width + height * height) / 2);
    const text = x.style.get(name) ?? e.attributes.get(name);
    if (text === undefined || text === 'auto') return otherwise;
    const v = parseLength(text, { percentOf, em: x.em });
    if (v === null) x.fault(`<${e.name}> has a ${name} that is no length`);
    return v ?? otherwise;
  };
  switch (e.name) {
    case 'rect':
      return rect(x, length);
    case 'circle':
      return ellipse(x, length('cx', 'x'), length('cy', 'y'), length('r', 'r'), length('r', 'r'));
    case 'ellipse': {
      const rx = length('rx', 'x', NaN);
      const ry = length('ry', 'y', NaN);
      const [a, b] = [Number.isNaN(rx) ? ry : rx, Number.isNaN(ry) ? rx : ry];
      return ellipse(x, length('cx', 'x'), length('cy', 'y'), a, b);
    }
    case 'line':
      return {
        kind: 'line',
        ...x.base,
        start: applyPoint(x.ctm, [length('x1', 'x'), length('y1', 'y'), 0]),
        end: applyPoint(x.ctm, [length('x2', 'x'), length('y2', 'y'), 0]),
      };
    case 'polyline':
    case 'polygon': {
      const numbers = (e.attributes.get('points') ?? '').match(/[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g) ?? [];
      if (numbers.length % 2) x.fault(`<${e.name}> has an odd number of coordinates; the last is left out`);
      const n = numbers.length >> 1;
      // A polygon of one corner still shows as a dot where its line has round or square ends.
      if (n < (e.name === 'polygon' ? 1 : 2)) return null;
      const points = new Float64Array(2 * n);
      for (let i = 0; i < n; i++)
        put(points, i, applyPoint(x.ctm, [Number(numbers[2 * i]), Number(numbers[2 * i + 1]), 0]));
      return { kind: 'polyline', ...x.base, points, dim: 2, elevation: 0, closed: e.name === 'polygon' };
    }
    case 'path': {
      const { path, error } = parsePathData(
        x.style.get('d')?.replace(/^path\(["']?|["']?\)$/g, '') ?? e.attributes.get('d') ?? '',
        x.pool,
      );
      if (error !== null) x.fault('path data with an error: what stands before it is kept');
      if (path.cmds.length < 2) return null;
      return { kind: 'path', ...x.base, path: transformPath(path, x.ctm) };
    }
    default:
      return null;
  }
}

function put(points: Float64Array, i: number, p: readonly [number, number, number]): void {
  points[2 * i] = p[0];
  points[2 * i + 1] = p[1];
}

function ellipse(x: ShapeContext, cx: number, cy: number, rx: number, ry: number): Entity | null {
  if (!(rx > 0) || !(ry > 0)) return null;
  const m = x.ctm;
  const centre = applyPoint(m, [cx, cy, 0]);
  const similar = planarSimilarity(m);
  if (rx === ry && similar !== null) return { kind: 'circle', ...x.base, centre, radius: rx * similar };
  const axes = principalAxes(m[0] * rx, m[1] * rx, m[3] * ry, m[4] * ry);
  if (isSame(axes.rx, axes.ry)) return { kind: 'circle', ...x.base, centre, radius: axes.rx };
  return {
    kind: 'ellipse',
    ...x.base,
    centre,
    major: [axes.rx * Math.cos(axes.rotation), axes.rx * Math.sin(axes.rotation), 0],
    ratio: axes.ry / axes.rx,
    start: 0,
    end: 2 * Math.PI,
  };
}

function rect(x: ShapeContext, length: (n: string, of: 'x' | 'y', o?: number) => number): Entity | null {
  const [left, top, w, h] = [length('x', 'x'), length('y', 'y'), length('width', 'x'), length('height', 'y')];
  if (!(w > 0) || !(h > 0)) return null;
  let rx = length('rx', 'x', NaN);
  let ry = length('ry', 'y', NaN);
  if (Number.isNaN(rx)) rx = Number.isNaN(ry) ? 0 : ry;
  if (Number.isNaN(ry)) ry = rx;
  rx = Math.min(rx, w / 2);
  ry = Math.min(ry, h / 2);
  const [right, bottom] = [left + w, top + h];
  if (!(rx > 0) || !(ry > 0)) {
    const points = new Float64Array(8);
    const corners = [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ];
    corners.forEach(([px, py], i) => put(points, i, applyPoint(x.ctm, [px!, py!, 0])));
    return { kind: 'polyline', ...x.base, points, dim: 2, elevation: 0, closed: true };
  }
  // The order of SVG 2 §10.2: clockwise on the page, from the end of the upper left corner.
  const p = new PathBuilder()
    .moveTo(left + rx, top)
    .lineTo(right - rx, top)
    .arcTo(rx, ry, 0, false, true, right, top + ry)
    .lineTo(right, bottom - ry)
    .arcTo(rx, ry, 0, false, true, right - rx, bottom)
    .lineTo(left + rx, bottom)
    .arcTo(rx, ry, 0, false, true, left, bottom - ry)
    .lineTo(left, top + ry)
    .arcTo(rx, ry, 0, false, true, left + rx, top)
    .close();
  return { kind: 'path', ...x.base, path: transformPath(p.build(), x.ctm) };
}
