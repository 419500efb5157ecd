import { PAGE_GAP_MM } from '../paged/plan-pages.js';
import type { Paint } from '../../drawing/appearance.js';
import { NO_PAINT } from '../../drawing/appearance.js';
import type { Drawing, Page } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Clip, Draft, Entity, Image, Path } from '../../drawing/entity.js';
import type { CarryOver, LedgerAction } from '../../drawing/ledger.js';
import { Ledger } from '../../drawing/ledger.js';
import type { Reason } from '../../drawing/reasons.js';
import { mmPerUnit, MM_PER_INCH } from '../../drawing/units.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector, compose, planar, translation } from '../../geometry/affine.js';
import { isDrawable } from '../../geometry/magnitude.js';
import type { PathData } from '../../geometry/path.js';
import { Cmd } from '../../geometry/path.js';
import type { ReadWork, Reading } from '../format.js';
import { checkStop } from '../format.js';
import type { OpenedPdf, PdfOperator, PdfPage } from './engine.js';
import type { GraphicsState, Painting } from './graphics-state.js';
import { LookBook, boxPath, copied, initialState, keepsRound, numbersOf, pathOf, within } from './graphics-state.js';
import { addressOf, pixelsOf, stencilOf } from './read-pictures.js';
import { rgbOf, shadingPaint } from './read-shadings.js';
import { closed, placedPage, plainBox } from './page-box.js';
import type { TextHost } from './page-text.js';
import { PageText } from './page-text.js';
import type { PdfFont } from './read-text.js';
import { boxOfPath, tilePlaces } from './tiles.js';

/** Content within content (forms, tiles, letters that are drawings) is followed so deep. */
const DEEPEST = 24;
/** The most objects of one page. */
const MOST_OBJECTS = 3_000_000;
/** The most operators that are followed, those of forms, tiles and letters each time they are drawn. */
const MOST_STEPS = 20_000_000;
const POINTS_PER_INCH = 72;
/** What is drawn of a path by the operator that the parser names beside it; nothing for one that only ends it. */
const PAINTINGS: Readonly<Record<string, Painting & { close?: boolean }>> = {
  stroke: { stroke: true, fill: false, rule: 'nonzero' },
  closeStroke: { stroke: true, fill: false, rule: 'nonzero', close: true },
  fill: { stroke: false, fill: true, rule: 'nonzero' },
  eoFill: { stroke: false, fill: true, rule: 'evenodd' },
  fillStroke: { stroke: true, fill: true, rule: 'nonzero' },
  eoFillStroke: { stroke: true, fill: true, rule: 'evenodd' },
  closeFillStroke: { stroke: true, fill: true, rule: 'nonzero', close: true },
  closeEOFillStroke: { stroke: true, fill: true, rule: 'evenodd', close: true },
};

const CAPS = ['butt', 'round', 'square'] as const;
const JOINS = ['miter', 'round', 'bevel'] as const;

/** Operators that draw nothing, or whose effect the parser has worked out. */
const SILENT = new Set([
  'dependency',
  'setRenderingIntent',
  'setFlatness',
  'endPath',
  'markPoint',
  'markPointProps',
  'beginCompat',
  'endCompat',
  'setCharWidth',
  'setCharWidthAndBounds',
  'beginAnnotation',
  'endAnnotation',
  'beginAnnotations',
  'endAnnotations',
  'setStrokeColorSpace',
  'setFillColorSpace',
]);

/** What is asked of a page beside its number. */
export interface PageChoice {
  /** Letters come as text, or as their outlines in the file. */
  readonly letters: 'text' | 'outlines';
  /** Widths of lines are those of the paper, whatever the drawing is scaled by, or lengths of the drawing. */
  readonly pens: 'paper' | 'drawing';
}

/**
 * Reads the content of pages into one drawing (ISO 32000-2), each page to the right of the one before. Coordinates are those of the first page's
 * user space, in points of its own size, y upwards; a page that is shown turned is turned, its shown lower left corner then is its
 * origin. Layers are those of optional content.
 */
