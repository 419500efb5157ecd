import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readFileSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import type { Digest, Manifest, ManifestFile, PlannedFile, ReportFile, SetPlan } from '@scalaria/core';
import {
  FORMAT_CATALOGUE,
  MANIFEST_FILES,
  manifestSchema,
  provenFacts,
  PLACE_ENDINGS,
  besideName,
  filesWith,
} from '@scalaria/core';
import type { Options } from './arguments.js';
import type { ConvertJob, Converted, Failure } from './worker.js';
import { writeFile, writeWith } from './write-file.js';
import { WrongUsage } from './wrong-usage.js';

export const digestOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

async function digestOfFile(path: string): Promise<string> {
  const sum = createHash('sha256');
  for await (const piece of createReadStream(path)) sum.update(piece as Buffer);
  return sum.digest('hex');
}

/** All that lies in a folder, what lies in folders of it by their way there. */
export async function filesIn(folder: string, way = ''): Promise<Digest[]> {
  const out: Digest[] = [];
  for (const name of readdirSync(join(folder, way)).sort()) {
    const path = way === '' ? name : `${way}/${name}`;
    if (statSync(join(folder, path)).isDirectory()) out.push(...(await filesIn(folder, path)));
    else out.push({ name: path, sha256: await digestOfFile(join(folder, path)) });
  }
  return out;
}

/** Why a file of a set is left out where another has its name. */
export const LEFT = 'another file of that name is there, and was left as it is';

/** What became of one file of a set. */
export type Became =
  | { state: 'written' | 'unchanged'; source: string; file: ManifestFile; report: ReportFile }
  /** Another file has its name, and stays as it is. */
  | { state: 'left'; source: string; name: string }
  | { state: 'failed'; source: string; failure: Failure };

/** The folder of a set, and what is done where another file has a name in it. */
export class Folder {
  private constructor(
    private readonly path: string,
    private readonly there: ReadonlyMap<string, string>,
    private readonly ending: string,
    private readonly taken: NonNullable<Options['taken']>,
    private readonly used: Set<string>,
    /** What pictures of its files are called, in small letters. */
    private readonly pictures: ReadonlySet<string>,
  ) {}

  /** Pictures that files of the set name, by what they are called. */
  private readonly named = new Map<string, string>();

  /** Throws `WrongUsage` where something else lies in it. */
  static async open(path: string, plan: SetPlan, ending: string, o: Options): Promise<Folder> {
    const present = existsSync(path) ? await filesIn(path) : [];
    const names = plan.files.flatMap((f) => [ending, 'png', ...PLACE_ENDINGS].map((e) => `${f.name}.${e}`));
    const own = new Set<string>([...names, ...MANIFEST_FILES, ...namesBefore(path)]);
    const foreign = present.filter((p) => !own.has(p.name)).map((p) => p.name);
    if (foreign.length > 0)
      throw new WrongUsage(
        `${path} holds something else: ${foreign.slice(0, 5).join(', ')}${foreign.length > 5 ? ` and ${foreign.length - 5} more` : ''}; a set has a folder of its own`,
      );
    mkdirSync(path, { recursive: true });
    const there = new Map(present.map((p) => [p.name, p.sha256]));
    return new Folder(
      path,
      there,
      ending,
      o.taken ?? (o.overwrite ? 'replace' : 'stop'),
      new Set([...names, ...there.keys()]),
      new Set(plan.files.map((f) => `${f.name}.png`.toLowerCase())),
    );
  }

