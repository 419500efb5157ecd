import { walk } from '../drawing/resolve.js';
import { pathTail } from '../analysis/named-files.js';
import { applyPoint } from '../geometry/affine.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';

/** Finds pictures and reference drawings that the file only names: they do not travel with it. */
export const missingFiles = defineCheck({
  id: 'missing-files',
  title: 'Pictures and references',
  summary:
    'A file that only names its pictures and reference drawings shows holes wherever those are not at the same path.',
  carries: ['links'],
  params: {},
  run(drawing) {
    const found = new Map<string, Finding>();
    const tell = (
      key: string,
      message: string,
      at: { x: number; y: number } | null,
      layer: string,
      id: number,
    ): void => {
      const known = found.get(key);
      if (known) known.ids.push(id);
      else found.set(key, { check: 'missing-files', severity: 'warning', message, at, size: null, layer, ids: [id] });
    };
    walk(
      drawing,
      ({ entity: e, toWorld, resolved }) => {
        if (e.kind === 'image' && !e.cover && !e.data) {
          const [x, y] = applyPoint(toWorld, e.at);
          const name = e.file ? `“${pathTail(e.file)}”` : 'without a name';
          tell(`picture ${e.file ?? ''}`, `A picture ${name} is not in the file`, { x, y }, resolved.layer, e.id);
        }
        if (e.kind !== 'insert') return;
        const block = drawing.blocks.get(e.block.toLowerCase());
        if (!block?.reference) return;
        const [x, y] = applyPoint(toWorld, e.at);
        const empty = block.entities.length === 0;
        tell(
          `reference ${block.reference}`,
          `The reference drawing “${pathTail(block.reference)}” ${empty ? 'is missing' : 'points to a file elsewhere'}`,
          { x, y },
          resolved.layer,
          e.id,
        );
      },
      { hidden: true },
    );
    return [...found.values()];
  },
});
