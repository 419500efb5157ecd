import bidiFactory from 'bidi-js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder, transformPath } from '../geometry/path.js';
import { planar, scaling, translation } from '../geometry/affine.js';
import type { OutlineFont } from './outline-font.js';
import { loadOutlineFont } from './outline-font.js';
import type { ShapedGlyph } from './shaped.js';
import type { StrokeFont } from './stroke-font.js';
import { isCompiledStrokes, loadCompiledStrokes } from './compiled-strokes.js';
import { SINGLE_LINE, singleLine } from './single-line.js';

export type LoadedFont = { kind: 'outline'; font: OutlineFont } | { kind: 'strokes'; font: StrokeFont };

/** Reads a font by its bytes: TTF, OTF, WOFF, WOFF2, or a compiled stroke font. Throws `UserError` when it is none. */
export function loadFont(bytes: Uint8Array, family?: string): LoadedFont {
  if (isCompiledStrokes(bytes)) return { kind: 'strokes', font: loadCompiledStrokes(family ?? 'Unnamed', bytes) };
  return { kind: 'outline', font: loadOutlineFont(bytes, family) };
}

/** A line of text as outlines or strokes: the em is 1 high, the pen starts at (0, 0) and goes right, y upwards. */
export interface TextOutline {
  path: PathData;
  advance: number;
  missing: string[];
  /** The letters are open strokes to be drawn, not areas to be filled. */
  strokes: boolean;
}

/** A letter of a line: its font, and where the pen stands before it. */
export interface SetLetter {
  readonly font: OutlineFont;
  readonly glyph: ShapedGlyph;
  readonly x: number;
}

/** A line of text as letters of fonts. Lengths in ems; `lean` as a part of the height, where upright letters stand for italic ones. */
export interface SetLetters {
  readonly letters: readonly SetLetter[];
  readonly advance: number;
  readonly missing: readonly string[];
  readonly lean: number;
}

/** How a request for a font was met. */
export type Met = 'own' | 'chart' | 'kind' | 'standard' | 'unnamed';

/** How far upright letters lean where an italic is asked for that a family has not. */
const LEAN = 0.2;
/** Room for a character that no font has. */
const BLANK = 0.3;

/** Families that stand for a kind of letter, by words in the names of fonts. */
const KINDS: [RegExp, string][] = [
  [/mono|code|typewriter/i, 'mono'],
  [/condensed|narrow|compress/i, 'condensed'],
  [/sans|grotes|gothic/i, 'sans'],
  [/serif|roman|antiqua/i, 'serif'],
];

/** Which family stands for each kind of letter. */
export type KindFamilies = Partial<Record<'sans' | 'serif' | 'mono' | 'condensed', string>>;

// The package's types describe another shape than it has under either module system.
const bidi = (bidiFactory as unknown as () => BidiAlgorithm)();
interface BidiAlgorithm {
  getEmbeddingLevels(text: string): { levels: Uint8Array; paragraphs: { level: number }[] };
}
/** Hebrew, Arabic and their neighbours, and the marks that steer direction. */
const RIGHT_TO_LEFT =
  /[\u0590-\u08ff\u200f\u202b\u202e\u2067\ufb1d-\ufdff\ufe70-\ufeff]|[\ud802\ud803\ud83a\ud83b][\udc00-\udfff]/;

/**
 * The fonts at hand, and a chart that says which family stands for which. A family that is not there is replaced by the
 * one its name speaks of (serif, mono, condensed), or by the first. Several files may cover one family (Latin, extended
 * Latin, bold): a character is taken from the first that has it.
 */
export class FontBook {
  private readonly outlines = new Map<string, TextOutline>();
  private readonly chart: ReadonlyMap<string, string>;
  private readonly sorted = new Map<string, LoadedFont[]>();

  constructor(
    readonly fonts: readonly LoadedFont[],
    chart: Readonly<Record<string, string>> = {},
    private readonly kinds: KindFamilies = {},
  ) {
    this.chart = new Map(Object.entries(chart).map(([from, to]) => [from.toLowerCase(), to]));
  }

  /** The same fonts with another chart, from asked-for to family, and more fonts before them. */
  with(chart: Readonly<Record<string, string>>, more: readonly LoadedFont[] = []): FontBook {
    return new FontBook([...more, ...this.fonts], chart, this.kinds);
  }

