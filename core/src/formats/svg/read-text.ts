import type { PlainReason, Reason } from '../../drawing/reasons.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, applyPoint } from '../../geometry/affine.js';
import type { Appearance } from '../../drawing/appearance.js';
import type {
  Draft,
  FontRequest,
  HorizontalAlign,
  LetterShift,
  Text,
  TextRun,
  VerticalAlign,
} from '../../drawing/entity.js';
import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { lengthOf } from '../../drawing/measures.js';
import type { PathData } from '../../geometry/path.js';
import { transformPath } from '../../geometry/path.js';
import type { StyleSheet } from './css.js';
import { parseLength } from './lengths.js';
import { parsePathData } from '../../geometry/path-data.js';
import type { Style } from './style.js';
import { parseTransform } from './transforms.js';
import type { XmlDocument, XmlElement } from './xml.js';
import { AT_END, ROUNDING } from '../../geometry/tolerance.js';

export interface TextContext {
  document: XmlDocument;
  sheet: StyleSheet;
  ctm: Affine;
  style: Style;
  viewport: { width: number; height: number };
  lookOf: (style: Style) => Appearance;
  base: Omit<
    Text,
    | 'kind'
    | 'id'
    | 'look'
    | 'text'
    | 'at'
    | 'size'
    | 'sizeOf'
    | 'rotation'
    | 'widthFactor'
    | 'oblique'
    | 'horizontal'
    | 'vertical'
  >;
  newId: () => number;
  /** The length that `textLength` stretches letters and all to, in user units. */
  stretchTo?: number;
  /** Something about text that is not carried as the source has it. */
  loss: (reason: Reason, id: number) => void;
}

export const fontSizeOf = (style: Style): number => style.fontSize;

/** One character of a `text` element and what the document says of it alone. */
interface Char {
  char: string;
  style: Style;
  x?: number;
  y?: number;
  dx?: number;
  dy?: number;
  /** Degrees, clockwise on the page. */
  turn?: number;
  along?: Track;
}

interface Track {
  path: PathData;
  offset: number;
}

/** Most characters of one `text` element. */
const MAX_CHARS = 1 << 20;

/**
 * The text entities of a `text` element: one per chunk that an `x` (or a path) puts in a place of its own (SVG 2 §11.5,
 * "text chunk"). Pieces in other styles are its runs, letters moved by `dx`, `dy`, `y` or `rotate` its letter shifts.
 */
export function readText(e: XmlElement, x: TextContext): Text[] {
  const losses = new Set<PlainReason>();
  const chars = charactersOf(e, x, losses);
  const out: Text[] = [];
  let [px, py] = [0, 0];
  let from = 0;
  const flush = (to: number): void => {
    const made = chunk(chars.slice(from, to), px, py, x, losses);
    if (made) {
      out.push(made.text);
      [px, py] = [px, made.y];
    }
    from = to;
  };
  chars.forEach((c, i) => {
    const begins = i === 0 || c.x !== undefined || c.along !== chars[i - 1]!.along;
    if (!begins) return;
    if (i > 0) flush(i);
    px = c.x ?? px;
    py = c.y ?? py;
  });
  if (chars.length > 0) flush(chars.length);
  for (const t of out) for (const reason of losses) x.loss(reason, t.id);
  return out;
}

