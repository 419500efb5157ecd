import type { Draft } from '../drawing/entity.js';
import { UNITS } from '../drawing/units.js';
import type { UnitName } from '../drawing/units.js';
import { TEXT_ENCODINGS, encodingTitle } from '../formats/encodings.js';
import { LAYER_RULE_TITLES } from '../parameters/layer-rules.js';
import type { Infer, ParameterSet } from '../parameters/parameter.js';
import { defaultsOf, p } from '../parameters/parameter.js';

/*
 * Everything that can be decided on taking a drawing in, each decision in one place: its fields, what it is called, and what it
 * says in words where it departs from what happens without it. Schema, validation, list, taking back and copying, the form
 * where a decision has none of its own, and the types follow. `takeIn` applies them in this order.
 */

const short = (v: number): string => String(Number(v.toPrecision(9)));

/** One decision. `words`: what was decided, or `null` where it is what happens anyway; it is given fields that are whole. */
interface Decision<S extends ParameterSet> {
  readonly title: string;
  readonly fields: S;
  words(decided: Infer<S>): string | null;
}
const decision = <const S extends ParameterSet>(d: Decision<S>): Decision<S> => d;

/** The words that there are, apart by commas; `null` for none. */
const told = (...words: (string | false)[]): string | null => words.filter(Boolean).join(', ') || null;

const named = <N extends string>(list: readonly { name: N; title: string }[]): Record<N, string> =>
  Object.fromEntries(list.map(({ name, title }) => [name, title])) as Record<N, string>;

