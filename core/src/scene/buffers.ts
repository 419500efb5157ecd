import type { SceneLayer, ScenePicture } from './scene.js';
import { FOREGROUND_ALPHA, PAPER_ALPHA, THIN_ALPHA } from './scene.js';
import type { Box2 } from '../geometry/box.js';
import { clippedChord } from '../geometry/clip-chord.js';

/** Grows the arrays of one layer. */
export class LayerBuffers {
  /** The draw order given to what is added next. */
  depth = 0;
  /** What lies outside is cut off. */
  clip: Box2 | null = null;
  /** The id of the entity that what is added next belongs to. */
  owner = 0;
  /** How wide chords added next are, as `SceneLayer.lineWidths` says it. */
  width = 0;
  /** Grows to hold what is added. */
  box: Box2 | null = null;
  private lines = new Float32Array(0);
  private lineColours = new Uint32Array(0);
  private lineOwners = new Uint32Array(0);
  private lineWidths: Float32Array | null = null;
  private lineEnds: Uint8Array | null = null;
  private cornerOwners = new Uint32Array(0);
  private lineCount = 0;
  private corners = new Float32Array(0);
  private cornerColours = new Uint32Array(0);
  private cornerCount = 0;
  readonly pictures: Omit<ScenePicture, 'layer'>[] = [];
  /** The colour at hand, its four bytes in the order in which they lie in memory. */
  private readonly bytes = Uint8Array.of(0, 0, 0, 255);
  private readonly packed = new Uint32Array(this.bytes.buffer);

  constructor(private readonly origin: readonly [number, number]) {}

  /** Opacity 1 that follows the ground is told by an alpha of 254. */
  colour(rgb: number, opacity: number, foreground: boolean): void {
    const alpha = Math.round(opacity * 255);
    const { bytes } = this;
    bytes[0] = rgb >> 16;
    bytes[1] = (rgb >> 8) & 255;
    bytes[2] = rgb & 255;
    bytes[3] = foreground && alpha === 255 ? FOREGROUND_ALPHA : alpha;
  }

  /** What is added next is thin as a line, whatever it is made of. */
  thin(): void {
    if (this.bytes[3] === 255) this.bytes[3] = THIN_ALPHA;
  }

  /** What is added next is the ground itself. */
  paper(): void {
    this.bytes.fill(255);
    this.bytes[3] = PAPER_ALPHA;
  }

  /** `ends`: which of its ends are round, where it has a width. */
  chord(x0: number, y0: number, x1: number, y1: number, ends = 0): void {
    if (!this.clip) return this.putChord(x0, y0, x1, y1, ends);
    const inside = clippedChord(this.clip, x0, y0, x1, y1);
    if (inside) this.putChord(...inside, ends);
  }

  private putChord(x0: number, y0: number, x1: number, y1: number, ends: number): void {
    if (this.box) {
      this.box.add(x0, y0);
      this.box.add(x1, y1);
    }
    const n = this.lineCount;
    if ((n + 1) * 6 > this.lines.length) {
      this.lines = wider(this.lines, 6 * FIRST);
      this.lineColours = wider(this.lineColours, 2 * FIRST);
      this.lineOwners = wider(this.lineOwners, FIRST);
      if (this.lineWidths) this.lineWidths = wider(this.lineWidths, FIRST);
      if (this.lineEnds) this.lineEnds = wider(this.lineEnds, FIRST);
    }
    const { lines, lineColours, depth } = this;
    const ox = this.origin[0];
    const oy = this.origin[1];
    const i = n * 6;
    lines[i] = x0 - ox;
    lines[i + 1] = y0 - oy;
    lines[i + 2] = depth;
    lines[i + 3] = x1 - ox;
    lines[i + 4] = y1 - oy;
    lines[i + 5] = depth;
    lineColours[2 * n] = lineColours[2 * n + 1] = this.packed[0]!;
    this.lineOwners[n] = this.owner;
    if (this.width !== 0) {
      this.lineWidths ??= new Float32Array(this.lineOwners.length);
      this.lineEnds ??= new Uint8Array(this.lineOwners.length);
      this.lineWidths[n] = this.width;
      this.lineEnds[n] = ends;
    }
    this.lineCount = n + 1;
  }

