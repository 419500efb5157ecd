import { UserError } from '../errors.js';
import { canonicalText } from '../parameters/canonical.js';
import type { Recipe } from './recipe.js';

/**
 * What a derived recipe has otherwise than the one it is based on. A path goes from field to field; a row of a list is named by what
 * tells it from the others: a row of a chart by its left side, a step by its id, a layer by its name. `undefined` is not there.
 */
export interface RecipeDifference {
  readonly path: readonly string[];
  readonly was?: unknown;
  readonly is?: unknown;
}

/** A recipe may be derived from one that is derived, so many times. */
export const DEEPEST = 8;

/** What belongs to a recipe alone and is never taken over from another. */
const OWN = new Set(['recipe', 'title', 'basedOn']);

type Tree = { readonly [name: string]: unknown };
const isTree = (v: unknown): v is Tree => typeof v === 'object' && v !== null && !Array.isArray(v);

/** What a row of a list is known by, where it is known by something. */
const KEYS = ['from', 'id', 'name', 'series'] as const;

/** The key that tells all rows of a list apart; `null` where there is none, so that the list counts as one value. */
function keyOf(...lists: readonly (readonly unknown[])[]): (typeof KEYS)[number] | null {
  const rows = lists.flat();
  if (rows.length === 0 || !rows.every(isTree)) return null;
  const apart = (list: readonly unknown[], key: string): boolean => {
    const names = list.map((r) => (r as Tree)[key]);
    return names.every((n) => typeof n === 'string') && new Set(names).size === names.length;
  };
  return KEYS.find((key) => lists.every((l) => apart(l, key))) ?? null;
}

const same = (a: unknown, b: unknown): boolean => canonicalText([a]) === canonicalText([b]);
/** Where the order of a list stands, beside its rows. */
const IN_ORDER = '(order)';
/** What marks a name in a path as that of a row. */
const rowName = (key: string, name: string): string => `${key}=${name}`;

/** What `child` has otherwise than `parent`; nothing where they are the same but for their titles. */
export function differencesOf(parent: Recipe, child: Recipe): RecipeDifference[] {
  const out: RecipeDifference[] = [];
  const ofTrees = (a: Tree, b: Tree, path: readonly string[]): void => {
    for (const name of new Set([...Object.keys(a), ...Object.keys(b)])) {
      if (path.length === 0 && OWN.has(name)) continue;
      compare(a[name], b[name], [...path, name]);
    }
  };
  const compare = (was: unknown, is: unknown, path: readonly string[]): void => {
    if (same(was, is)) return;
    if (isTree(was) && isTree(is)) return ofTrees(was, is, path);
    const [a, b] = [was, is];
    const key = Array.isArray(a) && Array.isArray(b) ? keyOf(a, b) : null;
    if (key === null)
      return void out.push({ path, ...(was !== undefined && { was }), ...(is !== undefined && { is }) });
    const rows = (list: readonly Tree[]): Tree =>
      Object.fromEntries(list.map((r) => [rowName(key, String(r[key])), r]));
    const [ra, rb] = [rows(a as Tree[]), rows(b as Tree[])];
    for (const name of new Set([...Object.keys(ra), ...Object.keys(rb)])) {
      const [x, y] = [ra[name], rb[name]];
      if (same(x, y)) continue;
      // Steps hold lists of their own; a row of a chart or a layer is one thing to whoever reads it.
      if (key === 'id' && x && y) compare(x, y, [...path, name]);
      else out.push({ path: [...path, name], ...(x !== undefined && { was: x }), ...(y !== undefined && { is: y }) });
    }
    // What the child adds stands behind; only another order of what both have is a difference.
    const [na, nb] = [Object.keys(ra).filter((n) => n in rb), Object.keys(rb).filter((n) => n in ra)];
    const behind = Object.keys(rb).every((n, i) => n in ra === i < nb.length);
    if (!same(na, nb) || !behind) out.push({ path: [...path, IN_ORDER], was: Object.keys(ra), is: Object.keys(rb) });
  };
  ofTrees(parent as unknown as Tree, child as unknown as Tree, []);
  return out;
}

