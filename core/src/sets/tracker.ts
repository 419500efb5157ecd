import { cellsOf, csvOf } from '../drawing/csv.js';
import { UserError } from '../errors.js';

/** The states that a job begins with; each job may have its own list. */
export const FIRST_STATES: readonly string[] = ['to draw', 'ready', 'sent', 'in work', 'done', 'returned', 'void'];
/** The longest list of states. */
export const MOST_STATES = 20;

/** What people keep about a file, or about one that is only planned. */
export interface TrackerFields {
  readonly number: string;
  readonly file: string;
  /** What is in it: numbers of parts, a layer. */
  readonly holds: string;
  readonly receiver: string;
  readonly material: string;
  /** As it is ordered, and as it is measured. */
  readonly thickness: string;
  readonly thicknessTrue: string;
  readonly boards: number;
  /** What one board costs, in hundredths of the job's money. */
  readonly priceCents: number;
  readonly state: string;
  readonly who: string;
  /** `YYYY-MM-DD`, or empty. */
  readonly when: string;
  readonly note: string;
}

/** A row as it is shown: what is kept, and what follows from its file. */
export interface TrackerRow extends TrackerFields {
  readonly id: string;
  /** The revision of its file, and the newest one; `null` for what is only planned. */
  readonly revision: number | null;
  readonly newest: number | null;
  /** Numbers of the parts in it, where they are known. */
  readonly parts: readonly string[];
}

/** Whether a newer revision exists than the one that a file was made from. */
export const isStale = (r: Pick<TrackerRow, 'revision' | 'newest'>): boolean =>
  r.revision !== null && r.newest !== null && r.revision < r.newest;

/** What the boards of a row cost, in hundredths. */
export const costOf = (r: Pick<TrackerFields, 'boards' | 'priceCents'>): number => r.boards * r.priceCents;

/** Hundredths as people write them: `299.70`. */
export const moneyText = (cents: number): string => (cents / 100).toFixed(2);

/** What people write as hundredths; `null` where it is no amount. */
export function moneyFrom(text: string): number | null {
  const found = /^\s*(\d{1,9})(?:[.,](\d{1,2}))?\s*$/.exec(text);
  return found ? Number(found[1]) * 100 + Number((found[2] ?? '').padEnd(2, '0') || 0) : null;
}

/** Files, boards and cost of rows, by what is asked for. Rows that are void cost nothing any more. */
export interface TrackerSum {
  readonly name: string;
  readonly files: number;
  readonly boards: number;
  readonly cents: number;
}

/** Sums of rows by a field, in the order of `names` where it is given, else the largest first; the last is of all. */
export function trackerSums(
  rows: readonly TrackerFields[],
  by: 'state' | 'receiver' | 'material',
  names: readonly string[] = [],
): { groups: TrackerSum[]; all: TrackerSum } {
  const sum = (name: string, list: readonly TrackerFields[]): TrackerSum => ({
    ...{ name, files: list.length },
    boards: list.reduce((n, r) => n + r.boards, 0),
    cents: list.reduce((n, r) => n + costOf(r), 0),
  });
  const groups = new Map<string, TrackerFields[]>(names.map((n) => [n, []]));
  for (const r of rows) {
    const known = groups.get(r[by]);
    if (known) known.push(r);
    else groups.set(r[by], [r]);
  }
  const made = [...groups].map(([name, list]) => sum(name, list)).filter((g) => g.files > 0);
  if (names.length === 0) made.sort((a, b) => b.files - a.files || (a.name < b.name ? -1 : 1));
  return { groups: made, all: sum('', rows) };
}

/** How many parts of a job are in rows of which state, in none, and in several. */
export interface TrackerCoverage {
  readonly parts: number;
  readonly byState: readonly { readonly state: string; readonly parts: number }[];
  /** In no row at all. */
  readonly missing: readonly string[];
  /** In several rows that are not void. */
  readonly twice: readonly string[];
}

const isVoid = (state: string): boolean => state.trim().toLowerCase() === 'void';

/** Which parts of the lists are in which rows; each part counts once, by the first row that is not void. */
export function trackerCoverage(
  parts: readonly string[],
  rows: readonly Pick<TrackerRow, 'parts' | 'state'>[],
  states: readonly string[],
): TrackerCoverage {
  const key = (n: string): string => n.trim().toLowerCase();
  const holding = new Map<string, string[]>();
  for (const row of rows)
    if (!isVoid(row.state))
      for (const n of new Set(row.parts.map(key))) holding.set(n, [...(holding.get(n) ?? []), row.state]);
  const counts = new Map(states.map((s) => [s, 0]));
  const [missing, twice]: [string[], string[]] = [[], []];
  for (const part of parts) {
    const found = holding.get(key(part)) ?? [];
    if (found.length === 0) missing.push(part);
    else counts.set(found[0]!, (counts.get(found[0]!) ?? 0) + 1);
    if (found.length > 1) twice.push(part);
  }
  const byState = [...counts].flatMap(([state, n]) => (n > 0 ? [{ state, parts: n }] : []));
  return { parts: parts.length, byState, missing, twice };
}

