import type {
  DifferenceColours,
  Drawing,
  Entity,
  IntakeDecisions,
  PlannedStep,
  Scene,
  StepPreview,
} from '@scalaria/core';
import {
  Box2,
  STEPS,
  buildScene,
  changedParts,
  examplePictures,
  previewOf,
  runStep,
  tracedIn,
  traceDifference,
} from '@scalaria/core';
import { handOver, held, loadFonts, loadRenderer, pipeline, showAll, stopSignal } from './held';

/** What a step would do to the drawing, to be looked at before it is taken. */
export interface PreviewView extends StepPreview {
  /** What stays; what is otherwise, as it is and as it would be. All three have the bounds of everything. */
  same: Scene;
  old: Scene;
  now: Scene;
  unit: string | null;
  /** Pictures were traced: what differs from them can be looked at. */
  traces: boolean;
}

/** What differs between pictures and what was traced of them, as a scene of pictures. */
export interface TraceDifferenceView {
  scene: Scene;
  pixels: number;
  other: number;
  why: string[];
}

/** Runs a step on the drawing as it is before it, without keeping anything of it. */
export const previewing = {
  /** Memory in which the page says which runs are to stop. */
  shareStops(memory: SharedArrayBuffer): void {
    held.stops = new Int32Array(memory);
  },

  /** `before`: the steps that come before it. From here on what is asked of the drawing is asked of it as it is before the step. */
  async preview(
    decisions: IntakeDecisions,
    before: PlannedStep[],
    planned: PlannedStep,
    run = 0,
  ): Promise<PreviewView> {
    if (!held.source) throw new Error('no drawing is open');
    const work = { signal: stopSignal(run) };
    const fonts = await loadFonts();
    const drawing = (await pipeline()).run(decisions, before, work).drawing;
    const { references } = held;
    const made = runStep(drawing, { ...planned, on: true }, { ...work, fonts, references });
    held.tried = made.stages;
    const preview = previewOf(drawing, made, fonts, work);
    const parts = changedParts(drawing, made.drawing);
    const onModel = (e: Entity): boolean => e.sheet === undefined;
    const cut = (of: Drawing, entities: Entity[]): Scene =>
      buildScene({ ...of, entities: entities.filter(onModel) }, fonts);
    const [same, old, now] = [cut(drawing, parts.same), cut(drawing, parts.old), cut(made.drawing, parts.now)];
    // What is asked is asked of the drawing before the step: what stays of it and what does not.
    showAll(drawing, [same, old]);
    const bounds = new Box2();
    for (const s of [same, old, now]) if (s.bounds) bounds.addBox(Object.assign(new Box2(), s.bounds));
    const whole = { bounds: bounds.toJSON(), visibleBounds: bounds.toJSON() };
    const [a, b, c] = [same, old, now].map((s) => handOver({ ...s, ...whole }));
    return {
      ...preview,
      same: a!,
      old: b!,
      now: c!,
      unit: made.drawing.unit?.unit ?? null,
      traces: tracedIn(made.stages),
    };
  },

  /** What differs between the pictures that the step tried last traced and what came of them, pixel for pixel. */
  async traceDifference(colours: DifferenceColours): Promise<TraceDifferenceView> {
    const fonts = await loadFonts();
    const { drawing, ...told } = traceDifference(held.tried, await loadRenderer(), colours);
    return { ...told, scene: handOver(buildScene(drawing, fonts)) };
  },

  /** Small pictures of each step's own example, before it and after, drawn by the step. */
  async examples(): Promise<Record<string, { before: string; after: string }>> {
    const fonts = await loadFonts();
    return Object.fromEntries(STEPS.map((step) => [step.id, examplePictures(step, fonts)]));
  },

  /** What is asked of the drawing is asked of the prepared one again. */
  endPreview(): void {
    held.tried = [];
    if (held.ready) held.shown = held.ready;
  },
};
