import type { Affine } from '../geometry/affine.js';
import { applyPoint } from '../geometry/affine.js';
import { curvesOf, entityToWorld } from '../drawing/curves.js';
import type { Entity } from '../drawing/entity.js';
import type { Vec3 } from '../geometry/vector.js';

const END = 0;
const MIDDLE = 1;
const CENTRE = 2;
const QUARTER = 3;
const MOST = 3_000_000;

/** Gathers the points that a measurement can snap to: ends, middles, centres and quarter points. */
export class SnapCollector {
  private xy: number[] = [];
  private kinds: number[] = [];

  private put(x: number, y: number, kind: number): void {
    if (this.kinds.length >= MOST) return;
    this.xy.push(x, y);
    this.kinds.push(kind);
  }

  add(e: Entity, toWorld: Affine): void {
    if (e.kind === 'text' || e.kind === 'richText' || e.kind === 'insert') {
      const p = applyPoint(entityToWorld(e, toWorld), e.at);
      this.put(p[0], p[1], END);
      return;
    }
    let [px, py] = [0, 0];
    let started = false;
    const whole = e.kind === 'circle';
    curvesOf(e, toWorld, {
      move: (x, y) => {
        [px, py] = [x, y];
        started = true;
        if (!whole) this.put(x, y, END);
      },
      line: (x, y) => {
        if (started && (x !== px || y !== py)) this.put((x + px) / 2, (y + py) / 2, MIDDLE);
        [px, py] = [x, y];
        this.put(x, y, END);
      },
      arc: (c, u, v, start, sweep, x, y) => {
        this.put(c[0], c[1], CENTRE);
        const at = (t: number): Vec3 => [
          c[0] + u[0] * Math.cos(t) + v[0] * Math.sin(t),
          c[1] + u[1] * Math.cos(t) + v[1] * Math.sin(t),
          0,
        ];
        if (whole) {
          for (let k = 0; k < 4; k++) {
            const q = at((k * Math.PI) / 2);
            this.put(q[0], q[1], QUARTER);
          }
        } else {
          const m = at(start + sweep / 2);
          this.put(m[0], m[1], MIDDLE);
          this.put(x, y, END);
        }
        [px, py] = [x, y];
      },
      cubic: (_a, _b, _c, _d, _e, _f, x, y) => {
        [px, py] = [x, y];
        this.put(x, y, END);
      },
      nurbs: (c) => {
        const n = c.points.length;
        this.put(c.points[0], c.points[1], END);
        this.put(c.points[n - 3], c.points[n - 2], END);
      },
    });
  }

  finish(): { points: Float64Array; kinds: Uint8Array } {
    return { points: Float64Array.from(this.xy), kinds: Uint8Array.from(this.kinds) };
  }
}
