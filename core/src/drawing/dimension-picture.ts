import type { Affine } from '../geometry/affine.js';
import { applyPoint, inverse, planeFrame } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import type { PartBase } from './arrows.js';
import { arrowHead } from './arrows.js';
import { dimensionLook } from './dimension-style.js';
import type { DimensionLook } from './dimension-style.js';
import { readDimensionText } from './dimension.js';
import type { Drawing } from './drawing.js';
import type { Dimension, Entity } from './entity.js';
import { AT_END, ROUNDING } from '../geometry/tolerance.js';

type P2 = [number, number];

/**
 * What a dimension without a picture block looks like by its style: extension lines, dimension line or arc, arrowheads
 * and text, in the dimension's own plane.
 */
export function dimensionPicture(d: Dimension, drawing: Pick<Drawing, 'dimensionStyles'>): Entity[] {
  return new Sketch(d, drawing).draw();
}

class Sketch {
  private readonly out: Entity[] = [];
  private readonly look: DimensionLook;
  private readonly base: PartBase;
  private readonly toPlane: Affine;
  private readonly z: number;

  constructor(
    private readonly d: Dimension,
    private readonly drawing: Pick<Drawing, 'dimensionStyles'>,
  ) {
    this.look = dimensionLook(drawing, d.style, d.extended);
    this.base = { id: d.id, layer: d.layer, look: d.look, ...(d.normal && { normal: d.normal }) };
    this.toPlane = inverse(planeFrame(d.normal ?? [0, 0, 1]));
    this.z = this.flat(10)?.[2] ?? 0;
  }

  /** A definition point in the plane of the dimension. */
  private flat(code: 10 | 13 | 14 | 15): Vec3 | null {
    const p = this.d.points[code];
    return p ? applyPoint(this.toPlane, p) : null;
  }

  private line(a: P2, b: P2): void {
    const points = Float64Array.of(a[0], a[1], b[0], b[1]);
    this.out.push({ kind: 'polyline', ...this.base, points, dim: 2, elevation: this.z, closed: false });
  }

  private arrow(tip: P2, from: P2): void {
    const { tickSize, arrowSize } = this.look;
    if (tickSize > 0) {
      const a = Math.atan2(tip[1] - from[1], tip[0] - from[0]) + Math.PI / 4;
      const [dx, dy] = [Math.cos(a) * tickSize, Math.sin(a) * tickSize];
      return this.line([tip[0] - dx, tip[1] - dy], [tip[0] + dx, tip[1] + dy]);
    }
    const head = arrowHead(this.base, [...tip, this.z], [...from, this.z], arrowSize);
    if (head) this.out.push(head);
  }

  /** From a feature towards the dimension line, a gap away from the one and a little beyond the other. */
  private extension(from: P2, to: P2): void {
    const l = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (l <= this.look.extensionOffset) return;
    const u: P2 = [(to[0] - from[0]) / l, (to[1] - from[1]) / l];
    const { extensionOffset: o, extensionBeyond: b } = this.look;
    this.line([from[0] + u[0] * o, from[1] + u[1] * o], [to[0] + u[0] * b, to[1] + u[1] * b]);
  }

  private text(middle: P2, angle: number): void {
    const { shown } = readDimensionText(this.d, this.drawing);
    if (shown.trim() === '') return;
    const stated = this.d.points[11];
    const up = Math.cos(angle) < -AT_END ? angle + Math.PI : angle;
    const h = this.look.textHeight;
    const off = this.look.gap + h / 2;
    const at: P2 = stated ? [stated[0], stated[1]] : [middle[0] - Math.sin(up) * off, middle[1] + Math.cos(up) * off];
    this.out.push({
      kind: 'text',
      ...this.base,
      text: shown,
      at: [at[0], at[1], this.z],
      size: h,
      sizeOf: 'capital',
      rotation: up + this.d.textRotation,
      widthFactor: 1,
      oblique: 0,
      horizontal: 'middle',
      vertical: 'baseline',
      style: 'Standard',
    });
  }

  draw(): Entity[] {
    switch (this.d.form) {
      case 'linear':
      case 'aligned':
        this.straight();
        break;
      case 'radius':
      case 'diameter':
      case 'jogged':
        this.radial();
        break;
      case 'ordinate':
        this.ordinate();
        break;
      default:
        this.round();
    }
    return this.out;
  }

