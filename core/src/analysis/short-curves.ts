import type { Box2 } from '../geometry/box.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity, EntityKind } from '../drawing/entity.js';
import { KINDS } from '../drawing/kinds.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { isAnnotationPart } from './annotation.js';
import { extentOf } from './extent.js';
import { COINCIDENT } from '../geometry/tolerance.js';

export interface ShortCurve {
  entity: Entity;
  layer: string;
  length: number;
  box: Box2;
}

const isCurve = (kind: EntityKind): boolean => KINDS[kind].contour && KINDS[kind].shown === 'curves';

/** Curves no longer than `shortest` (drawing unit; 0: a thousand-millionth of the diagonal). */
export function shortCurvesOf(drawing: Drawing, shortest: number, work?: Work): ShortCurve[] {
  const limit = shortest || extentOf(drawing).diagonal * COINCIDENT;
  const found: ShortCurve[] = [];
  const survey = surveyOf(drawing);
  survey.each(({ entity, resolved, top }, i) => {
    if (i % 4096 === 0) checkStop(work);
    if (isAnnotationPart(top) || !isCurve(entity.kind)) return;
    // A box larger than the limit holds a curve that is longer; only small ones are measured.
    const box = survey.box(i);
    if (box.empty || box.diagonal > limit) return;
    const length = survey.length(i);
    if (length <= limit) found.push({ entity, layer: resolved.layer, length, box });
  });
  return found;
}
