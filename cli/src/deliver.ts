import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readFileSync, readdirSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Ajv } from 'ajv';
import type { Digest, Manifest, ManifestFile, NamePiece, NotWritten } from '@scalaria/core';
import {
  FORMAT_CATALOGUE,
  MANIFEST_FILES,
  actionsOf,
  baseName,
  fieldPiece,
  manifestCsv,
  manifestJson,
  manifestSchema,
  plannedNames,
  verify as verified,
  weigh,
} from '@scalaria/core';
import type { Options } from './arguments.js';
import { planFor } from './plan.js';
import type { Pool } from './pool.js';
import { readRecipe } from './recipe-file.js';
import { failureText } from './report.js';
import { shown } from './terminal.js';
import { CODES, Report, errorOf, worst } from './told.js';
import type { ConvertJob, Converted, Failure } from './worker.js';
import { writeFile } from './write-file.js';
import { WrongUsage } from './wrong-usage.js';

const digestOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

async function digestOfFile(path: string): Promise<string> {
  const sum = createHash('sha256');
  for await (const piece of createReadStream(path)) sum.update(piece as Buffer);
  return sum.digest('hex');
}

/** All that lies in a folder, what lies in folders of it by their way there. */
async function filesIn(folder: string, way = ''): Promise<Digest[]> {
  const out: Digest[] = [];
  for (const name of readdirSync(join(folder, way)).sort()) {
    const path = way === '' ? name : `${way}/${name}`;
    if (statSync(join(folder, path)).isDirectory()) out.push(...(await filesIn(folder, path)));
    else out.push({ name: path, sha256: await digestOfFile(join(folder, path)) });
  }
  return out;
}

/** What became of one source of a set. */
type Became =
  | { state: 'written' | 'unchanged'; source: string; file: ManifestFile }
  | { state: 'failed'; source: string; failure: Failure };

/** Writes a set into a folder of its own: every source by one recipe, each proven, with a manifest of them all. */
export async function deliver(o: Options, threads: Pool): Promise<number> {
  const into = o.into!;
  const recipe = readRecipe(o.recipe!);
  const format = recipe.target?.format ?? (o.to as ConvertJob['target']['format'] | undefined);
  if (!format) throw new WrongUsage('the recipe names no format: say one in its target, or --to');
  const naming: readonly NamePiece[] = recipe.naming ?? [fieldPiece('drawing')];
  const { names } = plannedNames(
    naming,
    o.files.map((f) => ({ drawing: baseName(basename(f)), unit: recipe.target?.unit ?? '' })),
  );
  const ends = FORMAT_CATALOGUE[format].extension;
  const files = names.map((n) => `${n.name}.${ends}`);
  const present = existsSync(into) ? await filesIn(into) : [];
  const known = new Set<string>([...files, ...MANIFEST_FILES]);
  const foreign = present.filter((p) => !known.has(p.name)).map((p) => p.name);
  if (foreign.length > 0)
    throw new WrongUsage(
      `${into} holds something else: ${foreign.slice(0, 5).join(', ')}${foreign.length > 5 ? ` and ${foreign.length - 5} more` : ''}; a set has a folder of its own`,
    );
  mkdirSync(into, { recursive: true });
  const there = new Map(present.map((p) => [p.name, p.sha256]));
  const plan = planFor(o, recipe, format);
  const report = new Report(o.json);
  const results = await Promise.all(
    o.files.map(async (path, i): Promise<Became> => {
      const name = files[i]!;
      const source = basename(path);
      const job: ConvertJob = { ...plan, file: path, telling: true };
      const made = await threads.run<Converted>('convert', job);
      const became = await kept(made);
      report.tell(i, () => lineOf(became, name));
      return became;

      async function kept(r: Converted): Promise<Became> {
        if (!r.ok) return { state: 'failed', source, failure: r };
        const sha256 = digestOf(r.bytes);
        const { holds, lost, whole } = weigh(r.proof);
        const { facts, source: digest, version } = r.told!;
        const file: ManifestFile = {
          ...{ name, sha256, bytes: r.bytes.length, format: FORMAT_CATALOGUE[format!].id, version, ...facts },
          source: { name: source, sha256: digest },
          parts: job.target.parts ?? null,
          proof: !holds ? 'does not hold' : lost > 0 || !whole ? 'holds with exceptions' : 'holds',
          ledger: actionsOf(r.ledger),
          asked: names[i]!.asked,
        };
        if (there.get(name) === sha256) return { state: 'unchanged', source, file };
        if (there.has(name) && !o.overwrite)
          return {
            state: 'failed',
            source,
            failure: {
              ok: false,
              kind: 'usage',
              message: `${name} is there already and holds something else`,
              remedy: 'Say --overwrite to replace it, or choose another folder.',
            },
          };
        const failure = writeFile(join(into, name), r.bytes);
        return failure ? { state: 'failed', source, failure } : { state: 'written', source, file };
      }
    }),
  );
  const manifest: Manifest = {
    manifest: 1,
    recipe: { title: recipe.title ?? basename(o.recipe!), sha256: digestOf(readFileSync(o.recipe!)) },
    files: results.flatMap((r) => (r.state === 'failed' ? [] : [r.file])),
    failed: results.flatMap((r): NotWritten[] =>
      r.state === 'failed' ? [{ source: r.source, why: r.failure.message }] : [],
    ),
    leftOut: [],
    expected: o.files.length,
  };
  const text = new TextEncoder();
  const unwritten =
    writeFile(join(into, 'manifest.json'), text.encode(manifestJson(manifest))) ??
    writeFile(join(into, 'manifest.csv'), text.encode(manifestCsv(manifest)));
  const count = (state: Became['state']): number => results.filter((r) => r.state === state).length;
  if (!o.json)
    console.log(
      `\n${results.length} asked for = ${count('written')} written + ${count('unchanged')} unchanged + ${count('failed')} failed, in ${shown(into)}`,
    );
  report.all({
    command: 'deliver',
    into,
    unchanged: results.flatMap((r) => (r.state === 'unchanged' ? [r.file.name] : [])),
    errors: results.flatMap((r) => (r.state === 'failed' ? [{ file: r.source, ...errorOf(r.failure) }] : [])),
    manifest,
  });
  return worst([
    ...(unwritten ? [CODES[unwritten.kind]] : []),
    ...results.map((r) => (r.state === 'failed' ? CODES[r.failure.kind] : r.file.proof === 'does not hold' ? 4 : 0)),
  ]);
}