  /** Puts a file in its place, unless it is there already. */
  keep(source: string, planned: PlannedFile, made: Converted & { ok: true }, job: ConvertJob): Became {
    const sha256 = digestOf(made.bytes);
    let name = `${planned.name}.${this.ending}`;
    const lies = this.there.get(name);
    const clashes = lies !== undefined && lies !== sha256;
    if (clashes && this.taken === 'stop')
      return {
        state: 'failed',
        source,
        failure: {
          ...{ ok: false, kind: 'usage', message: `${name} is there already and holds something else` },
          remedy: 'Say --taken number, replace or leave, or choose another folder.',
        },
      };
    if (clashes && this.taken === 'leave') return { state: 'left', source, name };
    if (clashes && this.taken === 'number' && (job.named !== undefined || made.along.length > 0))
      return {
        state: 'failed',
        source,
        failure: {
          ...{
            ok: false,
            kind: 'usage',
            message: `${name} is there already, and it goes with the pictures that it names`,
          },
          remedy: 'Say --taken replace or leave, or choose another folder.',
        },
      };
    if (clashes && this.taken === 'number') name = this.freeName(planned.name);
    const picture = made.picture && { name: name.replace(/\.[^.]+$/, '.png'), sha256: digestOf(made.picture) };
    const text = new TextEncoder();
    const beside = made.beside.map((b) => ({ name: besideName(name, b.ending), bytes: text.encode(b.text) }));
    const told = made.told!;
    const along = made.along.map((p) => ({ name: p.name, sha256: digestOf(p.bytes) }));
    const foreign = along.find((p) => this.isForeign(p, job.pixels !== undefined));
    if (foreign)
      return {
        state: 'failed',
        source,
        failure: {
          ...{ ok: false, kind: 'usage' },
          message: `it names the picture ${foreign.name}, and another one of that name is in the set`,
          remedy: 'Give one of both pictures another name.',
        },
      };
    for (const p of along) this.named.set(p.name.toLowerCase(), p.sha256);
    const companions = [...beside.map((b) => ({ name: b.name, sha256: digestOf(b.bytes) })), ...along];
    const names = [...along.map((p) => p.name), ...(picture && job.named !== undefined ? [picture.name] : [])];
    const file: ManifestFile = {
      ...{ name, sha256, bytes: made.bytes.length },
      ...{ format: job.target.format, version: told.version },
      ...provenFacts(told.record, made.proof, made.ledger),
      source: { name: source.replace(/: .*$/, ''), sha256: told.source },
      ...{ parts: planned.parts ?? job.target.parts ?? null, piece: planned.piece, prepared: told.prepared },
      ...{ material: planned.values.material ?? '', thickness: planned.values.thickness ?? '' },
      ...{ asked: planned.asked, picture: picture || null },
      ...(companions.length > 0 && { beside: companions }),
      ...(names.length > 0 && { names }),
    };
    const report: ReportFile = {
      ...{ name, bytes: file.bytes, sha256, proof: made.proof, ledger: made.ledger, record: told.record },
      format: `${FORMAT_CATALOGUE[job.target.format].title} ${told.version}`,
      source: { name: file.source.name, revision: null, sha256: told.source },
    };
    if (filesWith(file).every((f) => this.there.get(f.name) === f.sha256))
      return { state: 'unchanged', source, file, report };
    const failure =
      writeWith(join(this.path, name), made.bytes, made, this.taken === 'replace') ??
      (picture ? writeFile(join(this.path, picture.name), made.picture!) : null);
    return failure ? { state: 'failed', source, failure } : { state: 'written', source, file, report };
  }

  /** Whether a picture has the name of another that a file of the set names, or that the set makes of a file. */
  private isForeign({ name, sha256 }: Digest, makesPictures: boolean): boolean {
    const key = name.toLowerCase();
    return (makesPictures && this.pictures.has(key)) || (this.named.get(key) ?? sha256) !== sha256;
  }

  private freeName(base: string): string {
    for (let n = 2; ; n++) {
      const name = `${base}-${n}.${this.ending}`;
      if (this.used.has(name)) continue;
      this.used.add(name);
      return name;
    }
  }
}

/** The files that the manifest in a folder tells of: they belong to the set, whatever they are called now. */
function namesBefore(path: string): string[] {
  try {
    return readManifest(path).files.flatMap((f) => filesWith(f).map((g) => g.name));
  } catch {
    return [];
  }
}

/** The manifest that lies in a folder. Throws `WrongUsage` where there is none. */
export function readManifest(folder: string): Manifest {
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
