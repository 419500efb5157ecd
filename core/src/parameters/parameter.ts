import type { EntityRef } from '../drawing/entity-ref.js';
import type { EntityKind } from '../drawing/entity.js';
import type { UnitName } from '../drawing/units.js';

/** A length with its unit, as it is kept; without one it is counted in the unit of the drawing it is used on. */
export interface Quantity {
  readonly value: number;
  readonly unit: UnitName;
}
export type Length = number | Quantity;
/** An area as it is kept: that many squares of the unit, or of the drawing's own. */
export type Area = number | Quantity;

export interface PointValue {
  readonly x: number;
  readonly y: number;
}

/** Which layers: those in sight, all, or those named. */
export interface LayerChoice {
  readonly mode: 'visible' | 'all' | 'chosen';
  readonly names: readonly string[];
}

/** A row of a chart: whatever is `from` becomes `to`. */
export interface ChartRow {
  readonly from: string;
  readonly to: string;
}

/** Entities by rule: every condition that is given must hold; none at all is everything. */
export interface Selection {
  /** Layers by name pattern (`*` stands for any letters, several apart by commas); empty for all. */
  readonly layers: string;
  readonly kinds: readonly EntityKind[];
  /** `#rrggbb`; empty for any. */
  readonly stroke: string;
  readonly fill: string;
  /** Groups by name pattern: of the group it lies in, or of one further out; empty for all. */
  readonly group: string;
  /** The longer side of the box around it, from and to; 0 for no bound. */
  readonly smallest: number;
  readonly largest: number;
  /** The closed outline it lies wholly in; none for anywhere. */
  readonly inside: readonly EntityRef[];
  /** These alone, as they were picked; none for all. */
  readonly only: readonly EntityRef[];
}

/** Conditions of a selection that came later: what was kept before there were any has none of them. */
export const LATER_CONDITIONS = { group: '', smallest: 0, largest: 0, inside: [], only: [] } as const;
/** So many entities can be picked one by one for a selection. */
export const MOST_PICKED = 2000;

/** What every parameter says of itself. `when`: it counts only while others have these values, or one of these. */
interface Common {
  readonly title: string;
  readonly description?: string;
  readonly when?: Readonly<Record<string, string | boolean | readonly string[]>>;
}

interface Bounded {
  readonly above?: number;
  readonly atLeast?: number;
  readonly atMost?: number;
}

