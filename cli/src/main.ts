import { partsCsv } from '@scalaria/core';
import type { Options } from './arguments.js';
import { USAGE, WrongUsage, readArguments } from './arguments.js';
import type { Planned } from './plan.js';
import { decisionsOf, planConversions } from './plan.js';
import { Pool } from './pool.js';
import { CODES, Report, errorOf, worst } from './told.js';
import { writeWith } from './write-file.js';
import { claimsText, failureText, ledgerText, notesText, partsText, proofText } from './report.js';
import { shown } from './terminal.js';
import type { Compared, ConvertJob, Converted, Inspected, Listed, PartsJob } from './worker.js';

async function inspect(o: Options, threads: Pool): Promise<number> {
  const report = new Report(o.json);
  const results = await Promise.all(
    o.files.map(async (file, i) => {
      const r = await threads.run<Inspected>('inspect', { file, checks: o.checks, purpose: o.purpose });
      report.tell(i, () => (r.ok ? claimsText(file, r.claims, r.findings, r.ledger) : failureText(file, r)));
      return r;
    }),
  );
  const files = results.map((r, i) =>
    r.ok
      ? { file: o.files[i], ok: true, claims: r.claims, findings: r.findings, ledger: r.ledger }
      : { file: o.files[i], ok: false, error: errorOf(r) },
  );
  report.all({ command: 'inspect', files });
  return worst(results.map((r) => (r.ok ? 0 : CODES[r.kind])));
}

async function convert(o: Options, threads: Pool): Promise<number> {
  // What reads recipes is only loaded where there is one.
  const recipe = o.recipe ? (await import('./recipe-file.js')).readRecipe(o.recipe) : null;
  const plans = planConversions(o, recipe);
  const report = new Report(o.json);
  const results = await Promise.all(
    plans.map(async ({ out, ...plan }: Planned, i) => {
      const job: ConvertJob = plan;
      const made = await threads.run<Converted>('convert', job);
      const r = made.ok ? (writeWith(out, made.bytes, made) ?? made) : made;
      report.tell(i, () =>
        r.ok
          ? [
              `${shown(plan.file)} → ${shown(out)}`,
              ...notesText(r.notes),
              'Ledger',
              ledgerText(r.ledger),
              'Proof',
              proofText(r.proof),
            ].join('\n')
          : failureText(plan.file, r),
      );
      return { plan, out, r };
    }),
  );
  const files = results.map(({ plan, out, r }) =>
    r.ok
      ? { file: plan.file, ok: true, written: out, notes: r.notes, ledger: r.ledger, proof: r.proof }
      : { file: plan.file, ok: false, error: errorOf(r) },
  );
  report.all({ command: 'convert', files });
  return worst(results.map(({ r }) => (r.ok ? (r.proof.holds ? 0 : 4) : CODES[r.kind])));
}

async function parts(o: Options, threads: Pool): Promise<number> {
  const recipe = o.recipe ? (await import('./recipe-file.js')).readRecipe(o.recipe) : null;
  const intake = decisionsOf(o, recipe);
  const report = new Report(o.json || o.csv);
  const results = await Promise.all(
    o.files.map(async (file, i) => {
      const job: PartsJob = { file, intake, steps: [...(recipe?.steps ?? [])], rules: recipe?.parts ?? {} };
      const r = await threads.run<Listed>('parts', job);
      report.tell(i, () => (r.ok ? partsText(file, r) : failureText(file, r)));
      return r;
    }),
  );
  if (o.csv) {
    const listed = results.flatMap((r, i) => (r.ok ? [{ name: o.files[i]!, rows: r.rows, unit: r.unit }] : []));
    if (new Set(listed.map((l) => l.unit)).size > 1)
      throw new WrongUsage('the drawings are in different units: list them one by one, or use --json');
    process.stdout.write(partsCsv(listed, listed[0]?.unit ?? 'units'));
    for (const [i, r] of results.entries()) if (!r.ok) console.error(failureText(o.files[i]!, r));
  } else
    report.all({
      command: 'parts',
      files: results.map((r, i) =>
        r.ok ? { file: o.files[i], ...r } : { file: o.files[i], ok: false, error: errorOf(r) },
      ),
    });
  return worst(results.map((r) => (r.ok ? (r.twice.length > 0 ? 4 : 0) : CODES[r.kind])));
}

async function prove(o: Options, threads: Pool): Promise<number> {
  const [a, b] = o.files as [string, string];
  const r = await threads.run<Compared>('compare', { a, b });
  if (o.json)
    console.log(
      JSON.stringify(
        r.ok
          ? { command: 'prove', ok: true, a, b, proof: r.proof }
          : { command: 'prove', ok: false, a, b, error: errorOf(r) },
        null,
        2,
      ),
    );
  else console.log(r.ok ? `${shown(a)} and ${shown(b)}\n${proofText(r.proof)}` : failureText(`${a}, ${b}`, r));
  return r.ok ? (r.proof.holds ? 0 : 4) : CODES[r.kind];
}

// What writes and reads sets is only loaded where one is asked for.
const deliver = async (o: Options, threads: Pool): Promise<number> =>
  (await import('./deliver.js')).deliver(o, threads);
const verify = async (o: Options): Promise<number> => (await import('./verify.js')).verify(o);

async function main(): Promise<number> {
  const o = readArguments(process.argv.slice(2));
  if (!o) {
    console.log(USAGE);
    return 0;
  }
  const threads = new Pool(o.files.length, { seconds: o.timeLimit, megabytes: o.memoryLimit });
  try {
    return await { inspect, convert, deliver, parts, prove, verify }[o.command](o, threads);
  } finally {
    await threads.close();
  }
}

try {
  process.exitCode = await main();
} catch (e) {
  if (e instanceof WrongUsage) {
    console.error(`scalaria: ${shown(e.message)}\n\nscalaria --help tells how it is used.`);
    process.exitCode = 2;
  } else {
    console.error(`scalaria: this program made a mistake: ${e instanceof Error ? e.message : String(e)}`);
    process.exitCode = 6;
  }
}
