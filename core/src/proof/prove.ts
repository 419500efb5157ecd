import { traitsOf } from '../drawing/format-traits.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { LedgerRow } from '../drawing/ledger.js';
import type { UnitName } from '../drawing/units.js';
import { conversion } from '../drawing/units.js';
import type { Work } from '../formats/format.js';
import { UNSEEN } from '../geometry/tolerance.js';
import { upright } from '../intake/intake.js';
import type { FontBook } from '../text/fonts.js';
import type { Comparison } from './comparison.js';
import { RELATIVE, recolouring, round } from './comparison.js';
import { finenessOf } from './fineness.js';
import { exactItems } from './exact.js';
import { orderItem } from './order-item.js';
import { colourItems, layerItems, linkItems, textItems } from './look-items.js';
import type { Measures } from './measure.js';
import { measure } from './measure.js';
import type { ProofItem, ProofState } from './proof-item.js';
import { curveItem, emptyItem, kindItems, lengthItem, originItem, sizeItem } from './shape-items.js';
import { statedItems } from './stated.js';

export type { ProofItem, ProofState } from './proof-item.js';

export interface Proof {
  /** No difference is left that the ledger does not explain. */
  holds: boolean;
  unit: string;
  items: ProofItem[];
}

export interface ProofOptions {
  /** What the writer said it did. */
  ledger: readonly LedgerRow[];
  /** The unit that the file was to be in; absent when two drawings are merely compared. */
  unit?: UnitName;
  /** Two drawings of whatever origin: other kinds that draw the same curves are a change, not a risk. */
  comparing?: boolean;
  fonts: FontBook;
}

/**
 * Compares a drawing with what was read back from the file written from it. Everything is measured on world geometry in
 * the unit of `expected`; nothing private to the writer is relied on. Each difference is either explained by a row of
 * the ledger or at risk.
 */
export function prove(expected: Drawing, delivered: Drawing, options: ProofOptions, work?: Work): Proof {
  const found = upright(delivered);
  const unit = expected.unit;
  const items: ProofItem[] = [];
  const factor = unitItem(expected, found, options, items);
  const name = unit ? unit.unit : 'units';

  const box = boundsOf(expected, { hidden: true });
  const size = box.diagonal || 1;
  const reach = box.empty ? 1 : Math.max(1, ...[box.minX, box.minY, box.maxX, box.maxY].map(Math.abs));
  const tolerance = finenessOf(size, expected.entities.length);
  const joinFaces = options.comparing === true || options.ledger.some((r) => r.code === 'fills-as-blocks-of-corners');
  const { lettersPlaced = false, family } = traitsOf(found.format);
  const how = { joinFaces, lettersPlaced, picturesHeld: family === 'artwork' };
  const a = recoloured(measure(expected, 1, tolerance, options.fonts, work, how), options.ledger);
  work?.onProgress?.(0.3);
  const b = measure(found, factor, tolerance, options.fonts, work, how);
  work?.onProgress?.(0.6);
  // How far curves may lie from the drawing by what the writer itself stated.
  const stated = options.ledger
    .filter((r) => r.action === 'approximated' && r.carryOver === 'curves' && r.deviation && r.by === 'write')
    .reduce((most, r) => Math.max(most, r.deviation!.value), 0);
  // Digits that were asked not to be written add up: each chord by as much at either end.
  const grain = options.ledger.reduce(
    (n, r) => (r.code === 'rounded-to-decimals' ? Math.max(n, r.deviation?.value ?? 0) : n),
    0,
  );
  const rounding = { grain, amount: (2 * grain * a.chords.length) / 4 };
  const x: Comparison = { a, b, limit: size * RELATIVE, stated, rounding, unit: name, ledger: options.ledger, items };

  if (!options.comparing) emptyItem(x);
  sizeItem(x);
  originItem(x);
  curveItem(x, tolerance, work);
  lengthItem(x);
  const order = options.comparing ? null : orderItem(expected, found, factor, x.limit);
  if (order) items.push(order);
  kindItems(x, options.comparing === true && items.every((i) => i.carryOver !== 'curves' || i.state !== 'atRisk'));
  layerItems(x);
  textItems(x);
  colourItems(x);
  if (!options.comparing) linkItems(x);
  if (!options.comparing && factor === 1)
    items.push(...(exactItems(expected, found, options.ledger, reach, work) ?? []));
  items.push(...statedItems(options.ledger));
  return { holds: items.every((i) => i.state !== 'atRisk'), unit: name, items };
}

