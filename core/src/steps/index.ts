import { UserError } from '../errors.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { Reason } from '../drawing/reasons.js';
import type { Kept } from '../parameters/parameter.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { Ledger } from '../drawing/ledger.js';
import { because } from '../drawing/reasons.js';
import { lostPicks } from '../analysis/selection.js';
import type { ParameterSet, Selection } from '../parameters/parameter.js';
import type { Stage } from '../drawing/lineage.js';
import { Stages } from '../drawing/lineage.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { FontBook } from '../text/fonts.js';
import { takeReferencesIn } from './take-references-in.js';
import { breakUpBlocks } from './break-up-blocks.js';
import { chainOutlines } from './chain-outlines.js';
import { clearDoubles } from './clear-doubles.js';
import { curvesToArcs } from './curves-to-arcs.js';
import { curvesToBeziers } from './curves-to-beziers.js';
import { curvesToChords } from './curves-to-chords.js';
import { evenOutColours } from './even-out-colours.js';
import { evenStrokes } from './even-strokes.js';
import { flattenDimensions } from './flatten-dimensions.js';
import { flattenHatches } from './flatten-hatches.js';
import { inkOnly } from './ink-only.js';
import { joinEnds } from './join-ends.js';
import { letteringOnCurve } from './lettering-on-curve.js';
import { oneHairline, snapWeights } from './line-widths.js';
import { mapColours } from './map-colours.js';
import { plainPaints } from './plain-paints.js';
import { swatchStrip } from './swatch-strip.js';
import { meetInCorners } from './meet-in-corners.js';
import { mergeOverlaps } from './merge-overlaps.js';
import { recoverArcs } from './recover-arcs.js';
import { roundCoordinates } from './round-coordinates.js';
import { setTrueSize } from './set-true-size.js';
import { buildRegions } from './build-regions.js';
import { holdingBridges } from './holding-bridges.js';
import { labelsInside } from './labels-inside.js';
import { orderForCutting } from './order-for-cutting.js';
import { shareEdges } from './share-edges.js';
import { shiftOrigin } from './shift-origin.js';
import { sortByRule } from './sort-by-rule.js';
import { thinPoints } from './thin-points.js';
import { strokesToShapes } from './strokes-to-shapes.js';
import { textToShapes } from './text-to-outlines.js';
import { agreeLayers } from './agree-layers.js';
import { annotationFactor } from './annotation-factor.js';
import { chartLayers } from './chart-layers.js';
import { crop } from './crop.js';
import { keepParts } from './keep-parts.js';
import { gatherDrawings } from './gather-drawings.js';
import { giveLayersBack } from './give-layers-back.js';
import { keepObjects } from './keep-objects.js';
import { keepSheets } from './keep-sheets.js';
import { keepLayers } from './keep-layers.js';
import { layFlatStep } from './lay-flat.js';
import { removeStrays } from './remove-strays.js';
import { replaceFonts } from './replace-fonts.js';
import { tidyGroups } from './tidy-groups.js';
import { tracePictures } from './trace-pictures.js';
import { turnAndMirror } from './turn-and-mirror.js';
import { warp } from './warp.js';
import { faultOf } from '../parameters/faults.js';
import { valuesOf } from '../parameters/lengths.js';
import { operationFault, upgraded, versionOf } from '../parameters/operation.js';
import type { GivenReference, OfferedStep, PlannedStep, Step, StepList } from './step.js';

/** All steps. A new one is a file beside these and a line here. */
export const STEPS: readonly OfferedStep[] = [
  shiftOrigin,
  setTrueSize,
  turnAndMirror,
  layFlatStep,
  crop,
  joinEnds,
  clearDoubles,
  removeStrays,
  mergeOverlaps,
  chainOutlines,
  meetInCorners,
  thinPoints,
  roundCoordinates,
  recoverArcs,
  curvesToArcs,
  curvesToChords,
  curvesToBeziers,
  warp,
  shareEdges,
  buildRegions,
  tracePictures,
  orderForCutting,
  holdingBridges,
  keepParts,
  strokesToShapes,
  evenStrokes,
  keepObjects,
  keepSheets,
  keepLayers,
  chartLayers,
  agreeLayers,
  giveLayersBack,
  sortByRule,
  tidyGroups,
  mapColours,
  inkOnly,
  plainPaints,
  swatchStrip,
  evenOutColours,
  oneHairline,
  snapWeights,
  gatherDrawings,
  takeReferencesIn,
  breakUpBlocks,
  flattenDimensions,
  flattenHatches,
  labelsInside,
  replaceFonts,
  annotationFactor,
  textToShapes,
  letteringOnCurve,
];

/** Steps that were kept under another name, and what their parameters of then are now. */
const RENAMED: Readonly<Record<string, { id: string; version: number; params: (kept: Kept) => Kept }>> = {
  'recover-circles': {
    id: 'recover-arcs',
    version: 1,
    params: (kept) => ({ ...kept, arcs: false, ellipses: false, straights: false }),
  },
};

