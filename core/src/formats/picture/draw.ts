import type { Rgb, Width } from '../../drawing/appearance.js';
import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { constantWidth, hasVaryingWidth } from '../../drawing/constant-width.js';
import { clipInPixels, entityToWorld } from '../../drawing/curves.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { Clip, Entity, Hatch, Image, RichText, Text } from '../../drawing/entity.js';
import { flattenEntity } from '../../drawing/flatten.js';
import { hatchLines, hatchRings } from '../../drawing/hatch-area.js';
import { paintOfHatch } from '../../drawing/hatch-gradient.js';
import { LinetypeDashes } from '../../drawing/linetype-dashes.js';
import { hex } from '../../drawing/palette.js';
import { rayWithin } from '../../drawing/rays.js';
import type { Cut, Visit } from '../../drawing/resolve.js';
import { walk } from '../../drawing/resolve.js';
import { widePieces } from '../../drawing/wide-pieces.js';
import type { Affine } from '../../geometry/affine.js';
import { applyPoint, applyVector, compose, largestScale, planar } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import type { FillRule } from '../../geometry/raster/coverage.js';
import type { EdgeSink, Pen, Run } from '../../geometry/raster/stroke.js';
import { dashedRuns, polygon, strokeEdges } from '../../geometry/raster/stroke.js';
import { letterBars } from '../../text/letter-bars.js';
import { lineMatrix, linesOf, ownRgb } from '../../text/layout.js';
import type { WriteOptions } from '../write-options.js';
import type { Canvas, Ink } from './canvas.js';
import { gradientInk, pictureInk, rgba } from './inks.js';
import type { Pixels } from './png.js';
import { pixelsOfAddress } from './read-pixels.js';

/** How far chords may lie from their curve, in pixels. */
const FINE = 0.02;
/** What a line that states no width is drawn with, in mm, as in other artwork (docs/formats.md). */
const STANDARD_MM = 0.25;
const WHITE = 0xffffff;

/** What was drawn otherwise than the drawing says. */
export interface Drawn {
  /** Lines that were drawn one pixel wide since they are thinner: by id. */
  readonly thin: Set<number>;
  readonly recoloured: Map<string, string>;
  /** Foreground lines that were drawn white on a dark ground. */
  readonly turned: Set<number>;
  /** Pictures that are not at hand or could not be unpacked, drawn as their frame. */
  readonly framed: Set<number>;
  /** Inserts of which not all is shown, and why. */
  readonly cut: Map<number, Cut>;
  /** Patterns of hatches that end somewhere, being too dense. */
  readonly dense: Set<number>;
  /** Paints that have no place here and are drawn in one colour, by what they are. */
  readonly plain: Map<number, 'gradient' | 'pattern'>;
  /** Characters that no font has, by the text that they are of. */
  readonly missing: Map<number, string>;
}

export interface DrawOptions {
  /** Pixels to a unit of the drawing, and to a millimetre on paper. */
  readonly perUnit: number;
  readonly perMm: number;
  /** The upper left corner of the picture in the drawing. */
  readonly left: number;
  readonly top: number;
  /** What the picture shows, in the drawing. */
  readonly window: Box2;
  /** Lines are at least so wide, in pixels. */
  readonly thinnest: number;
  /** The ground is dark: lines in the colour of the foreground are white on it. */
  readonly darkGround: boolean;
}

/** Draws objects of a drawing (y upwards) on a canvas in pixels, with their own curves, widths, dashes, paints, letters and clips. */
export class PicturePainter {
  readonly drawn: Drawn = {
    thin: new Set(),
    recoloured: new Map(),
    turned: new Set(),
    framed: new Set(),
    cut: new Map(),
    dense: new Set(),
    plain: new Map(),
    missing: new Map(),
  };
  private readonly toPixels: Affine;
  private readonly dashes: LinetypeDashes;
  private readonly chart: ReadonlyMap<string, Rgb>;
  private readonly unpacked = new Map<string, Pixels | null>();
  private canvas!: Canvas;

