import type { Drawing } from '../drawing/drawing.js';
import type { EntityKind } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { renamesIn } from '../drawing/ledger.js';
import type { UnitName } from '../drawing/units.js';
import { conversion } from '../drawing/units.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Work } from '../formats/format.js';
import { upright } from '../intake/intake.js';
import type { FontBook } from '../text/fonts.js';
import type { Farthest } from './distance.js';
import { farthest } from './distance.js';
import type { Measures } from './measure.js';
import { pairedTexts } from './paired-texts.js';
import { measure } from './measure.js';
import { statedItems } from './stated.js';
import { exactItems } from './exact.js';
import type { ProofItem, ProofState } from './proof-item.js';
import { UNSEEN } from '../geometry/tolerance.js';

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

/** How far apart two numbers may be, relative to the drawing's size, before they count as different. */
const RELATIVE = 2e-6;

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
  // Chords grow with the square root of the fineness: a large drawing is measured a little coarser, and says so.
  const tolerance = size * Math.min(1e-4, 1e-6 * Math.max(1, expected.entities.length / 20_000) ** 2);
  const joinFaces = options.comparing === true || options.ledger.some((r) => r.code === 'fills-as-blocks-of-corners');
  const a = recoloured(measure(expected, 1, tolerance, options.fonts, work, joinFaces), options.ledger);
  work?.onProgress?.(0.3);
  const b = measure(found, factor, tolerance, options.fonts, work, joinFaces);
  work?.onProgress?.(0.6);
  // How far curves may lie from the drawing by what the writer itself stated.
  const stated = options.ledger
    .filter((r) => r.action === 'approximated' && r.carryOver === 'curves' && r.deviation && r.by === 'write')
    .reduce((most, r) => Math.max(most, r.deviation!.value), 0);
  // Digits that were asked not to be written add up: each chord by as much at either end.
  const grain = options.ledger.reduce((n, r) => (r.code === 'rounded-to-decimals' ? Math.max(n, r.deviation?.value ?? 0) : n), 0); // prettier-ignore
  const rounding = { grain, amount: (2 * grain * a.chords.length) / 4 };
  const x: Comparison = { a, b, limit: size * RELATIVE, stated, rounding, unit: name, ledger: options.ledger, items };

  if (!options.comparing) emptyItem(x);
  sizeItem(x);
  originItem(x);
  curveItem(x, tolerance, work);
  lengthItem(x);
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

/** What colours became, by the ledger. */
const recolouring = (ledger: readonly LedgerRow[]): Map<string, string> =>
  new Map(ledger.flatMap((r) => Object.entries(r.recoloured ?? {})));

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

interface Comparison {
  a: Measures;
  b: Measures;
  limit: number;
  stated: number;
  /** How far a coordinate may be off by rounding that was asked for, and what that may come to in all lengths. */
  rounding: { grain: number; amount: number };
  unit: string;
  ledger: readonly LedgerRow[];
  items: ProofItem[];
}

const round = (v: number): string => String(Number(v.toPrecision(7)));

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
  const right = Math.abs(one - 1) < UNSEEN;
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

/** A file in which nothing is drawn is true to a drawing in which nothing is, and still is not what anybody wants. */
function emptyItem({ a, b, items }: Comparison): void {
  if (!(a.box.empty && b.box.empty && a.texts.length === 0 && b.texts.length === 0)) return;
  items.push({
    id: 'empty',
    carryOver: 'curves',
    title: 'Something to be seen',
    state: 'lost',
    expected: 'a drawing',
    found: 'nothing is drawn',
    explanation: 'what was handed to the writer is empty',
    about: 'source',
  });
}

function sizeItem({ a, b, limit, stated, unit, items }: Comparison): void {
  const off = Math.max(Math.abs(a.box.width - b.box.width), Math.abs(a.box.height - b.box.height));
  const words = (m: Measures): string =>
    m.box.empty ? 'empty' : `${round(m.box.width)} × ${round(m.box.height)} ${unit}`;
  const same = off <= limit && a.box.empty === b.box.empty;
  const within = off <= limit + 2 * stated && a.box.empty === b.box.empty;
  items.push({
    id: 'size',
    carryOver: 'scale',
    title: 'Overall size',
    state: same ? 'kept' : within ? 'changed' : 'atRisk',
    expected: words(a),
    found: words(b),
    explanation: same ? '' : `differs by ${round(off)} ${unit}${within ? ', within what the writer stated' : ''}`,
  });
}

