import type { Dash, Rgb, Width } from '../drawing/appearance.js';
import { constantWidth, hasVaryingWidth } from '../drawing/constant-width.js';
import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import { clipInPixels, entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Clip, Entity, Hatch, Image, Polyline, RichText, Text } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { paintOfHatch } from '../drawing/hatch-gradient.js';
import { hatchLines, hatchRings } from '../drawing/hatch-area.js';
import { hex } from '../drawing/palette.js';
import { rayWithin } from '../drawing/rays.js';
import type { Resolved, Visit } from '../drawing/resolve.js';
import { walk } from '../drawing/resolve.js';
import { widePieces } from '../drawing/wide-pieces.js';
import { mmPerUnit } from '../drawing/units.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector, compose, largestScale, planar } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { GradientWriter } from '../formats/svg/write-gradients.js';
import type { AskedLooks } from '../formats/write-options.js';
import type { FontBook } from '../text/fonts.js';
import { letterBars } from '../text/letter-bars.js';
import { lineMatrix, linesOf, ownRgb } from '../text/layout.js';

/** A part of the drawing's plane, in its coordinates: lower left corner and size. */
export interface Frame {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface PlainOptions {
  /** How large the picture is, in pixels; not always whole. */
  width: number;
  height: number;
  fonts: FontBook;
  /** Without them letters are left out. */
  letters: boolean;
  /** Pictures that are not at hand as their frames, as files get them, or not at all. */
  frames: boolean;
  /** Lines are at least so wide, in pixels: those of a large drawing would not be seen at all. */
  thinnest: number;
  /** What is only filled has a line of the thinnest pen round it, as drafting files get it (a row says so). */
  outlined?: boolean;
  /** Polylines are as wide as they say in places: files that cannot say it have them in one width. */
  varying?: boolean;
  /** Bars under, over and through letters are drawn: where a file says them as such, the renderer has its own measure for them. */
  bars?: boolean;
  /** The colour of the ground, 0xRRGGBB, and that of foreground lines on it; absent for those of the renderer and black. */
  ground?: number;
  foreground?: string;
  /** What was asked of the file that it is held against. */
  asked?: AskedLooks;
}

/** A drawing of more objects, or of a longer picture (in letters), is not drawn. */
const MOST_OBJECTS = 60_000;
const LONGEST = 24_000_000;
/** How far chords may lie from their curve, in pixels. */
const FINE = 0.03;
/** The width of lines that state none and of the thinnest ones, in mm, as SVG files get them (docs/formats.md). */
const STANDARD_MM = 0.25;
const THINNEST_MM = 0.05;

/**
 * A drawing (y upwards) as plain SVG for the renderer: chords in pixels with their colours and widths, letters as outlines. Made
 * without the writer of SVG files, whose work it judges. `null` where it is too much to draw.
 */
export function plainPicture(drawing: Drawing, frame: Frame, options: PlainOptions): string | null {
  const pen = new PlainPen(drawing, frame, options);
  let objects = 0;
  walk(drawing, (v) => {
    if (++objects <= MOST_OBJECTS && pen.length <= LONGEST) pen.draw(v);
  });
  pen.end();
  if (objects > MOST_OBJECTS || pen.length > LONGEST) return null;
  const { width, height, ground } = options;
  const under = ground === undefined ? '' : `<rect width="${width + 1}" height="${height + 1}" fill="${hex(ground)}"/>`;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${width}" height="${height}" ` +
    `viewBox="0 0 ${width} ${height}">${under}${pen.gradients.defs.join('')}${pen.parts.join('')}</svg>`
  );
}

const BLACK = '#000000';
const WHITE = '#ffffff';

class PlainPen {
  readonly parts: string[] = [];
  length = 0;
  readonly gradients = new GradientWriter((v) => String(Number(v.toFixed(4))));
  private readonly toPixels: Affine;
  /** Pixels to a unit of the drawing, and to a millimetre. */
  private readonly k: number;
  private readonly perMm: number;
  private readonly patterns: Map<string, readonly number[]>;
  private readonly dashScale: number;
  private readonly chart: ReadonlyMap<string, string>;
  private readonly reach: Box2;
  /** What is drawn now is cut to it, by so many groups. */
  private clip: Clip | undefined;
  private depth = 0;

