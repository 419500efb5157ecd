import { Ajv } from 'ajv';
import { eq, isNull } from 'drizzle-orm';
import type { KeptRecipe, Recipe } from '@scalaria/core';
import { UserError, recipeFrom, recipeSchema, resolved } from '@scalaria/core';
import { recipes } from '../database/schema.js';
import type { Context } from '../http/context.js';
import { Problem, notFound } from '../http/problem.js';

export type RecipeRow = typeof recipes.$inferSelect;

const validate = new Ajv({ strict: false }).compile(recipeSchema);

/** A recipe as it was sent, raised to its present form. Throws a `Problem` that names what is not understood. */
export function soundRecipe(data: unknown): Recipe {
  try {
    return recipeFrom(data, (d) => (validate(d) ? [] : (validate.errors ?? [])));
  } catch (e) {
    if (!(e instanceof UserError)) throw e;
    throw new Problem(400, `The recipe is not understood: ${e.message}.`);
  }
}

const keptOf = (r: RecipeRow): KeptRecipe => ({
  id: r.id,
  title: r.title,
  ...(r.whole && { whole: r.whole }),
  ...(r.basedOn && { basedOn: { id: r.basedOn, why: r.why ?? '', differences: r.differences ?? [] } }),
});

/** All recipes that are not deleted, by their ids, and as rows, the last changed first. */
export async function allRecipes(c: Context): Promise<{ rows: RecipeRow[]; kept: Map<string, KeptRecipe> }> {
  const rows = await c.database.db.select().from(recipes).where(isNull(recipes.deletedAt));
  rows.sort((a, b) => b.changedAt.getTime() - a.changedAt.getTime() || (a.id < b.id ? -1 : 1));
  return { rows, kept: new Map(rows.map((r) => [r.id, keptOf(r)])) };
}

/** A recipe as it is used, over all that it is based on. Throws a `Problem` where it cannot be. */
export function usedRecipe(id: string, kept: ReadonlyMap<string, KeptRecipe>): Recipe {
  try {
    return resolved(id, kept);
  } catch (e) {
    if (!(e instanceof UserError)) throw e;
    throw new Problem(409, `The recipe cannot be used: ${e.message}.`);
  }
}

export async function findRecipe(c: Context, id: string): Promise<RecipeRow> {
  const [row] = await c.database.db.select().from(recipes).where(eq(recipes.id, id));
  if (!row) throw notFound('recipe');
  return row;
}
