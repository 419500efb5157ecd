import { IDENTITY } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { CHORDS } from '../geometry/tolerance.js';
import type { GradientStop, Paint, Rgb } from './appearance.js';
import { DRAFTING_DEFAULT, mixed } from './appearance.js';
import type { Hatch, HatchGradient, HatchLoop } from './entity.js';
import { hatchRings } from './hatch-area.js';

type Gradient = Extract<Paint, { kind: 'gradient' }>;

/*
 * Gradients of hatches: two colours, of which the first begins where the boundary does along an angle and the second ends where
 * it ends (DXF reference, HATCH, groups 450 to 470, LINEAR, unshifted). The other eight forms are kept, and shown plain.
 */

const PLAIN: Omit<Hatch, 'loops'> = {
  kind: 'hatch',
  id: 0,
  layer: '',
  look: DRAFTING_DEFAULT,
  solid: true,
  pattern: 'SOLID',
  elevation: 0,
  angle: 0,
  scale: 1,
};

/** Where a boundary begins and ends along a direction (radians), in the plane of the hatch. */
function extentAlong(loops: readonly HatchLoop[], angle: number): [from: number, to: number] {
  const box = new Box2();
  for (const l of loops)
    for (let i = 0; i + 1 < l.path.data.length; i += 2) box.add(l.path.data[i]!, l.path.data[i + 1]!);
  const bare: Hatch = { ...PLAIN, loops: [...loops] };
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  let [from, to] = [Infinity, -Infinity];
  for (const ring of hatchRings(bare, IDENTITY, (box.diagonal || 1) * CHORDS))
    for (let i = 0; i + 1 < ring.length; i += 2) {
      const along = ring[i]! * c + ring[i + 1]! * s;
      from = Math.min(from, along);
      to = Math.max(to, along);
    }
  return [from, to];
}

/** How a hatch with a gradient of two colours along a line is painted, in its plane; `null` for all others. */
export function paintOfHatch({ gradient, loops }: Hatch): Gradient | null {
  if (gradient?.name.toUpperCase() !== 'LINEAR' || gradient.oneColour || gradient.shift !== 0) return null;
  const [first, last] = [gradient.stops[0], gradient.stops.at(-1)];
  if (!first || !last || first === last) return null;
  const [from, to] = extentAlong(loops, gradient.angle);
  if (!(to > from)) return null;
  const [c, s] = [Math.cos(gradient.angle), Math.sin(gradient.angle)];
  const stops = [
    { offset: 0, rgb: first.rgb, opacity: 1 },
    { offset: 1, rgb: last.rgb, opacity: 1 },
  ];
  const map = [(to - from) * c, (to - from) * s, -s, c, from * c, from * s];
  return {
    kind: 'gradient',
    form: 'linear',
    stops,
    rgb: mixed(first.rgb, last.rgb, 0.5),
    id: '',
    place: { map, spread: 'pad' },
  };
}

/** Places along a boundary at which a gradient is asked for its colour. */
const ASKED = 33;
/** Levels of a channel by which nobody sees colours differ. */
const ALIKE = 3;

/**
 * The two colours that come nearest to a gradient along a line over a boundary: by least squares, channel for channel; and by how many
 * levels of a channel they are off at most. `null` where a gradient does not run along a line, or hardly changes there.
 */
export function twoColours(paint: Paint, loops: readonly HatchLoop[]): { gradient: HatchGradient; off: number } | null {
  if (paint.kind !== 'gradient' || paint.form !== 'linear' || !paint.place || paint.stops.length === 0) return null;
  const [a, b, c, d, e, f] = paint.place.map as [number, number, number, number, number, number];
  const det = a * d - b * c;
  if (det === 0 || !Number.isFinite(1 / det)) return null;
  // The offset at a point grows along this direction: the first row of the inverse.
  const [gx, gy] = [d / det, -c / det];
  const angle = Math.atan2(gy, gx);
  const steep = Math.hypot(gx, gy);
  const [from, to] = extentAlong(loops, angle);
  if (!(to > from)) return null;
  const start = -(gx * e + gy * f);
  const asked = Array.from({ length: ASKED }, (_, i) => i / (ASKED - 1));
  const colours = asked.map((t) => colourAt(paint, start + steep * (from + (to - from) * t)));
  const fitted = [16, 8, 0].map((shift) => {
    const values = colours.map((rgb) => (rgb >> shift) & 255);
    const mean = values.reduce((x, y) => x + y, 0) / ASKED;
    const slope =
      asked.reduce((sum, t, i) => sum + (t - 0.5) * (values[i]! - mean), 0) /
      asked.reduce((sum, t) => sum + (t - 0.5) ** 2, 0);
    const ends = [mean - slope / 2, mean + slope / 2].map((v) => Math.min(255, Math.max(0, Math.round(v))));
    return { ends, off: Math.max(...asked.map((t, i) => Math.abs(ends[0]! + (ends[1]! - ends[0]!) * t - values[i]!))) };
  });
  if (fitted.every(({ ends }) => Math.abs(ends[1]! - ends[0]!) < ALIKE)) return null;
  const rgb = (k: number): Rgb => fitted.reduce((sum, { ends }) => (sum << 8) | ends[k]!, 0);
  const stops = [
    { offset: 0, rgb: rgb(0) },
    { offset: 1, rgb: rgb(1) },
  ];
  return {
    gradient: { name: 'LINEAR', angle, shift: 0, oneColour: false, tint: 1, stops },
    off: Math.max(...fitted.map((x) => x.off)),
  };
}

/** The colour of a gradient at an offset, clear stops as if they were not. */
function colourAt({ stops, place }: Gradient, at: number): Rgb {
  const spread = place?.spread ?? 'pad';
  let t = at;
  if (spread === 'repeat') t = at - Math.floor(at);
  else if (spread === 'reflect') t = 1 - Math.abs((((at % 2) + 2) % 2) - 1);
  const sorted: readonly GradientStop[] = [...stops].sort((p, q) => p.offset - q.offset);
  const next = sorted.findIndex((s) => s.offset > t);
  if (next === 0) return sorted[0]!.rgb;
  if (next < 0) return sorted[sorted.length - 1]!.rgb;
  const [p, q] = [sorted[next - 1]!, sorted[next]!];
  return mixed(p.rgb, q.rgb, (t - p.offset) / (q.offset - p.offset));
}
