import type { PartBase } from '../../drawing/arrows.js';
import type { Paint } from '../../drawing/appearance.js';
import type { Entity } from '../../drawing/entity.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, applyPoint, compose } from '../../geometry/affine.js';
import type { Vec3 } from '../../geometry/vector.js';
import { cross, length, scaled } from '../../geometry/vector.js';
import type { Bag } from './bag.js';

const MOST_CHUNKS = 100_000;

/**
 * The preview that a program left for an entity of its own kind: groups 310 after their length in 92 or 160, as chunks
 * of size, type and data. Understood are circles, arcs, polylines, polygons, text, colours and maps; other chunks are
 * passed over.
 */
export function decodeProxyGraphic(bag: Bag, part: PartBase): Entity[] {
  let hex = '';
  let sized = false;
  for (let i = 0; i < bag.count; i++) {
    const code = bag.codes[i];
    if (code === 92 || code === 160) {
      if (hex !== '') break;
      sized = true;
    } else if (code === 310 && sized) hex += bag.textAt(i);
    else if (hex !== '' && code !== 310) break;
  }
  if (hex.length < 32 || hex.length % 2 !== 0 || !/^[0-9A-Fa-f]+$/.test(hex)) return [];
  const bytes = new Uint8Array(hex.length / 2);
  for (let i = 0; i < bytes.length; i++) bytes[i] = parseInt(hex.slice(2 * i, 2 * i + 2), 16);
  return new ProxyReader(bytes, part).read();
}

class ProxyReader {
  private readonly view: DataView;
  private readonly out: Entity[] = [];
  private readonly maps: Affine[] = [IDENTITY];
  private base: PartBase;

  constructor(
    private readonly bytes: Uint8Array,
    part: PartBase,
  ) {
    this.view = new DataView(bytes.buffer);
    const { normal: _n, ...flat } = part;
    this.base = flat;
  }

  read(): Entity[] {
    const { view } = this;
    let at = 8;
    for (let n = 0; n < MOST_CHUNKS && at + 8 <= view.byteLength; n++) {
      const size = view.getInt32(at, true);
      if (size < 8 || at + size > view.byteLength) break;
      this.chunk(view.getInt32(at + 4, true), at + 8, at + size);
      at += size;
    }
    return this.out;
  }

  private double(at: number): number {
    const v = this.view.getFloat64(at, true);
    return Number.isFinite(v) ? v : 0;
  }
  private point(at: number): Vec3 {
    return [this.double(at), this.double(at + 8), this.double(at + 16)];
  }
  private get map(): Affine {
    return this.maps[this.maps.length - 1]!;
  }

  private chunk(type: number, at: number, end: number): void {
    const room = end - at;
    switch (type) {
      case 2:
        if (room >= 56) this.arc(this.point(at), this.double(at + 24), this.point(at + 32), null, 2 * Math.PI);
        return;
      case 4:
        if (room >= 88)
          this.arc(
            this.point(at),
            this.double(at + 24),
            this.point(at + 32),
            this.point(at + 56),
            this.double(at + 80),
          );
        return;
      case 6:
      case 7:
      case 32:
        return this.polyline(at, end, type === 7);
      case 10:
      case 36:
        return this.text(at, end, type === 36);
      case 14: {
        const index = this.view.getInt32(at, true);
        const stroke: Paint =
          index === 256
            ? { kind: 'byLayer' }
            : index === 0
              ? { kind: 'byBlock' }
              : { kind: 'index', index: index & 255 };
        this.base = { ...this.base, look: { ...this.base.look, stroke } };
        return;
      }
      case 29:
      case 30:
        if (room >= 128 && this.maps.length < 64) this.maps.push(compose(this.map, this.matrix(at)));
        return;
      case 31:
        if (this.maps.length > 1) this.maps.pop();
        return;
    }
  }

  /** Sixteen doubles, row by row. */
  private matrix(at: number): Affine {
    const d = (r: number, c: number): number => this.double(at + 8 * (4 * r + c));
    return [d(0, 0), d(1, 0), d(2, 0), d(0, 1), d(1, 1), d(2, 1), d(0, 2), d(1, 2), d(2, 2), d(0, 3), d(1, 3), d(2, 3)];
  }

  private arc(centre: Vec3, radius: number, normal: Vec3, from: Vec3 | null, sweep: number): void {
    const n: Vec3 = length(normal) > 0 ? normal : [0, 0, 1];
    const start: Vec3 = from && length(from) > 0 ? from : Math.abs(n[2]) > 0.5 ? [1, 0, 0] : cross(n, [0, 0, 1]);
    const k = radius / length(start);
    const a = applyPoint(this.map, centre);
    const p = applyPoint(this.map, [centre[0] + start[0] * k, centre[1] + start[1] * k, centre[2] + start[2] * k]);
    const major: Vec3 = [p[0] - a[0], p[1] - a[1], p[2] - a[2]];
    if (!(length(major) > 0)) return;
    const up = scaled(n, 1 / length(n));
    this.out.push({
      kind: 'ellipse',
      ...this.base,
      centre: a,
      major,
      ratio: 1,
      start: Math.min(0, sweep),
      end: Math.max(0, sweep),
      ...(up[2] !== 1 && { normal: up }),
    });
  }

  private polyline(at: number, end: number, closed: boolean): void {
    if (end - at < 4) return;
    const n = this.view.getInt32(at, true);
    if (n < 2 || n > (end - at - 4) / 24) return;
    const points = new Float64Array(3 * n);
    for (let i = 0; i < n; i++) points.set(applyPoint(this.map, this.point(at + 4 + 24 * i)), 3 * i);
    this.out.push({ kind: 'polyline', ...this.base, points, dim: 3, elevation: 0, closed });
  }

  private text(at: number, end: number, wide: boolean): void {
    if (end - at < 100) return;
    const position = applyPoint(this.map, this.point(at));
    const direction = this.point(at + 48);
    const size = this.double(at + 72);
    let text = '';
    for (let i = at + 96; i + (wide ? 1 : 0) < end; i += wide ? 2 : 1) {
      const c = wide ? this.view.getUint16(i, true) : this.bytes[i]!;
      if (c === 0) break;
      text += String.fromCharCode(c);
    }
    if (text === '' || !(size > 0)) return;
    this.out.push({
      kind: 'text',
      ...this.base,
      text,
      at: position,
      size,
      sizeOf: 'capital',
      rotation: Math.atan2(direction[1], direction[0]),
      widthFactor: this.double(at + 80) || 1,
      oblique: this.double(at + 88),
      horizontal: 'left',
      vertical: 'baseline',
      style: 'Standard',
    });
  }
}
