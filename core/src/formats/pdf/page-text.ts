import type { Drawing } from '../../drawing/drawing.js';
import type { Draft } from '../../drawing/entity.js';
import type { CarryOver, Ledger, LedgerAction } from '../../drawing/ledger.js';
import type { Reason } from '../../drawing/reasons.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, translation } from '../../geometry/affine.js';
import type { GraphicsState, LookBook } from './graphics-state.js';
import { mapOf } from './graphics-state.js';
import type { Glyph, Line, PdfFont } from './read-text.js';
import { LetterShapes, LineGatherer, TextPen, fontNamed, letterForm } from './read-text.js';

/** What text needs of the page that it stands on. */
export interface TextHost {
  readonly drawing: Draft<Drawing>;
  readonly ledger: Ledger;
  readonly looks: LookBook;
  readonly choice: { readonly letters: 'text' | 'outlines' };
  readonly state: GraphicsState;
  /** What is drawn now is content of a mask, or a piece of a pattern. */
  readonly masked: boolean;
  readonly tile: boolean;
  layer(): string;
  /** A font by its name on the page; a string where the parser could not read it. */
  fontCalled(name: string): PdfFont | string | undefined;
  lose(carryOver: CarryOver, action: LedgerAction, reason: Reason, count?: number, id?: number): void;
  /** Draws content under a map; whether there was any. */
  drawn(content: unknown, map: (state: GraphicsState) => Affine): boolean;
}

/** The text of a page: operators of text, letters joined to lines, and what becomes of a line (ISO 32000-2, 9). */
export class PageText {
  private readonly shapes = new LetterShapes();
  private readonly lines = new LineGatherer((line) => this.textLine(line));
  private readonly pen = new TextPen();
  private readonly fonts = new Map<PdfFont, ReturnType<typeof fontNamed>>();

  constructor(private readonly host: TextHost) {}

  /** The line that letters were joined to ends. */
  flush(): void {
    this.lines.flush();
  }

  /** The file says that letters belong together, wherever they stand along their line. */
  set together(on: boolean) {
    this.lines.together = on;
  }

  /** Whether it was an operator of text. */
  operator(name: string, a: readonly unknown[], n: (i: number) => number): boolean {
    const { text } = this.host.state;
    switch (name) {
      case 'beginText':
        this.pen.begin();
        return true;
      case 'endText':
        return true;
      case 'setCharSpacing':
        text.charSpacing = n(0);
        return true;
      case 'setWordSpacing':
        text.wordSpacing = n(0);
        return true;
      case 'setHScale':
        text.stretch = n(0) / 100;
        return true;
      case 'setLeading':
        text.leading = -n(0);
        return true;
      case 'setTextRise':
        text.rise = n(0);
        return true;
      case 'setTextRenderingMode':
        text.mode = n(0);
        return true;
      case 'setFont':
        text.font = String(a[0]);
        text.size = n(1);
        return true;
      case 'moveText':
        this.pen.move(n(0), n(1));
        return true;
      case 'setLeadingMoveText':
        text.leading = n(1);
        this.pen.move(n(0), n(1));
        return true;
      case 'nextLine':
        this.pen.move(0, text.leading);
        return true;
      case 'setTextMatrix': {
        const m = mapOf(a.length === 1 ? a[0] : a);
        if (m) this.pen.set(m);
        return true;
      }
      case 'nextLineShowText':
        this.pen.move(0, text.leading);
        this.showText(a[0]);
        return true;
      case 'nextLineSetSpacingShowText':
        text.wordSpacing = n(0);
        text.charSpacing = n(1);
        this.pen.move(0, text.leading);
        this.showText(a[2]);
        return true;
      case 'showText':
      case 'showSpacedText':
        this.showText(a[0]);
        return true;
      default:
        return false;
    }
  }