  constructor(
    private readonly drawing: Drawing,
    frame: Frame,
    private readonly options: PlainOptions,
  ) {
    // The frame fills the picture, as the renderer has it: whole pixels stretch one side by less than one.
    const [kx, ky] = [options.width / frame.width, options.height / frame.height];
    const k = Math.sqrt(kx * ky);
    this.k = k;
    this.toPixels = planar(kx, 0, 0, -ky, -frame.x * kx, (frame.y + frame.height) * ky);
    const { unit } = drawing;
    this.perMm = k / (mmPerUnit(unit) ?? 1);
    this.patterns = new Map(drawing.linetypes.map((l) => [l.name.toLowerCase(), l.pattern]));
    this.dashScale = Number(drawing.header.get('$LTSCALE')?.[0]?.[1] ?? 1) || 1;
    this.chart = new Map((options.asked?.colours ?? []).map((c) => [c.from.toLowerCase(), c.to.toLowerCase()]));
    this.reach = Box2.of(frame.x, frame.y, frame.x + frame.width, frame.y + frame.height);
  }

  draw(v: Visit): void {
    const clip = v.top.clipTo;
    if (clip !== this.clip) {
      if (this.clip) this.put('</g>'.repeat(this.depth));
      this.clip = clip;
      this.depth = 0;
      for (let c = clip; c; c = c.within) this.cut(c);
    }
    this.object(v);
  }

  /** Ends what is cut. */
  end(): void {
    if (this.clip) this.put('</g>'.repeat(this.depth));
  }

  private cut({ shapes }: Clip): void {
    const id = `cut-${this.parts.length}`;
    const paths = shapes.map(({ path, rule }) => {
      const shape = { kind: 'path', id: 0, layer: '', look: DRAFTING_DEFAULT, path } as const;
      return `<path d="${this.path(shape, IDENTITY)}" clip-rule="${rule}"/>`;
    });
    this.put(`<clipPath id="${id}">${paths.join('')}</clipPath><g clip-path="url(#${id})">`);
    this.depth++;
  }

  private object(v: Visit): void {
    const { entity: e, resolved: r } = v;
    switch (e.kind) {
      case 'insert':
      case 'opaque':
      case 'dimension':
      case 'leader':
      case 'viewport':
        return;
      case 'text':
      case 'richText':
        return this.options.letters ? this.text(e, v) : undefined;
      case 'image':
        if (e.data !== undefined && !e.cover) return this.picture(e, v, e.data);
        if (e.cover || this.options.frames) this.line(v, this.path(e, v.toWorld), r.stroke);
        return;
      case 'point': {
        const [x, y] = this.at(applyPoint(v.toWorld, e.at));
        return this.line(v, `M${x} ${y}h0`, r.stroke);
      }
      case 'ray': {
        const ends = rayWithin(applyPoint(v.toWorld, e.at), applyVector(v.toWorld, e.direction), e.both, this.reach);
        if (ends) this.line(v, `M${this.at(ends[0]).join(' ')}L${this.at(ends[1]).join(' ')}`, r.stroke);
        return;
      }
      case 'hatch':
        return this.hatch(e, v);
      case 'face':
        if (e.solid) return this.area(v, this.path(e, v.toWorld), r.fill ?? r.stroke, 'evenodd');
        break;
      default:
      // All others are drawn by their curves.
    }
    if (e.kind === 'polyline' && hasVaryingWidth(e) && this.options.varying && !this.options.asked?.hairline)
      return this.varying(e, v);
    const d = this.path(e, v.toWorld);
    // A shape with line and fill is seen through as one.
    const whole = r.opacity < 1 && r.fill !== null && r.stroke !== null;
    const { fillOpacity, strokeOpacity } = e.look;
    const parts = whole ? { ...v, resolved: { ...r, fillOpacity, strokeOpacity } } : v;
    if (whole) this.put(`<g opacity="${r.opacity}">`);
    if (r.fill !== null && e.kind !== 'line') this.area(parts, d, r.fill, e.look.fillRule);
    this.line(parts, d, r.stroke);
    if (this.options.outlined && r.stroke === null && r.fill !== null) this.hairline(d, r);
    if (whole) this.put('</g>');
  }

