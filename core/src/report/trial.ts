import { surveyOf } from '../drawing/survey.js';
import { boundsOf } from '../drawing/bounds.js';
import { curvesOf } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { KINDS } from '../drawing/kinds.js';
import { outlinePath } from '../drawing/outline-path.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { subpaths } from '../geometry/path.js';
import { inventoryOf } from '../intake/inventory.js';
import type { Proof } from '../proof/prove.js';
import { previewMap, previewSvg } from '../scene/preview.js';
import { weigh } from '../proof/verdict.js';

/** What a way of writing came to, by what a receiver would count in the file. */
export interface TrialFigures {
  readonly bytes: number;
  /** Closed outlines that one click selects whole, and curves that lie loose. */
  readonly outlines: number;
  readonly pieces: number;
  readonly circles: number;
  readonly arcs: number;
  readonly splines: number;
  /** Straight pieces, those of polylines and paths too. */
  readonly chords: number;
  readonly texts: number;
  /** Texts without a word. */
  readonly emptyTexts: number;
  readonly points: number;
  /** How many of the colours that were prepared the file has to the digit. */
  readonly coloursEqual: number;
  readonly colours: number;
  readonly layers: number;
  readonly groups: number;
  /** Rows that tell of something dropped or only approximated, not on purpose. */
  readonly losses: number;
  readonly holds: boolean;
}

/** Something that one click selects at the receiver, as it lies in the picture of the file. */
export interface Click {
  /** Path data in the units of the picture. */
  readonly d: string;
  readonly words: string;
}

/** A way of writing, read back. */
export interface Trial {
  readonly figures: TrialFigures;
  readonly svg: string;
  readonly clicks: readonly Click[];
}

/** Counts what a file holds. `back`: read back, upright. */
export function trialFigures(
  written: Drawing,
  back: Drawing,
  bytes: number,
  proof: Proof,
  ledger: readonly LedgerRow[],
): TrialFigures {
  const counts = {
    outlines: 0,
    pieces: 0,
    circles: 0,
    arcs: 0,
    splines: 0,
    chords: 0,
    texts: 0,
    emptyTexts: 0,
    points: 0,
  };
  surveyOf(back).each(({ entity: e, toWorld }) => {
    if (e.kind === 'insert') return;
    if (e.kind === 'text' || e.kind === 'richText') {
      counts.texts++;
      if ((e.kind === 'text' ? e.text : e.plain).trim() === '') counts.emptyTexts++;
      return;
    }
    if (KINDS[e.kind].contour) {
      if (isClosed(e)) counts.outlines++;
      else counts.pieces++;
    }
    if (e.kind === 'circle') counts.circles++;
    else if (e.kind === 'spline') counts.splines++;
    curvesOf(e, toWorld, {
      move: () => void counts.points++,
      line: () => void (counts.points++, counts.chords++),
      arc: () => void (counts.points++, (counts.arcs += e.kind === 'circle' ? 0 : 1)),
      cubic: () => void counts.points++,
      nurbs: (c) => void (counts.points += c.points.length / 3),
    });
  });
  const [had, has] = [inventoryOf(written).swatches, new Set(inventoryOf(back).swatches.map((s) => s.hex))];
  const losses = ledger.filter((r) => !r.onPurpose && (r.action === 'dropped' || r.action === 'approximated')).length;
  return {
    ...counts,
    bytes,
    coloursEqual: had.filter((s) => has.has(s.hex)).length,
    colours: had.length,
    layers: back.layers.length,
    groups: back.nodes.length + back.entities.filter((e) => e.kind === 'insert').length,
    losses: losses + weigh(proof).lost,
    holds: proof.holds,
  };
}

/** Ways from the one that loses least to the one that loses most; what does not hold comes last. */
export const fewestLosses = (a: TrialFigures, b: TrialFigures): number =>
  Number(b.holds) - Number(a.holds) ||
  a.losses - b.losses ||
  b.coloursEqual / (b.colours || 1) - a.coloursEqual / (a.colours || 1) ||
  a.pieces - b.pieces ||
  a.bytes - b.bytes;

function isClosed(e: Entity): boolean {
  if (e.kind === 'circle') return true;
  if (e.kind === 'polyline') return e.closed;
  if (e.kind === 'spline') {
    // One that is clamped ends on its first and last control point.
    const { points: p } = e;
    return e.closed || [0, 1, 2].every((i) => p[i] === p[p.length - 3 + i]);
  }
  const path = outlinePath(e);
  if (!path) return false;
  const { count, closed } = subpaths(path);
  return count > 0 && closed === count;
}

/** The picture of a trial, in its own units. */
export const TRIAL_PICTURE = [720, 480] as const;
const MOST_CLICKS = 600;
const LONGEST = 400_000;

/** What one click selects in a file, by its outermost objects: a placed block, an object; of groups it is said how many go along. */
export function trialOf(back: Drawing, figures: TrialFigures): Trial {
  const [width, height] = TRIAL_PICTURE;
  const svg = previewSvg(back, width, height);
  const box = boundsOf(back);
  if (box.empty) return { figures, svg, clicks: [] };
  const { k, at: placed } = previewMap(box, width, height);
  const at = (x: number, y: number): string => {
    const [u, v] = placed(x, y);
    return `${u.toFixed(1)} ${v.toFixed(1)}`;
  };
  const members = new Map<number, number>();
  for (const e of back.entities) if (e.node !== undefined) members.set(e.node, (members.get(e.node) ?? 0) + 1);
  const paths = new Map<Entity, string>();
  let length = 0;
  surveyOf(back).each(({ entity, top, toWorld }) => {
    if ((paths.size >= MOST_CLICKS && !paths.has(top)) || length > LONGEST) return;
    let d = '';
    flattenEntity(entity, toWorld, 0.5 / k, {
      moveTo: (x, y) => void (d += `M${at(x, y)}`),
      lineTo: (x, y) => void (d += `L${at(x, y)}`),
    });
    length += d.length;
    if (d !== '') paths.set(top, (paths.get(top) ?? '') + d);
  });
  const words = (e: Entity): string => {
    const group = e.node === undefined ? '' : `, in the group “${back.nodes[e.node]!.name}” of ${members.get(e.node)}`;
    const what = e.kind === 'insert' ? `placed block “${e.block}”` : `one ${KINDS[e.kind].words[0]}`;
    return `${what} on ${e.layer}${group}`;
  };
  return { figures, svg, clicks: [...paths].map(([e, d]) => ({ d, words: words(e) })) };
}
