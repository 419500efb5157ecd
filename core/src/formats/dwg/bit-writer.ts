import { UnwritableNumber } from '../unwritable.js';

const scratch = new DataView(new ArrayBuffer(8));

/**
 * Writes the bit codes of a DWG; the counterpart of `BitReader`, with the same names. Numbers must fit their code.
 *
 * Bits of the byte at hand beyond `at` are always zero; bytes behind it may hold anything, since a write that begins a
 * byte sets it rather than adding to it. So nothing need be wiped before memory is used again.
 */
export class BitWriter {
  bytes: Uint8Array;
  /** How many bits were written. */
  at = 0;
  private view: DataView;
  /** From where on there may be no room for the longest code. */
  private limit: number;

  /** `size`: how many bytes there is room for without moving them. */
  constructor(size = 256) {
    this.bytes = new Uint8Array(size + 16);
    this.view = new DataView(this.bytes.buffer);
    this.limit = 8 * size;
  }

  /** Gives away what was written, and begins anew in memory of the same size. */
  takeWritten(): Uint8Array {
    const { written } = this;
    this.bytes = new Uint8Array(this.bytes.length);
    this.view = new DataView(this.bytes.buffer);
    this.at = 0;
    return written;
  }

  /** Begins anew in the same memory. */
  clear(): void {
    this.at = 0;
  }
  /** What was written, the last byte filled up with zeros. */
  get written(): Uint8Array {
    return this.bytes.subarray(0, (this.at + 7) >> 3);
  }

  /** Makes room for so many more bits, and for a double behind them. */
  private room(bits: number): void {
    const need = ((this.at + bits + 7) >> 3) + 16;
    if (need <= this.bytes.length) return;
    const wider = new Uint8Array(Math.max(this.bytes.length * 2, need));
    wider.set(this.bytes.subarray(0, (this.at + 7) >> 3));
    this.bytes = wider;
    this.view = new DataView(wider.buffer);
    this.limit = 8 * (wider.length - 16);
  }

