import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { LedgerRow } from '../drawing/ledger.js';
import type { Stage } from '../drawing/lineage.js';
import { boundsOf } from '../drawing/bounds.js';
import { IDENTITY } from '../geometry/affine.js';
import { CHORDS, ROUNDING } from '../geometry/tolerance.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { Stepped } from '../steps/index.js';
import type { StepList } from '../steps/step.js';
import type { FontBook } from '../text/fonts.js';
import { farthest } from './distance.js';
import { boundaries, measure } from './measure.js';

/** What of a drawing is otherwise after a step: entities outside blocks, those among them whose block was changed. */
export interface ChangedParts {
  same: Entity[];
  old: Entity[];
  now: Entity[];
}

/** What a step would do, before it is taken. */
export interface StepPreview {
  /** How many objects were looked at; `null` where the step does not say. */
  looked: number | null;
  /** What it lists of what it would make. */
  lists: readonly StepList[];
  /** How many would change or go, and how many objects there would be instead of those. */
  changed: number;
  become: number;
  /** What was left as it is, and why. */
  left: { words: string; count: number }[];
  /** What the ledger would say. */
  told: { words: string; count: number }[];
  /** The largest distance between what was and what would be, measured on curves both ways (drawing unit), and where. */
  farthest: { value: number; x: number; y: number } | null;
}

/** So many changes are measured at most, those first of which most is claimed. */
const MOST_MEASURED = 300;

/** Parts of two drawings of which the second came of the first. */
export function changedParts(before: Drawing, after: Drawing): ChangedParts {
  const blocks = changedBlocks(before, after);
  const shows = (e: Entity): boolean => {
    const name = e.kind === 'insert' ? e.block : 'picture' in e ? e.picture : undefined;
    return name !== undefined && blocks.has(name.toLowerCase());
  };
  const [had, have] = [new Set(before.entities), new Set(after.entities)];
  const same: Entity[] = [];
  const old: Entity[] = [];
  for (const e of before.entities) (have.has(e) && !shows(e) ? same : old).push(e);
  const now = after.entities.filter((e) => !had.has(e) || shows(e));
  return { same, old, now };
}

/** Blocks that show something else than they did, directly or by what is in them. */
function changedBlocks(before: Drawing, after: Drawing): Set<string> {
  const changed = new Set<string>();
  for (const [key, block] of after.blocks) if (before.blocks.get(key) !== block) changed.add(key);
  if (changed.size === 0) return changed;
  for (let grown = true; grown;) {
    grown = false;
    for (const [key, { entities }] of after.blocks) {
      if (changed.has(key)) continue;
      if (!entities.some((e) => e.kind === 'insert' && changed.has(e.block.toLowerCase()))) continue;
      changed.add(key);
      grown = true;
    }
  }
  return changed;
}

/** What a step that was run on a drawing did, with the distance measured by what measures for proofs rather than by the step. */
export function previewOf(before: Drawing, made: Stepped, fonts: FontBook, work?: Work): StepPreview {
  const said = (rows: readonly LedgerRow[]): { words: string; count: number }[] =>
    rows.map((r) => ({ words: r.reason, count: r.count }));
  const kept = made.ledger.filter((r) => r.action === 'kept');
  let [changed, become] = [0, 0];
  for (const stage of made.stages) {
    if (stage.map !== IDENTITY) {
      changed = become = before.entities.length;
      continue;
    }
    const from = new Set(stage.descents.flatMap((d) => d.from));
    // What is drawn in another order alone is changed in that.
    const reordered = stage.descents.length === 0 ? outOfPlace(stage) : 0;
    changed += from.size + reordered;
    become += stage.descents.reduce((n, d) => n + d.to.length, 0) + reordered;
  }
  return {
    looked: made.looked,
    lists: made.lists,
    changed,
    become,
    left: said(kept),
    told: said(made.ledger.filter((r) => r.action !== 'kept')),
    farthest: made.stages.length === 1 ? farthestIn(made.stages[0]!, fonts, work) : null,
  };
}

const outOfPlace = ({ before, after }: Stage): number =>
  after.entities.reduce((n, e, i) => (e === before.entities[i] ? n : n + 1), 0);

function farthestIn(stage: Stage, fonts: FontBook, work?: Work): StepPreview['farthest'] {
  if (stage.map !== IDENTITY) return null;
  const [had, have] = [new Set(stage.before.entities), new Set(stage.after.entities)];
  const pairs = stage.descents
    .filter((d) => d.claim.kind === 'kept' && d.from.every((e) => had.has(e)) && d.to.every((e) => have.has(e)))
    .map((d) => ({ from: d.from, to: d.to, on: d.on ?? [], within: d.claim.kind === 'kept' ? d.claim.within : 0 }));
  // What changed in a block is measured where it is placed.
  const blocks = changedBlocks(stage.before, stage.after);
  if (blocks.size > 0)
    for (const e of stage.before.entities)
      if (e.kind === 'insert' && have.has(e) && blocks.has(e.block.toLowerCase()))
        pairs.push({ from: [e], to: [e], on: [], within: Infinity });
  pairs.sort((a, b) => b.within - a.within);
  let worst: StepPreview['farthest'] = null;
  for (const pair of pairs.slice(0, MOST_MEASURED)) {
    checkStop(work);
    // Nothing lies further off than was claimed, or the proof would not hold.
    if (worst && pair.within < worst.value * 0.5) break;
    const one = apart(stage, pair, fonts);
    if (one && one.value > (worst?.value ?? 0)) worst = one;
  }
  return worst;
}

interface Pair {
  from: readonly Entity[];
  to: readonly Entity[];
  on: readonly Entity[];
}

/** The largest distance of one change, both ways; `null` below what rounding makes. */
function apart(stage: Stage, { from, to, on }: Pair, fonts: FontBook): StepPreview['farthest'] {
  const only = (d: Drawing, entities: readonly Entity[]): Drawing => ({ ...d, layers: [], entities: [...entities] });
  const before = only(stage.before, from);
  const box = boundsOf(before, { hidden: true });
  if (box.empty) return null;
  const size = box.diagonal || 1;
  const far = Math.max(...[box.minX, box.minY, box.maxX, box.maxY].map(Math.abs));
  // Finer than a proof needs: what is told is a number.
  const fine = Math.max(size * CHORDS * 1e-3, far * ROUNDING);
  const a = measure(before, 1, fine, fonts);
  const b = measure(only(stage.after, to), 1, fine, fonts);
  const around = on.length > 0 ? measure(only(stage.after, [...to, ...on]), 1, fine, fonts) : b;
  if (b.chords.length === 0 && around === b) return null;
  const ways = [farthest(a.chords, boundaries(around), fine), farthest(b.chords, boundaries(a), fine)];
  const { distance, x, y } = ways[0]!.distance >= ways[1]!.distance ? ways[0]! : ways[1]!;
  return Number.isFinite(distance) && distance > 3 * fine ? { value: distance, x, y } : null;
}