  get families(): string[] {
    return [...new Set([...this.fonts.map((f) => f.font.family), SINGLE_LINE])];
  }
  has(family: string): boolean {
    return this.families.some((f) => f.toLowerCase() === family.toLowerCase());
  }
  /** The family that letters are taken from when this one is asked for, and why. */
  standIn(family: string): { family: string; how: Met } {
    const own = (name: string): string | undefined => this.families.find((f) => f.toLowerCase() === name.toLowerCase());
    const charted = this.chart.get(family.toLowerCase());
    if (charted !== undefined && own(charted) !== undefined) return { family: own(charted)!, how: 'chart' };
    // A style that names no font asks for none: whatever letters are used, none is missing.
    if (family === '') return { family: this.fonts[0]?.font.family ?? SINGLE_LINE, how: 'unnamed' };
    const found = own(family);
    if (found !== undefined) return { family: found, how: 'own' };
    const kind = KINDS.find(([words]) => words.test(family))?.[1] as keyof KindFamilies | undefined;
    const byKind = kind && this.kinds[kind];
    if (byKind && own(byKind) !== undefined) return { family: byKind, how: 'kind' };
    return { family: this.fonts[0]?.font.family ?? SINGLE_LINE, how: 'standard' };
  }
  /** Height of capitals as a part of the em, of the family or of what stands in for it; 0.7 without any font. */
  capital(family: string): number {
    return this.candidates(family, 400, false)[0]?.font.capital ?? 0.7;
  }
  /** The files to take characters from: the family, nearest style first, then all others. */
  private candidates(family: string, weight: number, italic: boolean): LoadedFont[] {
    const key = `${family}\u0000${weight}${italic}`;
    const known = this.sorted.get(key);
    if (known) return known;
    const wanted = this.standIn(family).family.toLowerCase();
    const far = (f: LoadedFont): number =>
      f.kind === 'strokes' ? 0 : Math.abs(f.font.weight - weight) + (f.font.italic === italic ? 0 : 2000);
    const all: LoadedFont[] = [...this.fonts, { kind: 'strokes', font: singleLine }];
    const own = all.filter((f) => f.font.family.toLowerCase() === wanted).sort((a, b) => far(a) - far(b));
    const outlines = all.filter((f) => f.kind === 'outline' && !own.includes(f)).sort((a, b) => far(a) - far(b));
    const made = [...own, ...outlines, ...all.filter((f) => f.kind === 'strokes' && !own.includes(f))];
    this.sorted.set(key, made);
    return made;
  }

  /**
   * The outlines of one line of text, in visual order (Unicode Bidirectional Algorithm). Characters that no font has are
   * listed and left blank.
   */
  outline(text: string, family: string, weight = 400, italic = false): TextOutline {
    const key = `${family}\u0000${weight}${italic}\u0000${text}`;
    const known = this.outlines.get(key);
    if (known) return known;
    const builder = new PathBuilder();
    const missing: string[] = [];
    const { pieces, lean, strokes } = this.pieces(text, family, weight, italic);
    let x = 0;
    for (const p of pieces) {
      if (p.font === null) {
        if (p.text.trim() !== '') missing.push(p.text);
        x += BLANK;
      } else if (p.font.kind === 'outline') x += p.font.font.draw(p.text, p.rightToLeft, builder, x);
      else x += drawStrokes(p.font.font, p.text, builder, x);
    }
    let path = builder.build();
    if (lean) path = transformPath(path, planar(1, 0, LEAN, 1, 0, 0));
    const made = { path, advance: x, missing, strokes };
    if (this.outlines.size > 20_000) this.outlines.clear();
    this.outlines.set(key, made);
    return made;
  }

  /**
   * The letters of one line of text by the fonts they come from, in visual order, with where each stands (in ems); `null` where the
   * line is drawn in strokes, which no font of outlines holds.
   */
  letters(text: string, family: string, weight = 400, italic = false): SetLetters | null {
    const { pieces, lean, strokes } = this.pieces(text, family, weight, italic);
    if (strokes) return null;
    const letters: SetLetter[] = [];
    const missing: string[] = [];
    let x = 0;
    for (const p of pieces) {
      if (p.font?.kind !== 'outline') {
        if (p.text.trim() !== '') missing.push(p.text);
        x += BLANK;
        continue;
      }
      for (const glyph of p.font.font.shape(p.text, p.rightToLeft)) {
        letters.push({ font: p.font.font, glyph, x });
        x += glyph.advance;
      }
    }
    return { letters, advance: x, missing, lean: lean ? LEAN : 0 };
  }

