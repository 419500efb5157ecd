import type { DepthSources } from '../analysis/hole-depth.js';
import { holeDepth } from '../analysis/hole-depth.js';
import type { SeenAt } from '../analysis/outline-roles.js';
import { heightOf } from '../analysis/outline-roles.js';
import type { Drawing } from '../drawing/drawing.js';
import { wordsIn } from '../drawing/words-in.js';
import type { Work } from '../formats/format.js';
import { boxOfPieces } from '../geometry/pieces-box.js';
import type { Decided } from './decided.js';
import { decided } from './decided.js';
import { equalParts } from './equal.js';
import type { PartFinding, PartRules, PartsFound } from './find.js';
import { PART_RULES, findParts } from './find.js';
import type { KeptNumbers, KeptPart, PartRef } from './kept.js';
import { NO_NUMBERS, keptAgain, partRefs } from './kept.js';
import type { Numbering } from './number.js';
import { NUMBERING, nextNumbers, numberFaults, orderOf } from './number.js';
import type { PartWords, SaidOfPart } from './said.js';
import { PART_WORDS, saidOf } from './said.js';

/** All that is asked of a drawing whose parts are listed. */
export interface ListRules extends PartRules {
  readonly words: PartWords;
  readonly numbering: Numbering;
  /** How far points of equal parts may lie apart (drawing units). */
  readonly bound: number;
  readonly facesAlike: boolean;
  /** Which way the grain runs, in degrees anticlockwise from x. */
  readonly grain: number;
  readonly depths: DepthSources;
}

export const LIST_RULES: ListRules = {
  ...PART_RULES,
  words: PART_WORDS,
  numbering: NUMBERING,
  bound: 0.01,
  facesAlike: false,
  grain: 0,
  depths: { sheet: 0, attribute: 'DEPTH', throughColour: null, blindColour: null, throughLayers: '', blindLayers: '' },
};

/** Holes of one diameter in a part; `null` for those that are no circles. */
export interface HoleCount {
  readonly diameter: number | null;
  readonly count: number;
  readonly through: number;
  readonly blind: number;
}

/** A line of the parts list. Lengths and areas in the drawing's unit. */
export interface PartRow extends Omit<Decided, 'numbered'> {
  /** Places among the parts found: the model first, then those equal to it. */
  readonly members: readonly number[];
  /** Who says its number: the drawing itself, somebody before, or nobody until now. */
  readonly numbered: 'said' | 'kept' | 'new';
  /** What the drawing itself says of it. */
  readonly said: SaidOfPart;
  /** Its members as they are kept. */
  readonly refs: readonly PartRef[];
  /** Along the grain, and across it. */
  readonly length: number;
  readonly width: number;
  readonly area: number;
  readonly cutLength: number;
  readonly holes: readonly HoleCount[];
  /** How many of them lie mirrored. */
  readonly mirrored: number;
  readonly marks: number;
  readonly labels: readonly string[];
}

export interface PartsList {
  readonly rows: readonly PartRow[];
  readonly found: PartsFound;
  readonly findings: readonly PartFinding[];
  /** The numbers as they are to be kept, new ones too, those of parts that are gone among the retired. */
  readonly keep: KeptNumbers;
  /** The same without new ones: what was decided before, on the parts as they are now. */
  readonly kept: KeptNumbers;
  /** Numbers of parts that are gone. */
  readonly gone: readonly string[];
  /** Rows that several have the number of, by that number. */
  readonly twice: ReadonlyMap<string, readonly number[]>;
}

/**
 * The parts of a drawing as a list: equal ones in one line, numbered as the drawing says, else as they were numbered before, else
 * anew, none that was ever given being given again. What a person decided goes before all of that. `taken`: numbers of other drawings.
 */
