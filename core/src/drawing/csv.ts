/**
 * Lines as comma-separated values (RFC 4180: lines end in CRLF, quotes are doubled). Words that a spreadsheet would take for a
 * formula get an apostrophe before them: names in them come from files.
 */
export const csvOf = (lines: readonly (readonly (string | number)[])[]): string =>
  lines.map((line) => `${line.map(cell).join(',')}\r\n`).join('');

function cell(value: string | number): string {
  const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