  private varying(e: Polyline, v: Visit): void {
    const { resolved: r } = v;
    if (r.fill !== null) this.area(v, this.path(e, v.toWorld), r.fill, e.look.fillRule);
    if (r.stroke === null) return;
    widePieces(e, compose(this.toPixels, v.toWorld), FINE, (p) => {
      const corners = [0, 2, 4, 6].map((i) => `${p[i]!.toFixed(3)} ${p[i + 1]!.toFixed(3)}`);
      this.put(
        `<path d="M${corners.join('L')}Z" fill="${this.paint(v, 'stroke', r.stroke!)}" fill-opacity="${r.strokeOpacity}"/>`,
      );
    });
  }

  private at(p: readonly [number, number, number]): [string, string] {
    const q = applyPoint(this.toPixels, [p[0], p[1], 0]);
    return [q[0].toFixed(3), q[1].toFixed(3)];
  }

  private path(e: Entity, toWorld: Affine): string {
    let d = '';
    let first = '';
    let last = '';
    const end = (): void => {
      // What comes back to where it began is closed: its corner there is joined as the others are.
      if (first !== '' && first === last) d += 'Z';
    };
    flattenEntity(e, compose(this.toPixels, toWorld), FINE, {
      moveTo: (x, y) => {
        end();
        first = `${x.toFixed(3)} ${y.toFixed(3)}`;
        last = '';
        d += `M${first}`;
      },
      lineTo: (x, y) => {
        last = `${x.toFixed(3)} ${y.toFixed(3)}`;
        d += `L${last}`;
      },
    });
    end();
    return d;
  }

  private put(element: string): void {
    this.parts.push(element);
    this.length += element.length;
  }

  private paint(v: Visit, which: 'stroke' | 'fill', rgb: Rgb): string {
    const paint = v.entity.look[which];
    if (paint.kind === 'gradient') {
      const stops = paint.stops.map((s) => ({ ...s, rgb: parseInt(this.shown(s.rgb, false).slice(1), 16) }));
      const own = this.gradients.reference({ ...paint, stops }, compose(this.toPixels, v.toWorld));
      if (own) return own;
    }
    return this.shown(rgb, v.resolved.foreground);
  }

  /** What a colour is drawn as, by what was asked. */
  private shown(rgb: Rgb, foreground: boolean): string {
    const chart = this.chart.get(hex(rgb));
    if (this.options.asked?.ink === 'black') return (chart ?? hex(rgb)) === WHITE ? WHITE : BLACK;
    return chart ?? (foreground ? this.options.foreground : undefined) ?? hex(rgb);
  }

  private area(v: Visit, d: string, rgb: Rgb | null, rule: 'nonzero' | 'evenodd', own: string | null = null): void {
    if (rgb === null || d === '') return;
    const { fillOpacity } = v.resolved;
    this.put(
      `<path d="${d}" fill="${own ?? this.paint(v, 'fill', rgb)}" fill-rule="${rule}" fill-opacity="${fillOpacity}"/>`,
    );
  }

  private line(v: Visit, d: string, rgb: Rgb | null): void {
    if (rgb === null || d === '') return;
    const { resolved: r, toWorld } = v;
    const { look } = v.entity;
    const wide = v.entity.kind === 'polyline' && !this.options.asked?.hairline ? constantWidth(v.entity) : null;
    const width = wide === null ? this.width(r.width, toWorld) : wide * largestScale(toWorld) * this.k;
    const dashes = this.dashes(r.dash).map((l) => (l * largestScale(toWorld) * this.k).toFixed(3));
    const offset = look.dash.kind === 'lengths' ? look.dash.offset * largestScale(toWorld) * this.k : 0;
    this.put(
      `<path d="${d}" fill="none" stroke="${this.paint(v, 'stroke', rgb)}" stroke-opacity="${r.strokeOpacity}" ` +
        `stroke-width="${Math.max(this.options.thinnest, width).toFixed(4)}" stroke-linecap="${wide === null ? look.cap : 'butt'}" ` +
        `stroke-linejoin="${wide === null ? look.join : 'miter'}" stroke-miterlimit="${look.miter}"` +
        (dashes.length > 0 ? ` stroke-dasharray="${dashes.join(' ')}" stroke-dashoffset="${offset}"` : '') +
        '/>',
    );
  }

  private hairline(d: string, { fill, fillOpacity }: Resolved): void {
    const width = Math.max(this.options.thinnest, THINNEST_MM * this.perMm);
    this.put(
      `<path d="${d}" fill="none" stroke="${hex(fill!)}" stroke-opacity="${fillOpacity}" stroke-width="${width.toFixed(4)}" ` +
        'stroke-linecap="round" stroke-linejoin="round"/>',
    );
  }

