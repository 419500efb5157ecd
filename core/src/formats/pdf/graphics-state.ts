import type { Appearance, Dash, Paint, Width } from '../../drawing/appearance.js';
import { AppearancePool, NO_PAINT } from '../../drawing/appearance.js';
import type { Clip } from '../../drawing/entity.js';
import type { Affine } from '../../geometry/affine.js';
import { applyPoint, compose, planar } from '../../geometry/affine.js';
import type { PathData } from '../../geometry/path.js';
import { PathBuilder } from '../../geometry/path.js';

/** What a page is drawn with at a point of its content (ISO 32000-2, 8.4). Copied by `save`, never shared. */
export interface GraphicsState {
  /** From the user space of the content to the drawing. */
  ctm: Affine;
  stroke: Paint;
  fill: Paint;
  strokeOpacity: number;
  fillOpacity: number;
  /** Of the groups around it. */
  opacity: number;
  width: number;
  cap: Appearance['cap'];
  join: Appearance['join'];
  miter: number;
  dash: readonly number[];
  dashOffset: number;
  clip: Clip | undefined;
  /** A tiling pattern that shapes are filled with, where `fill` stands for it. */
  tiles: Tiles | null;
  text: TextState;
}

/** A tiling pattern as the parser gives it: its content, its own space, the step from tile to tile (ISO 32000-2, 8.7.3). */
export interface Tiles {
  readonly operators: unknown;
  readonly matrix: readonly number[];
  readonly box: readonly number[];
  readonly xStep: number;
  readonly yStep: number;
}

/** What text is set with (ISO 32000-2, 9.3). */
export interface TextState {
  font: string | null;
  size: number;
  charSpacing: number;
  wordSpacing: number;
  /** Horizontal scaling, 1 for none. */
  stretch: number;
  leading: number;
  rise: number;
  mode: number;
}

const BLACK: Paint = { kind: 'rgb', rgb: 0 };

export const initialState = (ctm: Affine): GraphicsState => ({
  ctm,
  stroke: BLACK,
  fill: BLACK,
  strokeOpacity: 1,
  fillOpacity: 1,
  opacity: 1,
  width: 1,
  cap: 'butt',
  join: 'miter',
  miter: 10,
  dash: [],
  dashOffset: 0,
  clip: undefined,
  tiles: null,
  text: { font: null, size: 0, charSpacing: 0, wordSpacing: 0, stretch: 1, leading: 0, rise: 0, mode: 0 },
});

export const copied = (s: GraphicsState): GraphicsState => ({ ...s, text: { ...s.text } });

/** A list of numbers as the parser gives it, packed or not; `null` for what is none. */
export function numbersOf(list: unknown): number[] | null {
  if (!ArrayBuffer.isView(list) && !Array.isArray(list)) return null;
  const numbers = [...(list as Iterable<unknown>)];
  return numbers.every((v): v is number => typeof v === 'number' && Number.isFinite(v)) ? numbers : null;
}

/** A matrix as a PDF writes it (a b c d e f) as a map; `null` for what is none. */
export function mapOf(matrix: unknown): Affine | null {
  const m = numbersOf(matrix);
  if (!m || m.length < 6) return null;
  const [a, b, c, d, e, f] = m as [number, number, number, number, number, number];
  return planar(a, b, c, d, e, f);
}

/** By how much a map makes lines wider: the root of what it makes areas larger by. */
export const scaleOf = (m: Affine): number => Math.sqrt(Math.abs(m[0] * m[4] - m[1] * m[3]));

/** How far the two directions of a pen of no round tip differ before that is told. */
const ROUND = 1e-3;

/** Whether a map leaves a round pen round. */
export function keepsRound(m: Affine): boolean {
  const [u, v] = [Math.hypot(m[0], m[1]), Math.hypot(m[3], m[4])];
  const skew = Math.abs(m[0] * m[3] + m[1] * m[4]);
  return Math.abs(u - v) <= ROUND * Math.max(u, v) && skew <= ROUND * u * v;
}

/** What is drawn of a path. */
export interface Painting {
  readonly stroke: boolean;
  readonly fill: boolean;
  readonly rule: 'nonzero' | 'evenodd';
}

/** Turns states into looks, one object for each that differs. */
export class LookBook {
  private readonly pool = new AppearancePool();
  /** `mm`: how long a unit of the drawing is on paper, where widths are those of the paper. */
  constructor(private readonly mm: () => number | null) {}

  /** What was made of a state and a way of painting before: most that is drawn looks like what was drawn before it. */
  private readonly made = new Map<string, Appearance>();