export class PageReader implements TextHost {
  readonly drawing: Draft<Drawing>;
  readonly ledger = new Ledger('read');
  readonly looks: LookBook;
  private readonly layers = new Map<string, string>();
  private readonly text: PageText;
  private page!: PdfPage;
  private pagesRead = 0;
  private pageMap: Affine = IDENTITY;
  /** The box of the page at hand, where it lies in the drawing. */
  private paper: Page = { x: 0, y: 0, width: 0, height: 0 };
  state: GraphicsState = initialState(IDENTITY);
  private readonly stack: GraphicsState[] = [];
  /** Names of the layers that content lies on, `null` for other marks. */
  private readonly marks: (string | null)[] = [];
  /** Content of a mask, which is not seen itself. */
  private unseen = 0;
  private readonly groups: boolean[] = [];
  private pendingRule: 'nonzero' | 'evenodd' | null = null;
  tile = false;
  private depth = 0;
  private done = 0;

  constructor(
    private readonly opened: OpenedPdf,
    readonly choice: PageChoice,
    private readonly work: ReadWork | undefined,
  ) {
    this.drawing = emptyDrawing('pdf', opened.version);
    this.looks = new LookBook(choice.pens === 'paper' ? () => mmPerUnit(this.drawing.unit) : () => null);
    this.text = new PageText(this);
    for (const { name, visible } of opened.layers) this.layerNamed(name, visible);
  }

  add(page: PdfPage): void {
    const { drawing } = this;
    const { map, ...box } = placedPage(page);
    this.page = page;
    this.pagesRead++;
    const before = drawing.page;
    if (!before) {
      drawing.unit = { unit: 'in', factor: page.userUnit / POINTS_PER_INCH };
      drawing.page = box;
      this.pageMap = map;
      this.paper = box;
    } else {
      // Pages of one file may count in units of their own: all are read in those of the first.
      const k = page.userUnit / POINTS_PER_INCH / drawing.unit!.factor;
      const gap = PAGE_GAP_MM / MM_PER_INCH / drawing.unit!.factor;
      const x = before.x + before.width + gap;
      this.paper = { x, y: 0, width: box.width * k, height: box.height * k };
      this.pageMap = compose(planar(k, 0, 0, k, x - box.x * k, -box.y * k), map);
      drawing.page = {
        ...before,
        width: x + this.paper.width - before.x,
        height: Math.max(before.height, this.paper.height),
      };
    }
    this.state = initialState(this.pageMap);
    this.stack.length = this.marks.length = this.groups.length = this.unseen = 0;
    this.run(page.operators);
    this.text.flush();
    if (page.annotations > 0) this.lose('links', 'dropped', 'pdf-annotations-left-out', page.annotations);
  }

  finish(): Reading {
    const { pages } = this.opened;
    if (this.pagesRead === 1) this.drawing.pageOf = { number: this.page.number, of: pages };
    return { drawing: this.drawing, ledger: this.ledger.rows };
  }

  lose(carryOver: CarryOver, action: LedgerAction, reason: Reason, count = 1, id?: number): void {
    this.ledger.add({ carryOver, action, reason, count, ...(id !== undefined && { id }) });
  }

  private layerNamed(name: string, visible: boolean): string {
    const own = name === '' ? '0' : name;
    if (!this.layers.has(own)) {
      this.layers.set(own, own);
      this.drawing.layers.push({ ...newLayer(own), off: !visible });
    }
    return own;
  }

  /** The layer of what is drawn now: the innermost that it was marked with. */
  layer(): string {
    for (let i = this.marks.length - 1; i >= 0; i--) if (this.marks[i] !== null) return this.marks[i]!;
    return this.layerNamed('0', true);
  }

  private run(operators: readonly PdfOperator[]): void {
    if (this.depth >= DEEPEST) return this.lose('curves', 'dropped', 'pdf-content-too-deep');
    this.depth++;
    const [stacked, marked] = [this.stack.length, this.marks.length];
    for (const o of operators) {
      // Content that brings itself along, as letters and tiles may, ends here.
      if (this.done >= MOST_STEPS) {
        if (this.done++ === MOST_STEPS) this.lose('curves', 'dropped', 'pdf-too-much-content');
        break;
      }
      if (++this.done % 4096 === 0) {
        checkStop(this.work);
        this.work?.onProgress?.(0.5 + 0.5 * Math.min(1, this.done / this.page.operators.length));
      }
      this.operator(o.name, o.operands);
    }
    while (this.stack.length > stacked) this.restore();
    this.marks.length = Math.min(this.marks.length, marked);
    this.depth--;
  }

  private restore(): void {
    const s = this.stack.pop();
    if (s) this.state = s;
  }

