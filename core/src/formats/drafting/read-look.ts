import type { Appearance, Dash, Paint, Width } from '../../drawing/appearance.js';
import { AppearancePool, BY_LAYER, DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import type { Bag } from './bag.js';

/** Reads what an entity says about its looks; entities that say the same share one record. */
export class LookReader {
  private pool = new AppearancePool();
  private byKey = new Map<string, Appearance>();
  readonly plain = this.pool.share(DRAFTING_DEFAULT);

  read(bag: Bag, filled: boolean): Appearance {
    const color = bag.has(62) ? bag.integer(62) : 256;
    const rgb = bag.has(420) ? bag.integer(420) & 0xffffff : -1;
    const weight = bag.has(370) ? bag.integer(370) : -1;
    const scale = bag.has(48) ? bag.number(48) : 1;
    const linetype = bag.has(6) ? bag.text(6) : 'ByLayer';
    const hidden = bag.integer(60) === 1;
    const alpha = bag.has(440) ? bag.integer(440) : 0;
    if (
      color === 256 &&
      rgb < 0 &&
      weight === -1 &&
      scale === 1 &&
      linetype === 'ByLayer' &&
      !hidden &&
      !alpha &&
      !filled
    ) {
      return this.plain;
    }
    const key = `${color}|${rgb}|${weight}|${scale}|${linetype}|${hidden}|${alpha}|${filled}`;
    const known = this.byKey.get(key);
    if (known) return known;
    const paint = paintOf(color, rgb);
    const look = this.pool.share({
      ...DRAFTING_DEFAULT,
      stroke: filled ? { kind: 'none' } : paint,
      fill: filled ? paint : { kind: 'none' },
      width: widthOf(weight),
      dash: dashOf(linetype, scale),
      visible: !hidden,
      ...opacityOf(alpha),
    });
    this.byKey.set(key, look);
    return look;
  }
}

/** Transparency (DXF reference, group 440): 0 by layer, 0x01000000 by block, 0x020000TT with TT the opacity. */
function opacityOf(alpha: number): Pick<Appearance, 'opacity' | 'opacityFrom'> {
  const by = alpha >>> 24;
  if (by === 1) return { opacity: 1, opacityFrom: 'block' };
  const opacity = by === 2 ? (alpha & 255) / 255 : 1;
  return by === 2 && opacity === 1 ? { opacity, opacityFrom: 'own' } : { opacity };
}

/** The paint behind groups 62 and 420 (−1 when absent): a true colour keeps the index as its fallback. */
export function paintOf(color: number, rgb: number): Paint {
  if (rgb >= 0) return color > 0 && color < 256 ? { kind: 'rgb', rgb, index: color } : { kind: 'rgb', rgb };
  if (color === 256) return BY_LAYER;
  if (color === 0) return { kind: 'byBlock' };
  const index = Math.abs(color);
  return index <= 255 ? { kind: 'index', index } : BY_LAYER;
}

/** The width behind group 370: hundredths of a millimetre, −1 by layer, −2 by block, −3 the receiver's standard. */
export function widthOf(weight: number): Width {
  if (weight === -2) return { kind: 'byBlock' };
  if (weight === -3) return { kind: 'standard' };
  return weight >= 0 ? { kind: 'paper', mm: weight / 100 } : { kind: 'byLayer' };
}

const dashOf = (name: string, scale: number): Dash => ({ kind: 'linetype', name, scale });
