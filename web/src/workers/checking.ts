import type { Finding, Inventory, Kept, Purpose, ReportInput, Review } from '@scalaria/core';
import {
  CHECKS,
  PURPOSES,
  SEEN_OTHERWISE,
  dataAddress,
  findingKey,
  findingsReport,
  inventoryOf,
  runCheck,
  runChecks,
  settingsForDrawing,
  underPurpose,
  voiceOf,
  wholeCheckKey,
  withoutAside,
} from '@scalaria/core';
import { held, loadFonts, seenFile, shippedFile } from './held';

/** The fonts that a report holds: our own, so that it looks the same wherever it is read. */
const REPORT_FONTS = [
  ['Spline Sans', 400, 'spline-sans-latin-400-normal'],
  ['Spline Sans', 700, 'spline-sans-latin-700-normal'],
  ['Spline Sans Mono', 400, 'spline-sans-mono-latin-400-normal'],
] as const;

async function reportFonts(): Promise<NonNullable<ReportInput['fonts']>> {
  return Promise.all(
    REPORT_FONTS.map(async ([family, weight, file]) => ({
      family,
      weight,
      address: dataAddress('font/woff2', await shippedFile(`${file}.woff2`)),
    })),
  );
}

/** The checks, one by one, and what they found as a page. */
export const checking = {
  /**
   * Runs the checks one by one and tells of each; between two of them other questions are answered. A new run ends the
   * one before. `false` when it was ended.
   */
  async checks(
    settings: Record<string, Kept>,
    onChecked: (id: string, found: Finding[]) => void,
    purpose: Purpose = 'any',
  ): Promise<boolean> {
    const run = ++held.checkRun;
    const drawing = held.prepared;
    if (!drawing) return false;
    const own = settingsForDrawing(settings, drawing.unit);
    const fonts = await loadFonts();
    for (const check of CHECKS) {
      if (voiceOf(check.id, purpose) === 'silent') {
        onChecked(check.id, []);
        continue;
      }
      await new Promise((resolve) => setTimeout(resolve, 0));
      // Only the one that asks waits for the file to be drawn by other means.
      const seen = check.id === SEEN_OTHERWISE ? await seenFile() : null;
      if (run !== held.checkRun || drawing !== held.prepared) return false;
      const found = runCheck(check, drawing, own[check.id], { fonts, ...(seen && { seen }) });
      onChecked(check.id, underPurpose(found, check.id, purpose));
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
  async report(
    name: string,
    format: string,
    settings: Record<string, Kept>,
    review: Review = {},
    strip: ReportInput['strip'] = [],
  ): Promise<string | null> {
    if (!held.prepared) return null;
    const seen = await seenFile();
    const checks = new Map(CHECKS.map((c) => [c.id, c]));
    const purpose = review.purpose ?? 'any';
    const found = runChecks(
      held.prepared,
      settingsForDrawing(settings, held.prepared.unit),
      { fonts: await loadFonts(), ...(seen && { seen }) },
      purpose,
    );
    const { told: findings, aside } = withoutAside(found, review.aside ?? {});
    const whys = review.aside ?? {};
    return findingsReport(held.prepared, {
      name,
      format,
      findings,
      aside: aside.map((f) => ({ ...f, why: whys[findingKey(f)] ?? whys[wholeCheckKey(f.check)] ?? '' })),
      purpose: PURPOSES[purpose],
      ...(strip.length > 0 && { strip }),
      fonts: await reportFonts(),
      checks,
      inventory: inventoryOf(held.prepared),
    });
  },
};
