import type { Affine } from '../../geometry/affine.js';
import { inverse } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import { movedBox } from '../../geometry/moved-box.js';
import type { PathData } from '../../geometry/path.js';
import { CMD_LENGTH } from '../../geometry/path.js';
import type { Tiles } from './graphics-state.js';

/** The most tiles of one shape; beyond them its plain colour stands. */
const MOST_TILES = 10_000;

/** The box of all points of a path, control points too. The paths of a PDF have no arcs. */
export function boxOfPath({ cmds, data }: PathData): Box2 {
  const box = new Box2();
  let at = 0;
  for (const c of cmds) {
    for (let i = 0; i < CMD_LENGTH[c]!; i += 2) box.add(data[at + i]!, data[at + i + 1]!);
    at += CMD_LENGTH[c]!;
  }
  return box;
}

/** Where tiles stand, in the space of their pattern, that may lie in a box of the drawing; `null` for none or too many. */
export function tilePlaces(tiles: Tiles, pattern: Affine, box: Box2): [number, number][] | null {
  const [sx, sy] = [Math.abs(tiles.xStep), Math.abs(tiles.yStep)];
  const det = pattern[0] * pattern[4] - pattern[1] * pattern[3];
  if (!(sx > 0) || !(sy > 0) || !(Math.abs(det) > 0) || tiles.box.length !== 4 || box.empty) return null;
  const own = movedBox(box, inverse(pattern));
  const [x0, y0, x1, y1] = tiles.box as [number, number, number, number];
  const [i0, i1] = [Math.ceil((own.minX - x1) / sx), Math.floor((own.maxX - x0) / sx)];
  const [j0, j1] = [Math.ceil((own.minY - y1) / sy), Math.floor((own.maxY - y0) / sy)];
  const count = (i1 - i0 + 1) * (j1 - j0 + 1);
  if (!(count > 0) || count > MOST_TILES) return null;
  const places: [number, number][] = [];
  for (let j = j0; j <= j1; j++) for (let i = i0; i <= i1; i++) places.push([i * sx, j * sy]);
  return places;
}