  private operator(name: string, a: readonly unknown[]): void {
    const s = this.state;
    const n = (i: number): number => (typeof a[i] === 'number' && Number.isFinite(a[i]) ? (a[i] as number) : 0);
    switch (name) {
      case 'save':
        this.stack.push(copied(s));
        return;
      case 'restore':
        return this.restore();
      case 'transform':
        s.ctm = within(s.ctm, a);
        return;
      case 'setLineWidth':
        s.width = Math.abs(n(0));
        return;
      case 'setLineCap':
        s.cap = CAPS[n(0)] ?? 'butt';
        return;
      case 'setLineJoin':
        s.join = JOINS[n(0)] ?? 'miter';
        return;
      case 'setMiterLimit':
        s.miter = n(0) || 10;
        return;
      case 'setDash':
        s.dash = dashOf(a[0]);
        s.dashOffset = n(1);
        return;
      case 'setGState':
        return this.setGState(a[0]);
      case 'setStrokeRGBColor':
        s.stroke = solid(a[0], s.stroke);
        return;
      case 'setFillRGBColor':
        s.fill = solid(a[0], s.fill);
        s.tiles = null;
        return;
      case 'setStrokeTransparent':
        s.stroke = NO_PAINT;
        return;
      case 'setFillTransparent':
        s.fill = NO_PAINT;
        s.tiles = null;
        return;
      case 'setStrokeColorN':
        s.stroke = this.pattern(a, s.stroke).paint;
        return;
      case 'setFillColorN': {
        const { paint, tiles } = this.pattern(a, s.fill);
        s.fill = paint;
        s.tiles = tiles;
        return;
      }
      case 'clip':
        this.pendingRule = 'nonzero';
        return;
      case 'eoClip':
        this.pendingRule = 'evenodd';
        return;
      case 'constructPath':
      case 'rawFillPath':
        return this.path(a);
      case 'shadingFill':
        return this.shading(a[0]);
      case 'beginMarkedContent':
        this.text.flush();
        this.marks.push(null);
        return;
      case 'beginMarkedContentProps':
        // What is marked stands for something of its own: no line runs on over it.
        this.text.flush();
        // A span is text that belongs together (ISO 32000-2, 14.8.4.7.2); those with a number are paragraphs of a page's structure.
        this.text.together = a[0] === 'Span' && typeof a[1] !== 'number';
        this.marks.push(a[0] === 'OC' ? this.marked(a[1]) : null);
        return;
      case 'endMarkedContent':
        this.text.flush();
        this.text.together = false;
        this.marks.pop();
        return;
      case 'beginGroup':
        return this.beginGroup(a[0]);
      case 'endGroup':
        if (this.groups.pop()) this.unseen--;
        return this.restore();
      case 'paintFormXObjectBegin':
        this.stack.push(copied(s));
        s.ctm = within(s.ctm, a[0]);
        this.clipToBox(a[1]);
        return;
      case 'paintFormXObjectEnd':
        return this.restore();
      case 'paintImageXObject':
        return this.picture(this.page.named.get(String(a[0])), s.ctm);
      case 'paintInlineImageXObject':
        return this.picture(a[0], s.ctm);
      case 'paintImageXObjectRepeat': {
        const places = a[3] as ArrayLike<number>;
        for (let i = 0; i + 1 < (places?.length ?? 0); i += 2)
          this.picture(
            this.page.named.get(String(a[0])),
            compose(s.ctm, planar(n(1), 0, 0, n(2), places[i]!, places[i + 1]!)),
          );
        return;
      }
      case 'paintInlineImageXObjectGroup':
        for (const { transform } of (a[1] ?? []) as { transform: number[] }[])
          this.picture(a[0], within(s.ctm, transform));
        return;
      case 'paintImageMaskXObject':
        return this.stencil(a[0], s.ctm);
      case 'paintImageMaskXObjectRepeat': {
        const places = a[5] as ArrayLike<number>;
        for (let i = 0; i + 1 < (places?.length ?? 0); i += 2)
          this.stencil(a[0], compose(s.ctm, planar(n(1), n(2), n(3), n(4), places[i]!, places[i + 1]!)));
        return;
      }
      case 'paintImageMaskXObjectGroup':
        for (const image of (a[0] ?? []) as { transform: number[] }[])
          this.stencil(image, within(s.ctm, image.transform));
        return;
      case 'paintSolidColorImageMask':
        return this.shape(boxPath([0, 0, 1, 1], s.ctm), { stroke: false, fill: true, rule: 'nonzero' });
      default:
        if (!this.text.operator(name, a, n) && !SILENT.has(name))
          this.lose('curves', 'dropped', 'pdf-operator-not-followed');
    }
  }

