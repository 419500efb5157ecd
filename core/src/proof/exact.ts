import type { Drawing } from '../drawing/drawing.js';
import { isDrafting } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import type { CarryOver, LedgerRow } from '../drawing/ledger.js';
import { renamesIn } from '../drawing/ledger.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { placeOf } from './entity-place.js';
import { excuseFor } from './excuses.js';
import type { Pair } from './pairing.js';
import { pairEntities } from './pairing.js';
import type { ProofItem } from './proof-item.js';
import { recordItems } from './exact-records.js';
import { fieldsDiffering } from './same-fields.js';

/** What is looked at of every entity, by the fields that say it: the first that knows a field counts. */
const ASPECTS: readonly { id: string; title: string; carryOver: CarryOver; fields: RegExp }[] = [
  { id: 'layer', title: 'Layer of each object', carryOver: 'layers', fields: /^layer$/ },
  { id: 'sheet', title: 'Sheet of each object', carryOver: 'links', fields: /^sheet$/ },
  { id: 'colour', title: 'Colour of each object', carryOver: 'colour', fields: /^look\.(stroke|fill)|^faceLooks/ },
  { id: 'weight', title: 'Line weight of each object', carryOver: 'colour', fields: /^look\.width/ },
  { id: 'linetype', title: 'Linetype of each object, and its scale', carryOver: 'colour', fields: /^look\.dash/ },
  { id: 'transparency', title: 'Transparency of each object', carryOver: 'colour', fields: /^look\..*[oO]pacity/ },
  { id: 'visibility', title: 'Visibility of each object', carryOver: 'layers', fields: /^look\.visible$|^hidden$/ },
  { id: 'widths', title: 'Widths and thickness', carryOver: 'curves', fields: /^(widths|thickness)/ },
  {
    id: 'text-settings',
    title: 'Settings of texts: style, turn, width, slant, alignment',
    carryOver: 'text',
    fields:
      /^(text|content|plain|style|font|size|sizeOf|rotation|widthFactor|oblique|horizontal|vertical|backwards|upsideDown|lineSpacing|exactSpacing|width)$/,
  },
  {
    id: 'attributes',
    title: 'Attributes: tags, flags, prompts',
    carryOver: 'text',
    fields: /^(tag|flags|definition|attributes)/,
  },
  {
    id: 'dimensions',
    title: 'Dimensions: points, texts, styles',
    carryOver: 'text',
    fields: /^(form|points\.|override|stated|textRotation|ordinateX|picture)/,
  },
  {
    id: 'fills',
    title: 'Hatches: pattern, boundaries, islands',
    carryOver: 'curves',
    fields: /^(loops|solid|pattern|lines|islands|gradient|seeds|double|scale|angle)/,
  },
  { id: 'extended', title: 'Extended data of each object', carryOver: 'links', fields: /^(extended|rest)$/ },
  { id: 'numbers', title: 'Places and sizes, number by number', carryOver: 'curves', fields: /./ },
];

/** A field that is said otherwise, with whose it is. */
interface Finding {
  pair: Pair;
  field: string;
  want: string;
  got: string;
}

/**
 * From one drafting file to another nothing has to be measured: each entity is found again by its handle, or by what it
 * is where it has no handle of its own, and everything that is said of it is held against what was said, field by field.
 * Numbers may differ by what a double loses on its way through text and degrees, whatever the size of the drawing. What
 * the writer states by a row about that entity (`excuseFor`) is a change, all else at risk; so are entities that are not
 * there, or that nobody wrote. `reach` is the largest coordinate, which says how fine numbers can be. `null` where one side is no drafting file.
 */