  /** The lowest bits of `value`, at most eight; those above must be zero. */
  private few(value: number, n: number): void {
    if (this.at > this.limit) this.room(n);
    const s = this.at & 7;
    const i = this.at >> 3;
    const v = value << (8 - n);
    if (s === 0) this.bytes[i] = v;
    else {
      this.bytes[i]! |= v >> s;
      if (s + n > 8) this.bytes[i + 1] = v << (8 - s);
    }
    this.at += n;
  }
  bit(value: number | boolean): void {
    this.few(value ? 1 : 0, 1);
  }
  bits2(value: number): void {
    this.few(value & 3, 2);
  }
  byte(value: number): void {
    this.few(value & 255, 8);
  }
  short(value: number): void {
    this.byte(value);
    this.byte(value >> 8);
  }
  /** Four bytes, the lowest first. */
  long(value: number): void {
    scratch.setInt32(0, value, true);
    this.word(scratch.getInt32(0));
  }
  /** 32 bits, the highest first. */
  private word(w: number): void {
    if (this.at > this.limit) this.room(32);
    const s = this.at & 7;
    const i = this.at >> 3;
    if (s === 0) this.view.setInt32(i, w);
    else {
      this.view.setInt32(i, (this.bytes[i]! << 24) | (w >>> s));
      this.bytes[i + 4] = w << (8 - s);
    }
    this.at += 32;
  }
  double(value: number): void {
    if (!Number.isFinite(value)) throw new UnwritableNumber(value);
    if (this.at > this.limit) this.room(64);
    scratch.setFloat64(0, value, true);
    const a = scratch.getInt32(0);
    const b = scratch.getInt32(4);
    const s = this.at & 7;
    const i = this.at >> 3;
    const { view } = this;
    if (s === 0) {
      view.setInt32(i, a);
      view.setInt32(i + 4, b);
    } else {
      view.setInt32(i, (this.bytes[i]! << 24) | (a >>> s));
      view.setInt32(i + 4, (a << (32 - s)) | (b >>> s));
      this.bytes[i + 8] = b << (8 - s);
    }
    this.at += 64;
  }
  bitShort(value: number): void {
    if (value === 0) this.bits2(2);
    else if (value === 256) this.bits2(3);
    else if (value > 0 && value < 256) {
      this.bits2(1);
      this.byte(value);
    } else {
      this.bits2(0);
      this.short(value);
    }
  }
  bitLong(value: number): void {
    if (value === 0) this.bits2(2);
    else if (value > 0 && value < 256) {
      this.bits2(1);
      this.byte(value);
    } else {
      this.bits2(0);
      this.long(value);
    }
  }
  bitLongLong(value: number): void {
    let n = 0;
    for (let v = value; v >= 1; v = Math.floor(v / 256)) n++;
    this.bits2(n >> 1);
    this.bit(n & 1);
    for (let v = value; n > 0; n--, v = Math.floor(v / 256)) this.byte(v % 256);
  }
  /** Minus zero goes in full, so that it comes back as it was. */
  bitDouble(value: number): void {
    if (value === 1) this.bits2(1);
    else if (value === 0 && !Object.is(value, -0)) this.bits2(2);
    else {
      this.bits2(0);
      this.double(value);
    }
  }
  defaultDouble(value: number, base: number): void {
    if (Object.is(value, base)) return this.bits2(0);
    scratch.setFloat64(0, base, true);
    const high = scratch.getInt32(4, true);
    scratch.setFloat64(0, value, true);
    const own = scratch.getInt32(4, true);
    if (own >>> 16 !== high >>> 16) {
      this.bits2(3);
      return this.double(value);
    }
    const low = scratch.getInt32(0);
    const same = own === high;
    this.bits2(same ? 1 : 2);
    if (!same) this.short(own);
    this.word(low);
  }
  modular(value: number): void {
    let v = value;
    while (v >= 128) {
      this.byte((v % 128) | 128);
      v = Math.floor(v / 128);
    }
    this.byte(v);
  }
  signedModular(value: number): void {
    let v = Math.abs(value);
    while (v >= 64) {
      this.byte((v % 128) | 128);
      v = Math.floor(v / 128);
    }
    this.byte(v | (value < 0 ? 64 : 0));
  }
  modularShort(value: number): void {
    let v = value;
    while (v >= 32768) {
      this.short((v % 32768) | 32768);
      v = Math.floor(v / 32768);
    }
    this.short(v);
  }
  /** H, absolute. Handle 0 has no bytes. */
  handle(code: number, handle: number): void {
    let n = 0;
    if (handle < 0x7fffffff) {
      for (let v = handle; v > 0; v >>= 8) n++;
      this.byte((code << 4) | n);
      for (let k = 8 * n - 8; k >= 0; k -= 8) this.byte(handle >> k);
      return;
    }
    for (let v = handle; v >= 1; v = Math.floor(v / 256)) n++;
    this.byte((code << 4) | n);
    for (let k = n - 1; k >= 0; k--) this.byte(Math.floor(handle / 256 ** k) % 256);
  }
  /** The first `n` of the bytes. */
  put(bytes: Uint8Array, n = bytes.length): void {
    if (this.at + 8 * n > this.limit) this.room(n * 8);
    const s = this.at & 7;
    let i = this.at >> 3;
    const to = this.bytes;
    if (s === 0) for (let k = 0; k < n; k++) to[i++] = bytes[k]!;
    else {
      for (let k = 0; k < n; k++, i++) {
        to[i]! |= bytes[k]! >> s;
        to[i + 1] = bytes[k]! << (8 - s);
      }
    }
    this.at += n * 8;
  }
  /** The bits of another writer after these. */
  append(other: BitWriter): void {
    this.putBits(other.bytes, other.at);
  }
  /** The first `n` bits of the bytes. */
  putBits(bytes: Uint8Array, n: number): void {
    const whole = n >> 3;
    this.put(bytes, whole);
    const left = n & 7;
    if (left > 0) this.few(bytes[whole]! >> (8 - left), left);
  }
  /** Writes a long over bits that were written before. */
  patchLong(at: number, value: number): void {
    const end = this.at;
    const s = at & 7;
    const last = (at >> 3) + 4;
    const before = this.bytes[at >> 3]! & ~(255 >> s);
    const behind = s === 0 ? 0 : this.bytes[last]! & (255 >> s);
    this.bytes[at >> 3] = before;
    this.at = at;
    this.long(value);
    if (s !== 0) this.bytes[last]! |= behind;
    this.at = end;
  }
  /** Writes a whole number of so many bits over others, its lowest byte first. */
  patch(at: number, value: number, size: number): void {
    for (let k = 0; k < size; k++) {
      const b = (value >>> ((k >> 3) * 8 + 7 - (k & 7))) & 1;
      const p = at + k;
      const mask = 128 >> (p & 7);
      if (b) this.bytes[p >> 3]! |= mask;
      else this.bytes[p >> 3]! &= ~mask;
    }
  }
  /** Zeros up to the next whole byte. */
  align(): void {
    this.at = (this.at + 7) & ~7;
  }
}
