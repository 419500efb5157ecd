import type { CarryOver } from '../drawing/ledger.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import type { Parameters, ParameterSchema } from '../steps/step.js';

/** Something a check found. `size` and `at` in the drawing's unit; `ids` are the entities it concerns. */
export interface Finding {
  check: string;
  severity: 'note' | 'warning' | 'error';
  message: string;
  at: { x: number; y: number } | null;
  size: number | null;
  layer: string | null;
  ids: number[];
}

/** A check is asked once for a whole drawing; the drawing is the prepared one. */
export interface Check {
  id: string;
  title: string;
  /** Why it matters, in one plain sentence. */
  summary: string;
  carries: readonly CarryOver[];
  params: ParameterSchema;
  run(drawing: Drawing, params: Parameters, work?: Work): Finding[];
}
