import type { CarryOver, Ledger } from '../drawing/ledger.js';
import type { Lineage } from '../drawing/lineage.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import type { Parameters, ParameterSchema } from '../parameters/schema.js';
import type { FontBook } from '../text/fonts.js';

export interface StepContext extends Work {
  ledger: Ledger;
  /** Where the step says which entities became which: what it does not say is told as unexplained. */
  lineage: Lineage;
  fonts: FontBook;
}

/** One non-destructive preparation. `on` says whether it acts on block definitions or on their instances. */
export interface Step {
  id: string;
  title: string;
  /** What it is for, in one plain sentence. */
  summary: string;
  carries: readonly CarryOver[];
  on: 'definition' | 'instance' | 'whole';
  params: ParameterSchema;
  run(drawing: Drawing, params: Parameters, ctx: StepContext): Drawing;
}

/** A step as it is kept with a drawing. */
export interface PlannedStep {
  id: string;
  step: string;
  on: boolean;
  params: Parameters;
}
