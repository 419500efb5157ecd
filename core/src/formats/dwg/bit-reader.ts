/** A reference to another object: how it is meant (2 to 5: soft or hard, owner or pointer) and whose handle it is. */
export interface HandleRef {
  code: number;
  handle: number;
}

const scratch = new DataView(new ArrayBuffer(8));
const scratchBytes = new Uint8Array(scratch.buffer);

/**
 * Reads the bit codes of a DWG (Open Design Specification for .dwg files, section 2, "Bit codes and data definitions").
 * Bits count from the highest of each byte; whole numbers of several bytes have their lowest byte first. Reading past
 * `end` gives zeros and sets `overrun`, so that damage never throws in the middle of an object.
 */
export class BitReader {
  private readonly view: DataView;
  overrun = false;

  /** `at` and `end` in bits from the start of `bytes`. */
  constructor(
    readonly bytes: Uint8Array,
    public at = 0,
    public end = bytes.length * 8,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  /** Comes to other bits of the same bytes. */
  reset(at: number, end: number): this {
    this.at = at;
    this.end = end;
    this.overrun = false;
    return this;
  }

  /** How many bits are left. */
  get left(): number {
    return this.end - this.at;
  }

  /** B */
  bit(): number {
    const { at } = this;
    if (at >= this.end) return this.past();
    this.at = at + 1;
    return (this.bytes[at >> 3]! >> (7 - (at & 7))) & 1;
  }
  /** BB */
  bits2(): number {
    const { at } = this;
    if (at + 2 > this.end) return this.past();
    this.at = at + 2;
    const s = at & 7;
    const i = at >> 3;
    return s === 7 ? ((this.bytes[i]! & 1) << 1) | (this.bytes[i + 1]! >> 7) : (this.bytes[i]! >> (6 - s)) & 3;
  }
  /** RC */
  byte(): number {
    const { at } = this;
    if (at + 8 > this.end) return this.past();
    this.at = at + 8;
    const s = at & 7;
    const i = at >> 3;
    return s === 0 ? this.bytes[i]! : ((this.bytes[i]! << s) | (this.bytes[i + 1]! >> (8 - s))) & 255;
  }
  /** RS, without sign. */
  short(): number {
    const low = this.byte();
    return low | (this.byte() << 8);
  }
  /** RL, with sign. */
  long(): number {
    const low = this.short();
    return low | (this.short() << 16);
  }
  /** RD */
  double(): number {
    const { at } = this;
    if (at + 64 > this.end) return this.past();
    this.at = at + 64;
    const s = at & 7;
    let i = at >> 3;
    if (s === 0) return this.view.getFloat64(i, true);
    const { bytes } = this;
    const r = 8 - s;
    for (let k = 0; k < 8; k++, i++) scratchBytes[k] = (bytes[i]! << s) | (bytes[i + 1]! >> r);
    return scratch.getFloat64(0, true);
  }
  /** BS, with sign. */
  bitShort(): number {
    switch (this.bits2()) {
      case 0:
        return (this.short() << 16) >> 16;
      case 1:
        return this.byte();
      case 2:
        return 0;
      default:
        return 256;
    }
  }
  /** BL, with sign. */
  bitLong(): number {
    switch (this.bits2()) {
      case 0:
        return this.long();
      case 1:
        return this.byte();
      default:
        return 0;
    }
  }
  /** BLL: three bits of length, then that many bytes. */
  bitLongLong(): number {
    let n = (this.bits2() << 1) | this.bit();
    let value = 0;
    for (let k = 1; n > 0; n--, k *= 256) value += this.byte() * k;
    return value;
  }
  /** BD */
  bitDouble(): number {
    switch (this.bits2()) {
      case 0:
        return this.double();
      case 1:
        return 1;
      default:
        return 0;
    }
  }
  /** DD: a double said by how it differs from another. */
  defaultDouble(base: number): number {
    switch (this.bits2()) {
      case 0:
        return base;
      case 1:
        scratch.setFloat64(0, base, true);
        for (let k = 0; k < 4; k++) scratchBytes[k] = this.byte();
        return scratch.getFloat64(0, true);
      case 2:
        scratch.setFloat64(0, base, true);
        scratchBytes[4] = this.byte();
        scratchBytes[5] = this.byte();
        for (let k = 0; k < 4; k++) scratchBytes[k] = this.byte();
        return scratch.getFloat64(0, true);
      default:
        return this.double();
    }
  }
  /** MC: seven bits a byte, the lowest first, a set high bit when more follow. Without sign. */
  modular(): number {
    let value = 0;
    for (let k = 1, n = 0; n < 8; n++, k *= 128) {
      const b = this.byte();
      value += (b & 127) * k;
      if (b < 128) break;
    }
    return value;
  }
  /** MC with sign: bit 0x40 of the last byte. */
  signedModular(): number {
    let value = 0;
    for (let k = 1, n = 0; n < 8; n++, k *= 128) {
      const b = this.byte();
      if (b >= 128) {
        value += (b & 127) * k;
        continue;
      }
      value += (b & 63) * k;
      return b & 64 ? -value : value;
    }
    return value;
  }
  /** MS: fifteen bits a short. */
  modularShort(): number {
    let value = 0;
    for (let k = 1, n = 0; n < 3; n++, k *= 32768) {
      const s = this.short();
      value += (s & 32767) * k;
      if (s < 32768) break;
    }
    return value;
  }
  /**
   * H: four bits of code, four of length, then the handle with its highest byte first. Codes 6, 8, 10 and 12 are
   * relative to `own`: the next, the one before, so many after or before. The answer holds the absolute handle.
   */
  handle(own = 0): HandleRef {
    const head = this.byte();
    const code = head >> 4;
    let value = 0;
    for (let n = head & 15; n > 0; n--) value = value * 256 + this.byte();
    switch (code) {
      case 6:
        return { code: 4, handle: own + 1 };
      case 8:
        return { code: 4, handle: own - 1 };
      case 10:
        return { code: 4, handle: own + value };
      case 12:
        return { code: 4, handle: own - value };
      default:
        return { code, handle: value };
    }
  }
  /** `n` bytes. */
  take(n: number): Uint8Array {
    const room = Math.max(0, Math.min(n, (this.end - this.at) >> 3));
    if (room < n) this.overrun = true;
    const s = this.at & 7;
    const i = this.at >> 3;
    this.at += room * 8;
    if (s === 0) return this.bytes.slice(i, i + room);
    const out = new Uint8Array(room);
    for (let k = 0; k < room; k++) out[k] = (this.bytes[i + k]! << s) | (this.bytes[i + k + 1]! >> (8 - s));
    return out;
  }

  private past(): number {
    this.overrun = true;
    this.at = this.end;
    return 0;
  }
}
