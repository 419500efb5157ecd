import Flatbush from 'flatbush';
import type { Affine } from '../geometry/affine.js';
import { applyPoint } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { insideRing } from '../drawing/area.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Entity } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { wordsIn } from '../drawing/words-in.js';
import { surveyOf } from '../drawing/survey.js';
import { textCorners } from '../text/text-corners.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { isAnnotationPart } from '../analysis/annotation.js';
import { lengthWords } from './words.js';
import { CHORDS, UNSEEN } from '../geometry/tolerance.js';

/** So many texts are looked at. */
const MOST_TEXTS = 20_000;

interface Ring {
  box: Box2;
  id: number;
  /** Its outer outline as chords, made when a text first comes to stand in its box; empty where it does not close. */
  points: () => readonly number[];
}

/** Finds texts that stand in an outline and run over it. */
export const textOverOutline = defineCheck({
  id: 'text-over-outline',
  title: 'Text running over its outline',
  summary: 'A label that is wider than the shape it stands in is cut off, unreadable or engraved across the edge.',
  carries: ['text'],
  params: {
    over: p.number({ title: 'Report text over by more than this part of its height', default: 0.1, atLeast: 0 }),
  },
  mend: {
    step: 'labels-inside',
    words: 'Bring these into their outlines',
    params: () => ({}),
  },
  run(drawing, params, work) {
    const fonts = work?.fonts;
    if (!fonts) return [];
    const rings: Ring[] = [];
    const texts: { id: number; layer: string; words: string; corners: [number, number][]; size: number }[] = [];
    const survey = surveyOf(drawing);
    survey.each(({ entity: e, toWorld, resolved, top }, i) => {
      if (isAnnotationPart(top)) return;
      if (e.kind === 'text' || e.kind === 'richText') {
        if (texts.length >= MOST_TEXTS || (e.kind === 'text' && (e.along || e.hidden))) return;
        const corners = textCorners(e, drawing, fonts).map(([x, y]): [number, number] => {
          const p = applyPoint(entityToWorld(e, toWorld), [x, y, e.at[2]]);
          return [p[0], p[1]];
        });
        const size =
          corners.length === 0 ? 0 : Math.hypot(corners[3]![0] - corners[0]![0], corners[3]![1] - corners[0]![1]);
        if (corners.length > 0)
          texts.push({
            id: e.id,
            layer: resolved.layer,
            words: wordsIn(e)!.replace(/\s+/g, ' '),
            corners,
            size,
          });
      } else if (
        e.kind === 'circle' ||
        e.kind === 'ellipse' ||
        e.kind === 'path' ||
        ((e.kind === 'polyline' || e.kind === 'spline') && e.closed)
      ) {
        const box = survey.box(i);
        if (box.empty || box.diagonal === 0) return;
        let points: readonly number[] | null = null;
        rings.push({ box, id: e.id, points: () => (points ??= outlineOf(e, toWorld, box)) });
      }
    });
    if (rings.length === 0 || texts.length === 0) return [];
    const index = new Flatbush(rings.length);
    for (const { box } of rings) index.add(box.minX, box.minY, box.maxX, box.maxY);
    index.finish();
    const found: Finding[] = [];
    for (const t of texts) {
      const x = (t.corners[0]![0] + t.corners[2]![0]) / 2;
      const y = (t.corners[0]![1] + t.corners[2]![1]) / 2;
      // The smallest that it stands in.
      const around = index
        .search(x, y, x, y)
        .sort((a, b) => rings[a]!.box.diagonal - rings[b]!.box.diagonal || a - b)
        .find((i) => insideRing(rings[i]!.points(), x, y));
      if (around === undefined) continue;
      // What is no larger than a letter is not what the text stands in.
      if (rings[around]!.box.diagonal < t.size) continue;
      const over = Math.max(...edgePoints(t.corners).map((p) => outside(rings[around]!.points(), p)));
      if (over <= params.over * t.size) continue;
      found.push({
        check: 'text-over-outline',
        severity: 'note',
        message: `“${t.words.slice(0, 40)}” runs ${lengthWords(drawing, over)} over the outline it stands in`,
        at: { x, y },
        size: over,
        span: Math.hypot(t.corners[2]![0] - t.corners[0]![0], t.corners[2]![1] - t.corners[0]![1]),
        layer: t.layer,
        ids: [t.id, rings[around]!.id],
      });
    }
    return found.sort((a, b) => (b.size ?? 0) - (a.size ?? 0));
  },
});

/** The outer outline of a shape as chords: of one with holes, what a label stands in. Empty where it does not close. */
function outlineOf(e: Entity, toWorld: Affine, box: Box2): readonly number[] {
  const own: number[][] = [];
  flattenEntity(e, toWorld, box.diagonal * CHORDS, {
    moveTo: (x, y) => void own.push([x, y]),
    lineTo: (x, y) => void own[own.length - 1]!.push(x, y),
  });
  const [points] = own;
  const n = points?.length ?? 0;
  const closed =
    n >= 6 && Math.hypot(points![0]! - points![n - 2]!, points![1]! - points![n - 1]!) <= UNSEEN * box.diagonal;
  return closed ? points! : [];
}

/** Corners, and points between them along the edges. */
function edgePoints(corners: readonly (readonly [number, number])[]): [number, number][] {
  const out: [number, number][] = [];
  corners.forEach(([x, y], i) => {
    const [u, v] = corners[(i + 1) % corners.length]!;
    for (let k = 0; k < 4; k++) out.push([x + ((u - x) * k) / 4, y + ((v - y) * k) / 4]);
  });
  return out;
}

/** How far a point lies outside a ring; 0 inside. */
function outside(ring: readonly number[], [x, y]: readonly [number, number]): number {
  if (insideRing(ring, x, y)) return 0;
  let least = Infinity;
  for (let i = 0; i + 3 < ring.length; i += 2) {
    const [dx, dy] = [ring[i + 2]! - ring[i]!, ring[i + 3]! - ring[i + 1]!];
    const l = dx * dx + dy * dy;
    const t = l > 0 ? Math.min(1, Math.max(0, ((x - ring[i]!) * dx + (y - ring[i + 1]!) * dy) / l)) : 0;
    least = Math.min(least, Math.hypot(x - ring[i]! - t * dx, y - ring[i + 1]! - t * dy));
  }
  return least;
}
