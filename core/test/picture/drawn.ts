import type { Draft, Drawing, Entity, Kept, Target } from '../../src/index.js';
import { DEFAULT_TARGETS, DRAFTING_DEFAULT, deliver, emptyDrawing, newLayer } from '../../src/index.js';
import { readPixels } from '../../src/formats/picture/read-pixels.js';
import type { Pixels } from '../../src/formats/picture/png.js';
import { fonts } from '../helpers.js';

export { fonts } from '../helpers.js';

/** An object that has no id yet. */
export type Bare = Entity extends infer E ? (E extends Entity ? Omit<E, 'id'> : never) : never;

/** A drawing in millimetres of these objects, on a layer. */
export function drawingOf(entities: readonly Bare[]): Draft<Drawing> {
  const d = emptyDrawing('dxf', '2010');
  d.unit = { unit: 'mm', factor: 1 };
  d.layers.push(newLayer('0'));
  d.entities.push(...entities.map((e, i) => ({ ...e, id: i + 1 }) as Entity));
  d.nextId = entities.length + 1;
  return d;
}

/** Lines of a width on paper (x, y to x, y), in a colour. */
export const lines = (ends: readonly number[], mm = 0.25, rgb = 0): Bare[] =>
  Array.from({ length: ends.length / 4 }, (_, i) => ({
    kind: 'line',
    layer: '0',
    look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb }, width: { kind: 'paper', mm }, cap: 'butt' },
    start: [ends[4 * i]!, ends[4 * i + 1]!, 0],
    end: [ends[4 * i + 2]!, ends[4 * i + 3]!, 0],
  }));

export const lineDrawing = (ends: readonly number[], mm = 0.25): Drawing => drawingOf(lines(ends, mm));

/** A filled rectangle without a line. */
export const block = (x0: number, y0: number, x1: number, y1: number, rgb = 0): Bare => ({
  kind: 'polyline',
  layer: '0',
  look: { ...DRAFTING_DEFAULT, stroke: { kind: 'none' }, fill: { kind: 'rgb', rgb } },
  points: Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1),
  dim: 2,
  elevation: 0,
  closed: true,
});

/** A picture of a drawing, with the pixels of its file. */
export function pictured(
  d: Drawing,
  options: Kept,
  format: 'png' | 'jpeg' = 'png',
): ReturnType<typeof deliver> & { pixels: Pixels; at: (x: number, y: number) => number[] } {
  const target: Target = { ...DEFAULT_TARGETS[format], options };
  const made = deliver(d, target, 'a', fonts());
  const pixels = readPixels(made.bytes)!;
  const { channels, width } = pixels;
  const at = (x: number, y: number): number[] => [
    ...pixels.data.subarray(channels * (y * width + x), channels * (y * width + x + 1)),
  ];
  return { ...made, pixels, at };
}
