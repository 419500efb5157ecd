import type { EntityKind } from './entity.js';
import type { Reason, ReasonCode } from './reasons.js';
import { reasonWords } from './reasons.js';
import { isUnitName, unitOf } from './units.js';

/** The eight things that have to survive a hop. */
export const CARRY_OVERS = ['units', 'scale', 'origin', 'layers', 'curves', 'text', 'colour', 'links'] as const;
export type CarryOver = (typeof CARRY_OVERS)[number];

export type LedgerAction = 'kept' | 'changed' | 'approximated' | 'dropped';

/** One line of the ledger. Ids are kept as ranges, `[first, last]`, both included. */
export interface LedgerRow {
  carryOver: CarryOver;
  action: LedgerAction;
  /** Why, for machines; absent in rows that were kept before there were codes. */
  code?: ReasonCode;
  /** What the words of the code are filled with. */
  args?: Readonly<Record<string, string | number>>;
  /** Why, in words (`REASONS`). */
  reason: string;
  count: number;
  /** A person decided it: an intake decision, a step's parameter, a chosen target. */
  onPurpose: boolean;
  /** Who wrote the row: `read`, `intake`, a step's id, `write`. */
  by: string;
  deviation?: Deviation;
  /** For a change of entity kind: what became what. */
  becomes?: Becoming;
  /** Length of curves that the written file draws and the drawing did not, by `curveKey`. */
  added?: Record<string, number>;
  /** Length of fill boundaries that the file has more (or, negative, less) than the drawing, by `curveKey`. */
  filled?: Record<string, number>;
  /** Colours that had to change everywhere, by hex. */
  recoloured?: Record<string, string>;
  /** A name that had to change, and what it became. */
  renamed?: { from: string; to: string; of?: 'block' };
  ids: [number, number][];
}

/** How far something came to lie from where it was: a length and the unit it counts in. */
export interface Deviation {
  value: number;
  unit: string;
}

/** What rows count beside kinds of entities: parts of them, and what nothing is left of. */
export type Thing =
  | EntityKind
  | 'entity'
  | 'shape'
  | 'part'
  | 'fill'
  | 'group'
  | 'patternPiece'
  | 'double'
  | 'lengthless'
  | 'parts'
  | 'nothing';

/** A change of kind: `gone` of `from` became `entities` of `to`. */
export interface Becoming {
  from: Thing;
  to: Thing;
  gone: number;
  entities: number;
}

/** What layers, or blocks, are called now by the ledger: from folded names to new ones. */
export const renamesIn = (ledger: readonly LedgerRow[], of: 'layer' | 'block'): Map<string, string> =>
  new Map(
    ledger.flatMap(({ renamed: r }) => (r && (r.of ?? 'layer') === of ? [[r.from.toLowerCase(), r.to] as const] : [])),
  );

/** The key under which lengths are added up: a layer and a colour. */
export const curveKey = (layer: string, hex: string): string => `${layer}\t${hex}`;

/** What a row is about; `id` is the entity it concerns. */
export type LedgerEntry = Omit<LedgerRow, 'count' | 'ids' | 'by' | 'onPurpose' | 'code' | 'args' | 'reason'> & {
  reason: Reason;
  id?: number;
  onPurpose?: boolean;
  count?: number;
};

/** Gathers rows: entries that say the same thing are counted together. */
export class Ledger {
  private byReason = new Map<string, LedgerRow>();

  constructor(private readonly by: string) {}

  add(entry: LedgerEntry): void {
    const onPurpose = entry.onPurpose ?? false;
    const { code, args } = typeof entry.reason === 'string' ? { code: entry.reason, args: undefined } : entry.reason;
    const reason = args ? reasonWords(entry.reason) : '';
    const key = `${entry.carryOver}|${entry.action}|${onPurpose}|${code}|${reason}|${entry.becomes?.from}|${entry.becomes?.to}`;
    let row = this.byReason.get(key);
    if (!row) {
      const { carryOver, action, becomes } = entry;
      row = {
        carryOver,
        action,
        code,
        ...(args && { args }),
        reason: reasonWords(entry.reason),
        count: 0,
        onPurpose,
        by: this.by,
        ids: [],
      };
      if (becomes) row.becomes = { ...becomes, gone: 0, entities: 0 };
      this.byReason.set(key, row);
    }
    if (row.becomes && entry.becomes) {
      row.becomes.gone += entry.becomes.gone;
      row.becomes.entities += entry.becomes.entities;
    }
    if (entry.renamed) row.renamed = entry.renamed;
    if (entry.recoloured) row.recoloured = { ...row.recoloured, ...entry.recoloured };
    for (const [k, v] of Object.entries(entry.added ?? {})) {
      row.added ??= {};
      row.added[k] = (row.added[k] ?? 0) + v;
    }
    for (const [k, v] of Object.entries(entry.filled ?? {})) {
      row.filled ??= {};
      row.filled[k] = (row.filled[k] ?? 0) + v;
    }
    row.count += entry.count ?? 1;
    if (entry.deviation && (!row.deviation || isLarger(entry.deviation, row.deviation)))
      row.deviation = entry.deviation;
    if (entry.id !== undefined) addId(row.ids, entry.id);
  }

  get rows(): LedgerRow[] {
    return [...this.byReason.values()];
  }
}

/** Whether a deviation is the larger of two, whatever units they count in; without units their numbers decide. */
function isLarger(a: Deviation, b: Deviation): boolean {
  const inMm = ({ value, unit }: Deviation): number => value * (isUnitName(unit) ? unitOf(unit).mm : 1);
  return a.unit === b.unit ? a.value > b.value : inMm(a) > inMm(b);
}

function addId(ranges: [number, number][], id: number): void {
  const last = ranges[ranges.length - 1];
  if (last && last[1] === id) return;
  if (last && last[1] === id - 1) last[1] = id;
  else ranges.push([id, id]);
}