  of(s: GraphicsState, painting: Painting): Appearance {
    const k = scaleOf(s.ctm);
    const key = `${painting.rule}|${painting.fill ? paintKey(s.fill) + '|' + s.fillOpacity : ''}|${s.opacity}|${
      painting.stroke
        ? `${paintKey(s.stroke)}|${s.strokeOpacity}|${s.width}|${k}|${s.cap}|${s.join}|${s.miter}|${s.dash.join()}|${s.dashOffset}`
        : ''
    }`;
    const known = this.made.get(key);
    if (known) return known;
    const look = this.fresh(s, painting, k);
    this.made.set(key, look);
    return look;
  }

  private fresh(s: GraphicsState, painting: Painting, k: number): Appearance {
    const mm = this.mm();
    // A width of 0 is the thinnest line that a device draws (ISO 32000-2, 8.4.3.2).
    const width: Width =
      s.width === 0
        ? { kind: 'paper', mm: 0 }
        : mm === null
          ? { kind: 'drawing', value: s.width * k }
          : { kind: 'paper', mm: Number((s.width * k * mm).toPrecision(9)) };
    const dashed = painting.stroke && s.dash.some((l) => l > 0);
    const dash: Dash = dashed
      ? { kind: 'lengths', lengths: s.dash.map((l) => l * k), offset: s.dashOffset * k }
      : { kind: 'lengths', lengths: [], offset: 0 };
    return this.pool.share({
      stroke: painting.stroke ? s.stroke : NO_PAINT,
      fill: painting.fill ? s.fill : NO_PAINT,
      opacity: s.opacity,
      strokeOpacity: painting.stroke ? s.strokeOpacity : 1,
      fillOpacity: painting.fill ? s.fillOpacity : 1,
      width: painting.stroke ? width : { kind: 'drawing', value: 1 },
      dash,
      cap: painting.stroke ? s.cap : 'butt',
      join: painting.stroke ? s.join : 'miter',
      miter: painting.stroke ? s.miter : 4,
      fillRule: painting.rule,
      visible: true,
    });
  }
}

/** What tells a paint from others; gradients by all that they are. */
const paintKey = (p: Paint): string =>
  p.kind === 'rgb' ? String(p.rgb) : p.kind === 'none' ? '' : p.kind === 'pattern' ? p.id : JSON.stringify(p);

/** How the parser writes paths: a number for each command, then its coordinates. */
const DRAWN = { move: 0, line: 1, cubic: 2, quad: 3, close: 4 } as const;
/** How many coordinates follow each of them. */
const NUMBERS: Readonly<Record<number, number>> = {
  [DRAWN.move]: 2,
  [DRAWN.line]: 2,
  [DRAWN.cubic]: 6,
  [DRAWN.quad]: 4,
  [DRAWN.close]: 0,
};

/**
 * A path of the parser in the drawing; `null` where it is none. A path begins with `m` or `re` (ISO 32000-2, 8.5.2.1): pieces
 * before that have no start. They are left out, and `unstarted` says how many.
 */
export function pathOf(data: unknown, ctm: Affine): { path: PathData; unstarted: number } | null {
  if (!ArrayBuffer.isView(data)) return null;
  const d = data as unknown as ArrayLike<number>;
  const path = new PathBuilder();
  let unstarted = 0;
  const at = (i: number): readonly [number, number] => {
    const p = applyPoint(ctm, [d[i]!, d[i + 1]!, 0]);
    return [p[0], p[1]];
  };
  for (let i = 0; i < d.length;) {
    const command = d[i++]!;
    const numbers = NUMBERS[command];
    if (numbers === undefined) return null;
    if (command === DRAWN.move) path.moveTo(...at(i));
    else if (path.empty) unstarted += command === DRAWN.close ? 0 : 1;
    else if (command === DRAWN.line) path.lineTo(...at(i));
    else if (command === DRAWN.cubic) path.cubicTo(...at(i), ...at(i + 2), ...at(i + 4));
    else if (command === DRAWN.quad) path.quadTo(...at(i), ...at(i + 2));
    else path.close();
    i += numbers;
  }
  return { path: path.build(), unstarted };
}

/** A rectangle as a path under a map. */
export function boxPath(box: readonly number[], m: Affine): PathData {
  const [x0, y0, x1, y1] = box as [number, number, number, number];
  const path = new PathBuilder();
  const corners = [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ].map(([x, y]) => applyPoint(m, [x!, y!, 0]));
  corners.forEach((p, i) => (i === 0 ? path.moveTo(p[0], p[1]) : path.lineTo(p[0], p[1])));
  return path.close().build();
}

export const within = (outer: Affine, matrix: unknown): Affine => {
  const m = mapOf(matrix);
  return m ? compose(outer, m) : outer;
};
