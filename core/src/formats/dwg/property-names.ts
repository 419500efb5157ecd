import { DIM_HANDLES, DIM_VARIABLES, DIM_WEIGHTS, OLD_DIM_SIZES, OLD_DIM_VARIABLES } from './dim-variables.js';

/*
 * What groups of records say, in words: for those that no DWG of some version has a place for (DXF reference).
 */

const OF_STYLES = new Map(
  [...DIM_VARIABLES, ...DIM_WEIGHTS, ...DIM_HANDLES, ...OLD_DIM_VARIABLES, ...OLD_DIM_SIZES].map(
    ([name, , code]) => [code, name] as const,
  ),
);

/** Groups that mean the same wherever they stand. */
const OF_ALL: Record<number, string> = {
  6: 'the linetype',
  39: 'the thickness',
  48: 'the scale of the linetype',
  60: 'whether it is seen',
  62: 'the colour',
  92: 'the size of a preview',
  310: 'a preview',
  347: 'the material',
  348: 'the visual style',
  370: 'the line weight',
  420: 'the true colour',
  430: 'the name of a colour',
  440: 'the transparency',
};

const OF_RECORDS: Record<string, Record<number, string>> = {
  ATTDEF: {
    11: 'the point it is aligned by',
    21: 'the point it is aligned by',
    74: 'how it is aligned',
    280: 'whether its place is locked',
  },
  ATTRIB: {
    11: 'the point it is aligned by',
    21: 'the point it is aligned by',
    74: 'how it is aligned',
    280: 'whether its place is locked',
  },
  DIMENSION: { 41: 'the spacing of its lines', 71: 'where its text is attached', 72: 'how its lines are spaced' },
  LAYOUT: { 76: 'how it is shaded', 77: 'how finely it is shaded', 78: 'how finely it is shaded' },
  MTEXT: {
    44: 'the spacing of lines',
    45: 'how far its background reaches',
    63: 'the colour of its background',
    73: 'how lines are spaced',
    90: 'its background',
    441: 'the transparency of its background',
  },
  MULTILEADER: {
    294: 'whether its text runs the other way',
    178: 'how its text is aligned',
    179: 'where its text is attached',
    45: 'its scale',
  },
  SPLINE: { 44: 'how near it comes to its fit points' },
  VIEWPORT: {
    14: 'the spacing of its snap',
    24: 'the spacing of its snap',
    15: 'the spacing of its grid',
    25: 'the spacing of its grid',
    42: 'its lens',
    43: 'where it is cut in front',
    44: 'where it is cut behind',
    72: 'how finely its circles are drawn',
    74: 'the mark of its axes',
    90: 'its switches',
    110: 'its axes',
    111: 'its axes',
    112: 'its axes',
    120: 'its axes',
    121: 'its axes',
    122: 'its axes',
    130: 'its axes',
    131: 'its axes',
    132: 'its axes',
  },
};

/** What a group of a record says, for a person; its number where nobody has a word for it. */
export function propertyName(record: string, code: number): string {
  const style = record === 'DIMSTYLE' ? OF_STYLES.get(code) : undefined;
  return style ?? OF_RECORDS[record]?.[code] ?? OF_ALL[code] ?? `what group ${code} says`;
}
