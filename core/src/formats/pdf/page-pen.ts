import type { CurveSink } from '../../drawing/curves.js';
import { LengthSink } from '../../drawing/measures.js';
import type { Affine } from '../../geometry/affine.js';
import { applyPoint } from '../../geometry/affine.js';
import { CUBIC_OFF } from '../../geometry/arc-cubics.js';
import { cubicPieces } from '../../geometry/nurbs-cubics.js';
import type { Nurbs } from '../../geometry/nurbs.js';
import { dot, length } from '../../geometry/vector.js';
import type { Vec3 } from '../../geometry/vector.js';
import { ROUNDING, isSame, partsOfSweep } from '../../geometry/tolerance.js';
import { numberText } from './objects.js';

/** As it is seen from above: how heights are lost is told elsewhere. */
const flat = ([x, y]: Vec3): Vec3 => [x, y, 0];

const EIGHTH = Math.PI / 4;
let ofEighth: number | null = null;

/** By how much the cubic that stands for an arc of radius 1 is longer than the arc, whose angle is at most an eighth of a turn. */
function longerBy(angle: number): number {
  if (angle === EIGHTH && ofEighth !== null) return ofEighth;
  const k = (4 / 3) * Math.tan(angle / 4);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const sink = new LengthSink();
  sink.move(1, 0, 0);
  sink.cubic(1, k, 0, c + k * s, s - k * c, 0, c, s, 0);
  const longer = sink.total - angle;
  if (angle === EIGHTH) ofEighth = longer;
  return longer;
}

/**
 * Takes the curves of an entity and writes them as the path operators of a page (ISO 32000-2, 8.5.2): lines and cubics. Arcs become
 * cubics of no more than an eighth of a turn, other curves as near as they are asked to.
 */
export class PathPen implements CurveSink {
  private readonly out: string[] = [];
  /** The subpath that is being drawn, its last operator apart: a line back to its start closes it. */
  private part: string[] = [];
  private first = '';
  private last = '';
  /** How far what is written lies off the curves, in units of the drawing. */
  deviation = 0;
  /** Arcs or other curves became cubics that are not quite them, and so much longer in all. */
  bent = false;
  longer = 0;
  private x = 0;
  private y = 0;

  constructor(
    private readonly toPage: Affine,
    private readonly tolerance: number,
  ) {}

  private measure(): LengthSink {
    const sink = new LengthSink();
    sink.move(this.x, this.y, 0);
    return sink;
  }

  move(x: number, y: number): void {
    this.end();
    [this.x, this.y] = [x, y];
    this.first = this.last = this.at(x, y);
    this.part.push(`${this.first} m`);
  }
  line(x: number, y: number): void {
    [this.x, this.y] = [x, y];
    this.last = this.at(x, y);
    this.part.push(`${this.last} l`);
  }
  cubic(x1: number, y1: number, _z1: number, x2: number, y2: number, _z2: number, x: number, y: number): void {
    [this.x, this.y] = [x, y];
    this.last = this.at(x, y);
    this.part.push(`${this.at(x1, y1)} ${this.at(x2, y2)} ${this.last} c`);
  }
  arc(centre: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number): void {
    const n = partsOfSweep(sweep, EIGHTH);
    const step = sweep / n;
    const k = (4 / 3) * Math.tan(step / 4);
    const [fu, fv] = [flat(u), flat(v)];
    const [lu, lv] = [length(fu), length(fv)];
    const isCircle = isSame(lu, lv) && Math.abs(dot(fu, fv)) <= ROUNDING * lu * lv;
    const [exact, written] = isCircle ? [null, null] : [this.measure(), this.measure()];
    exact?.arc(flat(centre), fu, fv, start, sweep, x, y, 0);
    const point = (c: number, s: number): [number, number] => [
      centre[0] + u[0] * c + v[0] * s,
      centre[1] + u[1] * c + v[1] * s,
    ];
    for (let i = 0; i < n; i++) {
      const [a, b] = [start + i * step, start + (i + 1) * step];
      const p1 = point(Math.cos(a) - k * Math.sin(a), Math.sin(a) + k * Math.cos(a));
      const p2 = point(Math.cos(b) + k * Math.sin(b), Math.sin(b) - k * Math.cos(b));
      const p3 = i === n - 1 ? ([x, y] as const) : point(Math.cos(b), Math.sin(b));
      written?.cubic(p1[0], p1[1], 0, p2[0], p2[1], 0, p3[0], p3[1], 0);
      this.cubic(p1[0], p1[1], 0, p2[0], p2[1], 0, p3[0], p3[1]);
    }
    this.longer += exact ? written!.total - exact.total : lu * n * longerBy(Math.abs(step));
    this.bent = true;
    this.deviation = Math.max(this.deviation, CUBIC_OFF * Math.max(length(u), length(v)));
  }
  nurbs(curve: Nurbs): void {
    const { pieces, deviation } = cubicPieces(curve, this.tolerance);
    const [exact, written] = [new LengthSink(), new LengthSink()];
    pieces.forEach(({ start, numbers: q }, i) => {
      const [x0, y0] = start;
      if (i === 0 && this.part.length === 0) this.move(x0, y0);
      if (i === 0) written.move(x0, y0, 0);
      if (q.length === 2) this.line(q[0]!, q[1]!);
      else if (q.length === 4) {
        const third = (a: number, b: number): number => a + (2 / 3) * (b - a);
        const [qx, qy, x, y] = q as [number, number, number, number];
        this.cubic(third(x0, qx), third(y0, qy), 0, third(x, qx), third(y, qy), 0, x, y);
      } else this.cubic(q[0]!, q[1]!, 0, q[2]!, q[3]!, 0, q[4]!, q[5]!);
      if (q.length === 6) written.cubic(q[0]!, q[1]!, 0, q[2]!, q[3]!, 0, q[4]!, q[5]!, 0);
      else written.line(q[q.length - 2]!, q[q.length - 1]!, 0);
    });
    if (deviation > 0) {
      exact.nurbs({ ...curve, points: curve.points.map((p, i) => (i % 3 === 2 ? 0 : p)) });
      this.longer += written.total - exact.total;
      this.bent = true;
      this.deviation = Math.max(this.deviation, deviation);
    }
  }

  /** One straight line is all that was drawn: whoever reads it sees a line. */
  get straight(): boolean {
    return this.out.length === 2 && this.out[1]!.endsWith(' l');
  }

  /** The operators of all that was drawn; empty for nothing. */
  finish(): string {
    this.end();
    return this.out.join('\n');
  }

  private at(x: number, y: number): string {
    const p = applyPoint(this.toPage, [x, y, 0]);
    return `${numberText(p[0])} ${numberText(p[1])}`;
  }
  private end(): void {
    const { part } = this;
    if (part.length > 1 && this.first === this.last) {
      if (part.length > 2 && part[part.length - 1] === `${this.last} l`) part.pop();
      part.push('h');
    }
    if (part.length > 1) this.out.push(...part);
    this.part = [];
  }
}
