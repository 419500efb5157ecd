const CHUNK = 1 << 16;

/**
 * Hands out small arrays of doubles that share large buffers. A `Float64Array` of its own costs several times what a
 * few coordinates do; a view costs little, and a drawing that is dropped drops the buffers with it.
 */
export class DoublePool {
  private buffer = new ArrayBuffer(0);
  private used = 0;

  /** An array of `n` zeros. Large ones get a buffer of their own. */
  take(n: number): Float64Array {
    if (n > CHUNK / 8) return new Float64Array(n);
    if (this.used + n * 8 > this.buffer.byteLength) {
      this.buffer = new ArrayBuffer(CHUNK * 8);
      this.used = 0;
    }
    const view = new Float64Array(this.buffer, this.used, n);
    this.used += n * 8;
    return view;
  }
}
