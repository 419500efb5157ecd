import { CHECKS } from '../checks/index.js';
import type { NamePiece } from '../delivery/names.js';
import type { Target } from '../delivery/target.js';
import { upgradedTarget } from '../delivery/target.js';
import type { CsvForm } from '../drawing/csv.js';
import { UserError } from '../errors.js';
import type { IntakeDecisions } from '../intake/decisions.js';
import { canonicalText } from '../parameters/canonical.js';
import { valuesOf } from '../parameters/lengths.js';
import type { Infer, Kept } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import { AGREED_FIELDS } from '../steps/agree-layers.js';
import { upgradedPlan } from '../steps/index.js';
import type { PlannedStep } from '../steps/step.js';
import type { Yardstick } from '../yardsticks/yardstick.js';

/** How a drawing becomes files. */
export const SPLIT_FIELDS = {
  by: p.choice({
    title: 'A file for each',
    default: 'drawing',
    choices: {
      drawing: 'Drawing',
      layers: 'Layer',
      groups: 'Group',
      sheets: 'Sheet of paper',
      parts: 'Part',
      stock: 'Material and thickness of parts',
      set: 'Set: all drawings in one file',
    },
  }),
  arrange: p.choice({
    when: { by: 'set' },
    title: 'They lie',
    default: 'own',
    choices: { own: 'Each in its own place', row: 'In a row' },
  }),
  gap: p.length({ when: { by: 'set', arrange: 'row' }, title: 'Room between them', default: 10, atLeast: 0 }),
  layers: p.choice({
    when: { by: 'set' },
    title: 'Their layers',
    default: 'apart',
    choices: { apart: 'Get the name of the drawing before theirs', same: 'Become those of the same name' },
  }),
  only: p.text({
    title: 'Only those named',
    description: '* stands for any letters; several apart by commas; none for all',
    default: '',
    maxLength: 4000,
  }),
  empty: p.yesNo({ when: { by: 'layers' }, title: 'Empty layers too', default: false }),
};

/** What is expected of a drawing before anything of it is written. */
export const EXPECT_FIELDS = {
  unit: p.yesNo({ title: 'Its unit is known', default: true }),
  checks: p.list({
    title: 'Checks that must find nothing but notes',
    item: p.choice({
      title: 'Check',
      default: 'open-outlines',
      choices: Object.fromEntries(CHECKS.map((c) => [c.id, c.title])),
    }),
    atMost: 60,
  }),
};

/** How a manifest is written as a table. */
const TABLES = {
  comma: { words: 'Commas, decimal point', form: { between: ',', decimal: '.' } },
  semicolon: { words: 'Semicolons, decimal comma', form: { between: ';', decimal: ',' } },
  semicolonPoint: { words: 'Semicolons, decimal point', form: { between: ';', decimal: '.' } },
  tab: { words: 'Tabs, decimal point', form: { between: '\t', decimal: '.' } },
  tabComma: { words: 'Tabs, decimal comma', form: { between: '\t', decimal: ',' } },
} as const satisfies Record<string, { words: string; form: CsvForm }>;

/** What goes along with the files of a set. */
export const BESIDE_FIELDS = {
  report: p.yesNo({ title: 'Proof report', description: 'one page that anybody can read', default: true }),
  pictures: p.yesNo({ title: 'A picture of each file', description: 'of the same name beside it', default: false }),
  pixels: p.number({
    when: { pictures: true },
    title: 'Longer side of the picture',
    default: 1600,
    whole: true,
    atLeast: 100,
    atMost: 8000,
    suffix: 'px',
  }),
  named: p.yesNo({
    when: { pictures: true },
    title: 'The drawing names its picture',
    description: 'DXF and DWG: it lies under the drawing at true size',
    default: false,
  }),
  table: p.choice({
    title: 'Manifest as a table',
    default: 'comma',
    choices: {
      comma: TABLES.comma.words,
      semicolon: TABLES.semicolon.words,
      semicolonPoint: TABLES.semicolonPoint.words,
      tab: TABLES.tab.words,
      tabComma: TABLES.tabComma.words,
    },
  }),
};
export type Split = Infer<typeof SPLIT_FIELDS>;
export type Expected = Infer<typeof EXPECT_FIELDS>;
export type Beside = Infer<typeof BESIDE_FIELDS>;

/** A yardstick of a general kind: of a whole drawing, bound to no place of it. */
export type GeneralYardstick = Omit<Yardstick, 'places'>;

/** A file that a recipe needs and cannot carry. */
export interface NeededFile {
  readonly name: string;
  /** SHA-256 in hexadecimal. */
  readonly sha256: string;
}

