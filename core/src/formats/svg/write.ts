import { powerOfTen } from '../../geometry/power-of-ten.js';
import { constantWidth } from '../../drawing/constant-width.js';
import { KINDS } from '../../drawing/kinds.js';
import { foreshortening, fromAbove, leavesPlane } from '../../drawing/leaves-plane.js';
import type { Thing } from '../../drawing/ledger.js';
import type { Reason } from '../../drawing/reasons.js';
import { because } from '../../drawing/reasons.js';
import type { Affine } from '../../geometry/affine.js';
import { applyPoint, applyVector, compose, planarSimilarity, scaling, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import type { PatternFill } from '../../geometry/pattern-fill.js';
import { nurbsFault } from '../../geometry/nurbs.js';
import type { PathData } from '../../geometry/path.js';
import { CUBIC_OFF, withCubics } from '../../geometry/arc-cubics.js';
import { curveKey } from '../../drawing/ledger.js';
import { hex } from '../../drawing/palette.js';
import { CMD_LENGTH, Cmd, PathBuilder, transformPath } from '../../geometry/path.js';
import type { CurveSink } from '../../drawing/curves.js';
import { clipInPixels, curvesOf, imageFrame, entityToWorld } from '../../drawing/curves.js';
import type { Drawing } from '../../drawing/drawing.js';
import { isDrafting, layerKey } from '../../drawing/drawing.js';
import type { Ellipse, Entity, Hatch, Image, Mesh, RichText, Spline, Text } from '../../drawing/entity.js';
import { Ledger } from '../../drawing/ledger.js';
import { BoundsSink, addEntityBounds, lengthOf } from '../../drawing/measures.js';
import { outlinePath } from '../../drawing/outline-path.js';
import type { Cut, Visit } from '../../drawing/resolve.js';
import { CUT, paintRgb, walk } from '../../drawing/resolve.js';
import { hatchLines } from '../../drawing/hatch-area.js';
import { paintOfHatch } from '../../drawing/hatch-gradient.js';
import { rayWithin } from '../../drawing/rays.js';
import { unitOf } from '../../drawing/units.js';
import type { Appearance } from '../../drawing/appearance.js';
import { meanColour } from '../../drawing/appearance.js';
import { baseLine, linesOf, ownRgb } from '../../text/layout.js';
import { addTextReach } from '../../text/text-reach.js';
import type { Work, WriteOptions, Writing } from '../format.js';
import { checkStop } from '../format.js';
import { escapeXml, xmlText } from './escape.js';
import { cubicPieces } from '../../geometry/nurbs-cubics.js';
import { principalAxes } from '../../geometry/ellipses.js';
import { numberList, pathText, shortNumber } from './path-text.js';
import { DrawOrder, asDrawn, asListed } from './draw-order.js';
import { GradientWriter } from './write-gradients.js';
import { lineElement, spans, trackText } from './write-text.js';
import { sameInserts } from './write-uses.js';
import { SvgTree } from './write-tree.js';
import type { Properties } from './write-style.js';
import { StyleWriter } from './write-style.js';
import { isFullTurn } from '../../geometry/tolerance.js';

const FLIP: Affine = scaling(1, -1, 1);

/** For kinds that are drawn by straight lines only. */
const NO_CURVES: CurveSink = { move() {}, line() {}, arc() {}, cubic() {}, nurbs() {} };

/**
 * Writes model space as SVG 1.1 or 2 at true size. User units are the drawing's own, y turned over so that the drawing's
 * origin is the origin of user space; layers become groups in order, inserts are expanded into groups.
 */
export function writeSvg(drawing: Drawing, options: WriteOptions, work?: Work): Writing {
  return new SvgWriter(drawing, options, work).write();
}

/** So many decimals are written unless fewer or more are asked for. */
const DECIMALS = 6;

class SvgWriter {
  private readonly ledger = new Ledger('write');
  private readonly bounds = new BoundsSink(new Box2());
  /** What is drawn with all that its lines are wide. */
  private readonly inked = new Box2();
  private readonly order: DrawOrder | null;
  private readonly styles: StyleWriter;
  private readonly tree: SvgTree;
  private readonly number: (v: number) => string;
  private readonly tolerance: number;
  private readonly gradients: GradientWriter;
  private readonly decimals: number;
  private pictures = false;
  private uses = false;
  private readonly sameAs: ReturnType<typeof sameInserts>;

  constructor(
    private readonly drawing: Drawing,
    private readonly options: WriteOptions,
    private readonly work: Work | undefined,
  ) {
    const decimals = options.decimals ?? DECIMALS;
    this.decimals = decimals;
    this.number = (v) => shortNumber(v, decimals);
    this.gradients = new GradientWriter(this.number);
    this.styles = new StyleWriter(drawing, options, this.number, this.gradients);
    this.tree = new SvgTree(drawing, options.style ?? 'plain');
    this.sameAs = options.blocks === 'shared' && isDrafting(drawing) ? sameInserts(drawing) : new Map();
    this.order = isDrafting(drawing) ? new DrawOrder(drawing) : null;
    walk(drawing, (v) => {
      const own = new BoundsSink(new Box2());
      addEntityBounds(v.entity, v.toWorld, own);
      if (v.entity.kind === 'text' || v.entity.kind === 'richText')
        addTextReach(v.entity, v.toWorld, drawing, options.fonts, own.box);
      this.order?.add(v, own.box);
      this.bounds.box.addBox(own.box);
      this.addInk(v, own.box);
    });
    this.tolerance = Math.max(this.bounds.box.diagonal * 1e-7, 1e-9);
  }

  /** Lines reach over what they follow by half their width, at pointed corners by up to their limit. */
  private addInk({ entity: e, resolved: r, toWorld }: Visit, { empty, minX, minY, maxX, maxY }: Box2): void {
    if (empty) return;
    const pointed = e.look.join === 'miter' && e.kind !== 'line' && e.kind !== 'circle' && e.kind !== 'ellipse';
    const half = (this.styles.penOf(e, r, toWorld) / 2) * (pointed ? Math.max(1, e.look.miter) : 1);
    this.inked.addBox(Box2.of(minX - half, minY - half, maxX + half, maxY + half));
  }

  /** The page of the source, wherever it went; else what holds all that is drawn, or its outlines alone. */
  private page(): Box2 {
    const outlines = this.bounds.box.empty ? Box2.of(0, 0, 100, 100) : this.bounds.box;
    if (this.options.page === 'outlines' || this.inked.empty) return outlines;
    const { page } = this.drawing;
    if (!page || !(page.width > 0 && page.height > 0)) return this.inked;
    const box = Box2.of(page.x, page.y, page.x + page.width, page.y + page.height);
    const meets =
      box.minX <= outlines.maxX && outlines.minX <= box.maxX && box.minY <= outlines.maxY && outlines.minY <= box.maxY;
    // A page that shows nothing of the drawing is no page of it.
    return meets ? box : this.inked;
  }

  write(): Writing {
    const { drawing } = this;
    let n = 0;
    const { layers, anew, swapped, unsorted } = this.order
      ? drawing.ordered
        ? asDrawn(drawing)
        : this.order.sorted()
      : asListed(drawing);
    let opened = 0;
    const visit = (v: Visit): void => {
      if (++n % 2048 === 0) {
        checkStop(this.work);
        this.work?.onProgress?.(Math.min(1, n / (drawing.entities.length + 1)));
      }
      if (v.depth === 0 && this.repeated(v)) return;
      const group = anew.get(v.top);
      if (group !== undefined && group !== opened) {
        this.tree.openAnew(v.top.layer);
        opened = group;
      }
      // What is only referred to is not written again, but it becomes what it becomes all the same.
      this.tree.muted = v.depth > 0 && this.sameAs.has(v.top.id);
      this.entity(v);
      this.tree.muted = false;
    };
    for (const { name } of drawing.layers) {
      const to = xmlText(name);
      if (to !== name)
        this.ledger.add({
          carryOver: 'layers',
          action: 'changed',
          onPurpose: true,
          renamed: { from: name, to },
          reason: because('layer-renamed-for-xml', { name: JSON.stringify(name) }),
        });
    }
    // A painted drawing opens its layers as it comes to them; those that hold nothing are put in at the end.
    const painted = !isDrafting(drawing);
    if (!painted) for (const l of layers) this.tree.openLayer(l);
    // Drafting layers become one group each; the order of a painted drawing is kept instead.
    if (isDrafting(drawing)) {
      const byLayer = new Map<string, Entity[]>(layers.map((l) => [layerKey(drawing, l.name), []]));
      const later = drawing.entities.filter((e) => anew.has(e)).sort((a, b) => anew.get(a)! - anew.get(b)!);
      for (const e of drawing.entities) {
        if (anew.has(e)) continue;
        const list = byLayer.get(layerKey(drawing, e.layer));
        if (list) list.push(e);
        else byLayer.set(layerKey(drawing, e.layer), [e]);
      }
      if (later.length > 0)
        this.ledger.add({
          carryOver: 'layers',
          action: 'changed',
          onPurpose: true,
          count: new Set(anew.values()).size,
          reason: 'layers-opened-anew',
        });
      if (unsorted)
        this.ledger.add({ carryOver: 'layers', action: 'approximated', reason: 'order-across-layers-let-go' });
      if (swapped > 0)
        this.ledger.add({
          carryOver: 'layers',
          action: 'approximated',
          count: swapped,
          reason: 'lines-in-order-of-layers',
        });
      walk({ ...drawing, entities: [...byLayer.values(), later].flat() }, visit, {
        hidden: true,
        onCut: (i, why) => this.cut(i, why),
      });
    } else walk(drawing, visit, { hidden: true });
    if (painted) this.tree.fillIn(drawing.layers);
    // Fewer digits than usual were asked for, and are told all the same.
    if (this.decimals < DECIMALS)
      this.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        reason: because('rounded-to-decimals', { decimals: this.decimals }),
        deviation: { value: powerOfTen(-this.decimals), unit: this.options.unit },
        onPurpose: true,
      });
    const sheets = drawing.entities.filter((e) => e.sheet !== undefined).length;
    if (sheets > 0) {
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: 'sheets-left-out',
        count: sheets,
        onPurpose: true,
      });
    }
    const { replaced } = this.styles;
    if (replaced.size > 0) {
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        count: replaced.size,
        reason: 'recoloured-by-chart',
        recoloured: Object.fromEntries(replaced),
      });
    }
    if (this.options.hairline) {
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        reason: because('one-width-for-all', { width: this.options.hairline }),
      });
    }
    return { bytes: this.document(), ledger: this.ledger.rows };
  }

  /** An insert that is drawn like an earlier one refers to it. */
  private repeated(v: Visit): boolean {
    const repeat = this.sameAs.get(v.entity.id);
    if (!repeat) return false;
    const id = this.tree.insertId(repeat.first);
    if (id !== undefined) {
      const [a, b, c, d, e, f] = repeat.transform;
      const turned = a !== 1 || b !== 0 || c !== 0 || d !== 1;
      const matrix = [a!, b!, c!, d!].map((n) => shortNumber(n, 12)).join(' ');
      const shift = `${this.number(e!)} ${this.number(f!)}`;
      this.uses = true;
      this.tree.put(
        v,
        'use',
        {
          [this.options.version === '2' ? 'href' : 'xlink:href']: `#${id}`,
          transform: turned ? `matrix(${matrix} ${shift})` : `translate(${shift})`,
        },
        {},
      );
    }
    this.became(v.entity, 'group', 'blocks-as-references');
    return true;
  }

  private cut(insert: Entity, why: Cut): void {
    this.ledger.add({ carryOver: 'links', action: 'dropped', reason: CUT[why], id: insert.id });
  }

  private document(): Uint8Array {
    const { options, number } = this;
    const u = unitOf(options.unit);
    const box = this.page();
    const w = box.width || 1;
    const h = box.height || 1;
    const own = ['mm', 'cm', 'in'].includes(options.unit);
    const physical = (v: number): string => (own ? number(v) + options.unit : number(v * u.mm) + 'mm');
    const second = options.version === '2';
    const linked = !second && (this.pictures || this.uses);
    const body = this.tree.render(this.gradients.defs);
    const title = options.title ? `<title>${escapeXml(options.title)}</title>\n` : '';
    const text =
      '<?xml version="1.0" encoding="UTF-8"?>\n' +
      `<svg xmlns="http://www.w3.org/2000/svg"${second ? '' : ' version="1.1"'}${linked ? ' xmlns:xlink="http://www.w3.org/1999/xlink"' : ''} width="${physical(w)}" height="${physical(h)}" ` +
      `viewBox="${number(box.minX)} ${number(-box.maxY)} ${number(w)} ${number(h)}">\n` +
      title +
      body +
      '</svg>\n';
    return new TextEncoder().encode(text);
  }

  private became(e: Entity, to: Thing, reason: Reason): void {
    this.ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      reason,
      becomes: { from: e.kind, to, gone: 1, entities: 1 },
      id: e.id,
    });
  }

  /** Tells of what is drawn shorter than it is, since SVG has no heights. */
  private tellHeights(v: Visit): void {
    const { entity: e, toWorld } = v;
    const { shown } = KINDS[e.kind];
    // How far a line without end reaches is found when it is written.
    if (shown === 'letters' || shown === 'block' || e.kind === 'ray' || !leavesPlane(e, toWorld)) return;
    this.tellShorter(v, v.resolved.stroke === null ? 0 : foreshortening(e, toWorld));
  }

  private tellShorter({ entity: e, resolved: { layer, stroke } }: Visit, shorter: number): void {
    this.ledger.add({
      carryOver: 'curves',
      action: 'dropped',
      reason: 'heights-left-out',
      id: e.id,
      ...(stroke !== null && shorter > 0 && { added: { [curveKey(layer, hex(stroke))]: -shorter } }),
    });
  }

  private entity(v: Visit): void {
    const { entity: e, resolved } = v;
    const m = compose(FLIP, entityToWorld(e, v.toWorld));
    const put = (name: string, attributes: Properties, filled = false): void => {
      const style = this.styles.of(e, resolved, filled, v.toWorld);
      // The fill rule says something only where an outline can cross itself or lie in another.
      const { 'fill-rule': _rule, ...rest } = style;
      this.tree.put(v, name, attributes, name === 'line' || name === 'circle' || name === 'ellipse' ? rest : style);
    };
    const { number } = this;
    if (this.styles.asksForThinnest(resolved)) {
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        id: e.id,
        reason: 'hairline-as-thin-line',
      });
    }
    this.tellHeights(v);
    for (const paint of [e.look.fill, e.look.stroke]) {
      if (paint.kind === 'gradient' && paint.place && e.kind !== 'text' && e.kind !== 'richText')
        this.ledger.add({ carryOver: 'colour', action: 'kept', reason: 'gradients-kept', id: e.id });
      else if (paint.kind === 'gradient' || paint.kind === 'pattern') {
        this.ledger.add({
          carryOver: 'colour',
          action: 'dropped',
          reason: because('paints-to-plain-colour', { paint: paint.kind }),
          id: e.id,
        });
      }
    }
    if (e.extended) {
      this.ledger.add({ carryOver: 'links', action: 'dropped', reason: 'extended-data-not-in-svg', id: e.id });
    }
    if (e.thickness) {
      this.ledger.add({ carryOver: 'curves', action: 'dropped', reason: 'thickness-not-in-svg', id: e.id });
    }
    switch (e.kind) {
      case 'line': {
        const [a, b] = [project(m, e.start), project(m, e.end)];
        return put('line', { x1: number(a[0]), y1: number(a[1]), x2: number(b[0]), y2: number(b[1]) });
      }
      case 'point': {
        const p = project(m, e.at);
        this.became(e, 'path', 'points-as-dots');
        return put('path', { d: `M${this.list([p[0], p[1]])}h0` });
      }
      case 'circle': {
        // A circle that stands aslant is seen as an ellipse.
        const k = planarSimilarity(fromAbove(m));
        if (k === null) break;
        const c = project(m, e.centre);
        return put('circle', { cx: number(c[0]), cy: number(c[1]), r: number(e.radius * k) });
      }
      case 'ellipse': {
        const made = this.ellipse(e, m);
        // A gradient would be turned with it: its place is that on the page.
        const turned = made?.['transform'] !== undefined;
        if (!made || (turned && (e.look.fill.kind === 'gradient' || e.look.stroke.kind === 'gradient'))) break;
        return put('ellipse', made);
      }
      case 'polyline':
        if (e.widths && constantWidth(e) === null) {
          this.ledger.add({
            carryOver: 'colour',
            action: 'dropped',
            reason: 'polyline-widths-not-in-svg',
            id: e.id,
          });
        }
        if (!e.bulges) {
          const pts: string[] = [];
          for (let i = 0; i < e.points.length; i += e.dim) {
            const p = project(m, [e.points[i]!, e.points[i + 1]!, e.dim === 3 ? e.points[i + 2]! : e.elevation]);
            pts.push(this.list(p));
          }
          return put(e.closed ? 'polygon' : 'polyline', { points: pts.join(' ') });
        }
        break;
      case 'spline':
        return this.spline(e, m, put);
      case 'text':
      case 'richText':
        return this.text(e, v, m);
      case 'hatch': {
        const pattern = hatchLines(e);
        if (pattern) return this.patternHatch(e, v, m, pattern);
        const loops = e.loops.map((l) => transformPath(l.path, raised(m, e.elevation)));
        for (const l of loops) this.sayCubics(v, l);
        const d = loops.map((l) => this.pathText(l)).join('');
        this.became(e, 'path', 'hatches-as-fills');
        return this.putHatch(e, v, m, { d });
      }
      case 'face': {
        if (e.solid) {
          this.became(e, 'polyline', 'corners-as-polygons');
          const pts = e.corners.map((c) => this.list(project(m, c)));
          return put('polygon', { points: pts.join(' ') }, true);
        }
        break;
      }
      case 'insert':
        this.became(e, 'group', 'blocks-expanded');
        return;
      case 'opaque':
        this.ledger.add(
          e.picture || e.drawn
            ? {
                carryOver: 'text',
                action: 'changed',
                onPurpose: true,
                reason: e.picture
                  ? because('shown-by-picture', { what: e.type })
                  : because('shown-by-parts', { what: e.type }),
                becomes: { from: 'opaque', to: 'group', gone: 1, entities: 1 },
                id: e.id,
              }
            : {
                carryOver: 'curves',
                action: 'dropped',
                reason: because('not-in-svg', { what: e.type }),
                becomes: { from: 'opaque', to: 'nothing', gone: 1, entities: 0 },
                id: e.id,
              },
        );
        return;
      case 'dimension':
      case 'leader':
        this.became(e, 'group', because('kind-shown-by-parts', { kind: e.kind }));
        return;
      case 'ray': {
        const at = applyPoint(v.toWorld, e.at);
        const ends = rayWithin(at, applyVector(v.toWorld, e.direction), e.both, this.bounds.box);
        this.became(e, ends ? 'line' : 'nothing', 'endless-line-ended');
        if (!ends) return;
        const [a, b] = ends;
        const seen = Math.hypot(b[0] - a[0], b[1] - a[1]);
        if (a[2] !== b[2]) this.tellShorter(v, Math.hypot(seen, b[2] - a[2]) - seen);
        return put('line', { x1: number(a[0]), y1: number(-a[1]), x2: number(b[0]), y2: number(-b[1]) });
      }
      case 'viewport':
        return;
      case 'image':
        if (e.data !== undefined && !e.cover) return this.picture(e, v, m);
        return this.edges(e, v, put);
      case 'mesh':
        if (e.faceLooks)
          this.ledger.add({ carryOver: 'colour', action: 'dropped', reason: 'face-looks-dropped', id: e.id });
        return this.edges(e, v, put);
      default:
      // All others are written by their outline; what has none is told as left out.
    }
    const outline = outlinePath(e);
    const arc = e.kind === 'arc' ? arcPath(e) : outline;
    if (!arc) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        reason: because('kind-not-in-svg-here', { kind: e.kind }),
        id: e.id,
      });
      return;
    }
    const lift =
      e.kind === 'polyline'
        ? e.elevation
        : e.kind === 'arc' || e.kind === 'circle' || e.kind === 'ellipse'
          ? e.centre[2]
          : 0;
    if (e.kind !== 'path') this.became(e, 'path', because('as-paths-with-arcs', { kind: e.kind }));
    const onPage = transformPath(arc, raised(m, lift));
    this.sayCubics(v, onPage);
    put('path', { d: this.pathText(onPage) });
  }

  /** A picture that the source holds, in its place. */
  private picture(e: Image, v: Visit, m: Affine): void {
    const [w, h] = e.pixels;
    // From pixels, counted downwards from the upper left corner, to the page.
    const top: [number, number, number] = [0, 1, 2].map((i) => e.at[i]! + e.v[i]! * h) as [number, number, number];
    const corner = project(m, top);
    const [ux, uy] = project(m, [top[0] + e.u[0], top[1] + e.u[1], top[2] + e.u[2]]);
    const [vx, vy] = project(m, [top[0] - e.v[0], top[1] - e.v[1], top[2] - e.v[2]]);
    const k = [ux - corner[0], uy - corner[1], vx - corner[0], vy - corner[1]];
    const attributes: Properties = { width: this.number(w), height: this.number(h) };
    if (k[1] === 0 && k[2] === 0 && k[0]! > 0 && k[3]! > 0) {
      Object.assign(attributes, {
        x: this.number(corner[0]),
        y: this.number(corner[1]),
        width: this.number(w * k[0]!),
        height: this.number(h * k[3]!),
      });
    } else attributes['transform'] = `matrix(${k.map((n) => shortNumber(n, 9)).join(' ')} ${this.list(corner)})`;
    attributes['preserveAspectRatio'] = 'none';
    attributes[this.options.version === '2' ? 'href' : 'xlink:href'] = e.data!;
    this.pictures = true;
    if (e.clip) {
      // In the picture's own space: that of the page where it stands upright, its pixels where it is turned.
      const upright = attributes['transform'] === undefined;
      const corners = upright
        ? imageFrame(e).map((p) => this.list(project(m, p)))
        : clipInPixels(e).map((p) => this.list(p));
      attributes['clip-path'] = `url(#${this.tree.clip(corners.join(' '))})`;
    }
    const clear: Properties = v.resolved.fillOpacity < 1 ? { opacity: this.number(v.resolved.fillOpacity) } : {};
    this.tree.put(v, 'image', attributes, clear);
  }

  private edges(e: Mesh | Image, v: Visit, put: (name: string, a: Properties) => void): void {
    const path = new PathBuilder();
    curvesOf(e, v.toWorld, {
      ...NO_CURVES,
      move: (x, y) => void path.moveTo(x, -y),
      line: (x, y) => void path.lineTo(x, -y),
    });
    if (e.kind === 'image') {
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        onPurpose: true,
        id: e.id,
        reason: e.cover ? 'cover-as-outline' : 'picture-as-frame',
      });
    }
    this.became(e, 'path', e.kind === 'mesh' ? 'meshes-by-edges' : 'frames-as-paths');
    put('path', { d: this.pathText(path.build()) });
  }

  /** A whole ellipse that lies flat, as such: half axes, and a turn where it has one. */
  private ellipse(e: Ellipse, m: Affine): Properties | null {
    const whole = isFullTurn(e.end - e.start);
    if (!whole || (e.normal && (e.normal[0] !== 0 || e.normal[1] !== 0))) return null;
    const [ux, uy] = [m[0] * e.major[0] + m[3] * e.major[1], m[1] * e.major[0] + m[4] * e.major[1]];
    const [nx, ny] = [-e.major[1] * e.ratio, e.major[0] * e.ratio];
    const axes = principalAxes(ux, uy, m[0] * nx + m[3] * ny, m[1] * nx + m[4] * ny);
    const c = project(m, e.centre);
    const [cx, cy] = [this.number(c[0]), this.number(c[1])];
    const degrees = shortNumber((axes.rotation * 180) / Math.PI, 9);
    const flat: Properties = { cx, cy, rx: this.number(axes.rx), ry: this.number(axes.ry) };
    if (degrees === '90' || degrees === '-90') return { ...flat, rx: flat['ry']!, ry: flat['rx']! };
    return degrees === '0' || degrees === '180' || degrees === '-180'
      ? flat
      : { ...flat, transform: `rotate(${degrees} ${cx} ${cy})` };
  }

  /** A pattern hatch as one path of its lines. */
  /** A hatch whose gradient an SVG can say is filled with it, all others with their plain colour. */
  private putHatch(e: Hatch, v: Visit, m: Affine, attributes: Record<string, string>): void {
    const paint = paintOfHatch(e);
    const plain = v.resolved.fill ?? v.resolved.stroke;
    const own = paint && this.gradients.reference(paint, raised(m, e.elevation));
    const style = this.styles.of(e, v.resolved, true, v.toWorld);
    this.tree.put(v, 'path', attributes, own ? { ...style, fill: own } : style);
    if (own && plain !== null) {
      const mean = meanColour(paint.stops);
      const recoloured = mean === plain ? {} : { recoloured: { [hex(plain)]: hex(mean) } };
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        reason: 'hatch-gradient-as-fill',
        id: e.id,
        ...recoloured,
      });
    } else if (e.gradient)
      this.ledger.add({ carryOver: 'colour', action: 'dropped', reason: 'hatch-gradient-plain', id: e.id });
  }

  private patternHatch(e: Hatch, v: Visit, m: Affine, pattern: PatternFill): void {
    const at = raised(m, e.elevation);
    const path = new PathBuilder();
    const s = pattern.segments;
    for (let i = 0; i < s.length; i += 4) {
      const [a, b] = [project(at, [s[i]!, s[i + 1]!, 0]), project(at, [s[i + 2]!, s[i + 3]!, 0])];
      path.moveTo(a[0], a[1]).lineTo(b[0], b[1]);
    }
    const d = this.pathText(path.build());
    this.became(e, 'path', 'patterns-as-lines');
    if (pattern.tooDense) {
      this.ledger.add({
        carryOver: 'colour',
        action: 'approximated',
        id: e.id,
        reason: 'hatch-cut-short',
      });
    }
    const { resolved: r } = v;
    const outline = { ...r, stroke: r.fill ?? r.stroke, fill: null };
    this.tree.put(v, 'path', { d: d || 'M0 0' }, this.styles.of(e, outline, false, v.toWorld));
  }

  private spline(e: Spline, m: Affine, put: (name: string, a: Properties) => void): void {
    const { number } = this;
    if (nurbsFault(e) !== null) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        reason: 'unfit-splines-by-points',
        id: e.id,
      });
      const p = e.fitPoints && e.fitPoints.length >= 6 ? e.fitPoints : e.points;
      const pts: string[] = [];
      for (let i = 0; i < p.length; i += 3) {
        const q = project(m, [p[i]!, p[i + 1]!, p[i + 2]!]);
        pts.push(number(q[0]) + ',' + number(q[1]));
      }
      this.became(e, 'polyline', 'splines-by-points');
      return put('polyline', { points: pts.join(' ') });
    }
    const points = new Float64Array(e.points.length);
    for (let i = 0; i < points.length; i += 3)
      points.set([...project(m, [e.points[i]!, e.points[i + 1]!, e.points[i + 2]!]), 0], i);
    const { pieces, deviation } = cubicPieces({ ...e, points }, this.tolerance);
    if (deviation > 0) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        onPurpose: true,
        reason: 'splines-as-cubics',
        deviation: { value: Number(deviation.toPrecision(2)), unit: this.options.unit },
        id: e.id,
      });
    }
    this.became(e, 'path', 'splines-as-beziers');
    const path = new PathBuilder();
    for (const [i, { start, numbers: q }] of pieces.entries()) {
      if (i === 0) path.moveTo(start[0], start[1]);
      if (q.length === 2) path.lineTo(q[0]!, q[1]!);
      else if (q.length === 4) path.quadTo(q[0]!, q[1]!, q[2]!, q[3]!);
      else path.cubicTo(q[0]!, q[1]!, q[2]!, q[3]!, q[4]!, q[5]!);
    }
    if (e.closed) path.close();
    put('path', { d: this.pathText(path.build()) });
  }

  private list(numbers: readonly number[]): string {
    return numberList(numbers, this.number);
  }

  /** Arcs become cubics that lie off them by a part of the radius, and are a trifle longer. */
  private sayCubics({ entity: e, resolved: r }: Visit, path: PathData): void {
    if (this.options.arcs !== 'cubics') return;
    let radius = 0;
    let at = 0;
    for (const cmd of path.cmds) {
      if (cmd === Cmd.Arc) radius = Math.max(radius, path.data[at]!, path.data[at + 1]!);
      at += CMD_LENGTH[cmd]!;
    }
    if (radius === 0) return;
    const bare = { kind: 'path', id: 0, layer: '', look: e.look } as const;
    const longer = lengthOf({ ...bare, path: withCubics(path) }) - lengthOf({ ...bare, path });
    const area = e.kind === 'hatch' ? (r.fill ?? r.stroke) : r.fill;
    this.ledger.add({
      carryOver: 'curves',
      action: 'approximated',
      onPurpose: true,
      reason: 'arcs-as-cubics',
      id: e.id,
      deviation: { value: Number((radius * CUBIC_OFF).toPrecision(2)), unit: this.options.unit },
      ...(r.stroke !== null && e.kind !== 'hatch' && { added: { [curveKey(r.layer, hex(r.stroke))]: longer } }),
      ...(area !== null && { filled: { [curveKey(r.layer, hex(area))]: longer } }),
    });
  }

  private pathText(path: PathData): string {
    return pathText(path, this.decimals, this.options.arcs === 'cubics');
  }

  private text(e: Text | RichText, v: Visit, m: Affine): void {
    const lines = linesOf(e, this.drawing, this.options.fonts);
    if (e.kind === 'richText') {
      this.ledger.add({
        carryOver: 'text',
        action: 'changed',
        onPurpose: true,
        reason: 'rich-text-by-line-and-style',
        becomes: { from: 'richText', to: 'text', gone: 1, entities: lines.filter((l) => l.text.trim() !== '').length },
        id: e.id,
      });
    } else if (e.along && lines.length > 1 && e.widthFactor !== 1) {
      this.ledger.add({
        carryOver: 'text',
        action: 'changed',
        onPurpose: true,
        reason: 'narrow-path-text-by-letter',
        becomes: { from: 'text', to: 'text', gone: 1, entities: lines.length },
        id: e.id,
      });
    } else if (e.sizeOf === 'capital') {
      this.ledger.add({
        carryOver: 'text',
        action: 'changed',
        onPurpose: true,
        reason: 'capitals-as-em',
        id: e.id,
      });
    }
    const paint = v.resolved.fill ?? v.resolved.stroke ?? 0;
    if (e.kind === 'text' && (e.runs || e.letters || e.spacing || (e.along && e.widthFactor === 1)))
      return this.specialText(e, v, m, paint);
    for (const line of lines) {
      if (line.text.trim() === '') continue;
      const made = lineElement(line, m, this.number);
      const own = ownRgb(line);
      const style: Properties = { fill: this.styles.colour(own ?? paint), ...made.style };
      if (v.resolved.fillOpacity < 1) style['fill-opacity'] = this.number(v.resolved.fillOpacity);
      this.tree.put(v, 'text', made.attributes, style, line.text);
    }
  }

  /** A line along a path, of several styles or of letters with places of their own, as one `text` element. */
  private specialText(e: Text, v: Visit, m: Affine, paint: number): void {
    const { number } = this;
    const line = baseLine(e, this.drawing, this.options.fonts);
    const track = e.along && this.tree.define(trackText(e, m, this.decimals));
    // Along a path the letters find their own places: only the size is that of the page.
    const k = planarSimilarity(m) ?? 1;
    const made = track
      ? lineElement({ ...line, x: 0, y: 0, rotation: 0 }, [k, 0, 0, 0, -k, 0, 0, 0, k, 0, 0, 0], number)
      : lineElement(line, m, number);
    const em = line.em * made.scale;
    const style: Properties = { fill: this.styles.colour(paint), ...made.style };
    if (e.spacing) style['letter-spacing'] = number((e.spacing / e.widthFactor) * made.scale);
    if (v.resolved.fillOpacity < 1) style['fill-opacity'] = number(v.resolved.fillOpacity);
    const colour = (look: Appearance | undefined): string | null => {
      const rgb = look && paintRgb(look.fill);
      return rgb === null || rgb === undefined ? null : this.styles.colour(rgb);
    };
    let inner = e.runs || e.letters ? spans(e, em, number, colour, (p) => this.tree.styleText(p)) : escapeXml(e.text);
    let { attributes } = made;
    if (track) {
      this.uses = true;
      const start = number((e.along?.offset ?? 0) * k);
      const href = this.options.version === '2' ? 'href' : 'xlink:href';
      inner = `<textPath ${href}="#${track}"${start === '0' ? '' : ` startOffset="${start}"`}>${inner}</textPath>`;
      attributes = {};
    }
    if (/^\s|\s$|\s\s/.test(e.text)) attributes = { ...attributes, 'xml:space': 'preserve' };
    this.tree.put(v, 'text', attributes, style, { xml: inner });
  }
}