  private width(width: Width, toWorld: Affine): number {
    const { hairline } = this.options.asked ?? {};
    if (hairline) return hairline * this.perMm;
    if (width.kind === 'drawing') return width.value * largestScale(toWorld) * this.k;
    return (width.kind === 'paper' ? width.mm || THINNEST_MM : STANDARD_MM) * this.perMm;
  }

  private dashes(dash: Dash): number[] {
    if (dash.kind === 'lengths') return [...dash.lengths];
    const pattern = this.patterns.get(dash.name.toLowerCase()) ?? [];
    if (pattern.length < 2) return [];
    const lengths = pattern.map((p) => Math.abs(p) * dash.scale * this.dashScale);
    return pattern[0]! < 0 ? [0, ...lengths] : lengths;
  }

  private hatch(e: Hatch, v: Visit): void {
    const { resolved: r, toWorld } = v;
    const made = e.solid ? null : hatchLines(e);
    if (!made) {
      const rings = hatchRings(e, compose(this.toPixels, toWorld), FINE);
      const d = rings.map((ring) => `M${ring.map((n) => n.toFixed(3)).join(' ')}Z`).join('');
      const paint = paintOfHatch(e);
      const own = paint && this.gradients.reference(paint, compose(this.toPixels, entityToWorld(e, toWorld)));
      return this.area(v, d, r.fill ?? r.stroke, e.look.fillRule, own);
    }
    const m = entityToWorld(e, toWorld);
    const { segments: s } = made;
    let d = '';
    for (let i = 0; i < s.length; i += 4) {
      const [a, b] = [0, 2].map((j) => this.at(applyPoint(m, [s[i + j]!, s[i + j + 1]!, e.elevation])));
      d += `M${a!.join(' ')}L${b!.join(' ')}`;
    }
    this.line(v, d, r.fill ?? r.stroke);
  }

  private picture(e: Image, v: Visit, data: string): void {
    const m = compose(this.toPixels, v.toWorld);
    const [w, h] = e.pixels;
    const [u, down] = [applyVector(m, e.u), applyVector(m, e.v)];
    const top = applyPoint(m, [0, 1, 2].map((i) => e.at[i]! + e.v[i]! * h) as [number, number, number]);
    const matrix = [u[0], u[1], -down[0], -down[1], top[0], top[1]].join(' ');
    const clip = e.clip ? `clip-${this.parts.length}` : '';
    if (e.clip)
      this.put(
        `<clipPath id="${clip}"><polygon points="${clipInPixels(e)
          .map((p) => p.join(','))
          .join(' ')}"/></clipPath>`,
      );
    this.put(
      `<image${clip && ` clip-path="url(#${clip})"`} width="${w}" height="${h}" preserveAspectRatio="none" transform="matrix(${matrix})" ` +
        `opacity="${v.resolved.fillOpacity}" xlink:href="${data.replace(/[^\w+/=:;,.-]/g, '')}"/>`,
    );
  }

  private text(e: Text | RichText, v: Visit): void {
    const { resolved: r } = v;
    const { fonts } = this.options;
    const plane = entityToWorld(e, v.toWorld);
    for (const line of linesOf(e, this.drawing, fonts)) {
      const outline = fonts.outline(line.text, line.family, line.weight, line.italic);
      const letters = { kind: 'path', id: 0, layer: '', look: DRAFTING_DEFAULT, path: outline.path } as const;
      const d = this.path(letters, compose(plane, lineMatrix(line, outline.advance)));
      const own = ownRgb(line);
      const rgb = own ?? r.fill ?? r.stroke;
      if (outline.strokes) this.line(v, d, rgb);
      else this.area(v, d, rgb, 'nonzero');
      const m = compose(plane, lineMatrix(line, outline.advance));
      const bars = this.options.bars ? letterBars(line, outline.advance, fonts) : [];
      for (const { from, to, lower, upper } of bars) {
        const corners = [
          [from, lower],
          [to, lower],
          [to, upper],
          [from, upper],
        ] as const;
        this.area(
          v,
          `M${corners.map(([x, y]) => this.at(applyPoint(m, [x, y, 0])).join(' ')).join('L')}Z`,
          rgb,
          'nonzero',
        );
      }
    }
  }
}
