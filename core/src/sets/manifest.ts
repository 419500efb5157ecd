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
  readonly source: Digest;
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
  /** Sources that were asked for: as many as files, failures and what was left out. */
  readonly expected: number;
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
  ...['kept', 'changed', 'approximated', 'dropped', 'note'],
];

/** The same as a table: a line for each file, and after them what did not become one. */
export function manifestCsv(m: Manifest): string {
  const blank = (n: number): string[] => Array<string>(n).fill('');
  return csvOf([
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
        f.asked === null ? '' : `asked for as ${f.asked}`,
      ]),
    ...[...m.failed.map((x) => ['failed', x] as const), ...m.leftOut.map((x) => ['left out', x] as const)].map(
      ([state, { source, why }]) => [...blank(16), source, ...blank(2), state, ...blank(4), why],
    ),
  ]);
}

/** What differs between a set and what its manifest says. */
export interface Verification {
  readonly missing: readonly string[];
  readonly changed: readonly string[];
  readonly extra: readonly string[];
  /** Figures of the manifest that do not add up, in words. */
  readonly sums: readonly string[];
}

/** Names of the files that a manifest is itself. */
export const MANIFEST_FILES = ['manifest.json', 'manifest.csv'] as const;

/** Holds what is there against a manifest. Its own files are not counted. */
export function verify(m: Manifest, present: readonly Digest[]): Verification {
  const there = new Map(present.map((p) => [p.name, p.sha256]));
  const known = new Set<string>([...m.files.map((f) => f.name), ...MANIFEST_FILES]);
  const sum = m.files.length + m.failed.length + m.leftOut.length;
  return {
    missing: m.files.filter((f) => !there.has(f.name)).map((f) => f.name),
    changed: m.files.filter((f) => there.has(f.name) && there.get(f.name) !== f.sha256).map((f) => f.name),
    extra: present.filter((p) => !known.has(p.name)).map((p) => p.name),
    sums:
      sum === m.expected
        ? []
        : [`${m.expected} files were expected, but ${sum} are told of: written, failed and left out`],
  };
}
