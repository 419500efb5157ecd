import type { SceneLayer } from './scene.js';
import { FOREGROUND_ALPHA } from './scene.js';

/** Grows the arrays of one layer. */
export class LayerBuffers {
  /** The draw order given to what is added next. */
  depth = 0;
  private lines = new Float32Array(0);
  private lineColours = new Uint8Array(0);
  private lineCount = 0;
  private corners = new Float32Array(0);
  private cornerColours = new Uint8Array(0);
  private cornerCount = 0;
  private rgba: [number, number, number, number] = [0, 0, 0, 255];

  constructor(private readonly origin: readonly [number, number]) {}

  /** Opacity 1 that follows the ground is told by an alpha of 254. */
  colour(rgb: number, opacity: number, foreground: boolean): void {
    const alpha = Math.round(opacity * 255);
    this.rgba = [rgb >> 16, (rgb >> 8) & 255, rgb & 255, foreground && alpha === 255 ? FOREGROUND_ALPHA : alpha];
  }

  chord(x0: number, y0: number, x1: number, y1: number): void {
    const n = this.lineCount;
    if ((n + 1) * 6 > this.lines.length) {
      this.lines = wider(this.lines, 6 * 256);
      this.lineColours = wider(this.lineColours, 8 * 256);
    }
    const { lines, lineColours, rgba, depth } = this;
    const ox = this.origin[0];
    const oy = this.origin[1];
    const i = n * 6;
    lines[i] = x0 - ox;
    lines[i + 1] = y0 - oy;
    lines[i + 2] = depth;
    lines[i + 3] = x1 - ox;
    lines[i + 4] = y1 - oy;
    lines[i + 5] = depth;
    const c = n * 8;
    for (let k = 0; k < 4; k++) lineColours[c + k] = lineColours[c + 4 + k] = rgba[k];
    this.lineCount = n + 1;
  }

  /** Triangles as x, y per corner. */
  area(xy: Float64Array): void {
    const [ox, oy] = this.origin;
    for (let i = 0; i < xy.length; i += 2) {
      const n = this.cornerCount;
      if ((n + 1) * 3 > this.corners.length) {
        this.corners = wider(this.corners, 3 * 256);
        this.cornerColours = wider(this.cornerColours, 4 * 256);
      }
      this.corners[3 * n] = xy[i] - ox;
      this.corners[3 * n + 1] = xy[i + 1] - oy;
      this.corners[3 * n + 2] = this.depth;
      this.cornerColours.set(this.rgba, 4 * n);
      this.cornerCount++;
    }
  }

  finish(name: string): SceneLayer {
    return {
      name,
      lines: this.lines.slice(0, this.lineCount * 6),
      lineColours: this.lineColours.slice(0, this.lineCount * 8),
      triangles: this.corners.slice(0, this.cornerCount * 3),
      triangleColours: this.cornerColours.slice(0, this.cornerCount * 4),
    };
  }
}

function wider<T extends Float32Array | Uint8Array>(a: T, least: number): T {
  const make = a.constructor as new (n: number) => T;
  const b = new make(Math.max(least, a.length * 2));
  b.set(a);
  return b;
}
