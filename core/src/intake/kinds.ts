import { breakUp } from '../drawing/break-up.js';
import type { Drawing, GroupNode } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { Ledger } from '../drawing/ledger.js';
import type { Lineage, Stage } from '../drawing/lineage.js';
import { Stages } from '../drawing/lineage.js';
import { runSteps } from '../steps/index.js';
import type { PlannedStep } from '../steps/step.js';
import type { KindDecisions } from './decisions.js';

/** What becomes of blocks, dimensions and hatches on the way in; the rows are those of intake. */
export function chooseKinds(
  drawing: Drawing,
  d: KindDecisions,
): { drawing: Drawing; rows: LedgerRow[]; stages: Stage[] } {
  const rows: LedgerRow[] = [];
  const stages = new Stages(drawing);
  if (d.blocks === 'group') {
    stages.run('Inserts', (from, lineage) => {
      const grouped = groupInserts(from, lineage);
      rows.push(...grouped.rows);
      return grouped.drawing;
    });
  }
  const plan: PlannedStep[] = [];
  const put = (step: string, params: PlannedStep['params']): void =>
    void plan.push({ id: 'intake', step, on: true, params });
  if (d.blocks === 'break') put('break-up-blocks', { named: '*', deep: 'yes' });
  if (d.dimensions !== 'keep') put('flatten-dimensions', { to: d.dimensions === 'leaveOut' ? 'nothing' : 'lines' });
  if (d.hatches !== 'keep')
    put(
      'flatten-hatches',
      d.hatches === 'lines'
        ? { to: 'lines', which: 'patterns' }
        : { to: d.hatches === 'outlines' ? 'outlines' : 'nothing', which: 'all' },
    );
  const made = runSteps(stages.drawing, plan);
  stages.follow(made);
  return { drawing: stages.drawing, rows: [...rows, ...made.ledger], stages: stages.list };
}

/** Each insert becomes a group of what it shows, named after its block. */
function groupInserts(drawing: Drawing, lineage: Lineage): { drawing: Drawing; rows: LedgerRow[] } {
  const ledger = new Ledger('intake');
  const nodes: GroupNode[] = [...drawing.nodes];
  let nextId = drawing.nextId;
  let [groups, parts] = [0, 0];
  const entities = drawing.entities.flatMap((e): Entity[] => {
    if (e.kind !== 'insert' || e.sheet !== undefined || !drawing.blocks.has(e.block.toLowerCase())) return [e];
    const node = nodes.length;
    nodes.push({ name: e.block, parent: e.node ?? null, hidden: false });
    const shown = breakUp(e, drawing, true).map((part) => ({ ...part, id: nextId++, node }));
    lineage.replace(e, shown, 'grouped');
    groups++;
    parts += shown.length;
    return shown;
  });
  if (groups === 0) return { drawing, rows: [] };
  ledger.add({
    carryOver: 'links',
    action: 'changed',
    onPurpose: true,
    reason: 'inserts-as-groups',
    count: groups,
    becomes: { from: 'insert', to: 'parts', gone: groups, entities: parts },
  });
  return { drawing: { ...drawing, entities, nodes, nextId }, rows: ledger.rows };
}
