import { PLAIN_TEXT } from '../drawing/plain-text.js';
import type { Appearance } from '../drawing/appearance.js';
import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import type { Drawing } from '../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { PathData } from '../geometry/path.js';
import { parsePathData } from '../geometry/path-data.js';

/** An entity of an example, its id, layer and look filled in where nothing is said of them. */
export type Sketch = { readonly kind: Entity['kind'] } & { readonly [field: string]: unknown };

const look = (more?: Partial<Appearance>): { look?: Appearance } =>
  more ? { look: { ...DRAFTING_DEFAULT, ...more } } : {};

/** Entities of examples in few words, in millimetres. */
export const sketch = {
  line: (x0: number, y0: number, x1: number, y1: number, layer = '0'): Sketch => ({
    kind: 'line',
    layer,
    start: [x0, y0, 0],
    end: [x1, y1, 0],
  }),
  chain: (points: readonly number[], closed = false, more: object = {}): Sketch => ({
    kind: 'polyline',
    points: Float64Array.from(points),
    dim: 2,
    elevation: 0,
    closed,
    ...more,
  }),
  circle: (x: number, y: number, radius: number, more: object = {}): Sketch => ({
    kind: 'circle',
    centre: [x, y, 0],
    radius,
    ...more,
  }),
  /** Angles in degrees, anticlockwise. */
  arc: (x: number, y: number, radius: number, from: number, to: number, more: object = {}): Sketch => ({
    kind: 'arc',
    centre: [x, y, 0],
    radius,
    start: (from * Math.PI) / 180,
    end: (to * Math.PI) / 180,
    ...more,
  }),
  /** Path data as SVG writes it, y upwards. */
  path: (data: string, paint?: Partial<Appearance>, more: object = {}): Sketch => ({
    kind: 'path',
    path: sketchPath(data),
    ...look(paint),
    ...more,
  }),
  text: (text: string, x: number, y: number, size: number, more: object = {}): Sketch => ({
    ...PLAIN_TEXT,
    text,
    at: [x, y, 0],
    size,
    ...more,
  }),
};

export const sketchPath = (data: string): PathData => parsePathData(data).path;

/** A drawing in millimetres of the entities sketched. */
export function exampleDrawing(entities: readonly Sketch[], more: Partial<Drawing> = {}): () => Drawing {
  return () => {
    const made = entities.map((e, i) => ({ layer: '0', look: DRAFTING_DEFAULT, ...e, id: i + 1 }) as unknown as Entity);
    return {
      ...emptyDrawing('dxf', '2010'),
      unit: { unit: 'mm', factor: 1 },
      entities: made,
      layers: [...new Set(made.map((e) => e.layer))].map((n) => newLayer(n)),
      nextId: 1000,
      ...more,
    };
  };
}
