import type { Appearance, Dash } from '../../drawing/appearance.js';
import { AppearancePool, NO_PAINT } from '../../drawing/appearance.js';
import type { Box2 } from '../../geometry/box.js';
import { LARGEST } from '../../geometry/magnitude.js';
import type { StyleSheet } from './css.js';
import { parseLength } from './lengths.js';
import { PaintReader } from './paint.js';
import type { State } from './state.js';
import type { Style } from './style.js';
import type { XmlDocument } from './xml.js';

/** Turns computed styles into looks, one object for each that differs. */
export class LookReader {
  readonly pool = new AppearancePool();
  private readonly paints: PaintReader;
  private readonly looks = new Map<Style, Map<string, Appearance>>();

  constructor(document: XmlDocument, sheet: StyleSheet) {
    this.paints = new PaintReader(document, sheet);
  }

  /** How a shape looks; `scale` from its user space to the drawing, for widths and dashes. */
  of(style: Style, state: State, scale: number): Appearance {
    // Lengths in parts of the viewport are others in another one.
    const parts = style.get('stroke-dasharray')?.includes('%')
      ? `${state.viewport.width}x${state.viewport.height}|`
      : '';
    const key = `${parts}${scale}|${state.opacity}|${state.hidden}${state.context ? JSON.stringify(state.context) : ''}`;
    let byKey = this.looks.get(style);
    if (!byKey) this.looks.set(style, (byKey = new Map()));
    const known = byKey.get(key);
    if (known) return known;
    const fill = this.paints.read(style.get('fill'), 'black', style, state.context);
    const stroke = this.paints.read(style.get('stroke'), 'none', style, state.context);
    const width = parseLength(style.get('stroke-width') ?? '1', { percentOf: state.viewport.width, em: state.em }) ?? 1;
    const fixed = isFixedPen(style);
    const pen = width === 0 ? NO_PAINT : stroke.paint;
    const look = this.pool.share({
      stroke: pen,
      fill: fill.paint,
      opacity: state.opacity,
      strokeOpacity: clamp(Number(style.get('stroke-opacity') ?? 1)) * stroke.alpha,
      fillOpacity: clamp(Number(style.get('fill-opacity') ?? 1)) * fill.alpha,
      width: { kind: 'drawing', value: Math.min(LARGEST, width * (fixed ? 1 : scale)) },
      dash: dashOf(style, fixed ? 1 : scale, state),
      cap: oneOf(style.get('stroke-linecap'), ['butt', 'round', 'square'] as const),
      join: oneOf(style.get('stroke-linejoin'), ['miter', 'round', 'bevel'] as const),
      miter: Number(style.get('stroke-miterlimit') ?? 4) || 4,
      fillRule: style.get('fill-rule') === 'evenodd' ? 'evenodd' : 'nonzero',
      // What is neither filled nor stroked is not seen.
      visible:
        (pen.kind !== 'none' || fill.paint.kind !== 'none') &&
        !state.hidden &&
        style.get('visibility') !== 'hidden' &&
        style.get('visibility') !== 'collapse',
    });
    byKey.set(key, look);
    return look;
  }

  /** A look whose gradients lie where they lie on this shape. */
  placed(look: Appearance, box: () => Box2 | null, state: State): Appearance {
    const of = (paint: Appearance['fill']): Appearance['fill'] =>
      paint.kind === 'gradient' ? this.paints.placed(paint, box, state) : paint;
    const [fill, stroke] = [of(look.fill), of(look.stroke)];
    return fill === look.fill && stroke === look.stroke ? look : this.pool.share({ ...look, fill, stroke });
  }
}

/** Whether lines are as wide as they say whatever the transform. */
export const isFixedPen = (style: Style): boolean =>
  style.get('vector-effect')?.includes('non-scaling-stroke') ?? false;

/** Whether a shape's line is drawn before its fill (`paint-order`). */
export const strokeFirst = (style: Style): boolean => {
  const order = style.get('paint-order');
  if (order === undefined || order === 'normal') return false;
  const [line, area] = [order.indexOf('stroke'), order.indexOf('fill')];
  return line >= 0 && (area < 0 || line < area);
};

/** An opacity: from 0 to 1, and 1 where it is no number. */
export const clamp = (v: number): number => (Number.isFinite(v) ? Math.min(1, Math.max(0, v)) : 1);

function oneOf<T extends string>(value: string | undefined, allowed: readonly [T, ...T[]]): T {
  return allowed.find((a) => a === value) ?? allowed[0];
}

function dashOf(style: Style, scale: number, { em, viewport }: State): Dash {
  // Parts of the diagonal, over the square root of two (SVG 2 §8.9).
  const percentOf = Math.hypot(viewport.width, viewport.height) / Math.SQRT2;
  const text = style.get('stroke-dasharray');
  if (!text || text === 'none') return { kind: 'lengths', lengths: [], offset: 0 };
  const parts = text
    .split(/[\s,]+/)
    .filter(Boolean)
    .map((t) => parseLength(t, { percentOf, em }));
  const good = parts.every((p) => p !== null && p >= 0) && parts.some((p) => p! > 0);
  if (!good) return { kind: 'lengths', lengths: [], offset: 0 };
  const offset = parseLength(style.get('stroke-dashoffset') ?? '0', { percentOf, em }) ?? 0;
  return { kind: 'lengths', lengths: parts.map((p) => p! * scale), offset: offset * scale };
}
