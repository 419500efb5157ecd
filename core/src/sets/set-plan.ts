import { isDrafting } from '../drawing/format-traits.js';
import type { NamePiece, NameValues, PlannedName, Series } from '../delivery/names.js';
import { fieldPiece, plannedNames, textPiece } from '../delivery/names.js';
import { exactName, namePattern } from '../drawing/name-pattern.js';
import type { Target } from '../delivery/target.js';
import { UserError } from '../errors.js';
import { valuesOf } from '../parameters/lengths.js';
import type { Infer, Kept, ParameterSet } from '../parameters/parameter.js';
import { EVERYTHING } from '../parameters/parameter.js';
import { agreeLayers } from '../steps/agree-layers.js';
import { gatherDrawings } from '../steps/gather-drawings.js';
import { breakUpBlocks } from '../steps/break-up-blocks.js';
import { keepLayers } from '../steps/keep-layers.js';
import { keepObjects } from '../steps/keep-objects.js';
import { keepSheets } from '../steps/keep-sheets.js';
import type { PlannedStep } from '../steps/step.js';
import { plannedStep } from '../steps/step.js';
import type { Recipe, Split } from './recipe.js';
import { EXPECT_FIELDS, SPLIT_FIELDS } from './recipe.js';
import type { SourceFacts } from './source-facts.js';

/** A part as a set sees it. */
export interface SetPart {
  readonly number: string;
  readonly name: string;
  readonly kind: string;
  readonly material: string;
  readonly thickness: string;
  readonly leftOut: string | null;
}

/** A drawing that a set is made from. */
export interface SetSource {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly facts: SourceFacts;
  /** Its parts, where they are listed. */
  readonly parts: readonly SetPart[] | null;
}

/** A file as it would be written. */
export interface PlannedFile {
  /** The same in every set of the same sources and recipe. */
  readonly key: string;
  readonly source: string;
  /** The layer, group, part or stock that it holds; `null` for the whole drawing. */
  readonly piece: string | null;
  readonly why: string;
  /** How many objects of the prepared drawing go into it; `null` where nobody has counted. */
  readonly objects: number | null;
  /** Without its ending. */
  readonly name: string;
  readonly asked: string | null;
  readonly clashes: boolean;
  readonly numbers: Readonly<Record<string, number>>;
  readonly values: NameValues;
  /** What is done to the prepared drawing for this file, before the steps of the recipe and after them. */
  readonly before: readonly PlannedStep[];
  readonly steps: readonly PlannedStep[];
  /** The numbers of the parts that it holds alone. */
  readonly parts: readonly string[] | null;
  /** Why it cannot be written. */
  readonly stop: string | null;
}

/** What of a source goes into no file, and why. */
export interface PlannedLeftOut {
  readonly source: string;
  readonly what: string;
  readonly why: string;
  readonly objects: number;
  /** How many lines of a parts list that is. */
  readonly parts?: number;
}

export interface SetPlan {
  readonly files: readonly PlannedFile[];
  readonly leftOut: readonly PlannedLeftOut[];
  /** The next number of each series. */
  readonly series: Series;
}

/** Names by themselves: after the drawing, and after what it is parted by. */
export const namingOf = (recipe: Recipe): readonly NamePiece[] => {
  if (recipe.naming && recipe.naming.length > 0) return recipe.naming;
  const by = valuesFor(SPLIT_FIELDS, recipe.split).by;
  const dash = textPiece('-');
  const drawing = fieldPiece('drawing');
  switch (by) {
    case 'layers':
      return [drawing, dash, fieldPiece('layer')];
    case 'groups':
      return [drawing, dash, fieldPiece('group')];
    case 'sheets':
      return [drawing, dash, fieldPiece('paper')];
    case 'parts':
      return [fieldPiece('number'), dash, fieldPiece('part')];
    case 'stock':
      return [drawing, dash, fieldPiece('material'), dash, fieldPiece('thickness')];
    default:
      return [drawing];
  }
};

const valuesFor = <S extends ParameterSet>(fields: S, kept: Kept | undefined): Infer<S> =>
  valuesOf(fields, kept ?? {}, null);

