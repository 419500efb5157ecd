import type { SeenOutlines, SeenRing } from '../analysis/outline-roles.js';
import { outlinesSeen } from '../analysis/outline-roles.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { groupsAround } from '../drawing/groups-around.js';
import { flattenEntity } from '../drawing/flatten.js';
import { KINDS } from '../drawing/kinds.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { namePattern } from '../drawing/name-pattern.js';
import type { Visit } from '../drawing/resolve.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { applyPoint } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { Chord } from '../geometry/clip-chord.js';
import { crossingAmong, holdersAmong } from '../geometry/nesting.js';
import { nearestOnPiece } from '../geometry/nearest-on-piece.js';
import { pointAt } from '../geometry/path-pieces.js';
import { boxOfPieces } from '../geometry/pieces-box.js';
import { lengthOfPieces } from '../geometry/planar/moments.js';
import { CHORDS } from '../geometry/tolerance.js';

/** What says which things belong together beside outlines: layers, groups or placed blocks of these names. */
export interface PartWay {
  readonly how: 'layer' | 'group' | 'block';
  /** `*` stands for any letters, several apart by commas; empty for all. */
  readonly named: string;
}

export interface PartRules {
  /** In order: what one has taken the next does not. What none takes is found by its outline. */
  readonly by: readonly PartWay[];
  /** Layers and groups of letters that were drawn as outlines: they are labels. */
  readonly letters: string;
  /** Outlines that would be parts and are smaller (drawing units, squared) are marks. */
  readonly smallest: number;
  /** A label outside all parts that is no further from one is offered to it (drawing units). */
  readonly offer: number;
}

export const PART_RULES: PartRules = { by: [], letters: '', smallest: 0, offer: 0 };

/** One outer outline with its holes, marks and labels. Lengths and areas in the drawing's unit. */
export interface Part {
  /** Its outline and its holes, by their places among the rings. */
  readonly outer: number;
  readonly holes: readonly number[];
  /** Open curves and small outlines within it, and texts, by their places among the visits. */
  readonly marks: readonly number[];
  readonly labels: readonly number[];
  /** Texts outside all parts that are nearest to it. */
  readonly offered: readonly number[];
  /** What the layer, group or block is called that holds it together; empty where its outline alone does. */
  readonly called: string;
  /** Its outline less its holes. */
  readonly area: number;
  /** Around its outline and its holes. */
  readonly cutLength: number;
  readonly box: Box2;
}

/** What is wrong with parts, and where. */
export interface PartFinding {
  readonly code: 'open-outline' | 'outside-parts' | 'mark-crosses' | 'mark-in-hole' | 'several-outlines' | 'no-outline';
  readonly visit: number;
  readonly x: number;
  readonly y: number;
  /** The layer, group or block that it is about, where it is. */
  readonly called: string;
}

/** Findings in words, to follow what they are about. */
export const PART_FINDING_WORDS: Readonly<Record<PartFinding['code'], string>> = {
  'open-outline': 'an outline that does not close: it is no part',
  'outside-parts': 'belongs to no part',
  'mark-crosses': 'a mark that crosses an outline',
  'mark-in-hole': 'a mark in a hole',
  'several-outlines': 'has several outlines: each is a part of its own',
  'no-outline': 'has no closed outline: it is no part',
};

export interface PartsFound extends SeenOutlines {
  readonly parts: readonly Part[];
  readonly findings: readonly PartFinding[];
}

/** Ends this near each other, as a part of what a curve spans, are those of an outline that was left open. */
const NEARLY_CLOSED = 0.1;

