import { TAU } from './arcs.js';
import { AT_END } from './tolerance.js';

/** An elliptical arc by its centre: half axes, turn of the x axis, start parameter and sweep, in radians. */
export interface EllipseArc2 {
  cx: number;
  cy: number;
  rx: number;
  ry: number;
  rotation: number;
  start: number;
  sweep: number;
}

/**
 * Turns an SVG arc command into its centre form (SVG 2, appendix B.2.4, "conversion from endpoint to center
 * parameterization", with the out-of-range corrections of B.2.5). `null` when the standard asks for a straight line
 * (a radius of zero) or for nothing (equal end points).
 */
export function endpointToCentre(
  x0: number,
  y0: number,
  rxIn: number,
  ryIn: number,
  rotation: number,
  large: boolean,
  sweepFlag: boolean,
  x1: number,
  y1: number,
): EllipseArc2 | null {
  let rx = Math.abs(rxIn);
  let ry = Math.abs(ryIn);
  if (rx === 0 || ry === 0 || (x0 === x1 && y0 === y1)) return null;
  const cos = Math.cos(rotation);
  const sin = Math.sin(rotation);
  const hx = (x0 - x1) / 2;
  const hy = (y0 - y1) / 2;
  const px = cos * hx + sin * hy;
  const py = -sin * hx + cos * hy;
  const over = (px / rx) ** 2 + (py / ry) ** 2;
  if (over > 1) {
    const k = Math.sqrt(over);
    rx *= k;
    ry *= k;
  }
  const a = (rx * py) ** 2 + (ry * px) ** 2;
  const root = Math.sqrt(Math.max(0, (rx * ry) ** 2 / a - 1)) * (large === sweepFlag ? -1 : 1);
  const qx = (root * rx * py) / ry;
  const qy = (-root * ry * px) / rx;
  const start = Math.atan2((py - qy) / ry, (px - qx) / rx);
  const end = Math.atan2((-py - qy) / ry, (-px - qx) / rx);
  let sweep = end - start;
  if (sweepFlag && sweep <= 0) sweep += TAU;
  if (!sweepFlag && sweep >= 0) sweep -= TAU;
  return {
    cx: cos * qx - sin * qy + (x0 + x1) / 2,
    cy: sin * qx + cos * qy + (y0 + y1) / 2,
    rx,
    ry,
    rotation,
    start,
    sweep,
  };
}

/**
 * The half axes and turn of the ellipse that a linear map of the plane makes of the ellipse (rx, ry, rotation): the
 * singular values of M·R·diag(rx, ry). `a b c d` in the order of SVG's `matrix()`. The larger axis comes first.
 */
export function mapEllipse(
  a: number,
  b: number,
  c: number,
  d: number,
  rx: number,
  ry: number,
  rotation: number,
): { rx: number; ry: number; rotation: number } {
  const cos = Math.cos(rotation);
  const sin = Math.sin(rotation);
  const ux = (a * cos + c * sin) * rx;
  const uy = (b * cos + d * sin) * rx;
  const vx = (-a * sin + c * cos) * ry;
  const vy = (-b * sin + d * cos) * ry;
  return principalAxes(ux, uy, vx, vy);
}

/** The half axes of the ellipse `u·cos t + v·sin t` (conjugate half diameters u and v), larger first, and its turn. */
export function principalAxes(
  ux: number,
  uy: number,
  vx: number,
  vy: number,
): { rx: number; ry: number; rotation: number } {
  const uu = ux * ux + uy * uy;
  const vv = vx * vx + vy * vy;
  const uv = ux * vx + uy * vy;
  const t = 0.5 * Math.atan2(2 * uv, uu - vv);
  const ct = Math.cos(t);
  const st = Math.sin(t);
  const x = ux * ct + vx * st;
  const y = uy * ct + vy * st;
  return {
    rx: Math.hypot(x, y),
    ry: Math.hypot(vx * ct - ux * st, vy * ct - uy * st),
    rotation: Math.atan2(y, x),
  };
}

/** The point at a parameter, or that on the line from the centre through it, `reach` times as far. */
export function ellipsePoint(arc: EllipseArc2, t: number, reach = 1): [number, number] {
  const [cos, sin] = [Math.cos(arc.rotation), Math.sin(arc.rotation)];
  const px = arc.rx * Math.cos(t) * reach;
  const py = arc.ry * Math.sin(t) * reach;
  return [arc.cx + cos * px - sin * py, arc.cy + sin * px + cos * py];
}

/**
 * The parameter of the point of an ellipse that is seen from its centre in a direction, both in radians from the major
 * axis and in the same turn: tan t = tan a / ratio, where `ratio` is the minor axis by the major one.
 */
export function parameterAt(direction: number, ratio: number): number {
  const t = Math.atan2(Math.sin(direction), Math.cos(direction) * ratio);
  return t + TAU * Math.round((direction - t) / TAU);
}

/** The inverse: the direction in which the point at a parameter is seen. */
export const directionAt = (parameter: number, ratio: number): number => parameterAt(parameter, 1 / ratio);

/** Whether parameter and direction of an angle differ: it is no whole number of quarter turns, and the ellipse no circle. */
export const isBetweenQuarters = (angle: number, ratio: number): boolean =>
  ratio > 0 && Math.abs(parameterAt(angle, ratio) - angle) > AT_END;
