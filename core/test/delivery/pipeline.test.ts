import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { IntakeDecisions, PlannedStep, Step } from '../../src/index.js';
import { NO_DECISIONS, Pipeline, STEPS, plannedStep, prepare, stepById } from '../../src/index.js';
import { demoFile, drawingOf, fonts, read } from '../helpers.js';

const step = (id: string, name: string, params = {}): PlannedStep => plannedStep(stepById(id)!, name, params);
const line = { kind: 'line', start: [0, 0, 0], end: [10, 0, 0] } as never;
const mm: IntakeDecisions = { ...NO_DECISIONS, unit: 'mm' };

describe('a pipeline', () => {
  it('gives what a run from the beginning gives, whatever was run before', () => {
    const source = read(demoFile('kestrel-row-mullion.dxf'));
    const given = { fonts: fonts() };
    const decisions = fc.constantFrom<IntakeDecisions>(
      mm,
      { ...mm, correction: 2 },
      { ...mm, layers: { mode: 'all', names: [] } },
    );
    const one = fc.constantFrom(
      step('shift-origin', 'a', { to: 'lowerLeft' }),
      step('set-true-size', 'b', { actual: 3 }),
      step('recover-circles', 'c'),
      { ...step('clear-doubles', 'd'), on: false },
      step('join-ends', 'e', { gap: 1 }),
    );
    const runs = fc.array(fc.tuple(decisions, fc.array(one, { maxLength: 4 })), { minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(runs, (list) => {
        const pipeline = new Pipeline(source, given);
        for (const [d, steps] of list) {
          const [kept, anew] = [pipeline.run(d, steps), prepare(source, d, steps, given)];
          expect(kept.ledger).toEqual(anew.ledger);
          expect(kept.drawing.entities).toEqual(anew.drawing.entities);
          expect(kept.stages.map((s) => s.title)).toEqual(anew.stages.map((s) => s.title));
        }
      }),
      { numRuns: 25 },
    );
  });

  it('works out only what follows the first change', () => {
    const pipeline = new Pipeline(drawingOf([line]), {});
    const worked = (d: IntakeDecisions, ...steps: PlannedStep[]): number => {
      const before = pipeline.worked;
      pipeline.run(d, steps);
      return pipeline.worked - before;
    };
    const [a, b, c] = [
      step('shift-origin', 'a', { to: 'centre' }),
      step('set-true-size', 'b', { actual: 3 }),
      step('shift-origin', 'c', { to: 'centre' }),
    ];
    expect(worked(mm, a, b, c)).toBe(4);
    expect(worked(mm, a, b, c)).toBe(0);
    // The same plan in another order of fields, and with a step that is off, is the same plan.
    expect(
      worked(
        { ...mm },
        a,
        { ...c, on: false },
        { version: b.version!, params: b.params, on: true, step: b.step, id: b.id },
        c,
      ),
    ).toBe(0);
    expect(worked(mm, a, b, { ...c, params: { to: 'lowerLeft' } })).toBe(1);
    expect(worked(mm, a, b)).toBe(0);
    expect(worked(mm, a, b, c)).toBe(1);
    expect(worked(mm, b, a, c)).toBe(3);
    expect(worked({ ...mm, correction: 2 }, b, a, c)).toBe(4);
    // A decision of before fields were declared, and the same said in full.
    expect(worked({ ...mm, correction: 2, plane: 'keep' }, b, a, c)).toBe(0);
  });

  it('after a step that cannot run goes on with what was worked out before it', () => {
    const broken: Step = {
      id: 'broken',
      title: 'Broken',
      summary: '',
      carries: [],
      params: {},
      run: () => {
        throw new Error('no');
      },
    };
    const pipeline = new Pipeline(drawingOf([line]), {}, [...STEPS, broken]);
    const a = step('shift-origin', 'a', { to: 'centre' });
    expect(() => pipeline.run(mm, [a, { id: 'x', step: 'broken', on: true, params: {} }])).toThrow('no');
    expect(pipeline.run(mm, [a]).drawing.entities[0]).toMatchObject({ start: [-5, 0, 0] });
    expect(pipeline.worked).toBe(2);
  });

  it('stops when it is asked to', () => {
    const pipeline = new Pipeline(drawingOf([line]), {});
    expect(() => pipeline.run(mm, [step('shift-origin', 'a')], { signal: { aborted: true } })).toThrow(/stopped/);
  });
});