export const DECISION_TABLE = {
  encoding: decision({
    title: 'Text encoding',
    fields: {
      /** The encoding that texts are read in, whatever the file says. */
      encoding: p.optional(
        p.choice({ title: 'Texts are read as', default: 'windows-1252', choices: named(TEXT_ENCODINGS) }),
        'as the file says',
      ),
    },
    words: ({ encoding }) => encoding && `${encodingTitle(encoding)} (${encoding})`,
  }),
  page: decision({
    title: 'Page of the PDF',
    fields: {
      /** Which page is read, counted from 1. */
      fromPage: p.optional(p.number({ title: 'Page', default: 1, whole: true, atLeast: 1, atMost: 5000 }), 'the first'),
      /** What letters come as. */
      letters: p.choice({
        title: 'Letters',
        default: 'text',
        choices: { text: 'as text', outlines: 'as the outlines in the file' },
      }),
      /** What widths of lines are. */
      pens: p.choice({
        title: 'Line widths',
        default: 'paper',
        choices: { paper: 'stay those of the paper', drawing: 'scale with the drawing' },
      }),
    },
    words: ({ fromPage, letters, pens }) =>
      told(
        fromPage !== null && `page ${fromPage}`,
        letters === 'outlines' && 'letters as outlines',
        pens === 'drawing' && 'line widths scale',
      ),
  }),
  numbers: decision({
    title: 'Numbers of the text',
    fields: {
      /** Coordinates as text: the sign before decimals. */
      decimal: p.optional(
        p.choice({ title: 'Decimals follow', default: 'point', choices: { point: 'a point', comma: 'a comma' } }),
        'as the text shows',
      ),
      /** What a third number says. */
      third: p.optional(
        p.choice({
          title: 'Third number',
          default: 'bulge',
          choices: { bulge: 'how an edge bulges', height: 'a height' },
        }),
        'as the text says',
      ),
    },
    words: ({ decimal, third }) =>
      told(
        decimal !== null && `decimals after a ${decimal}`,
        third !== null && (third === 'bulge' ? 'third number a bulge' : 'third number a height'),
      ),
  }),
  unit: decision({
    title: 'Unit',
    fields: {
      /** Drafting: what one coordinate unit is. SVG: the unit in which the true size is counted from now on. */
      unit: p.optional(p.choice({ title: 'Unit', default: 'mm', choices: named<UnitName>(UNITS) }), 'undecided'),
      /** How many pixels make an inch, for an SVG that states no physical size. */
      pxPerInch: p.optional(
        p.number({ title: 'Pixels to the inch', default: 96, above: 0, atMost: 100000 }),
        'undecided',
      ),
    },
    words: ({ unit, pxPerInch }) => told(unit ?? '', pxPerInch !== null && `${short(pxPerInch)} pixels to the inch`),
  }),
  correction: decision({
    title: 'Scale',
    fields: {
      /** True length ÷ measured length; 1 = the coordinates are right. */
      correction: p.number({ title: 'True length by measured length', default: 1, above: 0 }),
    },
    words: ({ correction }) => (correction === 1 ? null : `times ${short(correction)}, by a known size`),
  }),
  layers: decision({
    title: 'Layers',
    fields: {
      layers: p.layers({ title: 'Layers taken in' }),
      /** What layers are made from. */
      layersFrom: p.choice({
        title: 'Layers are made from',
        default: 'groups',
        choices: {
          groups: 'Those of the file; in SVG its topmost named groups',
          ...LAYER_RULE_TITLES,
        },
      }),
    },
    words: ({ layers, layersFrom }) =>
      told(
        { visible: '', all: 'all, hidden ones too', chosen: `${layers.names.length} chosen` }[layers.mode],
        layersFrom !== 'groups' && `made from ${layersFrom}`,
      ),
  }),
  window: decision({
    title: 'Part',
    fields: {
      /** What lies in a window comes along, in the file’s coordinates (y upwards); what it only touches where that is said. */
      window: p.optional(
        p.group({
          title: 'Window',
          params: {
            minX: p.number({ title: 'Left', default: 0 }),
            minY: p.number({ title: 'Below', default: 0 }),
            maxX: p.number({ title: 'Right', default: 0 }),
            maxY: p.number({ title: 'Above', default: 0 }),
            touching: p.yesNo({ title: 'Include what the frame touches', default: false }),
          },
        }),
        'the whole drawing',
      ),
    },
    words: ({ window: w }) =>
      w &&
      `${short(w.maxX - w.minX)} × ${short(w.maxY - w.minY)} from ${short(w.minX)}, ${short(w.minY)}${w.touching ? ', with what the frame touches' : ''}`,
  }),
  under: decision({
    title: 'Picture under the drawing',
    fields: {
      /** A picture of the job that lies under the drawing while it is worked on; places in the file’s coordinates, y upwards. */
      under: p.optional(
        p.group({
          title: 'Picture',
          params: {
            picture: p.text({ title: 'Picture', description: 'its name in the job', maxLength: 200, default: '' }),
            width: p.number({ title: 'Pixels across', default: 1, whole: true, atLeast: 1, atMost: 100_000 }),
            height: p.number({ title: 'Pixels down', default: 1, whole: true, atLeast: 1, atMost: 100_000 }),
            at: p.point({ title: 'Lower left corner' }),
            right: p.point({ title: 'Lower right corner', default: { x: 1, y: 0 } }),
            up: p.point({ title: 'Upper left corner', default: { x: 0, y: 1 } }),
            opacity: p.number({ title: 'Seen at', default: 50, atLeast: 5, atMost: 100, suffix: '%' }),
            delivered: p.yesNo({ title: 'Delivered with the drawing', default: false }),
          },
        }),
        'none',
      ),
    },
    words: ({ under: u }) => u && `${u.picture}, ${u.delivered ? 'delivered with the drawing' : 'not delivered'}`,
  }),
  kinds: decision({
    title: 'Blocks, dimensions, hatches',
    fields: {
      kinds: p.group({
        title: 'Blocks, dimensions, hatches',
        params: {
          blocks: p.choice({
            title: 'Blocks',
            default: 'keep',
            choices: { keep: 'stay blocks', group: 'become groups', break: 'are broken up' },
          }),
          dimensions: p.choice({
            title: 'Dimensions and leaders',
            default: 'keep',
            choices: { keep: 'stay', lines: 'become lines and text', leaveOut: 'are left out' },
          }),
          hatches: p.choice({
            title: 'Hatches',
            default: 'keep',
            choices: { keep: 'stay', lines: 'become lines', outlines: 'become outlines', leaveOut: 'are left out' },
          }),
        },
      }),
    },
    words: ({ kinds: k }) =>
      told(
        { keep: '', group: 'blocks as groups', break: 'blocks broken up' }[k.blocks],
        { keep: '', lines: 'dimensions as lines and text', leaveOut: 'dimensions left out' }[k.dimensions],
        { keep: '', lines: 'hatches as lines', outlines: 'hatches as outlines', leaveOut: 'hatches left out' }[
          k.hatches
        ],
      ),
  }),
  plane: decision({
    title: 'Plane',
    fields: {
      plane: p.choice({ title: 'Plane', default: 'keep', choices: { keep: 'as it is', flat: 'laid flat onto XY' } }),
    },
    words: ({ plane }) => (plane === 'flat' ? 'laid flat onto XY' : null),
  }),
  origin: decision({
    title: 'Origin',
    fields: {
      origin: p.group({
        title: 'Origin',
        params: {
          mode: p.choice({
            title: 'New origin',
            default: 'keep',
            choices: {
              keep: 'as it is',
              page: 'lower left of the page',
              lowerLeft: 'lower left of the drawing',
              centre: 'centre of the drawing',
              point: 'a point',
            },
          }),
          /** In the drawing’s coordinates before the shift (y upwards, corrected units). */
          x: p.number({ title: 'x', default: 0 }),
          y: p.number({ title: 'y', default: 0 }),
        },
      }),
    },
    words: ({ origin: { mode, x, y } }) =>
      ({
        keep: null,
        page: 'lower left of the page',
        lowerLeft: 'lower left of the drawing',
        centre: 'centre of the drawing',
        point: `at ${short(x)}, ${short(y)}`,
      })[mode],
  }),
  art: decision({
    title: 'Clips, patterns, gradients',
    fields: {
      art: p.group({
        title: 'Clips, patterns, gradients',
        params: {
          clips: p.choice({
            title: 'Parts outside a clip path',
            default: 'cut',
            choices: { cut: 'cut off', whole: 'kept' },
          }),
          patterns: p.choice({
            title: 'Fill patterns become',
            default: 'shapes',
            choices: { shapes: 'their shapes', colour: 'one plain colour' },
          }),
          gradients: p.choice({
            title: 'Gradients',
            default: 'keep',
            choices: {
              keep: 'kept where the format has them',
              mean: 'become their average colour',
              first: 'become their first colour',
              last: 'become their last colour',
            },
          }),
        },
      }),
    },
    words: ({ art: a }) =>
      told(
        a.clips === 'whole' && 'clipped shapes whole',
        a.patterns === 'colour' && 'patterns as one colour',
        a.gradients !== 'keep' && `gradients as their ${a.gradients} colour`,
      ),
  }),
};

