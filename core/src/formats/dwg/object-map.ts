import { joined } from '../joined.js';
import { CRC_SEED, crc16 } from './checksums.js';
import { BitReader } from './bit-reader.js';
import { BitWriter } from './bit-writer.js';

/** Where the objects lie, by handle. */
export class ObjectMap {
  /** Handles in rising order. */
  readonly handles: Float64Array;
  private readonly offsets: Float64Array;
  private last = 0;
  /** Pieces whose checksum did not match. */
  badPieces = 0;
  truncated = false;

  private constructor(handles: number[], offsets: number[]) {
    let rising = true;
    for (let i = 1; i < handles.length && rising; i++) rising = handles[i]! > handles[i - 1]!;
    if (rising) {
      this.handles = Float64Array.from(handles);
      this.offsets = Float64Array.from(offsets);
      return;
    }
    const order = handles.map((_, i) => i).sort((a, b) => handles[a]! - handles[b]!);
    this.handles = Float64Array.from(order, (i) => handles[i]!);
    this.offsets = Float64Array.from(order, (i) => offsets[i]!);
  }

  /** The offset of an object, or -1. */
  offsetOf(handle: number): number {
    const { handles } = this;
    // Mostly the next one is asked for.
    let i = this.last + 1;
    if (handles[i] !== handle) i = handles[this.last] === handle ? this.last : this.search(handle);
    if (i < 0) return -1;
    this.last = i;
    return this.offsets[i]!;
  }
  private search(handle: number): number {
    const { handles } = this;
    let [a, b] = [0, handles.length - 1];
    while (a <= b) {
      const m = (a + b) >> 1;
      if (handles[m] === handle) return m;
      if (handles[m]! < handle) a = m + 1;
      else b = m - 1;
    }
    return -1;
  }

  /**
   * Pieces of at most 2032 bytes: size and checksum with their highest byte first, between them pairs of how much
   * farther the next handle and its object lie (Open Design Specification, "Object map"). An empty piece is the last.
   */
  static read(bytes: Uint8Array): ObjectMap {
    const handles: number[] = [];
    const offsets: number[] = [];
    let at = 0;
    let bad = 0;
    let truncated = false;
    for (;;) {
      if (at + 2 > bytes.length) {
        truncated = true;
        break;
      }
      const size = (bytes[at]! << 8) | bytes[at + 1]!;
      if (size <= 2) break;
      if (at + size + 2 > bytes.length) truncated = true;
      const end = Math.min(at + size, bytes.length);
      const r = new BitReader(bytes, (at + 2) * 8, end * 8);
      let handle = 0;
      let offset = 0;
      while (r.left >= 16) {
        handle += r.modular();
        offset += r.signedModular();
        if (r.overrun) break;
        if (handle > 0 && handle < Number.MAX_SAFE_INTEGER) {
          handles.push(handle);
          offsets.push(offset);
        }
      }
      if (truncated) break;
      if (crc16(CRC_SEED, bytes, at, end) !== ((bytes[end]! << 8) | bytes[end + 1]!)) bad++;
      at = end + 2;
    }
    const map = new ObjectMap(handles, offsets);
    map.badPieces = bad;
    map.truncated = truncated;
    return map;
  }
}

const PIECE = 2032;

/** The bytes of an object map; handles must rise. Offsets count from `base`. */
export function writeObjectMap(handles: ArrayLike<number>, offsets: ArrayLike<number>, base = 0): Uint8Array {
  const pieces: Uint8Array[] = [];
  const w = new BitWriter();
  const seal = (): void => {
    const size = (w.at >> 3) + 2;
    const piece = new Uint8Array(size + 2);
    piece[0] = size >> 8;
    piece[1] = size & 255;
    piece.set(w.written, 2);
    const crc = crc16(CRC_SEED, piece, 0, size);
    piece[size] = crc >> 8;
    piece[size + 1] = crc & 255;
    pieces.push(piece);
    w.clear();
  };
  let [handle, offset] = [0, 0];
  for (let i = 0; i < handles.length; i++) {
    if ((w.at >> 3) + 2 > PIECE - 20) {
      seal();
      [handle, offset] = [0, 0];
    }
    w.modular(handles[i]! - handle);
    w.signedModular(offsets[i]! + base - offset);
    handle = handles[i]!;
    offset = offsets[i]! + base;
  }
  if (w.at > 0) seal();
  seal();
  return joined(pieces);
}
