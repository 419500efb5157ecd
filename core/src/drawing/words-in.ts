import type { Entity } from './entity.js';

/** What a text says, without its codes; `null` for what is no text. */
export const wordsIn = (e: Entity): string | null =>
  e.kind === 'text' ? e.text : e.kind === 'richText' ? e.plain : null;
