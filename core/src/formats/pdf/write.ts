import type { Paint, Rgb } from '../../drawing/appearance.js';
import { NO_PAINT, meanOpacity } from '../../drawing/appearance.js';
import { boundsOf } from '../../drawing/bounds.js';
import { hasVaryingWidth } from '../../drawing/constant-width.js';
import { clipInPixels, curvesOf, entityToWorld } from '../../drawing/curves.js';
import type { Drawing, Layer } from '../../drawing/drawing.js';
import { layerKey } from '../../drawing/drawing.js';
import type { Entity, Hatch, Image, RichText, Text } from '../../drawing/entity.js';
import { hatchLines } from '../../drawing/hatch-area.js';
import { paintOfHatch } from '../../drawing/hatch-gradient.js';
import { foreshortening, leavesPlane } from '../../drawing/leaves-plane.js';
import { KINDS } from '../../drawing/kinds.js';
import type { LedgerEntry, Thing } from '../../drawing/ledger.js';
import { Ledger, curveKey } from '../../drawing/ledger.js';
import { hex } from '../../drawing/palette.js';
import { rayWithin } from '../../drawing/rays.js';
import type { Reason } from '../../drawing/reasons.js';
import { because } from '../../drawing/reasons.js';
import type { Visit } from '../../drawing/resolve.js';
import { CUT, walk } from '../../drawing/resolve.js';
import { unitOf } from '../../drawing/units.js';
import type { Affine } from '../../geometry/affine.js';
import { applyPoint, applyVector, compose, planar, translation } from '../../geometry/affine.js';
import type { Vec3 } from '../../geometry/vector.js';
import { length } from '../../geometry/vector.js';
import { Box2 } from '../../geometry/box.js';
import { lineMatrix, linesOf, ownRgb } from '../../text/layout.js';
import type { Work, WriteOptions, Writing } from '../format.js';
import { checkStop } from '../format.js';
import type { PdfValue, Ref } from './objects.js';
import { PdfObjects, name, numberText, textValue } from './objects.js';
import { PageContent } from './page-content.js';
import { PathPen } from './page-pen.js';
import { FontWriter, standsFor } from './write-fonts.js';
import { LookWriter } from './write-looks.js';
import { PictureWriter } from './write-pictures.js';

/** Points to the millimetre (ISO 32000-2, 8.3.2.3). */
export const POINTS_PER_MM = 72 / 25.4;
/** The longest side of a page in units; a longer one counts in larger units (ISO 32000-2, annex C.1 and 14.11.2). */
const LONGEST_SIDE = 14_400;
/** How wide the page is around a drawing that gives none, in mm. */
const AROUND_MM = 10;

/**
 * Writes model space as the pages of a PDF 1.7 at true size: each page shows a box of the drawing, one coordinate unit as long as
 * `options.unit` says. Without pages there is one, around all that is drawn. Layers become optional content; the order of painting is kept.
 */
export function writePdf(drawing: Drawing, options: WriteOptions, work?: Work): Writing {
  return new PdfWriter(drawing, options, work).write();
}

class PdfWriter {
  private readonly ledger = new Ledger('write');
  private readonly objects = new PdfObjects();
  private readonly fonts = new FontWriter(this.objects);
  private readonly pictures = new PictureWriter(this.objects);
  private readonly layers = new Map<string, { resource: string; ref: Ref }>();
  private readonly looks: LookWriter;
  private readonly pages: PageContent[];
  /** Points, or larger units of the page, to a unit of the drawing. */
  private readonly k: number;
  private readonly userUnit: number;
  private readonly mm: number;
  private readonly tolerance: number;
  private readonly reach: Box2;
  /** The object of the drawing that is written now. */
  private top: Entity | null = null;

