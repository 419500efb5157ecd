/** Where the viewport looks: the world point at its centre, and how many screen pixels one world unit takes. */
export interface View {
  x: number;
  y: number;
  scale: number;
}

export interface Size {
  width: number;
  height: number;
}

type Bounds = { minX: number; minY: number; maxX: number; maxY: number };

export const toScreen = (v: View, s: Size, x: number, y: number): [number, number] => [
  s.width / 2 + (x - v.x) * v.scale,
  s.height / 2 - (y - v.y) * v.scale,
];

export const toWorld = (v: View, s: Size, px: number, py: number): [number, number] => [
  v.x + (px - s.width / 2) / v.scale,
  v.y - (py - s.height / 2) / v.scale,
];

/** The view after zooming by `factor` with the world point under (px, py) held where it is. */
export function zoomAt(v: View, s: Size, px: number, py: number, factor: number): View {
  const [wx, wy] = toWorld(v, s, px, py);
  const scale = Math.min(1e12, Math.max(1e-12, v.scale * factor));
  return { scale, x: wx - (px - s.width / 2) / scale, y: wy + (py - s.height / 2) / scale };
}

/** The view that shows a box with a margin around it. A box without extent is shown 40 units wide or as it is. */
export function fit(b: Bounds, s: Size, margin = 0.08): View {
  const w = b.maxX - b.minX;
  const h = b.maxY - b.minY;
  const scale = Math.min(s.width / (w || h || 1), s.height / (h || w || 1)) * (1 - 2 * margin);
  return { x: (b.minX + b.maxX) / 2, y: (b.minY + b.maxY) / 2, scale };
}

/** Whether something of a box is in the window and large enough there to be seen. */
export function isInSight(v: View, s: Size, b: Bounds): boolean {
  const [x0, y1] = toScreen(v, s, b.minX, b.minY);
  const [x1, y0] = toScreen(v, s, b.maxX, b.maxY);
  return x0 < s.width && x1 > 0 && y0 < s.height && y1 > 0 && Math.max(x1 - x0, y1 - y0) >= 24;
}

/** A round length (1, 2 or 5 times a power of ten) that takes at most `pixels` on screen. */
export function roundLength(v: View, pixels: number): number {
  const most = pixels / v.scale;
  const power = 10 ** Math.floor(Math.log10(most));
  for (const k of [5, 2, 1]) if (k * power <= most) return k * power;
  return power;
}
