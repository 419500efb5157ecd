import { renameSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Options } from './arguments.js';
import { USAGE, WrongUsage, readArguments } from './arguments.js';
import { planConversions } from './plan.js';
import { claimsText, failureText, ledgerText, proofText } from './report.js';
import type { Compared, ConvertJob, Converted, Failure, Inspected } from './worker.js';

const pool = (n: number): Piscina =>
  new Piscina({
    filename: fileURLToPath(new URL('./worker.js', import.meta.url)),
    minThreads: 1,
    maxThreads: Math.max(1, Math.min(n, availableParallelism())),
  });

const say = (o: Options, data: unknown, text: () => string): void =>
  console.log(o.json ? JSON.stringify(data, null, 2) : text());

const codeOf = (f: Failure): number => (f.kind === 'usage' ? 2 : 3);
const errorOf = (f: Failure): { message: string; where?: string; remedy?: string } => ({
  message: f.message,
  ...(f.where && { where: f.where }),
  ...(f.remedy && { remedy: f.remedy }),
});
/** Unreadable files weigh most, then wrong usage, then proofs. */
const worst = (codes: number[]): number => [3, 2, 4].find((c) => codes.includes(c)) ?? 0;

async function inspect(o: Options, threads: Piscina): Promise<number> {
  const results = await Promise.all(
    o.files.map((file) => threads.run({ file }, { name: 'inspect' }) as Promise<Inspected>),
  );
  const files = results.map((r, i) =>
    r.ok
      ? { file: o.files[i], ok: true, claims: r.claims, findings: r.findings, ledger: r.ledger }
      : { file: o.files[i], ok: false, error: errorOf(r) },
  );
  say(o, { command: 'inspect', files }, () =>
    results
      .map((r, i) => (r.ok ? claimsText(o.files[i]!, r.claims, r.findings) : failureText(o.files[i]!, r)))
      .join('\n\n'),
  );
  return worst(results.map((r) => (r.ok ? 0 : codeOf(r))));
}

async function convert(o: Options, threads: Piscina): Promise<number> {
  const plans = planConversions(o);
  const results = await Promise.all(
    plans.map(async ({ out, ...plan }) => {
      const job: ConvertJob = plan;
      const r = (await threads.run(job, { name: 'convert' })) as Converted;
      if (r.ok) {
        const temporary = `${out}.${process.pid}.part`;
        writeFileSync(temporary, r.bytes);
        renameSync(temporary, out);
      }
      return { plan, out, r };
    }),
  );
  const files = results.map(({ plan, out, r }) =>
    r.ok
      ? { file: plan.file, ok: true, written: out, ledger: r.ledger, proof: r.proof }
      : { file: plan.file, ok: false, error: errorOf(r) },
  );
  say(o, { command: 'convert', files }, () =>
    results
      .map(({ plan, out, r }) =>
        r.ok
          ? `${plan.file} → ${out}\nLedger\n${ledgerText(r.ledger)}\nProof\n${proofText(r.proof)}`
          : failureText(plan.file, r),
      )
      .join('\n\n'),
  );
  return worst(results.map(({ r }) => (r.ok ? (r.proof.holds ? 0 : 4) : codeOf(r))));
}

async function prove(o: Options, threads: Piscina): Promise<number> {
  const [a, b] = o.files as [string, string];
  const r = (await threads.run({ a, b }, { name: 'compare' })) as Compared;
  const data = r.ok
    ? { command: 'prove', ok: true, a, b, proof: r.proof }
    : { command: 'prove', ok: false, a, b, error: errorOf(r) };
  say(o, data, () => (r.ok ? `${a} and ${b}\n${proofText(r.proof)}` : failureText(`${a}, ${b}`, r)));
  return r.ok ? (r.proof.holds ? 0 : 4) : codeOf(r);
}

async function main(): Promise<number> {
  const o = readArguments(process.argv.slice(2));
  if (!o) {
    console.log(USAGE);
    return 0;
  }
  const threads = pool(o.files.length);
  try {
    return await { inspect, convert, prove }[o.command](o, threads);
  } finally {
    await threads.destroy();
  }
}

try {
  process.exitCode = await main();
} catch (e) {
  if (e instanceof WrongUsage) {
    console.error(`scalaria: ${e.message}\n\nscalaria --help tells how it is used.`);
    process.exitCode = 2;
  } else throw e;
}
