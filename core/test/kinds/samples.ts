import type { Draft, Drawing, Entity, EntityKind } from '../../src/index.js';
import { DRAFTING_DEFAULT, PathBuilder, newLayer } from '../../src/index.js';
import { drawingOf } from '../helpers.js';
import { ONCE, PLAIN_DIMENSION, PLAIN_TEXT } from '../sketches.js';

type Sample<K extends EntityKind> = Omit<Extract<Entity, { kind: K }>, 'id' | 'layer' | 'look' | 'kind'>;
const font = { family: 'Sans', weight: 400, italic: false };
const bow = new PathBuilder().moveTo(0, 0).lineTo(8, 0).cubicTo(10, 2, 9, 5, 6, 6).close().build();

/** At least one of each kind, none of its numbers by chance the same as another: the compiler asks for those that are missing. */
export const SAMPLES: { [K in EntityKind]: Sample<K>[] } = {
  line: [{ start: [1, 2, 0], end: [5, -3, 0] }],
  point: [{ at: [7, 3, 0] }],
  circle: [
    { centre: [3, 4, 0], radius: 2 },
    { centre: [3, 4, 1], radius: 2, normal: [0, 0, -1] },
  ],
  arc: [
    { centre: [1, 1, 0], radius: 3, start: 0.3, end: 4 },
    { centre: [1, 1, 2], radius: 3, start: 0.3, end: 4, normal: [0, 0, -1] },
  ],
  ellipse: [
    { centre: [2, 0, 0], major: [3, 1, 0], ratio: 0.5, start: 0.2, end: 2.5 },
    { centre: [2, 1, 0], major: [3, 1, 0], ratio: 0.4, start: 0, end: 2 * Math.PI },
  ],
  polyline: [
    {
      points: Float64Array.of(0, 0, 4, 0, 4, 4),
      dim: 2,
      elevation: 0,
      closed: true,
      bulges: Float64Array.of(0.4, 0, -1),
    },
    {
      points: Float64Array.of(0, 0, 4, 0, 9, 4),
      dim: 2,
      elevation: 0,
      closed: false,
      widths: Float64Array.of(0.1, 0.2, 0.2, 0.3, 0.3, 0.3),
    },
    { points: Float64Array.of(0, 0, 1, 4, 0, 2, 4, 4, 3), dim: 3, elevation: 0, closed: false },
  ],
  spline: [
    {
      degree: 2,
      knots: Float64Array.of(0, 0, 0, 1, 1, 1),
      points: Float64Array.of(0, 0, 0, 2, 5, 0, 4, 0, 0),
      closed: false,
      periodic: false,
    },
    {
      degree: 2,
      knots: Float64Array.of(0, 0, 0, 1, 1, 1),
      points: Float64Array.of(0, 0, 0, 2, 5, 0, 4, 0, 0),
      weights: Float64Array.of(1, 3, 1),
      closed: false,
      periodic: false,
    },
  ],
  path: [{ path: bow }],
  hatch: [
    { loops: [{ path: bow, flags: 1 }], solid: true, pattern: 'SOLID', elevation: 0, angle: 0, scale: 1 },
    {
      loops: [{ path: bow, flags: 1 }],
      solid: false,
      pattern: 'ROWS',
      elevation: 0,
      angle: 0.2,
      scale: 1,
      lines: [{ angle: 0.2, base: [0.1, 0.3], step: [0.2, 0.7], dashes: [0.9, -0.4] }],
    },
  ],
  face: [
    {
      solid: true,
      corners: [
        [0, 0, 0],
        [5, 0, 0],
        [4, 3, 0],
      ],
    },
    {
      solid: false,
      corners: [
        [0, 0, 0],
        [5, 0, 0],
        [4, 3, 0],
        [0, 2, 0],
      ],
      hiddenEdges: 2,
    },
  ],
  mesh: [{ points: Float64Array.of(0, 0, 0, 6, 0, 0, 6, 5, 0, 0, 5, 0), faces: Int32Array.of(3, 0, 1, 2, 3, 0, 2, 3) }],
  ray: [{ at: [1, 1, 0], direction: [0.6, 0.8, 0], both: true }],
  text: [
    {
      text: 'KESTREL',
      at: [2, 3, 0],
      size: 2.5,
      sizeOf: 'capital',
      rotation: 0.3,
      widthFactor: 0.8,
      oblique: 0,
      horizontal: 'left',
      vertical: 'baseline',
      font,
    },
    {
      text: 'Row 7',
      at: [2, 3, 0],
      size: 2.5,
      sizeOf: 'em',
      rotation: 0,
      widthFactor: 1,
      oblique: 0.1,
      horizontal: 'right',
      vertical: 'bottom',
      font,
    },
  ],
  richText: [
    {
      content: 'Kestrel\\PRow',
      plain: 'Kestrel\nRow',
      at: [4, 8, 0],
      size: 1.5,
      width: 20,
      rotation: 0.2,
      horizontal: 'left',
      vertical: 'top',
      lineSpacing: 1,
      style: 'Standard',
    },
  ],
  insert: [
    { block: 'CLAMP', at: [4, 5, 0], scale: [1, 1, 1], rotation: 0.4, ...ONCE },
    {
      block: 'CLAMP',
      at: [4, 5, 0],
      scale: [2, 2, 2],
      rotation: 0,
      columns: 3,
      rows: 2,
      columnSpacing: 12,
      rowSpacing: 9,
      attributes: [
        {
          kind: 'text',
          id: 900,
          layer: 'A',
          look: DRAFTING_DEFAULT,
          text: 'B-17',
          at: [4, 6, 0],
          size: 1,
          sizeOf: 'capital',
          ...PLAIN_TEXT,
          font,
          tag: 'NO',
          hidden: false,
        } as never,
      ],
    },
  ],
  dimension: [
    {
      form: 'aligned',
      override: '',
      style: 'Standard',
      ...PLAIN_DIMENSION,
      flags: 1,
      points: { 10: [0, 5, 0], 11: [5, 5, 0], 13: [0, 0, 0], 14: [10, 0, 0] },
    } as never,
  ],
  leader: [{ points: Float64Array.of(0, 0, 0, 4, 4, 0, 8, 4, 0), arrow: true, curved: false, style: 'Standard' }],
  image: [{ at: [1, 2, 0], u: [0.02, 0.01, 0], v: [-0.01, 0.02, 0], pixels: [300, 200], file: 'sketch.png' } as never],
  viewport: [
    {
      at: [100, 80, 0],
      width: 120,
      height: 90,
      number: 2,
      on: true,
      target: [3, 4, 0],
      centre: [1, 2],
      viewHeight: 30,
      twist: 0.5,
      direction: [0, 0, 1],
      sheet: 'Sheet',
    } as never,
  ],
  opaque: [
    {
      format: 'dxf',
      type: 'WIDGET',
      raw: '',
      drawn: [{ kind: 'line', id: 1, layer: 'A', look: DRAFTING_DEFAULT, start: [0, 0, 0], end: [3, 4, 0] }],
    },
  ],
};

export const EVERY_KIND = Object.keys(SAMPLES) as EntityKind[];

/** A drawing with what inserts need, and the given samples. */
export function sampleDrawing(kinds: readonly EntityKind[], looks: Partial<Entity['look']> = {}): Draft<Drawing> {
  const list = kinds.flatMap((kind) =>
    SAMPLES[kind].map((s) => ({ ...s, kind, look: { ...DRAFTING_DEFAULT, ...looks } }) as never),
  );
  const d = drawingOf(list);
  const inner = drawingOf([
    { kind: 'line', start: [0, 0, 0], end: [3, 1, 0] } as never,
    { kind: 'circle', centre: [1, 1, 0], radius: 0.7 } as never,
  ]);
  d.blocks.set('clamp', {
    name: 'CLAMP',
    base: [0.5, 0.25, 0],
    entities: inner.entities.map((e, i) => ({ ...e, id: 800 + i, layer: '0' })),
  } as never);
  d.layers.push(newLayer('0'));
  d.nextId = 1000;
  return d;
}