/** What a set needs to know beside its sources. */
export interface SetAsked {
  readonly job: string;
  /** `YYYY-MM-DD`: time is given, so that the same set makes the same bytes. */
  readonly date: string;
  readonly series?: Series;
  /** Names that are there already. */
  readonly taken?: Iterable<string>;
  /** Names that files of an earlier set had, by their keys: they keep them, and take no new number. */
  readonly known?: ReadonlyMap<string, PlannedName>;
}

/** Part of a source that becomes a file of its own. */
type Draft = Omit<PlannedFile, 'name' | 'asked' | 'clashes' | 'numbers' | 'steps' | 'stop'> & { steps: PlannedStep[] };

/**
 * Which files come of drawings by a recipe, in which order and with which names, and what goes into none of them. Nothing is written; a
 * file that cannot be is in the list with the reason. Numbers go to files that can be written alone.
 */
export function planSet(sources: readonly SetSource[], recipe: Recipe, asked: SetAsked): SetPlan {
  const leftOut: PlannedLeftOut[] = [];
  const gathers = valuesFor(SPLIT_FIELDS, recipe.split).by === 'set';
  const drafts = (gathers ? [gathered(sources)] : sources).flatMap((source) => {
    const stop = gathers ? firstStop(sources, recipe) : stopOf(source, recipe);
    return draftsOf(source, recipe, leftOut, sources).map((d) => ({ ...d, stop: stop ?? partFault(source, d) }));
  });
  const closing = closingSteps(recipe);
  const known: NameValues = { job: asked.job, receiver: recipe.receiver ?? '', date: asked.date };
  const unit = recipe.target?.unit ?? null;
  const valued = drafts.map((d, i) => ({
    ...d,
    values: { ...known, sheet: `${i + 1} of ${drafts.length}`, unit: unit ?? unitOf(sources, d.source), ...d.values },
  }));
  const can = valued.filter((d) => d.stop === null);
  const old = can.flatMap((d) => asked.known?.get(d.key)?.name ?? []);
  const fresh = can.filter((d) => !asked.known?.has(d.key));
  const { names, series } = plannedNames(
    namingOf(recipe),
    fresh.map((d) => d.values),
    asked.series,
    [...(asked.taken ?? []), ...old],
  );
  const nameOf = new Map<(typeof can)[number], PlannedName>([
    ...can.flatMap((d) => (asked.known?.has(d.key) ? [[d, asked.known.get(d.key)!] as const] : [])),
    ...fresh.map((d, i) => [d, names[i]!] as const),
  ]);
  const files = valued.map((d): PlannedFile => ({
    ...d,
    ...nameFields(nameOf.get(d)),
    steps: [...d.steps, ...closing],
  }));
  return { files, leftOut, series };
}

const nameFields = (n: PlannedName = { name: '', asked: null, clashes: false, numbers: {} }): PlannedName => ({
  ...{ name: n.name, asked: n.asked, clashes: n.clashes, numbers: n.numbers },
});

const unitOf = (sources: readonly SetSource[], id: string): string =>
  sources.find((s) => s.id === id)?.facts.unit ?? '';

/** Why nothing of a source can be written, in words. */
function stopOf({ facts }: SetSource, recipe: Recipe): string | null {
  const expects = valuesFor(EXPECT_FIELDS, recipe.expects);
  if (expects.unit && facts.unit === null) return 'nobody has said its unit: decide it at station one';
  const [first, ...more] = facts.found;
  if (!first) return null;
  const others = more.length > 0 ? `, and ${more.length} more checks` : '';
  return `${first.title}: ${first.count} found (${first.first})${others}. Mend them, or set them aside with a word why`;
}

/** Why a file of parts cannot be written. */
function partFault({ parts }: SetSource, draft: Draft): string | null {
  if (draft.parts === null) return null;
  const unnumbered = (parts ?? []).filter((p) => p.leftOut === null && p.number.trim() === '').length;
  return unnumbered > 0
    ? `${unnumbered} ${unnumbered === 1 ? 'part has' : 'parts have'} no number: give it on the page Parts, or by a label that its rules read`
    : null;
}

