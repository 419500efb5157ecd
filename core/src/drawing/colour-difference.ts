import type { Rgb } from './appearance.js';

/** CIE 1976 L*a*b* of an sRGB colour, white point D65 (IEC 61966-2-1 and CIE 15). */
export function lab(rgb: Rgb): [number, number, number] {
  const linear = (c: number): number => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
  const [r, g, b] = [rgb >> 16, (rgb >> 8) & 255, rgb & 255].map((c) => linear(c / 255));
  const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);
  const x = f((0.4124564 * r! + 0.3575761 * g! + 0.1804375 * b!) / 0.95047);
  const y = f(0.2126729 * r! + 0.7151522 * g! + 0.072175 * b!);
  const z = f((0.0193339 * r! + 0.119192 * g! + 0.9503041 * b!) / 1.08883);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

/** The difference of two colours (CIE 1976 ΔE*ab); 2.3 is just noticeable. */
export function colourDifference(a: Rgb, b: Rgb): number {
  const [p, q] = [lab(a), lab(b)];
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

/** Colours that can hardly be told apart, each group under its most used one. `uses`: how often each is used. */
export function coloursAlike(uses: ReadonlyMap<Rgb, number>, within: number): Map<Rgb, Rgb[]> {
  const list = [...uses].map(([rgb, count]) => ({ rgb, count, lab: lab(rgb) }));
  // The most used colours first: each other that looks the same is told under the first it looks like.
  list.sort((a, b) => b.count - a.count);
  const groups = new Map<(typeof list)[number], Rgb[]>();
  for (const c of list) {
    const head = [...groups.keys()].find((h) => Math.hypot(...h.lab.map((v, n) => v - c.lab[n]!)) <= within);
    if (head) groups.get(head)!.push(c.rgb);
    else groups.set(c, []);
  }
  return new Map([...groups].map(([head, alike]) => [head.rgb, alike]));
}
