import type { PlainReason, Reason } from '../../drawing/reasons.js';
import { TooIntricate } from '../../geometry/crossings.js';
import { Region } from '../../geometry/region.js';
import { croppedImage } from '../../drawing/cropped-image.js';
import { unevenPen } from './uneven-pen.js';
import { because, reasonWords } from '../../drawing/reasons.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, planar, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import type { PathData } from '../../geometry/path.js';
import { LARGEST, isDrawable } from '../../geometry/magnitude.js';
import { DoublePool } from '../../geometry/pool.js';
import type { Appearance, Dash, Paint } from '../../drawing/appearance.js';
import { AppearancePool, DRAFTING_DEFAULT, NO_PAINT } from '../../drawing/appearance.js';
import type { Drawing, Page, SpaceUnit } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Draft, Entity, Image } from '../../drawing/entity.js';
import type { CarryOver, LedgerAction, LedgerEntry } from '../../drawing/ledger.js';
import { Ledger } from '../../drawing/ledger.js';
import { BoundsSink, addEntityBounds } from '../../drawing/measures.js';
import { outlinePath } from '../../drawing/outline-path.js';
import type { Reading, Work } from '../format.js';
import { UnreadableFile, checkStop } from '../format.js';
import { StyleSheet } from './css.js';
import { likeTheOther, parseLength, parsePageLength } from './lengths.js';
import { groupName, isLayerGroup } from './names.js';
import { PaintReader } from './paint.js';
import { readClip } from './read-clips.js';
import { readImage } from './read-image.js';
import { markerPlaces, markerState } from './read-markers.js';
import { MAX_TILES, tilesOf } from './read-patterns.js';
import type { ShapeContext } from './read-shapes.js';
import { isShape, readShape } from './read-shapes.js';
import { fontSizeOf, readText } from './read-text.js';
import type { State } from './state.js';
import { PlacedStyles, clippedTo, cutsOverflow, linked, referred } from './state.js';
import { Style } from './style.js';
import { parseTransform, parseViewBox, properTransforms, transformOrigin, viewBoxMap } from './transforms.js';
import type { XmlDocument, XmlElement } from './xml.js';
import { elementsOf, parseXml, textContent } from './xml.js';

/** Never drawn where they stand. */
const NOT_DRAWN = new Set([
  'defs',
  'symbol',
  'marker',
  'clipPath',
  'mask',
  'pattern',
  'linearGradient',
  'radialGradient',
  'filter',
  'style',
  'title',
  'desc',
  'metadata',
  'font',
  'view',
  'cursor',
]);
/** What markers may stand on. */
const MARKED = new Set(['path', 'line', 'polyline', 'polygon']);
const CONTAINERS = new Set(['g', 'a', 'svg', 'switch', 'use']);
const ANIMATION = /^(animate|animateTransform|animateMotion|animateColor|set)$/;
const FRAME_GREY: Paint = { kind: 'rgb', rgb: 0x808080 };
const MAX_USE = 200_000;
/** Most entities that patterns and markers may add; beyond them plain colours and bare lines stand. */
const MAX_ADDED = 400_000;
/** So many parts of a group are looked at for lying on one another. */
const MOST_COMPARED = 400;

/**
 * Reads an SVG. Coordinates are the user units of the outermost `svg`, y downwards, all transforms applied; groups are
 * kept as nodes and the topmost named group of an element is its layer. Nothing outside the file is ever fetched.
 */
export function readSvg(bytes: Uint8Array, work?: Work): Reading {
  const text = decodeXml(bytes);
  const document = parseXml(text, work);
  if (document.root.name !== 'svg') {
    throw new UnreadableFile(
      `The document's root is <${document.root.name.replace('other:', '')}>, not <svg>`,
      `line ${document.root.line}`,
      'Export the drawing as SVG and drop it again.',
    );
  }
  return new SvgReader(document, work).read();
}

/** What a page of other proportions than its viewBox shows: more beside it, or less of it, by `preserveAspectRatio`. */
function shownPart(box: Page, w: number, h: number, preserve: string): Page {
  const fit = viewBoxMap(box, w, h, preserve);
  return { x: -fit[9] / fit[0], y: -fit[10] / fit[4], width: w / fit[0], height: h / fit[4] };
}

