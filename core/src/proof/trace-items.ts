import type { Stage, ShownPicture } from '../drawing/lineage.js';
import { shownPictures } from '../drawing/lineage.js';
import { applyPoint } from '../geometry/affine.js';
import type { Entity } from '../drawing/entity.js';
import type { Renderer } from '../witness/renderer.js';
import type { TraceMarks } from '../witness/trace-marks.js';
import { ALIKE_DRAWN, traceMarks } from '../witness/trace-marks.js';
import type { ProofItem, ProofState } from './proof-item.js';

/** So many pictures are held against what was traced of them. */
const MOST_PICTURES = 12;
/** The part of its pixels that may be of another area: of clean art; and of what has noise, compression or softened edges. */
const CLEAN = 0.002;
const ROUGH = 0.05;
/** So many pixels that hang together and are of another area, with none of their own beside them, are an area that was lost or made up. */
const PLACE = 64;

/** Pictures that were traced, each against its trace: both drawn by a renderer that had no part in tracing. */
export function traceItems(stages: readonly Stage[], renderer: Renderer): ProofItem[] {
  const traced = shownPictures(stages);
  const items = traced.slice(0, MOST_PICTURES).map(({ to, shows }, i) => {
    const id = i === 0 ? 'seen-trace' : `seen-trace-${i + 1}`;
    return itemOf(id, traceMarks(to, shows, renderer), to, shows);
  });
  const more = traced.length - items.length;
  if (more > 0) items.push({ ...undecided('seen-trace-more', `${more} more pictures`), count: more });
  return items;
}

const BASE = { carryOver: 'curves', title: 'Picture and what was traced of it, drawn' } as const;
const undecided = (id: string, why: string): ProofItem => ({
  ...BASE,
  id,
  state: 'undecided',
  expected: 'the same areas',
  found: 'not looked at',
  explanation: why,
});

function itemOf(id: string, marks: TraceMarks | string, to: readonly Entity[], shows: ShownPicture): ProofItem {
  if (typeof marks === 'string') return undecided(id, marks);
  const pixels = marks.width * marks.height;
  const { other } = marks;
  const share = other / pixels;
  const place = largestPlace(marks);
  const isPlace = place !== null && place.pixels >= Math.max(PLACE, shows.speckles);
  const state: ProofState = isPlace || share > ROUGH ? 'atRisk' : share > CLEAN ? 'changed' : 'kept';
  const [x, y] = place ? applyPoint(marks.place, [place.x, place.y, 0]) : [0, 0];
  return {
    ...BASE,
    id,
    state,
    expected: `the areas of ${marks.width} × ${marks.height} pixels`,
    found: `${other} ${other === 1 ? 'pixel is' : 'pixels are'} of another area: ${percent(share)} %`,
    explanation: [
      isPlace ? `${place.pixels} of them lie together, with nothing of their own area beside them` : '',
      `${to.length} ${to.length === 1 ? 'area' : 'areas'}; up to ${percent(CLEAN)} % is what clean art comes to`,
    ]
      .filter(Boolean)
      .join('; '),
    ...(isPlace && { at: { x, y } }),
  };
}

const percent = (share: number): number => Number((100 * share).toPrecision(2));

/** Where the most pixels hang together that have none of their own beside them, and how many. */
function largestPlace({ width, height, nearMarks }: TraceMarks): { x: number; y: number; pixels: number } | null {
  const left = nearMarks.map((m) => (m > ALIKE_DRAWN ? 1 : 0));
  let most: { x: number; y: number; pixels: number } | null = null;
  const waiting: number[] = [];
  for (let start = left.indexOf(1); start >= 0; start = left.indexOf(1, start + 1)) {
    let pixels = 0;
    left[start] = 0;
    waiting.push(start);
    for (let i = waiting.pop(); i !== undefined; i = waiting.pop()) {
      pixels++;
      const [x, y] = [i % width, (i / width) | 0];
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          if (left[v * width + u] === 0) continue;
          left[v * width + u] = 0;
          waiting.push(v * width + u);
        }
    }
    // A pixel that is among them: the middle of a ring is not.
    if (pixels > (most?.pixels ?? 0)) most = { x: (start % width) + 0.5, y: ((start / width) | 0) + 0.5, pixels };
  }
  return most;
}