  private setGState(states: unknown): void {
    const s = this.state;
    for (const [key, value] of Array.isArray(states) ? (states as [string, unknown][]) : []) {
      const number = typeof value === 'number' ? value : 0;
      const opacity = typeof value === 'number' ? Math.min(1, Math.max(0, value)) : 1;
      if (key === 'LW') s.width = Math.abs(number);
      else if (key === 'LC') s.cap = CAPS[number] ?? 'butt';
      else if (key === 'LJ') s.join = JOINS[number] ?? 'miter';
      else if (key === 'ML') s.miter = number || 10;
      else if (key === 'D' && Array.isArray(value)) {
        s.dash = dashOf(value[0]);
        s.dashOffset = typeof value[1] === 'number' ? value[1] : 0;
      } else if (key === 'CA') s.strokeOpacity = opacity;
      else if (key === 'ca') s.fillOpacity = opacity;
      else if (key === 'Font' && Array.isArray(value)) {
        s.text.font = String(value[0]);
        s.text.size = Number(value[1]) || 0;
      } else if (key === 'BM' && value !== 'source-over' && value !== 'Normal')
        this.lose('colour', 'dropped', 'blend-modes-not-carried');
      else if (key === 'SMask' && value) this.lose('colour', 'dropped', 'masks-not-carried');
      else if (key === 'TR' && value) this.lose('colour', 'dropped', 'pdf-transfer-not-followed');
    }
  }

  /** The colour of a pattern or shading, and its tiles. */
  private pattern(a: readonly unknown[], before: Paint): { paint: Paint; tiles: GraphicsState['tiles'] } {
    if (a[0] === 'TilingPattern') {
      const [, colour, operators, matrix, box, xStep, yStep] = a;
      const rgb = rgbOfColour(colour) ?? rgbOf(colour);
      const tiles = {
        operators,
        matrix: numbersOf(matrix) ?? [1, 0, 0, 1, 0, 0],
        box: numbersOf(box) ?? [],
        xStep: Number(xStep),
        yStep: Number(yStep),
      };
      const id = `tiles ${this.drawing.nextId}`;
      return { paint: { kind: 'pattern', rgb: rgb ?? 0x808080, id }, tiles };
    }
    if (a[0] !== 'Shading') return { paint: solid(a[0], before), tiles: null };
    const id = String(a[1]);
    const made = shadingPaint(this.page.named.get(id), within(this.pageMap, a[2]), id);
    if (!made) {
      this.lose('colour', 'dropped', 'pdf-shading-not-read');
      return { paint: before, tiles: null };
    }
    if (made.plain) this.lose('colour', 'approximated', 'pdf-shading-as-colour');
    return { paint: made.paint, tiles: null };
  }

  private marked(properties: unknown): string | null {
    const p = properties as { type?: string; id?: string; ids?: (string | null)[] } | null;
    const ids = p?.type === 'OCG' ? [p.id] : (p?.ids ?? [p?.id]);
    const found = this.opened.layers.find((l) => l.id === ids.find((id) => typeof id === 'string'));
    if (ids.length > 1) this.lose('layers', 'approximated', 'pdf-layer-of-several');
    return found ? this.layerNamed(found.name, found.visible) : null;
  }

  private beginGroup(group: unknown): void {
    this.stack.push(copied(this.state));
    const { smask } = (group ?? {}) as { smask?: unknown };
    const masks = Boolean(smask);
    this.groups.push(masks);
    if (masks) this.unseen++;
    const s = this.state;
    const { matrix, bbox } = (group ?? {}) as { matrix?: unknown; bbox?: unknown };
    s.ctm = within(s.ctm, matrix);
    this.clipToBox(bbox);
    // A group is seen through as a whole; what is in it begins anew (ISO 32000-2, 11.6.6).
    s.opacity *= s.fillOpacity;
    s.fillOpacity = s.strokeOpacity = 1;
  }

  private clipToBox(box: unknown): void {
    const corners = numbersOf(box);
    if (corners?.length === 4) this.clipTo(boxPath(corners, this.state.ctm), 'nonzero');
  }

