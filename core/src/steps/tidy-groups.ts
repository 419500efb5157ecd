import type { GroupNode } from '../drawing/drawing.js';
import type { Draft, Entity } from '../drawing/entity.js';
import { namePattern } from '../drawing/name-pattern.js';
import { because } from '../drawing/reasons.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { changeAll } from './all-entities.js';
import { tellChange } from './tell.js';

/** Names that programs give by themselves: a word for a group or a shape, and a number. */
const SAYS_NOTHING = /^(<?(g|grp|group|layer|path|svg|shape|object|element|rect|use)>?)[ _-]*[\d_-]*$/i;

/** Takes away groups that say nothing. */
export const tidyGroups = defineStep({
  id: 'tidy-groups',
  title: 'Tidy groups',
  summary:
    'Groups that hold nothing, hold one group alone, or have a name that says nothing give way to what is in them.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing(
      [sketch.path('M0 0H16V16H0Z', undefined, { node: 2 }), sketch.path('M24 0H40V16H24Z', undefined, { node: 2 })],
      {
        nodes: [node('Group 12', null), node('', 0), node('emblem', 1), node('empty', null)],
      },
    ),
  },
  params: {
    empty: p.yesNo({ title: 'Groups that hold nothing', default: true }),
    single: p.yesNo({ title: 'Groups around one group', default: true }),
    nameless: p.yesNo({ title: 'Groups without a name that says something', default: true }),
    names: p.text({
      when: { nameless: true },
      title: 'Other names that say nothing',
      description: '* stands for any letters; several apart by commas',
      default: '',
      maxLength: 2000,
    }),
  },
  run(drawing, params, ctx) {
    const { nodes } = drawing;
    if (nodes.length === 0) return drawing;
    ctx.look(nodes.length);
    const others = params.names.trim() === '' ? () => false : namePattern(params.names);
    const generic = (name: string): boolean => SAYS_NOTHING.test(name) || others(name);
    const children = nodes.map(() => 0);
    const held = nodes.map(() => 0);
    for (const n of nodes) if (n.parent !== null) children[n.parent]!++;
    const all = [...drawing.entities, ...[...drawing.blocks.values()].flatMap((b) => b.entities)];
    for (const e of all) if (e.node !== undefined) held[e.node]!++;
    const speaks = (n: GroupNode): boolean => n.name.trim() !== '' && !generic(n.name.trim());
    const gone = nodes.map(() => false);
    let [empty, single, nameless, bothSpeak] = [0, 0, 0, 0];
    // From the innermost on, so that a group around an empty one is empty too. Hidden ones carry their state and stay.
    for (let i = nodes.length - 1; i >= 0; i--) {
      const n = nodes[i]!;
      if (n.hidden) continue;
      const up = n.parent;
      if (params.empty && held[i] === 0 && children[i] === 0) {
        gone[i] = true;
        empty++;
        if (up !== null) children[up]!--;
      } else if (params.nameless && !speaks(n)) {
        gone[i] = true;
        nameless++;
        if (up !== null) {
          children[up]! += children[i]! - 1;
          held[up]! += held[i]!;
        }
      } else if (params.single && held[i] === 0 && children[i] === 1 && !speaks(n)) {
        gone[i] = true;
        single++;
      } else if (held[i] === 0 && children[i] === 1) bothSpeak++;
    }
    if (bothSpeak > 0) ctx.leave('groups-that-speak', undefined, bothSpeak);
    if (!gone.some(Boolean)) return drawing;
    const kept: number[] = [];
    const place = nodes.map((_, i) => (gone[i] ? -1 : kept.push(i) - 1));
    const stands = (i: number | null | undefined): number | null => {
      let at = i ?? null;
      while (at !== null && gone[at]) at = nodes[at]!.parent;
      return at === null ? null : place[at]!;
    };
    const made: GroupNode[] = kept.map((i) => ({ ...nodes[i]!, parent: stands(nodes[i]!.parent) }));
    const moved = (e: Entity): Entity => {
      if (e.node === undefined) return e;
      const to = stands(e.node);
      const next: Draft<Entity> = { ...e };
      if (to === null) delete next.node;
      else next.node = to;
      if (to === e.node) return e;
      ctx.lineage.replace(e, [next], 'regrouped');
      return next;
    };
    tellChange(ctx, 'layers', empty + single + nameless, because('groups-tidied', { empty, single, nameless }));
    return { ...changeAll(drawing, moved), nodes: made };
  },
});

function node(name: string, parent: number | null): GroupNode {
  return { name, parent, hidden: false };
}
