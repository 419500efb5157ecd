import { Pile } from './pile.js';
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
  private readonly lines = new Pile(Float32Array);
  private readonly lineColours = new Pile(Uint32Array);
  private readonly lineOwners = new Pile(Uint32Array);
  private lineWidths: Float32Array | null = null;
  private lineEnds: Uint8Array | null = null;
  private lineCount = 0;
  private readonly corners = new Pile(Float32Array);
  private readonly cornerColours = new Pile(Uint32Array);
  private readonly areaOwners = new Pile(Uint32Array);
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
    const { lines, lineColours, lineOwners, depth, lineCount: n } = this;
    const [ox, oy] = this.origin;
    lines.room(6);
    const { now } = lines;
    const i = lines.at;
    now[i] = x0 - ox;
    now[i + 1] = y0 - oy;
    now[i + 2] = depth;
    now[i + 3] = x1 - ox;
    now[i + 4] = y1 - oy;
    now[i + 5] = depth;
    lines.at += 6;
    lineColours.room(2);
    lineColours.now[lineColours.at++] = this.packed[0]!;
    lineColours.now[lineColours.at++] = this.packed[0]!;
    lineOwners.room(1);
    lineOwners.now[lineOwners.at++] = this.owner;
    if (this.width !== 0) {
      if (!this.lineWidths || n >= this.lineWidths.length) {
        this.lineWidths = wider(this.lineWidths ?? new Float32Array(0), n + 1);
        this.lineEnds = wider(this.lineEnds ?? new Uint8Array(0), n + 1);
      }
      this.lineWidths[n] = this.width;
      this.lineEnds![n] = ends;
    }
    this.lineCount = n + 1;
  }

  /** Triangles as x, y per corner. */
  area(all: Float64Array): void {
    const xy = this.clip ? clippedTriangles(this.clip, all) : all;
    const [ox, oy] = this.origin;
    const { corners, cornerColours, areaOwners, depth } = this;
    const colour = this.packed[0]!;
    for (let i = 0; i < xy.length; i += 6) {
      corners.room(9);
      cornerColours.room(3);
      areaOwners.room(1);
      areaOwners.now[areaOwners.at++] = this.owner;
      for (let k = i; k < i + 6; k += 2) {
        const [x, y] = [xy[k]!, xy[k + 1]!];
        corners.now[corners.at++] = x - ox;
        corners.now[corners.at++] = y - oy;
        corners.now[corners.at++] = depth;
        cornerColours.now[cornerColours.at++] = colour;
        this.box?.add(x, y);
      }
    }
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
    const n = this.lineCount;
    // Widths were kept as far as the last chord that has one.
    const filled = <T extends Float32Array | Uint8Array>(a: T): T =>
      a.length >= n ? (a.slice(0, n) as T) : wider(a, n, n);
    return {
      name,
      lines: this.lines.take(),
      lineColours: asBytes(this.lineColours.take()),
      triangles: this.corners.take(),
      triangleColours: asBytes(this.cornerColours.take()),
      lineOwners: this.lineOwners.take(),
      triangleOwners: this.areaOwners.take(),
      lineWidths: this.lineWidths ? filled(this.lineWidths) : new Float32Array(0),
      lineEnds: this.lineEnds ? filled(this.lineEnds) : new Uint8Array(0),
    };
  }
}

/** The same numbers with room for at least so many, by itself for twice as many. */
function wider<T extends Float32Array | Uint8Array>(a: T, least: number, room = Math.max(least, a.length * 2)): T {
  const b = new (a.constructor as new (n: number) => T)(room);
  b.set(a);
  return b;
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
