import { converter, parse } from 'culori';
import type { Rgb } from '../../drawing/appearance.js';

const toRgb = converter('rgb');
const known = new Map<string, { rgb: Rgb; alpha: number } | null>();

/** A CSS colour as sRGB and opacity; `null` when the text is none. Colours outside sRGB are clipped to it. */
export function parseColour(text: string): { rgb: Rgb; alpha: number } | null {
  const cached = known.get(text);
  if (cached !== undefined) return cached;
  const c = toRgb(parse(text.trim().toLowerCase()));
  const byte = (v: number | undefined): number => Math.round(Math.min(1, Math.max(0, v ?? 0)) * 255);
  const made = c ? { rgb: (byte(c.r) << 16) | (byte(c.g) << 8) | byte(c.b), alpha: c.alpha ?? 1 } : null;
  if (known.size > 10000) known.clear();
  known.set(text, made);
  return made;
}
