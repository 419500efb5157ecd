import type { Drawing } from './drawing.js';
import type { Entity } from './entity.js';

/** The groups that something lies in, the innermost first: by their places among the nodes, with their names. */
export function groupsAround({ nodes }: Drawing, { node }: Pick<Entity, 'node'>): { node: number; name: string }[] {
  const out: { node: number; name: string }[] = [];
  for (let n = node ?? null; n !== null; n = nodes[n]?.parent ?? null)
    out.push({ node: n, name: nodes[n]?.name ?? '' });
  return out;
}

/** Their names from the outermost, those without one left out. */
export const groupPath = (drawing: Drawing, e: Entity): string =>
  groupsAround(drawing, e)
    .flatMap(({ name }) => (name ? [name] : []))
    .reverse()
    .join(' / ');
