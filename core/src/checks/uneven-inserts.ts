import type { Drawing } from '../drawing/drawing.js';
import { walk } from '../drawing/resolve.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { extentOf } from '../analysis/extent.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** Finds inserts under an unequal scale, and blocks that nothing inserts. */
export const unevenInserts = defineCheck({
  id: 'uneven-inserts',
  title: 'Blocks',
  summary:
    'Blocks stretched more one way than the other turn circles into ellipses; many receivers take only equal scales. Unused blocks make the file larger.',
  carries: ['links'],
  params: {
    unused: p.choice({
      title: 'Unused blocks',
      default: 'yes',
      choices: { yes: 'report', no: 'ignore' },
    }),
    deep: p.number({
      title: 'Report blocks nested deeper than',
      description: 'blocks inside each other',
      default: 4,
      atLeast: 1,
    }),
  },
  mend: { step: 'break-up-blocks', words: 'Break up all blocks', params: () => ({ named: '*', deep: true }) },
  run(drawing, params) {
    const found: Finding[] = [];
    const inserted = new Set<string>();
    const top = new Map<string, { x: number; y: number }>();
    const span = extentOf(drawing).diagonal / 20 || 1;
    const stretched = new Map<
      string,
      { count: number; at: { x: number; y: number }; layer: string; ids: number[]; k: string }
    >();
    walk(
      drawing,
      ({ entity: e, toWorld, resolved, depth }) => {
        if (e.kind === 'dimension' || e.kind === 'opaque') inserted.add((e.picture ?? '').toLowerCase());
        if (e.kind !== 'insert') return;
        inserted.add(e.block.toLowerCase());
        if (depth === 0 && !top.has(e.block.toLowerCase())) top.set(e.block.toLowerCase(), { x: e.at[0], y: e.at[1] });
        const [x, y] = [Math.abs(e.scale[0]), Math.abs(e.scale[1])];
        if (Math.abs(x - y) <= COINCIDENT * Math.max(x, y)) return;
        const known = stretched.get(e.block);
        if (known) {
          known.count++;
          if (known.ids.length < 1000) known.ids.push(e.id);
          return;
        }
        const p = [0, 1].map((i) => toWorld[i]! * e.at[0] + toWorld[3 + i]! * e.at[1] + toWorld[9 + i]!);
        stretched.set(e.block, {
          count: 1,
          at: { x: p[0]!, y: p[1]! },
          layer: resolved.layer,
          ids: [e.id],
          k: `${Number(x.toPrecision(4))} × ${Number(y.toPrecision(4))}`,
        });
      },
      { hidden: true },
    );
    for (const [block, s] of stretched) {
      const many = s.count > 1 ? `${s.count} placed blocks “${block}” are` : `A placed block “${block}” is`;
      found.push({
        check: 'uneven-inserts',
        severity: 'warning',
        message: `${many} stretched unequally (${s.k})`,
        at: s.at,
        size: null,
        span,
        layer: s.layer,
        ids: s.ids,
      });
    }
    const deepest = depthOf(drawing);
    for (const [key, depth] of deepest) {
      const name = drawing.blocks.get(key)?.name ?? key;
      // Only what is inserted in the drawing itself: the blocks within it are part of the same nest.
      if (depth > params.deep && top.has(key))
        found.push({
          check: 'uneven-inserts',
          severity: 'note',
          message: `“${name}” nests blocks ${depth} deep`,
          at: top.get(key)!,
          size: null,
          span,
          layer: null,
          ids: [],
        });
    }
    if (params.unused !== 'no') {
      const idle = [...drawing.blocks]
        .filter(([key, b]) => !b.sheet && !b.name.startsWith('*') && !inserted.has(key))
        .map(([, b]) => b.name);
      if (idle.length > 0)
        found.push({
          check: 'uneven-inserts',
          severity: 'note',
          message: `${idle.length === 1 ? 'One block is' : `${idle.length} blocks are`} never placed: ${idle.slice(0, 8).join(', ')}${idle.length > 8 ? ', …' : ''}`,
          at: null,
          size: null,
          layer: null,
          ids: [],
        });
    }
    return found;
  },
});

/** How many blocks deep each block goes, itself counted; one that contains itself is cut where it repeats. */
function depthOf(drawing: Drawing): Map<string, number> {
  const depths = new Map<string, number>();
  const trail = new Set<string>();
  const depth = (key: string): number => {
    const known = depths.get(key);
    if (known !== undefined || trail.has(key)) return known ?? 0;
    trail.add(key);
    let inner = 0;
    for (const e of drawing.blocks.get(key)?.entities ?? [])
      if (e.kind === 'insert') inner = Math.max(inner, depth(e.block.toLowerCase()));
    trail.delete(key);
    depths.set(key, inner + 1);
    return inner + 1;
  };
  for (const key of drawing.blocks.keys()) depth(key);
  return depths;
}