/** The addressable characters: white space collapsed, lists of places dealt out (SVG 2 §11.4.1, "Resolving positions"). */
function charactersOf(e: XmlElement, x: TextContext, losses: Set<PlainReason>): Char[] {
  const chars: Char[] = [];
  const keep = (node: XmlElement, style: Style): boolean =>
    node.attributes.get('space') === 'preserve' ||
    node.foreign.get('space') === 'preserve' ||
    /^(pre|break-spaces)/.test(style.get('white-space') ?? '');
  const visit = (node: XmlElement, style: Style, preserve: boolean, along: Track | undefined): void => {
    if (style.get('display') === 'none') return;
    for (const reason of unfollowedOf(node, style)) losses.add(reason);
    const begin = chars.length;
    for (const c of node.children) {
      if (typeof c !== 'string') {
        if (c.name !== 'tspan' && c.name !== 'textPath' && c.name !== 'a' && c.name !== 'tref') continue;
        const own = style.child(c, x.sheet);
        let track = along;
        if (c.name === 'textPath') {
          const found = pathOf(c, x.document, own);
          if (found) track = found;
          else losses.add('path-of-text-missing');
        }
        visit(c, own, preserve || keep(c, own), track);
        continue;
      }
      for (const char of c) {
        if (chars.length >= MAX_CHARS) return;
        const blank = char === ' ' || char === '\n' || char === '\t' || char === '\r';
        if (blank && !preserve) {
          const last = chars[chars.length - 1];
          if (!last || last.char === ' ') continue;
        }
        const shown = blank ? ' ' : transformed(char, style, chars[chars.length - 1]?.char);
        if (shown !== char && !blank) losses.add('text-transform-applied');
        chars.push({ char: shown, style, ...(along && { along }) });
      }
    }
    // Those within have dealt out theirs already: the innermost word counts.
    const { width, height } = x.viewport;
    const em = fontSizeOf(style);
    const list = (name: string): string[] =>
      (node.attributes.get(name) ?? '')
        .trim()
        .split(/[\s,]+/)
        .filter(Boolean);
    const deal = (name: 'x' | 'y' | 'dx' | 'dy', percentOf: number): void =>
      list(name).forEach((text, i) => {
        const c = chars[begin + i];
        const v = parseLength(text, { percentOf, em });
        if (c && v !== null) c[name] ??= v;
      });
    deal('x', width);
    deal('y', height);
    deal('dx', width);
    deal('dy', height);
    const turns = list('rotate').map(Number).filter(Number.isFinite);
    if (turns.length > 0)
      for (let i = begin; i < chars.length; i++) chars[i]!.turn ??= turns[Math.min(i - begin, turns.length - 1)];
  };
  visit(e, x.style, keep(e, x.style), undefined);
  if (!keep(e, x.style)) while (chars.length > 0 && chars[chars.length - 1]!.char === ' ') chars.pop();
  return chars;
}

/** One chunk as a text, and how far down the next one stands if it says nothing of its own. */
function chunk(
  chars: readonly Char[],
  x: number,
  y: number,
  context: TextContext,
  losses: Set<PlainReason>,
): { text: Text; y: number } | null {
  const first = chars[0];
  if (!first) return null;
  const size = fontSizeOf(first.style);
  if (!(size > 0)) return null;
  const base = fontOf(first.style);
  const look = context.lookOf(first.style);
  const words = parseLength(first.style.get('word-spacing') ?? '0', { percentOf: size, em: size }) ?? 0;
  const start = { x: x + (first.dx ?? 0), y: y + (first.dy ?? 0) };
  const runs: TextRun[] = [];
  const letters: LetterShift[] = [];
  let style: Style | null = null;
  let text = '';
  let down = 0;
  chars.forEach((c, i) => {
    if (c.style !== style) {
      style = c.style;
      const own = fontOf(style);
      const ownLook = context.lookOf(style);
      const other = own.family !== base.family || own.weight !== base.weight || own.italic !== base.italic;
      const last = runs[runs.length - 1];
      const made: TextRun = {
        text: '',
        scale: fontSizeOf(style) / size,
        rise: riseOf(style) / size,
        ...(other && { font: own }),
        ...(ownLook !== look && { look: ownLook }),
      };
      const same =
        last &&
        last.scale === made.scale &&
        last.rise === made.rise &&
        last.look === made.look &&
        JSON.stringify(last.font) === JSON.stringify(made.font);
      if (!same) runs.push(made);
    }
    const run = runs[runs.length - 1]!;
    (run as Draft<TextRun>).text += c.char;
    // A `y` of its own moves a letter up or down from where it stood.
    const dy = i === 0 ? 0 : (c.dy ?? 0) + (c.y !== undefined ? c.y - (start.y + down) : 0);
    const dx = (i === 0 ? 0 : (c.dx ?? 0)) + (i > 0 && words !== 0 && chars[i - 1]!.char === ' ' ? words : 0);
    down += dy;
    const turn = c.turn ?? 0;
    if (dx !== 0 || dy !== 0 || turn !== 0)
      letters.push({ at: text.length, dx: dx / size, dy: -dy / size, turn: (-turn * Math.PI) / 180 });
    text += c.char;
  });
  const end = start.y + down;
  if (text.trim() === '') return null;
  const many = runs.length > 1 || runs[0]!.rise !== 0;
  const made: Draft<Text> = textEntity(text, { ...start, style: first.style, along: first.along }, context);
  if (many) made.runs = runs;
  if (letters.length > 0) made.letters = letters;
  // Blanks at the ends of a chunk that stands alone draw nothing.
  if (!many && letters.length === 0)
    made.text = text.trimEnd() === text ? text : made.horizontal === 'left' ? text.trimEnd() : text;
  if (many && runs.some((r) => r.look && r.look.visible !== look.visible)) losses.add('hidden-pieces-shown');
  return { text: made, y: end };
}

