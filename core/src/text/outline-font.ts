import { UserError } from '../errors.js';
import * as fontkit from 'fontkit';
import type { Font as KitFont, Glyph } from 'fontkit';
import type { PathData } from '../geometry/path.js';
import { PathBuilder } from '../geometry/path.js';
import type { Shaper } from './shaped.js';

/** What a font's own tables allow (OpenType OS/2 `fsType`): whether it may be put into files at all. */
export type Embedding = 'free' | 'editable' | 'viewing' | 'forbidden';

/** A font of outlines: TTF, OTF, WOFF or WOFF2. */
export interface OutlineFont extends Shaper {
  family: string;
  /** 100 to 900, 400 for regular. */
  weight: number;
  italic: boolean;
  /** Height of capitals as a part of the em. */
  capital: number;
  embedding: Embedding;
  has(codePoint: number): boolean;
  /** Shapes text that runs one way: kerning, ligatures, marks. Draws it from `x` on and gives the advance, in ems. */
  draw(text: string, rightToLeft: boolean, builder: PathBuilder, x: number): number;
}

/** Largest font file that is read. */
export const MAX_FONT_BYTES = 32 << 20;

/** Throws `UserError` when the bytes are no font that can be read. `family` stands for the name in the file. */
export function loadOutlineFont(bytes: Uint8Array, family?: string): OutlineFont {
  if (bytes.length > MAX_FONT_BYTES) throw new UserError('unreadable-font', 'a font of more than 32 MB is not read');
  const opened = (): KitFont => {
    const made = fontkit.create(bytes as never);
    // A collection stands for its first font.
    return 'fonts' in made ? made.fonts[0]! : (made as KitFont);
  };
  let font: KitFont;
  let byNumber: KitFont | null = null;
  try {
    font = opened();
    if (!(font.unitsPerEm > 0)) throw new Error('no em');
    font.glyphForCodePoint(72);
  } catch (cause) {
    throw new UserError('unreadable-font', `${family ? `"${family}"` : 'This file'} is no font that can be read`, {
      cause,
    });
  }
  const em = font.unitsPerEm;
  const os2 = font['OS/2'] as Os2 | undefined;
  const stated = os2?.capHeight ?? 0;
  const measured = stated > 0 ? stated : font.glyphForCodePoint(72).bbox.maxY;
  const bits = os2?.fsType;
  return {
    family: family ?? font.familyName ?? 'Unnamed',
    weight: os2?.usWeightClass || (/bold/i.test(font.subfamilyName) ? 700 : 400),
    italic: font.italicAngle !== 0 || /italic|oblique/i.test(font.subfamilyName),
    capital: (measured > 0 && measured < 2 * em ? measured : 0.7 * em) / em,
    embedding: bits?.noEmbedding ? 'forbidden' : bits?.viewOnly ? 'viewing' : bits?.editable ? 'editable' : 'free',
    has: (c) => font.hasGlyphForCodePoint(c),
    shape(text, rightToLeft) {
      const run = font.layout(text, undefined, undefined, undefined, rightToLeft ? 'rtl' : 'ltr');
      // A letter remembers the first character that it was asked for by: here it stands for that of this text.
      const own = new Map([...text].map((c) => [font.glyphForCodePoint(c.codePointAt(0)!).id, c]));
      return run.glyphs.map((glyph, i) => {
        const p = run.positions[i]!;
        return {
          id: glyph.id,
          text: own.get(glyph.id) ?? String.fromCodePoint(...glyph.codePoints),
          width: glyph.advanceWidth / em,
          advance: p.xAdvance / em,
          dx: (p.xOffset ?? 0) / em,
          dy: (p.yOffset ?? 0) / em,
        };
      });
    },
    outline(id) {
      // Letters that are asked for by number forget which characters they stand for: they come from a reading of their own.
      byNumber ??= opened();
      const builder = new PathBuilder();
      addGlyph(builder, byNumber.getGlyph(id), 0, 0, em);
      return builder.build();
    },
    draw(text, rightToLeft, builder, x) {
      const run = font.layout(text, undefined, undefined, undefined, rightToLeft ? 'rtl' : 'ltr');
      let at = x;
      run.glyphs.forEach((glyph, i) => {
        const p = run.positions[i]!;
        addGlyph(builder, glyph, at + (p.xOffset ?? 0) / em, (p.yOffset ?? 0) / em, em);
        at += p.xAdvance / em;
      });
      return at - x;
    },
  };
}

/**
 * The letters of a font that was put into a file, by the characters it gives them: closed outlines in ems, from the pen to the right,
 * with y upwards. `null` for bytes that are no such font.
 */
export function loadGlyphs(bytes: Uint8Array): ((codePoint: number) => PathData | null) | null {
  if (bytes.length > MAX_FONT_BYTES) return null;
  try {
    const font = fontkit.create(bytes as never) as KitFont;
    if (!(font.unitsPerEm > 0)) return null;
    return (codePoint) => {
      try {
        if (!font.hasGlyphForCodePoint(codePoint)) return null;
        const builder = new PathBuilder();
        addGlyph(builder, font.glyphForCodePoint(codePoint), 0, 0, font.unitsPerEm);
        return builder.build();
      } catch {
        // A damaged letter is none; all others of the font are.
        return null;
      }
    };
  } catch {
    return null;
  }
}

interface Os2 {
  capHeight?: number;
  usWeightClass?: number;
  fsType?: { noEmbedding: boolean; viewOnly: boolean; editable: boolean };
}

function addGlyph(builder: PathBuilder, glyph: Glyph, x: number, y: number, em: number): void {
  const px = (v: number): number => x + v / em;
  const py = (v: number): number => y + v / em;
  let open = false;
  for (const { command, args: a } of glyph.path.commands) {
    if (command === 'moveTo') {
      if (open) builder.close();
      builder.moveTo(px(a[0]!), py(a[1]!));
      open = true;
    } else if (command === 'lineTo') builder.lineTo(px(a[0]!), py(a[1]!));
    else if (command === 'quadraticCurveTo') builder.quadTo(px(a[0]!), py(a[1]!), px(a[2]!), py(a[3]!));
    else if (command === 'bezierCurveTo')
      builder.cubicTo(px(a[0]!), py(a[1]!), px(a[2]!), py(a[3]!), px(a[4]!), py(a[5]!));
    else if (open) {
      builder.close();
      open = false;
    }
  }
  if (open) builder.close();
}
