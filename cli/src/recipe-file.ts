import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Ajv } from 'ajv';
import type { Recipe } from '@scalaria/core';
import { UserError, recipeFrom, recipeSchema } from '@scalaria/core';
import { WrongUsage } from './arguments.js';

/** A recipe as a file, held against its schema. Throws `WrongUsage`. */
export function readRecipe(file: string): Recipe {
  let data: unknown;
  try {
    data = JSON.parse(readFileSync(file, 'utf8'));
  } catch (e) {
    throw new WrongUsage(`the recipe ${file} cannot be read: ${(e as Error).message}`);
  }
  const validate = new Ajv({ strict: false }).compile(recipeSchema);
  try {
    return withTemplate(
      file,
      recipeFrom(data, (d) => (validate(d) ? [] : (validate.errors ?? []))),
    );
  } catch (e) {
    if (!(e instanceof UserError)) throw e;
    throw new WrongUsage(`the recipe ${file} is not understood: ${e.message}`);
  }
}

/** The template of a recipe is looked for beside it, by its name, and taken where its bytes are those that the recipe means. */
function withTemplate(file: string, recipe: Recipe): Recipe {
  const { template, target } = recipe;
  if (!template) return recipe;
  const path = join(dirname(file), basename(template.name));
  const lay = existsSync(path) ? createHash('sha256').update(readFileSync(path)).digest('hex') : null;
  if (lay !== template.sha256)
    throw new WrongUsage(
      `the recipe ${file} asks for the template ${template.name}, ${lay === null ? 'which does not lie beside it' : 'but what lies beside it is another file'}`,
    );
  return { ...recipe, target: { ...target, options: { ...target?.options, template: path } } };
}
