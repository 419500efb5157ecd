import type { Ledger } from '../drawing/ledger.js';
import type { Lineage } from '../drawing/lineage.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import type { Operation } from '../parameters/operation.js';
import { versionOf } from '../parameters/operation.js';
import type { Infer, Kept, ParameterSet } from '../parameters/parameter.js';
import { defaultsOf } from '../parameters/parameter.js';
import type { FontBook } from '../text/fonts.js';

export interface StepContext extends Work {
  ledger: Ledger;
  /** Where the step says which entities became which: what it does not say is told as unexplained. */
  lineage: Lineage;
  fonts: FontBook;
}

/** One non-destructive preparation. */
export interface Step<S extends ParameterSet = ParameterSet> extends Operation<S> {
  run(drawing: Drawing, params: Infer<S>, ctx: StepContext): Drawing;
}

/** A step whose parameters have the types that its declaration says. */
export const defineStep = <const S extends ParameterSet>(step: Step<S>): Step => step as unknown as Step;

/** A step as it is kept with a drawing. */
export interface PlannedStep {
  id: string;
  step: string;
  on: boolean;
  params: Kept;
  /** The version of the step's parameters; absent in plans that were kept before there were any: 1. */
  version?: number;
}

/** A step as it is put into a plan. */
export const plannedStep = (step: Step, id: string, params: Kept = {}): PlannedStep => ({
  id,
  step: step.id,
  on: true,
  params: { ...defaultsOf(step.params), ...params },
  version: versionOf(step),
});