const lineOf = (r: Became, name: string): string =>
  r.state === 'failed'
    ? failureText(r.source, r.failure)
    : `${shown(r.source)} → ${shown(name)}: ${r.state === 'unchanged' ? 'the same as before, not written again; ' : ''}proof ${r.file.proof}${r.file.asked === null ? '' : `; asked for as ${shown(r.file.asked)}`}`;

/** Holds a folder against the manifest that lies in it. */
export async function verify(o: Options): Promise<number> {
  const [folder] = o.files as [string];
  const manifest = readManifest(folder);
  const found = verified(manifest, await filesIn(folder));
  const sound = Object.values(found).every((list: readonly string[]) => list.length === 0);
  if (o.json) console.log(JSON.stringify({ command: 'verify', folder, ok: sound, ...found }, null, 2));
  else {
    const line = (what: string, names: readonly string[]): string[] =>
      names.map((n) => `  ${what.padEnd(9)} ${shown(n)}`);
    console.log(
      [
        `${shown(folder)}: ${sound ? `all ${manifest.files.length} files are as the manifest says` : 'not as the manifest says'}`,
        ...line('missing', found.missing),
        ...line('changed', found.changed),
        ...line('extra', found.extra),
        ...line('sums', found.sums),
      ].join('\n'),
    );
  }
  return sound ? 0 : 4;
}

function readManifest(folder: string): Manifest {
  const path = join(folder, 'manifest.json');
  let data: unknown;
  try {
    data = JSON.parse(readFileSync(path, 'utf8'));
  } catch (e) {
    throw new WrongUsage(`${path} cannot be read: ${(e as Error).message}`);
  }
  const validate = new Ajv({ strict: false }).compile(manifestSchema);
  if (!validate(data)) {
    const e = validate.errors?.[0];
    throw new WrongUsage(`${path} is no manifest: ${e?.instancePath || 'it'} ${e?.message ?? ''}`);
  }
  return data as Manifest;
}