function originItem({ a, b, limit, stated, unit, items }: Comparison): void {
  if (a.box.empty || b.box.empty) return;
  const [dx, dy] = [b.box.minX - a.box.minX, b.box.minY - a.box.minY];
  const same = Math.hypot(dx, dy) <= limit;
  const within = Math.hypot(dx, dy) <= limit + 1.5 * stated;
  // What lies closer to zero than the limit is zero for people.
  const near = (v: number): string => round(Math.abs(v) < limit * 1e-3 ? 0 : v);
  const words = (m: Measures): string => `${near(m.box.minX)}, ${near(m.box.minY)} ${unit}`;
  items.push({
    id: 'origin',
    carryOver: 'origin',
    title: 'Lower left corner',
    state: same ? 'kept' : within ? 'changed' : 'atRisk',
    expected: words(a),
    found: words(b),
    explanation: same
      ? ''
      : `moved by ${round(dx)}, ${round(dy)} ${unit}${within ? ', within what the writer stated' : ''}`,
  });
}

function curveItem(x: Comparison, tolerance: number, work?: Work): void {
  const { a, b, unit, items } = x;
  // What the writer says it approximated may lie as far away as it says, and counts as a change.
  const { stated } = x;
  const out = farthest(a.chords, b.chords, tolerance, work);
  work?.onProgress?.(0.8);
  const back = farthest(b.chords, a.chords, tolerance, work);
  const worst: Farthest = out.distance >= back.distance ? out : back;
  // Both sides are measured on chords, each within the tolerance of its curve.
  const strict = Math.max(3 * tolerance, x.limit);
  const limit = strict + 1.5 * stated;
  const same = worst.distance <= limit;
  items.push({
    id: 'distance',
    carryOver: 'curves',
    title: 'Largest distance between curves',
    state: same ? (worst.distance <= strict ? 'kept' : 'changed') : 'atRisk',
    expected: `under ${round(Number(limit.toPrecision(2)))} ${unit}`,
    found: Number.isFinite(worst.distance)
      ? `${round(Number(worst.distance.toPrecision(3)))} ${unit}`
      : 'one side draws nothing',
    explanation: `${out.samples + back.samples} points measured, both ways`,
    ...(same ? {} : { at: { x: worst.x, y: worst.y } }),
  });
}

const total = (m: Map<string, number>): number => [...m.values()].reduce((s, v) => s + v, 0);

function lengthItem({ a, b, limit, rounding, unit, ledger, items }: Comparison): void {
  const added = ledger.flatMap((r) => Object.values(r.added ?? {})).reduce((s, v) => s + v, 0);
  const drawn = total(a.strokes);
  const want = drawn + added;
  const got = total(b.strokes);
  const same = Math.abs(want - got) <= Math.max(limit, RELATIVE * want, rounding.amount);
  items.push({
    id: 'length',
    carryOver: 'curves',
    title: 'Total length of lines',
    state: same ? (added > 0 ? 'changed' : 'kept') : 'atRisk',
    expected: `${round(want)} ${unit}`,
    found: `${round(got)} ${unit}`,
    explanation: same
      ? added > 0
        ? `${round(added)} ${unit} are outlines the writer added`
        : ''
      : `differs by ${round(got - want)} ${unit}`,
  });
}

function kindItems({ a, b, ledger, items }: Comparison, sameCurves: boolean): void {
  const want: Record<string, number> = { ...a.kinds };
  const reasons = new Map<string, string[]>();
  for (const r of ledger) {
    if (!r.becomes) continue;
    const { from, to, gone, entities } = r.becomes;
    if (want[from] !== undefined) want[from] -= gone;
    want[to] = (want[to] ?? 0) + entities;
    for (const k of [from, to]) reasons.set(k, [...(reasons.get(k) ?? []), r.reason]);
  }
  const kinds = new Set([...Object.keys(a.kinds), ...Object.keys(b.kinds), ...Object.keys(want)]);
  for (const k of [...kinds].sort()) {
    const known = k in a.kinds || k in b.kinds;
    if (!known) continue;
    const kind = k as EntityKind;
    const [had, expected, found] = [a.kinds[kind] ?? 0, want[k] ?? 0, b.kinds[kind] ?? 0];
    const right = expected === found;
    if (!right && sameCurves) {
      items.push({
        id: `kind-${k}`,
        carryOver: 'curves',
        title: `Number of ${kindName(kind, 2)}`,
        state: 'changed',
        expected: String(expected),
        found: String(found),
        explanation: 'held as other kinds, which draw the same curves',
      });
      continue;
    }
    items.push({
      id: `kind-${k}`,
      carryOver: kind === 'text' || kind === 'richText' ? 'text' : kind === 'insert' ? 'links' : 'curves',
      title: `Number of ${kindName(kind, 2)}`,
      state: right ? (had === found ? 'kept' : 'changed') : 'atRisk',
      expected: String(expected),
      found: String(found),
      explanation: right
        ? had === found
          ? ''
          : `${had} in the drawing; ${[...new Set(reasons.get(k) ?? [])].join('; ')}`
        : 'no row of the ledger explains the difference',
    });
  }
}

