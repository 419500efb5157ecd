import type { FontRequest, RichText, Text, TextRun } from '../drawing/entity.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Affine } from '../geometry/affine.js';
import type { PathData } from '../geometry/path.js';
import { piecesOf, pointAt, tangentAt } from '../geometry/path-pieces.js';
import type { Paint, Rgb } from '../drawing/appearance.js';
import { paintRgb } from '../drawing/resolve.js';
import type { FontBook } from './fonts.js';
import type { RunStyle } from './rich.js';
import { parseRich } from './rich.js';
import { AT_END } from '../geometry/tolerance.js';

/** One line of text, ready to be set: where its baseline anchor is in the text's own plane, and how. */
export interface TextLine {
  text: string;
  family: string;
  /** Families to fall back to, where the source names some. */
  or?: readonly string[];
  /** 400 for regular. */
  weight: number;
  italic: boolean;
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
  /** A colour of its own, within rich text. */
  paint?: Paint;
  underline?: boolean;
  overline?: boolean;
  strike?: boolean;
  /** Set from right to left, standing on its head. */
  backwards?: boolean;
  upsideDown?: boolean;
}

/** Distance between baselines in drafting rich text: 5/3 of the height of capitals (DXF reference, MTEXT group 44). */
const LINE_STEP = 5 / 3;

/** The font family a text asks for: its own, or that of its drafting style, the file ending left out. */
export const familyOf = (text: Text | RichText, drawing: Pick<Drawing, 'textStyles'>): string =>
  fontOf(text, drawing).family;

/** The font a text asks for: its own, or that of its drafting style. */
function fontOf(text: Text | RichText, drawing: Pick<Drawing, 'textStyles'>): FontRequest {
  if (text.kind === 'text' && text.font) return text.font;
  const style = drawing.textStyles.find((s) => s.name.toLowerCase() === (text.style ?? 'standard').toLowerCase());
  if (style?.face) return style.face;
  const file = style?.font ?? '';
  const family = file.replace(/^.*[\\/]/, '').replace(/\.(shx|ttf|otf|ttc)$/i, '');
  return { family, weight: 400, italic: false };
}

/** The paint that a line has of its own, apart from that of its text; `null` where it has none. */
export const ownPaint = ({ paint }: TextLine): Paint | null => (paint && paint.kind !== 'byBlock' ? paint : null);

/** The colour of that paint. */
export function ownRgb(line: TextLine): Rgb | null {
  const paint = ownPaint(line);
  return paint && paintRgb(paint);
}

/** What a line is painted in: its own paint, or that of its text. */
export const shownPaint = (line: TextLine, { look }: Text | RichText): Paint =>
  ownPaint(line) ?? (look.fill.kind === 'none' ? look.stroke : look.fill);

/**
 * The lines of a text entity, in its own plane with y upwards. Vertical alignment is turned into a shift of the
 * baseline by the height of capitals (0.2 em below the baseline for `bottom`).
 */
export function linesOf(text: Text | RichText, drawing: Pick<Drawing, 'textStyles'>, fonts: FontBook): TextLine[] {
  const font = fontOf(text, drawing);
  if (text.kind === 'richText') return paragraphLines(text, font, fonts);
  const line = singleLine(text, font, fonts.capital(font.family));
  return text.along || text.spacing || text.runs || text.letters ? lettersOf(line, text, fonts) : [line];
}

/** The line that a single text is aligned as, whatever its letters and pieces do on their own. */
export const baseLine = (text: Text, drawing: Pick<Drawing, 'textStyles'>, fonts: FontBook): TextLine => {
  const font = fontOf(text, drawing);
  return singleLine(text, font, fonts.capital(font.family));
};

