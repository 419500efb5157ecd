import { renamesIn } from '../drawing/ledger.js';
import type { Comparison } from './comparison.js';
import { RELATIVE, recolouring, round, total } from './comparison.js';
import type { Measures } from './measure.js';
import { pairedTexts } from './paired-texts.js';

const layersWithContent = (n: number): string => (n === 1 ? '1 layer with content' : `${n} layers with content`);

export function layerItems({ a, b, limit, rounding, ledger, items }: Comparison): void {
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
    expected: layersWithContent(wanted.size),
    found:
      layersWithContent(have.size) +
      (wrong.length === 0
        ? ''
        : ` · ${wrong.length === 1 ? '1 layer differs' : `${wrong.length} layers differ`} in length`),
    ...(wrong[0] !== undefined && { shows: { layer: wrong[0] } }),
    explanation: wrong.length === 0 ? 'the same length of lines and fills on each' : names(wrong),
  });
}

export function textItems({ a, b, limit, rounding, unit, items }: Comparison): void {
  if (a.texts.length === 0 && b.texts.length === 0) return;
  // Positions of text are written with fewer digits than curves need, and baselines depend on font metrics.
  const near = Math.max(limit * 5, 1e-5, rounding.grain);
  const { missing, extra, farthestMove, tallest } = pairedTexts(a.texts, b.texts, near);
  const right = missing.length === 0 && extra === 0;
  items.push({
    id: 'text',
    carryOver: 'text',
    title: 'Lines of text, by their characters',
    ...(b.texts.length > 0 && { shows: { kind: 'text' as const } }),
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

export function colourItems({ a, b, limit, rounding, ledger, items }: Comparison): void {
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
          ? `${want.size === 1 ? '1 colour' : `${want.size} colours`}, all exact`
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

const placed = (n: number, of: number): string =>
  `${n === 1 ? '1 placed block' : `${n} placed blocks`}${n === 0 ? '' : ` (of ${of === 1 ? '1 block' : `${of} blocks`})`}`;

export function linkItems({ a, b, ledger, items }: Comparison): void {
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
    title: 'Placed blocks, by name',
    ...(count(b) > 0 && { shows: { kind: 'insert' as const } }),
    state: !right ? 'atRisk' : expanded ? 'changed' : 'kept',
    expected: placed(count(a), a.blocks.size),
    found: placed(count(b), b.blocks.size),
    explanation: expanded
      ? 'blocks are expanded into groups'
      : right
        ? ''
        : `${missing - gone === 1 ? '1 placed block is' : `${missing - gone} placed blocks are`} missing`,
  });
}
