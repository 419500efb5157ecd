import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';

/** Finds groups that say nothing: around one other group only, or around nothing. */
export const redundantGroups = defineCheck({
  id: 'redundant-groups',
  title: 'Needless groups',
  summary:
    'Groups around a single group, or around nothing, come from copying and grouping again; receivers that make layers of groups get empty ones.',
  carries: ['layers'],
  params: {
    depth: p.number({
      title: 'Report nests of at least',
      description: 'groups inside each other',
      default: 2,
      atLeast: 1,
    }),
  },
  mend: { step: 'tidy-groups', words: 'Tidy these groups', params: () => ({}) },
  run(drawing, params) {
    const least = Math.max(1, params.depth);
    const { nodes } = drawing;
    const children = nodes.map((): number[] => []);
    const held = nodes.map(() => 0);
    nodes.forEach((n, i) => {
      if (n.parent !== null) children[n.parent]!.push(i);
    });
    for (const e of drawing.entities) if (e.node !== undefined) held[e.node]!++;
    const filled = nodes.map(() => false);
    for (let i = nodes.length - 1; i >= 0; i--) {
      if (held[i]! > 0) filled[i] = true;
      const up = nodes[i]!.parent;
      if (filled[i] && up !== null) filled[up] = true;
    }
    const wraps = (i: number): boolean => held[i] === 0 && children[i]!.length === 1;
    const found: Finding[] = [];
    const put = (message: string): void =>
      void found.push({
        check: 'redundant-groups',
        severity: 'note',
        message,
        at: null,
        size: null,
        layer: null,
        ids: [],
      });
    const words = (i: number): string =>
      nodes[i]!.name ? `“${nodes[i]!.name}”` : `without a name${nodes[i]!.key ? ` (${nodes[i]!.key})` : ''}`;
    let empty = 0;
    nodes.forEach((n, i) => {
      if (!filled[i]) {
        // Only the outermost of empty groups, and not those that were hidden and left behind.
        if (!n.hidden && (n.parent === null || filled[n.parent])) empty++;
        return;
      }
      // The topmost of a nest speaks for it.
      if (!wraps(i) || (n.parent !== null && wraps(n.parent))) return;
      let depth = 1;
      let inner = i;
      while (wraps(inner)) {
        inner = children[inner]![0]!;
        depth++;
      }
      if (depth >= least)
        put(
          `The group ${words(i)} holds nothing but ${depth === 2 ? 'the group' : `${depth - 1} groups inside each other, down to`} ${words(inner)}`,
        );
    });
    if (empty > 0) put(empty === 1 ? 'One group holds nothing' : `${empty} groups hold nothing`);
    return found;
  },
});