/** A letter as `text-transform` shows it (CSS Text 3 §2.1). */
function transformed(char: string, style: Style, before: string | undefined): string {
  const how = style.get('text-transform') ?? 'none';
  if (how === 'uppercase') return char.toUpperCase();
  if (how === 'lowercase') return char.toLowerCase();
  return how === 'capitalize' && (before === undefined || before === ' ') ? char.toUpperCase() : char;
}

/** What an element of text asks for and does not get. */
function unfollowedOf(node: XmlElement, style: Style): PlainReason[] {
  const is = (name: string, ...usual: string[]): boolean => {
    const value = style.get(name)?.trim();
    return value !== undefined && value !== '' && !usual.includes(value);
  };
  const found: PlainReason[] = [];
  if (/^(tb|vertical)/.test(style.get('writing-mode') ?? '')) found.push('downward-text-across');
  if (is('stroke', 'none'))
    found.push(style.get('fill') === 'none' ? 'text-outline-filled' : 'text-stroke-not-carried');
  if (is('text-decoration', 'none') || is('text-decoration-line', 'none')) found.push('text-decoration-not-carried');
  if (is('font-variant', 'normal', 'none') || is('font-variant-caps', 'normal'))
    found.push('small-capitals-not-carried');
  if (is('font-stretch', 'normal', '100%')) found.push('font-stretch-not-carried');
  if (is('direction', 'ltr')) found.push('text-direction-not-followed');
  if (is('alignment-baseline', 'auto', 'baseline')) found.push('alignment-baseline-not-followed');
  if (node.name === 'textPath') {
    if ((node.attributes.get('side') ?? 'left') !== 'left') found.push('path-side-not-followed');
    if ((node.attributes.get('method') ?? 'align') !== 'align') found.push('path-method-not-followed');
  }
  return found;
}

/** How far a piece stands above its line, in user units (`baseline-shift`). */
function riseOf(style: Style): number {
  const shift = style.get('baseline-shift');
  const size = fontSizeOf(style);
  if (!shift || shift === 'baseline') return 0;
  if (shift === 'sub') return -0.2 * size;
  if (shift === 'super') return 0.4 * size;
  return parseLength(shift, { percentOf: size, em: size }) ?? 0;
}

