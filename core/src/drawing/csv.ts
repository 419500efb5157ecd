import Papa from 'papaparse';

/** What stands between the cells of a table, and before the decimals of its numbers. */
export interface CsvForm {
  readonly between: ',' | ';' | '\t';
  readonly decimal: '.' | ',';
}
const PLAIN: CsvForm = { between: ',', decimal: '.' };

/**
 * Lines as comma-separated values (RFC 4180: lines end in CRLF, quotes are doubled), or in another form. Words that a spreadsheet would take for a
 * formula get an apostrophe before them: names in them come from files.
 */
export const csvOf = (lines: readonly (readonly (string | number)[])[], form = PLAIN): string =>
  lines.map((line) => `${line.map((v) => cell(v, form)).join(form.between)}\r\n`).join('');

function cell(value: string | number, { between, decimal }: CsvForm): string {
  const text = typeof value === 'number' ? String(value).replace('.', decimal) : guarded(value);
  return text.includes(between) || /["\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

const FORMULA = /^[=+\-@\t\r]/;

/** Lines with tabs between cells, as spreadsheets take them from the clipboard; tabs and line ends in cells become spaces. */
export const tabbedOf = (lines: readonly (readonly (string | number)[])[]): string =>
  lines.map((line) => line.map((v) => guarded(v).replace(/[\t\r\n]+/g, ' ')).join('\t')).join('\n');

const guarded = (v: string | number): string => (typeof v === 'string' && FORMULA.test(v) ? `'${v}` : String(v));

/**
 * The cells of a table that came as text: apart by commas, semicolons or tabs, whichever its lines agree on. An apostrophe that stands
 * before what could be a formula, as `csvOf` puts it there, is taken off again. Lines without a cell are left out.
 */
export function cellsOf(text: string): string[][] {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    delimitersToGuess: [',', ';', '\t'],
    skipEmptyLines: 'greedy',
  });
  return data.map((line) => line.map((v) => (v.startsWith("'") && FORMULA.test(v.slice(1)) ? v.slice(1) : v)));
}