  constructor(
    private readonly drawing: Drawing,
    private readonly options: WriteOptions,
    private readonly work: Work | undefined,
  ) {
    this.mm = unitOf(options.unit).mm;
    this.reach = boundsOf(drawing);
    const around = AROUND_MM / this.mm;
    const { reach: b } = this;
    const boxes = options.pages ?? [
      b.empty
        ? Box2.of(0, 0, 2 * around, 2 * around)
        : Box2.of(b.minX - around, b.minY - around, b.maxX + around, b.maxY + around),
    ];
    const longest = Math.max(...boxes.flatMap((p) => [p.width, p.height])) * this.mm * POINTS_PER_MM;
    this.userUnit = longest > LONGEST_SIDE ? Math.ceil(longest / LONGEST_SIDE) : 1;
    this.k = (this.mm * POINTS_PER_MM) / this.userUnit;
    this.looks = new LookWriter(drawing, options, this.objects, this.k);
    this.tolerance = Math.max(this.reach.diagonal * 1e-7, 1e-9);
    this.pages = boxes.map((box) => new PageContent(box, this.k, this.tolerance));
  }

  write(): Writing {
    const { drawing, work } = this;
    for (const l of drawing.layers) this.layerOf(l.name, l);
    let n = 0;
    walk(
      drawing,
      (v) => {
        if (++n % 2048 === 0) {
          checkStop(work);
          work?.onProgress?.(Math.min(0.95, n / (drawing.entities.length + 1)));
        }
        this.top = v.top;
        if (v.depth === 0) this.pageOf(v.entity, v.toWorld).cutTo(v.entity.clipTo);
        this.entity(v);
      },
      { hidden: true, onCut: (i, why) => this.tell(i, { carryOver: 'links', action: 'dropped', reason: CUT[why] }) },
    );
    const sheets = drawing.entities.filter((e) => e.sheet !== undefined).length;
    if (sheets > 0)
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: 'sheets-left-out',
        count: sheets,
        onPurpose: true,
      });
    if (this.looks.recoloured.size > 0)
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        count: this.looks.recoloured.size,
        reason: this.options.ink === 'black' ? 'black-only' : 'recoloured-by-chart',
        recoloured: Object.fromEntries(this.looks.recoloured),
      });
    if (this.options.hairline)
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        reason: because('one-width-for-all', { width: this.options.hairline }),
      });
    if (this.userUnit > 1)
      this.ledger.add({
        carryOver: 'scale',
        action: 'kept',
        onPurpose: true,
        reason: because('pdf-larger-units', { times: this.userUnit }),
      });
    return { bytes: this.document(), ledger: this.ledger.rows };
  }

  private tell(e: Entity, row: LedgerEntry): void {
    this.ledger.add({ ...row, id: e.id });
  }

  private became(e: Entity, to: Thing, reason: Reason, entities = 1): void {
    this.tell(e, {
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      reason,
      becomes: { from: e.kind, to, gone: 1, entities },
    });
  }

  private layerOf(named: string, layer?: Layer): { resource: string; ref: Ref } {
    const key = layerKey(this.drawing, named);
    let made = this.layers.get(key);
    if (!made) {
      const ref = this.objects.add({ Type: name('OCG'), Name: textValue(layer?.name ?? named) });
      this.layers.set(key, (made = { resource: `L${this.layers.size + 1}`, ref }));
    }
    return made;
  }

  /** The page that an object lies on: as it is said, else the one its middle is in. */
  private pageOf(e: Entity, toWorld: Affine): PageContent {
    if (this.pages.length === 1) return this.pages[0]!;
    const said = this.options.pageOf?.get(this.top?.id ?? e.id);
    if (said !== undefined) return this.pages[said]!;
    const box = boundsOf({ ...this.drawing, entities: [{ ...e, sheet: undefined } as Entity] });
    const at = applyPoint(toWorld, [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2, 0]);
    return (
      this.pages.find(
        (p) => at[0] >= p.box.minX && at[0] <= p.box.maxX && at[1] >= p.box.minY && at[1] <= p.box.maxY,
      ) ?? this.pages[0]!
    );
  }

  /** Content of a layer, between its marks. */
  private put(v: Visit, ...lines: readonly string[]): void {
    const { layer } = v.resolved;
    this.pageOf(v.entity, v.toWorld).put(layer, this.layerOf(layer).resource, lines);
  }

  private curves(e: Entity, v: Visit, toPage: Affine): { path: string; pen: PathPen } {
    const pen = new PathPen(toPage, this.tolerance);
    curvesOf(e, v.toWorld, pen);
    return { path: pen.finish(), pen };
  }

  /** How far cubics lie off curves that a PDF does not have, and how much longer they are. */
  private tellBent(v: Visit, pen: PathPen, area: Rgb | null): void {
    const { entity: e, resolved: r } = v;
    if (!pen.bent) return;
    const { longer } = pen;
    const stroked = r.stroke !== null && e.kind !== 'hatch';
    this.tell(e, {
      carryOver: 'curves',
      action: 'approximated',
      onPurpose: true,
      reason: e.kind === 'spline' ? 'splines-as-cubics' : 'arcs-as-cubics',
      deviation: { value: Number(pen.deviation.toPrecision(2)), unit: this.options.unit },
      ...(stroked && { added: { [curveKey(r.layer, hex(r.stroke!))]: longer } }),
      ...(area !== null && { filled: { [curveKey(r.layer, hex(area))]: longer } }),
    });
  }

  private entity(v: Visit): void {
    const { entity: e, resolved: r, toWorld } = v;
    this.tellBeside(v);
    switch (e.kind) {
      case 'insert':
        return this.became(e, 'nothing', 'blocks-drawn', 0);
      case 'dimension':
      case 'leader':
        return this.became(e, 'nothing', because('kind-shown-by-parts', { kind: e.kind }), 0);
      case 'opaque':
        return this.tell(e, {
          carryOver: e.picture || e.drawn ? 'text' : 'curves',
          action: e.picture || e.drawn ? 'changed' : 'dropped',
          onPurpose: Boolean(e.picture || e.drawn),
          reason:
            e.picture || e.drawn
              ? because('shown-by-parts', { what: e.type })
              : because('not-in-pdf', { what: e.type }),
          becomes: { from: 'opaque', to: 'nothing', gone: 1, entities: 0 },
        });
      case 'viewport':
        return;
      case 'text':
      case 'richText':
        return this.text(e, v);
      case 'image':
        if (e.data !== undefined && !e.cover) return this.picture(e, v, e.data);
        this.tell(e, {
          carryOver: 'links',
          action: 'dropped',
          onPurpose: true,
          reason: e.cover ? 'cover-as-outline' : 'picture-as-frame',
        });
        this.became(e, 'path', 'frames-as-paths');
        return this.drawn(e, v, NO_PAINT);
      case 'hatch':
        return this.hatch(e, v);
      case 'face':
        if (e.solid) {
          this.became(e, 'path', 'corners-as-polygons');
          return this.filled(e, v, r.fill ?? r.stroke, e.look.fill, 'evenodd');
        }
        break;
      case 'ray': {
        const ends = rayWithin(applyPoint(toWorld, e.at), applyVector(toWorld, e.direction), e.both, this.reach);
        this.became(e, ends ? 'line' : 'nothing', 'endless-line-ended');
        if (!ends) return;
        const line: Entity = { ...e, kind: 'line', start: ends[0], end: ends[1] };
        return this.drawn(line, { ...v, entity: line, toWorld: IN_PLACE }, NO_PAINT);
      }
      default:
      // All others are drawn by their curves.
    }
    if (e.kind === 'polyline' && hasVaryingWidth(e))
      this.tell(e, { carryOver: 'colour', action: 'dropped', reason: 'polyline-widths-not-in-pdf' });
    this.drawn(e, v, e.kind === 'line' ? NO_PAINT : e.look.fill);
  }

  /** What a reader sees of an entity: a line where that is all there is, a path otherwise, nothing where nothing is drawn. */
  private tellKind(e: Entity, straight: boolean, filled: boolean, drawn: boolean): void {
    if (e.kind === 'image') return;
    const to = !drawn ? 'nothing' : straight && !filled ? 'line' : 'path';
    if (to !== e.kind) this.became(e, to, because('as-paths-of-cubics', { kind: e.kind }), drawn ? 1 : 0);
  }

  /** What an entity has beside its shape that a page cannot say. */
  private tellBeside(v: Visit): void {
    const { entity: e, resolved: r, toWorld } = v;
    const { shown } = KINDS[e.kind];
    if (shown !== 'letters' && shown !== 'block' && e.kind !== 'ray' && leavesPlane(e, toWorld)) {
      const shorter = r.stroke === null ? 0 : foreshortening(e, toWorld);
      this.tell(e, {
        carryOver: 'curves',
        action: 'dropped',
        reason: 'heights-not-in-pdf',
        ...(r.stroke !== null && shorter > 0 && { added: { [curveKey(r.layer, hex(r.stroke))]: -shorter } }),
      });
    }
    for (const paint of [e.look.fill, e.look.stroke]) {
      if (paint.kind === 'gradient' && paint.place && e.kind !== 'text' && e.kind !== 'richText') {
        const clear = paint.stops.some((s) => s.opacity < 1);
        if (clear) this.tell(e, { carryOver: 'colour', action: 'approximated', reason: 'gradient-opacity-evened' });
        this.tell(e, { carryOver: 'colour', action: 'kept', reason: 'gradients-kept' });
      } else if (paint.kind === 'gradient' || paint.kind === 'pattern')
        this.tell(e, {
          carryOver: 'colour',
          action: 'dropped',
          reason: because('paints-to-plain-colour', { paint: paint.kind }),
        });
    }
    if (e.extended) this.tell(e, { carryOver: 'links', action: 'dropped', reason: 'extended-data-not-in-pdf' });
    if (e.thickness) this.tell(e, { carryOver: 'curves', action: 'dropped', reason: 'thickness-not-in-pdf' });
  }

  private drawn(e: Entity, v: Visit, fill: Paint): void {
    const { resolved: r } = v;
    const page = this.pageOf(e, v.toWorld);
    const { path, pen } = this.curves(e, v, page.toPage);
    const area = fill.kind === 'none' ? null : r.fill;
    this.tellBent(v, pen, area);
    const seen = path !== '' && (area !== null || r.stroke !== null);
    this.tellKind(e, pen.straight, area !== null, seen);
    if (!seen) return;
    const { look } = e;
    if (area !== null && r.stroke !== null && r.opacity < 1)
      this.tell(e, { carryOver: 'colour', action: 'approximated', reason: 'opacity-by-parts' });
    const toPage = compose(page.toPage, v.toWorld);
    const clear = [look.stroke, look.fill].map((p) => (p.kind === 'gradient' ? meanOpacity(p) : 1)) as [number, number];
    const rule = look.fillRule === 'evenodd' ? '*' : '';
    const operator = area === null ? 'S' : r.stroke === null ? `f${rule}` : `B${rule}`;
    const lines = [
      ...this.looks.opacity(
        page,
        r.stroke === null ? 1 : r.strokeOpacity * clear[0],
        area === null ? 1 : r.fillOpacity * clear[1],
      ),
      ...(r.stroke === null
        ? []
        : [...this.looks.paint(page, look.stroke, r.stroke, true, toPage), ...this.looks.pen(page, v)]),
      ...(area === null ? [] : this.looks.paint(page, look.fill, area, false, toPage)),
      path,
      operator,
    ];
    this.put(v, ...lines);
  }

  /** A shape that is an area of one colour, or of a gradient. */
  private filled(e: Entity, v: Visit, rgb: Rgb | null, paint: Paint, rule: 'evenodd' | 'nonzero'): void {
    const page = this.pageOf(e, v.toWorld);
    const { path, pen } = this.curves(e, v, page.toPage);
    this.tellBent(v, pen, rgb);
    if (path === '' || rgb === null) return;
    this.put(
      v,
      ...this.looks.opacity(page, 1, v.resolved.fillOpacity),
      ...this.looks.paint(page, paint, rgb, false, compose(page.toPage, entityToWorld(e, v.toWorld))),
      path,
      rule === 'evenodd' ? 'f*' : 'f',
    );
  }

  private hatch(e: Hatch, v: Visit): void {
    const { resolved: r } = v;
    const pattern = hatchLines(e);
    if (!pattern) {
      this.became(e, 'path', 'hatches-as-fills');
      const gradient = paintOfHatch(e);
      if (gradient)
        this.tell(e, { carryOver: 'colour', action: 'changed', onPurpose: true, reason: 'hatch-gradient-as-fill' });
      else if (e.gradient) this.tell(e, { carryOver: 'colour', action: 'dropped', reason: 'hatch-gradient-plain' });
      return this.filled(e, v, r.fill ?? r.stroke, gradient ?? e.look.fill, e.look.fillRule);
    }
    if (pattern.tooDense) this.tell(e, { carryOver: 'colour', action: 'approximated', reason: 'hatch-cut-short' });
    const rgb = r.fill ?? r.stroke;
    const page = this.pageOf(e, v.toWorld);
    const m = compose(page.toPage, compose(entityToWorld(e, v.toWorld), translation(0, 0, e.elevation)));
    const lines: string[] = [];
    const { segments: s } = pattern;
    for (let i = 0; i < s.length; i += 4) {
      const [a, b] = [0, 2].map((j) => applyPoint(m, [s[i + j]!, s[i + j + 1]!, 0]));
      lines.push(`${numberText(a![0])} ${numberText(a![1])} m ${numberText(b![0])} ${numberText(b![1])} l`);
    }
    const drawn = lines.length > 0 && rgb !== null;
    this.became(e, !drawn ? 'nothing' : lines.length === 1 ? 'line' : 'path', 'patterns-as-lines', drawn ? 1 : 0);
    if (!drawn) return;
    this.put(
      v,
      ...this.looks.opacity(page, r.fillOpacity, 1),
      ...this.looks.paint(page, { kind: 'rgb', rgb }, rgb, true, m),
      ...this.looks.pen(page, v),
      ...lines,
      'S',
    );
  }

  /** How many pixels a picture may have along each side, by the inches that it covers on paper. */
  private mostPixels(e: Image, toPage: Affine): readonly [number, number] | undefined {
    const { picturesAt } = this.options;
    if (!picturesAt) return undefined;
    const along = (step: Vec3, n: number): number =>
      Math.max(1, Math.ceil(((length(applyVector(toPage, step)) * n * this.userUnit) / 72) * picturesAt - 1e-6));
    return [along(e.u, e.pixels[0]), along(e.v, e.pixels[1])];
  }

  private picture(e: Image, v: Visit, data: string): void {
    const page = this.pageOf(e, v.toWorld);
    const m = compose(page.toPage, v.toWorld);
    const own = this.pictures.reference(data, this.mostPixels(e, m), () =>
      this.tell(e, {
        carryOver: 'links',
        action: 'approximated',
        onPurpose: true,
        reason: because('pictures-in-fewer-pixels', { perInch: this.options.picturesAt ?? 0 }),
      }),
    );
    if (own === null) {
      this.tell(e, { carryOver: 'links', action: 'dropped', reason: 'picture-as-frame' });
      this.became(e, 'path', 'frames-as-paths');
      return this.drawn(e, v, NO_PAINT);
    }
    const [w, h] = e.pixels;
    const at = applyPoint(m, e.at);
    const [u, up] = [applyVector(m, e.u), applyVector(m, e.v)];
    const square = [u[0] * w, u[1] * w, up[0] * h, up[1] * h, at[0], at[1]].map((n) => numberText(n));
    const corner = (x: number, y: number): string =>
      numberText(at[0] + u[0] * x + up[0] * (h - y)) + ' ' + numberText(at[1] + u[1] * x + up[1] * (h - y));
    const clip = e.clip
      ? [...clipInPixels(e).map(([x, y], i) => `${corner(x, y)} ${i === 0 ? 'm' : 'l'}`), 'h W n']
      : [];
    this.put(
      v,
      ...this.looks.opacity(page, 1, v.resolved.fillOpacity),
      'q',
      ...clip,
      `${square.join(' ')} cm`,
      `/${own} Do`,
      'Q',
    );
  }

  private text(e: Text | RichText, v: Visit): void {
    const { fonts } = this.options;
    const { resolved: r } = v;
    const lines = linesOf(e, this.drawing, fonts).filter((l) => l.text.trim() !== '');
    if (e.kind === 'richText') this.became(e, 'text', 'rich-text-by-line-and-style', lines.length);
    else if (lines.length !== 1) this.became(e, 'text', 'narrow-path-text-by-letter', lines.length);
    const page = this.pageOf(e, v.toWorld);
    const plane = compose(page.toPage, entityToWorld(e, v.toWorld));
    for (const line of lines) {
      const set = fonts.letters(line.text, line.family, line.weight, line.italic);
      const own = ownRgb(line);
      const rgb = own ?? r.fill ?? r.stroke ?? 0;
      const paint: Paint = { kind: 'rgb', rgb };
      const held = set?.letters.every((l) => l.font.embedding !== 'forbidden') ?? false;
      if (!set || !held) {
        this.shapes(e, v, page, line, plane, rgb);
        continue;
      }
      if (set.missing.length > 0)
        this.tell(e, {
          carryOver: 'text',
          action: 'dropped',
          reason: because('letters-missing', { letters: [...new Set(set.missing)].join(' ') }),
        });
      this.put(
        v,
        ...this.looks.opacity(page, 1, r.fillOpacity),
        ...this.looks.paint(page, paint, rgb, false, plane),
        `/Span << /ActualText ${standsFor(line.text).text} >> BDC`,
        this.fonts.show(set, compose(plane, lineMatrix(line, set.advance))),
        'EMC',
      );
    }
  }

  /** A line whose letters no file may hold, or that are strokes: drawn as what it looks like. */
  private shapes(
    e: Text | RichText,
    v: Visit,
    page: PageContent,
    line: Parameters<typeof lineMatrix>[0],
    plane: Affine,
    rgb: Rgb,
  ): void {
    const made = this.options.fonts.outline(line.text, line.family, line.weight, line.italic);
    const letters = { kind: 'path', id: 0, layer: '', look: e.look, path: made.path } as const;
    const pen = new PathPen(compose(plane, lineMatrix(line, made.advance)), this.tolerance);
    curvesOf(letters, planar(1, 0, 0, 1, 0, 0), pen);
    const path = pen.finish();
    this.became(e, 'path', made.strokes ? 'text-as-lines' : 'text-as-outlines');
    if (path === '') return;
    const paint: Paint = { kind: 'rgb', rgb };
    this.put(
      v,
      ...this.looks.opacity(page, v.resolved.fillOpacity, v.resolved.fillOpacity),
      ...this.looks.paint(page, paint, rgb, made.strokes, plane),
      ...(made.strokes ? this.looks.pen(page, v) : []),
      path,
      made.strokes ? 'S' : 'f',
    );
  }

  private document(): Uint8Array {
    const { objects, drawing, options } = this;
    const fonts = this.fonts.finish();
    const of = (m: Map<string, { resource: string; ref: Ref }>): Record<string, Ref> =>
      Object.fromEntries([...m.values()].map(({ resource, ref }) => [resource, ref]));
    const resources = objects.add({
      Font: fonts,
      XObject: this.pictures.resources,
      Pattern: this.looks.patterns,
      ExtGState: this.looks.states,
      Properties: of(this.layers),
    });
    const tree = objects.reserve();
    const pages = this.pages.map((p) => {
      const content = objects.stream(new TextEncoder().encode(p.text));
      const size = [p.box.width, p.box.height].map((s) => Number(numberText(s * this.k)));
      return objects.add({
        Type: name('Page'),
        Parent: tree,
        MediaBox: [0, 0, ...size],
        ...(this.userUnit > 1 && { UserUnit: this.userUnit }),
        Resources: resources,
        Contents: content,
      });
    });
    objects.fill(tree, { Type: name('Pages'), Kids: pages, Count: pages.length });
    const hidden = drawing.layers.filter((l) => l.off || l.frozen).map((l) => this.layerOf(l.name).ref);
    const all = [...this.layers.values()].map((l) => l.ref);
    const locked = drawing.layers.filter((l) => l.locked).map((l) => this.layerOf(l.name).ref);
    const config: Record<string, PdfValue> = {
      Order: all,
      ...(hidden.length > 0 && { OFF: hidden }),
      ...(locked.length > 0 && { Locked: locked }),
    };
    const root = objects.add({
      Type: name('Catalog'),
      Pages: tree,
      ...(all.length > 0 && { OCProperties: { OCGs: all, D: config } }),
      // A page is shown and printed at its own size.
      ViewerPreferences: { PrintScaling: name('None') },
    });
    const info = objects.add({ ...(options.title && { Title: textValue(options.title) }), Producer: 'Scalaria' });
    return objects.file('1.7', root, info);
  }
}

const IN_PLACE: Affine = planar(1, 0, 0, 1, 0, 0);
