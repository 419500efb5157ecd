import type { Drawing } from '../../drawing/drawing.js';
import type { Appearance, Paint, Rgb, Width } from '../../drawing/appearance.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, largestScale, scaling } from '../../geometry/affine.js';
import type { WriteOptions } from '../format.js';
import type { GradientWriter } from './write-gradients.js';
import type { Entity } from '../../drawing/entity.js';
import { LinetypeDashes } from '../../drawing/linetype-dashes.js';
import { constantWidth } from '../../drawing/constant-width.js';
import type { Resolved } from '../../drawing/resolve.js';
import { hex } from '../../drawing/palette.js';
import { unitOf } from '../../drawing/units.js';

/** Line width of what states none, in mm. */
const STANDARD_MM = 0.25;
/** What the thinnest line becomes, in mm: the least of the weights above 0, since SVG paints no line of width 0 (SVG 2 §13.5). */
const THINNEST_MM = 0.05;

export type Properties = Record<string, string>;

/** A polyline with a width ends where its points lie, and its corners are pointed. */
const wideStroke = (width: string): Properties => ({
  'stroke-width': width,
  'stroke-linecap': 'butt',
  'stroke-linejoin': 'miter',
});

/** Turns looks into SVG properties. One record per distinct look. */
export class StyleWriter {
  private readonly dashes: LinetypeDashes;
  private readonly mm: number;
  private readonly hairline: number | null;
  private readonly chart: ReadonlyMap<string, string>;
  /** Colours that the chart replaced, with what they became. */
  readonly replaced = new Map<string, string>();
  private cache = new Map<Appearance, Map<string, Properties>>();
  /** The last properties of each resolved look, not filled and filled. */
  private readonly byResolved = [0, 1].map(() => new WeakMap<Resolved, { look: Appearance; properties: Properties }>());

  constructor(
    drawing: Drawing,
    options: Pick<WriteOptions, 'unit' | 'hairline' | 'colours'>,
    private readonly number: (v: number) => string,
    private readonly gradients: GradientWriter,
  ) {
    this.hairline = options.hairline ?? null;
    this.chart = new Map((options.colours ?? []).map(({ from, to }) => [from.toLowerCase(), to.toLowerCase()]));
    this.dashes = new LinetypeDashes(drawing);
    this.mm = unitOf(options.unit).mm;
  }

  /** The properties of a stroked and filled shape. Defaults of SVG are left out, but `fill` is always said. */
  of(e: Entity, r: Resolved, filled: boolean, toWorld: Affine = IDENTITY): Properties {
    const { look } = e;
    // What is resolved alike is one object for many entities; gradients lie where each of them lies.
    const wide = e.kind === 'polyline' && this.hairline === null ? constantWidth(e) : null;
    if (wide !== null)
      return { ...this.made(e, r, filled, toWorld), ...wideStroke(this.number(wide * largestScale(toWorld))) };
    const plain = look.fill.kind !== 'gradient' && look.stroke.kind !== 'gradient';
    const fast = plain ? this.byResolved[filled ? 1 : 0]!.get(r) : undefined;
    if (fast?.look === look) return fast.properties;
    const properties = this.made(e, r, filled, toWorld);
    if (plain) this.byResolved[filled ? 1 : 0]!.set(r, { look, properties });
    return properties;
  }

  private made(e: Entity, r: Resolved, filled: boolean, toWorld: Affine): Properties {
    const { look } = e;
    const placed = look.fill.kind === 'gradient' || look.stroke.kind === 'gradient' ? toWorld.join() : '';
    const key = `${placed}|${r.width.kind === 'paper' ? r.width.mm : r.width.kind}|${r.dash.kind === 'linetype' ? r.dash.name + r.dash.scale : ''}|${r.stroke}|${r.fill}|${r.opacity}|${r.strokeOpacity}|${r.fillOpacity}|${r.layer}|${filled}`;
    let byKey = this.cache.get(e.look);
    if (!byKey) this.cache.set(e.look, (byKey = new Map()));
    const known = byKey.get(key);
    if (known) return known;
    const out: Properties = {};
    // A shape with line and fill is seen through as one: what the line covers of its fill does not show.
    const whole = r.opacity < 1 && r.fill !== null && r.stroke !== null && !filled;
    const [fillOpacity, strokeOpacity] = whole
      ? [look.fillOpacity, look.strokeOpacity]
      : [r.fillOpacity, r.strokeOpacity];
    if (whole) out['opacity'] = this.number(r.opacity);
    const fill = filled ? (r.fill ?? r.stroke) : r.fill;
    out['fill'] =
      fill === null
        ? 'none'
        : (look.fill.kind === 'gradient' && this.gradient(look.fill, toWorld)) || this.colour(fill);
    if (fill !== null && fillOpacity < 1) out['fill-opacity'] = this.number(fillOpacity);
    if (fill !== null && look.fillRule === 'evenodd') out['fill-rule'] = 'evenodd';
    const stroke = filled ? null : r.stroke;
    if (stroke !== null) {
      out['stroke'] = (look.stroke.kind === 'gradient' && this.gradient(look.stroke, toWorld)) || this.colour(stroke);
      out['stroke-width'] = this.number(this.hairline !== null ? this.hairline / this.mm : this.widthOf(r.width));
      if (strokeOpacity < 1) out['stroke-opacity'] = this.number(strokeOpacity);
      if (look.cap !== 'butt') out['stroke-linecap'] = look.cap;
      if (look.join !== 'miter') out['stroke-linejoin'] = look.join;
      else if (look.miter !== 4) out['stroke-miterlimit'] = this.number(look.miter);
      const dashes = this.dashes.lengths(r.dash);
      if (dashes.length > 0) out['stroke-dasharray'] = dashes.map(this.number).join(' ');
      if (look.dash.kind === 'lengths' && look.dash.offset !== 0)
        out['stroke-dashoffset'] = this.number(look.dash.offset);
    }
    byKey.set(key, out);
    return out;
  }

  /** A colour as the file states it: by the chart where it names it. */
  colour(rgb: Rgb): string {
    const own = hex(rgb);
    const to = this.chart.get(own);
    if (to === undefined) return own;
    this.replaced.set(own, to);
    return to;
  }

  private gradient(paint: Extract<Paint, { kind: 'gradient' }>, toWorld: Affine): string | null {
    return this.gradients.reference(paint, compose(scaling(1, -1, 1), toWorld));
  }

  private widthOf(width: Width): number {
    if (width.kind === 'drawing') return width.value;
    return (width.kind === 'paper' ? width.mm || THINNEST_MM : STANDARD_MM) / this.mm;
  }

  /** How wide the line of an entity is written, in units of the file; 0 where it has none. */
  penOf(e: Entity, r: Resolved, toWorld: Affine): number {
    if (r.stroke === null) return 0;
    if (this.hairline !== null) return this.hairline / this.mm;
    const wide = e.kind === 'polyline' ? constantWidth(e) : null;
    return wide === null ? this.widthOf(r.width) : wide * largestScale(toWorld);
  }

  /** Whether a look asks for the thinnest line there is, which has to become one of a width. */
  asksForThinnest(r: Resolved): boolean {
    return this.hairline === null && r.stroke !== null && r.width.kind === 'paper' && r.width.mm === 0;
  }
}
