import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { STEPS, STEP_GROUPS, emptyDrawing, plannedStep, runStep, runSteps } from '../../src/index.js';
import { transformDrawing } from '../../src/drawing/transform.js';
import { scaling, translation } from '../../src/geometry/affine.js';
import { exampleWork } from '../../src/delivery/example-pictures.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { fonts } from '../helpers.js';

/** Steps that do something again when they are run again, and why. */
const NOT_TWICE: Record<string, string> = {
  'set-true-size': 'a factor multiplies whatever it meets',
  'shift-origin': 'a point given in numbers is another place once everything has moved',
  'turn-and-mirror': 'what was turned is turned again',
  'annotation-factor': 'a factor multiplies whatever it meets',
  warp: 'what was bent is bent again',
  'lettering-on-curve': 'letters are set whenever it is asked',
  'gather-drawings': 'drawings come in whenever it is asked',
};

/** Steps that put something into a drawing, whether there is anything in it or not. */
const BRINGS = new Set(['lettering-on-curve', 'gather-drawings']);

/** Steps whose parameters are places: elsewhere they do something else. */
const AT_A_PLACE = new Set(['crop']);

const look = ({ entities, blocks }: Drawing) =>
  [...entities, ...[...blocks.values()].flatMap((b) => b.entities)].map(({ id: _id, ...rest }) => rest);

describe.each(STEPS.map((s) => [s.id, s] as const))('%s', (_id, step) => {
  const planned = plannedStep(step, 's', step.example.params);
  const run = (d: Drawing) => runStep(d, planned, exampleWork(step, fonts()));

  it('shows what it does on its own example, and the proof holds what came of it', () => {
    const before = step.example.drawing();
    const made = run(before);
    expect(made.drawing).not.toBe(before);
    expect(made.ledger.length).toBeGreaterThan(0);
    const { unexplained, displaced } = provePrepared(before, made.drawing, made.stages, fonts());
    expect([...unexplained, ...displaced]).toEqual([]);
    const ids = [...made.drawing.entities, ...[...made.drawing.blocks.values()].flatMap((b) => b.entities)].map(
      (e) => e.id,
    );
    expect(new Set(ids).size).toBe(ids.length);
    expect(Math.max(...ids)).toBeLessThan(made.drawing.nextId);
  });
  it.skipIf(step.id in NOT_TWICE)('changes nothing when it is run on its own result', () => {
    const once = run(step.example.drawing()).drawing;
    expect(look(run(once).drawing)).toEqual(look(once));
  });
  it('leaves an empty drawing as it is', () => {
    const empty = { ...emptyDrawing('dxf', '2010'), unit: { unit: 'mm' as const, factor: 1 } };
    if (BRINGS.has(step.id)) return;
    expect(look(run(empty).drawing)).toEqual([]);
  });
  it.skipIf(AT_A_PLACE.has(step.id))('does the same far from the origin and mirrored, and the proof holds', () => {
    for (const map of [translation(3e6, 2e6), scaling(-1, 1, 1)]) {
      const before = transformDrawing(step.example.drawing(), map);
      const made = run(before);
      const { unexplained, displaced } = provePrepared(before, made.drawing, made.stages, fonts());
      expect([...unexplained, ...displaced]).toEqual([]);
      expect(made.drawing.entities.length).toBe(run(step.example.drawing()).drawing.entities.length);
    }
  });
  it('stops when it is asked to', () => {
    expect(() => runSteps(step.example.drawing(), [planned], { signal: { aborted: true } })).toThrow('stopped');
  });
  it('says what it is for in one sentence and stands in a group', () => {
    expect(Object.keys(STEP_GROUPS)).toContain(step.group);
    expect(step.summary).toMatch(/^[A-Z*].*\.$/);
  });
});