  constructor(
    private readonly drawing: Drawing,
    private readonly asked: WriteOptions,
    private readonly how: DrawOptions,
  ) {
    const k = how.perUnit;
    this.toPixels = planar(k, 0, 0, -k, -how.left * k, how.top * k);
    this.dashes = new LinetypeDashes(drawing);
    this.chart = new Map((asked.colours ?? []).map((c) => [c.from.toLowerCase(), parseInt(c.to.slice(1), 16)]));
  }

  /** Draws some of the drawing's objects, in their order. */
  draw(entities: Entity[], onto: Canvas, each: () => void): void {
    this.canvas = onto;
    let clip: Clip | undefined;
    const draw = (v: Visit): void => {
      each();
      if (v.depth === 0 && v.entity.clipTo !== clip) {
        onto.unclip();
        clip = v.entity.clipTo;
        if (clip) this.cut(clip);
      }
      this.entity(v);
    };
    walk({ ...this.drawing, entities }, draw, { onCut: (i, why) => void this.drawn.cut.set(i.id, why) });
    onto.unclip();
  }

  private cut(clip: Clip): void {
    for (let c: Clip | undefined = clip; c; c = c.within) {
      for (const { path } of c.shapes)
        for (const { points } of runsOf(bare(path), this.toPixels)) ring(points, this.canvas.clipEdge);
      this.canvas.clipTo(c.shapes.every((s) => s.rule === 'evenodd') ? 'evenodd' : 'nonzero');
    }
  }

  private entity(v: Visit): void {
    const { entity: e, resolved: r, toWorld } = v;
    switch (e.kind) {
      case 'insert':
      case 'opaque':
      case 'dimension':
      case 'leader':
      case 'viewport':
        return;
      case 'text':
      case 'richText':
        return this.text(e, v);
      case 'image':
        if (e.data !== undefined && !e.cover) return this.picture(e, v, e.data);
        if (!e.cover) this.drawn.framed.add(e.id);
        return this.line(v, this.runs(e, toWorld), r.stroke);
      case 'point': {
        const at = applyPoint(compose(this.toPixels, toWorld), e.at);
        return this.line(v, [{ points: [at[0], at[1]], closed: false }], r.stroke);
      }
      case 'ray': {
        const { window } = this.how;
        const ends = rayWithin(applyPoint(toWorld, e.at), applyVector(toWorld, e.direction), e.both, window);
        if (!ends) return;
        const [a, b] = ends.map((p) => applyPoint(this.toPixels, [p[0], p[1], 0]));
        return this.line(v, [{ points: [a![0], a![1], b![0], b![1]], closed: false }], r.stroke);
      }
      case 'hatch':
        return this.hatch(e, v);
      case 'face':
        if (e.solid) return this.area(v, this.runs(e, toWorld), r.fill ?? r.stroke, 'evenodd');
        break;
      case 'polyline':
        if (hasVaryingWidth(e) && !this.asked.hairline) return this.varying(e, v);
        break;
      default:
      // All others are drawn by their curves.
    }
    const runs = this.runs(e, toWorld);
    const both = r.fill !== null && r.stroke !== null && e.kind !== 'line';
    const paint = (parts: Visit): void => {
      if (r.fill !== null && e.kind !== 'line') this.area(parts, runs, r.fill, e.look.fillRule);
      this.line(parts, runs, r.stroke);
    };
    if (!both || r.opacity === 1) return paint(v);
    // A shape with line and fill is seen through as one.
    const { fillOpacity, strokeOpacity } = e.look;
    this.canvas.asOne(r.opacity, () => paint({ ...v, resolved: { ...r, fillOpacity, strokeOpacity } }));
  }

  private varying(e: Extract<Entity, { kind: 'polyline' }>, v: Visit): void {
    const { resolved: r } = v;
    if (r.fill !== null) this.area(v, this.runs(e, v.toWorld), r.fill, e.look.fillRule);
    if (r.stroke === null) return;
    widePieces(e, compose(this.toPixels, v.toWorld), FINE, (p) => polygon(p, this.canvas.edge));
    this.canvas.paint('nonzero', this.ink(v, 'stroke', r.stroke), r.strokeOpacity);
  }

  private runs(e: Entity, toWorld: Affine): Run[] {
    return runsOf(e, compose(this.toPixels, toWorld));
  }

