import { joinedDoubles } from './joined-doubles.js';
import type { Affine } from './affine.js';
import { mapEllipse } from './ellipses.js';

/** What a path is made of. The numbers that follow each: M x y; L x y; Q x1 y1 x y; C x1 y1 x2 y2 x y; A rx ry rotation large sweep x y; Z none. */
export const Cmd = { Move: 0, Line: 1, Quad: 2, Cubic: 3, Arc: 4, Close: 5 } as const;
export const CMD_LENGTH = [2, 2, 4, 6, 7, 0] as const;

/**
 * A path of subpaths in the plane, in absolute coordinates. Arcs are kept in the end-point form of SVG with the
 * rotation in radians, so that nothing is approximated on reading.
 */
export interface PathData {
  cmds: Uint8Array;
  data: Float64Array;
}

/** Gathers commands into a `PathData`. */
export class PathBuilder {
  private cmds: number[] = [];
  private data: number[] = [];

  get empty(): boolean {
    return this.cmds.length === 0;
  }
  moveTo(x: number, y: number): this {
    return this.put(Cmd.Move, x, y);
  }
  lineTo(x: number, y: number): this {
    return this.put(Cmd.Line, x, y);
  }
  quadTo(x1: number, y1: number, x: number, y: number): this {
    return this.put(Cmd.Quad, x1, y1, x, y);
  }
  cubicTo(x1: number, y1: number, x2: number, y2: number, x: number, y: number): this {
    return this.put(Cmd.Cubic, x1, y1, x2, y2, x, y);
  }
  /** `rotation` in radians; flags as in SVG. */
  arcTo(rx: number, ry: number, rotation: number, large: boolean, sweep: boolean, x: number, y: number): this {
    return this.put(Cmd.Arc, rx, ry, rotation, large ? 1 : 0, sweep ? 1 : 0, x, y);
  }
  close(): this {
    return this.put(Cmd.Close);
  }
  /** Adds a whole path, subpaths and all. */
  append(path: PathData): this {
    for (const c of path.cmds) this.cmds.push(c);
    for (const n of path.data) this.data.push(n);
    return this;
  }
  private put(cmd: number, ...numbers: number[]): this {
    this.cmds.push(cmd);
    for (const n of numbers) this.data.push(n);
    return this;
  }
  build(): PathData {
    return { cmds: Uint8Array.from(this.cmds), data: Float64Array.from(this.data) };
  }
}

/** What `visitPath` tells of each piece: where it starts and its own numbers, beginning at `data[at]`. */
export interface PathVisitor {
  move(x: number, y: number): void;
  /** `cmd` is one of Line, Quad, Cubic, Arc; (x0, y0) is where the piece starts. */
  piece(cmd: number, x0: number, y0: number, data: Float64Array, at: number): void;
  close(x0: number, y0: number, startX: number, startY: number): void;
}

/** Walks a path and keeps track of the current point. */
export function visitPath(path: PathData, visitor: PathVisitor): void {
  let at = 0;
  let x = 0;
  let y = 0;
  let sx = 0;
  let sy = 0;
  const { cmds, data } = path;
  for (let i = 0; i < cmds.length; i++) {
    const cmd = cmds[i]!;
    const n = CMD_LENGTH[cmd]!;
    if (cmd === Cmd.Close) {
      visitor.close(x, y, sx, sy);
      x = sx;
      y = sy;
      continue;
    }
    if (cmd === Cmd.Move) {
      sx = data[at]!;
      sy = data[at + 1]!;
      visitor.move(sx, sy);
    } else visitor.piece(cmd, x, y, data, at);
    at += n;
    x = data[at - 2]!;
    y = data[at - 1]!;
  }
}

/** The number of subpaths and whether every one of them is closed by a close command. */
export function subpaths(path: PathData): { count: number; closed: number } {
  let count = 0;
  let closed = 0;
  for (const c of path.cmds) {
    if (c === Cmd.Move) count++;
    else if (c === Cmd.Close) closed++;
  }
  return { count, closed };
}

/** The number of nodes a person would see: every end point of a piece, the start of each subpath included. */
export const nodeCount = (path: PathData): number => path.cmds.reduce((n, c) => n + (c === Cmd.Close ? 0 : 1), 0);