function singleLine(t: Text, { family, weight, italic, or }: FontRequest, capital: number): TextLine {
  const em = t.sizeOf === 'em' ? t.size : t.size / capital;
  const cap = em * capital;
  const base = {
    text: t.definition ? (t.tag ?? t.text) : t.text,
    family,
    em,
    rotation: t.rotation,
    widthFactor: t.widthFactor,
    oblique: t.oblique,
    x: t.at[0],
    y: t.at[1],
    weight,
    italic,
    ...(or && { or }),
    ...(t.backwards && { backwards: true }),
    ...(t.upsideDown && { upsideDown: true }),
    ...(t.content?.match(/%%u/i) && { underline: true }),
    ...(t.content?.match(/%%o/i) && { overline: true }),
  };
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

/** A piece of a line with its style, and where it begins along the line. */
interface Placed {
  text: string;
  /** Where its text begins within the whole, in UTF-16 units. */
  index: number;
  start: number;
  width: number;
  line: TextLine;
}

/**
 * A line of several styles, or whose letters stand apart, are moved or follow a path: one line per piece. Along a path
 * the middle of each letter lies on it and turns with it; letters whose middle lies off its ends are not set (SVG 2,
 * "Text layout along a path").
 */
function lettersOf(line: TextLine, t: Text, fonts: FontBook): TextLine[] {
  const pieces: Placed[] = [];
  let at = 0;
  let index = 0;
  const single = t.along !== undefined || t.letters !== undefined || (t.spacing ?? 0) !== 0;
  const spacing = t.spacing ?? 0;
  const runs: readonly TextRun[] = t.runs ?? [{ text: line.text, scale: 1, rise: 0 }];
  for (const run of runs) {
    const set: TextLine = {
      ...line,
      em: line.em * run.scale,
      ...(run.font && { family: run.font.family, weight: run.font.weight, italic: run.font.italic }),
      ...(run.look && { paint: run.look.fill.kind === 'none' ? run.look.stroke : run.look.fill }),
    };
    const advance = (text: string): number =>
      fonts.outline(text, set.family, set.weight, set.italic).advance * set.em * set.widthFactor;
    if (single) {
      let offset = 0;
      for (const part of partsOfRun(run.text)) {
        const whole = advance(part);
        const letters = [...graphemes.segment(part)];
        letters.forEach((l, i) => {
          // Kerning is part of the advance of the letter before: each begins where the line up to it ends, less itself.
          const to = i + 1 < letters.length ? advance(part.slice(0, letters[i + 1]!.index)) : whole;
          const from = to - advance(l.segment);
          pieces.push({
            text: l.segment,
            index: index + offset + l.index,
            start: at + from + i * spacing,
            width: to - from,
            line: { ...set, text: l.segment },
          });
        });
        at += whole + letters.length * spacing;
        offset += part.length;
      }
    } else {
      const whole = advance(run.text);
      pieces.push({ text: run.text, index, start: at, width: whole, line: { ...set, text: run.text } });
      at += whole;
    }
    index += run.text.length;
  }
  // Shifts move a letter and all that follow it; a run's rise is its own.
  const shifts = new Map((t.letters ?? []).map((l) => [l.at, l]));
  const rises = riseAt(t);
  const em = line.em;
  let [dx, dy] = [0, 0];
  const moved = pieces.map((p) => {
    const s = shifts.get(p.index);
    dx += (s?.dx ?? 0) * em * line.widthFactor;
    dy += (s?.dy ?? 0) * em;
    const rise = (dy + rises(p.index) * em) * (line.upsideDown ? -1 : 1);
    return { ...p, start: p.start + dx, rise, turn: (s?.turn ?? 0) * (line.upsideDown ? -1 : 1) };
  });
  const total = at + dx;
  const shift = line.anchor === 'left' ? 0 : line.anchor === 'centre' ? -total / 2 : -total;
  const track = t.along ? trackOf(t.along.path) : null;
  const out: TextLine[] = [];
  for (const p of moved) {
    if (p.text.trim() === '') continue;
    const lead = single ? 0 : p.text.length - p.text.trimStart().length;
    const start =
      shift +
      p.start +
      (lead > 0
        ? fonts.outline(p.text.slice(0, lead), p.line.family, p.line.weight, p.line.italic).advance *
          p.line.em *
          p.line.widthFactor
        : 0);
    const bare = { ...p.line, text: p.text.trim(), anchor: 'left' as const };
    if (!track) {
      const [c, s] = [Math.cos(line.rotation), Math.sin(line.rotation)];
      out.push({
        ...bare,
        x: line.x + c * start - s * p.rise,
        y: line.y + s * start + c * p.rise,
        rotation: line.rotation + p.turn,
      });
      continue;
    }
    const on = track((t.along?.offset ?? 0) + start + p.width / 2);
    if (!on) continue;
    const [c, s] = [Math.cos(on.angle), Math.sin(on.angle)];
    out.push({
      ...bare,
      x: on.x - (c * p.width) / 2 - s * p.rise,
      y: on.y - (s * p.width) / 2 + c * p.rise,
      rotation: on.angle + p.turn,
    });
  }
  return out;
}

/**
 * What is measured together where letters stand one by one: a line as a whole, and of one beyond all use its words, since
 * measuring all beginnings of a line takes the square of its length.
 */
const partsOfRun = (text: string): readonly string[] =>
  text.length <= LONG_LINE ? [text] : (text.match(/ *[^ ]{1,40}| +$/g) ?? []);

const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/** How far above the line the run stands that holds a place of the text, in sizes of the line. */
function riseAt(t: Text): (index: number) => number {
  if (!t.runs) return () => 0;
  const ends: [number, number][] = [];
  let end = 0;
  for (const r of t.runs) ends.push([(end += r.text.length), r.rise]);
  return (index) => ends.find(([e]) => index < e)?.[1] ?? 0;
}

/** In how many steps the length of a curve is added up. */
const STEPS = 256;

/** Finds the point and direction of a path at a distance from its start; `null` off its ends. */
function trackOf(path: PathData): (at: number) => { x: number; y: number; angle: number } | null {
  const tracks = piecesOf(path, false)
    .flatMap((p) => p.pieces)
    .map((piece) => {
      // Even pieces need no table: their length grows evenly with the parameter.
      const even = piece.kind === 'arc' ? piece.rx === piece.ry : piece.p.length === 4;
      const lengths = [0];
      if (even) {
        const [dx, dy] = tangentAt(piece, 0.5);
        lengths.push(Math.hypot(dx, dy));
      } else {
        let from = pointAt(piece, 0);
        for (let k = 1; k <= STEPS; k++) {
          const to = pointAt(piece, k / STEPS);
          lengths.push(lengths[k - 1]! + Math.hypot(to[0] - from[0], to[1] - from[1]));
          from = to;
        }
      }
      return { piece, lengths };
    });
  return (at) => {
    if (at < 0) return null;
    let left = at;
    for (const { piece, lengths } of tracks) {
      const whole = lengths[lengths.length - 1]!;
      if (left > whole) {
        left -= whole;
        continue;
      }
      let k = 1;
      for (let [lo, hi] = [1, lengths.length - 1]; lo <= hi;) {
        k = (lo + hi) >> 1;
        if (lengths[k]! < left) lo = k + 1;
        else hi = k - 1;
        k = lo;
      }
      k = Math.min(k, lengths.length - 1);
      const step = lengths[k]! - lengths[k - 1]!;
      const t = (k - 1 + (step > 0 ? (left - lengths[k - 1]!) / step : 0)) / (lengths.length - 1);
      const [x, y] = pointAt(piece, t);
      const [dx, dy] = tangentAt(piece, t);
      return { x, y, angle: Math.atan2(dy, dx) };
    }
    return null;
  };
}

/** Letters of one style in a line up to which they are measured together, kerning between words included. */
const LONG_LINE = 300;

/** A piece of a line: text in one style, or a stack. */
interface Segment {
  text: string;
  style: RunStyle;
  width: number;
  stack?: { bottom: string; bar: boolean };
}

/** How high the numbers of a stack are, and where their baselines lie, in heights of capitals. */
const STACK = { height: 0.6, top: 0.58, bottom: -0.18 };

/**
 * Rich text in lines: each a `TextLine` per style, wrapped where words allow. Lines lie 5/3 of their tallest capitals
 * apart.
 */
function paragraphLines(t: RichText, font: FontRequest, fonts: FontBook): TextLine[] {
  const { family } = font;
  const weightOf = (style: RunStyle): number => style.weight ?? (style.family === undefined ? font.weight : 400);
  const italicOf = (style: RunStyle): boolean => style.italic ?? (style.family === undefined && font.italic);
  const em = (style: RunStyle, k = 1): number => (t.size * style.height * k) / fonts.capital(style.family ?? family);
  const widthOf = (text: string, style: RunStyle, k = 1): number =>
    fonts.outline(text, style.family ?? family, weightOf(style), italicOf(style)).advance *
    em(style, k) *
    style.widthFactor;
  const lines: { segments: Segment[]; align: TextLine['anchor'] }[] = [];
  for (const p of parseRich(t.content, t.size)) {
    const align = p.align ?? t.horizontal;
    let line: Segment[] = [];
    let width = 0;
    const next = (): void => {
      lines.push({ segments: line, align });
      line = [];
      width = 0;
    };
    const put = (s: Segment): void => {
      const last = line[line.length - 1];
      if (last && !last.stack && !s.stack && last.style === s.style) {
        last.text += s.text;
        const before = last.width;
        // A line without end is not set anew with every word: that would take the square of its length.
        last.width = last.text.length <= LONG_LINE ? widthOf(last.text, last.style) : before + s.width;
        width += last.width - before;
      } else {
        line.push(s);
        width += s.width;
      }
    };
    for (const piece of p.pieces) {
      const { style } = piece;
      if (piece.kind === 'stack') {
        const w = Math.max(widthOf(piece.top, style, STACK.height), widthOf(piece.bottom, style, STACK.height));
        put({ text: piece.top, style, width: w, stack: { bottom: piece.bottom, bar: piece.bar } });
        continue;
      }
      // Words with the blanks before them.
      for (const word of piece.text.match(/ *[^ ]+| +$/g) ?? []) {
        const w = widthOf(word, style);
        if (t.width > 0 && line.length > 0 && width + w > t.width * (1 + AT_END) && word.trim() !== '') {
          next();
          put({ text: word.trimStart(), style, width: widthOf(word.trimStart(), style) });
        } else put({ text: word, style, width: w });
      }
    }
    next();
  }
  const tall = (l: { segments: Segment[] }): number =>
    t.size * l.segments.reduce((m, s) => Math.max(m, s.style.height), 0) || t.size;
  const steps = lines.map((l, i) => (i === 0 ? tall(l) : tall(l) * LINE_STEP * (t.lineSpacing || 1)));
  const height = steps.reduce((a, b) => a + b, 0);
  const top = t.vertical === 'top' ? 0 : t.vertical === 'middle' ? height / 2 : height;
  const out: TextLine[] = [];
  let down = -top;
  lines.forEach(({ segments, align }, i) => {
    down += steps[i]!;
    const [c, s] = [Math.cos(t.rotation), Math.sin(t.rotation)];
    // Where alignment within the column differs from that of the whole, lines start at the column's edge.
    const column = t.width > 0 && align !== t.horizontal ? columnShift(t.horizontal, align) * t.width : 0;
    const place = (along: number, up: number): { x: number; y: number } => ({
      x: t.at[0] + c * along + s * (down - up),
      y: t.at[1] + s * along - c * (down - up),
    });
    const set = (
      seg: Segment,
      text: string,
      along: number,
      up: number,
      k: number,
      anchor: TextLine['anchor'],
    ): void => {
      const { style } = seg;
      out.push({
        text,
        family: style.family ?? family,
        em: em(style, k),
        rotation: t.rotation,
        widthFactor: style.widthFactor,
        oblique: style.oblique,
        anchor,
        weight: weightOf(style),
        italic: italicOf(style),
        ...place(along, up),
        ...(style.paint && { paint: style.paint }),
        ...((style.underline || (k !== 1 && up > 0 && seg.stack?.bar)) && { underline: true }),
        ...(style.overline && { overline: true }),
        ...(style.strike && { strike: true }),
      });
    };
    if (segments.length === 1 && !segments[0]!.stack) return set(segments[0]!, segments[0]!.text, column, 0, 1, align);
    const total = segments.reduce((sum, x) => sum + x.width, 0);
    let along = column + (align === 'left' ? 0 : align === 'centre' ? -total / 2 : -total);
    for (const seg of segments) {
      const cap = t.size * seg.style.height;
      if (seg.stack) {
        const mid = along + seg.width / 2;
        set(seg, seg.text, mid, STACK.top * cap, STACK.height, 'centre');
        set(seg, seg.stack.bottom, mid, STACK.bottom * cap, STACK.height, 'centre');
      } else {
        // Blanks at its ends draw nothing, and are lost on many ways: the text begins where its letters do.
        const bare = seg.text.trim();
        const lead = seg.text.length - seg.text.trimStart().length;
        if (bare !== '') set(seg, bare, along + widthOf(seg.text.slice(0, lead), seg.style), 0, 1, 'left');
      }
      along += seg.width;
    }
  });
  return out;
}

/** From the point that the whole is aligned by to the edge that a line is aligned by, in widths of the column. */
function columnShift(whole: TextLine['anchor'], line: TextLine['anchor']): number {
  const at = { left: 0, centre: 0.5, right: 1 };
  return at[line] - at[whole];
}

/** From em coordinates of a line (pen at 0, 0) to the text's plane. */
export function lineMatrix(line: TextLine, advance: number): Affine {
  const stretch = line.stretchTo && advance > 0 ? line.stretchTo / (advance * line.em) : line.widthFactor;
  const [c, s] = [Math.cos(line.rotation), Math.sin(line.rotation)];
  const sx = line.em * stretch;
  const sy = line.em;
  const slant = Math.tan(line.oblique);
  const start = line.anchor === 'left' ? 0 : line.anchor === 'centre' ? -advance / 2 : -advance;
  const [fx, fy] = [line.backwards ? -1 : 1, line.upsideDown ? -1 : 1];
  const ox = start * sx * fx;
  return [
    c * sx * fx,
    s * sx * fx,
    0,
    (c * slant - s) * sy * fy,
    (s * slant + c) * sy * fy,
    0,
    0,
    0,
    1,
    line.x + c * ox,
    line.y + s * ox,
    0,
  ];
}
