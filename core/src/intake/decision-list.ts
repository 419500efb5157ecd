import { encodingTitle } from '../formats/encodings.js';
import type { IntakeDecisions } from './decisions.js';
import { ART_DEFAULT, KINDS_DEFAULT, NO_DECISIONS } from './decisions.js';

/** The decisions of intake, each of which can be taken back or copied by itself. */
export const DECISIONS = [
  'encoding',
  'unit',
  'correction',
  'layers',
  'window',
  'kinds',
  'plane',
  'origin',
  'art',
] as const;
export type DecisionName = (typeof DECISIONS)[number];

/** One decision that departs from what happens without any. */
export interface Decided {
  name: DecisionName;
  title: string;
  words: string;
}

/** What each decision is called. */
export const DECISION_TITLES: Readonly<Record<DecisionName, string>> = {
  encoding: 'Text encoding',
  unit: 'Unit',
  correction: 'Scale',
  layers: 'Layers',
  window: 'Part',
  kinds: 'Kinds',
  plane: 'Plane',
  origin: 'Origin',
  art: 'Illustration art',
};

/** What goes with each decision when it is copied or taken back. */
const FIELDS: Record<DecisionName, readonly (keyof IntakeDecisions)[]> = {
  encoding: ['encoding'],
  unit: ['unit', 'pxPerInch'],
  correction: ['correction'],
  layers: ['layers', 'layersFrom'],
  window: ['window'],
  kinds: ['kinds'],
  plane: ['plane'],
  origin: ['origin'],
  art: ['art'],
};

/** The decision that a field of `IntakeDecisions` belongs to. */
export const decisionOf = (field: keyof IntakeDecisions): DecisionName =>
  DECISIONS.find((name) => FIELDS[name].includes(field)) ?? 'art';

const short = (v: number): string => String(Number(v.toPrecision(9)));

/** All decisions that were made, in the order in which they are applied, in words. */
export function decidedOf(d: IntakeDecisions): Decided[] {
  const out: Decided[] = [];
  for (const name of DECISIONS) {
    const words = WORDS[name](d);
    if (words !== null) out.push({ name, title: DECISION_TITLES[name], words });
  }
  return out;
}

const WORDS: Record<DecisionName, (d: IntakeDecisions) => string | null> = {
  encoding: ({ encoding }) => (encoding ? `${encodingTitle(encoding)} (${encoding})` : null),
  unit: ({ unit, pxPerInch }) =>
    unit === null && pxPerInch === null
      ? null
      : [unit ?? '', pxPerInch === null ? '' : `${short(pxPerInch)} pixels to the inch`].filter(Boolean).join(', '),
  correction: ({ correction }) => (correction === 1 ? null : `times ${short(correction)}, by a known size`),
  layers: ({ layers, layersFrom }) => {
    const from = layersFrom && layersFrom !== 'groups' ? `made from ${layersFrom}` : '';
    const which = { visible: '', all: 'all, hidden ones too', chosen: `${layers.names.length} chosen` }[layers.mode];
    return [which, from].filter(Boolean).join(', ') || null;
  },
  window: ({ window: w }) =>
    w
      ? `${short(w.maxX - w.minX)} × ${short(w.maxY - w.minY)} from ${short(w.minX)}, ${short(w.minY)}${w.touching ? ', touched too' : ''}`
      : null,
  kinds: ({ kinds }) => {
    const k = { ...KINDS_DEFAULT, ...kinds };
    const words = [
      { keep: '', group: 'blocks as groups', break: 'blocks broken up' }[k.blocks],
      { keep: '', lines: 'dimensions as lines and text', leaveOut: 'dimensions left out' }[k.dimensions],
      { keep: '', lines: 'hatches as lines', outlines: 'hatches as outlines', leaveOut: 'hatches left out' }[k.hatches],
    ];
    return words.filter(Boolean).join(', ') || null;
  },
  plane: ({ plane }) => (plane === 'flat' ? 'laid flat onto XY' : null),
  origin: ({ origin: { mode, x, y } }) =>
    ({
      keep: null,
      page: 'lower left of the page',
      lowerLeft: 'lower left of what is drawn',
      centre: 'centre of what is drawn',
      point: `at ${short(x)}, ${short(y)}`,
    })[mode],
  art: ({ art }) => {
    const a = { ...ART_DEFAULT, ...art };
    const words = [
      a.clips === 'whole' && 'clipped shapes whole',
      a.patterns === 'colour' && 'patterns as one colour',
      a.gradients !== 'keep' && `gradients as their ${a.gradients} colour`,
    ];
    return words.filter(Boolean).join(', ') || null;
  },
};

/** The fields of some decisions as they are in `from`, to be laid over those of another drawing. */
export function copiedDecisions(from: IntakeDecisions, names: Iterable<DecisionName>): Partial<IntakeDecisions> {
  const out: Record<string, unknown> = {};
  for (const name of names) for (const field of FIELDS[name]) out[field] = from[field] ?? UNDECIDED[field];
  return out as Partial<IntakeDecisions>;
}

/** One decision taken back. */
export const takenBack = (name: DecisionName): Partial<IntakeDecisions> => copiedDecisions(NO_DECISIONS, [name]);

/** What optional fields are while nobody has decided. */
const UNDECIDED: Partial<Record<keyof IntakeDecisions, unknown>> = {
  encoding: null,
  unit: null,
  pxPerInch: null,
  layersFrom: 'groups',
  window: null,
  kinds: KINDS_DEFAULT,
  plane: 'keep',
  art: ART_DEFAULT,
};