  private clipTo(path: PathData, rule: 'nonzero' | 'evenodd'): void {
    // A frame around all of the page cuts nothing off.
    const page = this.paper;
    const box = plainBox(path);
    const slack = 1e-6 * (page.width + page.height);
    if (
      box &&
      box[0] <= page.x + slack &&
      box[1] <= page.y + slack &&
      box[2] >= page.x + page.width - slack &&
      box[3] >= page.y + page.height - slack
    )
      return;
    const outer = this.state.clip;
    this.state.clip = { shapes: [{ path, rule }], ...(outer && { within: outer }) };
  }

  private path(a: readonly unknown[]): void {
    const [operator, [data] = [] as unknown[]] = a as [number | string, unknown[]];
    const painting = PAINTINGS[this.opened.nameOf(operator)];
    const made = data ? pathOf(data, this.state.ctm) : null;
    const rule = this.pendingRule;
    this.pendingRule = null;
    if (made && made.unstarted > 0 && painting)
      this.lose('curves', 'dropped', 'pdf-lines-without-start', made.unstarted);
    if (made && made.path.cmds.length > 0) {
      const path = painting?.close && made.path.cmds.at(-1) !== Cmd.Close ? closed(made.path) : made.path;
      if (painting) this.shape(path, painting);
      if (rule) this.clipTo(path, rule);
    }
  }

  private shape(path: PathData, painting: Painting): void {
    const { state: s } = this;
    const fill = painting.fill && s.fill.kind !== 'none';
    const stroke = painting.stroke && s.stroke.kind !== 'none';
    if ((!fill && !stroke) || this.unseen > 0) return;
    if (!path.data.every(isDrawable)) return this.lose('curves', 'dropped', 'objects-beyond-bounds');
    const bare = path.cmds.every((c) => c === Cmd.Move);
    if (bare) return;
    const base = this.base({ stroke, fill, rule: painting.rule });
    const { data, cmds } = path;
    const single = !fill && cmds.length === 2 && cmds[0] === Cmd.Move && cmds[1] === Cmd.Line;
    const entity: Entity = single
      ? { ...base, kind: 'line', start: [data[0]!, data[1]!, 0], end: [data[2]!, data[3]!, 0] }
      : { ...base, kind: 'path', path };
    if (stroke && s.width > 0 && !keepsRound(s.ctm)) this.lose('colour', 'approximated', 'pen-not-round', 1, entity.id);
    this.put(entity);
    if (fill && s.tiles) this.tiles(path, painting.rule, s);
  }

  get masked(): boolean {
    return this.unseen > 0;
  }

  fontCalled(name: string): PdfFont | string | undefined {
    return this.page.named.get(name) as PdfFont | string | undefined;
  }

  drawn(content: unknown, map: (state: GraphicsState) => Affine): boolean {
    const operators = operatorsOf(content, this.opened);
    if (!operators) return false;
    const [kept, stacked] = [this.state, this.stack.length];
    this.state = copied(kept);
    this.state.ctm = map(kept);
    this.run(operators);
    this.stack.length = stacked;
    this.state = kept;
    return true;
  }

  private base(painting: Painting): Omit<Path, 'kind' | 'path'> {
    const { clip } = this.state;
    return {
      id: this.drawing.nextId++,
      key: `object ${this.drawing.nextId - 1}`,
      layer: this.layer(),
      look: this.looks.of(this.state, painting),
      ...(clip && { clipTo: clip }),
      ...(this.tile && { tile: true }),
    };
  }

  put(entity: Entity): void {
    if (this.drawing.entities.length >= MOST_OBJECTS) return this.lose('curves', 'dropped', 'pdf-too-many-objects');
    // What stands after text lies on it: the order is kept.
    if (entity.kind !== 'text') this.text.flush();
    this.drawing.entities.push(entity);
  }

  /** A shape filled with tiles is followed by their pieces, cut to it. */
  private tiles(path: PathData, rule: 'nonzero' | 'evenodd', s: GraphicsState): void {
    const operators = operatorsOf(s.tiles!.operators, this.opened);
    const pattern = within(this.pageMap, s.tiles!.matrix);
    const places = tilePlaces(s.tiles!, pattern, boxOfPath(path));
    if (!operators || !places || this.tile) {
      this.lose('colour', 'approximated', 'pdf-pattern-as-colour');
      return;
    }
    const kept = this.state;
    const clip: Clip = { shapes: [{ path, rule }], ...(s.clip && { within: s.clip }) };
    this.tile = true;
    for (const [x, y] of places) {
      const own = initialState(compose(pattern, translation(x, y)));
      own.clip = clip;
      const colour: Paint = s.fill.kind === 'pattern' ? { kind: 'rgb', rgb: s.fill.rgb } : own.fill;
      own.fill = own.stroke = colour;
      own.opacity = s.opacity * s.fillOpacity;
      this.state = own;
      this.run(operators);
      this.text.flush();
    }
    this.tile = false;
    this.state = kept;
  }

