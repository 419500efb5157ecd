import type { Affine } from '../geometry/affine.js';
import { applyPoint } from '../geometry/affine.js';
import { curvesOf, entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { walk } from '../drawing/resolve.js';
import type { Vec3 } from '../geometry/vector.js';

const END = 0;
const MIDDLE = 1;
const CENTRE = 2;
const QUARTER = 3;
const MOST = 3_000_000;

/** Points to snap to: x, y per point, in the drawing's coordinates, and what each is. */
export interface SnapPoints {
  points: Float64Array;
  kinds: Uint8Array;
}

/** The points of a space that a measurement can snap to: ends, middles, centres and quarter points. */
export function snapPointsOf(drawing: Drawing, sheet?: string): SnapPoints {
  const collector = new SnapCollector();
  const space = sheet === undefined ? {} : { sheet };
  walk(drawing, (v) => v.entity.look.visible && collector.add(v.entity, v.toWorld), { hidden: true, ...space });
  return collector.finish();
}

class SnapCollector {
  private xy = new Float64Array(2048);
  private kinds = new Uint8Array(1024);
  private count = 0;

  private put(x: number, y: number, kind: number): void {
    const n = this.count;
    if (n >= MOST) return;
    if (n === this.kinds.length) {
      const [xy, kinds] = [new Float64Array(4 * n), new Uint8Array(2 * n)];
      xy.set(this.xy);
      kinds.set(this.kinds);
      [this.xy, this.kinds] = [xy, kinds];
    }
    this.xy[2 * n] = x;
    this.xy[2 * n + 1] = y;
    this.kinds[n] = kind;
    this.count = n + 1;
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
        this.put(c.points[0]!, c.points[1]!, END);
        this.put(c.points[n - 3]!, c.points[n - 2]!, END);
      },
    });
  }

  finish(): SnapPoints {
    return { points: this.xy.subarray(0, 2 * this.count), kinds: this.kinds.subarray(0, this.count) };
  }
}
