import type { Entity } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import type { Drawing } from '../drawing/drawing.js';

/** A length as people read it: four digits that count, and the unit where the drawing has one. */
export const lengthWords = (drawing: Drawing, value: number): string =>
  `${Number(value.toPrecision(4))}${drawing.unit ? ` ${drawing.unit.unit}` : ''}`;

/** `1 text`, `3 texts`. */
export const countWords = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** `a circle`, `an arc`: a kind with its article. */
export const aKind = (kind: Entity['kind']): string => {
  const name = kindName(kind);
  return `${/^[aeiou]/.test(name) ? 'an' : 'a'} ${name}`;
};

/** The same at the beginning of a sentence. */
export const AKind = (kind: Entity['kind']): string => `A${aKind(kind).slice(1)}`;
