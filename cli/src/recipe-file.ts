import { readFileSync } from 'node:fs';
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
    return recipeFrom(data, (d) => (validate(d) ? [] : (validate.errors ?? [])));
  } catch (e) {
    if (!(e instanceof UserError)) throw e;
    throw new WrongUsage(`the recipe ${file} is not understood: ${e.message}`);
  }
}