function layerItems({ a, b, limit, rounding, ledger, items }: Comparison): void {
  const renamed = renamesIn(ledger, 'layer');
  const now = (n: string): string => renamed.get(n.toLowerCase()) ?? n;
  const fold = (n: string): string => n.toLowerCase();
  const want = new Set(a.layers.map((n) => fold(now(n))));
  const got = new Set(b.layers.map(fold));
  // Layer 0 exists in every drafting file, asked for or not.
  const missing = [...want].filter((n) => !got.has(n) && n !== '0');
  const extra = [...got].filter((n) => !want.has(n) && n !== '0');
  const names = (list: string[]): string =>
    list.slice(0, 5).join(', ') + (list.length > 5 ? ` and ${list.length - 5} more` : '');
  const right = missing.length + extra.length === 0;
  items.push({
    id: 'layers',
    carryOver: 'layers',
    title: 'Layer names (besides layer 0)',
    state: right ? (renamed.size > 0 ? 'changed' : 'kept') : 'atRisk',
    expected: `${[...want].filter((n) => n !== '0').length}`,
    found: `${[...got].filter((n) => n !== '0').length}`,
    explanation: [
      missing.length ? `missing: ${names(missing)}` : '',
      extra.length ? `unexpected: ${names(extra)}` : '',
      renamed.size ? `${renamed.size} renamed` : '',
    ]
      .filter(Boolean)
      .join('; '),
  });
  const wrong: string[] = [];
  const lengths = (m: Measures, map: (n: string) => string): Map<string, number> => {
    const out = new Map<string, number>();
    for (const source of [m.strokes, m.fills]) {
      for (const [key, v] of source) {
        const layer = fold(map(key.split('\t')[0]!));
        out.set(layer, (out.get(layer) ?? 0) + v);
      }
    }
    return out;
  };
  const wanted = lengths(a, now);
  for (const r of ledger) {
    for (const [key, v] of [...Object.entries(r.added ?? {}), ...Object.entries(r.filled ?? {})]) {
      const source = key.split('\t')[0]!;
      const layer = fold(now(source));
      wanted.set(layer, (wanted.get(layer) ?? 0) + v);
    }
  }
  const have = lengths(b, (n) => n);
  for (const layer of new Set([...wanted.keys(), ...have.keys()])) {
    const [p, q] = [wanted.get(layer) ?? 0, have.get(layer) ?? 0];
    if (Math.abs(p - q) > Math.max(limit, RELATIVE * p, rounding.amount)) wrong.push(layer);
  }
  items.push({
    id: 'layer-content',
    carryOver: 'layers',
    title: 'Content of each layer',
    state: wrong.length === 0 ? 'kept' : 'atRisk',
    expected: `${wanted.size} drawn on`,
    found: wrong.length === 0 ? `${have.size} drawn on` : `${wrong.length} with other lengths`,
    explanation: wrong.length === 0 ? 'the same length of lines and fills on each' : names(wrong),
  });
}

function textItems({ a, b, limit, rounding, unit, items }: Comparison): void {
  if (a.texts.length === 0 && b.texts.length === 0) return;
  // Positions of text are written with fewer digits than curves need, and baselines depend on font metrics.
  const near = Math.max(limit * 5, 1e-5, rounding.grain);
  const { missing, extra, farthestMove, tallest } = pairedTexts(a.texts, b.texts, near);
  const right = missing.length === 0 && extra === 0;
  items.push({
    id: 'text',
    carryOver: 'text',
    title: 'Lines of text, by their characters',
    state: right ? 'kept' : 'atRisk',
    expected: String(a.texts.length),
    found: String(b.texts.length),
    explanation: right
      ? ''
      : [
          missing.length
            ? `missing: ${missing
                .slice(0, 3)
                .map((t) => `“${t}”`)
                .join(', ')}`
            : '',
          extra ? `${extra} unexpected` : '',
        ]
          .filter(Boolean)
          .join('; '),
  });
  const item = (id: string, title: string, value: number, what: string): void => {
    const ok = value <= near;
    items.push({
      id,
      carryOver: 'text',
      title,
      state: ok ? 'kept' : 'atRisk',
      expected: `within ${round(Number(near.toPrecision(2)))} ${unit}`,
      found: `${round(Number(value.toPrecision(3)))} ${unit}`,
      explanation: ok ? '' : what,
    });
  };
  item('text-place', 'Largest move of a text', farthestMove, 'text is not where it was');
  item('text-height', 'Largest change of capital height', tallest, 'text is not as high as it was');
}

