import type { Appearance } from '../../drawing/appearance.js';
import type { Clip, FontRequest } from '../../drawing/entity.js';
import type { Affine } from '../../geometry/affine.js';
import { applyPoint, applyVector, compose, planar, translation } from '../../geometry/affine.js';
import type { PathData } from '../../geometry/path.js';
import { PathBuilder, transformPath } from '../../geometry/path.js';
import { loadGlyphs } from '../../text/outline-font.js';
import type { TextState } from './graphics-state.js';

/** A letter as the parser gives it. */
export interface Glyph {
  readonly fontChar: string;
  readonly unicode: string;
  readonly width: number;
  readonly isSpace: boolean;
  readonly isInFont?: boolean;
  readonly operatorListId?: string;
  readonly vmetric?: readonly number[] | null;
}

/** A font as the parser gives it. */
export interface PdfFont {
  readonly name?: string;
  readonly data?: Uint8Array;
  readonly fontMatrix?: readonly number[];
  readonly isType3Font?: boolean;
  readonly vertical?: boolean;
  readonly bold?: boolean;
  readonly black?: boolean;
  readonly italic?: boolean;
  readonly missingFile?: boolean;
  readonly charProcOperatorList?: Record<string, unknown>;
}

const STYLES: readonly [RegExp, Partial<FontRequest>][] = [
  [/extra ?light|ultra ?light/i, { weight: 200 }],
  [/semi ?bold|demi ?bold|demi$/i, { weight: 600 }],
  [/extra ?bold|ultra ?bold/i, { weight: 800 }],
  [/black|heavy/i, { weight: 900 }],
  [/thin|hairline/i, { weight: 100 }],
  [/light/i, { weight: 300 }],
  [/medium/i, { weight: 500 }],
  [/bold/i, { weight: 700 }],
];

/**
 * What font is asked for by the name in the file: without the tag of a subset (six capitals and a plus, ISO 32000-2, 9.9.2), its style
 * apart from its family, and the words of the family apart, as people write it: `ABCDEF+SplineSans-Bold` is Spline Sans in 700.
 */
export function fontNamed(font: Pick<PdfFont, 'name' | 'bold' | 'black' | 'italic'>): FontRequest {
  const whole = (font.name ?? '').replace(/^[A-Z]{6}\+/, '');
  const [, base = whole, style = ''] = /^(.*?)(?:[-,](.*))?$/.exec(whole)!;
  const family = base
    .replace(/(PS)?MT$/, '')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/[_]+/g, ' ')
    .trim();
  const stated = STYLES.find(([words]) => words.test(style))?.[1].weight;
  return {
    family,
    weight: stated ?? (font.black ? 900 : font.bold ? 700 : 400),
    italic: font.italic === true || /italic|oblique/i.test(style),
  };
}

/** A character says something to a reader: no private use, no control, no sign for an unknown one. */
export const hasMeaning = (text: string): boolean =>
  text !== '' && !/[\u0000-\u001f\u007f-\u009f\ufffd\ue000-\uf8ff]|[\udb80-\udbff][\udc00-\udfff]/.test(text);

/** Letters on one line, in one style. Places and lengths in the drawing. */
export interface Line {
  text: string;
  readonly at: readonly [number, number];
  /** Where the pen stands after the last letter. */
  pen: readonly [number, number];
  /** From the text's own space, in which a letter is one em high, to the drawing; its shift left out. */
  readonly frame: Affine;
  readonly font: FontRequest;
  readonly look: Appearance;
  readonly layer: string;
  readonly clip: Clip | undefined;
  readonly spacing: number;
  /** Its letters as their font draws them. */
  readonly shapes: PathBuilder;
  /** Every letter has its shape in the file. */
  shaped: boolean;
  /** Every letter says which character it is. */
  meaningful: boolean;
}

/** How far letters may stand off where the pen is, in ems, and still be of one line; between two words there is more room. */
const OFF_LINE = 0.02;
const OVERLAP = -0.35;
const WORD = 0.17;
const APART = 0.85;

/** Where a letter is drawn. */
export interface LetterPlace {
  readonly frame: Affine;
  readonly at: readonly [number, number];
  readonly end: readonly [number, number];
}

/** Joins letters that stand on one line, in one style, into lines of text; what stands further apart begins another. */
export class LineGatherer {
  private line: Line | null = null;
  /** Letters are of one line wherever they stand along it, in whatever font: the file says that they belong together. */
  together = false;
  constructor(private readonly onLine: (line: Line) => void) {}

  add(
    letter: { text: string; shape: PathData | null; inked: boolean },
    { frame, at, end }: LetterPlace,
    style: Pick<Line, 'font' | 'look' | 'layer' | 'clip' | 'spacing'>,
  ): void {
    const gap = this.line && this.gapTo(frame, at, style);
    const means = hasMeaning(letter.text);
    if (this.line && (gap === null || this.line.meaningful !== means)) this.flush();
    if (!this.line) {
      if (letter.text.trim() === '' && means) return;
      this.line = {
        text: '',
        at,
        pen: at,
        frame,
        ...style,
        shapes: new PathBuilder(),
        shaped: true,
        meaningful: means,
      };
    } else if (gap! > WORD && !/\s$/.test(this.line.text) && letter.text.trim() !== '') this.line.text += ' ';
    const { line } = this;
    line.text += letter.text;
    line.pen = end;
    if (letter.shape) line.shapes.append(transformPath(letter.shape, compose(translation(at[0], at[1]), frame)));
    else if (letter.inked) line.shaped = false;
  }