  private colour(v: Visit, rgb: Rgb): Rgb {
    if (this.asked.ink === 'black') return this.became(rgb, rgb === WHITE ? WHITE : 0);
    const chart = this.chart.get(hex(rgb));
    if (chart !== undefined) return this.became(rgb, chart);
    if (!v.resolved.foreground || !this.how.darkGround) return rgb;
    this.drawn.turned.add(v.top.id);
    return WHITE;
  }

  private became(from: Rgb, to: Rgb): Rgb {
    if (from !== to) this.drawn.recoloured.set(hex(from), hex(to));
    return to;
  }

  private ink(v: Visit, which: 'stroke' | 'fill', rgb: Rgb): Ink {
    const paint = v.entity.look[which];
    const own =
      paint.kind === 'gradient'
        ? gradientInk(paint, compose(this.toPixels, v.toWorld), (c) => this.colour(v, c))
        : null;
    if (!own && (paint.kind === 'gradient' || paint.kind === 'pattern')) this.drawn.plain.set(v.top.id, paint.kind);
    return own ?? rgba(this.colour(v, rgb));
  }

  private area(v: Visit, runs: readonly Run[], rgb: Rgb | null, rule: FillRule, own: Ink | null = null): void {
    if (rgb === null) return;
    for (const { points } of runs) ring(points, this.canvas.edge);
    this.canvas.paint(rule, own ?? this.ink(v, 'fill', rgb), v.resolved.fillOpacity);
  }

  private line(v: Visit, runs: readonly Run[], rgb: Rgb | null, which: 'stroke' | 'fill' = 'stroke'): void {
    if (rgb === null || runs.length === 0) return;
    const { resolved: r } = v;
    const pen = this.pen(v);
    const scale = largestScale(v.toWorld) * this.how.perUnit;
    const lengths = this.dashes.lengths(r.dash).map((l) => l * scale);
    const dash = v.entity.look.dash;
    const offset = dash.kind === 'lengths' ? dash.offset * scale : 0;
    for (const run of runs)
      for (const piece of lengths.length > 0 ? dashedRuns(run, lengths, offset) : [run])
        strokeEdges(piece, pen, this.canvas.edge);
    this.canvas.paint('nonzero', this.ink(v, which, rgb), which === 'stroke' ? r.strokeOpacity : r.fillOpacity);
  }

  private pen({ entity: e, resolved: r, toWorld, top }: Visit): Pen {
    const wide = e.kind === 'polyline' && !this.asked.hairline ? constantWidth(e) : null;
    const width = wide === null ? this.width(r.width, toWorld) : wide * largestScale(toWorld) * this.how.perUnit;
    // A width of 0 is the thinnest line of the device.
    const least = width === 0 ? 1 : this.how.thinnest;
    if (width < least) this.drawn.thin.add(top.id);
    const { cap, join, miter } = e.look;
    return {
      width: Math.max(width, least),
      cap: wide === null ? cap : 'butt',
      join: wide === null ? join : 'miter',
      miter: Math.max(1, miter),
    };
  }

  private width(width: Width, toWorld: Affine): number {
    const { hairline } = this.asked;
    if (hairline) return hairline * this.how.perMm;
    if (width.kind === 'drawing') return width.value * largestScale(toWorld) * this.how.perUnit;
    return (width.kind === 'paper' ? width.mm : STANDARD_MM) * this.how.perMm;
  }

  private hatch(e: Hatch, v: Visit): void {
    const { resolved: r, toWorld } = v;
    const rgb = r.fill ?? r.stroke;
    const made = e.solid ? null : hatchLines(e);
    const m = compose(this.toPixels, entityToWorld(e, toWorld));
    if (!made) {
      const rings = hatchRings(e, compose(this.toPixels, toWorld), FINE);
      const paint = paintOfHatch(e);
      const own = paint && gradientInk(paint, m, (c) => this.colour(v, c));
      const runs = rings.map((points) => ({ points, closed: true }));
      return this.area(v, runs, rgb, e.look.fillRule, own);
    }
    if (made.tooDense) this.drawn.dense.add(v.top.id);
    const { segments: s } = made;
    const runs: Run[] = [];
    for (let i = 0; i < s.length; i += 4) {
      const [a, b] = [0, 2].map((j) => applyPoint(m, [s[i + j]!, s[i + j + 1]!, e.elevation]));
      runs.push({ points: [a![0], a![1], b![0], b![1]], closed: false });
    }
    this.line(v, runs, rgb, 'fill');
  }

