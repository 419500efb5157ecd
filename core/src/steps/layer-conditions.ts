import type { EntityKind } from '../drawing/entity.js';
import type { Drawing } from '../drawing/drawing.js';
import { KINDS } from '../drawing/kinds.js';
import { wordsIn } from '../drawing/words-in.js';
import { namePattern } from '../drawing/name-pattern.js';
import type { DepthSources, HoleDepth } from '../analysis/hole-depth.js';
import { holeDepth } from '../analysis/hole-depth.js';
import type { RoleOfVisit } from '../analysis/outline-roles.js';
import { selectedBy } from '../analysis/selection.js';
import type { Infer } from '../parameters/parameter.js';
import { EVERYTHING, p } from '../parameters/parameter.js';
import { COINCIDENT } from '../geometry/tolerance.js';

const ANY = 'any';
const kindWords = Object.fromEntries(Object.entries(KINDS).map(([kind, { words }]) => [kind, words[1]]));

/** What a rule asks of an object, and the layer that what meets all of it goes onto. */
export const LAYER_CONDITIONS = {
  role: p.choice({
    title: 'What is',
    default: ANY,
    choices: {
      any: 'anything',
      outer: 'an outer outline',
      hole: 'a hole',
      island: 'an island in a hole',
      open: 'an open mark',
      label: 'a label',
    },
  }),
  areaFrom: p.optional(p.area({ title: 'Area from', default: 0, atLeast: 0 }), 'any'),
  areaBelow: p.optional(p.area({ title: 'Area below', default: 0, atLeast: 0 }), 'any'),
  diameterFrom: p.optional(p.length({ title: 'Diameter from', default: 0, atLeast: 0, when: { role: 'hole' } }), 'any'),
  diameterTo: p.optional(p.length({ title: 'Diameter up to', default: 0, atLeast: 0, when: { role: 'hole' } }), 'any'),
  depth: p.choice({
    title: 'Depth',
    default: ANY,
    choices: { any: 'any', through: 'goes through', blind: 'does not go through' },
    when: { role: 'hole' },
  }),
  words: p.text({ title: 'Reading', default: '', maxLength: 500, when: { role: 'label' } }),
  more: p.group({
    title: 'Further conditions',
    folded: true,
    params: {
      layers: p.text({ title: 'On layers named', default: '', maxLength: 2000, suggest: 'layers' }),
      kind: p.choice({ title: 'Kind', default: ANY, choices: { any: 'any', ...kindWords } }),
      stroke: p.optional(p.colour({ title: 'Of one stroke colour', default: '#000000' }), 'any'),
      fill: p.optional(p.colour({ title: 'Of one fill colour', default: '#000000' }), 'any'),
      group: p.text({ title: 'In groups named', default: '', maxLength: 2000 }),
      block: p.text({ title: 'Placed blocks named', default: '', maxLength: 2000 }),
      smallest: p.optional(p.length({ title: 'Size from', default: 0, atLeast: 0 }), 'any'),
      largest: p.optional(p.length({ title: 'Size up to', default: 0, atLeast: 0 }), 'any'),
    },
  }),
  to: p.text({ title: 'Goes onto layer', default: '', maxLength: 255, suggest: 'layers' }),
};
export type LayerCondition = Infer<typeof LAYER_CONDITIONS>;

/** Tells whether holes go through: by the sources, or else since a rule put them onto its layer before. */
export function depthTest(rules: readonly LayerCondition[], sources: DepthSources): DepthTest {
  const put = new Map<string, HoleDepth>();
  for (const { role, depth, to } of rules)
    if (role === 'hole' && depth !== ANY && !put.has(nameKey(to))) put.set(nameKey(to), depth as HoleDepth);
  return (hole, plate) => {
    const depth = holeDepth(hole, plate, sources);
    return depth === 'undecided' ? (put.get(nameKey(hole.visit.resolved.layer)) ?? depth) : depth;
  };
}
type DepthTest = (hole: RoleOfVisit, plate: RoleOfVisit | null) => HoleDepth;
const nameKey = (name: string): string => name.trim().toLowerCase();

/** Whether a rule takes what is seen: `undecided` where all holds but that nobody says whether a hole goes through. */
export type Meets = (seen: RoleOfVisit, plate: RoleOfVisit | null) => boolean | 'undecided';

/** The test that a rule amounts to in a drawing. */
export function conditionTest(rule: LayerCondition, drawing: Drawing, depthOf: DepthTest): Meets {
  const { more } = rule;
  const selected = selectedBy(
    {
      ...EVERYTHING,
      kinds: more.kind === ANY ? [] : [more.kind as EntityKind],
      stroke: more.stroke ?? '',
      fill: more.fill ?? '',
      group: more.group,
      smallest: more.smallest ?? 0,
      largest: more.largest ?? 0,
    },
    drawing,
  );
  const named = more.layers.trim() === '' ? null : namePattern(more.layers);
  // What a rule put onto its layer stays there when it is asked again.
  const isThere = (seen: RoleOfVisit): boolean => nameKey(seen.visit.resolved.layer) === nameKey(rule.to);
  const reads = rule.role === 'label' && rule.words.trim() !== '' ? namePattern(rule.words) : null;
  const ofBlock = more.block.trim() === '' ? null : namePattern(more.block);
  return (seen, plate) => {
    const e = seen.visit.entity;
    if (rule.role !== ANY && seen.role !== rule.role) return false;
    if (!hasArea(rule, seen)) return false;
    if (ofBlock && !(e.kind === 'insert' && ofBlock(e.block))) return false;
    if (reads && !reads(wordsIn(e) ?? '')) return false;
    if (named && !named(seen.visit.resolved.layer) && !isThere(seen)) return false;
    if (!selected(e)) return false;
    if (rule.role !== 'hole') return true;
    if (!hasDiameter(rule, seen)) return false;
    if (rule.depth === ANY) return true;
    const depth = depthOf(seen, plate);
    return depth === 'undecided' ? depth : depth === rule.depth;
  };
}

/** From is with what is just as large, below without: an area of a bound is not below it, whatever a double lost of it. */
function hasArea({ areaFrom, areaBelow }: LayerCondition, { area }: RoleOfVisit): boolean {
  if (areaFrom === null && areaBelow === null) return true;
  if (area === 0) return false;
  return (
    (areaFrom === null || area >= areaFrom * (1 - COINCIDENT)) &&
    (areaBelow === null || area < areaBelow * (1 - COINCIDENT))
  );
}

function hasDiameter({ diameterFrom: from, diameterTo: to }: LayerCondition, { diameter }: RoleOfVisit): boolean {
  if (from === null && to === null) return true;
  if (diameter === null) return false;
  return (from === null || diameter >= from * (1 - COINCIDENT)) && (to === null || diameter <= to * (1 + COINCIDENT));
}
