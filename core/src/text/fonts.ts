import opentype from 'opentype.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder } from '../geometry/path.js';

/** A font of the application or the user, ready to be measured and drawn. */
export interface LoadedFont {
  family: string;
  font: opentype.Font;
  /** Height of capitals as a part of the em. */
  capital: number;
}

/** Throws `RangeError` when the bytes are no font that can be read. */
export function loadFont(family: string, bytes: Uint8Array): LoadedFont {
  let font: opentype.Font;
  try {
    const copy = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
    font = opentype.parse(copy);
  } catch (cause) {
    throw new RangeError(`"${family}" is no font that can be read`, { cause });
  }
  const os2 = font.tables.os2 as { sCapHeight?: number } | undefined;
  const stated = os2?.sCapHeight ?? 0;
  const measured = stated > 0 ? stated : font.charToGlyph('H').getBoundingBox().y2;
  return { family, font, capital: (measured || 0.7 * font.unitsPerEm) / font.unitsPerEm };
}

/** A line of text as outlines: the em is 1 high, the pen starts at (0, 0) and goes right, y upwards. */
export interface TextOutline {
  path: PathData;
  advance: number;
  missing: string[];
}

/**
 * The fonts at hand. A font that is not among them is replaced by the first; `has` tells which. Several files may
 * cover one family (Latin, extended Latin): a character is taken from the first that has it.
 */
export class FontBook {
  private outlines = new Map<string, TextOutline>();

  constructor(private readonly fonts: readonly LoadedFont[]) {}

  get families(): string[] {
    return [...new Set(this.fonts.map((f) => f.family))];
  }
  has(family: string): boolean {
    return this.fonts.some((f) => f.family.toLowerCase() === family.toLowerCase());
  }
  /** Height of capitals as a part of the em, of the family or of what stands in for it; 0.7 without any font. */
  capital(family: string): number {
    return this.candidates(family)[0]?.capital ?? 0.7;
  }

  private candidates(family: string): LoadedFont[] {
    const own = this.fonts.filter((f) => f.family.toLowerCase() === family.toLowerCase());
    const rest = this.fonts.filter((f) => !own.includes(f));
    return [...own, ...rest];
  }

  /** The outlines of one line of text. Kerning within one font; characters no font has are listed and left blank. */
  outline(text: string, family: string): TextOutline {
    const key = `${family}\u0000${text}`;
    const known = this.outlines.get(key);
    if (known) return known;
    const fonts = this.candidates(family);
    const builder = new PathBuilder();
    const missing: string[] = [];
    let x = 0;
    let lastFont: LoadedFont | undefined;
    let lastGlyph: opentype.Glyph | undefined;
    for (const char of text) {
      const font = fonts.find((f) => f.font.charToGlyphIndex(char) > 0);
      if (!font) {
        if (char.trim() !== '') missing.push(char);
        x += 0.3;
        lastFont = undefined;
        continue;
      }
      const em = font.font.unitsPerEm;
      const glyph = font.font.charToGlyph(char);
      if (lastGlyph && lastFont === font) x += font.font.getKerningValue(lastGlyph, glyph) / em;
      addGlyph(builder, glyph, x, em);
      x += (glyph.advanceWidth ?? 0) / em;
      lastFont = font;
      lastGlyph = glyph;
    }
    const made = { path: builder.build(), advance: x, missing };
    if (this.outlines.size > 5000) this.outlines.clear();
    this.outlines.set(key, made);
    return made;
  }
}

function addGlyph(builder: PathBuilder, glyph: opentype.Glyph, x: number, em: number): void {
  const px = (v: number): number => x + v / em;
  const py = (v: number): number => v / em;
  let open = false;
  for (const c of glyph.path.commands) {
    if (c.type === 'M') {
      if (open) builder.close();
      builder.moveTo(px(c.x), py(c.y));
      open = true;
    } else if (c.type === 'L') builder.lineTo(px(c.x), py(c.y));
    else if (c.type === 'Q') builder.quadTo(px(c.x1), py(c.y1), px(c.x), py(c.y));
    else if (c.type === 'C') builder.cubicTo(px(c.x1), py(c.y1), px(c.x2), py(c.y2), px(c.x), py(c.y));
    else if (open) {
      builder.close();
      open = false;
    }
  }
  if (open) builder.close();
}
