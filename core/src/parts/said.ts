import { namePattern } from '../drawing/name-pattern.js';
import { wordsIn } from '../drawing/words-in.js';
import type { Part, PartsFound } from './find.js';

/** What a layer, an attribute or a text can say of a part. */
export const SAYABLE = ['number', 'name', 'kind', 'material', 'thickness', 'quantity', 'grain', 'side'] as const;
export type Sayable = (typeof SAYABLE)[number];
export type SaidOfPart = { readonly [K in Sayable]?: string };

/** Where it is looked for what is said of parts. Forms have the names of what they say in braces: `{material}-{thickness}`. */
export interface PartWords {
  /** How layers of outlines are named. */
  readonly layer: string;
  /** What layers of these names say, whatever they are called: the first that fits counts, before what their names say. */
  readonly chart: readonly ChartRow[];
  /** How labels read. */
  readonly label: string;
  /** Attributes of placed blocks: what they say, by their tag. */
  readonly attributes: Readonly<Partial<Record<Sayable, string>>>;
}

/** Layers of a name, and what they say of parts; empty for nothing. */
export interface ChartRow {
  readonly layers: string;
  readonly kind: string;
  readonly material: string;
  readonly thickness: string;
  readonly grain: string;
}

export const PART_WORDS: PartWords = { layer: '', chart: [], label: '', attributes: {} };

/** What a text says by a form: each name in braces stands for as few letters as possible; `null` where it does not fit. */
export function readForm(form: string, text: string): SaidOfPart | null {
  if (form.trim() === '') return null;
  const names: Sayable[] = [];
  const pattern = form
    .trim()
    .split(/(\{[a-z]+\})/)
    .map((piece) => {
      const name = /^\{([a-z]+)\}$/.exec(piece)?.[1];
      if (name === undefined) return piece.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\s+/g, '\\s+');
      if (!SAYABLE.includes(name as Sayable)) return piece.replace(/[{}]/g, '\\$&');
      names.push(name as Sayable);
      return '(.+?)';
    })
    .join('');
  const found = new RegExp(`^\\s*${pattern}\\s*$`, 'is').exec(text);
  if (!found) return null;
  return Object.fromEntries(names.map((name, i) => [name, found[i + 1]!.trim()]));
}

/** A form with what is said of a part in place of the names in braces; what is not said is left empty. */
export const filledForm = (form: string, said: SaidOfPart): string =>
  form.replace(/\{([a-z]+)\}/g, (whole, name: string) =>
    SAYABLE.includes(name as Sayable) ? (said[name as Sayable] ?? '') : whole,
  );

/** What a chart says by the name of a layer. */
function chartSays(chart: readonly ChartRow[], layer: string): SaidOfPart {
  const row = chart.find((r) => namePattern(r.layers)(layer));
  if (!row) return {};
  const { layers: _l, ...says } = row;
  return Object.fromEntries(Object.entries(says).filter(([, v]) => v.trim() !== ''));
}

/** What the drawing says of a part: by its labels first, by attributes of the block it is in, by the layer of its outline last. */
export function saidOf(part: Part, { visits, rings }: PartsFound, words: PartWords): SaidOfPart {
  const { top, resolved } = visits[rings[part.outer]!.owner]!;
  let said: SaidOfPart = { ...readForm(words.layer, resolved.layer), ...chartSays(words.chart, resolved.layer) };
  if (top.kind === 'insert')
    for (const name of SAYABLE) {
      const tag = words.attributes[name];
      const value = tag && top.attributes.find((a) => a.tag?.toLowerCase() === tag.trim().toLowerCase())?.text.trim();
      if (value) said = { ...said, [name]: value };
    }
  for (const i of [...part.labels, ...part.offered]) {
    const read = readForm(words.label, wordsIn(visits[i]!.entity) ?? '');
    if (read) {
      said = { ...said, ...read };
      break;
    }
  }
  return said;
}
