import type { CsvForm } from '../drawing/csv.js';
import { csvOf } from '../drawing/csv.js';
import type { LedgerRow } from '../drawing/ledger.js';
import type { FileFacts } from './file-facts.js';

/** A file as its bytes are known by. */
export interface Digest {
  readonly name: string;
  /** SHA-256 in hexadecimal. */
  readonly sha256: string;
}

/** A file of a set, with what it was made from and what is in it. */
export interface ManifestFile extends Digest, FileFacts {
  readonly bytes: number;
  readonly format: string;
  readonly version: string;
  readonly source: Digest & { readonly revision?: number };
  /** The layer, group, part or stock that it holds; `null` for a whole drawing. */
  readonly piece?: string | null;
  readonly material?: string;
  readonly thickness?: string;
  /** Objects of the prepared drawing in it, before it was made ready for its format. */
  readonly prepared?: number;
  /** How many of its yardsticks hold, fail and found no partner. */
  readonly yardsticks?: { readonly holds: number; readonly fails: number; readonly undecided: number };
  /** Its bytes are those of the set before. */
  readonly unchanged?: boolean;
  /** A picture of the same name beside it. */
  readonly picture?: Digest | null;
  /** Small files that say what it cannot, such as the place of a picture, and pictures that it names. */
  readonly beside?: readonly Digest[];
  /** Of what lies beside it, that which it names in itself: called otherwise it would not be found. */
  readonly names?: readonly string[];
  /** Numbers of the parts in it, where parts were asked for. */
  readonly parts: readonly string[] | null;
  readonly proof: 'holds' | 'holds with exceptions' | 'does not hold';
  /** Rows of its ledger by what became of things. */
  readonly ledger: Readonly<Record<LedgerRow['action'], number>>;
  /** The name that was asked for, where it could not be had. */
  readonly asked: string | null;
}

/** What did not become a file, and why. */
export interface NotWritten {
  readonly source: string;
  readonly why: string;
}

/** What a set holds, so that whoever gets it can count it again. It holds no time: the same drawings make the same manifest. */
export interface Manifest {
  readonly manifest: 1;
  readonly recipe: { readonly title: string; readonly sha256: string } | null;
  readonly files: readonly ManifestFile[];
  readonly failed: readonly NotWritten[];
  readonly leftOut: readonly NotWritten[];
  /** Files that were to be written: as many as files and failures. */
  readonly expected: number;
  /** Running numbers that were given and stand on no file; they are not given again. */
  readonly void?: readonly { readonly series: string; readonly number: number }[];
  /** Objects of all prepared drawings, those in files and those in none; absent where files are by parts. */
  readonly objects?: { readonly prepared: number; readonly written: number; readonly leftOut: number };
  /** Parts of the lists, those in files and those left out. */
  readonly parts?: { readonly listed: number; readonly inFiles: number; readonly leftOut: number };
}

/** How often each became of something. */
export function actionsOf(rows: readonly LedgerRow[]): ManifestFile['ledger'] {
  const out = { kept: 0, changed: 0, approximated: 0, dropped: 0 };
  for (const r of rows) out[r.action]++;
  return out;
}

/** A manifest as text: its fields in one order, files by name, so that the same set makes the same bytes. */
export function manifestJson(m: Manifest): string {
  const files = [...m.files].sort(byName);
  return `${JSON.stringify({ ...m, files }, null, 2)}\n`;
}

const byName = (a: Digest, b: Digest): number => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);
const digits = (v: number): number => Number(v.toPrecision(9));

const HEAD = [
  ...['file', 'bytes', 'sha256', 'format', 'version', 'unit', 'width', 'height', 'x', 'y'],
  ...['layers', 'objects', 'outlines', 'holes', 'texts', 'cut length', 'source', 'source sha256', 'parts', 'proof'],
  ...['kept', 'changed', 'approximated', 'dropped', 'note', 'piece', 'material', 'thickness', 'revision'],
  ...['yardsticks that hold', 'that fail', 'undecided', 'picture'],
];