function colourItems({ a, b, limit, rounding, ledger, items }: Comparison): void {
  const byColour = (m: Map<string, number>): Map<string, number> => {
    const out = new Map<string, number>();
    for (const [key, v] of m) {
      const colour = key.split('\t')[1] ?? key;
      out.set(colour, (out.get(colour) ?? 0) + v);
    }
    return out;
  };
  const compare = (
    id: string,
    title: string,
    want: Map<string, number>,
    got: Map<string, number>,
    limitOf: (v: number) => number,
  ): void => {
    if (want.size === 0 && got.size === 0) return;
    const wrong = [...new Set([...want.keys(), ...got.keys()])].filter(
      (c) => Math.abs((want.get(c) ?? 0) - (got.get(c) ?? 0)) > limitOf(want.get(c) ?? 0),
    );
    items.push({
      id,
      carryOver: 'colour',
      title,
      state: wrong.length === 0 ? 'kept' : 'atRisk',
      expected: [...want.keys()].sort().slice(0, 6).join(' ') + (want.size > 6 ? ` +${want.size - 6}` : ''),
      found: [...got.keys()].sort().slice(0, 6).join(' ') + (got.size > 6 ? ` +${got.size - 6}` : ''),
      explanation:
        wrong.length === 0
          ? `${want.size} compared to the last hex digit`
          : `different amount drawn in ${wrong.slice(0, 6).join(' ')}`,
    });
  };
  const strokes = byColour(a.strokes);
  const became = recolouring(ledger);
  const colourIn = (key: string): string => {
    const colour = key.split('\t')[1]!;
    return became.get(colour) ?? colour;
  };
  for (const r of ledger) {
    for (const [key, v] of Object.entries(r.added ?? {})) {
      const colour = colourIn(key);
      strokes.set(colour, (strokes.get(colour) ?? 0) + v);
    }
  }
  const near = (v: number): number => Math.max(limit, RELATIVE * v, rounding.amount);
  compare('stroke-colours', 'Line colours', strokes, byColour(b.strokes), near);
  const fills = byColour(a.fills);
  for (const r of ledger) {
    for (const [key, v] of Object.entries(r.filled ?? {})) {
      const colour = colourIn(key);
      fills.set(colour, (fills.get(colour) ?? 0) + v);
    }
  }
  compare('fill-colours', 'Fill colours', fills, byColour(b.fills), near);
  compare('text-colours', 'Text colours', a.textColours, b.textColours, () => 0);
}

function linkItems({ a, b, ledger, items }: Comparison): void {
  if (a.blocks.size === 0 && b.blocks.size === 0) return;
  const count = (m: Measures): number => total(m.blocks);
  const renamed = renamesIn(ledger, 'block');
  const found = new Map([...b.blocks].map(([name, n]) => [name.toLowerCase(), n]));
  const missing = [...a.blocks].reduce(
    (sum, [name, n]) =>
      sum + Math.max(0, n - (found.get((renamed.get(name.toLowerCase()) ?? name).toLowerCase()) ?? 0)),
    0,
  );
  // As many as the writer says that it expanded may be missing, and no more.
  const gone = ledger.reduce((sum, r) => sum + (r.becomes?.from === 'insert' ? r.becomes.gone : 0), 0);
  const right = missing <= gone;
  const expanded = missing > 0 && right;
  items.push({
    id: 'blocks',
    carryOver: 'links',
    title: 'Block inserts, by name',
    state: !right ? 'atRisk' : expanded ? 'changed' : 'kept',
    expected: `${count(a)} of ${a.blocks.size}`,
    found: `${count(b)} of ${b.blocks.size}`,
    explanation: expanded ? 'blocks are expanded into groups' : right ? '' : `${missing - gone} inserts are missing`,
  });
}
