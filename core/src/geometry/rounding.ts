/** A grid of round values: multiples of `step`; where that is a power of ten below 1, its inverse makes clean decimals. */
export class RoundGrid {
  private readonly inverse: number | null;

  constructor(readonly step: number) {
    const inverse = Math.round(1 / step);
    this.inverse =
      inverse >= 1 && Math.abs(inverse * step - 1) < 1e-12 && /^10*$/.test(String(inverse)) ? inverse : null;
  }

  /** The nearest round value; halves go away from zero on either side, so that mirrored points stay mirrored. */
  of(v: number): number {
    const times = this.inverse === null ? Math.abs(v) / this.step : Math.abs(v) * this.inverse;
    // A value that is round but for its last digits is that, whichever side of a half those put it.
    const k = Math.round(times * (1 + 4 * Number.EPSILON));
    const near = this.inverse === null ? k * this.step : k / this.inverse;
    return v < 0 && near !== 0 ? -near : near;
  }

  /** How far a point of so many coordinates moves at most. */
  mostShift(coordinates: 2 | 3): number {
    return (this.step / 2) * Math.sqrt(coordinates);
  }
}
