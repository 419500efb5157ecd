import { wordTable } from '../../drawing/word-table.js';

/** Versions by the six letters that a file begins with. Compared as numbers: R13 and R14 before 2000. */
export const DWG_VERSIONS = wordTable<number>({
  AC1012: 13,
  AC1014: 14,
  AC1015: 2000,
  AC1018: 2004,
  AC1021: 2007,
  AC1024: 2010,
  AC1027: 2013,
  AC1032: 2018,
});

/** Versions that can be written, by the year, with the letters. */
export const WRITABLE_DWG = wordTable<string>({
  R14: 'AC1014',
  '2000': 'AC1015',
  '2004': 'AC1018',
  '2010': 'AC1024',
  '2013': 'AC1027',
  '2018': 'AC1032',
});

/** Code pages by the number that the file header has for them (Open Design Specification, "DWGCODEPAGE"). */
const CODE_PAGES: Record<number, string> = {
  28: 'ANSI_1250',
  29: 'ANSI_1251',
  30: 'ANSI_1252',
  31: 'GB2312',
  32: 'ANSI_1253',
  33: 'ANSI_1254',
  34: 'ANSI_1255',
  35: 'ANSI_1256',
  36: 'ANSI_1257',
  37: 'ANSI_874',
  38: 'ANSI_932',
  39: 'ANSI_936',
  40: 'ANSI_949',
  41: 'ANSI_950',
  42: 'ANSI_1361',
  44: 'ANSI_1258',
  24: 'ANSI_866',
  25: 'ANSI_866',
  1: 'ANSI_1252',
};

/** The name of a code page by its number in the file header. */
export const codePageName = (number: number): string => CODE_PAGES[number] ?? 'ANSI_1252';
/** The number of a code page of Western Europe, in which files before 2007 are written. */
export const CODE_PAGE_1252 = 30;