/** The recipe that differs from `parent` so, under its own title. Differences in what the parent no longer has are made anew. */
export function derivedFrom(
  parent: Recipe,
  differences: readonly RecipeDifference[],
  own: Pick<Recipe, 'title' | 'basedOn'>,
): Recipe {
  const tree: Record<string, unknown> = structuredClone({ ...parent }) as never;
  delete tree['basedOn'];
  for (const d of differences) tree[d.path[0]!] = changed(tree[d.path[0]!], d.path.slice(1), d);
  for (const [name, v] of Object.entries(tree)) if (v === undefined) delete tree[name];
  return { ...tree, ...own } as unknown as Recipe;
}

function changed(value: unknown, path: readonly string[], d: RecipeDifference): unknown {
  const [first, ...rest] = path;
  if (first === undefined) return d.is;
  if (first === IN_ORDER) return inOrder(value as readonly Tree[], d.is as readonly string[]);
  const key = KEYS.find((k) => first.startsWith(`${k}=`));
  if (key && (Array.isArray(value) || value === undefined)) {
    const list = (value ?? []) as readonly Tree[];
    const name = first.slice(key.length + 1);
    const at = list.findIndex((r) => r[key] === name);
    const made = changed(list[at], rest, d) as Tree | undefined;
    if (at < 0) return made === undefined ? list : [...list, made];
    return made === undefined ? list.toSpliced(at, 1) : list.with(at, made);
  }
  const tree = isTree(value) ? value : {};
  const made = changed(tree[first], rest, d);
  const { [first]: _gone, ...others } = tree;
  return made === undefined ? others : { ...tree, [first]: made };
}

/** Rows in an order of their names; those that it does not name stay behind. */
function inOrder(list: readonly Tree[], order: readonly string[]): Tree[] {
  const place = (row: Tree): number => {
    const i = order.findIndex((n) => KEYS.some((k) => rowName(k, String(row[k])) === n && k in row));
    return i < 0 ? order.length : i;
  };
  return [...list].sort((a, b) => place(a) - place(b));
}

const covers = (a: readonly string[], b: readonly string[]): boolean =>
  a.slice(0, Math.min(a.length, b.length)).every((name, i) => name === b[i]);

/** What changed in a parent, and what of it a child follows; the rest the child has of its own. */
export function changedUnder(
  before: Recipe,
  now: Recipe,
  differences: readonly RecipeDifference[],
): { followed: RecipeDifference[]; kept: RecipeDifference[] } {
  const [followed, kept]: [RecipeDifference[], RecipeDifference[]] = [[], []];
  for (const d of differencesOf(before, now))
    (differences.some((own) => covers(own.path, d.path)) ? kept : followed).push(d);
  return { followed, kept };
}

/** A recipe as it is kept: whole, or by what it has otherwise than another. */
export interface KeptRecipe {
  readonly id: string;
  readonly title: string;
  /** The whole recipe where it is based on none. */
  readonly whole?: Recipe;
  readonly basedOn?: { readonly id: string; readonly why: string; readonly differences: readonly RecipeDifference[] };
}

/**
 * A recipe as it is used, worked out over all that it is based on. Throws `UserError` where one of those is gone, goes round in a
 * circle or is more than `DEEPEST` away.
 */
export function resolved(id: string, all: ReadonlyMap<string, KeptRecipe>): Recipe {
  const chain: KeptRecipe[] = [];
  for (let next: string | undefined = id; next !== undefined;) {
    const one: KeptRecipe | undefined = all.get(next);
    const no = (message: string): UserError => new UserError('wrong-parameter', message);
    if (!one) throw no(`what “${chain[chain.length - 1]?.title ?? id}” is based on is gone`);
    if (chain.includes(one)) throw no(`“${one.title}” would be based on itself`);
    if (chain.length > DEEPEST) throw no(`a recipe may be derived ${DEEPEST} times, and no more`);
    chain.push(one);
    next = one.basedOn?.id;
  }
  const last = chain.pop()!;
  let made: Recipe = { ...(last.whole ?? { recipe: 2 }), title: last.title };
  for (const one of chain.reverse()) {
    const { why, differences } = one.basedOn!;
    made = derivedFrom(made, differences, { title: one.title, basedOn: { title: made.title ?? '', why } });
  }
  return made;
}

/** A path in words: `steps › chart › POSTS*`. */
export const pathWords = (path: readonly string[]): string =>
  path
    .map((n) => KEYS.reduce((word, k) => (word.startsWith(`${k}=`) ? word.slice(k.length + 1) : word), n))
    .join(' › ');