  private showText(glyphs: unknown): void {
    const { state } = this.host;
    const { text } = state;
    const font = text.font === null ? undefined : this.host.fontCalled(text.font);
    // What the parser could not make sense of stands there as its words.
    if (typeof font === 'string') this.host.lose('text', 'dropped', 'pdf-font-not-read');
    if (!Array.isArray(glyphs) || !font || typeof font === 'string') return;
    const vertical = font.vertical === true;
    const [k] = font.fontMatrix ?? [0.001];
    const named = this.fonts.get(font) ?? fontNamed(font);
    this.fonts.set(font, named);
    const filled = text.mode % 4 === 0 || text.mode % 4 === 2;
    const stroked = text.mode % 4 === 1 || text.mode % 4 === 2;
    const unseen = text.mode === 3 || this.host.masked;
    if (text.mode === 3 && glyphs.length > 0) this.host.lose('text', 'dropped', 'pdf-unseen-text-left-out');
    if (text.mode >= 4) this.host.lose('text', 'approximated', 'clip-text-not-applied');
    const along = compose(state.ctm, this.pen.matrix);
    const style = {
      font: named,
      look: this.host.looks.of(state, { stroke: stroked, fill: filled, rule: 'nonzero' }),
      layer: this.host.layer(),
      clip: state.clip,
      // In the drawing, as far as it lets letters stand apart.
      spacing: text.charSpacing * text.stretch * Math.hypot(along[0], along[1]),
    };
    for (const g of glyphs as (Glyph | number | null)[]) {
      if (typeof g === 'number') {
        const shift = (-g * text.size) / 1000;
        if (vertical) this.pen.y -= -shift;
        else this.pen.x += shift * text.stretch;
        continue;
      }
      if (!g) continue;
      const spacing = text.charSpacing + (g.isSpace ? text.wordSpacing : 0);
      const wide = vertical ? -(g.vmetric?.[0] ?? -1000) : g.width;
      const place = this.pen.place(state.ctm, text, wide * (k ?? 0.001) * text.size + spacing, vertical);
      if (unseen) continue;
      if (font.isType3Font) this.drawnLetter(font, g, place.at, place.frame);
      else {
        const shape = this.shapes.of(font, g);
        this.lines.add(
          { text: g.unicode, shape, inked: g.unicode.trim() !== '' && g.isInFont !== false },
          place,
          style,
        );
      }
    }
  }

  /** A letter of a font whose letters are drawings of their own (Type 3): drawn as such. */
  private drawnLetter(font: PdfFont, g: Glyph, at: readonly [number, number], frame: Affine): void {
    const pen = Object.assign(new TextPen(), this.pen);
    this.flush();
    const map = compose(compose(translation(at[0], at[1]), frame), mapOf(font.fontMatrix) ?? IDENTITY);
    const drawn = this.host.drawn(font.charProcOperatorList?.[g.operatorListId ?? ''], () => map);
    if (drawn) this.host.lose('text', 'changed', 'pdf-drawn-letters');
    Object.assign(this.pen, pen);
  }

  private textLine(line: Line): void {
    const form = letterForm(line.frame);
    const outlines = this.host.choice.letters === 'outlines' || !line.meaningful;
    const text = line.meaningful ? line.text.replace(/\s+$/, '') : line.text;
    if (text === '' || !(form.size > 0)) return;
    const base = {
      id: this.host.drawing.nextId++,
      layer: line.layer,
      look: line.look,
      ...(line.clip && { clipTo: line.clip }),
      ...(this.host.tile && { tile: true }),
    };
    if (outlines && !line.shapes.empty) {
      if (!line.meaningful) this.host.lose('text', 'changed', 'pdf-letters-without-meaning', 1, base.id);
      else
        this.host.ledger.add({
          carryOver: 'text',
          action: 'changed',
          reason: 'text-as-outlines',
          onPurpose: true,
          id: base.id,
        });
      this.host.drawing.entities.push({ ...base, kind: 'path', path: line.shapes.build() });
      return;
    }
    if (!line.meaningful) return this.host.lose('text', 'dropped', 'pdf-letters-not-read');
    if (line.look.stroke.kind !== 'none') this.host.lose('text', 'approximated', 'text-stroke-not-carried', 1, base.id);
    this.host.drawing.entities.push({
      ...base,
      kind: 'text',
      text,
      at: [line.at[0], line.at[1], 0],
      size: form.size,
      sizeOf: 'em',
      rotation: form.rotation,
      widthFactor: form.widthFactor,
      oblique: form.oblique,
      horizontal: 'left',
      vertical: 'baseline',
      font: line.font,
      ...(form.upsideDown && { upsideDown: true }),
      ...(line.spacing !== 0 && { spacing: line.spacing }),
    });
  }
}
