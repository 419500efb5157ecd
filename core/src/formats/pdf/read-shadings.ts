import type { GradientStop, Paint, Rgb } from '../../drawing/appearance.js';
import { meanColour } from '../../drawing/appearance.js';
import type { Affine } from '../../geometry/affine.js';
import { compose, planar } from '../../geometry/affine.js';

/** How the parser hands shadings out: an object that unpacks itself. */
interface Packed {
  getIR(): unknown;
}

export const rgbOf = (colour: unknown): Rgb | null =>
  typeof colour === 'string' && /^#[0-9a-f]{6}$/i.test(colour) ? parseInt(colour.slice(1), 16) : null;

/** The parser puts a stop so near each end of a shading that does not reach beyond it, for the clear ground there. */
const AT_ONCE = 2e-6;

function withoutEnds(stops: readonly GradientStop[]): GradientStop[] {
  const list = [...stops];
  if (list.length > 2 && list[1]!.offset - list[0]!.offset < AT_ONCE) list.shift();
  if (list.length > 2 && list[list.length - 1]!.offset - list[list.length - 2]!.offset < AT_ONCE) list.pop();
  return list;
}

/**
 * A shading as a paint (ISO 32000-2, 8.7.4.5): along an axis or between circles as a gradient where the model has it, as one colour
 * otherwise (`plain`). `toDrawing` leads from the space of the shading to the drawing. `null` where it is none.
 */
export function shadingPaint(found: unknown, toDrawing: Affine, id: string): { paint: Paint; plain: boolean } | null {
  const ir = typeof (found as Packed | null)?.getIR === 'function' ? (found as Packed).getIR() : found;
  if (!Array.isArray(ir)) return null;
  const parts = ir as unknown[];
  if (parts[0] === 'Mesh') {
    const colours = parts[3] as ArrayLike<number> | undefined;
    const n = Math.floor((colours?.length ?? 0) / 3);
    if (n === 0) return null;
    const mean = [0, 1, 2].map((c) => {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += colours![3 * i + c]!;
      return Math.round(sum / n);
    });
    return { paint: { kind: 'rgb', rgb: (mean[0]! << 16) | (mean[1]! << 8) | mean[2]! }, plain: true };
  }
  if (parts[0] !== 'RadialAxial') return null;
  const stops = withoutEnds(
    (parts[3] as [number, string][]).map(([offset, colour]) => ({ offset, rgb: rgbOf(colour) ?? 0, opacity: 1 })),
  );
  if (stops.length === 0) return null;
  const [p0, p1] = [parts[4] as [number, number], parts[5] as [number, number]];
  const rgb = meanColour(stops);
  const [dx, dy] = [p1[0] - p0[0], p1[1] - p0[1]];
  if (parts[1] === 'axial') {
    if (dx === 0 && dy === 0) return { paint: { kind: 'rgb', rgb: stops[stops.length - 1]!.rgb }, plain: true };
    // From (0, 0) to (1, 0): along the axis, and as far square to it.
    const own = compose(toDrawing, planar(dx, dy, -dy, dx, p0[0], p0[1]));
    return { paint: gradient('linear', stops, rgb, id, own), plain: false };
  }
  const [r0, r1] = [Number(parts[6]), Number(parts[7])];
  const large = Math.max(r0, r1);
  // One circle within the other is what the model holds: the outer one, and a smaller one in it.
  if (!(large > 0) || Math.hypot(dx, dy) + Math.min(r0, r1) > large)
    return { paint: { kind: 'rgb', rgb }, plain: true };
  const outwards = r1 >= r0;
  const [centre, inner, small] = outwards ? [p1, p0, r0] : [p0, p1, r1];
  const own = compose(toDrawing, planar(large, 0, 0, large, centre[0], centre[1]));
  const focus = [(inner[0] - centre[0]) / large, (inner[1] - centre[1]) / large, small / large] as const;
  const ordered = outwards ? stops : [...stops].reverse().map((s) => ({ ...s, offset: 1 - s.offset }));
  return { paint: gradient('radial', ordered, rgb, id, own, focus), plain: false };
}

const gradient = (
  form: 'linear' | 'radial',
  stops: GradientStop[],
  rgb: Rgb,
  id: string,
  own: Affine,
  focus?: readonly [number, number, number],
): Paint => ({
  kind: 'gradient',
  form,
  stops,
  rgb,
  id,
  place: { map: [own[0], own[1], own[3], own[4], own[9], own[10]], spread: 'pad', ...(focus && { focus }) },
});