  /** How far a letter stands from the pen, in ems along the line; `null` where it is of another line or style. */
  private gapTo(
    frame: Affine,
    at: readonly [number, number],
    style: Pick<Line, 'font' | 'look' | 'layer' | 'clip' | 'spacing'>,
  ): number | null {
    const line = this.line!;
    const { font, look, layer, clip, spacing } = style;
    if (line.look !== look || line.layer !== layer || line.clip !== clip) return null;
    if (line.spacing !== spacing && !this.together) return null;
    if (this.together) return 0;
    if (line.font.family !== font.family || line.font.weight !== font.weight || line.font.italic !== font.italic)
      return null;
    const [a, b] = [line.frame, frame];
    const size = Math.hypot(a[3], a[4]);
    if ([0, 1, 3, 4].some((i) => Math.abs(a[i]! - b[i]!) > 1e-3 * size)) return null;
    const [ux, uy] = [a[0], a[1]];
    const long = Math.hypot(ux, uy);
    if (!(long > 0)) return null;
    const [dx, dy] = [at[0] - line.pen[0], at[1] - line.pen[1]];
    const off = Math.abs(dx * uy - dy * ux) / long / size;
    const along = (dx * ux + dy * uy) / long / long;
    return off > OFF_LINE || along < OVERLAP || along > APART ? null : along;
  }

  flush(): void {
    const { line } = this;
    this.line = null;
    if (line && line.text !== '') this.onLine(line);
  }
}

/** The place of the pen within a text object (ISO 32000-2, 9.4.2). */
export class TextPen {
  matrix: Affine = planar(1, 0, 0, 1, 0, 0);
  x = 0;
  y = 0;
  private lineX = 0;
  private lineY = 0;

  begin(): void {
    this.set(planar(1, 0, 0, 1, 0, 0));
  }
  set(matrix: Affine): void {
    this.matrix = matrix;
    this.x = this.y = this.lineX = this.lineY = 0;
  }
  move(x: number, y: number): void {
    this.lineX += x;
    this.lineY += y;
    this.x = this.lineX;
    this.y = this.lineY;
  }

  /** Where a letter stands that is `advance` wide (in text space), and the pen behind it. */
  place(ctm: Affine, t: TextState, advance: number, vertical: boolean): LetterPlace {
    const m = compose(ctm, this.matrix);
    const stretch = t.stretch;
    const frame: Affine = compose(m, planar(t.size * stretch, 0, 0, t.size, 0, 0));
    const flat: Affine = [frame[0], frame[1], 0, frame[3], frame[4], 0, 0, 0, 1, 0, 0, 0];
    const from = applyPoint(m, [this.x, this.y + t.rise, 0]);
    if (vertical) this.y -= advance;
    else this.x += advance * stretch;
    const to = applyPoint(m, [this.x, this.y + t.rise, 0]);
    return { frame: flat, at: [from[0], from[1]], end: [to[0], to[1]] };
  }
}

/** The size of letters and how they lie, from the map of their space: the em is 1 high and upright there. */
export function letterForm(frame: Affine): {
  size: number;
  rotation: number;
  widthFactor: number;
  oblique: number;
  upsideDown: boolean;
} {
  const u = applyVector(frame, [1, 0, 0]);
  const v = applyVector(frame, [0, 1, 0]);
  const wide = Math.hypot(u[0], u[1]);
  const rotation = Math.atan2(u[1], u[0]);
  const [ux, uy] = wide > 0 ? [u[0] / wide, u[1] / wide] : [1, 0];
  // The em measured square to the line, and how far its top leans along it.
  const high = v[1] * ux - v[0] * uy;
  const leans = v[0] * ux + v[1] * uy;
  const size = Math.abs(high);
  const near = (n: number, to: number): number => (Math.abs(n - to) < 1e-6 ? to : n);
  return {
    size,
    rotation: near(rotation, 0),
    widthFactor: size > 0 ? near(wide / size, 1) : 1,
    oblique: near(size > 0 ? Math.atan2(leans, high < 0 ? -high : high) : 0, 0),
    upsideDown: high < 0,
  };
}

/** The shapes of letters by their font, each made once. */
export class LetterShapes {
  private readonly fonts = new Map<PdfFont, ReturnType<typeof loadGlyphs>>();
  private readonly made = new Map<PdfFont, Map<string, PathData | null>>();

  of(font: PdfFont, glyph: Glyph): PathData | null {
    if (!this.fonts.has(font)) {
      this.fonts.set(font, font.data ? loadGlyphs(font.data) : null);
      this.made.set(font, new Map());
    }
    const known = this.made.get(font)!;
    const found = known.get(glyph.fontChar);
    if (found !== undefined) return found;
    const code = glyph.fontChar.codePointAt(0);
    const shape = code === undefined ? null : (this.fonts.get(font)?.(code) ?? null);
    known.set(glyph.fontChar, shape);
    return shape;
  }
}
