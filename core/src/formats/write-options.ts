import type { Infer, ParameterSet } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import type { UnitName } from '../drawing/units.js';
import type { Box2 } from '../geometry/box.js';
import type { FontBook } from '../text/fonts.js';

/*
 * What can be asked of the writers: a new option is declared here and read by its writer. Form, flag of the shell command,
 * validation and schema follow. A `when` with `source` counts only for drawings that came as artwork or as drafting.
 */

const LETTERS = {
  text: p.choice({
    title: 'Text',
    default: 'keep',
    choices: {
      keep: 'stays text',
      outlines: 'becomes outlines',
      lines: 'becomes single lines',
      fittedLines: 'becomes single lines, fitted',
    },
  }),
};

const DRAFTING = {
  curves: p.choice({
    when: { source: 'artwork' },
    title: 'Paths of lines and curves become',
    default: 'spline',
    choices: { spline: 'one exact spline', arcs: 'a polyline of arcs', pieces: 'a group of separate curves' },
  }),
  /** In the unit of the file; nothing for a part of the drawing's size. */
  tolerance: p.optional(
    p.length({ when: { curves: 'arcs' }, title: 'Arcs lie within', default: 0.01, above: 0 }),
    'by size',
  ),
  template: p.drawing({ title: 'Template', description: 'gives layers, linetypes, text and dimension styles' }),
};

export const DXF_OPTIONS = {
  ...LETTERS,
  ...DRAFTING,
  binary: p.yesNo({ title: 'Binary form', default: false }),
};

export const DWG_OPTIONS = { ...LETTERS, ...DRAFTING };

export const SVG_OPTIONS = {
  ...LETTERS,
  style: p.choice({
    title: 'Looks written as',
    default: 'plain',
    choices: { plain: 'attributes', inline: 'style attributes', sheet: 'a stylesheet' },
  }),
  decimals: p.number({
    title: 'Decimals',
    description: 'digits after the point',
    default: 6,
    whole: true,
    atLeast: 0,
    atMost: 15,
  }),
  arcs: p.choice({ title: 'Arcs', default: 'arcs', choices: { arcs: 'stay arcs', cubics: 'become cubics' } }),
  page: p.choice({
    title: 'Page',
    default: 'keep',
    choices: { keep: 'the source’s own, or around all lines', outlines: 'as large as the outlines' },
  }),
  blocks: p.choice({
    when: { source: 'drafting' },
    title: 'Blocks',
    default: 'expanded',
    choices: { expanded: 'copied out', shared: 'defined once and reused' },
  }),
  /** One width for all lines, in mm; nothing for their own. */
  hairline: p.optional(
    p.number({ title: 'One width for all lines', default: 0.1, above: 0, atMost: 100, suffix: 'mm' }),
    'own',
  ),
  /** Colours replaced by others, for machines that read colours as operations. */
  colours: p.chart({ title: 'Colour chart', of: 'colour', columns: ['colour', 'written as'], atMost: 1000 }),
};

export const PDF_OPTIONS = {
  ...LETTERS,
  pageSize: p.choice({
    title: 'Page',
    default: 'drawing',
    choices: {
      drawing: 'as large as the drawing, with a margin',
      paper: 'paper of a size',
      tiles: 'tiles of paper, to be put together',
      sheets: 'the sheets of the drawing',
    },
  }),
  sheets: p.text({
    when: { pageSize: 'sheets' },
    title: 'Sheets',
    description: 'names apart by commas, * for any letters',
    maxLength: 2000,
    default: '*',
  }),
  margin: p.number({ title: 'Margin', default: 10, atLeast: 0, atMost: 1000, suffix: 'mm' }),
  fit: p.choice({
    when: { pageSize: 'paper' },
    title: 'Drawing is put on it',
    default: 'scale',
    choices: { scale: 'at a scale', fitted: 'fitted, not to be measured' },
  }),
  scale: p.number({
    when: { pageSize: ['paper', 'tiles'], fit: 'scale' },
    title: 'Scale, 1 to',
    description: 'how many times smaller the paper shows it',
    default: 1,
    above: 0,
    atMost: 1e9,
  }),
  paper: p.choice({
    when: { pageSize: ['paper', 'tiles'] },
    title: 'Paper',
    default: 'a4',
    choices: { a4: 'A4', a3: 'A3', a2: 'A2', a1: 'A1', a0: 'A0' },
  }),
  overlap: p.number({
    when: { pageSize: 'tiles' },
    title: 'Tiles overlap by',
    default: 10,
    atLeast: 0,
    atMost: 100,
    suffix: 'mm',
  }),
  turned: p.choice({
    when: { pageSize: ['paper', 'tiles'] },
    title: 'Paper lies',
    default: 'fits',
    choices: { fits: 'as the drawing fits better', upright: 'upright', across: 'across' },
  }),
  checkBar: p.yesNo({ title: 'A bar of 100 mm to check the print by', default: false }),
  ink: p.choice({ title: 'Ink', default: 'colours', choices: { colours: 'colours', black: 'black only' } }),
  hairline: p.optional(
    p.number({ title: 'One width for all lines', default: 0.1, above: 0, atMost: 100, suffix: 'mm' }),
    'own',
  ),
  colours: p.chart({ title: 'Colour chart', of: 'colour', columns: ['colour', 'written as'], atMost: 1000 }),
};

type All = Infer<typeof DXF_OPTIONS & typeof SVG_OPTIONS & typeof PDF_OPTIONS>;

/** What a writer is told: what it was asked for, of which any may be missing, and what it needs beside. */
export interface WriteOptions extends Partial<All> {
  /** Version of the format, such as `2010` for DXF and DWG or `1.1` for SVG. */
  version?: string;
  /** Unit of the coordinates in the file; the drawing is in `unit` already. */
  unit: UnitName;
  /** DXF and DWG: the file does not say what its unit is. */
  unitless?: boolean;
  /** Names that go into the file for a person to read. */
  title?: string;
  /** PDF: what of the drawing each page shows; absent for one page around all of it. */
  pages?: readonly Box2[];
  /** PDF: the page of each object by its id, where there are several. */
  pageOf?: ReadonlyMap<number, number>;
  fonts: FontBook;
}

/** How a file is asked to look otherwise than the drawing. */
export type AskedLooks = Pick<WriteOptions, 'hairline' | 'colours' | 'ink'>;

/** The names of all options there are, whatever the format. */
export const OPTION_NAMES: readonly string[] = Object.keys({
  ...DXF_OPTIONS,
  ...SVG_OPTIONS,
  ...PDF_OPTIONS,
} satisfies ParameterSet);
