import type { Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import { legalName as legal } from './names.js';
import type { TagSink } from './tag-sink.js';

/** One GROUP object to be: its name, and the handles of what belongs to it. */
export interface Group {
  name: string;
  members: string[];
}

/**
 * Gathers the named groups of a tree (SVG) as drafting groups: an entity belongs to the innermost named group it stands
 * in, unless that is its layer. Groups of one are none.
 */
export class GroupGatherer {
  private readonly byNode = new Map<number, Group | null>();
  private readonly made: Group[] = [];
  private readonly taken = new Set<string>();

  constructor(private readonly drawing: Drawing) {}

  note(e: Entity, handle: string): void {
    if (e.node === undefined) return;
    let group = this.byNode.get(e.node);
    if (group === undefined) this.byNode.set(e.node, (group = this.groupOf(e.node, e.layer)));
    group?.members.push(handle);
  }

  /** Pieces of one curve, under the name of what they were. */
  pieces(name: string, members: string[]): void {
    this.made.push({ name: this.unique(legal(name)), members });
  }

  private groupOf(node: number, layer: string): Group | null {
    const path: string[] = [];
    for (let n: number | null = node; n !== null; n = this.drawing.nodes[n]?.parent ?? null) {
      const { name } = this.drawing.nodes[n]!;
      if (name !== '') path.unshift(name);
    }
    const inner = path.slice(path.lastIndexOf(layer) + 1);
    if (inner.length === 0) return null;
    const group: Group = { name: this.unique(legal(inner.join(' '))), members: [] };
    this.made.push(group);
    return group;
  }

  private unique(name: string): string {
    let candidate = name;
    for (let n = 2; this.taken.has(candidate.toLowerCase()); n++) candidate = `${name} ${n}`;
    this.taken.add(candidate.toLowerCase());
    return candidate;
  }

  get groups(): Group[] {
    return this.made.filter((g) => g.members.length > 1);
  }
}

/** Writes one GROUP (DXF reference, "GROUP"). */
export function writeGroup(out: TagSink, group: Group, handle: string, owner: string): void {
  out.string(0, 'GROUP');
  out.string(5, handle);
  out.string(330, owner);
  out.string(100, 'AcDbGroup');
  out.string(300, group.name);
  out.integer(70, 0);
  out.integer(71, 1);
  for (const m of group.members) out.string(340, m);
}
