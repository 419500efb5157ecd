import type { Ledger } from '../drawing/ledger.js';
import type { Lineage } from '../drawing/lineage.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { Reason } from '../drawing/reasons.js';
import type { Work } from '../formats/format.js';
import type { Operation } from '../parameters/operation.js';
import { versionOf } from '../parameters/operation.js';
import type { Infer, Kept, ParameterSet } from '../parameters/parameter.js';
import { defaultsOf } from '../parameters/parameter.js';
import type { FontBook } from '../text/fonts.js';

/** What one wants to do, in the order in which drawings are mostly prepared. */
export const STEP_GROUPS = {
  size: 'Size and place',
  clean: 'Clean up lines',
  curves: 'Curves',
  regions: 'Outlines and regions',
  layers: 'Layers and groups',
  look: 'Colours and widths',
  text: 'Text and dimensions',
  blocks: 'Blocks and references',
} as const;
export type StepGroup = keyof typeof STEP_GROUPS;

export interface StepContext extends Work {
  ledger: Ledger;
  /** Where the step says which entities became which: what it does not say is told as unexplained. */
  lineage: Lineage;
  fonts: FontBook;
  /** Drawings at hand that this one may refer to. */
  references?: readonly GivenReference[];
  /** So many more objects were looked at. */
  look(count?: number): void;
  /** A table of what the step made, to be read and copied. */
  list(table: StepList): void;
  /** An object that the step is for was left as it was, and why. */
  leave(reason: Reason, e?: Entity, count?: number): void;
}

/** A drawing at hand that others may refer to, by its name. */
export interface GivenReference {
  readonly name: string;
  readonly drawing: Drawing;
}

/** What a step made, row by row. */
export interface StepList {
  readonly title: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly (string | number)[])[];
  /** Where each row begins and ends in the drawing (x, y, x, y), one after the other, and where the way to the first begins. */
  readonly way?: { readonly from: readonly [number, number]; readonly stops: Float64Array };
}

/** One non-destructive preparation. */
export interface Step<S extends ParameterSet = ParameterSet> extends Operation<S> {
  run(drawing: Drawing, params: Infer<S>, ctx: StepContext): Drawing;
}

/** A step as it is offered: where it stands in the list, and a small drawing on which it shows what it does. */
export interface OfferedStep<S extends ParameterSet = ParameterSet> extends Step<S> {
  readonly group: StepGroup;
  /** It works on what was picked in one drawing, or on other drawings of its job: it is no rule for others. */
  readonly ofOneDrawing?: true;
  readonly example: {
    readonly drawing: () => Drawing;
    readonly params?: Kept;
    readonly references?: () => readonly GivenReference[];
  };
}

/** A step whose parameters have the types that its declaration says. */
export const defineStep = <const S extends ParameterSet>(step: OfferedStep<S>): OfferedStep =>
  step as unknown as OfferedStep;

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
