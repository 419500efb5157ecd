import { bulgeArc } from '../geometry/arcs.js';
import { length } from '../geometry/vector.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder } from '../geometry/path.js';
import { segmentEnd } from './bulges.js';
import type { Entity } from './entity.js';
import { isFullTurn } from '../geometry/tolerance.js';

/**
 * The outline of a flat entity as a path in its own plane, arcs kept as arcs; `null` for kinds that have none. An
 * ellipse counts as flat when it lies in the XY plane.
 */
export function outlinePath(e: Entity): PathData | null {
  const p = new PathBuilder();
  switch (e.kind) {
    case 'path':
      return e.path;
    case 'polyline': {
      const { points, dim, bulges } = e;
      const n = points.length / dim;
      if (n === 0) return null;
      p.moveTo(points[0]!, points[1]!);
      for (let i = 0; i < n; i++) {
        const j = segmentEnd(e, i);
        if (j < 0) break;
        const [x0, y0, x1, y1] = [points[dim * i], points[dim * i + 1], points[dim * j], points[dim * j + 1]];
        const arc = bulges ? bulgeArc(x0!, y0!, x1!, y1!, bulges[i]!) : null;
        if (arc) p.arcTo(arc.radius, arc.radius, 0, Math.abs(arc.sweep) > Math.PI, arc.sweep > 0, x1!, y1!);
        else if (j !== 0 || bulges) p.lineTo(x1!, y1!);
      }
      if (e.closed) p.close();
      return p.build();
    }
    case 'circle': {
      const [x, y] = e.centre;
      const r = e.radius;
      p.moveTo(x + r, y)
        .arcTo(r, r, 0, false, true, x - r, y)
        .arcTo(r, r, 0, false, true, x + r, y)
        .close();
      return p.build();
    }
    case 'ellipse': {
      if (e.normal && (e.normal[0] !== 0 || e.normal[1] !== 0)) return null;
      const turn = Math.atan2(e.major[1], e.major[0]);
      const rx = length(e.major);
      const ry = rx * e.ratio;
      const flip = (e.normal?.[2] ?? 1) < 0 ? -1 : 1;
      const at = (t: number): [number, number] => {
        const [a, b] = [rx * Math.cos(t), flip * ry * Math.sin(t)];
        return [
          e.centre[0] + a * Math.cos(turn) - b * Math.sin(turn),
          e.centre[1] + a * Math.sin(turn) + b * Math.cos(turn),
        ];
      };
      let sweep = (e.end - e.start) % (2 * Math.PI);
      if (sweep <= 0) sweep += 2 * Math.PI;
      const whole = isFullTurn(sweep);
      p.moveTo(...at(e.start));
      if (whole) p.arcTo(rx, ry, turn, false, flip > 0, ...at(e.start + Math.PI));
      const end = whole ? at(e.start) : at(e.end);
      p.arcTo(rx, ry, turn, !whole && sweep > Math.PI, flip > 0, ...end);
      if (whole) p.close();
      return p.build();
    }
    case 'face': {
      const [a, ...rest] = e.corners;
      p.moveTo(a![0], a![1]);
      for (const c of rest) p.lineTo(c[0], c[1]);
      return p.close().build();
    }
    default:
      return null;
  }
}
