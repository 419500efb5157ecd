import { describe, expect, it } from 'vitest';
import type { PlannedStep, Target, TargetGiven } from '../../src/index.js';
import {
  NO_DECISIONS,
  deliver,
  fewestLosses,
  plannedStep,
  prepare,
  proofOf,
  readDrawing,
  stepById,
  targetFor,
  trialFigures,
  trialOf,
} from '../../src/index.js';
import { bytesOf, fonts } from '../helpers.js';

/** Three circles, two outlines of four arcs and four lines each, and a text. */
const rounded = (x: number): string =>
  `<path d="M${x + 2} 20h16a2 2 0 0 1 2 2v6a2 2 0 0 1 -2 2h-16a2 2 0 0 1 -2 -2v-6a2 2 0 0 1 2 -2z" fill="none" stroke="#5a3d7b"/>`;
const circle = (x: number): string => `<circle cx="${x}" cy="8" r="4" fill="none" stroke="#5a3d7b"/>`;
const emblem = (text = '<text x="2" y="40" font-size="5">KR</text>') =>
  readDrawing(
    bytesOf(
      `<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="50mm" viewBox="0 0 80 50">${circle(8)}${circle(24)}${circle(40)}${rounded(2)}${rounded(40)}${text}</svg>`,
    ),
    'emblem.svg',
  ).drawing;

function way(given: TargetGiven & Pick<Target, 'format'>, steps: PlannedStep[] = [], source = emblem()) {
  const prepared = prepare(source, NO_DECISIONS, steps);
  const made = deliver(prepared.drawing, targetFor(given.format, given), 'emblem.svg', fonts());
  const { proof, back } = proofOf(source, prepared, made, made.bytes, fonts());
  const figures = trialFigures(made.written, back!, made.bytes.length, proof, made.ledger);
  return { figures, trial: trialOf(back!, figures) };
}

describe('an emblem, written in two ways', () => {
  it('whole: five outlines that one click selects, three circles, one text', () => {
    const { figures } = way({ format: 'dxf', curves: 'arcs' });
    expect(figures).toMatchObject({ outlines: 5, pieces: 0, circles: 3, arcs: 8, chords: 8, splines: 0, texts: 1 });
    expect(figures).toMatchObject({ coloursEqual: figures.colours, holds: true, emptyTexts: 0 });
  });
  it('in pieces of Béziers: 3·4 + 2·8 = 28 splines, no circle, the text as outlines', () => {
    const beziers = plannedStep(stepById('curves-to-beziers')!, 'b', { bound: 0.01, quarters: true, lines: true });
    const { figures } = way({ format: 'dxf', curves: 'pieces' }, [beziers], emblem(''));
    expect(figures).toMatchObject({ splines: 28, circles: 0, outlines: 0, pieces: 28, chords: 0 });
    expect(way({ format: 'dxf', curves: 'pieces', text: 'outlines' }).figures.texts).toBe(0);
  });
  it('are put in order by what they lose', () => {
    const [whole, pieces] = [way({ format: 'dxf', curves: 'arcs' }), way({ format: 'dxf', curves: 'pieces' })];
    const old = way({ format: 'dxf', version: 'R12', curves: 'arcs' });
    const list = [pieces, old, whole].map((w) => w.figures).sort(fewestLosses);
    expect(list[2]).toBe(old.figures);
    expect(old.figures.coloursEqual).toBeLessThan(old.figures.colours);
  });
  it('say what one click selects, and count its colours to the digit', () => {
    const { trial } = way({ format: 'dxf', curves: 'arcs' });
    expect(trial.clicks.filter((c) => c.words.startsWith('one circle'))).toHaveLength(3);
    expect(trial.clicks.filter((c) => c.words.startsWith('one polyline'))).toHaveLength(2);
    expect(trial.clicks[0]!.d).toMatch(/^M[\d. ]+L/);
  });
  it('tell an empty text, and a file without a drawing', () => {
    const { figures, trial } = way({ format: 'svg' }, [], emblem('<text x="1" y="40" font-size="5">  </text>'));
    expect(figures.emptyTexts).toBe(figures.texts);
    expect(trial.svg).toContain('<svg');
  });
});