/** The columns of the tracker as a table, as they are written and read again. */
const COLUMNS = {
  id: 'id',
  number: 'number',
  file: 'file',
  holds: 'holds',
  receiver: 'receiver',
  revision: 'revision',
  material: 'material',
  thickness: 'thickness',
  thicknessTrue: 'true thickness',
  boards: 'boards',
  priceCents: 'price of a board',
  cost: 'cost',
  state: 'state',
  who: 'who',
  when: 'when',
  note: 'note',
} as const;

/** The tracker as comma-separated values; a row comes back to its own place by its id. */
export const trackerCsv = (rows: readonly TrackerRow[]): string =>
  csvOf([
    Object.values(COLUMNS),
    ...rows.map((r) => [
      ...[r.id, r.number, r.file, r.holds, r.receiver, r.revision ?? '', r.material, r.thickness, r.thicknessTrue],
      ...[r.boards, moneyText(r.priceCents), moneyText(costOf(r)), r.state, r.who, r.when, r.note],
    ]),
  ]);

/** What a table that came back would change, and lines of it that cannot be taken, by their numbers. */
export interface TrackerTaken {
  readonly changes: readonly { readonly id: string; readonly fields: Partial<TrackerFields> }[];
  /** Rows without an id: what is planned anew. */
  readonly added: readonly Partial<TrackerFields>[];
  readonly refused: readonly { readonly line: number; readonly why: string }[];
}

const TEXTS = ['number', 'file', 'holds', 'receiver', 'material', 'thickness', 'thicknessTrue', 'who', 'note'] as const;
const LONGEST = 500;

/** Reads a table back. Throws `UserError` where it is none; lines that cannot be taken are told and take nothing with them. */
export function trackerFrom(text: string, rows: readonly TrackerRow[], states: readonly string[]): TrackerTaken {
  const [head, ...lines] = cellsOf(text);
  const at = new Map((head ?? []).map((h, i) => [h.trim().toLowerCase(), i]));
  if (!at.has('id') && !at.has('file'))
    throw new UserError(
      'wrong-parameter',
      'its first line names neither “id” nor “file”: save the tracker as CSV and change that',
    );
  const byId = new Map(rows.map((r) => [r.id, r]));
  const known = new Map(states.map((s) => [s.toLowerCase(), s]));
  const out = {
    changes: [] as TrackerTaken['changes'][number][],
    added: [] as Partial<TrackerFields>[],
    refused: [] as TrackerTaken['refused'][number][],
  };
  lines.forEach((cells, i) => {
    const cell = (name: keyof typeof COLUMNS): string | undefined => {
      const where = at.get(COLUMNS[name]);
      return where === undefined ? undefined : (cells[where] ?? '').trim();
    };
    const refuse = (why: string): void => void out.refused.push({ line: i + 2, why });
    const fields: Record<string, string | number> = {};
    for (const name of TEXTS) {
      const value = cell(name);
      if (value !== undefined) fields[name] = value.slice(0, LONGEST);
    }
    const boards = cell('boards');
    if (boards !== undefined && boards !== '') {
      if (!/^\d{1,6}$/.test(boards)) return refuse(`“${boards}” is no number of boards`);
      fields['boards'] = Number(boards);
    }
    const price = cell('priceCents');
    if (price !== undefined && price !== '') {
      const cents = moneyFrom(price);
      if (cents === null) return refuse(`“${price}” is no price`);
      fields['priceCents'] = cents;
    }
    const state = cell('state');
    if (state !== undefined && state !== '') {
      const own = known.get(state.toLowerCase());
      if (own === undefined) return refuse(`“${state}” is no state of this job`);
      fields['state'] = own;
    }
    const when = cell('when');
    if (when !== undefined) {
      if (when !== '' && !/^\d{4}-\d{2}-\d{2}$/.test(when)) return refuse(`“${when}” is no date such as 2026-03-14`);
      fields['when'] = when;
    }
    const id = cell('id') ?? '';
    if (id === '') return void out.added.push(fields);
    const row = byId.get(id);
    if (!row) return refuse(`no row has the id “${id}”`);
    const changed = Object.fromEntries(Object.entries(fields).filter(([k, v]) => row[k as keyof TrackerRow] !== v));
    if (Object.keys(changed).length > 0) out.changes.push({ id, fields: changed });
  });
  return out;
}