export function exactItems(
  expected: Drawing,
  found: Drawing,
  ledger: readonly LedgerRow[],
  reach: number,
  work?: Work,
): ProofItem[] | null {
  if (!isDrafting(expected) || !isDrafting(found)) return null;
  // What layers and blocks are called now.
  const [blocks, newLayers] = [renamesIn(ledger, 'block'), renamesIn(ledger, 'layer')];
  const paired = pairEntities(expected, found, blocks);
  // Of each aspect the first finding is told, and the rest are counted.
  const byAspect = new Map<string, { first: Finding | null; wrong: number; stated: number }>();
  const excused = excuseFor(ledger);
  const sameForm = expected.format === found.format && expected.version === found.version;
  // What windows hide of layers that were left behind hides nothing.
  const layers = new Set(expected.layers.map((l) => l.name.toLowerCase()));
  const seen = (given: Entity, got: Entity): Entity => {
    const e = blocks.size + newLayers.size === 0 ? given : underNewNames(given, blocks, newLayers);
    if (e.kind === 'viewport') return { ...e, frozen: e.frozen.filter((n) => layers.has(n.toLowerCase())) };
    if (e.kind !== 'mesh' || !e.faceLooks || got.kind !== 'mesh') return e;
    const layerOf = (i: number, name: string): string =>
      layers.has(name.toLowerCase()) ? name : (got.faceLooks?.[i]?.layer ?? name);
    return { ...e, faceLooks: e.faceLooks.map((f, i) => f && { ...f, layer: layerOf(i, f.layer) }) };
  };
  paired.pairs.forEach((pair, n) => {
    if (n % 4096 === 0) checkStop(work);
    for (const { field, want, got, id } of fieldsDiffering(seen(pair.want, pair.got), pair.got, reach, sameForm)) {
      const aspect = ASPECTS.find((a) => a.fields.test(field))!;
      let tally = byAspect.get(aspect.id);
      if (!tally) byAspect.set(aspect.id, (tally = { first: null, wrong: 0, stated: 0 }));
      if (excused(id ?? pair.want.id, field.replace(/^attributes\./, ''))) {
        tally.stated++;
        continue;
      }
      tally.wrong++;
      tally.first ??= { pair, field, want, got };
    }
  });
  const items: ProofItem[] = [presence(expected, found, paired, ledger)];
  for (const { id, title, carryOver } of ASPECTS) {
    const { first, wrong, stated } = byAspect.get(id) ?? { first: null, wrong: 0, stated: 0 };
    const at = first && placeOf(first.pair.got, found);
    items.push({
      id: `exact-${id}`,
      carryOver,
      title,
      state: wrong > 0 ? 'atRisk' : stated > 0 ? 'changed' : 'kept',
      expected: `${paired.pairs.length} alike`,
      found: wrong + stated === 0 ? `${paired.pairs.length} alike` : `${wrong + stated} otherwise`,
      explanation: first
        ? `${named(first.pair.want)}: ${words(first.field)} ${first.want} became ${first.got}${wrong > 1 ? `; and ${wrong - 1} more` : ''}`
        : stated > 0
          ? 'as the ledger says'
          : '',
      ...(at && { at }),
    });
  }
  items.push(...orderItems(paired.pairs, found), ...recordItems(expected, found, ledger));
  // What nothing was said of needs no row of its own.
  return items.filter((i) => i.state !== 'kept' || !QUIET.has(i.id));
}

/** An entity with the names that its layer and its block have now. */
function underNewNames(e: Entity, blocks: ReadonlyMap<string, string>, layers: ReadonlyMap<string, string>): Entity {
  const to = (map: ReadonlyMap<string, string>, name: string): string => map.get(name.toLowerCase()) ?? name;
  const moved = { ...e, layer: to(layers, e.layer) };
  if (moved.kind === 'insert') return { ...moved, block: to(blocks, moved.block) };
  if (moved.kind === 'dimension' && moved.picture !== undefined)
    return { ...moved, picture: to(blocks, moved.picture) };
  return moved;
}

