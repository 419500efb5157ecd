import type { Drawing } from '../drawing/drawing.js';
import { checkStop } from '../formats/format.js';
import type { Purpose } from './purposes.js';
import { underPurpose, voiceOf } from './purposes.js';
import { soundOf } from '../parameters/faults.js';
import { valuesOf } from '../parameters/lengths.js';
import type { Kept } from '../parameters/parameter.js';
import type { Check, CheckWork, Finding } from './check.js';
import { MOST_FINDINGS, firstOf } from './check.js';
import { damagedFile } from './damaged-file.js';
import { brokenCurves } from './broken-curves.js';
import { doubles } from './doubles.js';
import { farFromOrigin } from './far-from-origin.js';
import { hiddenContent } from './hidden-content.js';
import { hiddenCircles } from './hidden-circles.js';
import { longDecimals } from './long-decimals.js';
import { layerNames } from './layer-names.js';
import { openOutlines } from './open-outlines.js';
import { redundantGroups } from './redundant-groups.js';
import { emptyText } from './empty-text.js';
import { manyNodes } from './many-nodes.js';
import { missingLetters } from './missing-letters.js';
import { overlapping } from './overlapping.js';
import { stackedShapes } from './stacked-shapes.js';
import { textOverOutline } from './text-over-outline.js';
import { touchingOutlines } from './touching-outlines.js';
import { unit } from './unit.js';
import { unsharedPoints } from './unshared-points.js';
import { missingFiles } from './missing-files.js';
import { offPlane } from './off-plane.js';
import { onlyPictures } from './only-pictures.js';
import { paperOnly } from './paper-only.js';
import { seenOtherwise } from './seen-otherwise.js';
import { selfCrossing } from './self-crossing.js';
import { similarColours } from './similar-colours.js';
import { specialPaints } from './special-paints.js';
import { strays } from './strays.js';
import { unreadObjects } from './unread-objects.js';
import { typedOverDimensions } from './typed-over-dimensions.js';
import { unevenInserts } from './uneven-inserts.js';
import { withoutLength } from './without-length.js';

/** All checks. A new one is a file beside these and a line here. */
export const CHECKS: readonly Check[] = [
  damagedFile,
  seenOtherwise,
  unit,
  typedOverDimensions,
  missingFiles,
  missingLetters,
  paperOnly,
  onlyPictures,
  hiddenContent,
  openOutlines,
  selfCrossing,
  doubles,
  overlapping,
  withoutLength,
  touchingOutlines,
  unsharedPoints,
  farFromOrigin,
  strays,
  longDecimals,
  offPlane,
  stackedShapes,
  hiddenCircles,
  brokenCurves,
  manyNodes,
  redundantGroups,
  emptyText,
  textOverOutline,
  specialPaints,
  similarColours,
  layerNames,
  unevenInserts,
  unreadObjects,
];

/**
 * Runs one check under its settings; what is missing, or does not fit, is the default. The first `MOST_FINDINGS` are kept, and a last one says how
 * many more there are.
 */
export function runCheck(check: Check, drawing: Drawing, settings: Kept = {}, work?: CheckWork): Finding[] {
  const found = check.run(drawing, valuesOf(check.params, soundOf(check.params, settings), drawing.unit), work);
  // A check that finds very many cuts its list short itself.
  return found[found.length - 1]?.more !== undefined ? found : firstOf(check.id, found, (f) => f);
}

export { MOST_FINDINGS };

/** Runs every check that speaks under the purpose; `settings` holds parameters by check id. */
export function runChecks(
  drawing: Drawing,
  settings: Record<string, Kept> = {},
  work?: CheckWork,
  purpose: Purpose = 'any',
): Finding[] {
  return CHECKS.flatMap((check, i) => {
    checkStop(work);
    work?.onProgress?.(i / CHECKS.length);
    if (voiceOf(check.id, purpose) === 'silent') return [];
    return underPurpose(runCheck(check, drawing, settings[check.id], work), check.id, purpose);
  });
}
