/** A set of handles as they stand in a file, as bits in pages: a large drawing has hundreds of thousands of them. */
export class HandleSet {
  private readonly pages = new Map<number, Uint32Array<ArrayBuffer>>();
  private lastNumber = -1;
  private lastPage = new Uint32Array(0);

  /** Adds the handle whose hex digits are `bytes[start, end)`; `false` when it was there. What is no handle counts as new. */
  add(bytes: Uint8Array, start: number, end: number): boolean {
    if (end - start > 12 || end === start) return true;
    let h = 0;
    for (let i = start; i < end; i++) {
      const c = bytes[i];
      const digit = c >= 48 && c <= 57 ? c - 48 : c >= 65 && c <= 70 ? c - 55 : c >= 97 && c <= 102 ? c - 87 : -1;
      if (digit < 0) return true;
      h = h * 16 + digit;
    }
    const number = Math.floor(h / 32768);
    if (number !== this.lastNumber) {
      let page = this.pages.get(number);
      if (!page) this.pages.set(number, (page = new Uint32Array(1024)));
      this.lastNumber = number;
      this.lastPage = page;
    }
    const bit = h & 32767;
    const mask = 1 << (bit & 31);
    const word = this.lastPage[bit >> 5];
    this.lastPage[bit >> 5] = word | mask;
    return (word & mask) === 0;
  }
}