export interface LengthParameter extends Common, Bounded {
  readonly kind: 'length';
  /** What a length of 0 stands for, in words: one that is found by itself. */
  readonly automatic?: string;
  readonly default: number;
}
export interface AreaParameter extends Common, Bounded {
  /** Counted in squares of the unit. */
  readonly kind: 'area';
  readonly default: number;
}
export interface AngleParameter extends Common, Bounded {
  /** Degrees, anticlockwise. */
  readonly kind: 'angle';
  readonly default: number;
}
export interface NumberParameter extends Common, Bounded {
  readonly kind: 'number';
  readonly default: number;
  readonly whole?: boolean;
  /** What stands behind it in a form. */
  readonly suffix?: string;
}
export interface YesNoParameter extends Common {
  readonly kind: 'yesNo';
  readonly default: boolean;
}
export interface TextParameter extends Common {
  readonly kind: 'text';
  readonly default: string;
  readonly maxLength: number;
  /** What names are offered. */
  readonly suggest?: 'fonts' | 'layers';
}
export interface ChoiceParameter<C extends string = string> extends Common {
  readonly kind: 'choice';
  readonly default: C;
  /** What may be chosen, in order, and what it is called. */
  readonly choices: Readonly<Record<C, string>>;
}
export interface ColourParameter extends Common {
  readonly kind: 'colour';
  /** `#rrggbb`. */
  readonly default: string;
}
export interface FontParameter extends Common {
  /** A family, or the name of a font file of drafting. */
  readonly kind: 'font';
  readonly default: string;
}
export interface PointParameter extends Common {
  readonly kind: 'point';
  readonly default: PointValue;
}
export interface PickedParameter extends Common {
  /** Entities picked in the drawing. */
  readonly kind: 'picked';
  readonly default: readonly EntityRef[];
  readonly atMost: number;
}
export interface LayersParameter extends Common {
  readonly kind: 'layers';
  readonly default: LayerChoice;
}
export interface SelectionParameter extends Common {
  readonly kind: 'selection';
  readonly default: Selection;
}
export interface DrawingParameter extends Common {
  /** Another drawing: its id in a job, its path in a shell; `null` for none. */
  readonly kind: 'drawing';
  readonly default: string | null;
}
export interface FileParameter extends Common {
  /** A file of the job, by its name; `null` for none. */
  readonly kind: 'file';
  readonly default: string | null;
}
export interface ListParameter<P extends Parameter = Parameter> extends Common {
  readonly kind: 'list';
  readonly default: readonly KeptValue[];
  readonly item: P;
  readonly atMost: number;
}
export interface ChartParameter extends Common {
  readonly kind: 'chart';
  readonly default: readonly ChartRow[];
  /** What stands on either side; the first row that fits counts. */
  readonly of: 'text' | 'colour';
  readonly columns: readonly [from: string, to: string];
  readonly atMost: number;
  /** What names stand on the left, to be offered and counted. */
  readonly suggest?: 'layers' | 'fonts';
  /** The names on the right are those of the template, where the drawing has one. */
  readonly agreed?: boolean;
}
export interface GroupParameter<S extends ParameterSet = ParameterSet> extends Common {
  readonly kind: 'group';
  readonly default: Kept;
  readonly params: S;
  /** It is folded away while nothing is said in it. */
  readonly folded?: boolean;
}
export interface OptionalParameter<P extends Parameter = Parameter> extends Common {
  /** Nothing (`null`), or what `of` asks for. */
  readonly kind: 'optional';
  readonly default: null;
  readonly of: P;
  /** What nothing amounts to, in a word or two. */
  readonly none: string;
}

/** What an operation asks for: plain data from which forms, schemas, validation, conversion and types follow. */
export type Parameter =
  | LengthParameter
  | AreaParameter
  | AngleParameter
  | NumberParameter
  | YesNoParameter
  | TextParameter
  | ChoiceParameter
  | ColourParameter
  | FontParameter
  | PointParameter
  | PickedParameter
  | LayersParameter
  | SelectionParameter
  | DrawingParameter
  | FileParameter
  | ListParameter
  | ChartParameter
  | GroupParameter
  | OptionalParameter;

export type ParameterSet = { readonly [name: string]: Parameter };

/** What a machine is given, by kind of parameter: lengths and areas in the unit of the drawing, angles in degrees. */
interface Values {
  length: number;
  area: number;
  angle: number;
  number: number;
  yesNo: boolean;
  text: string;
  colour: string;
  font: string;
  point: PointValue;
  picked: readonly EntityRef[];
  layers: LayerChoice;
  selection: Selection;
  drawing: string | null;
  file: string | null;
  chart: readonly ChartRow[];
}

/** The value a parameter has when an operation runs. */
export type ValueOf<P> = Parameter extends P
  ? KeptValue
  : P extends { kind: 'choice'; choices: Readonly<Record<infer C, string>> }
    ? C
    : P extends { kind: 'list'; item: infer I }
      ? readonly ValueOf<I>[]
      : P extends { kind: 'group'; params: infer S }
        ? Infer<S>
        : P extends { kind: 'optional'; of: infer O }
          ? ValueOf<O> | null
          : P extends { kind: infer K extends keyof Values }
            ? Values[K]
            : never;

/** The values of a set of parameters when an operation runs. */
export type Infer<S> = { readonly [K in keyof S]: ValueOf<S[K]> };

/** Parameters as they are kept and sent: plain data that `faultsOf` must still pass. */
export type Kept = { readonly [name: string]: KeptValue };
export type KeptValue =
  string | number | boolean | null | readonly KeptValue[] | { readonly [name: string]: KeptValue };

type Rest<P extends Parameter, Given extends keyof P = never> = Omit<P, 'kind' | Given>;

/** The selection that takes everything. */
export const EVERYTHING: Selection = { layers: '', kinds: [], stroke: '', fill: '', ...LATER_CONDITIONS };