/** The path under a map of the plane (the z parts of `m` do not act). Exact, arcs included. */
export function transformPath(path: PathData, m: Affine): PathData {
  if (m[0] === 1 && m[4] === 1 && m[1] === 0 && m[3] === 0 && m[9] === 0 && m[10] === 0) return path;
  const data = new Float64Array(path.data.length);
  const src = path.data;
  const px = (i: number): void => {
    data[i] = m[0] * src[i]! + m[3] * src[i + 1]! + m[9];
    data[i + 1] = m[1] * src[i]! + m[4] * src[i + 1]! + m[10];
  };
  const mirrored = m[0] * m[4] - m[1] * m[3] < 0;
  const uniform = m[1] === 0 && m[3] === 0 && m[0] === m[4];
  let at = 0;
  for (const cmd of path.cmds) {
    const n = CMD_LENGTH[cmd]!;
    if (cmd === Cmd.Arc) {
      if (uniform) {
        data[at] = src[at]! * Math.abs(m[0]);
        data[at + 1] = src[at + 1]! * Math.abs(m[0]);
        data[at + 2] = src[at + 2]!;
      } else {
        const e =
          src[at] === src[at + 1] && m[1] === 0 && m[3] === 0 && m[0] === -m[4]
            ? { rx: src[at]! * Math.abs(m[0]), ry: src[at]! * Math.abs(m[0]), rotation: 0 }
            : mapEllipse(m[0], m[1], m[3], m[4], src[at]!, src[at + 1]!, src[at + 2]!);
        data[at] = e.rx;
        data[at + 1] = e.ry;
        data[at + 2] = e.rotation;
      }
      data[at + 3] = src[at + 3]!;
      data[at + 4] = mirrored ? 1 - src[at + 4]! : src[at + 4]!;
      px(at + 5);
    } else for (let k = 0; k < n; k += 2) px(at + k);
    at += n;
  }
  return { cmds: path.cmds, data };
}

/** The path taken apart into one path per subpath. */
export function splitSubpaths(path: PathData): PathData[] {
  const out: PathData[] = [];
  let builder = new PathBuilder();
  let needMove: [number, number] | null = null;
  const ready = (): void => {
    // Drawing after a close starts a new subpath where the old one began.
    if (needMove) builder.moveTo(...needMove);
    needMove = null;
  };
  const flush = (): void => {
    if (!builder.empty) out.push(builder.build());
    builder = new PathBuilder();
  };
  visitPath(path, {
    move: (x, y) => {
      flush();
      builder.moveTo(x, y);
      needMove = null;
    },
    close: (_x, _y, sx, sy) => {
      ready();
      builder.close();
      flush();
      needMove = [sx, sy];
    },
    piece: (cmd, _x, _y, d, i) => {
      ready();
      if (cmd === Cmd.Line) builder.lineTo(d[i]!, d[i + 1]!);
      else if (cmd === Cmd.Quad) builder.quadTo(d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!);
      else if (cmd === Cmd.Cubic) builder.cubicTo(d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!, d[i + 4]!, d[i + 5]!);
      else builder.arcTo(d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3] !== 0, d[i + 4] !== 0, d[i + 5]!, d[i + 6]!);
    },
  });
  flush();
  return out;
}

/** The subpaths that enclose something, each closed: what a fill fills. Straight strokes without area are left out. */
export function fillLoops(path: PathData): PathData[] {
  return splitSubpaths(path)
    .filter((p) => p.cmds.some((c) => c !== Cmd.Move && c !== Cmd.Line && c !== Cmd.Close) || nodeCount(p) >= 3)
    .map((p) =>
      p.cmds[p.cmds.length - 1] === Cmd.Close ? p : { cmds: Uint8Array.of(...p.cmds, Cmd.Close), data: p.data },
    );
}

/** The subpaths of several paths in one. */
export function joinedPaths(paths: readonly PathData[]): PathData {
  const cmds = new Uint8Array(paths.reduce((n, p) => n + p.cmds.length, 0));
  let at = 0;
  for (const p of paths) {
    cmds.set(p.cmds, at);
    at += p.cmds.length;
  }
  return { cmds, data: joinedDoubles(paths.map((p) => p.data)) };
}