  /** Triangles as x, y per corner. */
  area(all: Float64Array): void {
    const xy = this.clip ? clippedTriangles(this.clip, all) : all;
    const [ox, oy] = this.origin;
    const more = xy.length / 2;
    while ((this.cornerCount + more) * 3 > this.corners.length) {
      this.corners = wider(this.corners, 3 * FIRST);
      this.cornerColours = wider(this.cornerColours, FIRST);
      this.cornerOwners = wider(this.cornerOwners, FIRST);
    }
    const { corners, cornerColours, cornerOwners, depth, owner } = this;
    const colour = this.packed[0]!;
    for (let i = 0, n = this.cornerCount; i < xy.length; i += 2, n++) {
      corners[3 * n] = xy[i]! - ox;
      corners[3 * n + 1] = xy[i + 1]! - oy;
      corners[3 * n + 2] = depth;
      cornerColours[n] = colour;
      cornerOwners[n] = owner;
      this.box?.add(xy[i]!, xy[i + 1]!);
    }
    this.cornerCount += more;
  }

  /**
   * A picture within triangles (x, y per corner). `place` gives where in the picture a point lies, across and down from
   * its upper left corner, 0 to 1.
   */
  picture(data: string, opacity: number, all: Float64Array, place: (x: number, y: number) => [number, number]): void {
    const xy = this.clip ? clippedTriangles(this.clip, all) : all;
    const n = xy.length / 2;
    if (n === 0) return;
    const corners = new Float32Array(3 * n);
    const inPicture = new Float32Array(2 * n);
    for (let i = 0; i < n; i++) {
      const [x, y] = [xy[2 * i], xy[2 * i + 1]];
      corners.set([x! - this.origin[0], y! - this.origin[1], this.depth], 3 * i);
      inPicture.set(place(x!, y!), 2 * i);
      this.box?.add(x!, y!);
    }
    this.pictures.push({ owner: this.owner, data, opacity, corners, inPicture });
  }

  finish(name: string): SceneLayer {
    const { lineCount: n, cornerCount: m } = this;
    const triangleOwners = new Uint32Array(m / 3);
    for (let i = 0; i < triangleOwners.length; i++) triangleOwners[i] = this.cornerOwners[3 * i]!;
    return {
      name,
      lines: used(this.lines, n * 6),
      lineColours: asBytes(used(this.lineColours, n * 2)),
      triangles: used(this.corners, m * 3),
      triangleColours: asBytes(used(this.cornerColours, m)),
      lineOwners: used(this.lineOwners, n),
      triangleOwners,
      lineWidths: this.lineWidths ? used(this.lineWidths, n) : new Float32Array(0),
      lineEnds: this.lineEnds ? used(this.lineEnds, n) : new Uint8Array(0),
    };
  }
}

/** Room for so many chords or corners at first: drawings may have a hundred thousand layers of one line each. */
const FIRST = 16;

function wider<T extends Float32Array | Uint8Array | Uint32Array>(a: T, least: number): T {
  const make = a.constructor as new (n: number) => T;
  const b = new make(Math.max(least, a.length * 2));
  b.set(a);
  return b;
}

/** What of an array was filled: as it lies when most of it is, copied when much would be carried along for nothing. */
function used<T extends Float32Array | Uint8Array | Uint32Array>(a: T, n: number): T {
  return (n * 4 >= a.length * 3 ? a.subarray(0, n) : a.slice(0, n)) as T;
}

const asBytes = (a: Uint32Array): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);

/** Triangles cut to a box: each clipped side by side (Sutherland and Hodgman) and fanned again. */
export function clippedTriangles(box: Box2, xy: Float64Array): Float64Array {
  const out: number[] = [];
  const sides: ((x: number, y: number) => number)[] = [
    (x) => x - box.minX,
    (x) => box.maxX - x,
    (_x, y) => y - box.minY,
    (_x, y) => box.maxY - y,
  ];
  for (let i = 0; i + 5 < xy.length; i += 6) {
    let ring = Array.from(xy.subarray(i, i + 6));
    for (const side of sides) {
      const next: number[] = [];
      for (let k = 0; k < ring.length; k += 2) {
        const [ax, ay] = [ring[k], ring[k + 1]];
        const [bx, by] = [ring[(k + 2) % ring.length], ring[(k + 3) % ring.length]];
        const [da, db] = [side(ax!, ay!), side(bx!, by!)];
        if (da >= 0) next.push(ax!, ay!);
        if (da >= 0 !== db >= 0) {
          const t = da / (da - db);
          next.push(ax! + (bx! - ax!) * t, ay! + (by! - ay!) * t);
        }
      }
      ring = next;
      if (ring.length < 6) break;
    }
    for (let k = 2; k + 3 < ring.length; k += 2)
      out.push(ring[0]!, ring[1]!, ring[k]!, ring[k + 1]!, ring[k + 2]!, ring[k + 3]!);
  }
  return Float64Array.from(out);
}
