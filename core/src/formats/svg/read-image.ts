import { applyPoint, applyVector } from '../../geometry/affine.js';
import type { Image } from '../../drawing/entity.js';
import { headOfAddress } from '../picture/address-head.js';
import { parseLength } from './lengths.js';
import type { State } from './state.js';
import { viewBoxMap } from './transforms.js';
import type { XmlElement } from './xml.js';

/** Longest picture that is kept within a drawing, in letters of its address. */
const MAX_DATA = 64 << 20;
const PICTURE = /^data:image\/(png|jpe?g|gif|webp|bmp)[;,]/i;

/** A picture larger than its place by more than rounding. */
const BEYOND = 1 + 1e-9;

/** A picture in its place; one held in the file goes along, one outside it is only named and never fetched. */
export function readImage(e: XmlElement, state: State, base: Omit<Image, keyof ImageParts>): Image | null {
  const of = (name: string, percentOf: number, otherwise: string): number =>
    parseLength(state.style.get(name) ?? e.attributes.get(name) ?? otherwise, { percentOf, em: state.em }) ?? 0;
  const href = (e.attributes.get('href') ?? e.foreign.get('href') ?? '').trim();
  const held = PICTURE.test(href) && href.length < MAX_DATA;
  const head = held ? headOfAddress(href) : null;
  const size = head && ([head.width, head.height] as const);
  const { width: vw, height: vh } = state.viewport;
  let [w, h] = [of('width', vw, ''), of('height', vh, '')];
  if (size) {
    if (!(w > 0)) w = h > 0 ? (h * size[0]) / size[1] : size[0];
    if (!(h > 0)) h = (w * size[1]) / size[0];
  }
  if (!(w > 0) || !(h > 0)) return null;
  const pixels = size ?? [Math.max(1, Math.round(w)), Math.max(1, Math.round(h))];
  const [x, y] = [of('x', vw, '0'), of('y', vh, '0')];
  const fit = viewBoxMap(
    { x: 0, y: 0, width: pixels[0], height: pixels[1] },
    w,
    h,
    size ? e.attributes.get('preserveAspectRatio') : 'none',
  );
  const at = applyPoint(state.ctm, [x + fit[9], y + fit[10] + fit[4] * pixels[1], 0]);
  const u = applyVector(state.ctm, [fit[0], 0, 0]);
  const v = applyVector(state.ctm, [0, -fit[4], 0]);
  // What reaches beyond its place is cut off: pixel centres lie on whole numbers.
  const sliced = size && (fit[0] * pixels[0] > w * BEYOND || fit[4] * pixels[1] > h * BEYOND);
  const clip = sliced
    ? Float64Array.of(
        -fit[9] / fit[0] - 0.5,
        -fit[10] / fit[4] - 0.5,
        (w - fit[9]) / fit[0] - 0.5,
        (h - fit[10]) / fit[4] - 0.5,
      )
    : null;
  const file = held
    ? `picture in the file (${/^data:image\/(\w+)/i.exec(href)![1]})`
    : href.startsWith('data:')
      ? undefined
      : href.slice(0, 1000) || undefined;
  return {
    ...base,
    kind: 'image',
    cover: false,
    at,
    u,
    v,
    pixels: [pixels[0], pixels[1]],
    ...(file && { file }),
    ...(held && { data: href }),
    ...(clip && { clip }),
  };
}

type ImageParts = Pick<Image, 'kind' | 'cover' | 'at' | 'u' | 'v' | 'pixels' | 'clip' | 'file' | 'data'>;