function textEntity(
  text: string,
  run: { x: number; y: number; style: Style; along: Track | undefined },
  x: TextContext,
): Text {
  const { style } = run;
  const m = x.ctm;
  const size = fontSizeOf(style);
  // Text direction and its square: what is left over is a width factor and a slant.
  const [ux, uy, vx, vy] = [m[0], m[1], m[3], m[4]];
  const lu = Math.hypot(ux, uy);
  const height = Math.abs(ux * vy - uy * vx) / (lu || 1);
  // Letters of mirrored text hang from their line.
  const mirrored = ux * vy - uy * vx < 0;
  const slant = ((mirrored ? -1 : 1) * (ux * vx + uy * vy)) / (lu || 1);
  const oblique = Math.atan2(-slant, height);
  const near = (v: number): number => (Math.abs(v - 1) < AT_END ? 1 : v);
  const id = x.newId();
  if (mirrored && run.along) x.loss('mirrored-text-readable', id);
  const apart = style.get('letter-spacing');
  const spacing = apart && apart !== 'normal' ? (parseLength(apart, { percentOf: size, em: size }) ?? 0) * lu : 0;
  const along = run.along && { path: transformPath(run.along.path, m), offset: run.along.offset * lu };
  const at = along
    ? applyPoint(m, [run.along!.path.data[0]!, run.along!.path.data[1]!, 0])
    : applyPoint(m, [run.x, run.y, 0]);
  const stretch = x.stretchTo !== undefined && !along ? x.stretchTo * lu : 0;
  const rotation = Math.atan2(uy, ux);
  return {
    kind: 'text',
    ...x.base,
    id,
    look: x.lookOf(style),
    text,
    at,
    size: size * height,
    sizeOf: 'em',
    rotation,
    widthFactor: height > 0 ? near(lu / height) : 1,
    oblique: Math.abs(oblique) < ROUNDING ? 0 : oblique,
    horizontal: horizontalOf(style.get('text-anchor')),
    vertical: verticalOf(style.get('dominant-baseline')),
    ...(mirrored && !along && { upsideDown: true }),
    font: fontOf(style),
    ...(stretch > 0 &&
      horizontalOf(style.get('text-anchor')) === 'left' && {
        horizontal: 'fit' as const,
        other: [at[0] + stretch * Math.cos(rotation), at[1] + stretch * Math.sin(rotation), 0] as const,
      }),
    ...(spacing !== 0 && { spacing }),
    ...(along && { along }),
  };
}

const horizontalOf = (anchor: string | undefined): HorizontalAlign =>
  anchor === 'middle' ? 'centre' : anchor === 'end' ? 'right' : 'left';

function verticalOf(baseline: string | undefined): VerticalAlign {
  if (baseline === 'middle' || baseline === 'central') return 'middle';
  if (baseline === 'hanging' || baseline === 'text-before-edge' || baseline === 'text-top') return 'top';
  if (baseline === 'text-after-edge' || baseline === 'text-bottom' || baseline === 'ideographic') return 'bottom';
  return 'baseline';
}

function fontOf(style: Style): FontRequest {
  const [family = 'sans-serif', ...or] = (style.get('font-family') ?? 'sans-serif')
    .split(',')
    .map((name) => name.trim().replace(/^["']|["']$/g, ''))
    .filter((name) => name !== '');
  const w = style.get('font-weight') ?? 'normal';
  const weight = w === 'bold' || w === 'bolder' ? 700 : Number(w) || 400;
  return { family, weight, italic: /italic|oblique/.test(style.get('font-style') ?? ''), ...(or.length > 0 && { or }) };
}

/** The path that a `textPath` refers to, under its own transform, and how far along it the text begins. */
function pathOf(node: XmlElement, document: XmlDocument, style: Style): { path: PathData; offset: number } | null {
  const id = (node.attributes.get('href') ?? node.foreign.get('href') ?? '').replace(/^#/, '');
  const e = document.byId.get(id);
  if (e?.name !== 'path') return null;
  const { path } = parsePathData(e.attributes.get('d') ?? '');
  if (path.cmds.length < 2) return null;
  const placed = transformPath(path, parseTransform(e.attributes.get('transform')) ?? IDENTITY);
  const stated = node.attributes.get('startOffset');
  if (stated === undefined) return { path: placed, offset: 0 };
  const whole = stated.trim().endsWith('%')
    ? lengthOf({ kind: 'path', path: placed, id: 0, layer: '', look: DRAFTING_DEFAULT })
    : 0;
  return { path: placed, offset: parseLength(stated, { percentOf: whole, em: fontSizeOf(style) }) ?? 0 };
}