export function partsList(
  drawing: Drawing,
  rules: ListRules = LIST_RULES,
  kept: KeptNumbers = NO_NUMBERS,
  work?: Work,
  taken: readonly string[] = [],
): PartsList {
  const found = findParts(drawing, rules, work);
  const { parts } = found;
  const again = keptAgain(drawing, found, kept);
  const own = parts.map((p) => saidOf(p, found, rules.words));
  const each = own.map((s, i) => decided(s, again.of.get(i), 1));
  const gone = again.gone.map((k) => k.number).filter((n) => n !== '');
  const place = new Int32Array(parts.length);
  orderOf(parts, rules.numbering).forEach((i, n) => (place[i] = n));
  // Parts that are said to be different ones are, however alike they are.
  const lines = equalParts(found, rules.bound, rules.facesAlike)
    .flatMap(({ members, mirrored }) =>
      byIdentity(members, each, again.of).map((own) => ({
        members: own,
        mirrored,
        place: own.reduce((least, m) => Math.min(least, place[m]!), Infinity),
      })),
    )
    .sort((a, b) => a.place - b.place);
  const models = lines.map(({ members }) => each[members[0]!]!);
  const given = nextNumbers(
    models
      .filter((m) => m.number === '')
      .map(({ name, kind, material, thickness }) => ({ name, kind, material, thickness })),
    rules.numbering,
    [...models.map((m) => m.number), ...kept.retired, ...gone, ...taken].filter((n) => n !== ''),
  );
  const refs = partRefs(drawing, found);
  let next = 0;
  const rows = lines.map(({ members, mirrored }): PartRow => {
    const model = members[0]!;
    const part = parts[model]!;
    const said = { ...own[model]!, ...(own[model]!.name === undefined && part.called !== '' && { name: part.called }) };
    const { number, numbered, ...words } = decided(said, again.of.get(model), members.length);
    const box = boxOfPieces(found.rings[part.outer]!.pieces, (grainOf(words, rules) * Math.PI) / 180);
    return {
      ...words,
      members,
      number: number === '' ? given[next++]! : number,
      numbered: numbered === 'none' ? 'new' : numbered,
      said,
      refs: members.map(refs),
      length: box.width,
      width: box.height,
      area: part.area,
      cutLength: part.cutLength,
      holes: holesOf(found, model, rules.depths),
      mirrored: members.filter((m) => mirrored.has(m) !== mirrored.has(model)).length,
      marks: part.marks.length,
      labels: part.labels.flatMap((l) => wordsIn(found.visits[l]!.entity) ?? []),
    };
  });
  const used = new Set(rows.map((r) => r.number));
  const retired = [...new Set([...kept.retired, ...gone])].filter((n) => !used.has(n));
  const entries = (isNew: boolean): KeptPart[] =>
    rows.flatMap((r) =>
      r.members.flatMap((m, i): KeptPart | KeptPart[] => {
        const before = again.of.get(m) ?? again.of.get(r.members[0]!);
        if (r.numbered === 'new' && !isNew && !before) return [];
        const number = r.numbered === 'new' && !isNew ? '' : r.number;
        return { ...before, part: r.refs[i]!, number };
      }),
    );
  return {
    rows,
    found,
    findings: found.findings,
    keep: { given: entries(true), retired },
    kept: { given: entries(false), retired },
    gone,
    twice: numberFaults(rows.map((r) => (r.leftOut === null ? r.number : null))).twice,
  };
}

/** Which way the grain of a part runs, in degrees: as it is said where that is a number, else as it runs in general. */
export function grainOf({ grain }: Pick<Decided, 'grain'>, rules: Pick<ListRules, 'grain'>): number {
  const said =
    grain === undefined || grain.trim() === '' ? NaN : Number(grain.trim().replace(/°$/, '').replace(',', '.'));
  return Number.isFinite(said) ? said : rules.grain;
}

/**
 * Equal shapes that are called the same, or nothing, are one part. One that has no number yet is one more of those that were numbered
 * before; where the drawing itself numbers them, each for itself, it is one without a number.
 */
function byIdentity(
  members: readonly number[],
  each: readonly Decided[],
  kept: ReadonlyMap<number, KeptPart>,
): number[][] {
  const lines = new Map<string, Map<string, number[]>>();
  for (const m of members) {
    const { number, name, material, thickness, kind, grain, side, leftOut } = each[m]!;
    const key = JSON.stringify([name, material, thickness, kind, grain, side, leftOut]);
    let own = lines.get(key);
    if (!own) lines.set(key, (own = new Map()));
    const list = own.get(number);
    if (list) list.push(m);
    else own.set(number, [m]);
  }
  return [...lines.values()].flatMap((byNumber) => {
    const fresh = byNumber.get('');
    const before = [...byNumber].find(([number, [m]]) => number !== '' && kept.get(m!)?.number === number);
    if (fresh && before) {
      byNumber.delete('');
      before[1].push(...fresh);
    }
    return [...byNumber.values()];
  });
}

function holesOf({ parts, rings, visits }: PartsFound, part: number, depths: DepthSources): HoleCount[] {
  const seen = (ring: number): SeenAt => {
    const visit = visits[rings[ring]!.owner]!;
    return { visit, height: heightOf(visit) };
  };
  const plate = seen(parts[part]!.outer);
  const by = new Map<string, { diameter: number | null; count: number; through: number; blind: number }>();
  for (const h of parts[part]!.holes) {
    const { diameter } = rings[h]!;
    const key = diameter === null ? '' : diameter.toPrecision(9);
    const own = by.get(key) ?? { diameter, count: 0, through: 0, blind: 0 };
    const depth = holeDepth(seen(h), plate, depths);
    own.count++;
    if (depth !== 'undecided') own[depth]++;
    by.set(key, own);
  }
  return [...by.values()].sort((a, b) => (a.diameter ?? Infinity) - (b.diameter ?? Infinity));
}