const project = (m: Affine, p: readonly [number, number, number]): [number, number] => [
  m[0] * p[0] + m[3] * p[1] + m[6] * p[2] + m[9],
  m[1] * p[0] + m[4] * p[1] + m[7] * p[2] + m[10],
];

const raised = (m: Affine, z: number): Affine => (z === 0 ? m : compose(m, translation(0, 0, z)));

/** A circular arc as a path; a whole turn as two halves. */
function arcPath(e: Extract<Entity, { kind: 'arc' }>): PathData {
  let sweep = (e.end - e.start) % (2 * Math.PI);
  if (sweep <= 0) sweep += 2 * Math.PI;
  const at = (t: number): [number, number] => [
    e.centre[0] + e.radius * Math.cos(t),
    e.centre[1] + e.radius * Math.sin(t),
  ];
  const r = e.radius;
  const from = at(e.start);
  const to = isFullTurn(sweep) ? from : at(e.end);
  const half = at(e.start + sweep / 2);
  const whole = to === from;
  const data = whole
    ? [...from, r, r, 0, 0, 1, ...half, r, r, 0, 0, 1, ...to]
    : [...from, r, r, 0, sweep > Math.PI ? 1 : 0, 1, ...to];
  return {
    cmds: Uint8Array.from(whole ? [Cmd.Move, Cmd.Arc, Cmd.Arc] : [Cmd.Move, Cmd.Arc]),
    data: Float64Array.from(data),
  };
}
