import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import {
  NO_DECISIONS,
  Pipeline,
  StepFailed,
  changedParts,
  plannedStep,
  previewOf,
  runStep,
  stepById,
} from '../../src/index.js';
import { fonts } from '../helpers.js';
import { chain, circle, drawn, line, placed } from '../steps/judge.js';

const tried = (d: Drawing, id: string, params: Kept = {}) => {
  const made = runStep(d, plannedStep(stepById(id)!, 's', params), { fonts: fonts() });
  return { ...previewOf(d, made, fonts()), parts: changedParts(d, made.drawing) };
};
const WORKED = [0, 0, 25, 0.03, 50, 0.05, 75, 0.02, 100, 0, 100, 40];

describe('what a step would do, before it is taken', () => {
  it('in numbers: looked at, would change, and the largest distance with its place', () => {
    const seen = tried(drawn(chain(WORKED), circle(0, 0, 5), line(0, 90, 9, 90)), 'thin-points', { bound: 0.05 });
    expect(seen).toMatchObject({ looked: 1, changed: 1, become: 1, left: [] });
    expect(seen.farthest!.value).toBeCloseTo(0.05, 6);
    expect([seen.farthest!.x, seen.farthest!.y]).toEqual([expect.closeTo(50, 1), expect.closeTo(0.05, 2)]);
    expect(seen.parts.same.map((e) => e.kind)).toEqual(['circle', 'line']);
    expect([seen.parts.old.length, seen.parts.now.length]).toEqual([1, 1]);
  });
  it('what is left and why, apart from what would be told', () => {
    const seen = tried(drawn(line(0, 0, 50, 0), line(50, 0, 100, 1), line(50, 0, 50, 40)), 'chain-outlines');
    expect(seen.left).toEqual([{ words: 'places where 3 ends meet: which of them go on is open', count: 1 }]);
    expect([seen.told, seen.changed, seen.farthest]).toEqual([[], 0, null]);
  });
  it('a change in a block is measured where it is placed, at its size there', () => {
    const d = placed([chain(WORKED)], [{ at: [0, 0], scale: [4, 4, 4] }]);
    const seen = tried(d, 'thin-points', { bound: 0.25 });
    expect(seen.farthest!.value).toBeCloseTo(0.2, 4);
    // The placed block is the very same and shows something else.
    expect([seen.parts.same.length, seen.parts.old, seen.parts.now]).toEqual([0, d.entities, d.entities]);
  });
  it('several that become one, and everything that moves', () => {
    const merged = tried(drawn(line(0, 0, 60, 0), line(40, 0, 100, 0)), 'merge-overlaps');
    expect([merged.changed, merged.become, merged.farthest]).toEqual([2, 1, null]);
    const moved = tried(drawn(line(0, 0, 60, 0), circle(0, 0, 2)), 'turn-and-mirror', { turn: 90 });
    expect([moved.changed, moved.become, moved.parts.same.length]).toEqual([2, 2, 0]);
  });
});

describe('the pipeline', () => {
  const source = drawn(line(0, 0, 60, 0));
  const step = (id: string, name: string, params: Kept = {}) => plannedStep(stepById(name)!, id, params);
  it('says which step could not be run, and keeps what was worked out before it', () => {
    const chart = { chart: [{ from: 'X', to: 'Y' }], rest: 'ask' };
    const pipeline = new Pipeline(source, { fonts: fonts() });
    const plan = [step('a', 'turn-and-mirror', { turn: 90 }), step('b', 'chart-layers', chart)];
    expect(() => pipeline.run(NO_DECISIONS, plan)).toThrow(StepFailed);
    try {
      pipeline.run(NO_DECISIONS, plan);
    } catch (e) {
      expect((e as StepFailed).step).toBe('b');
    }
    expect(pipeline.worked).toBe(2);
    expect(pipeline.run(NO_DECISIONS, plan.slice(0, 1)).drawing.entities[0]).toMatchObject({ end: [0, 60, 0] });
    expect(pipeline.worked).toBe(2);
  });
  it('shows the drawing after any step and comes back to the last without working anything out anew', () => {
    const pipeline = new Pipeline(source, { fonts: fonts() });
    const plan = ['a', 'b', 'c'].map((id) => step(id, 'turn-and-mirror', { turn: 90 }));
    const whole = pipeline.run(NO_DECISIONS, plan);
    const first = pipeline.run(NO_DECISIONS, plan.slice(0, 1));
    expect([first.stages.length, first.ledger.filter((r) => r.by === 'b').length]).toEqual([
      whole.stages.length - 2,
      0,
    ]);
    expect(pipeline.run(NO_DECISIONS, plan).drawing).toBe(whole.drawing);
    expect(pipeline.worked).toBe(4);
  });
});