/** What is done to every file at the end: what was agreed about layers. */
export function closingSteps(recipe: Recipe): PlannedStep[] {
  const layers = recipe.agreed?.['layers'];
  const any = Array.isArray(layers) && layers.length > 0;
  return any ? [plannedStep(agreeLayers, 'agreed', recipe.agreed)] : [];
}

function draftsOf(source: SetSource, recipe: Recipe, leftOut: PlannedLeftOut[], all: readonly SetSource[]): Draft[] {
  const { id, name, revision, facts } = source;
  const split = valuesFor(SPLIT_FIELDS, recipe.split);
  const chosen = namePattern(split.only);
  const values: NameValues = { drawing: name, revision: String(revision) };
  const draft = (piece: string | null, more: Partial<Draft> & Pick<Draft, 'why' | 'objects'>): Draft => ({
    key: JSON.stringify([id, split.by, piece]),
    source: id,
    piece,
    steps: [],
    before: [],
    parts: null,
    ...more,
    values: { ...values, ...more.values },
  });
  const leave = (what: string, why: string, objects: number, parts?: number): void =>
    void leftOut.push({ source: id, what, why, objects, ...(parts !== undefined && { parts }) });
  switch (split.by) {
    case 'set':
      return [
        draft(null, {
          why: counted(all.length, 'drawing', 'gathered around', name),
          objects: facts.objects,
          before: [gathering(all.slice(1), split)],
        }),
      ];
    case 'drawing':
      return [draft(null, { why: 'the whole drawing', objects: facts.objects, values: ofAllParts(source) })];
    case 'layers':
      return facts.layers.flatMap((layer) => {
        if (!chosen(layer.name)) leave(`layer ${layer.name}`, 'not among the layers to be written', layer.objects);
        else if (layer.objects === 0 && !split.empty) leave(`layer ${layer.name}`, 'empty', 0);
        else
          return draft(layer.name, {
            why: layer.objects === 0 ? 'an empty layer' : counted(layer.objects, 'object', 'on layer', layer.name),
            objects: layer.objects,
            values: { layer: layer.name },
            steps: [
              ...(facts.mixed ? [plannedStep(breakUpBlocks, 'split-blocks')] : []),
              plannedStep(keepLayers, 'split', { names: exactName(layer.name) }),
            ],
          });
        return [];
      });
    case 'groups': {
      if (facts.ungrouped > 0) leave('what lies in no group', 'not in a group', facts.ungrouped);
      return facts.groups.flatMap((group) => {
        if (!chosen(group.name)) {
          leave(`group ${group.name}`, 'not among the groups to be written', group.objects);
          return [];
        }
        return draft(group.name, {
          why: counted(group.objects, 'object', 'in group', group.name),
          objects: group.objects,
          values: { group: group.name },
          steps: [
            plannedStep(keepObjects, 'split', { which: { ...EVERYTHING, group: exactName(group.name) } as never }),
          ],
        });
      });
    }
    case 'sheets': {
      if (recipe.target && !takesSheets(recipe.target))
        throw new UserError(
          'cannot-deliver',
          'sheets of paper go into a DXF or DWG, or into a PDF whose pages are the sheets: choose one of them, or part it otherwise',
        );
      const { sheets } = facts;
      if (sheets.length === 0) leave('the drawing', 'has no sheet of paper', facts.objects);
      return sheets.flatMap((sheet) => {
        if (!chosen(sheet.name)) {
          leave(`sheet ${sheet.name}`, 'not among the sheets to be written', sheet.objects);
          return [];
        }
        return draft(sheet.name, {
          why: `${counted(sheet.objects, 'object', 'on sheet', sheet.name)}, with model space`,
          // Model space goes into each of them: the files of a drawing hold no shares of it that would add up.
          objects: null,
          values: { paper: sheet.name },
          steps: [plannedStep(keepSheets, 'split', { names: exactName(sheet.name) })],
        });
      });
    }
    case 'parts':
    case 'stock': {
      if (!source.parts)
        throw new UserError('cannot-deliver', `“${name}” has no list of parts: tick it on the page Parts of its job`);
      return piecesOfParts(source.parts, split.by, chosen, leave).map(({ piece, list, own }) =>
        draft(piece, {
          why: split.by === 'parts' ? `part ${piece}` : counted(list.length, 'part', 'of', piece),
          objects: null,
          values: own,
          parts: list.map((p) => p.number),
        }),
      );
    }
  }
}

