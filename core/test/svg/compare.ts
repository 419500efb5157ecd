/** Pictures as rows of RGBA. */
export interface Picture {
  width: number;
  height: number;
  pixels: Uint8Array;
}

/** How much of what is inked may look different, and from which difference in a channel on it is noticed. */
export const PART = 0.02;
export const NOTICEABLE = 48;
/** How wide cases are drawn, in pixels. */
export const WIDTH = 240;

/**
 * The part of the inked pixels (those that are not white in both) that differ noticeably. With `slack` a pixel may lie
 * one to the side, as the letters of a screen's text do.
 */
export function difference(a: Picture, b: Picture, slack: 0 | 1 = 0): number {
  if (a.width !== b.width || a.height !== b.height) return 1;
  let inked = 0;
  let other = 0;
  const far = (p: Picture, i: number, q: Picture, j: number): boolean =>
    [0, 1, 2].some((k) => Math.abs(p.pixels[i + k]! - q.pixels[j + k]!) > NOTICEABLE);
  const alone = (p: Picture, q: Picture, x: number, y: number): boolean => {
    for (let dy = -slack; dy <= slack; dy++)
      for (let dx = -slack; dx <= slack; dx++) {
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || v < 0 || u >= q.width || v >= q.height) continue;
        if (!far(p, 4 * (y * p.width + x), q, 4 * (v * q.width + u))) return false;
      }
    return true;
  };
  for (let y = 0; y < a.height; y++)
    for (let x = 0; x < a.width; x++) {
      const i = 4 * (y * a.width + x);
      if ([0, 1, 2].some((k) => a.pixels[i + k]! < 250 || b.pixels[i + k]! < 250)) inked++;
      if (far(a, i, b, i) && (slack === 0 || alone(a, b, x, y) || alone(b, a, x, y))) other++;
    }
  return inked === 0 ? 0 : other / inked;
}

/** A written file put on the page of its original, which counts `1 / k` user units per unit of the file. */
export function onPage(
  written: string,
  page: { x: number; y: number; width: number; height: number },
  k: number,
): string {
  const box = [page.x * k, page.y * k, page.width * k, page.height * k].join(' ');
  return written.replace(
    /(<svg[^>]*) width="[^"]*" height="[^"]*" viewBox="[^"]*"/,
    `$1 width="${page.width}" height="${page.height}" viewBox="${box}"`,
  );
}
