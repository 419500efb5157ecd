import type { DrawingChange } from '../../api/drawing-changes';

/** A change of a drawing, with what takes it back. */
export interface Done {
  what: string;
  forth: DrawingChange;
  back: DrawingChange;
}

/** What was done in this window and can be taken back, and what was taken back and can be done again. */
export interface History {
  past: Done[];
  future: Done[];
}

/** How many changes can be taken back. */
export const MAX_UNDO = 100;
const NONE: History = { past: [], future: [] };
const key = (drawing: string): string => `undo ${drawing}`;

/** The history of a drawing, which outlives a reload of its window. */
export function keptHistory(drawing: string): History {
  try {
    const kept = JSON.parse(sessionStorage.getItem(key(drawing)) ?? 'null') as History | null;
    return kept && Array.isArray(kept.past) && Array.isArray(kept.future) ? kept : NONE;
  } catch {
    return NONE;
  }
}

export function keepHistory(drawing: string, history: History): void {
  try {
    if (history.past.length + history.future.length === 0) sessionStorage.removeItem(key(drawing));
    else sessionStorage.setItem(key(drawing), JSON.stringify(history));
  } catch {
    // Without room for it the history ends with the page, as it would without being kept.
  }
}
