import { describe, expect, it } from 'vitest';
import { settingsForDrawing, settingsForJob } from '../src/index.js';

describe('thresholds of a job', () => {
  const kept = { 'open-outlines': { widest: 25.4 }, 'many-nodes': { from: 500 } };
  it('come in the unit of each drawing; counts stay counts', () => {
    expect(settingsForDrawing(kept, { unit: 'in', factor: 1 })).toEqual({
      'open-outlines': { widest: 1 },
      'many-nodes': { from: 500 },
    });
    // An SVG whose coordinates are tenths of a millimetre.
    expect(settingsForDrawing(kept, { unit: 'mm', factor: 0.1 })['open-outlines']).toEqual({ widest: 254 });
  });
  it('lengths say nothing to a drawing without a unit', () => {
    expect(settingsForDrawing(kept, null)).toEqual({ 'many-nodes': { from: 500 } });
    expect(settingsForDrawing(kept, { unit: 'px', factor: 1 })).toEqual({ 'many-nodes': { from: 500 } });
  });
  it('there and back again is what was typed', () => {
    const own = { doubles: { within: 0.0125 }, 'self-crossing': {} };
    expect(settingsForDrawing(settingsForJob(own, { unit: 'ft', factor: 1 }), { unit: 'ft', factor: 1 })).toEqual({
      doubles: { within: 0.0125 },
    });
    expect(settingsForJob(own, { unit: 'in', factor: 1 })).toEqual({ doubles: { within: 0.3175 } });
  });
  it('what is no check or setting any more is left out', () => {
    expect(settingsForDrawing({ gone: { x: 1 }, doubles: { old: 2 } }, { unit: 'mm', factor: 1 })).toEqual({});
  });
});