/** Measures with colours that the writer had to change everywhere counted as what they became. */
function recoloured(m: Measures, ledger: readonly LedgerRow[]): Measures {
  const became = recolouring(ledger);
  if (became.size === 0) return m;
  const mapped = (source: Map<string, number>): Map<string, number> => {
    const out = new Map<string, number>();
    for (const [key, v] of source) {
      const parts = key.split('\t');
      const colour = parts.pop()!;
      const to = [...parts, became.get(colour) ?? colour].join('\t');
      out.set(to, (out.get(to) ?? 0) + v);
    }
    return out;
  };
  return { ...m, strokes: mapped(m.strokes), fills: mapped(m.fills), textColours: mapped(m.textColours) };
}

/** The factor from the delivered drawing's coordinates to the unit of the expected one. */
function unitItem(expected: Drawing, found: Drawing, options: ProofOptions, items: ProofItem[]): number {
  // What was handed to the writer without a unit was to be written without one.
  const want = expected.unit === null ? undefined : (options.unit ?? expected.unit.unit);
  const got = found.unit;
  const title = 'Unit the file states';
  if (!got || got.unit === 'px') {
    const told = options.ledger.some((r) => r.carryOver === 'units' && r.action === 'dropped' && r.onPurpose);
    const state: ProofState = want && want !== 'px' ? (told ? 'changed' : 'atRisk') : 'kept';
    const says = got ? 'pixels' : 'none';
    items.push({
      id: 'unit',
      carryOver: 'units',
      title,
      state,
      expected: want ?? 'none',
      found: says,
      explanation: state === 'kept' ? 'neither states one' : 'the receiver will have to be told',
    });
    return got && expected.unit?.unit === 'px' ? got.factor / expected.unit.factor : 1;
  }
  const base = expected.unit && expected.unit.unit !== 'px' ? expected.unit : null;
  const factor = base ? (got.factor * conversion(got.unit, base.unit as UnitName)) / base.factor : got.factor;
  const one = want && want !== 'px' ? got.factor * conversion(got.unit, want) : 1;
  const { countsIn } = traitsOf(found.format);
  // A format that leaves no choice of unit must say its own, or a whole number of it.
  const own = countsIn && got.unit === countsIn.unit ? got.factor * countsIn.parts : null;
  const right = own === null ? Math.abs(one - 1) < UNSEEN : own >= 1 && Math.abs(own - Math.round(own)) < UNSEEN;
  if (options.unit && own !== null) {
    items.push({
      id: 'unit',
      carryOver: 'units',
      title,
      state: right ? 'changed' : 'atRisk',
      expected: countsIn!.title,
      found: own === 1 ? countsIn!.title : `${round(own)} × ${countsIn!.title}`,
      explanation: right
        ? `the file counts in nothing else; sizes are those of the drawing`
        : 'one unit is not a point',
    });
    return factor;
  }
  items.push({
    id: 'unit',
    carryOver: 'units',
    title,
    state:
      !options.unit || right ? (base && options.unit && options.unit !== base.unit ? 'changed' : 'kept') : 'atRisk',
    expected: want ?? 'none',
    found: got.factor === 1 ? got.unit : `${round(got.factor)} ${got.unit} per unit`,
    explanation: right
      ? base && want !== base.unit
        ? `converted from ${base.unit}`
        : ''
      : 'one coordinate unit is not what was asked for',
  });
  return factor;
}