  private straight(): void {
    const [a, b, on] = [this.flat(13), this.flat(14), this.flat(10)];
    if (!a || !b || !on) return;
    const angle = this.d.form === 'linear' ? this.d.rotation : Math.atan2(b[1] - a[1], b[0] - a[0]);
    const u: P2 = [Math.cos(angle), Math.sin(angle)];
    // Extension lines lean by the oblique angle where there is one, otherwise stand square.
    const lean = this.d.oblique !== 0 ? this.d.oblique : angle + Math.PI / 2;
    const w: P2 = [Math.cos(lean), Math.sin(lean)];
    const foot = (p: Vec3): P2 => {
      const det = u[0] * w[1] - u[1] * w[0];
      if (Math.abs(det) < AT_END) return [on[0], on[1]];
      const s = ((on[0] - p[0]) * u[1] - (on[1] - p[1]) * u[0]) / -det;
      return [p[0] + w[0] * s, p[1] + w[1] * s];
    };
    const [fa, fb] = [foot(a), foot(b)];
    this.extension([a[0], a[1]], fa);
    this.extension([b[0], b[1]], fb);
    this.line(fa, fb);
    this.arrow(fa, fb);
    this.arrow(fb, fa);
    this.text([(fa[0] + fb[0]) / 2, (fa[1] + fb[1]) / 2], angle);
  }

  private radial(): void {
    const [centre, edge] = [this.flat(10), this.flat(15)];
    if (!centre || !edge) return;
    const [c, e]: [P2, P2] = [
      [centre[0], centre[1]],
      [edge[0], edge[1]],
    ];
    this.line(c, e);
    this.arrow(e, c);
    if (this.d.form === 'diameter') this.arrow(c, e);
    this.text([(c[0] + e[0]) / 2, (c[1] + e[1]) / 2], Math.atan2(e[1] - c[1], e[0] - c[0]));
  }

  private ordinate(): void {
    const [feature, end] = [this.flat(13), this.flat(14)];
    if (!feature || !end) return;
    this.line([feature[0], feature[1]], [end[0], end[1]]);
    this.text([end[0], end[1]], this.d.ordinateX ? Math.PI / 2 : 0);
  }

  private round(): void {
    const arc = this.d.points[this.d.form === 'angular' ? 16 : 10];
    const [a, b, c] = [this.flat(13), this.flat(14), this.flat(15)];
    if (!a || !b || !c || !arc) return;
    // The arc of an angular dimension is given in its plane, that of the others in space.
    const on = this.d.form === 'angular' ? arc : applyPoint(this.toPlane, arc);
    let vertex: P2 = [c[0], c[1]];
    let [from, to] = [Math.atan2(a[1] - c[1], a[0] - c[0]), Math.atan2(b[1] - c[1], b[0] - c[0])];
    if (this.d.form === 'angular') {
      const e = this.flat(10);
      if (!e) return;
      const [u, v] = [
        [b[0] - a[0], b[1] - a[1]],
        [e[0] - c[0], e[1] - c[1]],
      ];
      const det = u[0]! * v[1]! - u[1]! * v[0]!;
      if (Math.abs(det) < ROUNDING * (Math.hypot(...u) * Math.hypot(...v))) return;
      const t = ((c[0] - a[0]) * v[1]! - (c[1] - a[1]) * v[0]!) / det;
      vertex = [a[0] + u[0]! * t, a[1] + u[1]! * t];
      // Each line's direction is taken on the side where the arc lies.
      const w = [on[0] - vertex[0], on[1] - vertex[1]];
      const k = (w[0]! * v[1]! - w[1]! * v[0]!) / det < 0 ? Math.PI : 0;
      const m = (u[0]! * w[1]! - u[1]! * w[0]!) / det < 0 ? Math.PI : 0;
      [from, to] = [Math.atan2(u[1]!, u[0]!) + k, Math.atan2(v[1]!, v[0]!) + m];
    }
    const radius = Math.hypot(on[0] - vertex[0], on[1] - vertex[1]);
    const turn = (x: number): number => ((x % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
    const inside = turn(Math.atan2(on[1] - vertex[1], on[0] - vertex[0]) - from) <= turn(to - from);
    const [start, end] = inside ? [from, to] : [to, from];
    const place = (t: number, r = radius): P2 => [vertex[0] + r * Math.cos(t), vertex[1] + r * Math.sin(t)];
    this.out.push({
      kind: 'arc',
      ...this.base,
      centre: [...vertex, this.z],
      radius,
      start: turn(start),
      end: turn(end),
    });
    const step = radius > 0 ? Math.min(0.5, this.look.arrowSize / radius) : 0;
    this.arrow(place(start), place(start + step));
    this.arrow(place(end), place(end - step));
    for (const [p, t] of [
      [a, from],
      [b, to],
    ] as [Vec3, number][])
      this.extension([p[0], p[1]], place(t));
    const mid = start + turn(end - start) / 2;
    this.text(place(mid), mid - Math.PI / 2);
  }
}
