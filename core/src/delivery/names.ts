import { legalName } from './base-name.js';

/** What a name can be made of beside fixed words and a running number. */
export const NAME_FIELDS = {
  job: 'Job',
  drawing: 'Drawing',
  revision: 'Revision',
  receiver: 'Receiver',
  sheet: 'Sheet, i of n',
  layer: 'Layer',
  group: 'Group',
  paper: 'Name of the sheet',
  part: 'Part',
  number: 'Part number',
  kind: 'Kind',
  material: 'Material',
  thickness: 'Thickness',
  unit: 'Unit',
  date: 'Date',
} as const;
export type NameField = keyof typeof NAME_FIELDS;
/** What is known of a file; what is missing or empty says nothing. */
export type NameValues = Readonly<Partial<Record<NameField, string>>>;

/** A piece of a name, one after the other. */
export type NamePiece =
  | { readonly what: 'text'; readonly text: string }
  | {
      readonly what: 'field';
      readonly field: NameField;
      readonly letters: 'asIs' | 'capitals' | 'small';
      readonly spaces: 'asIs' | 'underscores' | 'hyphens' | 'none';
    }
  /** A running number of a series, which goes on where the last set ended. */
  | { readonly what: 'number'; readonly series: string; readonly digits: number; readonly first: number };

export const textPiece = (text: string): NamePiece => ({ what: 'text', text });
export const fieldPiece = (field: NameField): NamePiece => ({ what: 'field', field, letters: 'asIs', spaces: 'asIs' });

/** The next number of each series. */
export type Series = Readonly<Record<string, number>>;

/** The name of one file of a set, without its ending, and what had to be changed of it. */
export interface PlannedName {
  readonly name: string;
  /** As it was made of its pieces, where that is another name. */
  readonly asked: string | null;
  /** It is the same as that of another file of the set where small and capital letters are one. */
  readonly clashes: boolean;
  /** The running numbers that it took, by series. */
  readonly numbers: Readonly<Record<string, number>>;
}

const SPACES = { asIs: ' ', underscores: '_', hyphens: '-', none: '' } as const;

/** A name by its pieces. A field that says nothing takes the fixed words before it along. */
export function nameOf(
  pieces: readonly NamePiece[],
  values: NameValues,
  numberOf: (piece: Extract<NamePiece, { what: 'number' }>) => number,
): string {
  const out: { text: string; fixed: boolean }[] = [];
  for (const piece of pieces) {
    if (piece.what === 'text') out.push({ text: piece.text, fixed: true });
    else if (piece.what === 'number')
      out.push({ text: String(numberOf(piece)).padStart(piece.digits, '0'), fixed: false });
    else {
      const value = values[piece.field]?.trim() ?? '';
      if (value === '') {
        if (out[out.length - 1]?.fixed) out.pop();
        continue;
      }
      const spaced = value.replace(/\s+/g, SPACES[piece.spaces]);
      const text =
        piece.letters === 'capitals' ? spaced.toUpperCase() : piece.letters === 'small' ? spaced.toLowerCase() : spaced;
      out.push({ text, fixed: false });
    }
  }
  return out.map((o) => o.text).join('');
}

/** Where two names are one on some disk. */
const onDisk = (name: string): string => name.normalize('NFC').toLowerCase();

/**
 * The names of the files of a set, in their order: made legal everywhere, and where two would be one the later gets `-2` and so on.
 * Running numbers go on from `series`, each used once; those that come next are answered too. `taken`: names that are there already.
 */
export function plannedNames(
  pieces: readonly NamePiece[],
  files: readonly NameValues[],
  series: Series = {},
  taken: Iterable<string> = [],
): { names: PlannedName[]; series: Series } {
  const next = new Map(Object.entries(series));
  const used = new Set([...taken].map(onDisk));
  const names = files.map((values): PlannedName => {
    const numbers: Record<string, number> = {};
    const raw = nameOf(pieces, values, (piece) => {
      // A series that stands in a name twice is one number.
      if (numbers[piece.series] === undefined) {
        numbers[piece.series] = next.get(piece.series) ?? piece.first;
        next.set(piece.series, numbers[piece.series]! + 1);
      }
      return numbers[piece.series]!;
    });
    const legal = legalName(raw);
    let name = legal;
    for (let n = 2; used.has(onDisk(name)); n++) {
      const end = `-${n}`;
      name = `${legal.slice(0, 120 - end.length)}${end}`;
    }
    used.add(onDisk(name));
    return { name, asked: name === raw ? null : raw, clashes: name !== legal, numbers };
  });
  return { names, series: Object.fromEntries(next) };
}