/** Finds the parts of a drawing. Everything in sight that could belong to one does, or is a finding. */
export function findParts(drawing: Drawing, rules: PartRules = PART_RULES, work?: Work): PartsFound {
  const isLetter = lettersOf(drawing, rules.letters);
  const seen = outlinesSeen(drawing, work, (v) => !isLetter(v));
  const { visits, rings } = seen;
  const sets = setsOf(drawing, visits, rules);
  const isSmall = (r: SeenRing): boolean => r.around.length % 2 === 0 && r.area < rules.smallest;
  const partOfRing = new Map<number, Draft>();
  const drafts: Draft[] = [];
  rings.forEach((r, i) => {
    if (r.around.length % 2 !== 0 || isSmall(r)) return;
    const draft: Draft = {
      outer: i,
      holes: [],
      marks: [],
      labels: [],
      offered: [],
      called: sets.nameOf(r.owner),
      box: boxOfPieces(r.pieces),
    };
    drafts.push(draft);
    partOfRing.set(i, draft);
  });
  const findings: PartFinding[] = [];
  const tell = (code: PartFinding['code'], visit: number, [x, y]: readonly [number, number], called = ''): void =>
    void findings.push({ code, visit, x, y, called });
  /** The part that a ring is a hole of, or is the outline of. */
  const partAt = (ring: number): Draft | undefined => partOfRing.get(ring) ?? partOfRing.get(rings[ring]!.around[0]!);
  const marks = new Set<number>();
  rings.forEach((r, i) => {
    if (partOfRing.has(i)) return;
    const holder = r.around[0];
    if (isSmall(r)) {
      marks.add(r.owner);
      const part = holder === undefined ? undefined : partAt(holder);
      if (part && !part.marks.includes(r.owner)) part.marks.push(r.owner);
      else if (!part) tell('outside-parts', r.owner, pointAt(r.pieces[0]!, 0));
    } else partOfRing.get(holder!)?.holes.push(i);
  });
  const ringed = new Set(rings.map((r) => r.owner));
  const holders = holdersAmong(rings.map((r) => r.pieces));
  const crosses = crossingAmong(rings.map((r) => r.pieces));
  const bySet = new Map<string, Draft[]>();
  for (const d of drafts) {
    const set = sets.of(rings[d.outer]!.owner);
    if (set === null) continue;
    const list = bySet.get(set);
    if (list) list.push(d);
    else bySet.set(set, [d]);
  }
  for (const [set, list] of bySet)
    if (list.length > 1) {
      const owner = rings[list[0]!.outer]!.owner;
      tell('several-outlines', owner, pointAt(rings[list[0]!.outer]!.pieces[0]!, 0), sets.title(set));
    }
  /** The one part of the set that something belongs to. */
  const ofSet = (visit: number): Draft | undefined => {
    const set = sets.of(visit);
    const list = set === null ? undefined : bySet.get(set);
    return list?.length === 1 ? list[0] : undefined;
  };
  visits.forEach((visit, i) => {
    if (i % 4096 === 0) checkStop(work);
    if (ringed.has(i) || marks.has(i)) return;
    const letter = isLetter(visit);
    const chords = letter || isText(visit.entity) ? null : chordsOf(visit);
    if (chords?.length === 0) return;
    const at = chords ? middleOf(chords) : placeOf(visit);
    if (!at) return;
    const first = holders(...at)[0];
    const within = first === undefined ? undefined : partAt(first);
    const own = ofSet(i) ?? within;
    if (!chords) {
      if (own) own.labels.push(i);
      else {
        const near = nearestPart(drafts, rings, at, rules.offer);
        if (near) near.offered.push(i);
        else tell('outside-parts', i, at);
      }
      return;
    }
    if (chords.some(([x0, y0, x1, y1]) => crosses(x0, y0, x1, y1))) tell('mark-crosses', i, at);
    else if (first !== undefined && !partOfRing.has(first)) tell('mark-in-hole', i, at);
    if (own) own.marks.push(i);
    else tell(isNearlyClosed(chords) ? 'open-outline' : 'outside-parts', i, at);
  });
  for (const [set, first] of sets.firsts)
    if (!bySet.has(set)) {
      const at = placeOf(visits[first]!);
      if (at) tell('no-outline', first, at, sets.title(set));
    }
  return { ...seen, parts: drafts.map((d) => finished(d, rings)), findings };
}

interface Draft {
  outer: number;
  holes: number[];
  marks: number[];
  labels: number[];
  offered: number[];
  called: string;
  box: Box2;
}

function finished(d: Draft, rings: readonly SeenRing[]): Part {
  const outer = rings[d.outer]!;
  const own = [outer, ...d.holes.map((h) => rings[h]!)];
  return {
    ...d,
    area: outer.area - d.holes.reduce((sum, h) => sum + rings[h]!.area, 0),
    cutLength: own.reduce((sum, r) => sum + lengthOfPieces(r.pieces), 0),
  };
}

const isText = (e: Entity): boolean => e.kind === 'text' || e.kind === 'richText';

/** Whether something is a letter drawn as outlines, by its layer or a group it lies in. */
function lettersOf(drawing: Drawing, pattern: string): (v: Visit) => boolean {
  if (pattern.trim() === '') return () => false;
  const fits = namePattern(pattern);
  return ({ entity, resolved }) => fits(resolved.layer) || groupsAround(drawing, entity).some((g) => fits(g.name));
}

