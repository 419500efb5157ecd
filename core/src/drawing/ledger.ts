/** The eight things that have to survive a hop. */
export const CARRY_OVERS = ['units', 'scale', 'origin', 'layers', 'curves', 'text', 'colour', 'links'] as const;
export type CarryOver = (typeof CARRY_OVERS)[number];

export type LedgerAction = 'kept' | 'changed' | 'approximated' | 'dropped';

/** One line of the ledger. Ids are kept as ranges, `[first, last]`, both included. */
export interface LedgerRow {
  carryOver: CarryOver;
  action: LedgerAction;
  reason: string;
  count: number;
  /** A person decided it: an intake decision, a step's parameter, a chosen target. */
  onPurpose: boolean;
  /** Who wrote the row: `read`, `intake`, a step's id, `write`. */
  by: string;
  deviation?: { value: number; unit: string };
  /** For a change of entity kind: what became what. */
  becomes?: Becoming;
  ids: [number, number][];
}

/**
 * A change of kind. `entities` is how many of `to` came of the `from` entities the row counts, and `addedLength` the
 * length of curves (in the unit of the file) that they draw and their originals did not.
 */
export interface Becoming {
  from: string;
  to: string;
  entities: number;
  addedLength?: number;
}

/** What a row is about; `id` is the entity it concerns. */
export type LedgerEntry = Omit<LedgerRow, 'count' | 'ids' | 'by' | 'onPurpose'> & {
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
    const key = `${entry.carryOver}|${entry.action}|${onPurpose}|${entry.reason}|${entry.becomes?.from}|${entry.becomes?.to}`;
    let row = this.byReason.get(key);
    if (!row) {
      const { carryOver, action, reason, becomes } = entry;
      row = { carryOver, action, reason, count: 0, onPurpose, by: this.by, ids: [] };
      if (becomes) row.becomes = { from: becomes.from, to: becomes.to, entities: 0 };
      this.byReason.set(key, row);
    }
    if (row.becomes && entry.becomes) {
      row.becomes.entities += entry.becomes.entities;
      if (entry.becomes.addedLength) row.becomes.addedLength = (row.becomes.addedLength ?? 0) + entry.becomes.addedLength;
    }
    row.count += entry.count ?? 1;
    if (entry.deviation && (!row.deviation || entry.deviation.value > row.deviation.value)) row.deviation = entry.deviation;
    if (entry.id !== undefined) addId(row.ids, entry.id);
  }

  get rows(): LedgerRow[] {
    return [...this.byReason.values()];
  }
}

function addId(ranges: [number, number][], id: number): void {
  const last = ranges[ranges.length - 1];
  if (last && last[1] === id) return;
  if (last && last[1] === id - 1) last[1] = id;
  else ranges.push([id, id]);
}
