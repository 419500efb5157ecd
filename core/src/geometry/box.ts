/** An axis-parallel box in the plane. Empty while nothing was added (`minX > maxX`). */
export class Box2 {
  minX = Infinity;
  minY = Infinity;
  maxX = -Infinity;
  maxY = -Infinity;

  static of(minX: number, minY: number, maxX: number, maxY: number): Box2 {
    const box = new Box2();
    box.add(minX, minY);
    box.add(maxX, maxY);
    return box;
  }

  get empty(): boolean {
    return this.minX > this.maxX;
  }
  get width(): number {
    return this.empty ? 0 : this.maxX - this.minX;
  }
  get height(): number {
    return this.empty ? 0 : this.maxY - this.minY;
  }
  get diagonal(): number {
    return Math.hypot(this.width, this.height);
  }

  /** Grows to hold the point. Coordinates that are not finite are passed over. */
  /** Whether a square of half width `reach` about a point lies inside. */
  holds(x: number, y: number, reach: number): boolean {
    return x - reach >= this.minX && x + reach <= this.maxX && y - reach >= this.minY && y + reach <= this.maxY;
  }
  add(x: number, y: number): void {
    if (!Number.isFinite(x) || !Number.isFinite(y)) return;
    if (x < this.minX) this.minX = x;
    if (y < this.minY) this.minY = y;
    if (x > this.maxX) this.maxX = x;
    if (y > this.maxY) this.maxY = y;
  }

  /** Whether two boxes have a point in common. */
  meets(other: Box2): boolean {
    return this.minX <= other.maxX && other.minX <= this.maxX && this.minY <= other.maxY && other.minY <= this.maxY;
  }
  addBox(other: Box2): void {
    if (other.empty) return;
    this.add(other.minX, other.minY);
    this.add(other.maxX, other.maxY);
  }

  toJSON(): { minX: number; minY: number; maxX: number; maxY: number } | null {
    return this.empty ? null : { minX: this.minX, minY: this.minY, maxX: this.maxX, maxY: this.maxY };
  }
}