/** What is held together by something other than an outline. */
interface Sets {
  of(visit: number): string | null;
  nameOf(visit: number): string;
  title(set: string): string;
  /** The first thing of each. */
  readonly firsts: ReadonlyMap<string, number>;
}

function setsOf(drawing: Drawing, visits: readonly Visit[], { by }: PartRules): Sets {
  const firsts = new Map<string, number>();
  const keys: (string | null)[] = visits.map(() => null);
  const titles = new Map<string, string>();
  const tests = by.map(({ how, named }) => ({ how, fits: namePattern(named) }));
  visits.forEach(({ entity, top, resolved }, i) => {
    if (entity.kind === 'insert') return;
    for (const { how, fits } of tests) {
      const found = heldBy(drawing, how, fits, entity, top, resolved.layer);
      if (!found) continue;
      keys[i] = found.key;
      titles.set(found.key, found.name);
      if (!firsts.has(found.key)) firsts.set(found.key, i);
      return;
    }
  });
  return {
    of: (visit) => keys[visit] ?? null,
    nameOf: (visit) => (keys[visit] == null ? '' : titles.get(keys[visit])!),
    title: (set) => titles.get(set) ?? '',
    firsts,
  };
}

function heldBy(
  drawing: Drawing,
  how: PartWay['how'],
  fits: (name: string) => boolean,
  entity: Entity,
  top: Entity,
  layer: string,
): { key: string; name: string } | null {
  switch (how) {
    case 'layer':
      return fits(layer) ? { key: `layer ${layer.toLowerCase()}`, name: layer } : null;
    case 'block':
      // Each place of a block is a thing of its own.
      return top.kind === 'insert' && fits(top.block) ? { key: `block ${top.id}`, name: top.block } : null;
    case 'group': {
      const found = groupsAround(drawing, top.node === undefined ? entity : top).find(
        (g) => g.name !== '' && fits(g.name),
      );
      return found ? { key: `group ${found.node}`, name: found.name } : null;
    }
  }
}

/** Where something is asked which part holds it; `null` where it is nowhere. */
function placeOf({ entity, toWorld }: Visit): readonly [number, number] | null {
  if ('at' in entity && isText(entity)) {
    const p = applyPoint(entityToWorld(entity, toWorld), entity.at);
    return [p[0], p[1]];
  }
  const box = new Box2();
  addEntityBounds(entity, toWorld, new BoundsSink(box));
  return box.empty ? null : [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
}

/** An open curve as chords; none for what has no curves of its own. */
function chordsOf({ entity, toWorld }: Visit): Chord[] {
  if (!KINDS[entity.kind].contour) return [];
  const box = new Box2();
  addEntityBounds(entity, toWorld, new BoundsSink(box));
  if (box.empty || box.diagonal === 0) return [];
  const out: Chord[] = [];
  let [px, py] = [0, 0];
  flattenEntity(entity, toWorld, box.diagonal * CHORDS, {
    moveTo: (x, y) => void ([px, py] = [x, y]),
    lineTo: (x, y) => {
      if (x !== px || y !== py) out.push([px, py, x, y]);
      [px, py] = [x, y];
    },
  });
  return out;
}

/** The middle of the chord in the middle: ends lie on outlines as often as not. */
function middleOf(chords: readonly Chord[]): readonly [number, number] {
  const [x0, y0, x1, y1] = chords[chords.length >> 1]!;
  return [(x0 + x1) / 2, (y0 + y1) / 2];
}

function isNearlyClosed(chords: readonly Chord[]): boolean {
  if (chords.length < 2) return false;
  const box = new Box2();
  for (const [x0, y0, x1, y1] of chords) {
    box.add(x0, y0);
    box.add(x1, y1);
  }
  const [[ax, ay], last] = [chords[0]!, chords[chords.length - 1]!];
  return Math.hypot(last[2] - ax, last[3] - ay) <= NEARLY_CLOSED * box.diagonal;
}

function nearestPart(
  drafts: readonly Draft[],
  rings: readonly SeenRing[],
  [x, y]: readonly [number, number],
  within: number,
): Draft | null {
  let [best, least]: [Draft | null, number] = [null, within];
  if (!(within > 0)) return null;
  for (const d of drafts) {
    const { box } = d;
    if (x < box.minX - least || x > box.maxX + least || y < box.minY - least || y > box.maxY + least) continue;
    for (const p of rings[d.outer]!.pieces) {
      const { away } = nearestOnPiece(p, x, y);
      if (away <= least) [best, least] = [d, away];
    }
  }
  return best;
}
