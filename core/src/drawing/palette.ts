import type { Rgb } from './appearance.js';

/**
 * The 255 colours that drafting formats name by number (colour index). 1 to 9 are fixed; 10 to 249 are 24 hues of
 * 15° in five lightness steps, each at full and at half saturation; 250 to 255 are greys.
 */
export const PALETTE: readonly Rgb[] = makePalette();

/** Index 7 is the foreground: black on light ground, white on dark. */
export const FOREGROUND = 7;

function makePalette(): Rgb[] {
  const table: Rgb[] = [0, 0xff0000, 0xffff00, 0x00ff00, 0x00ffff, 0x0000ff, 0xff00ff, 0xffffff, 0x808080, 0xc0c0c0];
  const levels = [255, 165, 127, 76, 38];
  for (let i = 10; i < 250; i++) {
    const hue = Math.floor((i - 10) / 10) * 15;
    table.push(shade(hue, levels[Math.floor((i % 10) / 2)], i % 2 === 1));
  }
  for (const grey of [0x33, 0x5b, 0x84, 0xad, 0xd6, 0xff]) table.push(grey * 0x010101);
  return table;
}

/** `pale` mixes the pure hue half and half with the brightest channel; the published table truncates. */
function shade(hue: number, top: number, pale: boolean): Rgb {
  const channel = (offset: number): number => {
    const k = (offset + hue / 60) % 6;
    const full = top * (1 - Math.max(0, Math.min(1, k, 4 - k)));
    return Math.floor(pale ? (top + full) / 2 : full);
  };
  return (channel(5) << 16) | (channel(3) << 8) | channel(1);
}

/**
 * The index whose colour is the given one exactly, or `null`. Black is the foreground (index 7), since paper is light;
 * white is 255, which stays white on any ground.
 */
export function exactIndex(rgb: Rgb): number | null {
  if (rgb === 0x000000) return FOREGROUND;
  if (rgb === 0xffffff) return 255;
  const i = PALETTE.indexOf(rgb, 1);
  return i < 0 ? null : i;
}

/** The index nearest in RGB distance, 1 to 255. */
export function nearestIndex(rgb: Rgb): number {
  const exact = exactIndex(rgb);
  if (exact !== null) return exact;
  let best = 1;
  let least = Infinity;
  for (let i = 1; i < 256; i++) {
    const dr = (PALETTE[i] >> 16) - (rgb >> 16);
    const dg = ((PALETTE[i] >> 8) & 255) - ((rgb >> 8) & 255);
    const db = (PALETTE[i] & 255) - (rgb & 255);
    const d = dr * dr + dg * dg + db * db;
    if (d < least) {
      least = d;
      best = i;
    }
  }
  return best;
}

/** `#rrggbb`. */
export const hex = (rgb: Rgb): string => '#' + rgb.toString(16).padStart(6, '0');
