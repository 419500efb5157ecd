import type {
  Drawing,
  Entity,
  IntakeDecisions,
  Kept,
  LaidOpen,
  PartRole,
  PartTold,
  PlannedStep,
  Scene,
} from '@scalaria/core';
import { Box2, PART_ROLES, buildScene, keyOfPart, laidOpen, listParts, partsTold, rolesCounted } from '@scalaria/core';
import { handOver, held, loadFonts, pipeline, showAll, stopSignal } from './held';

const INK = { kind: 'rgb', rgb: 0, index: 7 } as const;

/** A line of the parts list with what of the drawing in sight belongs to it. */
export interface SeenPart {
  key: string;
  name: string;
  /** What the drawing says, or what is proposed where nobody has said a number. */
  number: string;
  length: number;
  width: number;
  quantity: number;
  /** The ids of all that belongs to it, and how many of them are what. */
  ids: number[];
  counts: Record<PartRole, number>;
  box: { minX: number; minY: number; maxX: number; maxY: number };
}

/** A drawing as its parts are told apart in it. */
export interface PartsView {
  scenes: Record<PartRole, Scene>;
  parts: SeenPart[];
  findings: PartTold[];
  unit: string;
  /** What each thing in sight is, by its id. */
  roles: Record<number, PartRole>;
}

/** The parts of the drawing at hand. */
export const partViews = {
  /** Finds parts by rules; from here on what is asked of the drawing is asked of it as it is told apart. */
  async partsView(decisions: IntakeDecisions, steps: PlannedStep[], rules: Kept, run = 0): Promise<PartsView> {
    if (!held.source) throw new Error('no drawing is open');
    const work = { signal: stopSignal(run) };
    const fonts = await loadFonts();
    const drawing = (await pipeline()).run(decisions, steps, work).drawing;
    const list = listParts(drawing, rules, undefined, work);
    const open = laidOpen(drawing, list.found);
    const apart: Drawing = { ...drawing, entities: open.map((o) => o.entity) };
    /** In ink and without a fill, so that nothing but its role gives it a colour. */
    const plain = (o: LaidOpen): Entity => ({ ...o.entity, look: { ...o.entity.look, stroke: INK } });
    const scenes = Object.fromEntries(
      PART_ROLES.map((role) => [
        role,
        buildScene({ ...drawing, entities: open.filter((o) => o.role === role).map(plain) }, fonts),
      ]),
    ) as Record<PartRole, Scene>;
    showAll(apart, Object.values(scenes));
    const bounds = new Box2();
    for (const s of Object.values(scenes)) if (s.bounds) bounds.addBox(Object.assign(new Box2(), s.bounds));
    const whole = { bounds: bounds.toJSON(), visibleBounds: bounds.toJSON() };
    const ofPart = new Map<number, { id: number; role: PartRole }[]>();
    for (const { entity, role, part } of open) {
      if (part === null) continue;
      const mine = ofPart.get(part);
      if (mine) mine.push({ id: entity.id, role });
      else ofPart.set(part, [{ id: entity.id, role }]);
    }
    return {
      scenes: Object.fromEntries(PART_ROLES.map((role) => [role, handOver({ ...scenes[role], ...whole })])) as Record<
        PartRole,
        Scene
      >,
      parts: list.rows.map(({ members, refs, name, number, length, width, quantity }) => {
        const own = members.flatMap((m) => ofPart.get(m) ?? []);
        const counts = rolesCounted(own.map((o) => o.role));
        const box = new Box2();
        for (const m of members) box.addBox(list.found.parts[m]!.box);
        const { minX, minY, maxX, maxY } = box;
        const ids = own.map((o) => o.id);
        return {
          ...{ key: keyOfPart(refs[0]!), name, number, length, width, quantity, ids, counts },
          box: { minX, minY, maxX, maxY },
        };
      }),
      findings: partsTold(list),
      unit: drawing.unit?.unit ?? 'units',
      roles: Object.fromEntries(open.map(({ entity, role }) => [entity.id, role])),
    };
  },
};
