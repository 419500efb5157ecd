import { existsSync, readdirSync, statSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import type { IntakeDecisions, Kept, PlannedStep, Recipe, Target, Yardstick } from '@scalaria/core';
import {
  EXPECT_FIELDS,
  FORMAT_CATALOGUE,
  INTAKE_FIELDS,
  NO_DECISIONS,
  baseName,
  closingSteps,
  targetFor,
  traitsOf,
  entryByExtension,
  faultOf,
  targetFault,
  valuesOf,
} from '@scalaria/core';
import type { Options } from './arguments.js';
import { refuseForeign } from './flags.js';
import { WrongUsage } from './wrong-usage.js';

/** One conversion: from which file, how, and to where. */
export interface Planned {
  file: string;
  out: string;
  intake: IntakeDecisions;
  steps: PlannedStep[];
  target: Target;
  /** How parts are found, where the target asks for some. */
  rules: Kept;
  fonts: { files: string[]; chart: Record<string, string> };
  pictures: string[];
  references: string[];
  expects?: readonly string[];
  yardsticks?: readonly Yardstick[];
}

/** How files are made of a format, by a recipe, and over that by the line. Throws `WrongUsage`. */
export function planFor(o: Options, recipe: Recipe | null, id: Target['format']): Omit<Planned, 'file' | 'out'> {
  const fromRecipe = recipe?.target?.format === undefined || recipe.target.format === id ? recipe?.target : {};
  const target = targetFor(id, { ...fromRecipe, ...o.written });
  if (o.version !== undefined) target.version = o.version;
  if (o.unit) target.unit = o.unit;
  refuseForeign(o.written, FORMAT_CATALOGUE[id]);
  const fault = targetFault(target);
  if (fault) throw new WrongUsage(fault);
  const intake = decisionsOf(o, recipe);
  if (o.fromUnit === 'none') {
    if (!traitsOf(id).unitless)
      throw new WrongUsage('--from-unit none is for DXF, DWG and coordinates: other files state their size');
    if (target.unit !== null)
      throw new WrongUsage('--from-unit none leaves the numbers as they are: it cannot be converted to a --unit');
    target.unitless = true;
  }
  return {
    intake,
    steps: [...(recipe?.steps ?? []), ...(recipe ? closingSteps(recipe) : [])],
    target,
    ...(recipe && ofRecipe(recipe)),
    rules: recipe?.parts ?? {},
    fonts: { files: filesIn(o.fontFolder, /\.(ttf|otf|ttc|woff2?|shx)$/i, 'fonts'), chart: o.fontChart ?? {} },
    pictures: filesIn(o.pictureFolder, /\.(png|jpe?g)$/i, 'pictures'),
    references: filesIn(o.referenceFolder, /\.(dxf|dwg)$/i, 'reference drawings'),
  };
}

/** What a recipe expects of a drawing, and what is measured in its files. */
export const ofRecipe = (recipe: Recipe): Pick<Planned, 'expects' | 'yardsticks'> => ({
  expects: valuesOf(EXPECT_FIELDS, recipe.expects ?? {}, null).checks as string[],
  yardsticks: (recipe.yardsticks ?? []).map((y) => ({ ...y, places: [] })),
});

/** Works out what to convert. Throws `WrongUsage`; nothing has been written then. */
export function planConversions(o: Options, recipe: Recipe | null = null): Planned[] {
  const inputs = o.files.slice(0, -1);
  const last = o.files[o.files.length - 1]!;
  if (last === '-') throw new WrongUsage('a file is written to a file, not to standard output');
  const folder = inputs.length > 1 || (existsSync(last) && statSync(last).isDirectory()) || extname(last) === '';
  if (folder && !(existsSync(last) && statSync(last).isDirectory())) throw new WrongUsage(`"${last}" is no folder`);
  const id: Target['format'] | undefined = folder
    ? ((o.to as Target['format'] | undefined) ?? recipe?.target?.format)
    : entryByExtension(extname(last))?.id;
  if (!id) {
    const known = Object.values(FORMAT_CATALOGUE)
      .map((f) => `.${f.extension}`)
      .join(' or ');
    throw new WrongUsage(
      folder
        ? `several files to a folder need --to ${Object.keys(FORMAT_CATALOGUE).join(' or ')}`
        : `"${last}" does not end in ${known}`,
    );
  }
  const plan = planFor(o, recipe, id);
  const plans = inputs.map((file) => ({
    ...plan,
    file,
    out: folder ? join(last, `${baseName(basename(file))}.${FORMAT_CATALOGUE[id].extension}`) : last,
  }));
  if (folder && inputs.includes('-'))
    throw new WrongUsage('what comes in on standard input has no name: give it a file to be written to');
  const seen = new Set<string>();
  for (const p of plans) {
    if (seen.has(p.out)) throw new WrongUsage(`two files would be written to ${p.out}`);
    seen.add(p.out);
    if (!o.overwrite && existsSync(p.out)) throw new WrongUsage(`${p.out} exists; say --overwrite to replace it`);
  }
  return plans;
}

/** What is decided on taking in: by a recipe, and over that by the line. Throws `WrongUsage`. */
export function decisionsOf(o: Options, recipe: Recipe | null): IntakeDecisions {
  const intake = decidedOn(recipe?.intake ?? {}, o.decided);
  if (o.fromUnit && o.fromUnit !== 'none') intake.unit = o.fromUnit;
  if (o.layers) intake.layers = { mode: o.layers, names: [] };
  if (o.origin) intake.origin = { mode: o.origin, x: 0, y: 0 };
  return intake;
}

/** Decisions of a recipe with those of the line over them, field by field. Throws `WrongUsage`. */
function decidedOn(recipe: Partial<IntakeDecisions>, line: Kept): IntakeDecisions {
  const fault = faultOf(INTAKE_FIELDS, line);
  if (fault) throw new WrongUsage(fault);
  const out: Record<string, unknown> = { ...NO_DECISIONS, ...recipe };
  for (const [field, value] of Object.entries(line)) {
    const group = typeof value === 'object' && value !== null && !Array.isArray(value);
    out[field] = group ? { ...(out[field] as object | undefined), ...value } : value;
  }
  return out as unknown as IntakeDecisions;
}

/** The files of a folder that are called so, by name. */
function filesIn(folder: string | undefined, called: RegExp, what: string): string[] {
  if (folder === undefined) return [];
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new WrongUsage(`"${folder}" is no folder of ${what}`);
  return readdirSync(folder)
    .filter((f) => called.test(f))
    .sort()
    .map((f) => join(folder, f));
}