  /** A line in visual order, in pieces of one font and direction each; without a font what none has. */
  private pieces(text: string, family: string, weight: number, italic: boolean) {
    const fonts = this.candidates(family, weight, italic);
    const strokes = fonts[0]?.kind === 'strokes';
    const lean = italic && (strokes || (fonts[0]?.kind === 'outline' && !fonts[0].font.italic));
    // A font of strokes and one of outlines are not mixed in one line: what strokes lack is missing.
    const usable = fonts.filter((f) => (f.kind === 'strokes') === strokes);
    const pieces: { text: string; font: LoadedFont | null; rightToLeft: boolean }[] = [];
    for (const { text: part, rightToLeft } of visualParts(text)) {
      let run = '';
      let font: LoadedFont | null = null;
      const flush = (): void => {
        if (run !== '') pieces.push({ text: run, font, rightToLeft });
        run = '';
      };
      for (const segment of segmentsOf(part)) {
        const points = [...segment].map((c) => c.codePointAt(0)!).filter((c) => !isSilent(c));
        const found = usable.find((f) => covers(f, points, segment)) ?? null;
        if (found === null || found !== font || (run.length > LONG_RUN && segment === ' ')) flush();
        font = found;
        if (found === null) pieces.push({ text: segment, font: null, rightToLeft });
        else run += segment;
      }
      flush();
    }
    return { pieces, lean, strokes };
  }

  /**
   * A line of text in single lines: the strokes of the family itself, or of the application's lettering with capitals as
   * high as the family's. With `fitted` it is made as wide as the family's own letters.
   */
  single(text: string, family: string, weight: number, italic: boolean, fitted: boolean): TextOutline {
    const own = this.outline(text, family, weight, italic);
    if (own.strokes) return own;
    const lines = this.outline(text, SINGLE_LINE, weight, italic);
    const k = this.capital(family) / this.capital(SINGLE_LINE);
    const wide = fitted && lines.advance > 0 ? own.advance / (lines.advance * k) : 1;
    return { ...lines, path: transformPath(lines.path, scaling(k * wide, k, 1)), advance: lines.advance * k * wide };
  }
}

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/** Letters after which a run ends at the next blank: shaping and segmenting take the square of a run's length. */
const LONG_RUN = 500;

/** The user-perceived characters of a text; a long one is cut at blanks first. */
function* segmentsOf(text: string): Generator<string> {
  let at = 0;
  while (at < text.length) {
    const blank = text.indexOf(' ', at + LONG_RUN);
    const end = blank < 0 ? text.length : blank;
    for (const { segment } of graphemes.segment(text.slice(at, end))) yield segment;
    at = end;
  }
}

/** Joiners, selectors and direction marks draw nothing of their own. */
const isSilent = (c: number): boolean =>
  (c >= 0x200b && c <= 0x200f) ||
  (c >= 0x202a && c <= 0x202e) ||
  (c >= 0x2060 && c <= 0x2069) ||
  (c >= 0xfe00 && c <= 0xfe0f) ||
  c === 0xfeff;

function covers(f: LoadedFont, points: readonly number[], segment: string): boolean {
  if (f.kind === 'outline') {
    if (points.every((c) => f.font.has(c))) return true;
    const composed = segment.normalize('NFC');
    return composed !== segment && [...composed].every((c) => f.font.has(c.codePointAt(0)!));
  }
  return [...segment.normalize('NFC')].every((c) => f.font.glyph(c.codePointAt(0)!) !== null);
}

function drawStrokes(font: StrokeFont, text: string, builder: PathBuilder, x: number): number {
  let at = x;
  for (const c of text.normalize('NFC')) {
    const g = font.glyph(c.codePointAt(0)!);
    if (!g) continue;
    builder.append(transformPath(g.path, translation(at, 0)));
    at += g.advance;
  }
  return at - x;
}

/** Text in the parts that run one way, from left to right on the page. Most text is one part. */
function visualParts(text: string): { text: string; rightToLeft: boolean }[] {
  if (!RIGHT_TO_LEFT.test(text)) return [{ text, rightToLeft: false }];
  const { levels, paragraphs } = bidi.getEmbeddingLevels(text);
  const parts: { text: string; level: number }[] = [];
  for (let i = 0; i < text.length; i++) {
    const last = parts[parts.length - 1];
    if (last && last.level === levels[i]) last.text += text[i];
    else parts.push({ text: text[i]!, level: levels[i]! });
  }
  // Rule L2: from the highest level down to the lowest odd one, every run at that level or above is reversed.
  const base = paragraphs[0]?.level ?? 0;
  const highest = Math.max(base, ...parts.map((p) => p.level));
  for (let level = highest; level >= 1; level--) {
    for (let i = 0; i < parts.length; i++) {
      if (parts[i]!.level < level) continue;
      let j = i;
      while (j + 1 < parts.length && parts[j + 1]!.level >= level) j++;
      parts.splice(i, j - i + 1, ...parts.slice(i, j + 1).reverse());
      i = j;
    }
  }
  return parts.map((p) => ({ text: p.text, rightToLeft: p.level % 2 === 1 }));
}
