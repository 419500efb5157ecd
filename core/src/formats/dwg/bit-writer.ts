const scratch = new DataView(new ArrayBuffer(8));

/** Writes the bit codes of a DWG; the counterpart of `BitReader`, with the same names. Numbers must fit their code. */
export class BitWriter {
  bytes = new Uint8Array(256);
  /** How many bits were written. */
  at = 0;

  /** Begins anew in the same memory. */
  clear(): void {
    this.bytes.fill(0, 0, (this.at + 7) >> 3);
    this.at = 0;
  }
  /** What was written, the last byte filled up with zeros. */
  get written(): Uint8Array {
    return this.bytes.subarray(0, (this.at + 7) >> 3);
  }

  private room(bits: number): void {
    const need = ((this.at + bits + 7) >> 3) + 8;
    if (need <= this.bytes.length) return;
    const wider = new Uint8Array(Math.max(this.bytes.length * 2, need));
    wider.set(this.bytes);
    this.bytes = wider;
  }

  bit(value: number | boolean): void {
    this.room(1);
    if (value) this.bytes[this.at >> 3] |= 128 >> (this.at & 7);
    this.at++;
  }
  bits2(value: number): void {
    this.room(2);
    const s = this.at & 7;
    const i = this.at >> 3;
    const v = (value & 3) << 6;
    this.bytes[i] |= v >> s;
    if (s === 7) this.bytes[i + 1] = (v << 1) & 255;
    this.at += 2;
  }
  byte(value: number): void {
    this.room(8);
    const s = this.at & 7;
    const i = this.at >> 3;
    const v = value & 255;
    this.bytes[i] |= v >> s;
    if (s > 0) this.bytes[i + 1] = (v << (8 - s)) & 255;
    this.at += 8;
  }
  short(value: number): void {
    this.byte(value);
    this.byte(value >> 8);
  }
  /** Four bytes, the lowest first. Bytes beyond the last bit are always zero. */
  long(value: number): void {
    this.room(32);
    const s = this.at & 7;
    const i = this.at >> 3;
    const { bytes } = this;
    bytes[i] |= (value & 255) >> s;
    // From here on each byte holds the end of one and the beginning of the next.
    bytes[i + 1] = ((value << (8 - s)) & 255) | (((value >> 8) & 255) >> s);
    bytes[i + 2] = (((value >> 8) << (8 - s)) & 255) | (((value >> 16) & 255) >> s);
    bytes[i + 3] = (((value >> 16) << (8 - s)) & 255) | ((value >>> 24) >> s);
    bytes[i + 4] = ((value >>> 24) << (8 - s)) & 255;
    this.at += 32;
  }
  double(value: number): void {
    if (!Number.isFinite(value)) throw new RangeError(`a drawing file cannot hold ${value}`);
    scratch.setFloat64(0, value, true);
    this.long(scratch.getInt32(0, true));
    this.long(scratch.getInt32(4, true));
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
    const high = scratch.getUint16(6, true);
    const middle = scratch.getUint16(4, true);
    scratch.setFloat64(0, value, true);
    if (scratch.getUint16(6, true) !== high) {
      this.bits2(3);
      return this.double(value);
    }
    const same = scratch.getUint16(4, true) === middle;
    this.bits2(same ? 1 : 2);
    const low = scratch.getInt32(0, true);
    if (!same) this.short(scratch.getUint16(4, true));
    this.long(low);
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
    this.room(n * 8);
    const s = this.at & 7;
    let i = this.at >> 3;
    const to = this.bytes;
    for (let k = 0; k < n; k++, i++) {
      to[i] |= bytes[k] >> s;
      to[i + 1] = bytes[k] << (8 - s);
    }
    this.at += n * 8;
  }
  /** The bits of another writer after these. */
  append(other: BitWriter): void {
    const whole = other.at >> 3;
    this.put(other.bytes, whole);
    for (let k = whole * 8; k < other.at; k++) this.bit((other.bytes[k >> 3] >> (7 - (k & 7))) & 1);
  }
  /** Writes a long over bits that were written before. */
  patchLong(at: number, value: number): void {
    this.patch(at, value, 32);
  }
  /** Writes a whole number of so many bits over others, its lowest byte first. */
  patch(at: number, value: number, size: number): void {
    for (let k = 0; k < size; k++) {
      const b = (value >>> ((k >> 3) * 8 + 7 - (k & 7))) & 1;
      const p = at + k;
      const mask = 128 >> (p & 7);
      if (b) this.bytes[p >> 3] |= mask;
      else this.bytes[p >> 3] &= ~mask;
    }
  }
  /** Zeros up to the next whole byte. */
  align(): void {
    this.room(8);
    this.at = (this.at + 7) & ~7;
  }
}
