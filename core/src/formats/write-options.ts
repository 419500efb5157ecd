import type { Infer, ParameterSet } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import type { UnitName } from '../drawing/units.js';
import type { Box2 } from '../geometry/box.js';
import type { FontBook } from '../text/fonts.js';
import type { PictureMade } from './picture/shown.js';

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

/** How lines and colours of art are to be other than the drawing has them. */
const LOOKS = {
  /** One width for all lines, in mm; nothing for their own. */
  hairline: p.optional(
    p.number({ title: 'One width for all lines', default: 0.1, above: 0, atMost: 100, suffix: 'mm' }),
    'own',
  ),
  /** Colours replaced by others, for machines that read colours as operations. */
  colours: p.chart({ title: 'Colour chart', of: 'colour', columns: ['colour', 'written as'], atMost: 1000 }),
};

const INK = {
  ink: p.choice({ title: 'Ink', default: 'colours', choices: { colours: 'colours', black: 'black only' } }),
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
  ...LOOKS,
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
  part: p.choice({
    when: { pageSize: ['drawing', 'paper'] },
    title: 'Of the drawing',
    default: 'all',
    choices: { all: 'all is shown', box: 'what lies between two corners' },
  }),
  corner: p.point({ when: { part: 'box' }, title: 'One corner' }),
  opposite: p.point({ when: { part: 'box' }, title: 'The opposite corner' }),
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
  /** Pixels to the inch on paper; nothing for all that they have. */
  picturesAt: p.optional(
    p.number({ title: 'Pictures in at most', default: 300, atLeast: 10, atMost: 10_000, suffix: 'px/in' }),
    'all their pixels',
  ),
  checkBar: p.yesNo({ title: 'A bar of 100 mm to check the print by', default: false }),
  ...INK,
  ...LOOKS,
};

const PICTURE = {
  shows: p.choice({
    title: 'The picture shows',
    default: 'all',
    choices: { all: 'all of the drawing', box: 'what lies between two corners', sheet: 'a sheet of the drawing' },
  }),
  corner: p.point({ when: { shows: 'box' }, title: 'One corner' }),
  opposite: p.point({ when: { shows: 'box' }, title: 'The opposite corner' }),
  sheet: p.text({
    when: { shows: 'sheet' },
    title: 'Sheet',
    description: 'its name; the first one where it is empty',
    maxLength: 200,
    default: '',
  }),
  size: p.choice({
    title: 'It is as large as',
    default: 'pixels',
    choices: { pixels: 'a number of pixels', resolution: 'pixels to the inch come to' },
  }),
  pixels: p.number({
    when: { size: 'pixels' },
    title: 'Pixels along the longer side',
    default: 2400,
    whole: true,
    atLeast: 16,
    atMost: 30_000,
  }),
  perInch: p.number({
    when: { size: 'resolution' },
    title: 'Pixels to the inch',
    default: 150,
    above: 0,
    atMost: 10_000,
  }),
  scale: p.number({
    when: { size: 'resolution' },
    title: 'Scale, 1 to',
    description: 'how many times smaller the picture shows it',
    default: 1,
    above: 0,
    atMost: 1e9,
  }),
  marginIn: p.choice({
    title: 'Margin in',
    default: 'percent',
    choices: { percent: '% of the longer side', mm: 'mm' },
  }),
  margin: p.number({ title: 'Margin', default: 2, atLeast: 0, atMost: 1000 }),
};

const GROUND_COLOUR = p.colour({ when: { ground: 'colour' }, title: 'Colour of the ground', default: '#ffffff' });

const PICTURE_LOOKS = {
  widths: p.choice({
    title: 'Line widths',
    default: 'seen',
    choices: { seen: 'true, but a pixel at least', true: 'true' },
  }),
  ...INK,
  ...LOOKS,
};

export const PNG_OPTIONS = {
  ...PICTURE,
  ground: p.choice({
    title: 'Ground',
    default: 'white',
    choices: { white: 'white', clear: 'clear', colour: 'a colour' },
  }),
  groundColour: GROUND_COLOUR,
  ...PICTURE_LOOKS,
};

export const JPEG_OPTIONS = {
  ...PICTURE,
  ground: p.choice({ title: 'Ground', default: 'white', choices: { white: 'white', colour: 'a colour' } }),
  groundColour: GROUND_COLOUR,
  ...PICTURE_LOOKS,
  quality: p.number({
    title: 'Quality',
    description: '100 is the best and largest',
    default: 90,
    whole: true,
    atLeast: 1,
    atMost: 100,
  }),
};

export const COORDINATES_OPTIONS = {
  text: p.choice({
    title: 'Text',
    default: 'keep',
    choices: { keep: 'is left out', outlines: 'becomes outlines' },
  }),
  columns: p.choice({
    title: 'Columns',
    default: 'bulges',
    choices: {
      bulges: 'x, y and how edges bulge, where some do',
      heights: 'x, y and heights',
      plain: 'x and y alone',
    },
  }),
  /** In the unit of the file; nothing for a part of the drawing's size. */
  tolerance: p.optional(p.length({ title: 'Curves lie within', default: 0.01, above: 0 }), 'by size'),
};

type All = Infer<typeof DXF_OPTIONS & typeof SVG_OPTIONS & typeof PDF_OPTIONS & typeof PNG_OPTIONS> &
  Pick<Infer<typeof JPEG_OPTIONS>, 'quality'> &
  Pick<Infer<typeof COORDINATES_OPTIONS>, 'columns'>;

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
  /** PNG and JPEG: what the picture shows and how; absent to work it out from the options. */
  picture?: PictureMade;
  fonts: FontBook;
}

/** How a file is asked to look otherwise than the drawing. */
export type AskedLooks = Pick<WriteOptions, 'hairline' | 'colours' | 'ink'>;

/** The names of all options there are, whatever the format. */
export const OPTION_NAMES: readonly string[] = Object.keys({
  ...DXF_OPTIONS,
  ...SVG_OPTIONS,
  ...PDF_OPTIONS,
  ...PNG_OPTIONS,
  ...JPEG_OPTIONS,
  ...COORDINATES_OPTIONS,
} satisfies ParameterSet);