/** The step of an id, or of one that it was kept under before. */
export const stepById = (id: string): OfferedStep | undefined =>
  STEPS.find((s) => s.id === id) ?? (RENAMED[id] && STEPS.find((s) => s.id === RENAMED[id]!.id));

/** A planned step under the name that it has today. */
function renamed(planned: PlannedStep): PlannedStep {
  const now = Object.hasOwn(RENAMED, planned.step) ? RENAMED[planned.step]! : null;
  return now ? { ...planned, step: now.id, params: now.params(planned.params), version: now.version } : planned;
}

/**
 * A plan as it was kept, with parameters as its steps understand them today: what is stored or in a recipe goes through here
 * before a form shows it. Steps there are none of stay as they are: running them says so.
 */
export const upgradedPlan = (plan: readonly PlannedStep[]): PlannedStep[] =>
  plan.map((kept) => {
    const planned = renamed(kept);
    const step = stepById(planned.step);
    if (!step || (planned.version ?? 1) >= versionOf(step)) return planned;
    return { ...planned, params: upgraded(step, planned.params, planned.version), version: versionOf(step) };
  });

/** What is wrong with a plan, in words: steps there are none of, parameters that do not fit. */
export const planFaults = (plan: readonly PlannedStep[]): string[] =>
  plan.flatMap((planned) => {
    const step = stepById(planned.step);
    if (!step) return [`no step is called "${planned.step}"`];
    const fault = operationFault(step, planned.params, planned.version);
    return fault ? [`${step.title}: ${fault}`] : [];
  });

/** What is at hand for steps. */
export type StepWork = Work & { fonts?: FontBook; references?: readonly GivenReference[] };

/** What steps made of a drawing, and each of them as a stage for the proof. */
export interface Stepped {
  drawing: Drawing;
  ledger: LedgerRow[];
  stages: Stage[];
  /** How many objects steps say they looked at; `null` where none says. */
  looked: number | null;
  /** What steps list of what they made. */
  lists: StepList[];
}

/** Runs one planned step; `among` are the steps there are. Throws `UserError` for a step or parameter that is none. */
export function runStep(
  drawing: Drawing,
  planned: PlannedStep,
  work?: StepWork,
  among: readonly Step[] = STEPS,
): Stepped {
  const asked = among === STEPS ? renamed(planned) : planned;
  const step = among.find((s) => s.id === asked.step);
  if (!step) throw new UserError('unknown-step', `no step is called "${planned.step}"`);
  const kept = upgraded(step, asked.params, asked.version);
  const fault = faultOf(step.params, kept);
  if (fault) throw new UserError('wrong-parameter', `${step.title}: ${fault}`);
  const ledger = new Ledger(planned.id);
  const fonts = work?.fonts ?? new FontBook([]);
  const stages = new Stages(drawing);
  let looked: number | null = null;
  const look = (count = 1): void => void (looked = (looked ?? 0) + count);
  const leave = (reason: Reason, e?: Entity, count = 1): void =>
    ledger.add({ carryOver: step.carries[0]!, action: 'kept', reason, count, ...(e && { id: e.id }) });
  const lists: StepList[] = [];
  const list = (table: StepList): void => void lists.push(table);
  const values = valuesOf(step.params, kept, drawing.unit);
  const lost = lostIn(step.params, values as Kept, drawing);
  if (lost > 0) leave(because('picks-open', { count: lost }));
  stages.run(step.title, (from, lineage) =>
    step.run(from, values, { ...work, ledger, lineage, fonts, look, leave, list }),
  );
  return { drawing: stages.drawing, ledger: ledger.rows, stages: stages.list, looked, lists };
}

/** How much of what selections of a step name one by one is not in the drawing, or no longer to be told from others. */
function lostIn(params: ParameterSet, values: Kept, drawing: Drawing): number {
  let lost = 0;
  for (const [name, one] of Object.entries(params))
    if (one.kind === 'selection') lost += lostPicks(values[name] as unknown as Selection, drawing);
  return lost;
}

/** Runs the planned steps that are switched on, in order. Throws as `runStep` does. */
export function runSteps(
  drawing: Drawing,
  plan: readonly PlannedStep[],
  work?: StepWork,
  among: readonly Step[] = STEPS,
): Stepped {
  const rows: LedgerRow[] = [];
  const lists: StepList[] = [];
  let looked: number | null = null;
  const stages = new Stages(drawing);
  for (const planned of plan) {
    if (!planned.on) continue;
    checkStop(work);
    const made = runStep(stages.drawing, planned, work, among);
    if (made.looked !== null) looked = (looked ?? 0) + made.looked;
    stages.follow(made);
    rows.push(...made.ledger);
    lists.push(...made.lists);
  }
  return { drawing: stages.drawing, ledger: rows, stages: stages.list, looked, lists };
}