export type DecisionName = keyof typeof DECISION_TABLE;

/** The decisions of intake in the order in which they are applied; each can be taken back or copied by itself. */
export const DECISIONS = Object.keys(DECISION_TABLE) as DecisionName[];

type Fields = { [N in DecisionName]: (typeof DECISION_TABLE)[N]['fields'] }[DecisionName];
type AllFields = {
  [K in Fields extends infer F ? (F extends unknown ? keyof F : never) : never]: Fields extends infer F
    ? F extends Record<K, infer V>
      ? V
      : never
    : never;
};

/** Every field of every decision. */
export const INTAKE_FIELDS: AllFields = Object.assign(
  {},
  ...DECISIONS.map((n) => DECISION_TABLE[n].fields),
) as AllFields;

/** Fields that every kept intake has: the others came later, and are absent while nobody decided on them. */
const ALWAYS = ['unit', 'pxPerInch', 'correction', 'layers', 'origin'] as const;
export const LATER_FIELDS = (Object.keys(INTAKE_FIELDS) as (keyof IntakeDecisions)[]).filter(
  (f) => !(ALWAYS as readonly string[]).includes(f),
);

type Whole = Draft<Infer<AllFields>>;

/** What was decided on taking a drawing in. Kept with the drawing; what is absent, `null` or a default is not decided. */
export type IntakeDecisions = Pick<Whole, (typeof ALWAYS)[number]> & Partial<Omit<Whole, (typeof ALWAYS)[number]>>;

/** Illustration art that drafting cannot hold: how it comes along. */
export type ArtDecisions = Whole['art'];
/** What becomes of compound entities on the way in. */
export type KindDecisions = Whole['kinds'];
/** The part of a drawing that comes along. */
export type WindowDecision = NonNullable<Whole['window']>;
/** A picture under the drawing. */
export type UnderDecision = NonNullable<Whole['under']>;

/** Nothing decided, all fields there. */
const UNDECIDED = defaultsOf(INTAKE_FIELDS as ParameterSet) as unknown as Whole;

export const ART_DEFAULT: ArtDecisions = UNDECIDED.art;
export const KINDS_DEFAULT: KindDecisions = UNDECIDED.kinds;
export const NO_DECISIONS = Object.fromEntries(ALWAYS.map((f) => [f, UNDECIDED[f]])) as unknown as IntakeDecisions;

/** Decisions with every field there, those of groups too. */
export function wholeDecisions(d: Partial<IntakeDecisions>): Readonly<Whole> {
  const out: Record<string, unknown> = { ...UNDECIDED };
  for (const [name, value] of Object.entries(d)) {
    const one = (INTAKE_FIELDS as ParameterSet)[name];
    if (value === undefined || !one) continue;
    out[name] = one.kind === 'group' ? { ...(one.default as object), ...(value as object) } : value;
  }
  return out as unknown as Whole;
}
