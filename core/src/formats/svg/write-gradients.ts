import type { Affine } from '../../geometry/affine.js';
import { compose, planar } from '../../geometry/affine.js';
import type { Paint } from '../../drawing/appearance.js';
import { hex } from '../../drawing/palette.js';
import { shortNumber } from './path-text.js';

type Gradient = Extract<Paint, { kind: 'gradient' }>;

/** Writes gradients once each into `defs` and hands out references to them. */
export class GradientWriter {
  private readonly ids = new Map<string, string>();
  readonly defs: string[] = [];

  constructor(private readonly number: (v: number) => string) {}

  /** `url(#…)` for a gradient that has a place; `null` for one that has none. `toPage` leads from the drawing to the page. */
  reference(paint: Gradient, toPage: Affine): string | null {
    const { place } = paint;
    if (!place) return null;
    const [a, b, c, d, e, f] = place.map;
    const m = compose(toPage, planar(a!, b!, c!, d!, e!, f!));
    const matrix = [m[0], m[1], m[3], m[4]]
      .map((v) => shortNumber(v, 9))
      .concat([this.number(m[9]), this.number(m[10])]);
    const focus = place.focus
      ? ` fx="${shortNumber(place.focus[0], 6)}" fy="${shortNumber(place.focus[1], 6)}"` +
        (place.focus[2] > 0 ? ` fr="${shortNumber(place.focus[2], 6)}"` : '')
      : '';
    const shape = paint.form === 'linear' ? 'x1="0" y1="0" x2="1" y2="0"' : `cx="0" cy="0" r="1"${focus}`;
    const spread = place.spread === 'pad' ? '' : ` spreadMethod="${place.spread}"`;
    const stops = paint.stops
      .map((s) => {
        const clear = s.opacity < 1 ? ` stop-opacity="${shortNumber(s.opacity, 4)}"` : '';
        return `<stop offset="${shortNumber(s.offset, 6)}" stop-color="${hex(s.rgb)}"${clear}/>`;
      })
      .join('');
    const name = paint.form === 'linear' ? 'linearGradient' : 'radialGradient';
    const body = `gradientUnits="userSpaceOnUse" ${shape} gradientTransform="matrix(${matrix.join(' ')})"${spread}>${stops}</${name}>`;
    let id = this.ids.get(name + body);
    if (!id) {
      id = `gradient-${this.ids.size + 1}`;
      this.ids.set(name + body, id);
      this.defs.push(`<${name} id="${id}" ${body}`);
    }
    return `url(#${id})`;
  }
}
