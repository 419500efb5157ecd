import type { PartBase } from '../../drawing/arrows.js';
import { arrowHead } from '../../drawing/arrows.js';
import type { Entity } from '../../drawing/entity.js';
import type { Vec3 } from '../../geometry/vector.js';
import type { RawTag } from './raw-tags.js';
import { handleOf } from './raw-tags.js';
import { plainOfRichText } from '../../text/text-codes.js';

/** A node of the braces in a MULTILEADER's context data: `302 LEADER{` to `303 }`, and so on. */
interface Node {
  name: string;
  tags: RawTag[];
  inner: Node[];
}

const OPENS = /^(CONTEXT_DATA|LEADER|LEADER_LINE)\{$/;

function treeOf(tags: readonly RawTag[]): Node {
  const root: Node = { name: '', tags: [], inner: [] };
  const trail = [root];
  for (const tag of tags) {
    const here = trail[trail.length - 1]!;
    const [code, value] = tag;
    const text = value.trim();
    if ((code === 300 || code === 302 || code === 304) && OPENS.test(text)) {
      const node: Node = { name: text.slice(0, -1), tags: [], inner: [] };
      here.inner.push(node);
      trail.push(node);
    } else if ((code === 301 || code === 303 || code === 305) && text === '}') {
      if (trail.length > 1) trail.pop();
    } else here.tags.push(tag);
  }
  return root;
}

const number = (n: Node, code: number, otherwise = 0): number => {
  const v = n.tags.find((t) => t[0] === code)?.[1];
  const d = v === undefined ? otherwise : Number(v);
  return Number.isFinite(d) ? d : otherwise;
};
const point = (n: Node, code: number): Vec3 => [number(n, code), number(n, code + 10), number(n, code + 20)];
const points = (n: Node, code: number): Vec3[] => {
  const out: Vec3[] = [];
  n.tags.forEach((t, i) => {
    if (t[0] !== code) return;
    const at = (k: number): number => {
      const next = n.tags[i + k];
      return next && next[0] === code + 10 * k ? Number(next[1]) || 0 : 0;
    };
    out.push([Number(t[1]) || 0, at(1), at(2)]);
  });
  return out;
};

/**
 * What a MULTILEADER shows, from its context data (DXF reference, "MLeader"): leader lines with arrowheads and
 * landings, and its text or block.
 */
export function multileaderParts(
  tags: readonly RawTag[],
  part: PartBase,
  blockName: (handle: string) => string | undefined,
): Entity[] {
  const root = treeOf(tags);
  const context = root.inner.find((n) => n.name === 'CONTEXT_DATA');
  if (!context) return [];
  const { normal: _n, ...flat } = part;
  const out: Entity[] = [];
  const arrow = number(context, 140, number(root, 42));
  const invisible = number(root, 170, 1) === 0;
  for (const leader of context.inner) {
    if (leader.name !== 'LEADER' || invisible) continue;
    const end = point(leader, 10);
    const direction = point(leader, 11);
    const landing = number(leader, 40);
    const far: Vec3 = [
      end[0] + direction[0] * landing,
      end[1] + direction[1] * landing,
      end[2] + direction[2] * landing,
    ];
    for (const line of leader.inner) {
      const vertices = [...points(line, 10), end];
      if (landing > 0) vertices.push(far);
      if (vertices.length < 2) continue;
      const xyz = Float64Array.from(vertices.flat());
      out.push({ kind: 'polyline', ...flat, points: xyz, dim: 3, elevation: 0, closed: false });
      const head = arrowHead(flat, vertices[0]!, vertices[1]!, arrow);
      if (head) out.push(head);
    }
  }
  const content = context.tags.find((t) => t[0] === 304)?.[1];
  if (content !== undefined && number(context, 290) === 1) {
    const plain = plainOfRichText(content);
    const align = (['left', 'centre', 'right'] as const)[number(context, 171, 1) - 1] ?? 'left';
    out.push({
      kind: 'richText',
      ...flat,
      content,
      plain,
      at: point(context, 12),
      size: number(context, 41, 2.5),
      width: number(context, 43),
      rotation: number(context, 42),
      horizontal: align,
      vertical: 'top',
      lineSpacing: number(context, 45, 1) || 1,
      style: 'Standard',
    });
  }
  const block = handleOf(context.tags.find((t) => t[0] === 341)?.[1]);
  const name = block === null ? undefined : blockName(block);
  if (name !== undefined && number(context, 296) === 1) {
    const scale = context.tags.some((t) => t[0] === 16) ? point(context, 16) : ([1, 1, 1] as Vec3);
    out.push({
      kind: 'insert',
      ...flat,
      block: name,
      at: point(context, 15),
      scale,
      rotation: number(context, 46),
      columns: 1,
      rows: 1,
      columnSpacing: 0,
      rowSpacing: 0,
      attributes: [],
    });
  }
  return out;
}