/** The step that gathers the other drawings of a set into the first. */
const gathering = (others: readonly SetSource[], { arrange, gap, layers }: Split): PlannedStep =>
  plannedStep(gatherDrawings, 'gather', {
    drawings: others.map((o) => ({ drawing: o.id, name: o.name, x: 0, y: 0 })),
    ...{ arrange, gap, layers },
  });

/** The first drawing of a set, with the objects of all. */
const gathered = (sources: readonly SetSource[]): SetSource => ({
  ...sources[0]!,
  facts: { ...sources[0]!.facts, objects: sources.reduce((n, s) => n + s.facts.objects, 0) },
});

/** Why one of several drawings cannot be written, with its name. */
function firstStop(sources: readonly SetSource[], recipe: Recipe): string | null {
  for (const s of sources) {
    const stop = stopOf(s, recipe);
    if (stop !== null) return `${s.name}: ${stop}`;
  }
  return null;
}

const counted = (n: number, one: string, where: string, name: string): string =>
  `${n} ${one}${n === 1 ? '' : 's'} ${where} ${name}`;

/** What all parts of a drawing have in common, for its name. */
function ofAllParts({ parts }: SetSource): NameValues {
  const own = parts?.filter((p) => p.leftOut === null) ?? [];
  const common = (of: (p: SetPart) => string): string => {
    const all = new Set(own.map(of));
    return all.size === 1 ? [...all][0]! : '';
  };
  return { material: common((p) => p.material), thickness: common((p) => p.thickness), kind: common((p) => p.kind) };
}

interface PartPiece {
  readonly piece: string;
  readonly list: readonly SetPart[];
  readonly own: NameValues;
}

function piecesOfParts(
  parts: readonly SetPart[],
  by: 'parts' | 'stock',
  chosen: (name: string) => boolean,
  leave: (what: string, why: string, objects: number, parts: number) => void,
): PartPiece[] {
  const pieces = new Map<string, PartPiece & { list: SetPart[] }>();
  for (const part of parts) {
    const called = part.number || part.name || 'without a number';
    if (part.leftOut !== null) {
      leave(`part ${called}`, part.leftOut, 0, 1);
      continue;
    }
    const { material, thickness, kind } = part;
    const piece = by === 'parts' ? called : [material, thickness].filter(Boolean).join(' ') || 'no material said';
    if (!chosen(piece)) {
      leave(`part ${called}`, 'not among the parts to be written', 0, 1);
      continue;
    }
    const known = pieces.get(piece);
    if (known) known.list.push(part);
    else
      pieces.set(piece, {
        piece,
        list: [part],
        own: { material, thickness, ...(by === 'parts' && { kind, number: part.number, part: part.name }) },
      });
  }
  return [...pieces.values()];
}

/** The plan of a drawing under a recipe: its own steps, where they come along, and those of the recipe, each under an id of its own. */
export function stepsUnder(recipe: Recipe, own: readonly PlannedStep[]): PlannedStep[] {
  const before = recipe.ownSteps === 'aside' ? [] : own;
  const used = new Set(before.map((s) => s.id));
  const theirs = (recipe.steps ?? []).map((s) => {
    let id = s.id;
    for (let n = 2; used.has(id); n++) id = `${s.id}-${n}`;
    used.add(id);
    return id === s.id ? s : { ...s, id };
  });
  return [...before, ...theirs];
}

/** Whether a file of a target can show a sheet of paper. */
const takesSheets = ({ format, options }: Partial<Target>): boolean =>
  format === undefined || isDrafting({ format }) || options?.['pageSize'] === 'sheets';
