import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, planar } from '../../geometry/affine.js';
import type { PathData } from '../../geometry/path.js';
import { Cmd } from '../../geometry/path.js';
import type { PdfPage } from './engine.js';

/** How a page lies in its drawing. */
export function placedPage(page: PdfPage): { map: Affine; width: number; height: number; x: number; y: number } {
  const [x0, y0, x1, y1] = page.box;
  const [w, h] = [x1 - x0, y1 - y0];
  switch (((page.turned % 360) + 360) % 360) {
    case 90:
      return { map: planar(0, -1, 1, 0, -y0, x1), width: h, height: w, x: 0, y: 0 };
    case 180:
      return { map: planar(-1, 0, 0, -1, x1, y1), width: w, height: h, x: 0, y: 0 };
    case 270:
      return { map: planar(0, 1, -1, 0, y1, -x0), width: h, height: w, x: 0, y: 0 };
    default:
      return { map: IDENTITY, width: w, height: h, x: x0, y: y0 };
  }
}

/** A path whose last subpath is closed. */
export const closed = (path: PathData): PathData => ({
  cmds: Uint8Array.from([...path.cmds, Cmd.Close]),
  data: path.data,
});

/** The corners of a path that is an upright rectangle, `null` for any other. */
export function plainBox({ cmds, data }: PathData): [number, number, number, number] | null {
  const lines = cmds.filter((c) => c === Cmd.Line).length;
  if (
    cmds[0] !== Cmd.Move ||
    lines < 3 ||
    lines > 4 ||
    cmds.some((c) => c !== Cmd.Line && c !== Cmd.Close && c !== Cmd.Move)
  )
    return null;
  if (cmds.filter((c) => c === Cmd.Move).length !== 1) return null;
  const [minX, maxX] = [Math.min(data[0]!, data[4]!), Math.max(data[0]!, data[4]!)];
  const [minY, maxY] = [Math.min(data[1]!, data[5]!), Math.max(data[1]!, data[5]!)];
  for (let i = 0; i < data.length; i += 2)
    if ((data[i] !== minX && data[i] !== maxX) || (data[i + 1] !== minY && data[i + 1] !== maxY)) return null;
  return [minX, minY, maxX, maxY];
}