/** What a receiver needs, as rules: no object of any drawing is named in it. Whatever is missing is as it is by itself. */
export interface Recipe {
  readonly recipe: 2;
  readonly title?: string;
  readonly receiver?: string;
  readonly note?: string;
  /** What it was derived from, and why. */
  readonly basedOn?: { readonly title: string; readonly why: string };
  /** Whether a drawing's own steps run before those of the recipe; by itself they do. */
  readonly ownSteps?: 'before' | 'aside';
  /** Decisions on taking in; a drawing that has decided otherwise keeps its own. */
  readonly intake?: Partial<IntakeDecisions>;
  readonly steps?: readonly PlannedStep[];
  readonly target?: Partial<Target>;
  /** How parts are found and numbered (`PART_FIELDS`). */
  readonly parts?: Kept;
  /** What files of a set are called, piece by piece; by themselves after their sources. */
  readonly naming?: readonly NamePiece[];
  /** `SPLIT_FIELDS`. */
  readonly split?: Kept;
  /** `AGREED_FIELDS`. */
  readonly agreed?: Kept;
  /** `EXPECT_FIELDS`. */
  readonly expects?: Kept;
  /** `BESIDE_FIELDS`. */
  readonly beside?: Kept;
  readonly yardsticks?: readonly GeneralYardstick[];
  /** The template, where its target has one. */
  readonly template?: NeededFile;
}

/** The sets of parameters of a recipe, by the fields that keep them. */
export const RECIPE_SETS = {
  split: SPLIT_FIELDS,
  agreed: AGREED_FIELDS,
  expects: EXPECT_FIELDS,
  beside: BESIDE_FIELDS,
};

/** The order in which a recipe's fields are written. */
const ORDER: readonly (keyof Recipe)[] = [
  ...(['recipe', 'title', 'receiver', 'note', 'basedOn', 'expects', 'intake', 'ownSteps', 'steps', 'parts'] as const),
  ...(['split', 'agreed', 'target', 'template', 'naming', 'beside', 'yardsticks'] as const),
];

/** A recipe as a text that people can read and compare: its fields in one order, theirs by name; the same recipe is the same text. */
export function recipeText(r: Recipe): string {
  const fields = ORDER.flatMap((name) => (r[name] === undefined ? [] : [[name, r[name]] as const]));
  const sorted = fields.map(([name, value]) => [name, JSON.parse(canonicalText(value)) as unknown]);
  return `${JSON.stringify(Object.fromEntries(sorted), null, 2)}\n`;
}

/** What a judge of schemas says is wrong, as Ajv tells it. */
export interface SchemaFault {
  readonly instancePath?: string;
  readonly message?: string;
  readonly params?: Readonly<Record<string, unknown>>;
}

/**
 * A recipe from what stands in a file, raised to its present form. `faults`: what is wrong by `recipeSchema`, asked of the raised
 * form. Throws `UserError` that names what is not understood; one that a later version of this program made is refused.
 */
export function recipeFrom(data: unknown, faults: (data: unknown) => readonly SchemaFault[]): Recipe {
  const no = (message: string): UserError => new UserError('wrong-parameter', message);
  if (typeof data !== 'object' || data === null || Array.isArray(data)) throw no('it is no recipe');
  const version = (data as { recipe?: unknown }).recipe;
  if (version === undefined) throw no('it does not say "recipe", and of which version');
  if (typeof version === 'number' && version > 2)
    throw no(`it was made by a later version of this program (recipe ${version}; this one reads up to 2)`);
  const raised = { ...data, recipe: version === 1 ? 2 : version };
  const [fault] = faults(raised);
  if (fault) {
    const unknown = fault.params?.['additionalProperty'];
    const where = (fault.instancePath ?? '').slice(1).replaceAll('/', ' › ');
    if (typeof unknown === 'string')
      throw no(`it says "${unknown}"${where && ` in ${where}`}, which is not known here`);
    throw no(`${where || 'it'} ${fault.message ?? 'is not understood'}`);
  }
  const { steps, target, ...rest } = raised as unknown as Recipe;
  return {
    ...rest,
    ...(steps && { steps: upgradedPlan(steps) }),
    ...(target && { target: upgradedTarget(target as Partial<Target>) }),
  };
}

/** The form in which a recipe wants the manifest of its sets as a table. */
export const tableForm = (recipe: Recipe): CsvForm =>
  TABLES[valuesOf(BESIDE_FIELDS, recipe.beside ?? {}, null).table].form;
