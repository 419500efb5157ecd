/** Numbers points by their exact coordinates: the same place, the same number. An open-addressed table without objects. */
export class PointTable {
  private slots: Int32Array;
  private mask: number;
  private coords: Float64Array;
  private readonly bits = new Int32Array(6);
  private readonly doubles = new Float64Array(this.bits.buffer);
  count = 0;

  constructor(expected = 1024) {
    let size = 16;
    while (size < 2 * expected) size *= 2;
    this.slots = new Int32Array(size).fill(-1);
    this.mask = size - 1;
    this.coords = new Float64Array(3 * Math.max(16, expected));
  }

  /** The number of a place, given anew where it has none. */
  number(x: number, y: number, z = 0): number {
    const slot = this.slot(x, y, z);
    const known = this.slots[slot]!;
    if (known >= 0) return known;
    if (3 * this.count === this.coords.length) {
      const next = new Float64Array(2 * this.coords.length);
      next.set(this.coords);
      this.coords = next;
    }
    this.coords.set([x, y, z], 3 * this.count);
    this.slots[slot] = this.count++;
    if (2 * this.count > this.slots.length) this.grow();
    return this.count - 1;
  }

  /** The number of a place; -1 where it has none. */
  find(x: number, y: number, z = 0): number {
    return this.slots[this.slot(x, y, z)]!;
  }

  /** x, y, z of each number. */
  get points(): Float64Array {
    return this.coords.subarray(0, 3 * this.count);
  }

  private slot(x: number, y: number, z: number): number {
    // Adding 0 makes one of both zeros.
    this.doubles[0] = x + 0;
    this.doubles[1] = y + 0;
    this.doubles[2] = z + 0;
    let h = 0x811c9dc5;
    for (const b of this.bits) h = Math.imul(h ^ b, 0x01000193) ^ (h >>> 15);
    const { coords, slots, mask } = this;
    for (let s = (h ^ (h >>> 13)) & mask; ; s = (s + 1) & mask) {
      const n = slots[s]!;
      if (n < 0 || (coords[3 * n] === x && coords[3 * n + 1] === y && coords[3 * n + 2] === z)) return s;
    }
  }

  private grow(): void {
    this.slots = new Int32Array(2 * this.slots.length).fill(-1);
    this.mask = this.slots.length - 1;
    for (let n = 0; n < this.count; n++)
      this.slots[this.slot(this.coords[3 * n]!, this.coords[3 * n + 1]!, this.coords[3 * n + 2]!)] = n;
  }
}
