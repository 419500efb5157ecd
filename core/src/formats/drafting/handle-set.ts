/** A set of handles, as bits in pages: a large drawing has hundreds of thousands of them. */
export class HandleSet {
  private readonly pages = new Map<number, Uint32Array<ArrayBuffer>>();
  private lastNumber = -1;
  private lastPage = new Uint32Array(0);

  private page(h: number, make: boolean): Uint32Array<ArrayBuffer> | null {
    const number = Math.floor(h / 32768);
    if (number !== this.lastNumber) {
      let page = this.pages.get(number);
      if (!page) {
        if (!make) return null;
        this.pages.set(number, (page = new Uint32Array(1024)));
      }
      this.lastNumber = number;
      this.lastPage = page;
    }
    return this.lastPage;
  }

  has(h: number): boolean {
    const page = h >= 0 ? this.page(h, false) : null;
    return page !== null && (page[(h & 32767) >> 5]! & (1 << (h & 31))) !== 0;
  }

  /** Adds all handles of another set. */
  addAll(other: HandleSet): void {
    for (const [number, page] of other.pages) {
      const own = this.page(number * 32768, true)!;
      for (let i = 0; i < page.length; i++) own[i]! |= page[i]!;
    }
  }

  /** Adds a handle by its number; `false` when it was there. Negative numbers stand for none and count as new. */
  addNumber(h: number): boolean {
    if (h < 0) return true;
    const page = this.page(h, true)!;
    const word = page[(h & 32767) >> 5]!;
    const mask = 1 << (h & 31);
    page[(h & 32767) >> 5] = word | mask;
    return (word & mask) === 0;
  }
}