/** Aspects that few drawings have: they get a row when something is wrong. */
const QUIET = new Set([
  'exact-sheet',
  'exact-widths',
  'exact-attributes',
  'exact-dimensions',
  'exact-fills',
  'exact-extended',
]);

const named = (e: Entity): string =>
  `${kindName(e.kind)}${e.key ? ` ${e.key}` : ''} on layer ${e.layer}${e.sheet === undefined ? '' : `, sheet ${e.sheet}`}`;

const WORDS: Record<string, string> = {
  'look.stroke': 'colour',
  'look.fill': 'colour',
  'look.width': 'line weight',
  'look.dash': 'linetype',
  'look.opacity': 'opacity',
  'look.opacityFrom': 'opacity',
  'look.visible': 'visible',
};
const words = (field: string): string => WORDS[field] ?? field.replaceAll('.', ' ');

function presence(
  expected: Drawing,
  found: Drawing,
  paired: ReturnType<typeof pairEntities>,
  ledger: readonly LedgerRow[],
): ProofItem {
  const told = (e: Entity): boolean =>
    ledger.some(
      (r) => (r.becomes !== undefined || r.action === 'dropped') && r.ids.some(([a, b]) => e.id >= a && e.id <= b),
    );
  const lost = paired.lost.filter(({ entity }) => !told(entity)).map(({ entity }) => entity);
  // What the writer made of others: counted in model space; elsewhere where something came to be otherwise.
  const made = ledger.reduce((n, r) => n + (r.becomes?.entities ?? 0), 0);
  const changed = new Set(paired.lost.map(({ space }) => space));
  // Before version 2000 a sheet has another name.
  const onSheets = [...changed].some((space) => space.startsWith('sheet '));
  const touched = (space: string): boolean => changed.has(space) || (onSheets && space.startsWith('sheet '));
  const [inModel, elsewhere] = [true, false].map((model) =>
    paired.extra.filter(({ space }) => (space === 'model') === model),
  );
  const unnamed = elsewhere!.filter(({ space }) => !touched(space) && !space.startsWith('block *'));
  const strange = [...(inModel!.length > made ? inModel! : []), ...unnamed].map(({ entity }) => entity);
  const right = lost.length === 0 && strange.length === 0;
  const first = lost[0] ?? strange[0];
  const at = first && placeOf(first, lost[0] ? expected : found);
  return {
    id: 'exact-entities',
    carryOver: 'curves',
    title: 'Each object found again',
    state: !right ? 'atRisk' : paired.lost.length + paired.extra.length > 0 ? 'changed' : 'kept',
    expected: `${paired.pairs.length + paired.lost.length}`,
    found: `${paired.pairs.length}${paired.extra.length > 0 ? ` and ${paired.extra.length} new` : ''}`,
    explanation: lost[0]
      ? `${named(lost[0])} is not there${lost.length > 1 ? `; nor are ${lost.length - 1} more` : ''}`
      : first
        ? `${named(first)} was not written; ${strange.length} such`
        : paired.lost.length > 0
          ? 'the ledger says what became of the others'
          : '',
    ...(at && { at }),
  };
}

/** In each space what was over something else still is. */
function orderItems(pairs: readonly Pair[], found: Drawing): ProofItem[] {
  const last = new Map<string, number>();
  let wrong = 0;
  let first: Entity | null = null;
  for (const { got, place, space } of pairs) {
    const before = last.get(space) ?? -1;
    if (place < before) {
      wrong++;
      first ??= got;
    } else last.set(space, place);
  }
  const at = first && placeOf(first, found);
  return [
    {
      id: 'exact-order',
      carryOver: 'layers',
      title: 'Draw order',
      state: wrong === 0 ? 'kept' : 'atRisk',
      expected: 'as it was',
      found: wrong === 0 ? 'as it was' : `${wrong} drawn at another time`,
      explanation: first ? `${named(first)} is drawn before what it was drawn after` : '',
      ...(at && { at }),
    },
  ];
}
