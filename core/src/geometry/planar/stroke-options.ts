/** How a pen draws: its width, its ends and corners, its dashes. */
export interface StrokeOptions {
  /** How wide the pen is. */
  width: number;
  cap: 'butt' | 'round' | 'square';
  join: 'miter' | 'round' | 'bevel';
  /** How long a mitre may be to the pen's width before it is cut straight (SVG 2, `stroke-miterlimit`). */
  miter: number;
  /** How far arcs may lie from the free curves they stand for. */
  tolerance: number;
  /** Dash and gap in turn; none for an unbroken line. */
  dashes: readonly number[];
  dashOffset: number;
}
