import type { Finding, Inventory, Kept } from '@scalaria/core';
import {
  CHECKS,
  SEEN_OTHERWISE,
  findingsReport,
  inventoryOf,
  runCheck,
  runChecks,
  settingsForDrawing,
} from '@scalaria/core';
import { held, loadFonts, seenFile } from './held';

/** The checks, one by one, and what they found as a page. */
export const checking = {
  /**
   * Runs the checks one by one and tells of each; between two of them other questions are answered. A new run ends the
   * one before. `false` when it was ended.
   */
  async checks(settings: Record<string, Kept>, onChecked: (id: string, found: Finding[]) => void): Promise<boolean> {
    const run = ++held.checkRun;
    const drawing = held.prepared;
    if (!drawing) return false;
    const own = settingsForDrawing(settings, drawing.unit);
    const fonts = await loadFonts();
    for (const check of CHECKS) {
      await new Promise((resolve) => setTimeout(resolve, 0));
      // Only the one that asks waits for the file to be drawn by other means.
      const seen = check.id === SEEN_OTHERWISE ? await seenFile() : null;
      if (run !== held.checkRun || drawing !== held.prepared) return false;
      onChecked(check.id, runCheck(check, drawing, own[check.id], { fonts, ...(seen && { seen }) }));
    }
    return true;
  },

  /** Ends the checks that run. */
  stopChecks(): void {
    held.checkRun++;
  },

  /** Colours, layers and kinds of the prepared drawing. */
  inventory(): Inventory | null {
    return held.prepared ? inventoryOf(held.prepared) : null;
  },

  /** The findings as a page to send back to whoever made the drawing. */
  async report(name: string, format: string, settings: Record<string, Kept>): Promise<string | null> {
    if (!held.prepared) return null;
    const seen = await seenFile();
    const checks = new Map(CHECKS.map((c) => [c.id, c]));
    const findings = runChecks(held.prepared, settingsForDrawing(settings, held.prepared.unit), {
      fonts: await loadFonts(),
      ...(seen && { seen }),
    });
    return findingsReport(held.prepared, { name, format, findings, checks, inventory: inventoryOf(held.prepared) });
  },
};
