import type { Drawing } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { Parameters } from '../steps/step.js';
import { defaultsOf } from '../steps/step.js';
import type { Check, Finding } from './check.js';
import { doubles } from './doubles.js';
import { farFromOrigin } from './far-from-origin.js';
import { hiddenCircles } from './hidden-circles.js';
import { layerNames } from './layer-names.js';
import { openOutlines } from './open-outlines.js';
import { redundantGroups } from './redundant-groups.js';
import { emptyText } from './empty-text.js';
import { manyNodes } from './many-nodes.js';
import { missingFiles } from './missing-files.js';
import { offPlane } from './off-plane.js';
import { paperOnly } from './paper-only.js';
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
  typedOverDimensions,
  paperOnly,
  openOutlines,
  selfCrossing,
  doubles,
  withoutLength,
  farFromOrigin,
  strays,
  offPlane,
  redundantGroups,
  hiddenCircles,
  manyNodes,
  emptyText,
  specialPaints,
  similarColours,
  layerNames,
  unevenInserts,
  missingFiles,
  unreadObjects,
];

/** Runs every check; `settings` holds parameters by check id, the rest are defaults. */
export function runChecks(drawing: Drawing, settings: Record<string, Parameters> = {}, work?: Work): Finding[] {
  return CHECKS.flatMap((check, i) => {
    checkStop(work);
    work?.onProgress?.(i / CHECKS.length);
    return check.run(drawing, { ...defaultsOf(check.params), ...settings[check.id] }, work);
  });
}
