import type { PathData } from '../../geometry/path.js';
import { visitPath, Cmd } from '../../geometry/path.js';

/*
 * A font with just the letters that a file uses, in the compact form that PDF embeds (Technical Notes 5176, "The Compact Font Format
 * Specification", and 5177, "The Type 2 Charstring Format"). Letters are given by number. Quadratic curves are raised to cubics, which is exact; numbers
 * are held to 1/65536 of a thousandth of the em.
 */

/** A letter: its outline and how far the pen moves, in ems. */
export interface CompactGlyph {
  readonly path: PathData;
  readonly advance: number;
}

/** Thousandths of an em, in which such a font counts. */
const PER_EM = 1000;

const u16 = (v: number): number[] => [(v >> 8) & 255, v & 255];
const u32 = (v: number): number[] => [(v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255];

/** A list of pieces, with where each begins (TN 5176, 5). */
function index(items: readonly (readonly number[])[]): number[] {
  if (items.length === 0) return [0, 0];
  const out: number[] = [...u16(items.length), 4];
  let at = 1;
  for (const item of items) {
    out.push(...u32(at));
    at += item.length;
  }
  out.push(...u32(at));
  for (const item of items) for (const b of item) out.push(b);
  return out;
}

/** A whole number of a dictionary, always in five bytes, so that offsets do not move what they point at (TN 5176, 4). */
const integer = (v: number): number[] => [29, ...u32(v)];

const operator = (code: number | readonly [number, number], ...operands: number[]): number[] => [
  ...operands.flatMap(integer),
  ...(typeof code === 'number' ? [code] : code),
];

/** A number of a letter's drawing: short where it is whole, in 16.16 bits otherwise (TN 5177, 3.2). */
function drawn(units: number): number[] {
  if (units % 65536 === 0) {
    const v = units / 65536;
    if (v >= -107 && v <= 107) return [v + 139];
    if (v >= 108 && v <= 1131) return [((v - 108) >> 8) + 247, (v - 108) & 255];
    if (v <= -108 && v >= -1131) return [((-v - 108) >> 8) + 251, (-v - 108) & 255];
    if (v >= -32768 && v <= 32767) return [28, ...u16(v & 0xffff)];
  }
  return [255, ...u32(units | 0)];
}

const fixed = (ems: number): number => Math.round(ems * PER_EM * 65536);

/** The drawing of a letter, by steps from point to point (TN 5177, 4.1). Each step is taken from where the rounded one before came to. */
function charstring({ path, advance }: CompactGlyph): number[] {
  const out: number[] = [...drawn(fixed(advance))];
  let [x, y] = [0, 0];
  const step = (tx: number, ty: number): number[] => {
    const [fx, fy] = [fixed(tx), fixed(ty)];
    const bytes = [...drawn(fx - x), ...drawn(fy - y)];
    [x, y] = [fx, fy];
    return bytes;
  };
  visitPath(path, {
    move: (tx, ty) => void out.push(...step(tx, ty), 21),
    close: () => {},
    piece: (cmd, x0, y0, d, i) => {
      if (cmd === Cmd.Line) return void out.push(...step(d[i]!, d[i + 1]!), 5);
      if (cmd === Cmd.Cubic)
        return void out.push(
          ...step(d[i]!, d[i + 1]!),
          ...step(d[i + 2]!, d[i + 3]!),
          ...step(d[i + 4]!, d[i + 5]!),
          8,
        );
      const [qx, qy, ex, ey] = [d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!];
      const third = (a: number, b: number): number => a + (2 / 3) * (b - a);
      out.push(...step(third(x0, qx), third(y0, qy)), ...step(third(ex, qx), third(ey, qy)), ...step(ex, ey), 8);
    },
  });
  out.push(14);
  return out;
}

const latin = (text: string): number[] => [...text].map((c) => c.charCodeAt(0) & 255);

/** The font as a table `CFF` with letters by number, the first of which stands for what is missing. */
export function compactFont(fontName: string, glyphs: readonly CompactGlyph[]): Uint8Array {
  const n = glyphs.length;
  const header = [1, 0, 4, 4];
  const names = index([latin(fontName)]);
  const strings = index([latin('Scalaria'), latin('Identity')]);
  const subroutines = index([]);
  const charset = [2, ...u16(1), ...u16(Math.max(0, n - 2))];
  const select = [3, ...u16(1), ...u16(0), 0, ...u16(n)];
  const letters = index(glyphs.map(charstring));
  const secret = [...operator(20, 0), ...operator(21, 0)];
  // Strings begin at number 391, after the standard ones (TN 5176, appendix A).
  const [REGISTRY, ORDERING] = [391, 392];
  const top = (at: { charset: number; select: number; letters: number; list: number }): number[] =>
    index([
      [
        ...operator([12, 30], REGISTRY, ORDERING, 0),
        ...operator([12, 34], n),
        ...operator(15, at.charset),
        ...operator([12, 37], at.select),
        ...operator(17, at.letters),
        ...operator([12, 36], at.list),
      ],
    ]);
  const start =
    header.length +
    names.length +
    top({ charset: 0, select: 0, letters: 0, list: 0 }).length +
    strings.length +
    subroutines.length;
  const at = { charset: start, select: start + charset.length, letters: 0, list: 0 };
  at.letters = at.select + select.length;
  const secretAt = at.letters + letters.length;
  at.list = secretAt + secret.length;
  const list = index([operator(18, secret.length, secretAt)]);
  return Uint8Array.from(
    [...header, ...names, ...top(at), ...strings, ...subroutines, ...charset, ...select].concat(letters, secret, list),
  );
}