/** The same as a table, in the form asked for: a line for each file, and after them what did not become one. */
export function manifestCsv(m: Manifest, form?: CsvForm): string {
  const blank = (n: number): string[] => Array<string>(n).fill('');
  const lines = [
    HEAD,
    ...[...m.files]
      .sort(byName)
      .map((f) => [
        ...[f.name, f.bytes, f.sha256, f.format, f.version, f.unit],
        ...[f.width, f.height, f.x, f.y].map(digits),
        f.layers.map((l) => `${l.name}: ${l.objects}`).join(' / '),
        f.layers.reduce((n, l) => n + l.objects, 0),
        ...[f.outlines, f.holes, f.texts, digits(f.cutLength), f.source.name, f.source.sha256],
        f.parts?.join(' / ') ?? '',
        f.proof,
        ...[f.ledger.kept, f.ledger.changed, f.ledger.approximated, f.ledger.dropped],
        [f.asked === null ? '' : `asked for as ${f.asked}`, f.unchanged ? 'unchanged' : ''].filter(Boolean).join('; '),
        ...[f.piece ?? '', f.material ?? '', f.thickness ?? '', f.source.revision ?? ''],
        ...(f.yardsticks ? [f.yardsticks.holds, f.yardsticks.fails, f.yardsticks.undecided] : blank(3)),
        f.picture?.name ?? '',
      ]),
    ...[...m.failed.map((x) => ['failed', x] as const), ...m.leftOut.map((x) => ['left out', x] as const)].map(
      ([state, { source, why }]) => [...blank(16), source, ...blank(2), state, ...blank(4), why, ...blank(8)],
    ),
  ];
  return csvOf(lines, form);
}

/** What differs between a set and what its manifest says. */
export interface Verification {
  readonly missing: readonly string[];
  readonly changed: readonly string[];
  readonly extra: readonly string[];
  /** Figures of the manifest that do not add up, in words. */
  readonly sums: readonly string[];
}

/** Names of the files that a manifest is itself, and the report beside it. */
export const MANIFEST_FILES = ['manifest.json', 'manifest.csv', 'report.html'] as const;

/** A file of a manifest, and what lies beside it. */
export const filesWith = (f: ManifestFile): Digest[] => [f, ...(f.picture ? [f.picture] : []), ...(f.beside ?? [])];

/** Holds what is there against a manifest. Its own files are not counted. */
export function verify(m: Manifest, present: readonly Digest[]): Verification {
  const there = new Map(present.map((p) => [p.name, p.sha256]));
  const told = m.files.flatMap(filesWith);
  const known = new Set<string>([...told.map((f) => f.name), ...MANIFEST_FILES]);
  return {
    missing: told.filter((f) => !there.has(f.name)).map((f) => f.name),
    changed: told.filter((f) => there.has(f.name) && there.get(f.name) !== f.sha256).map((f) => f.name),
    extra: present.filter((p) => !known.has(p.name)).map((p) => p.name),
    sums: sumFaults(m),
  };
}

/** Figures of a manifest that do not add up, in words. */
export function sumFaults(m: Manifest): string[] {
  const out: string[] = [];
  const sum = m.files.length + m.failed.length;
  if (sum !== m.expected) out.push(`${m.expected} files were expected, but ${sum} are told of: written and failed`);
  const { objects: o, parts: p } = m;
  if (o && o.prepared !== o.written + o.leftOut)
    out.push(`${o.prepared} objects were prepared, but ${o.written} are written and ${o.leftOut} left out`);
  if (p && p.listed !== p.inFiles + p.leftOut)
    out.push(`${p.listed} parts are listed, but ${p.inFiles} are in files and ${p.leftOut} left out`);
  const inFiles = m.files.every((f) => f.prepared !== undefined) ? m.files.reduce((n, f) => n + f.prepared!, 0) : null;
  if (o && inFiles !== null && inFiles !== o.written)
    out.push(`the files hold ${inFiles} of the prepared objects, but ${o.written} are said to be written`);
  return out;
}
