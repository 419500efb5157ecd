import type { GradientStop, Paint } from '../../drawing/appearance.js';
import type { Affine } from '../../geometry/affine.js';
import { compose, planar } from '../../geometry/affine.js';
import type { PdfObjects, PdfValue, Ref } from './objects.js';
import { name } from './objects.js';

type Gradient = Extract<Paint, { kind: 'gradient' }>;

const channels = (rgb: number): number[] => [(rgb >> 16) & 255, (rgb >> 8) & 255, rgb & 255].map((v) => v / 255);

/** Colours from stop to stop, as functions stitched together (ISO 32000-2, 7.10.3 and 7.10.4). */
function colourFunction(given: readonly GradientStop[], of: (rgb: number) => number): PdfValue {
  const sorted = [...given]
    .sort((a, b) => a.offset - b.offset)
    .map((s) => ({ offset: s.offset, c: channels(of(s.rgb)) }));
  const stops = [
    ...(sorted[0]!.offset > 0 ? [{ ...sorted[0]!, offset: 0 }] : []),
    ...sorted,
    ...(sorted[sorted.length - 1]!.offset < 1 ? [{ ...sorted[sorted.length - 1]!, offset: 1 }] : []),
  ];
  const pieces = stops.slice(1).map((to, i) => ({ FunctionType: 2, Domain: [0, 1], C0: stops[i]!.c, C1: to.c, N: 1 }));
  if (pieces.length === 1) return pieces[0]!;
  return {
    FunctionType: 3,
    Domain: [0, 1],
    Functions: pieces,
    Bounds: stops.slice(1, -1).map((s) => s.offset),
    Encode: pieces.flatMap(() => [0, 1]),
  };
}

/** The gradients of a file as patterns of shadings (ISO 32000-2, 8.7.4), each once. */
export class PaintWriter {
  private readonly refs = new Map<string, { resource: string; ref: Ref }>();
  constructor(private readonly objects: PdfObjects) {}

  /** The name of a gradient in its place; `null` for one whose place is not known. */
  reference(paint: Gradient, toPage: Affine, colour: (rgb: number) => number): string | null {
    if (!paint.place || paint.stops.length === 0) return null;
    const [a, b, c, d, e, f] = paint.place.map as [number, number, number, number, number, number];
    const m = compose(toPage, planar(a, b, c, d, e, f));
    const matrix = [m[0], m[1], m[3], m[4], m[9], m[10]];
    const key = JSON.stringify([paint.form, paint.stops, matrix, paint.place.focus, colour(0xff0000)]);
    const known = this.refs.get(key);
    if (known) return known.resource;
    const [fx = 0, fy = 0, fr = 0] = paint.place.focus ?? [];
    const ref = this.objects.add({
      Type: name('Pattern'),
      PatternType: 2,
      Matrix: matrix,
      Shading: {
        ShadingType: paint.form === 'linear' ? 2 : 3,
        ColorSpace: name('DeviceRGB'),
        Coords: paint.form === 'linear' ? [0, 0, 1, 0] : [fx, fy, fr, 0, 0, 1],
        Function: colourFunction(paint.stops, colour),
        Extend: [true, true],
      },
    });
    const resource = `P${this.refs.size + 1}`;
    this.refs.set(key, { resource, ref });
    return resource;
  }

  get resources(): Record<string, Ref> {
    return Object.fromEntries([...this.refs.values()].map(({ resource, ref }) => [resource, ref]));
  }
}
