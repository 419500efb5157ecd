import fc from 'fast-check';
import type { Drawing, Entity } from '../src/index.js';
import { DRAFTING_DEFAULT, PathBuilder } from '../src/index.js';
import { gridFaces } from '../src/formats/drafting/read-polyline.js';
import { plainOfRichText } from '../src/text/text-codes.js';
import { drawingOf } from './helpers.js';
import { canonical } from './dxf/canonical.js';
import { PLAIN_TEXT } from './sketches.js';

const n = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((v) => v + 0);
const p3 = fc.tuple(n, n, n);
const positive = fc.double({ min: 1e-3, max: 1e5, noNaN: true });
const angle = fc.integer({ min: 0, max: 35999 }).map((v) => ((v / 100) * Math.PI) / 180);
const layer = fc.constantFrom('A', 'Bemaßung', 'long layer name with blanks', '漢字');
/** The kinds that every version has. */
export const entity = fc.oneof(
  fc.record({ kind: fc.constant('line'), layer, start: p3, end: p3 }),
  fc.record({ kind: fc.constant('circle'), layer, centre: p3, radius: positive }),
  fc.record({ kind: fc.constant('arc'), layer, centre: p3, radius: positive, start: angle, end: angle }),
  fc.record({
    kind: fc.constant('ellipse'),
    layer,
    centre: p3,
    major: p3.filter((v) => Math.hypot(...v) > 1),
    ratio: fc.double({ min: 0.01, max: 1, noNaN: true }),
    start: angle,
    end: angle,
  }),
  fc.record({ kind: fc.constant('point'), layer, at: p3 }),
  fc
    .record({
      layer,
      pts: fc.array(fc.tuple(n, n, fc.constantFrom(0, 0, 1, -0.5, 0.25)), { minLength: 2, maxLength: 8 }),
      closed: fc.boolean(),
      elevation: n,
    })
    .map(({ layer: l, pts, closed, elevation }) => ({
      kind: 'polyline',
      layer: l,
      points: Float64Array.from(pts.flatMap(([x, y]) => [x, y])),
      dim: 2,
      elevation,
      closed,
      ...(pts.some((p) => p[2] !== 0) && { bulges: Float64Array.from(pts.map((p) => p[2])) }),
    })),
  fc.record({
    kind: fc.constant('text'),
    layer,
    text: fc
      .string({ minLength: 1, maxLength: 20, unit: 'grapheme' })
      .filter((t) => t.trim() === t && !/[\r\n\\%\u0000-\u001f\u0080-\u009f\u2028\u2029\ufeff]/.test(t) && t !== ''),
    at: p3,
    size: positive,
    sizeOf: fc.constant('capital'),
    rotation: angle,
    widthFactor: fc.constant(1),
    oblique: fc.constant(0),
    horizontal: fc.constant('left'),
    vertical: fc.constant('baseline'),
    style: fc.constant('Standard'),
  }),
);

