import type { Filled } from '../analysis/objects.js';
import { objectsByLayer } from '../analysis/objects.js';
import { CHECKS, runCheck } from '../checks/index.js';
import type { Finding } from '../checks/check.js';
import type { Review } from '../checks/purposes.js';
import { findingKey, underPurpose, wholeCheckKey, withoutAside } from '../checks/purposes.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import { surveyOf } from '../drawing/survey.js';
import type { Kept } from '../parameters/parameter.js';
import type { FontBook } from '../text/fonts.js';

/** What has to be known of a prepared drawing to say which files come of it, before any is written. */
export interface SourceFacts {
  /** The unit of its coordinates; `null` where nobody has said it. */
  readonly unit: string | null;
  readonly objects: number;
  /** All layers in their order, empty ones too. */
  readonly layers: readonly Filled[];
  /** Outermost groups, and what lies in none. */
  readonly groups: readonly Filled[];
  readonly ungrouped: number;
  /** Sheets of paper in their order, with what is drawn on each. */
  readonly sheets: readonly Filled[];
  /** Placed blocks hold objects of other layers than their own: they must be broken up to be parted by layers. */
  readonly mixed: boolean;
  /** What expected checks found that nobody has set aside, and what was, with the word why. */
  readonly found: readonly {
    readonly check: string;
    readonly title: string;
    readonly count: number;
    readonly first: string;
  }[];
  readonly waived: readonly { readonly check: string; readonly count: number; readonly why: string }[];
}

/** Facts of a drawing of which nothing is known but its unit. */
export const sourceFactsNone = (unit: string | null): SourceFacts => ({
  ...{ unit, objects: 0, layers: [], groups: [], ungrouped: 0, sheets: [], mixed: false, found: [], waived: [] },
});

/** The facts of a prepared drawing. `checks`: those that a recipe expects to find nothing. */
export function sourceFacts(
  drawing: Drawing,
  checks: readonly string[],
  given: { settings?: Readonly<Record<string, Kept>>; review?: Review; fonts?: FontBook } = {},
): SourceFacts {
  const layers = objectsByLayer(drawing);
  const groups = new Map<number, { name: string; objects: number }>();
  let [ungrouped, mixed] = [0, false];
  surveyOf(drawing).each(({ entity, top, resolved }) => {
    if (entity.kind === 'insert') return;
    if (top !== entity && layerKey(drawing, resolved.layer) !== layerKey(drawing, top.layer)) mixed = true;
    const outermost = outermostOf(drawing, top.node);
    if (outermost === null) ungrouped++;
    else {
      const group = groups.get(outermost) ?? { name: drawing.nodes[outermost]!.name, objects: 0 };
      group.objects++;
      groups.set(outermost, group);
    }
  });
  const { unit } = drawing;
  return {
    unit: unit && unit.unit !== 'px' ? unit.unit : null,
    objects: layers.reduce((n, l) => n + l.objects, 0),
    layers,
    groups: [...groups.values()],
    ungrouped,
    sheets: drawing.sheets.map(({ name }) => ({
      name,
      objects: drawing.entities.filter((e) => e.sheet === name && !(e.kind === 'viewport' && e.number === 1)).length,
    })),
    mixed,
    ...checked(drawing, checks, given),
  };
}

function outermostOf({ nodes }: Drawing, node: number | undefined): number | null {
  if (node === undefined) return null;
  let at = node;
  for (let parent = nodes[at]!.parent; parent !== null; parent = nodes[at]!.parent) at = parent;
  return at;
}

function checked(
  drawing: Drawing,
  checks: readonly string[],
  { settings = {}, review = {}, fonts }: Parameters<typeof sourceFacts>[2] & object,
): Pick<SourceFacts, 'found' | 'waived'> {
  const aside = review.aside ?? {};
  const found: SourceFacts['found'][number][] = [];
  const waived: SourceFacts['waived'][number][] = [];
  const count = (list: readonly Finding[]): number => list.reduce((n, f) => n + (f.more ?? 1), 0);
  for (const id of new Set(checks)) {
    const check = CHECKS.find((c) => c.id === id);
    if (!check) continue;
    const all = runCheck(check, drawing, settings[id], fonts ? { fonts } : {});
    const bad = underPurpose(all, id, review.purpose ?? 'any').filter((f) => f.severity !== 'note');
    const split = withoutAside(bad, aside);
    if (split.told.length > 0)
      found.push({ check: id, title: check.title, count: count(split.told), first: split.told[0]!.message });
    if (split.aside.length > 0)
      waived.push({ check: id, count: count(split.aside), why: [...new Set(whyOf(split.aside, aside))].join('; ') });
  }
  return { found, waived };
}

const whyOf = (list: readonly Finding[], aside: Readonly<Record<string, string>>): string[] =>
  list.flatMap((f) => aside[wholeCheckKey(f.check)] ?? aside[findingKey(f)] ?? []);
