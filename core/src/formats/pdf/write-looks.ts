import type { Dash, Paint, Rgb, Width } from '../../drawing/appearance.js';
import { meanColour } from '../../drawing/appearance.js';
import { constantWidth } from '../../drawing/constant-width.js';
import type { Drawing } from '../../drawing/drawing.js';
import { LinetypeDashes } from '../../drawing/linetype-dashes.js';
import { hex } from '../../drawing/palette.js';
import type { Visit } from '../../drawing/resolve.js';
import { unitOf } from '../../drawing/units.js';
import type { Affine } from '../../geometry/affine.js';
import { largestScale } from '../../geometry/affine.js';
import type { WriteOptions } from '../format.js';
import type { PdfObjects, Ref } from './objects.js';
import { name, numberText } from './objects.js';
import type { PageContent } from './page-content.js';
import { PaintWriter } from './write-paints.js';

/** What a line that states no width is drawn with, in mm, as in other artwork (docs/formats.md). */
const STANDARD_MM = 0.25;
const WHITE = 0xffffff;

/** Says on a page how things are drawn: colours, opacity, widths and dashes, by what was asked of the file. */
export class LookWriter {
  /** Colours that were replaced, with what they became. */
  readonly recoloured = new Map<string, string>();
  private readonly paints: PaintWriter;
  private readonly dashes: LinetypeDashes;
  private readonly known = new Map<string, { resource: string; ref: Ref }>();
  private readonly mm: number;

  /** `k`: units of the page to a unit of the drawing. */
  constructor(
    drawing: Drawing,
    private readonly options: WriteOptions,
    private readonly objects: PdfObjects,
    private readonly k: number,
  ) {
    this.paints = new PaintWriter(objects);
    this.dashes = new LinetypeDashes(drawing);
    this.mm = unitOf(options.unit).mm;
  }

  get patterns(): Record<string, Ref> {
    return this.paints.resources;
  }
  get states(): Record<string, Ref> {
    return Object.fromEntries([...this.known.values()].map(({ resource, ref }) => [resource, ref]));
  }

  private colour(rgb: Rgb, tell = true): Rgb {
    const { ink, colours } = this.options;
    let to = rgb;
    if (ink === 'black') to = rgb === WHITE ? WHITE : 0;
    else {
      const chart = colours?.find((c) => c.from.toLowerCase() === hex(rgb))?.to;
      if (chart) to = parseInt(chart.slice(1), 16);
    }
    if (to !== rgb && tell) this.recoloured.set(hex(rgb), hex(to));
    return to;
  }

  /** Says what lines or areas are painted with. */
  paint(page: PageContent, paint: Paint, rgb: Rgb, stroke: boolean, toPage: Affine): string[] {
    const [plain, grey, space, pattern] = stroke ? ['RG', 'G', 'CS', 'SCN'] : ['rg', 'g', 'cs', 'scn'];
    const own = paint.kind === 'gradient' ? this.gradient(paint, toPage) : null;
    const kind = stroke ? 'stroke' : 'fill';
    const said = own ? `/Pattern ${space} /${own} ${pattern}` : this.plainColour(this.colour(rgb), plain!, grey!);
    if (page.said.get(kind) === said) return [];
    page.said.set(kind, said);
    return [said];
  }

  private gradient(paint: Extract<Paint, { kind: 'gradient' }>, toPage: Affine): string | null {
    const own = this.paints.reference(paint, toPage, (c) => this.colour(c, false));
    // What stands for it where it cannot go changes with its colours.
    const mean = meanColour(paint.stops.map((s) => ({ ...s, rgb: this.colour(s.rgb, false) })));
    if (own && mean !== paint.rgb) this.recoloured.set(hex(paint.rgb), hex(mean));
    return own;
  }

  private plainColour(rgb: Rgb, colour: string, grey: string): string {
    const [r, g, b] = [(rgb >> 16) & 255, (rgb >> 8) & 255, rgb & 255];
    if (r === g && g === b) return `${numberText(r / 255)} ${grey}`;
    return `${[r, g, b].map((c) => numberText(c / 255)).join(' ')} ${colour}`;
  }

  /** Says how far lines and areas are seen through. */
  opacity(page: PageContent, stroke: number, fill: number): string[] {
    const [CA, ca] = [Number(numberText(stroke, 4)), Number(numberText(fill, 4))];
    const key = `${CA} ${ca}`;
    if ((page.said.get('gs') ?? '1 1') === key) return [];
    page.said.set('gs', key);
    let made = this.known.get(key);
    if (!made) {
      const ref = this.objects.add({ Type: name('ExtGState'), CA, ca });
      this.known.set(key, (made = { resource: `G${this.known.size + 1}`, ref }));
    }
    return [`/${made.resource} gs`];
  }

  private width(width: Width, toWorld: Affine): number {
    const { hairline } = this.options;
    if (hairline) return (hairline / this.mm) * this.k;
    if (width.kind === 'drawing') return width.value * largestScale(toWorld) * this.k;
    // A width of 0 is the thinnest line of the device: exactly what such a line asks for.
    return ((width.kind === 'paper' ? width.mm : STANDARD_MM) / this.mm) * this.k;
  }

  /** The state that lines are drawn with. */
  pen(page: PageContent, v: Visit): string[] {
    const { entity: e, resolved: r, toWorld } = v;
    const wide = e.kind === 'polyline' && !this.options.hairline ? constantWidth(e) : null;
    const width = wide === null ? this.width(r.width, toWorld) : wide * largestScale(toWorld) * this.k;
    const cap = wide === null ? ['butt', 'round', 'square'].indexOf(e.look.cap) : 0;
    const join = wide === null ? ['miter', 'round', 'bevel'].indexOf(e.look.join) : 0;
    return [
      ...page.say('w', numberText(width)),
      ...page.say('J', String(cap)),
      ...page.say('j', String(join)),
      ...page.say('M', numberText(Math.max(1, e.look.miter))),
      ...page.say('d', this.dash(r.dash, e.look.dash, toWorld)),
    ];
  }

  private dash(dash: Dash, own: Dash, toWorld: Affine): string {
    const k = largestScale(toWorld) * this.k;
    const lengths = this.dashes.lengths(dash).map((l) => numberText(l * k));
    if (lengths.every((l) => Number(l) === 0)) return '[] 0';
    const offset = own.kind === 'lengths' ? own.offset * k : 0;
    return `[${lengths.join(' ')}] ${numberText(offset)}`;
  }
}
