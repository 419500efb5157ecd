import { readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { Manifest, NotWritten, PlannedFile, Recipe, SetPlan, SetSource } from '@scalaria/core';
import {
  BESIDE_FIELDS,
  FORMAT_CATALOGUE,
  UserError,
  baseName,
  closingSteps,
  gatheredBy,
  manifestCsv,
  manifestJson,
  planSet,
  proofPage,
  sourceFactsNone,
  tableForm,
  valuesOf,
  isDrafting,
  traitsOf,
} from '@scalaria/core';
import type { Options } from './arguments.js';
import type { Planned } from './plan.js';
import { planFor } from './plan.js';
import type { Pool } from './pool.js';
import { readRecipe } from './recipe-file.js';
import { failureText } from './report.js';
import type { Became } from './set-folder.js';
import { Folder, LEFT, digestOf } from './set-folder.js';
import { shown } from './terminal.js';
import { CODES, Report, errorOf, worst } from './told.js';
import type { ConvertJob, Converted, FactsJob, Failure, Known } from './worker.js';
import { writeFile } from './write-file.js';
import { WrongUsage } from './wrong-usage.js';

/** Writes a set into a folder of its own: files by one recipe, each proven, with a manifest and a report of them all. */
export async function deliver(o: Options, threads: Pool): Promise<number> {
  const into = o.into!;
  const recipe = readRecipe(o.recipe!);
  const format = recipe.target?.format ?? (o.to as ConvertJob['target']['format'] | undefined);
  if (!format) throw new WrongUsage('the recipe names no format: say one in its target, or --to');
  const base = planFor(o, recipe, format);
  const date = o.date ?? new Date().toISOString().slice(0, 10);
  const asked = { job: o.job ?? '', date };
  const { sources, unread } = await known(o, recipe, base, threads);
  let plan: SetPlan;
  try {
    plan = planSet(sources, recipe, asked);
  } catch (e) {
    if (e instanceof UserError) throw new WrongUsage(e.message);
    throw e;
  }
  const set = await Folder.open(into, plan, FORMAT_CATALOGUE[format].extension, o);
  const report = new Report(o.json);
  const fileOf = new Map(o.files.map((f, i) => [String(i), f]));
  const beside = valuesOf(BESIDE_FIELDS, recipe.beside ?? {}, null);
  const { steps } = base;
  const results = await Promise.all(
    plan.files.map(async (file, i): Promise<Became> => {
      const source = calledOf(basename(fileOf.get(file.source)!), file);
      const became = await writeOne(source, file);
      report.tell(i, () => lineOf(became));
      return became;
    }),
  );

  async function writeOne(source: string, file: PlannedFile): Promise<Became> {
    if (file.stop !== null) return { state: 'failed', source, failure: usage(file.stop) };
    // What was agreed about layers comes last of all, also behind the cutting.
    const closing = closingSteps(recipe).length;
    const job: ConvertJob = {
      ...base,
      file: fileOf.get(file.source)!,
      steps: [...file.before, ...steps.slice(0, steps.length - closing), ...file.steps],
      // What is gathered is prepared by the decisions of the recipe alone.
      gathered: gatheredBy(file.before).map((id) => ({ id, file: fileOf.get(id)! })),
      target: { ...base.target, ...(file.parts && { parts: [...file.parts] }) },
      telling: true,
      // What is a picture itself needs none beside it.
      ...(beside.pictures && !traitsOf(base.target.format).pixels && { pixels: beside.pixels }),
      ...(beside.pictures && beside.named && isDrafting(base.target) && { named: `${file.name}.png` }),
    };
    // What is expected was looked at already, of the whole drawing.
    const made = await threads.run<Converted>('convert', { ...job, expects: [] });
    return made.ok ? set.keep(source, file, made, job) : { state: 'failed', source, failure: made };
  }
  const failed: NotWritten[] = [
    ...unread.map(({ source, failure }) => ({ source, why: failure.message })),
    ...results.flatMap((r) => (r.state === 'failed' ? [{ source: r.source, why: r.failure.message }] : [])),
  ];
  const files = results.flatMap((r) => ('file' in r ? [r.file] : []));
  const title = recipe.title ?? basename(o.recipe!);
  const leftOut = [
    ...plan.leftOut.map((l) => ({
      ...{ source: basename(fileOf.get(l.source)!), what: l.what, why: l.why },
      ...heldIn(l),
    })),
    ...results.flatMap((r, i) =>
      r.state === 'left'
        ? [
            {
              source: r.source,
              what: r.name,
              why: LEFT,
              ...heldIn({ ...plan.files[i]!, parts: plan.files[i]!.parts?.length }),
            },
          ]
        : [],
    ),
  ];
  const manifest: Manifest = {
    manifest: 1,
    recipe: { title, sha256: digestOf(readFileSync(o.recipe!)) },
    ...{ files, failed, leftOut: leftOut.map((l) => ({ source: `${l.source}: ${l.what}`, why: l.why })) },
    expected: files.length + failed.length,
    void: results.flatMap((r, i) =>
      r.state === 'failed'
        ? Object.entries(plan.files[i]!.numbers).map(([series, number]) => ({ series, number }))
        : [],
    ),
    ...sumsOf(sources, plan, results, leftOut),
  };
  const page = proofPage({
    ...{ title, job: asked.job, receiver: recipe.receiver ?? '', date, recipe: { title, note: recipe.note ?? '' } },
    ...{ files: results.flatMap((r) => ('report' in r ? [r.report] : [])), failed, leftOut, waived: [] },
  });
  const text = new TextEncoder();
  const unwritten =
    writeFile(join(into, 'manifest.json'), text.encode(manifestJson(manifest))) ??
    writeFile(join(into, 'manifest.csv'), text.encode(manifestCsv(manifest, tableForm(recipe)))) ??
    (beside.report ? writeFile(join(into, 'report.html'), text.encode(page)) : null);
  const count = (state: Became['state']): number => results.filter((r) => r.state === state).length;
  for (const { source, failure } of unread) if (!o.json) console.log(`\n${failureText(source, failure)}`);
  if (!o.json)
    console.log(
      `\n${plan.files.length + unread.length} asked for = ${count('written')} written + ${count('unchanged')} unchanged${count('left') > 0 ? ` + ${count('left')} left as they were` : ''} + ${failed.length} failed, in ${shown(into)}`,
    );
  report.all({
    command: 'deliver',
    into,
    unchanged: results.flatMap((r) => (r.state === 'unchanged' ? [r.file.name] : [])),
    errors: [
      ...unread.map(({ source, failure }) => ({ file: source, ...errorOf(failure) })),
      ...results.flatMap((r) => (r.state === 'failed' ? [{ file: r.source, ...errorOf(r.failure) }] : [])),
    ],
    manifest,
  });
  return worst([
    ...(unwritten ? [CODES[unwritten.kind]] : []),
    ...unread.map((u) => CODES[u.failure.kind]),
    ...results.map((r) =>
      r.state === 'failed' ? CODES[r.failure.kind] : 'file' in r && r.file.proof === 'does not hold' ? 4 : 0,
    ),
  ]);
}

const usage = (message: string): Failure => ({ ok: false, kind: 'usage', message });
const calledOf = (source: string, { piece }: PlannedFile): string => (piece === null ? source : `${source}: ${piece}`);

/** What is known of the sources of a set. Whole drawings of which nothing is expected are only looked at when they are written. */
async function known(
  o: Options,
  recipe: Recipe,
  base: Omit<Planned, 'file' | 'out'>,
  threads: Pool,
): Promise<{ sources: SetSource[]; unread: { source: string; failure: Failure }[] }> {
  const by = String(recipe.split?.['by'] ?? 'drawing');
  const source = (i: number, more: Pick<SetSource, 'facts' | 'parts'>): SetSource => ({
    ...{ id: String(i), name: baseName(basename(o.files[i]!)), revision: 1 },
    ...more,
  });
  if (by === 'drawing' && (base.expects ?? []).length === 0) {
    const facts = sourceFactsNone(recipe.target?.unit ?? '');
    return { sources: o.files.map((_, i) => source(i, { facts, parts: null })), unread: [] };
  }
  const closing = closingSteps(recipe).length;
  const steps = base.steps.slice(0, base.steps.length - closing);
  const listing = by === 'parts' || by === 'stock';
  const found = await Promise.all(
    o.files.map((file) =>
      threads.run<Known>('facts', { ...base, file, steps, listing } satisfies FactsJob & { target: unknown }),
    ),
  );
  return {
    sources: found.flatMap((f, i) => (f.ok ? [source(i, { facts: f.facts, parts: f.parts })] : [])),
    unread: found.flatMap((f, i) => (f.ok ? [] : [{ source: basename(o.files[i]!), failure: f }])),
  };
}

/** How much of a source something holds, in objects and in lines of its parts list. */
interface HeldIn {
  readonly objects: number;
  readonly parts: number;
}
const heldIn = (of: { readonly objects: number | null; readonly parts?: number | undefined }): HeldIn => ({
  objects: of.objects ?? 0,
  parts: of.parts ?? 0,
});

/** The sums of objects and of parts, where all of them were counted. */
function sumsOf(
  sources: readonly SetSource[],
  plan: SetPlan,
  results: readonly Became[],
  leftOut: readonly HeldIn[],
): Pick<Manifest, 'objects' | 'parts'> {
  const sum = <T>(list: readonly T[], of: (one: T) => number): number => list.reduce((n, one) => n + of(one), 0);
  const failed = plan.files.filter((_, i) => results[i]!.state === 'failed');
  const written = results.flatMap((r) => ('file' in r ? [r.file] : []));
  const prepared = sum(sources, (s) => s.facts.objects);
  const counted = prepared > 0 && plan.files.every((f) => f.objects !== null);
  const byParts = plan.files.some((f) => f.parts !== null);
  return {
    ...(counted && {
      objects: {
        prepared,
        written: sum(written, (f) => f.prepared ?? 0),
        leftOut: sum(failed, (f) => f.objects ?? 0) + sum(leftOut, (l) => l.objects),
      },
    }),
    ...(byParts && {
      parts: {
        listed: sum(sources, (s) => s.parts?.length ?? 0),
        inFiles: sum(written, (f) => f.parts?.length ?? 0),
        leftOut: sum(failed, (f) => f.parts?.length ?? 0) + sum(leftOut, (l) => l.parts),
      },
    }),
  };
}

function lineOf(r: Became): string {
  if (r.state === 'failed') return failureText(r.source, r.failure);
  if (r.state === 'left') return `${shown(r.source)}: ${LEFT}: ${shown(r.name)}`;
  const same = r.state === 'unchanged' ? 'the same as before, not written again; ' : '';
  const asked = r.file.asked === null ? '' : `; asked for as ${shown(r.file.asked)}`;
  return `${shown(r.source)} → ${shown(r.file.name)}: ${same}proof ${r.file.proof}${asked}`;
}
