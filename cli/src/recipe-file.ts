import { readFileSync } from 'node:fs';
import { Ajv } from 'ajv';
import type { Recipe } from '@scalaria/core';
import { recipeSchema, upgradedPlan, upgradedTarget } from '@scalaria/core';
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
  if (!validate(data)) {
    const e = validate.errors?.[0];
    throw new WrongUsage(`the recipe ${file} is not understood: ${e?.instancePath || 'it'} ${e?.message ?? ''}`);
  }
  const { steps, target, ...recipe } = data as Recipe;
  return { ...recipe, ...(steps && { steps: upgradedPlan(steps) }), ...(target && { target: upgradedTarget(target) }) };
}
