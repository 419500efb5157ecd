import type { RichText, Text } from '../drawing/entity.js';
import type { Drawing } from '../drawing/drawing.js';
import type { FontBook } from './fonts.js';

/** One line of text, ready to be set: where its baseline anchor is in the text's own plane, and how. */
export interface TextLine {
  text: string;
  family: string;
  /** The em, in the units of the plane. */
  em: number;
  x: number;
  y: number;
  rotation: number;
  widthFactor: number;
  oblique: number;
  anchor: 'left' | 'centre' | 'right';
  /** The length that the line is stretched to, for `fit` and `aligned`. */
  stretchTo?: number;
}

/** Distance between baselines in drafting rich text: 5/3 of the height of capitals (DXF reference, MTEXT group 44). */
const LINE_STEP = 5 / 3;

/** The font family a text asks for: its own, or that of its drafting style, the file ending left out. */
export function familyOf(text: Text | RichText, drawing: Pick<Drawing, 'textStyles'>): string {
  if (text.kind === 'text' && text.font) return text.font.family;
  const style = drawing.textStyles.find((s) => s.name.toLowerCase() === (text.style ?? 'standard').toLowerCase());
  const file = style?.font || 'txt';
  return file.replace(/^.*[\\/]/, '').replace(/\.(shx|ttf|otf|ttc)$/i, '');
}

/**
 * The lines of a text entity, in its own plane with y upwards. Vertical alignment is turned into a shift of the
 * baseline by the height of capitals (0.2 em below the baseline for `bottom`).
 */
export function linesOf(text: Text | RichText, drawing: Pick<Drawing, 'textStyles'>, fonts: FontBook): TextLine[] {
  const family = familyOf(text, drawing);
  const capital = fonts.capital(family);
  return text.kind === 'text' ? [singleLine(text, family, capital)] : paragraphLines(text, family, capital, fonts);
}

function singleLine(t: Text, family: string, capital: number): TextLine {
  const em = t.sizeOf === 'em' ? t.size : t.size / capital;
  const cap = em * capital;
  const base = {
    text: t.text, family, em, rotation: t.rotation, widthFactor: t.widthFactor, oblique: t.oblique, x: t.at[0], y: t.at[1],
  }; // prettier-ignore
  if ((t.horizontal === 'fit' || t.horizontal === 'aligned') && t.other) {
    const [dx, dy] = [t.other[0] - t.at[0], t.other[1] - t.at[1]];
    return { ...base, anchor: 'left', rotation: Math.atan2(dy, dx), stretchTo: Math.hypot(dx, dy) };
  }
  const vertical = t.horizontal === 'middle' ? 'middle' : t.vertical;
  const drop = vertical === 'top' ? cap : vertical === 'middle' ? cap / 2 : vertical === 'bottom' ? -0.2 * em : 0;
  const anchor =
    t.horizontal === 'right' ? 'right' : t.horizontal === 'centre' || t.horizontal === 'middle' ? 'centre' : 'left';
  return {
    ...base,
    anchor,
    x: t.at[0] + drop * Math.sin(t.rotation),
    y: t.at[1] - drop * Math.cos(t.rotation),
  };
}

function paragraphLines(t: RichText, family: string, capital: number, fonts: FontBook): TextLine[] {
  const em = t.size / capital;
  const lines = t.plain.split('\n').flatMap((p) => wrap(p, t.width > 0 ? t.width / em : Infinity, family, fonts));
  const step = t.size * LINE_STEP * (t.lineSpacing || 1);
  const height = t.size + step * (lines.length - 1);
  const top = t.vertical === 'top' ? 0 : t.vertical === 'middle' ? height / 2 : height;
  return lines.map((text, i) => {
    const down = t.size + i * step - top;
    return {
      text, family, em, rotation: t.rotation, widthFactor: 1, oblique: 0, anchor: t.horizontal,
      x: t.at[0] + down * Math.sin(t.rotation),
      y: t.at[1] - down * Math.cos(t.rotation),
    }; // prettier-ignore
  });
}

/** Breaks a paragraph at blanks so that no line is wider than `width` (in em), where words allow. */
function wrap(paragraph: string, width: number, family: string, fonts: FontBook): string[] {
  if (!Number.isFinite(width)) return [paragraph];
  const lines: string[] = [];
  let line = '';
  for (const word of paragraph.split(' ')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line !== '' && fonts.outline(longer, family).advance > width) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return [...lines, line];
}