/** XML text by its byte order mark or declared encoding; UTF-8 otherwise. */
function decodeXml(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const head = new TextDecoder('windows-1252').decode(bytes.subarray(0, 200));
  const declared = /^[^<]*<\?xml[^>]*encoding=["']([\w-]+)["']/.exec(head)?.[1] ?? 'utf-8';
  try {
    return new TextDecoder(declared).decode(bytes);
  } catch {
    return new TextDecoder('utf-8').decode(bytes);
  }
}

/** What a note is about: what it touches, something that is never followed whoever asks, or what is asked for elsewhere. */
type About = CarryOver | 'never' | 'asked';

/** Nobody knows what would have followed: everything that counts content is in doubt. */
const BROKEN_OFF: readonly LedgerEntry[] = [
  { carryOver: 'curves', action: 'dropped', reason: 'file-broken-off' },
  ...(['layers', 'text', 'colour', 'links'] as const).map((carryOver): LedgerEntry => ({
    carryOver,
    action: 'changed',
    reason: 'file-broken-off',
  })),
];

class SvgReader {
  private readonly drawing: Draft<Drawing> = emptyDrawing('svg', '1.1');
  private readonly ledger = new Ledger('read');
  private readonly sheet = new StyleSheet();
  private readonly paints: PaintReader;
  private readonly pool = new AppearancePool();
  private readonly doubles = new DoublePool();
  private readonly looks = new Map<Style, Map<string, Appearance>>();
  private readonly notes = new Map<
    string,
    { where: string; count: number; severity: 'note' | 'warning'; about: About }
  >();
  /** Notes that have their row already. */
  private readonly told = new Set<string>();
  private brokenOff: string | null = null;
  private readonly layerNames = new Set<string>();
  private readonly placed: PlacedStyles;
  /** Whether there is any marker in the document at all. */
  private readonly marked: boolean;
  private visited = 0;
  private used = 0;
  private added = 0;
  /** Markers and patterns that are being drawn: what would draw itself ends there. */
  private readonly within = new Set<XmlElement>();

  constructor(
    private readonly document: XmlDocument,
    private readonly work: Work | undefined,
  ) {
    this.paints = new PaintReader(document, this.sheet);
    this.placed = new PlacedStyles(document, this.sheet);
    this.marked = [...document.byId.values()].some((e) => e.name === 'marker');
  }

  read(): Reading {
    const { root } = this.document;
    this.drawing.version = root.attributes.get('version') ?? '1.1';
    this.collectStyles(root);
    const { map, viewport } = this.page(root);
    const state: State = {
      ctm: map,
      style: Style.initial.child(root, this.sheet),
      layer: '',
      node: undefined,
      opacity: 1,
      hidden: false,
      viewport,
      em: 16,
      uses: [],
    };
    state.em = fontSizeOf(state.style);
    this.ofTheWhole(root, state);
    this.children(root, state);
    this.finish();
    return { drawing: this.drawing, ledger: this.ledger.rows };
  }

  /** What the outermost element says of the whole picture. */
  private ofTheWhole(root: XmlElement, state: State): void {
    const { style } = state;
    state.opacity = Number(style.get('opacity') ?? 1);
    state.hidden = style.get('display') === 'none';
    const where = `line ${root.line}`;
    if (style.get('transform') ?? root.attributes.get('transform'))
      this.note('a transform of the outermost element is not followed', where, 'warning', 'origin');
    for (const name of ['clip-path', 'mask', 'filter'])
      if ((style.get(name) ?? 'none') !== 'none')
        this.note(`${name} of the outermost element is not followed`, where, 'warning', 'colour');
  }

  /** Something that is not understood or not followed: told among the notes with its place, and at the end in the ledger. */
  note(text: string, where: string, severity: 'note' | 'warning' = 'warning', about: About = 'links'): void {
    const known = this.notes.get(text);
    if (known) known.count++;
    else this.notes.set(text, { where, count: 1, severity, about });
  }

  /** Something that an element asks for and that is not carried: in the ledger, and with its place among the notes. */
  private miss(carryOver: CarryOver, reason: Reason, e: XmlElement): void {
    const id = e.attributes.get('id');
    this.lose(carryOver, 'dropped', reason);
    this.note(reasonWords(reason), `line ${e.line}${id ? `, ${e.name} ${id}` : `, ${e.name}`}`, 'note');
    this.told.add(reasonWords(reason));
  }

  lose(carryOver: CarryOver, action: LedgerAction, reason: Reason, id?: number): void {
    this.ledger.add({ carryOver, action, reason, ...(id !== undefined && { id }) });
  }

  private collectStyles(e: XmlElement): void {
    for (const c of elementsOf(e)) {
      if (c.name === 'style') {
        // One for paper, or in another language of styles, is not for the screen.
        const media = (c.attributes.get('media') ?? 'all').toLowerCase();
        const type = (c.attributes.get('type') ?? 'text/css').trim().toLowerCase();
        if (type !== '' && type !== 'text/css') continue;
        if (!/(^|[\s,])(all|screen)\b/.test(media) || media.includes('(')) {
          this.note(`a stylesheet for ${media} is not followed`, `line ${c.line}`, 'note', 'colour');
          continue;
        }
        const css = textContent(c);
        if (/@import|url\(\s*["']?(https?:)?\/\//i.test(css))
          this.note(
            'a stylesheet refers to something outside the file; it is never fetched',
            `line ${c.line}`,
            'warning',
            'never',
          );
        this.sheet.add(css);
      } else this.collectStyles(c);
    }
  }

  /** The page, the size of a user unit, and the map from the outermost user space to the drawing's coordinates. */
  private page(root: XmlElement): { map: Affine; viewport: { width: number; height: number } } {
    const d = this.drawing;
    d.yDown = true;
    const box = parseViewBox(root.attributes.get('viewBox'));
    const statedWidth = parsePageLength(root.attributes.get('width'));
    const statedHeight = parsePageLength(root.attributes.get('height'));
    const w = statedWidth?.kind === 'px' ? likeTheOther(statedWidth, statedHeight) : statedWidth;
    const h = likeTheOther(statedHeight, w);
    for (const [what, size] of [
      ['width', w?.value],
      ['height', h?.value],
      ['width of the viewBox', box?.width],
      ['height of the viewBox', box?.height],
    ] as const) {
      if (size === undefined || (isDrawable(size ** 2) && isDrawable(1 / size ** 2))) continue;
      throw new UnreadableFile(
        `The ${what} of the page is ${size}, which no drawing can have`,
        `line ${root.line}`,
        'Export it with a page of a size that can be.',
      );
    }
    const width = box?.width ?? w?.value ?? 300;
    const height = box?.height ?? h?.value ?? 150;
    let map: Affine = IDENTITY;
    let unit: SpaceUnit | null = null;
    if (w ?? h) {
      const side = (w ?? h)!;
      const kind = side.kind;
      const name = side.kind === 'physical' ? side.unit : 'px';
      // Without a viewBox a user unit is a CSS pixel, whatever unit the size is given in.
      const fx = w && box ? w.value / box.width : null;
      const fy = h && h.kind === kind && box ? h.value / box.height : null;
      const preserve = root.attributes.get('preserveAspectRatio') ?? '';
      if (!box) {
        if (side.kind === 'physical') {
          unit = { unit: 'in', factor: 1 / 96 };
          const inPx = (l: typeof w): number | null =>
            l ? parseLength(String(l.value) + (l.kind === 'physical' ? l.unit : ''), { percentOf: 0, em: 16 }) : null;
          d.page = { x: 0, y: 0, width: inPx(w) ?? 300, height: inPx(h) ?? 150 };
        } else unit = { unit: 'px', factor: 1 };
      } else if (/^\s*none/.test(preserve) && fx && fy) {
        // Unequal stretch is part of the geometry; the unit is taken from the width.
        map = planar(1, 0, 0, fy / fx, 0, box.y - box.y * (fy / fx));
        unit = { unit: name, factor: fx };
        d.page = { x: box.x, y: box.y, width: box.width, height: box.height * (fy / fx) };
      } else {
        const slice = /slice/.test(preserve);
        const factor = fx && fy ? (slice ? Math.max(fx, fy) : Math.min(fx, fy)) : (fx ?? fy ?? 1);
        unit = { unit: name, factor };
        if (fx && fy && Math.abs(fx - fy) > 1e-4 * factor) {
          this.note(
            'width and height do not have the proportions of the viewBox; the scale that fits is taken',
            `line ${root.line}`,
          );
          if (w && h) d.page = shownPart(box, w.value, h.value, preserve);
        }
      }
    } else {
      unit = { unit: 'px', factor: 1 };
      this.note(
        'the file states no size of its own; one user unit counts as one pixel',
        `line ${root.line}`,
        'warning',
        'asked',
      );
    }
    d.unit = unit;
    d.page ??= { x: box?.x ?? 0, y: box?.y ?? 0, width, height };
    return { map, viewport: { width, height } };
  }

  private children(e: XmlElement, state: State): void {
    for (const c of elementsOf(e)) this.element(c, state);
  }

  private element(e: XmlElement, outer: State): void {
    if (++this.visited % 4096 === 0) {
      checkStop(this.work);
      this.work?.onProgress?.(0.6 + 0.4 * (1 - 1 / (1 + this.visited / 1e5)));
    }
    this.checkSafety(e);
    if (NOT_DRAWN.has(e.name)) return;
    if (e.name.startsWith('other:')) return;
    if (ANIMATION.test(e.name)) return this.miss('links', 'animation-not-carried', e);
    if (e.name === 'script') return;
    if (e.name === 'foreignObject') return this.miss('text', 'foreign-object-not-carried', e);

    const style = outer.style.child(e, this.sheet);
    const transform = style.get('transform') ?? e.attributes.get('transform');
    let m = parseTransform(transform);
    const before = properTransforms((name) => style.get(name), outer);
    if (m !== null && before !== IDENTITY) m = compose(before, m);
    if (m === null) {
      this.note('a transform that makes no sense is left out', `line ${e.line}`, 'warning', 'origin');
      m = IDENTITY;
    }
    const origin = style.get('transform-origin');
    const ofBox = style.get('transform-box') === 'fill-box';
    if ((origin || ofBox) && m !== IDENTITY) {
      const own = ofBox ? this.ownBox(e, outer, style) : null;
      const frame = own ?? Box2.of(0, 0, outer.viewport.width, outer.viewport.height);
      const [ox, oy] = transformOrigin(origin ?? (ofBox ? '50% 50%' : '0 0'), frame, outer.em);
      m = compose(translation(ox, oy), compose(m, translation(-ox, -oy)));
    }
    const hidden = outer.hidden || style.get('display') === 'none';
    const state: State = {
      ...outer,
      style,
      ctm: compose(outer.ctm, m),
      hidden,
      opacity: outer.opacity * clamp(Number(style.get('opacity') ?? 1)),
      em: fontSizeOf(style),
    };
    const classes = e.attributes.get('class')?.trim();
    if (classes) state.classes = classes;
    this.checkEffects(e, style);
    const clip = style.get('clip-path');
    if (clip && clip !== 'none') {
      const made = readClip(clip, e, state, this.placed, this, () => this.ownBox(e, state, style));
      if (made) state.clip = made;
    }
    if (CONTAINERS.has(e.name)) {
      const from = this.drawing.entities.length;
      this.container(e, state);
      if (clamp(Number(style.get('opacity') ?? 1)) < 1) this.tellGroupOpacity(from);
      return;
    }
    if (isShape(e.name)) return this.shape(e, state);
    if (e.name === 'text') return this.text(e, state);
    if (e.name === 'image') return this.image(e, state);
    this.note(`<${e.name}> is not known and left out`, `line ${e.line}`, 'warning', 'curves');
  }

  /** Opacity of a group is given to each of its parts, which shows where one lies on another. */
  private tellGroupOpacity(from: number): void {
    const parts = this.drawing.entities.slice(from, from + MOST_COMPARED);
    const boxes = parts.map((p) => {
      const sink = new BoundsSink(new Box2());
      addEntityBounds(p, IDENTITY, sink);
      return sink.box;
    });
    const meet = (a: Box2, b: Box2): boolean =>
      a.minX <= b.maxX && b.minX <= a.maxX && a.minY <= b.maxY && b.minY <= a.maxY;
    if (boxes.some((a, i) => boxes.some((b, j) => j < i && meet(a, b))))
      this.lose('colour', 'approximated', 'group-opacity-by-part', parts[0]!.id);
  }

  /** The bounding box of an element in its user space: of a shape exactly, of a group by all that is drawn in it. */
  private ownBox(e: XmlElement, state: State, style: Style): Box2 | null {
    const sink = new BoundsSink(new Box2());
    if (isShape(e.name)) {
      const made = this.inUserSpace(e, { ...state, style });
      if (made) addEntityBounds(made, IDENTITY, sink);
      return sink.box.empty ? null : sink.box;
    }
    // Read once more on the side: what is drawn does not count, only how far it reaches.
    const probe = new SvgReader(this.document, this.work);
    probe.sheet.take(this.sheet);
    probe.children(e, { ...state, ctm: IDENTITY, style, clip: undefined, node: undefined, layer: '0' });
    for (const x of probe.drawing.entities) addEntityBounds(x, IDENTITY, sink);
    return sink.box.empty ? null : sink.box;
  }

  private inUserSpace(e: XmlElement, state: State): Entity | null {
    return readShape(e, {
      ctm: IDENTITY, style: state.style, viewport: state.viewport, em: state.em, fault: () => {},
      base: { id: 0, key: '', layer: '', look: DRAFTING_DEFAULT },
    }); // prettier-ignore
  }

  /** Scripts, event attributes and references out of the file never go further. */
  private checkSafety(e: XmlElement): void {
    if (e.name === 'script') this.note('scripts are left out', `line ${e.line}`, 'warning', 'never');
    for (const [name] of e.attributes) {
      if (name.startsWith('on') && /^on[a-z]+$/.test(name))
        this.note('event attributes are left out', `line ${e.line}`, 'warning', 'never');
    }
    const href = e.attributes.get('href') ?? e.foreign.get('href');
    if (href && !href.startsWith('#') && !href.startsWith('data:') && e.name !== 'a') {
      const what =
        e.name === 'image'
          ? 'a picture outside the file is looked for among those of the job, never fetched'
          : 'a reference out of the file is never fetched';
      this.note(what, `line ${e.line}`, 'warning', e.name === 'image' ? 'asked' : 'never');
    }
  }

  private checkEffects(e: XmlElement, style: Style): void {
    const has = (name: string): boolean => {
      const v = style.get(name) ?? e.attributes.get(name);
      return v !== undefined && v !== 'none' && v !== '' && v !== 'normal';
    };
    if (has('mask')) this.miss('colour', 'masks-not-carried', e);
    if (has('filter')) this.miss('colour', 'filters-not-carried', e);
    if (has('mix-blend-mode')) this.miss('colour', 'blend-modes-not-carried', e);
    for (const name of ['fill', 'stroke'] as const) {
      const value = style.get(name);
      if (!value?.startsWith('url(')) continue;
      const server = referred(this.document, value)?.name;
      if (server !== undefined && !/^(linearGradient|radialGradient|pattern)$/.test(server))
        this.miss('colour', because('paint-not-carried', { server }), e);
    }
  }

  private container(e: XmlElement, state: State): void {
    if (e.name === 'switch') {
      const chosen = elementsOf(e).find((c) => !NOT_DRAWN.has(c.name) && passes(c));
      if (chosen) this.element(chosen, state);
      return;
    }
    if (e.name === 'a' && (e.attributes.has('href') || e.foreign.has('href')))
      this.miss('links', 'hyperlinks-not-carried', e);
    if (e.name === 'use') return this.use(e, state);
    if (e.name === 'svg') {
      const inner = this.nested(e, state);
      if (inner) this.children(e, this.enter(e, inner));
      return;
    }
    this.children(e, this.enter(e, state));
  }

  /** A group becomes a node; if it is named and none above it is, a layer too. */
  private enter(e: XmlElement, state: State): State {
    const name = groupName(e);
    const node = this.drawing.nodes.length;
    this.drawing.nodes.push({
      name: name ?? '',
      parent: state.node ?? null,
      hidden: state.hidden,
      ...(e.attributes.get('id') && { key: e.attributes.get('id')! }),
    });
    const opensLayer = state.layer === '' && name !== null && (isLayerGroup(e) || !this.isWrapper(e));
    const layer = opensLayer ? name : state.layer;
    if (opensLayer && !this.layerNames.has(name)) {
      this.layerNames.add(name);
      const key = e.attributes.get('id');
      this.drawing.layers.push({ ...newLayer(name), off: state.hidden, ...(key && { key }) });
    }
    return { ...state, node, layer };
  }

  /** A group that merely holds all others says nothing about layers, unless it stands alone with shapes. */
  private isWrapper(e: XmlElement): boolean {
    if (e.parent !== this.document.root) return false;
    const siblings = elementsOf(this.document.root).filter(
      (c) => !NOT_DRAWN.has(c.name) && !c.name.startsWith('other:'),
    );
    const inner = elementsOf(e).filter((c) => !NOT_DRAWN.has(c.name));
    return siblings.length === 1 && inner.length > 0 && inner.every((c) => c.name === 'g' && groupName(c) !== null);
  }

  private nested(e: XmlElement, state: State): State | null {
    const { width: pw, height: ph } = state.viewport;
    const of = (name: string, percentOf: number, otherwise: string): number =>
      parseLength(e.attributes.get(name) ?? otherwise, { percentOf, em: state.em }) ?? 0;
    // What uses it may say another size (SVG 2 §5.6).
    const sized = (name: string, percentOf: number): number =>
      parseLength(state.sizedBy?.get(name) ?? e.attributes.get(name) ?? '100%', { percentOf, em: state.em }) ?? 0;
    const [x, y, w, h] = [of('x', pw, '0'), of('y', ph, '0'), sized('width', pw), sized('height', ph)];
    if (!(w > 0) || !(h > 0)) return null;
    const box = parseViewBox(e.attributes.get('viewBox'));
    const fit = box ? viewBoxMap(box, w, h, e.attributes.get('preserveAspectRatio')) : IDENTITY;
    const viewport = box ? { width: box.width, height: box.height } : { width: w, height: h };
    const cut = cutsOverflow(state.style) ? clippedTo(state, x, y, w, h) : state;
    return { ...cut, ctm: compose(state.ctm, compose(translation(x, y), fit)), viewport, sizedBy: undefined };
  }

  private use(e: XmlElement, state: State): void {
    const target = linked(this.document, e);
    if (!target) return this.note('a <use> points at nothing in the file', `line ${e.line}`, 'warning', 'curves');
    if (state.uses.includes(target) || isInside(e, target))
      return this.note('a <use> that contains itself is left out', `line ${e.line}`);
    if (++this.used > MAX_USE || state.uses.length > 40)
      return this.note('more <use> instances than are followed', `line ${e.line}`, 'warning', 'curves');
    const { width, height } = state.viewport;
    const x = parseLength(e.attributes.get('x') ?? '0', { percentOf: width, em: state.em }) ?? 0;
    const y = parseLength(e.attributes.get('y') ?? '0', { percentOf: height, em: state.em }) ?? 0;
    const entered = this.enter(e, {
      ...state,
      ctm: compose(state.ctm, translation(x, y)),
      uses: [...state.uses, target],
    });
    if (target.name === 'svg') entered.sizedBy = e.attributes;
    if (target.name !== 'symbol') return this.element(target, entered);
    const box = parseViewBox(target.attributes.get('viewBox'));
    const w = parseLength(e.attributes.get('width') ?? '100%', { percentOf: width, em: state.em }) ?? width;
    const h = parseLength(e.attributes.get('height') ?? '100%', { percentOf: height, em: state.em }) ?? height;
    const fit = box ? viewBoxMap(box, w, h, target.attributes.get('preserveAspectRatio')) : IDENTITY;
    const style = entered.style.child(target, this.sheet);
    const cut = cutsOverflow(style) ? clippedTo(entered, 0, 0, w, h) : entered;
    this.children(target, {
      ...cut,
      ctm: compose(entered.ctm, fit),
      style,
      viewport: box ?? { width: w, height: h },
    });
  }

  private layerOf(state: State): string {
    if (state.layer !== '') return state.layer;
    if (!this.layerNames.has('0')) {
      this.layerNames.add('0');
      this.drawing.layers.push(newLayer('0'));
    }
    return '0';
  }

  private baseOf(e: XmlElement, state: State): Omit<Entity, 'kind' | 'id' | 'look'> {
    const { node, classes, clip, tile } = state;
    return {
      key: e.attributes.get('id') ?? `line ${e.line}`,
      layer: this.layerOf(state),
      ...(node !== undefined && { node }), ...(classes !== undefined && { classes }),
      ...(clip && { clipTo: clip }), ...(tile && { tile }),
    }; // prettier-ignore
  }

  private shape(e: XmlElement, state: State): void {
    const scale = Math.sqrt(Math.abs(state.ctm[0] * state.ctm[4] - state.ctm[1] * state.ctm[3]));
    const stated = this.lookOf(state.style, state, scale);
    let look = e.name === 'line' ? this.pool.share({ ...stated, fill: { kind: 'none' } }) : stated;
    look = this.placedPaint(look, () => this.ownBox(e, state, state.style), state);
    const id = this.drawing.nextId++;
    const base: ShapeContext['base'] = {
      id,
      key: e.attributes.get('id') ?? `line ${e.line}`,
      layer: this.layerOf(state),
      look,
    };
    if (state.node !== undefined) base.node = state.node;
    if (state.classes !== undefined) base.classes = state.classes;
    if (state.clip) base.clipTo = state.clip;
    if (state.tile) base.tile = true;
    this.tellUnfollowed(e, state);
    const entity: Draft<Entity> | null = readShape(e, {
      ctm: state.ctm,
      style: state.style,
      base,
      viewport: state.viewport,
      em: state.em,
      fault: (text) => this.note(text, `line ${e.line}`, 'warning', 'curves'),
      pool: this.doubles,
    });
    if (!entity) return;
    if (!isReachable(entity)) return this.miss('curves', BEYOND, e);
    const fixed = state.style.get('vector-effect')?.includes('non-scaling-stroke') ?? false;
    const pen = fixed ? null : unevenPen(entity as Entity, look, state.ctm);
    if (pen) {
      entity.look = look = this.pool.share(pen.look);
      if (pen.bent) this.lose('colour', 'approximated', 'pen-not-round', id);
    }
    if (strokeFirst(state.style) && look.fill.kind !== 'none' && look.stroke.kind !== 'none') {
      // What is stroked before it is filled is two shapes, one on the other.
      const under = { ...entity, id: this.drawing.nextId++, look: this.pool.share({ ...look, fill: NO_PAINT }) };
      this.drawing.entities.push(under as Entity);
      entity.look = this.pool.share({ ...look, stroke: NO_PAINT });
    }
    this.drawing.entities.push(entity);
    if (look.fill.kind === 'pattern') this.tiles(entity, e, state, look.fill.id);
    const { style } = state;
    if (
      this.marked &&
      MARKED.has(e.name) &&
      (style.get('marker-start') ?? style.get('marker-mid') ?? style.get('marker-end')) !== undefined
    )
      this.markers(e, state, look);
  }

  /** A look whose gradients lie where they lie on this shape. */
  private placedPaint(look: Appearance, box: () => Box2 | null, state: State): Appearance {
    const of = (paint: Appearance['fill']): Appearance['fill'] =>
      paint.kind === 'gradient' ? this.paints.placed(paint, box, state) : paint;
    const [fill, stroke] = [of(look.fill), of(look.stroke)];
    return fill === look.fill && stroke === look.stroke ? look : this.pool.share({ ...look, fill, stroke });
  }

  /** The pieces of a fill pattern, cut to their shape. They go beside the shape, whose plain colour may stand instead. */
  private tiles(shape: Entity, e: XmlElement, state: State, id: string): void {
    const pattern = this.document.byId.get(id);
    const own = this.ownBox(e, state, state.style);
    const path = outlinePath(shape);
    if (!pattern || !own || !path || this.within.has(pattern)) return;
    const sink = new BoundsSink(new Box2());
    addEntityBounds(shape, IDENTITY, sink);
    const outline = { shapes: [{ path, rule: shape.look.fillRule }], ...(state.clip && { within: state.clip }) };
    const tiling = tilesOf(pattern, state, sink.box, own, outline, this.placed);
    const room = tiling && this.added + tiling.tiles.length * tiling.children.length <= MAX_ADDED;
    if (!tiling || !room) {
      this.note(
        `a fill pattern of more than ${MAX_TILES} tiles is shown by its plain colour`,
        `line ${e.line}`,
        'warning',
        'colour',
      );
      return;
    }
    this.within.add(pattern);
    const before = this.drawing.entities.length;
    for (const tile of tiling.tiles) for (const c of tiling.children) this.element(c, tile);
    this.added += this.drawing.entities.length - before;
    this.within.delete(pattern);
  }

  private markers(e: XmlElement, state: State, look: Appearance): void {
    const { style } = state;
    const made = this.inUserSpace(e, state);
    const path: PathData | null =
      made?.kind === 'line'
        ? { cmds: Uint8Array.of(0, 1), data: Float64Array.of(made.start[0], made.start[1], made.end[0], made.end[1]) }
        : made && outlinePath(made);
    if (!path) return;
    const width = parseLength(style.get('stroke-width') ?? '1', { percentOf: state.viewport.width, em: state.em }) ?? 1;
    const context = { fill: look.fill, stroke: look.stroke };
    for (const place of markerPlaces(path)) {
      const marker = referred(this.document, style.get(`marker-${place.role}`));
      if (marker?.name !== 'marker' || this.within.has(marker)) continue;
      const at = markerState(marker, place, { ...state, context }, width, this.placed);
      if (!at) continue;
      if (this.added > MAX_ADDED)
        return this.note('more markers than are drawn', `line ${e.line}`, 'warning', 'curves');
      this.within.add(marker);
      const before = this.drawing.entities.length;
      this.children(marker, at);
      this.added += this.drawing.entities.length - before;
      this.within.delete(marker);
    }
  }

  private image(e: XmlElement, state: State): void {
    const id = this.drawing.nextId++;
    // A picture is not painted; where only its frame is drawn, that is grey.
    const look: Appearance = { ...this.lookOf(state.style, state, 1), fill: NO_PAINT, stroke: FRAME_GREY };
    const made = readImage(e, state, { ...this.baseOf(e, state), id, look });
    if (made && !isReachable(made)) this.miss('links', BEYOND, e);
    else if (made) this.drawing.entities.push(this.cropped(made, state));
    else this.miss('links', 'picture-without-size', e);
  }

  /** A picture whose own clip path is one outline has it as its boundary. */
  private cropped(image: Image, { style, clip }: State): Image {
    if (!clip || image.clipTo !== clip || (style.get('clip-path') ?? 'none') === 'none') return image;
    try {
      const made = croppedImage(image, [new Region(clip.shapes)]);
      return made === null || made === 'nothing' ? image : { ...made, clipTo: clip.within };
    } catch (error) {
      if (error instanceof TooIntricate) return image;
      throw error;
    }
  }

  /** What a shape says beside its form and look, and what of it does not go along. */
  private tellUnfollowed(e: XmlElement, state: State): void {
    if (e.attributes.has('pathLength') && (state.style.get('stroke-dasharray') ?? 'none') !== 'none')
      this.miss('colour', 'path-length-not-followed', e);
    const names = [...e.attributes.keys()];
    const said = (reason: PlainReason, there: boolean): void => {
      if (there) this.ledger.add({ carryOver: 'links', action: 'dropped', onPurpose: true, reason });
    };
    said('classes-not-carried', e.attributes.has('class'));
    said(
      'data-not-carried',
      names.some((n) => n.startsWith('data-')),
    );
    for (const c of elementsOf(e)) {
      said('titles-not-carried', c.name === 'title' || c.name === 'desc');
      if (ANIMATION.test(c.name)) this.miss('links', 'animation-not-carried', c);
    }
  }

  private text(e: XmlElement, state: State): void {
    const { key: _k, ...base } = this.baseOf(e, state);
    const made = readText(e, {
      document: this.document,
      sheet: this.sheet,
      ctm: state.ctm,
      style: state.style,
      viewport: state.viewport,
      lookOf: (style) => this.lookOf(style, state, 1),
      base: { ...base, key: e.attributes.get('id') ?? `line ${e.line}` },
      newId: () => this.drawing.nextId++,
      ...this.stretchOf(e, state),
      loss: (reason, id) => this.lose('text', 'approximated', reason, id),
    });
    for (const t of made) {
      if (isReachable(t)) this.drawing.entities.push(t);
      else this.miss('text', BEYOND, e);
    }
  }

  private stretchOf(e: XmlElement, state: State): { stretchTo?: number } {
    const length = parseLength(e.attributes.get('textLength'), { percentOf: state.viewport.width, em: state.em });
    if (length === null || !(length > 0)) return {};
    if (e.attributes.get('lengthAdjust') === 'spacingAndGlyphs') return { stretchTo: length };
    this.lose('text', 'approximated', 'text-stretch-not-kept');
    return {};
  }

  private lookOf(style: Style, state: State, scale: number): Appearance {
    // Lengths in parts of the viewport are others in another one.
    const parts = style.get('stroke-dasharray')?.includes('%')
      ? `${state.viewport.width}x${state.viewport.height}|`
      : '';
    const key = `${parts}${scale}|${state.opacity}|${state.hidden}${state.context ? JSON.stringify(state.context) : ''}`;
    let byKey = this.looks.get(style);
    if (!byKey) this.looks.set(style, (byKey = new Map()));
    const known = byKey.get(key);
    if (known) return known;
    const fill = this.paints.read(style.get('fill'), 'black', style, state.context);
    const stroke = this.paints.read(style.get('stroke'), 'none', style, state.context);
    const width = parseLength(style.get('stroke-width') ?? '1', { percentOf: state.viewport.width, em: state.em }) ?? 1;
    const fixed = style.get('vector-effect')?.includes('non-scaling-stroke') ?? false;
    const pen = width === 0 ? NO_PAINT : stroke.paint;
    const look = this.pool.share({
      stroke: pen,
      fill: fill.paint,
      opacity: state.opacity,
      strokeOpacity: clamp(Number(style.get('stroke-opacity') ?? 1)) * stroke.alpha,
      fillOpacity: clamp(Number(style.get('fill-opacity') ?? 1)) * fill.alpha,
      width: { kind: 'drawing', value: Math.min(LARGEST, width * (fixed ? 1 : scale)) },
      dash: dashOf(style, fixed ? 1 : scale, state),
      cap: oneOf(style.get('stroke-linecap'), ['butt', 'round', 'square'] as const),
      join: oneOf(style.get('stroke-linejoin'), ['miter', 'round', 'bevel'] as const),
      miter: Number(style.get('stroke-miterlimit') ?? 4) || 4,
      fillRule: style.get('fill-rule') === 'evenodd' ? 'evenodd' : 'nonzero',
      // What is neither filled nor stroked is not seen.
      visible:
        (pen.kind !== 'none' || fill.paint.kind !== 'none') &&
        !state.hidden &&
        style.get('visibility') !== 'hidden' &&
        style.get('visibility') !== 'collapse',
    });
    byKey.set(key, look);
    return look;
  }

  private finish(): void {
    const { document, drawing } = this;
    if (document.broken) {
      this.note(
        `the document breaks off: ${document.broken.message}; what comes before it is kept`,
        `line ${document.broken.line}`,
      );
      this.brokenOff = [...this.notes.keys()].at(-1)!;
      this.told.add(this.brokenOff);
      for (const row of BROKEN_OFF) this.ledger.add(row);
    }
    if (document.tooDeep > 0)
      this.note('elements nested more than 256 deep are left out', `${document.tooDeep} elements`, 'warning', 'curves');
    for (const [name, count] of this.sheet.ignored)
      this.notes.set(`style rules not followed: ${name}`, {
        where: 'in a stylesheet',
        count,
        severity: 'warning',
        about: 'colour',
      });
    for (const family of this.sheet.fonts)
      this.notes.set(`the font ${family} is held in the file and not read from it`, {
        where: 'in a stylesheet',
        count: 1,
        severity: 'note',
        about: 'text',
      });
    for (const [text, { where, count, severity, about }] of this.notes) {
      const endsHere = text === this.brokenOff;
      drawing.notes.push({ text, where, count, severity, ...(endsHere && { endsHere }) });
      if (this.told.has(text) || about === 'asked') continue;
      const carryOver = about === 'never' ? 'links' : about;
      // What is only remarked on loses nothing.
      const action = severity === 'note' ? 'kept' : 'dropped';
      const reason = because('read-otherwise', { what: text });
      this.ledger.add({ carryOver, action, reason, count, onPurpose: about === 'never' });
    }
  }
}

const BEYOND = 'objects-beyond-bounds';

/** Whether all places and sizes of an entity are numbers that can be drawn with. */
function isReachable(e: Entity): boolean {
  switch (e.kind) {
    case 'path':
      return e.path.data.every(isDrawable);
    case 'polyline':
      return e.points.every(isDrawable);
    case 'line':
      return [...e.start, ...e.end].every(isDrawable);
    case 'circle':
      return [...e.centre, e.radius].every(isDrawable);
    case 'ellipse':
      return [...e.centre, ...e.major, e.ratio].every(isDrawable);
    case 'text':
      return [...e.at, e.size, e.rotation, e.widthFactor, e.spacing ?? 0].every(isDrawable);
    case 'image':
      return [...e.at, ...e.u, ...e.v, ...e.pixels].every(isDrawable);
    default:
      return true;
  }
}

/** Whether a shape's line is drawn before its fill (`paint-order`). */
const strokeFirst = (style: Style): boolean => {
  const order = style.get('paint-order');
  if (order === undefined || order === 'normal') return false;
  const [line, area] = [order.indexOf('stroke'), order.indexOf('fill')];
  return line >= 0 && (area < 0 || line < area);
};

/** Whether a child of `switch` is one for us: no extension asked for, and our language where one is named. */
const passes = (e: XmlElement): boolean => {
  if (e.attributes.has('requiredExtensions')) return false;
  const languages = e.attributes.get('systemLanguage');
  return languages === undefined || languages.split(',').some((l) => /^en(-|$)/i.test(l.trim()));
};

const clamp = (v: number): number => (Number.isFinite(v) ? Math.min(1, Math.max(0, v)) : 1);

function oneOf<T extends string>(value: string | undefined, allowed: readonly [T, ...T[]]): T {
  return allowed.find((a) => a === value) ?? allowed[0];
}

function dashOf(style: Style, scale: number, { em, viewport }: State): Dash {
  // Parts of the diagonal, over the square root of two (SVG 2 §8.9).
  const percentOf = Math.hypot(viewport.width, viewport.height) / Math.SQRT2;
  const text = style.get('stroke-dasharray');
  if (!text || text === 'none') return { kind: 'lengths', lengths: [], offset: 0 };
  const parts = text
    .split(/[\s,]+/)
    .filter(Boolean)
    .map((t) => parseLength(t, { percentOf, em }));
  const good = parts.every((p) => p !== null && p >= 0) && parts.some((p) => p! > 0);
  if (!good) return { kind: 'lengths', lengths: [], offset: 0 };
  const offset = parseLength(style.get('stroke-dashoffset') ?? '0', { percentOf, em }) ?? 0;
  return { kind: 'lengths', lengths: parts.map((p) => p! * scale), offset: offset * scale };
}

function isInside(e: XmlElement, ancestor: XmlElement): boolean {
  for (let p = e.parent; p; p = p.parent) if (p === ancestor) return true;
  return false;
}