const flat = fc.tuple(n, n);
const style = fc.constantFrom('Standard');
const direction = fc.tuple(n, n, n).filter((v) => Math.hypot(...v) > 1e-3);
const loop = fc.array(fc.tuple(n, n, fc.constantFrom(0, 0, 0.5)), { minLength: 3, maxLength: 6 }).map((v) => {
  const p = new PathBuilder().moveTo(v[0]![0], v[0]![1]);
  for (const [x, y] of v.slice(1)) p.lineTo(x, y);
  return { path: p.close().build(), flags: 1 };
});
/** The kinds that R12 has no word for, and those with many properties. */
export const richEntity = fc.oneof(
  fc.record({ kind: fc.constant('ray'), layer, at: p3, direction, both: fc.boolean() }),
  fc
    .record({ layer, xyz: fc.array(p3, { minLength: 4, maxLength: 9 }), weighted: fc.boolean() })
    .map(({ layer: l, xyz, weighted }) => {
      const count = xyz.length;
      const knots = [
        0,
        0,
        0,
        0,
        ...Array.from({ length: count - 4 }, (_, i) => i + 1),
        ...Array<number>(4).fill(count - 3),
      ];
      return {
        kind: 'spline',
        layer: l,
        degree: 3,
        knots: Float64Array.from(knots),
        points: Float64Array.from(xyz.flat()),
        ...(weighted && { weights: Float64Array.from(xyz, (_, i) => 1 + (i % 3) / 2) }),
        closed: false,
        periodic: false,
      };
    }),
  fc
    .record({ layer, xyz: fc.array(p3, { minLength: 2, maxLength: 6 }), closed: fc.boolean() })
    .map(({ layer: l, xyz, closed }) => ({
      kind: 'polyline',
      layer: l,
      points: Float64Array.from(xyz.flat()),
      dim: 3,
      elevation: 0,
      closed,
    })),
  fc.record({
    kind: fc.constant('leader'),
    layer,
    points: fc.array(p3, { minLength: 2, maxLength: 5 }).map((v) => Float64Array.from(v.flat())),
    arrow: fc.boolean(),
    curved: fc.boolean(),
    style,
    rest: fc.constant('100\nAcDbLeader\n73\n3\n'),
  }),
  fc
    .record({
      layer,
      loops: fc.array(loop, { minLength: 1, maxLength: 3 }),
      elevation: n,
      islands: fc.constantFrom(undefined, 'outer', 'ignore'),
      lines: fc.boolean(),
    })
    .map(({ layer: l, loops, elevation, islands, lines }) => ({
      kind: 'hatch',
      layer: l,
      loops,
      solid: !lines,
      pattern: lines ? 'ROWS' : 'SOLID',
      elevation,
      angle: 0,
      scale: 1,
      ...(islands && { islands }),
      ...(lines && { lines: [{ angle: 0, base: [0, 0], step: [0, 3], dashes: [2, -1] }] }),
    })),
  fc
    .record({
      kind: fc.constant('face'),
      solid: fc.boolean(),
      layer,
      corners: fc.oneof(fc.tuple(p3, p3, p3), fc.tuple(p3, p3, p3, p3)),
    })
    .map((f) => {
      // A corner that meets the one before it counts as none.
      const [a, b, c, d]: readonly (readonly number[] | undefined)[] = f.corners;
      return d && d.every((v, i) => v === c![i]) ? { ...f, corners: [a, b, c] } : f;
    }),
  fc
    .record({
      layer,
      m: fc.integer({ min: 2, max: 4 }),
      k: fc.integer({ min: 2, max: 4 }),
      closedM: fc.boolean(),
      closedN: fc.boolean(),
      seed: n,
    })
    .map(({ layer: l, m, k, closedM, closedN, seed }) => ({
      kind: 'mesh',
      layer: l,
      points: Float64Array.from({ length: 3 * m * k }, (_, i) => seed + i),
      faces: gridFaces(m, k, closedM, closedN),
      grid: { m, n: k, closedM, closedN },
    })),
  fc.record({ layer, xyz: fc.array(p3, { minLength: 4, maxLength: 4 }) }).map(({ layer: l, xyz }) => ({
    kind: 'mesh',
    layer: l,
    points: Float64Array.from(xyz.flat()),
    faces: Int32Array.of(3, 0, 1, 2, 4, 0, -2, 2, 3),
  })),
  fc
    .record({
      layer,
      form: fc.constantFrom('linear', 'aligned', 'angular', 'angular3', 'radius', 'diameter', 'ordinate'),
      a: p3,
      b: p3,
      c: p3,
      d: p3,
      override: fc.constantFrom('', '<>', '12', ' '),
      turn: angle,
    })
    .map(({ layer: l, form, a, b, c, d, override, turn }) => {
      const straight = form === 'linear' || form === 'aligned';
      return {
        kind: 'dimension',
        layer: l,
        form,
        override,
        style: 'Standard',
        picture: 'P',
        rotation: form === 'linear' ? turn : 0,
        oblique: 0,
        textRotation: 0,
        ordinateX: form === 'ordinate',
        flags: 32,
        points: { 10: a, 11: d, 13: b, 14: c, ...(!straight && { 15: d }), ...(form === 'angular' && { 16: a }) },
      };
    }),
  fc
    .record({ layer, at: p3, u: direction, v: direction, w: fc.integer({ min: 1, max: 900 }) })
    .map(({ layer: l, at, u, v, w }) => ({
      kind: 'image',
      layer: l,
      cover: true,
      at,
      u,
      v,
      pixels: [w, 1],
      ...(w % 2 >= 1 && { clip: Float64Array.of(-0.5, -0.5, w - 0.5, 0.25) }),
      rest: '100\nAcDbWipeout\n70\n7\n',
    })),
  fc
    .record({
      layer,
      at: p3,
      size: positive,
      width: positive,
      turn: angle,
      column: fc.constantFrom('left', 'centre', 'right'),
      row: fc.constantFrom('top', 'middle', 'bottom'),
      words: fc.array(fc.constantFrom('Kestrel', '{\\C1;Row}', '\\P', 'ö漢', '\\S1/2;'), { maxLength: 90 }),
    })
    .map(({ layer: l, at, size, width, turn, column, row, words }) => {
      const content = words.join(' ');
      return {
        kind: 'richText',
        layer: l,
        content,
        plain: plainOfRichText(content),
        at,
        size,
        width,
        rotation: turn,
        horizontal: column,
        vertical: row,
        lineSpacing: 1,
        style: 'Standard',
      };
    }),
  fc
    .record({
      layer,
      at: p3,
      scale: fc.tuple(positive, positive, positive),
      turn: angle,
      columns: fc.integer({ min: 1, max: 3 }),
      texts: fc.array(flat, { maxLength: 2 }),
    })
    .map(({ layer: l, at, scale, turn, columns, texts }) => ({
      kind: 'insert',
      layer: l,
      block: 'P',
      at,
      scale,
      rotation: turn,
      columns,
      rows: 1,
      columnSpacing: columns > 1 ? 5 : 0,
      rowSpacing: 0,
      attributes: texts.map(([x, y], i) => ({
        kind: 'text',
        id: 500 + i,
        layer: l,
        look: DRAFTING_DEFAULT,
        text: 'B-17',
        at: [x, y, 0],
        size: 2,
        sizeOf: 'capital',
        ...PLAIN_TEXT,
        style: 'Standard',
        tag: 'NO',
        hidden: false,
      })),
    })),
);
/** Properties that most kinds have. */
export const dressed = fc
  .record({
    e: fc.oneof(entity, richEntity),
    colour: fc.constantFrom(null, 3, 0x336699),
    weight: fc.constantFrom(null, 0.35),
    unseen: fc.boolean(),
    dash: fc.boolean(),
    note: fc.boolean(),
  })
  .map(({ e, colour, weight, unseen, dash, note }) => {
    const filled = e.kind === 'hatch' || (e.kind === 'face' && (e as { solid: boolean }).solid);
    const paint =
      colour === null
        ? { kind: 'byLayer' }
        : colour < 256
          ? { kind: 'index', index: colour }
          : { kind: 'rgb', rgb: colour, index: 5 };
    const look = {
      ...DRAFTING_DEFAULT,
      stroke: filled ? { kind: 'none' } : paint,
      fill: filled ? paint : { kind: 'none' },
      visible: !unseen,
      width: weight === null ? { kind: 'byLayer' } : { kind: 'paper', mm: weight },
      dash: dash ? { kind: 'linetype', name: 'DOTS', scale: 2.5 } : DRAFTING_DEFAULT.dash,
    };
    return { ...e, look, ...(note && { extended: '1001\nKESTREL\n1000\nkept\n1040\n2.5\n' }) };
  });

/** What must be the same: everything but ids and handles. */
export const bare = (d: Drawing): unknown[] => d.entities.map(({ id: _i, key: _k, look: _l, ...e }: Entity) => e);

/** A drawing of generated entities, with what they refer to. */
export function generatedDrawing(list: readonly unknown[]): Drawing {
  const d = drawingOf(list as never);
  d.applications = ['KESTREL'];
  d.linetypes = [{ name: 'DOTS', description: '', pattern: [0, -1] }];
  const point = { kind: 'point', at: [0, 0, 0], id: 900, layer: '0', look: DRAFTING_DEFAULT } as const;
  d.blocks.set('p', { name: 'P', base: [0, 0, 0], entities: [point] });
  return d;
}

/** What the entities of a drawing say, handles aside. */
export const words = (d: Drawing): unknown[] =>
  (canonical(d)['entities'] as Record<string, unknown>[]).map((e) => {
    const { key: _k, ...own } = e;
    const attributes = own['attributes'] as Record<string, unknown>[] | undefined;
    return { ...own, ...(attributes && { attributes: attributes.map(({ key: _a, ...rest }) => rest) }) };
  });
