import type { Drawing } from '../../drawing/drawing.js';
import { layerIndex, layerKey } from '../../drawing/drawing.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { Entity } from '../../drawing/entity.js';
import type { Resolved } from '../../drawing/resolve.js';
import { hex } from '../../drawing/palette.js';
import { unitOf } from '../../drawing/units.js';
import type { UnitName } from '../../drawing/units.js';

/** Line width of what states none, in mm. */
const STANDARD_MM = 0.25;

export type Properties = Record<string, string>;

/** Turns looks into SVG properties. One record per distinct look. */
export class StyleWriter {
  private readonly layers;
  private readonly linetypes: Map<string, readonly number[]>;
  private readonly lengthScale: number;
  private readonly mm: number;
  private cache = new Map<Appearance, Map<string, Properties>>();

  constructor(
    private readonly drawing: Drawing,
    unit: UnitName,
    private readonly number: (v: number) => string,
  ) {
    this.layers = layerIndex(drawing);
    this.linetypes = new Map(drawing.linetypes.map((l) => [l.name.toLowerCase(), l.pattern]));
    this.lengthScale = Number(drawing.header.get('$LTSCALE')?.[0]?.[1] ?? 1) || 1;
    this.mm = unitOf(unit).mm;
  }

  /** The properties of a stroked and filled shape. Defaults of SVG are left out, but `fill` is always said. */
  of(e: Entity, r: Resolved, filled: boolean): Properties {
    const key = `${r.stroke}|${r.fill}|${r.strokeOpacity}|${r.fillOpacity}|${r.layer}|${filled}`;
    let byKey = this.cache.get(e.look);
    if (!byKey) this.cache.set(e.look, (byKey = new Map()));
    const known = byKey.get(key);
    if (known) return known;
    const { look } = e;
    const out: Properties = {};
    const fill = filled ? (r.fill ?? r.stroke) : r.fill;
    out['fill'] = fill === null ? 'none' : hex(fill);
    if (fill !== null && r.fillOpacity < 1) out['fill-opacity'] = this.number(r.fillOpacity);
    if (fill !== null && look.fillRule === 'evenodd') out['fill-rule'] = 'evenodd';
    const stroke = filled ? null : r.stroke;
    if (stroke !== null) {
      out['stroke'] = hex(stroke);
      out['stroke-width'] = this.number(this.widthOf(look, r.layer));
      if (r.strokeOpacity < 1) out['stroke-opacity'] = this.number(r.strokeOpacity);
      if (look.cap !== 'butt') out['stroke-linecap'] = look.cap;
      if (look.join !== 'miter') out['stroke-linejoin'] = look.join;
      else if (look.miter !== 4) out['stroke-miterlimit'] = this.number(look.miter);
      const dashes = this.dashesOf(look, r.layer);
      if (dashes.length > 0) out['stroke-dasharray'] = dashes.map(this.number).join(' ');
      if (look.dash.kind === 'lengths' && look.dash.offset !== 0)
        out['stroke-dashoffset'] = this.number(look.dash.offset);
    }
    byKey.set(key, out);
    return out;
  }

  private widthOf(look: Appearance, layer: string): number {
    const { width } = look;
    if (width.kind === 'drawing') return width.value;
    const own =
      width.kind === 'paper'
        ? width.mm
        : width.kind === 'byLayer'
          ? this.layers.get(layerKey(this.drawing, layer))?.weight
          : null;
    return (own ?? STANDARD_MM) / this.mm;
  }

  private dashesOf(look: Appearance, layer: string): number[] {
    const { dash } = look;
    if (dash.kind === 'lengths') return [...dash.lengths];
    const name = /^bylayer$/i.test(dash.name)
      ? (this.layers.get(layerKey(this.drawing, layer))?.linetype ?? '')
      : dash.name;
    const pattern = this.linetypes.get(name.toLowerCase()) ?? [];
    if (pattern.length < 2) return [];
    const scale = dash.scale * this.lengthScale;
    // A dot is a dash of no length, which a round cap makes visible.
    const lengths = pattern.map((p) => Math.abs(p) * scale);
    return pattern[0] < 0 ? [0, ...lengths] : lengths;
  }
}
