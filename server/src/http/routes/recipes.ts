import { and, eq, isNull, sql } from 'drizzle-orm';
import type { Recipe, Target } from '@scalaria/core';
import {
  DEEPEST,
  changedUnder,
  differencesOf,
  isDrafting,
  pathWords,
  planFaults,
  recipeOf,
  recipeSchema,
  recipeText,
  targetAskedSchema,
  targetFault,
  targetFor,
  templateOf,
} from '@scalaria/core';
import { drawings, jobs, recipes, revisions } from '../../database/schema.js';
import { newestRevisions } from '../../sets/newest.js';
import type { RecipeRow } from '../../sets/recipes.js';
import { allRecipes, findRecipe, soundRecipe, usedRecipe } from '../../sets/recipes.js';
import type { Context } from '../context.js';
import { Problem } from '../problem.js';
import type { Route } from '../route.js';
import { isId } from '../route.js';
import { attached } from '../sending.js';
import { recipeShape, shapes } from '../shapes.js';
import { findDrawing } from './drawings.js';

const title = { type: 'string', minLength: 1, maxLength: 120, pattern: '\\S' };
const why = { type: 'string', minLength: 1, maxLength: 1000, pattern: '\\S' };

/** The recipes of the workshop: what receivers need, whatever the job. */
export function recipeRoutes(c: Context): Route[] {
  const { db } = c.database;

  const present = async (): Promise<unknown[]> => {
    const { rows, kept } = await allRecipes(c);
    return rows.map((r) => presentOne(r, kept));
  };
  const presentOne = (r: RecipeRow, kept: Awaited<ReturnType<typeof allRecipes>>['kept']): unknown => {
    const parent = r.basedOn === null ? null : kept.get(r.basedOn);
    let recipe: Recipe | null = null;
    let fault: string | null = null;
    try {
      recipe = usedRecipe(r.id, kept);
    } catch (e) {
      if (!(e instanceof Problem)) throw e;
      fault = e.message;
    }
    const differences = r.differences ?? [];
    const now = parent && recipe ? usedRecipe(parent.id, kept) : null;
    const under = now && r.seenParent ? changedUnder(r.seenParent, now, differences) : { followed: [], kept: [] };
    const words = (list: typeof differences) => list.map((d) => ({ ...d, words: pathWords(d.path) }));
    return {
      id: r.id,
      title: r.title,
      recipe,
      fault,
      basedOn: parent ? { id: parent.id, title: parent.title, why: r.why ?? '' } : null,
      differences: words(differences),
      under: { followed: words(under.followed), kept: words(under.kept) },
      createdAt: r.createdAt,
      changedAt: r.changedAt,
      version: r.version,
    };
  };
  const one = async (id: string): Promise<unknown> => {
    const { kept } = await allRecipes(c);
    return presentOne(await findRecipe(c, id), kept);
  };

  /** What in a recipe cannot be used, in words: a step there is none of, a wrong parameter, a target that cannot be written. */
  const refuse = (recipe: Recipe): void => {
    const fault = planFaults([...(recipe.steps ?? [])])[0];
    if (fault) throw new Problem(400, `The recipe cannot be used: ${fault}.`);
    if (!recipe.target) return;
    const { format } = recipe.target;
    if (!format) throw new Problem(400, 'The target of the recipe names no format.');
    const wrong = targetFault(targetFor(format, { ...recipe.target }));
    if (wrong) throw new Problem(400, `Nothing can be written by the recipe: ${wrong}.`);
  };

  /** The template of a recipe by the file that it names: a drawing of any job whose newest revision has the same bytes. */
  const withTemplate = async (recipe: Recipe): Promise<Recipe> => {
    if (!recipe.template || !recipe.target) return recipe;
    const { sha256 } = recipe.template;
    const candidates = await db
      .select({ id: drawings.id, number: revisions.number })
      .from(revisions)
      .innerJoin(drawings, eq(drawings.id, revisions.drawingId))
      .where(and(eq(revisions.blob, sha256), isNull(drawings.deletedAt)));
    const now = await newestRevisions(
      c,
      candidates.map((d) => d.id),
    );
    // One that has a newer revision would be written with that, and is not the file that is meant.
    const found = candidates.find((d) => now.get(d.id) === d.number);
    if (!found) return recipe;
    const options = { ...recipe.target.options, template: found.id };
    return { ...recipe, target: { ...recipe.target, options } };
  };

  return [
    {
      method: 'get',
      path: '/api/recipes',
      summary: 'The recipes of the workshop, the last changed first',
      answer: shapes.array(recipeShape),
      handle: present,
    },
    {
      method: 'post',
      path: '/api/recipes',
      summary: 'Keep a recipe: whole, or derived from another with a word why',
      body: shapes.object({ title, recipe: { type: 'object' }, basedOn: shapes.string, why }, [
        'recipe',
        'basedOn',
        'why',
      ]),
      answer: recipeShape,
      status: 201,
      handle: async ({ body }) => {
        const asked = body as { title: string; recipe?: unknown; basedOn?: string; why?: string };
        const name = asked.title.trim();
        const given = asked.recipe === undefined ? null : await withTemplate(soundRecipe(asked.recipe));
        if (given) refuse(given);
        if (asked.basedOn === undefined) {
          const [row] = await db
            .insert(recipes)
            .values({ title: name, whole: { ...(given ?? { recipe: 2 }), title: name } })
            .returning();
          return one(row!.id);
        }
        if (!asked.why) throw new Problem(400, 'A recipe that is derived from another says why.');
        if (!isId(asked.basedOn)) throw new Problem(400, 'What it is based on is no recipe.');
        const { kept } = await allRecipes(c);
        const parent = usedRecipe(asked.basedOn, kept);
        const [row] = await db
          .insert(recipes)
          .values({
            title: name,
            basedOn: asked.basedOn,
            why: asked.why.trim(),
            differences: given ? differencesOf(parent, given) : [],
            seenParent: parent,
          })
          .returning();
        try {
          usedRecipe(row!.id, (await allRecipes(c)).kept);
        } catch {
          await db.delete(recipes).where(eq(recipes.id, row!.id));
          throw new Problem(409, `A recipe may be derived ${DEEPEST} times, and no more.`);
        }
        return one(row!.id);
      },
    },
    {
      method: 'patch',
      path: '/api/recipes/{recipe}',
      summary: 'Change a recipe, see what changed under it, delete it or put it back',
      body: {
        ...shapes.object(
          {
            title,
            recipe: { type: 'object' },
            why,
            seen: shapes.integer,
            noted: { const: true },
            deleted: shapes.boolean,
          },
          ['title', 'recipe', 'why', 'seen', 'noted', 'deleted'],
        ),
        minProperties: 1,
      },
      answer: recipeShape,
      handle: async ({ params, body }) => {
        const row = await findRecipe(c, params['recipe']!);
        const b = body as {
          title?: string;
          recipe?: unknown;
          why?: string;
          seen?: number;
          noted?: true;
          deleted?: boolean;
        };
        if (b.seen !== undefined && b.seen !== row.version && b.recipe !== undefined)
          throw new Problem(409, 'The recipe was changed meanwhile in another window.', {
            remedy: 'What counts is in sight now. Change it again if it should be otherwise.',
          });
        const name = b.title?.trim() ?? row.title;
        const { kept } = await allRecipes(c);
        const set: Partial<typeof recipes.$inferInsert> = { title: name };
        const parent = row.basedOn === null ? null : () => usedRecipe(row.basedOn!, kept);
        if (b.recipe !== undefined) {
          const given = await withTemplate(soundRecipe(b.recipe));
          refuse(given);
          const { basedOn: _b, ...whole } = given;
          if (parent) Object.assign(set, { differences: differencesOf(parent(), given), seenParent: parent() });
          else set.whole = { ...whole, title: name };
        } else if (row.whole) set.whole = { ...row.whole, title: name };
        if (b.why !== undefined && row.basedOn !== null) set.why = b.why.trim();
        if (b.noted && parent) set.seenParent = parent();
        if (b.deleted) {
          const children = [...kept.values()].filter((r) => r.basedOn?.id === row.id);
          if (children.length > 0)
            throw new Problem(409, `“${children[0]!.title}” is based on it.`, {
              remedy: 'Delete that first, or make it stand alone.',
            });
        }
        if (b.deleted !== undefined) set.deletedAt = b.deleted ? new Date() : null;
        await db
          .update(recipes)
          .set({ ...set, version: row.version + 1, changedAt: new Date() })
          .where(eq(recipes.id, row.id));
        return one(row.id);
      },
    },
    {
      method: 'post',
      path: '/api/recipes/{recipe}/alone',
      summary: 'Let a derived recipe stand alone, as it is now',
      answer: recipeShape,
      handle: async ({ params }) => {
        const row = await findRecipe(c, params['recipe']!);
        const { basedOn: _b, ...whole } = usedRecipe(row.id, (await allRecipes(c)).kept);
        await db
          .update(recipes)
          .set({ whole, basedOn: null, why: null, differences: null, seenParent: null, version: row.version + 1 })
          .where(eq(recipes.id, row.id));
        return one(row.id);
      },
    },
    {
      method: 'get',
      path: '/api/recipes/{recipe}/file',
      summary: 'A recipe as a file, for another workshop or the shell: whole, its template by name and digest',
      answer: 'bytes',
      handle: async (ask) => {
        const row = await findRecipe(c, ask.params['recipe']!);
        const used = usedRecipe(row.id, (await allRecipes(c)).kept);
        attached(ask, `${row.title}.recipe.json`, 'application/json; charset=utf-8');
        ask.response.end(recipeText(await exported(used)));
      },
    },
    {
      method: 'get',
      path: '/api/drawings',
      summary: 'The drawings of all jobs that are not deleted, by job and name: recipes belong to no job',
      answer: shapes.array(
        shapes.object({ id: shapes.string, name: shapes.string, job: shapes.string, drafting: shapes.boolean }),
      ),
      handle: async () => {
        const rows = await db
          .selectDistinctOn([jobs.name, drawings.name, drawings.id], {
            ...{ id: drawings.id, name: drawings.name, job: jobs.name },
            format: sql<string>`${revisions.claims} ->> 'format'`,
          })
          .from(drawings)
          .innerJoin(jobs, eq(jobs.id, drawings.jobId))
          .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
          .where(and(isNull(drawings.deletedAt), isNull(jobs.deletedAt)))
          .orderBy(jobs.name, drawings.name, drawings.id)
          .limit(2000);
        return rows.map(({ format, ...d }) => ({ ...d, drafting: isDrafting({ format: format as 'dxf' }) }));
      },
    },
    {
      method: 'post',
      path: '/api/drawings/{drawing}/recipe',
      summary: 'What was done on a drawing as a recipe: kept by its title, or shown alone',
      body: shapes.object({ title, keep: shapes.boolean, target: targetAskedSchema }, ['target']),
      answer: shapes.object({
        recipe: recipeSchema,
        behind: shapes.array(shapes.object({ what: shapes.string, why: shapes.string })),
        id: shapes.nullable(shapes.string),
      }),
      handle: async ({ params, body }) => {
        const { drawing, job } = await findDrawing(c, params['drawing']!);
        const asked = body as { title: string; keep: boolean; target?: Target };
        const given = asked.target && targetFor(asked.target.format, { ...asked.target });
        const target = given ?? drawing.target ?? job.target;
        const made = recipeOf(asked.title.trim(), drawing.steps, target, drawing.yardsticks);
        if (!asked.keep) return { ...made, id: null };
        refuse(made.recipe);
        const [row] = await db
          .insert(recipes)
          .values({ title: asked.title.trim(), whole: made.recipe })
          .returning({ id: recipes.id });
        return { ...made, id: row!.id };
      },
    },
  ];

  /** A recipe without what only this workshop knows: its template by name and digest. */
  async function exported(recipe: Recipe): Promise<Recipe> {
    const named = recipe.target && templateOf(targetFor(recipe.target.format ?? 'dxf', { ...recipe.target }));
    if (!named || !isId(named)) return recipe;
    const { revision } = await findDrawing(c, named);
    const { template: _t, ...options } = recipe.target!.options ?? {};
    return {
      ...recipe,
      target: { ...recipe.target, options },
      template: { name: revision.fileName, sha256: revision.blob },
    };
  }
}
