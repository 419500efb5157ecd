import type { Paint } from '../../drawing/appearance.js';
import { DRAFTING_DEFAULT, NO_PAINT } from '../../drawing/appearance.js';
import type { Appearance } from '../../drawing/appearance.js';
import { croppedImage } from '../../drawing/cropped-image.js';
import type { Drawing } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Draft, Entity, Image } from '../../drawing/entity.js';
import { BoundsSink, addEntityBounds } from '../../drawing/measures.js';
import { outlinePath } from '../../drawing/outline-path.js';
import { IDENTITY, compose, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import { TooIntricate } from '../../geometry/crossings.js';
import type { PathData } from '../../geometry/path.js';
import { DoublePool } from '../../geometry/pool.js';
import { Region } from '../../geometry/region.js';
import type { Reading, Work } from '../format.js';
import { UnreadableFile, checkStop } from '../format.js';
import { StyleSheet } from './css.js';
import { decodeXml } from './decode-xml.js';
import { parseLength } from './lengths.js';
import { groupName, isLayerGroup } from './names.js';
import { isReachable } from './reachable.js';
import { readClip } from './read-clips.js';
import { headOfAddress } from '../picture/address-head.js';
import { isTurned } from '../picture/as-stored.js';
import { readImage } from './read-image.js';
import { LookReader, clamp, isFixedPen, strokeFirst } from './read-looks.js';
import { markerPlaces, markerState } from './read-markers.js';
import { readPage } from './read-page.js';
import { MAX_TILES, tilesOf } from './read-patterns.js';
import type { ShapeContext } from './read-shapes.js';
import { isShape, readShape } from './read-shapes.js';
import { fontSizeOf, readText } from './read-text.js';
import { ReadingNotes } from './reading-notes.js';
import type { State } from './state.js';
import { PlacedStyles, clippedTo, cutsOverflow, linked, referred } from './state.js';
import { Style } from './style.js';
import { parseTransform, parseViewBox, properTransforms, transformOrigin, viewBoxMap } from './transforms.js';
import { unevenPen } from './uneven-pen.js';
import { ANIMATION, tellEffects, tellOfTheWhole, tellUnfollowed, tellUnsafe } from './unfollowed.js';
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
/** What lies beyond all bounds is left out. */
const BEYOND = 'objects-beyond-bounds';
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

class SvgReader {
  private readonly drawing: Draft<Drawing> = emptyDrawing('svg', '1.1');
  private readonly notes = new ReadingNotes();
  private readonly sheet = new StyleSheet();
  private readonly looks: LookReader;
  private readonly doubles = new DoublePool();
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
    this.looks = new LookReader(document, this.sheet);
    this.placed = new PlacedStyles(document, this.sheet);
    this.marked = [...document.byId.values()].some((e) => e.name === 'marker');
  }

  read(): Reading {
    const { root } = this.document;
    this.drawing.version = root.attributes.get('version') ?? '1.1';
    this.collectStyles(root);
    const { map, viewport } = readPage(root, this.drawing, this.notes);
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
    state.opacity = Number(state.style.get('opacity') ?? 1);
    state.hidden = state.style.get('display') === 'none';
    tellOfTheWhole(root, state, this.notes);
    this.children(root, state);
    this.notes.finish(this.document, this.sheet, this.drawing);
    return { drawing: this.drawing, ledger: this.notes.ledger.rows };
  }

  private collectStyles(e: XmlElement): void {
    for (const c of elementsOf(e)) {
      if (c.name === 'style') {
        // One for paper, or in another language of styles, is not for the screen.
        const media = (c.attributes.get('media') ?? 'all').toLowerCase();
        const type = (c.attributes.get('type') ?? 'text/css').trim().toLowerCase();
        if (type !== '' && type !== 'text/css') continue;
        if (!/(^|[\s,])(all|screen)\b/.test(media) || media.includes('(')) {
          this.notes.note(`a stylesheet for ${media} is not followed`, `line ${c.line}`, 'note', 'colour');
          continue;
        }
        const css = textContent(c);
        if (/@import|url\(\s*["']?(https?:)?\/\//i.test(css))
          this.notes.note(
            'a stylesheet refers to something outside the file; it is never fetched',
            `line ${c.line}`,
            'warning',
            'never',
          );
        this.sheet.add(css);
      } else this.collectStyles(c);
    }
  }

  private children(e: XmlElement, state: State): void {
    for (const c of elementsOf(e)) this.element(c, state);
  }

  private element(e: XmlElement, outer: State): void {
    if (++this.visited % 4096 === 0) {
      checkStop(this.work);
      this.work?.onProgress?.(0.6 + 0.4 * (1 - 1 / (1 + this.visited / 1e5)));
    }
    tellUnsafe(e, this.notes);
    if (NOT_DRAWN.has(e.name)) return;
    if (e.name.startsWith('other:')) return;
    if (ANIMATION.test(e.name)) return this.notes.miss('links', 'animation-not-carried', e);
    if (e.name === 'script') return;
    if (e.name === 'foreignObject') return this.notes.miss('text', 'foreign-object-not-carried', e);

    const style = outer.style.child(e, this.sheet);
    const transform = style.get('transform') ?? e.attributes.get('transform');
    let m = parseTransform(transform);
    const before = properTransforms((name) => style.get(name), outer);
    if (m !== null && before !== IDENTITY) m = compose(before, m);
    if (m === null) {
      this.notes.note('a transform that makes no sense is left out', `line ${e.line}`, 'warning', 'origin');
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
    tellEffects(e, style, this.document, this.notes);
    const clip = style.get('clip-path');
    if (clip && clip !== 'none') {
      const made = readClip(clip, e, state, this.placed, this.notes, () => this.ownBox(e, state, style));
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
    this.notes.note(`<${e.name}> is not known and left out`, `line ${e.line}`, 'warning', 'curves');
  }

  /** Opacity of a group is given to each of its parts, which shows where one lies on another. */
  private tellGroupOpacity(from: number): void {
    const parts = this.drawing.entities.slice(from, from + MOST_COMPARED);
    const boxes = parts.map((p) => {
      const sink = new BoundsSink(new Box2());
      addEntityBounds(p, IDENTITY, sink);
      return sink.box;
    });
    if (boxes.some((a, i) => boxes.some((b, j) => j < i && a.meets(b))))
      this.notes.lose('colour', 'approximated', 'group-opacity-by-part', parts[0]!.id);
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
      ctm: IDENTITY,
      style: state.style,
      viewport: state.viewport,
      em: state.em,
      fault: () => {},
      base: { id: 0, key: '', layer: '', look: DRAFTING_DEFAULT },
    });
  }

  private container(e: XmlElement, state: State): void {
    if (e.name === 'switch') {
      const chosen = elementsOf(e).find((c) => !NOT_DRAWN.has(c.name) && passes(c));
      if (chosen) this.element(chosen, state);
      return;
    }
    if (e.name === 'a' && (e.attributes.has('href') || e.foreign.has('href')))
      this.notes.miss('links', 'hyperlinks-not-carried', e);
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
    if (!target) return this.notes.note('a <use> points at nothing in the file', `line ${e.line}`, 'warning', 'curves');
    if (state.uses.includes(target) || isInside(e, target))
      return this.notes.note('a <use> that contains itself is left out', `line ${e.line}`);
    if (++this.used > MAX_USE || state.uses.length > 40)
      return this.notes.note('more <use> instances than are followed', `line ${e.line}`, 'warning', 'curves');
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
      ...(node !== undefined && { node }),
      ...(classes !== undefined && { classes }),
      ...(clip && { clipTo: clip }),
      ...(tile && { tile }),
    };
  }

  private shape(e: XmlElement, state: State): void {
    const scale = Math.sqrt(Math.abs(state.ctm[0] * state.ctm[4] - state.ctm[1] * state.ctm[3]));
    const stated = this.looks.of(state.style, state, scale);
    let look = e.name === 'line' ? this.looks.pool.share({ ...stated, fill: { kind: 'none' } }) : stated;
    look = this.looks.placed(look, () => this.ownBox(e, state, state.style), state);
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
    tellUnfollowed(e, state, this.notes);
    const entity: Draft<Entity> | null = readShape(e, {
      ctm: state.ctm,
      style: state.style,
      base,
      viewport: state.viewport,
      em: state.em,
      fault: (text) => this.notes.note(text, `line ${e.line}`, 'warning', 'curves'),
      pool: this.doubles,
    });
    if (!entity) return;
    if (!isReachable(entity)) return this.notes.miss('curves', BEYOND, e);
    const pen = isFixedPen(state.style) ? null : unevenPen(entity as Entity, look, state.ctm);
    if (pen) {
      entity.look = look = this.looks.pool.share(pen.look);
      if (pen.bent) this.notes.lose('colour', 'approximated', 'pen-not-round', id);
    }
    if (strokeFirst(state.style) && look.fill.kind !== 'none' && look.stroke.kind !== 'none') {
      // What is stroked before it is filled is two shapes, one on the other.
      const under = { ...entity, id: this.drawing.nextId++, look: this.looks.pool.share({ ...look, fill: NO_PAINT }) };
      this.drawing.entities.push(under as Entity);
      entity.look = this.looks.pool.share({ ...look, stroke: NO_PAINT });
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
      this.notes.note(
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
        return this.notes.note('more markers than are drawn', `line ${e.line}`, 'warning', 'curves');
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
    const look: Appearance = { ...this.looks.of(state.style, state, 1), fill: NO_PAINT, stroke: FRAME_GREY };
    const made = readImage(e, state, { ...this.baseOf(e, state), id, look });
    if (made?.data !== undefined && isTurned(headOfAddress(made.data)))
      this.notes.lose('origin', 'approximated', 'picture-turning-not-followed', id);
    if (made && !isReachable(made)) this.notes.miss('links', BEYOND, e);
    else if (made) this.drawing.entities.push(this.cropped(made, state));
    else this.notes.miss('links', 'picture-without-size', e);
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

  private text(e: XmlElement, state: State): void {
    const { key: _k, ...base } = this.baseOf(e, state);
    const made = readText(e, {
      document: this.document,
      sheet: this.sheet,
      ctm: state.ctm,
      style: state.style,
      viewport: state.viewport,
      lookOf: (style) => this.looks.of(style, state, 1),
      base: { ...base, key: e.attributes.get('id') ?? `line ${e.line}` },
      newId: () => this.drawing.nextId++,
      ...this.stretchOf(e, state),
      loss: (reason, id) => this.notes.lose('text', 'approximated', reason, id),
    });
    for (const t of made) {
      if (isReachable(t)) this.drawing.entities.push(t);
      else this.notes.miss('text', BEYOND, e);
    }
  }

  private stretchOf(e: XmlElement, state: State): { stretchTo?: number } {
    const length = parseLength(e.attributes.get('textLength'), { percentOf: state.viewport.width, em: state.em });
    if (length === null || !(length > 0)) return {};
    if (e.attributes.get('lengthAdjust') === 'spacingAndGlyphs') return { stretchTo: length };
    this.notes.lose('text', 'approximated', 'text-stretch-not-kept');
    return {};
  }
}

/** Whether a child of `switch` is one for us: no extension asked for, and our language where one is named. */
const passes = (e: XmlElement): boolean => {
  if (e.attributes.has('requiredExtensions')) return false;
  const languages = e.attributes.get('systemLanguage');
  return languages === undefined || languages.split(',').some((l) => /^en(-|$)/i.test(l.trim()));
};

function isInside(e: XmlElement, ancestor: XmlElement): boolean {
  for (let p = e.parent; p; p = p.parent) if (p === ancestor) return true;
  return false;
}
