import { png } from './png.js';
import { generator } from './sketch.js';

const SIDE = 560;
const PX_PER_INCH = 300;
/** It lay aslant on the glass. */
const SLANT = (1.4 * Math.PI) / 180;
/** Samples along each side of a pixel. */
const FINE = 4;

const PAPER = [243, 240, 232] as const;
const CLAY = [196, 81, 45] as const;
const INK = [31, 42, 55] as const;

/** The colour of the printed emblem at a place, in pixels of a straight scan: a disc with a ring, a dot, and three bars. */
function inkAt(x: number, y: number): readonly [number, number, number] {
  const r = Math.hypot(x - 280, y - 270);
  if (r > 210) return PAPER;
  if (Math.hypot(x - 280, y - 190) < 42) return PAPER;
  if (Math.abs(r - 182) < 7) return INK;
  const wave = 330 - 70 * Math.sin((Math.PI * (x - 110)) / 340);
  const inside = x > 130 && x < 430;
  if (inside && Math.abs(y - wave) < 11) return INK;
  if (x > 170 && x < 390 && Math.abs(y - 372) < 8) return INK;
  if (x > 210 && x < 350 && Math.abs(y - 402) < 6) return INK;
  return CLAY;
}

/** The emblem as it was printed and scanned: two inks on paper, aslant, with the grain of a scanner; 300 px per inch. */
export function emblemScan(): Uint8Array {
  const random = generator(20261130);
  const samples = new Uint8Array(3 * SIDE * SIDE);
  const [c, s] = [Math.cos(SLANT), Math.sin(SLANT)];
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const sum = [0, 0, 0];
      for (let k = 0; k < FINE * FINE; k++) {
        const [dx, dy] = [x + ((k % FINE) + 0.5) / FINE - SIDE / 2, y + (Math.floor(k / FINE) + 0.5) / FINE - SIDE / 2];
        const ink = inkAt(SIDE / 2 + c * dx + s * dy, SIDE / 2 - s * dx + c * dy);
        ink.forEach((v, i) => (sum[i]! += v));
      }
      const grain = (random() - 0.5) * 6;
      sum.forEach(
        (v, i) => (samples[3 * (y * SIDE + x) + i] = Math.min(255, Math.max(0, Math.round(v / FINE ** 2 + grain)))),
      );
    }
  return png(SIDE, SIDE, 3, samples, PX_PER_INCH);
}
