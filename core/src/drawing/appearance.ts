/** A colour as 0xRRGGBB. */
export type Rgb = number;

export interface GradientStop {
  offset: number;
  rgb: Rgb;
  opacity: number;
}

/**
 * Where a gradient lies. `map` is the matrix (a b c d e f, as SVG orders it) from the gradient's own space to the
 * drawing: a linear one runs from (0, 0) to (1, 0), a radial one out to the unit circle, from `focus` (x, y, radius).
 */
export interface GradientPlace {
  map: readonly number[];
  focus?: readonly [number, number, number];
  spread: 'pad' | 'reflect' | 'repeat';
}

/**
 * What a stroke or a fill is painted with. `byLayer`, `byBlock` and `index` come from drafting formats and are resolved
 * only when asked. A gradient or pattern carries the plain colour that stands in for it where it cannot go.
 */
export type Paint =
  | { kind: 'none' }
  | { kind: 'byLayer' }
  | { kind: 'byBlock' }
  | { kind: 'index'; index: number }
  | { kind: 'rgb'; rgb: Rgb; index?: number }
  | { kind: 'gradient'; form: 'linear' | 'radial'; stops: GradientStop[]; rgb: Rgb; id: string; place?: GradientPlace }
  | { kind: 'pattern'; rgb: Rgb; id: string };

/** Line width: on paper (mm, never scaled), or in drawing units (scaled with the drawing). */
export type Width =
  | { kind: 'byLayer' }
  | { kind: 'byBlock' }
  | { kind: 'standard' }
  | { kind: 'paper'; mm: number }
  | { kind: 'drawing'; value: number };

/** Dashes: a named linetype with its own scale, or lengths in drawing units. */
export type Dash =
  { kind: 'linetype'; name: string; scale: number } | { kind: 'lengths'; lengths: readonly number[]; offset: number };

/** Everything about how an entity looks. Shared between entities that look alike; never changed in place. */
export interface Appearance {
  readonly stroke: Paint;
  readonly fill: Paint;
  readonly opacity: number;
  /** Where the opacity comes from when it is not that of the layer: the insert around it, or itself although it is opaque. */
  readonly opacityFrom?: 'block' | 'own';
  readonly strokeOpacity: number;
  readonly fillOpacity: number;
  readonly width: Width;
  readonly dash: Dash;
  readonly cap: 'butt' | 'round' | 'square';
  readonly join: 'miter' | 'round' | 'bevel';
  readonly miter: number;
  readonly fillRule: 'nonzero' | 'evenodd';
  readonly visible: boolean;
}

export const BY_LAYER: Paint = { kind: 'byLayer' };
export const NO_PAINT: Paint = { kind: 'none' };

/** How opaque the stops of a gradient are on average, each for the stretch that it leads over; 1 for other paints. */
export function meanOpacity(paint: Paint): number {
  if (paint.kind !== 'gradient' || paint.stops.length === 0) return 1;
  const stops = [...paint.stops].sort((a, b) => a.offset - b.offset);
  const [first, last] = [stops[0]!, stops[stops.length - 1]!];
  let sum = first.opacity * first.offset + last.opacity * (1 - last.offset);
  for (let i = 1; i < stops.length; i++)
    sum += ((stops[i - 1]!.opacity + stops[i]!.opacity) / 2) * (stops[i]!.offset - stops[i - 1]!.offset);
  return Math.min(1, Math.max(0, sum));
}

/** The mean of a gradient along its length, each stretch between stops weighing as much as it is long. */
export function meanColour(stops: readonly GradientStop[]): Rgb {
  const first = stops[0]!;
  const last = stops[stops.length - 1]!;
  const channel = (shift: number): number => {
    const of = (s: GradientStop): number => (s.rgb >> shift) & 255;
    let sum = of(first) * first.offset + of(last) * (1 - last.offset);
    for (let i = 1; i < stops.length; i++) {
      sum += ((of(stops[i - 1]!) + of(stops[i]!)) / 2) * Math.max(0, stops[i]!.offset - stops[i - 1]!.offset);
    }
    return Math.min(255, Math.round(sum));
  };
  return (channel(16) << 16) | (channel(8) << 8) | channel(0);
}

/** A colour between two, channel by channel: the first at 0, the second at 1. */
export function mixed(a: Rgb, b: Rgb, t: number): Rgb {
  const channel = (shift: number): number => {
    const [from, to] = [(a >> shift) & 255, (b >> shift) & 255];
    return Math.round(from + (to - from) * t) << shift;
  };
  return channel(16) | channel(8) | channel(0);
}

/** The look of a drafting entity that states nothing of its own. */
export const DRAFTING_DEFAULT: Appearance = {
  stroke: BY_LAYER,
  fill: NO_PAINT,
  opacity: 1,
  strokeOpacity: 1,
  fillOpacity: 1,
  width: { kind: 'byLayer' },
  dash: { kind: 'linetype', name: 'ByLayer', scale: 1 },
  cap: 'round',
  join: 'round',
  miter: 4,
  fillRule: 'evenodd',
  visible: true,
};

/** Hands out one shared object per distinct look, so that a large drawing holds few of them. */
export class AppearancePool {
  private pool = new Map<string, Appearance>();

  share(look: Appearance): Appearance {
    const key = JSON.stringify(look);
    const found = this.pool.get(key);
    if (found) return found;
    this.pool.set(key, look);
    return look;
  }
}