/** A selection as it is kept: its sizes may carry a unit. */
export type KeptSelection = Omit<Selection, 'smallest' | 'largest'> & {
  readonly smallest: Length;
  readonly largest: Length;
};

/** Whether a selection has no condition. */
export function takesEverything(s: KeptSelection): boolean {
  const isAny = (v: Length): boolean => (typeof v === 'number' ? v : v.value) === 0;
  const texts = [s.layers, s.stroke, s.fill, s.group];
  return (
    texts.every((t) => t.trim() === '') &&
    [s.kinds, s.inside, s.only].every((list) => list.length === 0) &&
    isAny(s.smallest) &&
    isAny(s.largest)
  );
}

/** Whether a parameter counts while others have the values that they have. */
export const counts = (one: Pick<Parameter, 'when'>, valueOf: (name: string) => unknown): boolean =>
  Object.entries(one.when ?? {}).every(([name, wanted]) => {
    const value = valueOf(name);
    return Array.isArray(wanted) ? wanted.includes(value as string) : value === wanted;
  });

/** Makers of parameters. */
export const p = {
  length: (o: Rest<LengthParameter>): LengthParameter => ({ kind: 'length', ...o }),
  area: (o: Rest<AreaParameter>): AreaParameter => ({ kind: 'area', ...o }),
  angle: (o: Rest<AngleParameter>): AngleParameter => ({ kind: 'angle', ...o }),
  number: (o: Rest<NumberParameter>): NumberParameter => ({ kind: 'number', ...o }),
  yesNo: (o: Rest<YesNoParameter>): YesNoParameter => ({ kind: 'yesNo', ...o }),
  text: (o: Rest<TextParameter>): TextParameter => ({ kind: 'text', ...o }),
  choice: <C extends string>(
    o: Common & { choices: Readonly<Record<C, string>>; default: NoInfer<C> },
  ): ChoiceParameter<C> => ({ kind: 'choice', ...o }),
  colour: (o: Rest<ColourParameter>): ColourParameter => ({ kind: 'colour', ...o }),
  font: (o: Rest<FontParameter>): FontParameter => ({ kind: 'font', ...o }),
  point: (o: Rest<PointParameter, 'default'> & { default?: PointValue }): PointParameter => ({
    kind: 'point',
    default: { x: 0, y: 0 },
    ...o,
  }),
  picked: (o: Rest<PickedParameter, 'default'>): PickedParameter => ({ kind: 'picked', default: [], ...o }),
  layers: (o: Rest<LayersParameter, 'default'>): LayersParameter => ({
    kind: 'layers',
    default: { mode: 'visible', names: [] },
    ...o,
  }),
  selection: (o: Rest<SelectionParameter, 'default'>): SelectionParameter => ({
    kind: 'selection',
    default: EVERYTHING,
    ...o,
  }),
  drawing: (o: Rest<DrawingParameter, 'default'>): DrawingParameter => ({ kind: 'drawing', default: null, ...o }),
  file: (o: Rest<FileParameter, 'default'>): FileParameter => ({ kind: 'file', default: null, ...o }),
  list: <P extends Parameter>(
    o: Common & { item: P; atMost: number; default?: readonly KeptValue[] },
  ): ListParameter<P> => ({
    kind: 'list',
    default: [],
    ...o,
  }),
  chart: (o: Rest<ChartParameter, 'default'>): ChartParameter => ({ kind: 'chart', default: [], ...o }),
  group: <S extends ParameterSet>(o: Common & { params: S; folded?: boolean }): GroupParameter<S> => ({
    kind: 'group',
    default: defaultsOf(o.params),
    ...o,
  }),
  optional: <P extends Parameter>(of: P, none: string): OptionalParameter<P> => ({
    kind: 'optional',
    title: of.title,
    ...(of.description !== undefined && { description: of.description }),
    ...(of.when && { when: of.when }),
    default: null,
    of,
    none,
  }),
};

/** What a set of parameters is while nobody has said anything. */
export const defaultsOf = (set: ParameterSet): Kept =>
  Object.fromEntries(Object.entries(set).map(([name, one]) => [name, one.default as KeptValue]));