  private shading(id: unknown): void {
    const { state: s } = this;
    const made = shadingPaint(this.page.named.get(String(id)), s.ctm, String(id));
    if (!made) return this.lose('colour', 'dropped', 'pdf-shading-not-read');
    if (made.plain) this.lose('colour', 'approximated', 'pdf-shading-as-colour');
    const before = s.fill;
    s.fill = made.paint;
    const page = this.paper;
    const whole = [page.x, page.y, page.x + page.width, page.y + page.height];
    // It covers all that is not cut off: the shape that it is cut to.
    const clip = s.clip;
    const own = clip?.shapes.length === 1 ? clip.shapes[0]! : null;
    if (own) s.clip = clip!.within;
    this.shape(own?.path ?? boxPath(whole, IDENTITY), { stroke: false, fill: true, rule: own?.rule ?? 'nonzero' });
    s.clip = clip;
    s.fill = before;
  }

  private picture(found: unknown, m: Affine): void {
    if (this.unseen > 0) return;
    const pixels = pixelsOf(found);
    if (!pixels) return this.lose('links', 'dropped', 'pdf-picture-not-read');
    this.place(addressOf(pixels), pixels.width, pixels.height, m);
  }

  private stencil(found: unknown, m: Affine): void {
    if (this.unseen > 0) return;
    const image = found as { data?: unknown } | null;
    const held = typeof image?.data === 'string' ? this.page.named.get(image.data) : image;
    const paint = this.state.fill;
    const rgb = paint.kind === 'rgb' || paint.kind === 'gradient' || paint.kind === 'pattern' ? paint.rgb : 0;
    const pixels = stencilOf(held, rgb);
    if (!pixels) return this.lose('links', 'dropped', 'pdf-picture-not-read');
    this.place(addressOf(pixels), pixels.width, pixels.height, m);
  }

  /** A picture fills the unit square of its space (ISO 32000-2, 8.9.5). */
  private place(data: string, width: number, height: number, m: Affine): void {
    const corner = applyPoint(m, [0, 0, 0]);
    const u = applyVector(m, [1 / width, 0, 0]);
    const v = applyVector(m, [0, 1 / height, 0]);
    if (![...corner, ...u, ...v].every(isDrawable)) return this.lose('links', 'dropped', 'objects-beyond-bounds');
    const image: Image = {
      ...this.base({ stroke: false, fill: true, rule: 'nonzero' }),
      kind: 'image',
      cover: false,
      at: corner,
      u,
      v,
      pixels: [width, height],
      file: 'picture in the file (png)',
      data,
    };
    this.put(image);
  }
}

/** Content that a pattern or a letter brings along, in the form of the parser. */
function operatorsOf(list: unknown, opened: OpenedPdf): PdfOperator[] | null {
  const l = list as { fnArray?: number[]; argsArray?: unknown[] } | null | undefined;
  if (!Array.isArray(l?.fnArray) || !Array.isArray(l.argsArray)) return null;
  return l.fnArray.map((code, i) => ({
    name: opened.nameOf(code),
    operands: Array.isArray(l.argsArray![i]) ? (l.argsArray![i] as unknown[]) : [],
  }));
}

const dashOf = (value: unknown): number[] => {
  const lengths = Array.isArray(value) ? value.filter((v): v is number => typeof v === 'number' && v >= 0) : [];
  return lengths.some((l) => l > 0) ? lengths : [];
};

const solid = (colour: unknown, before: Paint): Paint => {
  const rgb = rgbOf(colour);
  return rgb === null ? before : { kind: 'rgb', rgb };
};

/** A colour given as three numbers from 0 to 255. */
const rgbOfColour = (colour: unknown): number | null => {
  const c = colour as ArrayLike<number> | null;
  return c && typeof c !== 'string' && c.length === 3 ? (c[0]! << 16) | (c[1]! << 8) | c[2]! : null;
};
