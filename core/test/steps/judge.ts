import { boundsOf } from '../../src/drawing/bounds.js';
import { flattenEntity } from '../../src/drawing/flatten.js';
import { walk } from '../../src/drawing/resolve.js';
import { lengthOf } from '../../src/drawing/measures.js';
import type { Drawing, Entity, Kept } from '../../src/index.js';
import { runStep, stepById, plannedStep } from '../../src/index.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { drawingOf, fonts } from '../helpers.js';
import { ONCE, PLAIN_TEXT } from '../sketches.js';

export const line = (x0: number, y0: number, x1: number, y1: number, more: object = {}): never =>
  ({ kind: 'line', start: [x0, y0, 0], end: [x1, y1, 0], ...more }) as never;
export const chain = (points: readonly number[], closed = false, more: object = {}): never =>
  ({ kind: 'polyline', points: Float64Array.from(points), dim: 2, elevation: 0, closed, ...more }) as never;
/** Degrees, anticlockwise. */
export const arc = (x: number, y: number, radius: number, from: number, to: number, more: object = {}): never =>
  ({
    kind: 'arc',
    centre: [x, y, 0],
    radius,
    start: (from * Math.PI) / 180,
    end: (to * Math.PI) / 180,
    ...more,
  }) as never;
export const circle = (x: number, y: number, radius: number, more: object = {}): never =>
  ({ kind: 'circle', centre: [x, y, 0], radius, ...more }) as never;
/** A rectangle by its lower left corner. */
export const box = (x: number, y: number, w: number, h: number, more: object = {}): never =>
  chain([x, y, x + w, y, x + w, y + h, x, y + h], true, more);
/** Letters 3 high. */
export const text = (words: string, x: number, y: number, more: object = {}): never =>
  ({
    kind: 'text',
    text: words,
    at: [x, y, 0],
    size: 3,
    sizeOf: 'capital',
    ...PLAIN_TEXT,
    ...more,
  }) as never;
/** A block placed once at the origin, as it is. */
export const insert = (block: string, more: object = {}): never =>
  ({
    kind: 'insert',
    block,
    at: [0, 0, 0],
    scale: [1, 1, 1],
    rotation: 0,
    ...ONCE,
    ...more,
  }) as never;
export const drawn = (...entities: never[]): Drawing => drawingOf(entities);

/** A block of these entities, and inserts of it at scales, turned and moved. */
export function placed(
  inner: readonly never[],
  places: readonly {
    at: [number, number];
    scale?: [number, number, number];
    rotation?: number;
    normal?: [number, number, number];
  }[],
  name = 'PANEL',
): Drawing {
  const d = drawn(
    ...places.map(({ at, scale = [1, 1, 1], rotation = 0, normal }) =>
      insert(name, { at: [...at, 0], scale, rotation, ...(normal && { normal }) }),
    ),
  );
  const entities = drawingOf([...inner]).entities.map((e, i) => ({ ...e, id: 500 + i }));
  d.blocks.set(name.toLowerCase(), { name, base: [0, 0, 0], entities });
  return { ...d, nextId: 1000 };
}

/** Runs one step, and lets the proof hold what came out against what went in. */
export function stepOn(drawing: Drawing, id: string, params: Kept = {}) {
  const made = runStep(drawing, plannedStep(stepById(id)!, 's', params), { fonts: fonts() });
  const proof = provePrepared(drawing, made.drawing, made.stages, fonts());
  return {
    ...made,
    before: drawing,
    entities: made.drawing.entities,
    /** What the proof of preparing has against it. */
    against: [...proof.unexplained, ...proof.displaced].map((d) => `${d.title}: ${d.what} ${d.off ?? ''}`),
    reasons: made.ledger.map((r) => r.code),
    row: (code: string) => made.ledger.find((r) => r.code === code),
  };
}

/** The length of all curves in sight. */
export function lengthOfAll(d: Drawing): number {
  let sum = 0;
  walk(d, ({ entity, toWorld }) => void (sum += lengthOf(entity, toWorld)));
  return sum;
}

/** All curves in sight as fine chords: x0, y0, x1, y1 in turn. Curves alone, so that areas and letters stay out of it. */
function chordsOf(d: Drawing, fine: number): number[][] {
  const out: number[][] = [];
  walk(d, ({ entity, toWorld }) => {
    if (['insert', 'text', 'richText', 'hatch', 'dimension'].includes(entity.kind)) return;
    let [px, py] = [0, 0];
    flattenEntity(entity, toWorld, fine, {
      moveTo: (x, y) => void ([px, py] = [x, y]),
      lineTo: (x, y) => {
        out.push([px, py, x, y]);
        [px, py] = [x, y];
      },
    });
  });
  return out;
}

/** The largest distance from the curves of one drawing to those of another, by looking at every chord: slow and plain. */
function farthestFrom(a: Drawing, b: Drawing, fine: number): number {
  const to = chordsOf(b, fine);
  let most = 0;
  for (const [x0, y0, x1, y1] of chordsOf(a, fine))
    for (let k = 0; k <= 8; k++) {
      const [x, y] = [x0! + ((x1! - x0!) * k) / 8, y0! + ((y1! - y0!) * k) / 8];
      let best = Infinity;
      for (const [ax, ay, bx, by] of to) {
        const [dx, dy] = [bx! - ax!, by! - ay!];
        const l = dx * dx + dy * dy;
        const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax!) * dx + (y - ay!) * dy) / l));
        best = Math.min(best, Math.hypot(x - ax! - t * dx, y - ay! - t * dy));
      }
      most = Math.max(most, best);
    }
  return most;
}

/** The largest distance between the curves of two drawings, both ways, to about a millionth of their size. */
export function apart(a: Drawing, b: Drawing): number {
  const box = boundsOf(a);
  const fine = (box.empty ? 1 : box.diagonal) * 1e-6;
  return Math.max(farthestFrom(a, b, fine), farthestFrom(b, a, fine));
}

/** The corners of a polyline, x and y in turn, rounded to nine digits. */
export const cornersOf = (e: Entity | undefined): number[] =>
  e?.kind === 'polyline' ? [...e.points].map((v) => Number(v.toPrecision(9)) + 0) : [];

export const kindsOf = (list: readonly Entity[]): string => list.map((e) => e.kind).join(' ');
