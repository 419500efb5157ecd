import { createContext, useContext, useEffect } from 'react';
import type { Remote } from 'comlink';
import type {
  CarryOverSummary,
  CheckSettings,
  IntakeDecisions,
  LedgerRow,
  PlannedStep,
  Review,
  Target,
  Yardstick,
} from '@scalaria/core';
import type { DrawingDetail } from '../../api/types';
import type { FontState } from './use-job-fonts';
import type { PictureState } from './use-job-pictures';
import type { ReferenceState } from './use-job-references';
import type { DrawingWorker } from '../../workers/drawing.worker';
import type { Stops } from '../../workers/stops';

/** The drawing at hand and what can be done to it. */
export interface DrawingState {
  drawing: DrawingDetail;
  worker: Remote<DrawingWorker> | null;
  /** The worker once the drawing is in sight: for all that can wait until then. */
  free: Remote<DrawingWorker> | null;
  /** Stops runs of the worker. */
  stops: Stops;
  /** Told when the drawing is in sight. */
  onSeen: () => void;
  progress: number;
  readError: string | null;
  fonts: FontState;
  pictures: PictureState;
  references: ReferenceState;
  strip: CarryOverSummary[] | null;
  ledger: LedgerRow[];
  /** What the strip says instead while a station speaks of one file: of that. `null` for the drawing. */
  speakOf: (strip: CarryOverSummary[] | null) => void;
  /** Keeps a change; `what` is how undo names it. */
  decide: (intake: Partial<IntakeDecisions>, what: string) => void;
  setSteps: (steps: PlannedStep[], what: string) => void;
  /** Keeps thresholds of checks with the job. */
  setChecks: (checks: CheckSettings) => void;
  /** Keeps how a file is to be written. */
  setTarget: (target: Target) => void;
  /** Keeps what was decided about findings. */
  setReview: (review: Review, what: string) => void;
  /** Keeps the features of known size. */
  setYardsticks: (yardsticks: Yardstick[], what: string) => void;
  /** A newer file was taken in: everything is fetched anew. */
  refresh: () => Promise<unknown>;
}

export const DrawingContext = createContext<DrawingState | null>(null);

export function useDrawing(): DrawingState {
  const state = useContext(DrawingContext);
  if (!state) throw new Error('outside a drawing');
  return state;
}

/** Has the strip speak of one file as long as the station is there. */
export function useSpokenOf(strip: CarryOverSummary[] | null): void {
  const { speakOf } = useDrawing();
  useEffect(() => {
    speakOf(strip);
    return () => speakOf(null);
  }, [strip, speakOf]);
}
