/** Which of many numbers belong together: each by the root of all that it was united with. */
export class Joined {
  private readonly up: Int32Array;
  constructor(count: number) {
    this.up = Int32Array.from({ length: count }, (_, i) => i);
  }
  root(i: number): number {
    while (this.up[i] !== i) i = this.up[i] = this.up[this.up[i]!]!;
    return i;
  }
  /** The smaller root stays the root. */
  unite(a: number, b: number): void {
    const [p, q] = [this.root(a), this.root(b)];
    this.up[Math.max(p, q)] = Math.min(p, q);
  }
  /** `a` becomes part of `b`, whose root stays the root. */
  into(a: number, b: number): void {
    this.up[this.root(a)] = this.root(b);
  }
}
