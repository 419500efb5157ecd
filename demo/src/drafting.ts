import type { Dimension, Draft, Drawing, Entity, PatternLine } from '@scalaria/core';
import { DRAFTING_DEFAULT, PathBuilder } from '@scalaria/core';

/** Colour by its number in the drafting palette. */
export const index = (i: number) => ({ kind: 'index', index: i }) as const;

/** Lines at an angle (degrees), `gap` apart, perhaps dashed. */
export const family = (degrees: number, gap: number, dashes: number[] = []): PatternLine => {
  const a = (degrees * Math.PI) / 180;
  return { angle: a, base: [0, 0], step: [-Math.sin(a) * gap, Math.cos(a) * gap], dashes };
};

/** A polyline in the plane from x, y, x, y, … */
export const outline = (points: readonly number[], closed = true, bulges?: readonly number[]) => ({
  kind: 'polyline',
  points: Float64Array.from(points),
  dim: 2,
  elevation: 0,
  closed,
  ...(bulges && { bulges: Float64Array.from(bulges) }),
});

/** A hatch over the area inside an outline: lines of a pattern, or solid. */
export function hatched(points: readonly number[], pattern: string, lines?: PatternLine[]): object {
  const p = new PathBuilder().moveTo(points[0]!, points[1]!);
  for (let i = 2; i < points.length; i += 2) p.lineTo(points[i]!, points[i + 1]!);
  return {
    kind: 'hatch',
    loops: [{ path: p.close().build(), flags: 1 }],
    pattern,
    elevation: 0,
    angle: 0,
    scale: 1,
    solid: !lines,
    look: { ...DRAFTING_DEFAULT, stroke: { kind: 'none' }, fill: { kind: 'byLayer' } },
    ...(lines && { lines }),
  };
}

/** A dimension in the style of the job; `more` says what is its own. */
export const dimensioned = (form: Dimension['form'], points: Dimension['points'], more: Partial<Dimension> = {}) => ({
  kind: 'dimension',
  form,
  points,
  override: '',
  style: 'KESTREL',
  rotation: 0,
  oblique: 0,
  textRotation: 0,
  ordinateX: false,
  flags: 32,
  ...more,
});

/** An entity of the drawing, with the looks of its layer unless it has its own. */
export const entityOf = (d: Draft<Drawing>, layer: string, e: object): Entity =>
  ({ id: d.nextId++, layer, look: DRAFTING_DEFAULT, ...e }) as Entity;