  private picture(e: Image, v: Visit, data: string): void {
    let pixels = this.unpacked.get(data);
    if (pixels === undefined) this.unpacked.set(data, (pixels = pixelsOfAddress(data)));
    const m = compose(this.toPixels, v.toWorld);
    const [w, h] = e.pixels;
    const [u, down] = [applyVector(m, e.u), applyVector(m, e.v)];
    const top = applyPoint(m, [0, 1, 2].map((i) => e.at[i]! + e.v[i]! * h) as [number, number, number]);
    // The file may have other pixels than the drawing says: it fills the same place.
    const own = pixels && planar(u[0], u[1], -down[0], -down[1], top[0], top[1]);
    const ink = own && pictureInk(pixels!, compose(own, planar(w / pixels!.width, 0, 0, h / pixels!.height, 0, 0)));
    if (!ink) {
      this.drawn.framed.add(e.id);
      return this.line(v, this.runs(e, v.toWorld), v.resolved.stroke);
    }
    ring(
      clipInPixels(e).flatMap(([x, y]) => {
        const p = applyPoint(own, [x, y, 0]);
        return [p[0], p[1]];
      }),
      this.canvas.edge,
    );
    this.canvas.paint('nonzero', ink, v.resolved.fillOpacity);
  }

  private text(e: Text | RichText, v: Visit): void {
    const { resolved: r } = v;
    const { fonts } = this.asked;
    const plane = compose(this.toPixels, entityToWorld(e, v.toWorld));
    for (const line of linesOf(e, this.drawing, fonts)) {
      const outline = fonts.outline(line.text, line.family, line.weight, line.italic);
      const own = ownRgb(line);
      const rgb = own ?? r.fill ?? r.stroke;
      if (rgb === null) continue;
      if (outline.missing.length > 0) this.drawn.missing.set(v.top.id, [...new Set(outline.missing)].join(' '));
      const m = compose(plane, lineMatrix(line, outline.advance));
      for (const { from, to, lower, upper } of letterBars(line, outline.advance, fonts)) {
        const corners = [from, lower, to, lower, to, upper, from, upper];
        for (let i = 0; i < 8; i += 2) [corners[i], corners[i + 1]] = applyPoint(m, [corners[i]!, corners[i + 1]!, 0]);
        ring(corners, this.canvas.edge);
        this.canvas.paint('nonzero', rgba(this.colour(v, rgb)), r.fillOpacity);
      }
      const runs = runsOf(bare(outline.path), m);
      if (outline.strokes) {
        this.line(v, runs, rgb);
        continue;
      }
      for (const { points } of runs) ring(points, this.canvas.edge);
      this.canvas.paint('nonzero', rgba(this.colour(v, rgb)), r.fillOpacity);
    }
  }
}

/** Chords in pixels; what comes back to where it began is closed: its corner there is joined as the others are. */
function runsOf(e: Entity, toPixels: Affine): Run[] {
  const out: { points: number[]; closed: boolean }[] = [];
  flattenEntity(e, toPixels, FINE, {
    moveTo: (x, y) => void out.push({ points: [x, y], closed: false }),
    lineTo: (x, y) => void out[out.length - 1]!.points.push(x, y),
  });
  for (const run of out) {
    const p = run.points;
    const n = p.length;
    run.closed = n > 4 && Math.abs(p[0]! - p[n - 2]!) < 1e-6 && Math.abs(p[1]! - p[n - 1]!) < 1e-6;
  }
  return out;
}

const bare = (path: Extract<Entity, { kind: 'path' }>['path']): Entity => ({
  kind: 'path',
  id: 0,
  layer: '',
  look: DRAFTING_DEFAULT,
  path,
});

/** The edges of a closed outline. */
function ring(p: readonly number[], edge: EdgeSink): void {
  const n = p.length;
  for (let i = 0; i < n; i += 2) edge(p[i]!, p[i + 1]!, p[(i + 2) % n]!, p[(i + 3) % n]!);
}
