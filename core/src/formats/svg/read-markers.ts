import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, rotation, scaling, translation } from '../../geometry/affine.js';
import type { PathData } from '../../geometry/path.js';
import { endOf, piecesOf, startOf, tangentAt } from '../../geometry/path-pieces.js';
import type { Piece } from '../../geometry/path-pieces.js';
import { parseLength } from './lengths.js';
import type { PlacedStyles, State } from './state.js';
import { clippedTo, cutsOverflow } from './state.js';
import { parseViewBox, viewBoxMap } from './transforms.js';
import type { XmlElement } from './xml.js';

export type MarkerRole = 'start' | 'mid' | 'end';

/** A vertex of a path that a marker may stand on, and its direction in radians (SVG 2 §13.7.4, "direction at a vertex"). */
export interface MarkerPlace {
  role: MarkerRole;
  x: number;
  y: number;
  angle: number;
}

/** The vertices of a path in order: the first is the start, the last the end, all others are in the middle. */
export function markerPlaces(path: PathData): MarkerPlace[] {
  const out: MarkerPlace[] = [];
  for (const { pieces, closed } of piecesOf(path, false)) {
    const at = (i: number): Piece => pieces[(i + pieces.length) % pieces.length]!;
    for (let i = 0; i <= pieces.length; i++) {
      const [x, y] = i < pieces.length ? startOf(pieces[i]!) : endOf(pieces[i - 1]!);
      const into = i > 0 || closed ? direction(at(i - 1), 1) : null;
      const outOf = i < pieces.length || closed ? direction(at(i), 0) : null;
      out.push({ role: 'mid', x, y, angle: between(into, outOf) });
    }
  }
  if (out.length > 0) {
    out[0]!.role = 'start';
    if (out.length > 1) out[out.length - 1]!.role = 'end';
    else out.push({ ...out[0]!, role: 'end' });
  }
  return out;
}

function direction(p: Piece, t: 0 | 1): number | null {
  let [dx, dy] = tangentAt(p, t);
  // Where control points lie on each other the direction is that of the curve close by.
  if (Math.hypot(dx, dy) < 1e-12) [dx, dy] = tangentAt(p, t === 0 ? 1e-4 : 1 - 1e-4);
  return dx === 0 && dy === 0 ? null : Math.atan2(dy, dx);
}

function between(a: number | null, b: number | null): number {
  if (a === null) return b ?? 0;
  if (b === null) return a;
  return Math.atan2(Math.sin(a) + Math.sin(b), Math.cos(a) + Math.cos(b));
}

/** The state in which a marker's children are drawn at a place of a shape, or `null` when it draws nothing. */
export function markerState(
  marker: XmlElement,
  place: MarkerPlace,
  shape: State,
  strokeWidth: number,
  styles: PlacedStyles,
): State | null {
  const style = styles.of(marker);
  const of = (name: string, otherwise: string): number =>
    parseLength(marker.attributes.get(name) ?? otherwise, { percentOf: 0, em: shape.em }) ?? 0;
  const [w, h] = [of('markerWidth', '3'), of('markerHeight', '3')];
  if (!(w > 0) || !(h > 0)) return null;
  const orient = marker.attributes.get('orient') ?? '0';
  const angle = orient.startsWith('auto')
    ? place.angle + (orient === 'auto-start-reverse' && place.role === 'start' ? Math.PI : 0)
    : ((parseFloat(orient) || 0) * Math.PI) / 180;
  const scale = marker.attributes.get('markerUnits') === 'userSpaceOnUse' ? 1 : strokeWidth;
  const box = parseViewBox(marker.attributes.get('viewBox'));
  const fit: Affine = box ? viewBoxMap(box, w, h, marker.attributes.get('preserveAspectRatio')) : IDENTITY;
  const [rx, ry] = [of('refX', '0'), of('refY', '0')];
  // The reference point lies on the vertex.
  const ref = [fit[0] * rx + fit[9], fit[4] * ry + fit[10]];
  const view = compose(
    compose(shape.ctm, translation(place.x, place.y)),
    compose(compose(rotation(angle), scaling(scale, scale, 1)), translation(-ref[0]!, -ref[1]!)),
  );
  let state: State = { ...shape, style, ctm: view, viewport: box ?? { width: w, height: h } };
  if (cutsOverflow(style)) state = clippedTo(state, 0, 0, w, h);
  return { ...state, ctm: compose(view, fit) };
}
