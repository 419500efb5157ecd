/**
 * What a format is like, whoever reads or writes it: the questions that are asked of where a drawing came from or goes to. A new
 * format answers them here and the compiler asks for each.
 */
export interface FormatTraits {
  /** Drafting files keep handles, tables and objects of their own; artwork is painted in the order of its elements. */
  readonly family: 'drafting' | 'artwork';
  /** Names of layers and blocks are the same whatever their capitals. */
  readonly foldsNames: boolean;
  /** A size it claims is the true one: a decided unit then only says in what it is counted. */
  readonly statesTrueSize: boolean;
  /** It can be without a unit, so that the receiver has to know it. */
  readonly unitless: boolean;
  /** What its coordinates are counted in, whatever unit was asked for, where it leaves no choice. */
  readonly countsIn?: { readonly unit: 'in'; readonly parts: number; readonly title: string };
  readonly yDown: boolean;
  /** A renderer that is not ours can draw the file itself. */
  readonly hasRenderer?: boolean;
  /** Texts are letters in their places: which point they were aligned by, and letters that no font has, are not in it. */
  readonly lettersPlaced?: boolean;
  /** It is made of pixels: what is written to it comes back as one picture. */
  readonly pixels?: boolean;
  /** What a drawing of this format is most often written as. */
  readonly oftenBecomes: 'dxf' | 'svg';
}

const drafting = {
  family: 'drafting',
  foldsNames: true,
  statesTrueSize: false,
  unitless: true,
  yDown: false,
  oftenBecomes: 'svg',
} as const;

const picture = {
  family: 'artwork',
  foldsNames: false,
  statesTrueSize: true,
  unitless: false,
  yDown: false,
  pixels: true,
  oftenBecomes: 'svg',
} as const;

export const FORMAT_TRAITS = {
  dxf: drafting,
  dwg: drafting,
  svg: {
    family: 'artwork',
    foldsNames: false,
    statesTrueSize: true,
    unitless: false,
    yDown: true,
    hasRenderer: true,
    oftenBecomes: 'dxf',
  },
  pdf: {
    family: 'artwork',
    foldsNames: false,
    statesTrueSize: true,
    unitless: false,
    lettersPlaced: true,
    countsIn: { unit: 'in', parts: 72, title: 'points, 1/72 in' },
    yDown: false,
    oftenBecomes: 'dxf',
  },
  coordinates: {
    family: 'artwork',
    foldsNames: false,
    statesTrueSize: false,
    unitless: true,
    yDown: false,
    oftenBecomes: 'dxf',
  },
  png: picture,
  jpeg: picture,
} as const satisfies Record<string, FormatTraits>;

export type FormatId = keyof typeof FORMAT_TRAITS;

/** The traits of a format by its id, as it is stored and sent. Throws `RangeError` for an id that is none. */
export function traitsOf(format: string): FormatTraits {
  if (!Object.hasOwn(FORMAT_TRAITS, format)) throw new RangeError(`no format is called "${format}"`);
  return FORMAT_TRAITS[format as FormatId];
}

/** Whether a drawing came in a drafting format. */
export const isDrafting = (drawing: { readonly format: string }): boolean =>
  traitsOf(drawing.format).family === 'drafting';
