/*
 * Coordinates as text: x and y, and a third number, in each line; a blank line begins the next outline; `#` begins a comment. What can be
 * read in two ways is not decided here, and a line that cannot be read is told, never skipped.
 */

/** What a third column is: how an edge bulges (the tangent of a quarter of its angle), or how high its point lies. */
export type ThirdColumn = 'bulge' | 'height';
export type DecimalSign = 'point' | 'comma';

export interface CoordinateChoices {
  readonly decimal?: DecimalSign;
  readonly third?: ThirdColumn;
}

export interface WrongLine {
  /** Counted from 1. */
  readonly line: number;
  readonly text: string;
  readonly reason: string;
}

export interface CoordinateOutline {
  /** x, y and, in three columns, the third of each point. The first is not repeated at the end. */
  readonly points: readonly (readonly number[])[];
  /** The line that its first point stands in. */
  readonly line: number;
}

export interface ReadCoordinates {
  readonly outlines: readonly CoordinateOutline[];
  readonly columns: 2 | 3;
  /** What the third column is by what was chosen, by a heading, or by its numbers; `null` where there is none, or nobody says. */
  readonly third: ThirdColumn | null;
  /** Why, in words; what speaks for it where it is not decided. */
  readonly evidence: string;
  readonly wrong: readonly WrongLine[];
  /** What has to be asked before anything is taken in. */
  readonly open: readonly ('decimal' | 'third')[];
}

/** More points, or longer lines, are not read. */
export const MOST_POINTS = 1_000_000;
const LONGEST_LINE = 1000;
const SHOWN = 60;

interface Row {
  readonly line: number;
  readonly text: string;
}

type Separator = 'semicolon' | 'tab' | 'comma' | 'blanks';

/** What parts the numbers of the rows: semicolons before tabs before the rest; commas, unless they stand between digits while blanks part. */
function separatorOf(rows: readonly Row[]): Separator {
  const some = (test: RegExp): boolean => rows.some((r) => test.test(r.text));
  if (some(/;/)) return 'semicolon';
  if (some(/\t/)) return 'tab';
  if (!some(/,/)) return 'blanks';
  // A comma between digits in a line that blanks part is a decimal sign; one with a blank behind it parts.
  return rows.some((r) => /\S\s+\S/.test(r.text.replace(/\s*,\s+/g, ','))) ? 'blanks' : 'comma';
}

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

/** Reads a text. Nothing of it is given up in silence: what is not a point, an outline's end or a comment is in `wrong`. */
export function parseCoordinates(text: string, choices: CoordinateChoices = {}): ReadCoordinates {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  const rows: Row[] = lines.map((t, i) => ({ line: i + 1, text: t.replace(/#.*$/, '').trim() }));
  const wrong: WrongLine[] = [];
  const tell = (r: Row, reason: string): void =>
    void wrong.push({ line: r.line, text: r.text.length > SHOWN ? `${r.text.slice(0, SHOWN)}…` : r.text, reason });
  const heading = headingOf(rows);
  const data = rows.filter((r) => r !== heading && r.text !== '');
  const separator = separatorOf(data);
  // Commas alone that leave more numbers than a line can have: two to a number, or one number too many.
  const isOpen =
    separator === 'comma' && choices.decimal === undefined && data.some((r) => fieldsOf(r.text, 'comma').length > 3);
  const comma = choices.decimal === 'comma' || (choices.decimal === undefined && separator !== 'comma');
  const outlines: { points: number[][]; line: number }[] = [];
  let now: { points: number[][]; line: number } | null = null;
  const hurtOutlines = new Set<object>();
  let hurt = false;
  let count = 0;
  for (const r of rows) {
    if (r === heading) continue;
    if (r.text === '') {
      // A line that holds a comment alone parts nothing.
      if (lines[r.line - 1]!.trim() === '') {
        now = null;
        hurt = false;
      }
      continue;
    }
    const numbers = numbersOf(r, separator, comma, tell);
    if (!numbers) {
      // An outline is not blamed for the points that a wrong line kept from it.
      hurt = true;
      if (now) hurtOutlines.add(now);
      continue;
    }
    if (++count > MOST_POINTS) {
      tell(r, `there are more than ${MOST_POINTS} points`);
      break;
    }
    if (!now) {
      outlines.push((now = { points: [], line: r.line }));
      if (hurt) hurtOutlines.add(now);
    }
    now.points.push(numbers);
  }
  const widths = new Set(outlines.flatMap((o) => o.points.map((p) => p.length)));
  const columns = widths.has(3) ? 3 : 2;
  for (const o of outlines) {
    const [first, last] = [o.points[0]!, o.points[o.points.length - 1]!];
    // Closed by its first point again, which is no other.
    if (o.points.length > 2 && first[0] === last[0] && first[1] === last[1]) o.points.pop();
  }
  const { third, evidence } = columns === 2 ? { third: null, evidence: '' } : thirdOf(outlines, heading, choices.third);
  if (!isOpen)
    for (const o of outlines) {
      // While nobody says what a third number is, it may be a bulge.
      const round = third !== 'height' && o.points.some((p) => (p[2] ?? 0) !== 0);
      if (!hurtOutlines.has(o) && o.points.length < (round ? 2 : 3))
        wrong.push({
          line: o.line,
          text: '',
          reason: `an outline of ${o.points.length === 1 ? 'one point' : `${o.points.length} points`} has no area`,
        });
    }
  return {
    outlines,
    columns,
    third,
    evidence,
    // While it is open how numbers are parted, no line is wrong.
    wrong: isOpen ? [] : wrong.sort((a, b) => a.line - b.line),
    open: [
      ...(isOpen ? (['decimal'] as const) : []),
      ...(!isOpen && columns === 3 && third === null ? (['third'] as const) : []),
    ],
  };
}

/** The first line that holds words and no number: it says what the columns are. */
function headingOf(rows: readonly Row[]): Row | null {
  const first = rows.find((r) => r.text !== '');
  return first && !/\d/.test(first.text) && /[a-z]/i.test(first.text) ? first : null;
}

function fieldsOf(text: string, separator: Separator): string[] {
  const by = { semicolon: /\s*;\s*/, tab: /\s*\t\s*/, comma: /\s*,\s*/, blanks: /\s+/ }[separator];
  return text.split(by);
}

function numbersOf(
  r: Row,
  separator: Separator,
  comma: boolean,
  tell: (r: Row, reason: string) => void,
): number[] | null {
  if (r.text.length > LONGEST_LINE) {
    tell(r, `the line has more than ${LONGEST_LINE} letters`);
    return null;
  }
  let fields = fieldsOf(r.text, separator);
  if (separator === 'comma' && comma) {
    if (fields.length % 2 === 1) {
      tell(r, 'with commas as decimal signs its digits do not pair');
      return null;
    }
    fields = Array.from({ length: fields.length / 2 }, (_, i) => `${fields[2 * i]}.${fields[2 * i + 1]}`);
  } else if (comma) {
    const both = fields.find((f) => f.includes(',') && f.includes('.'));
    if (both !== undefined) {
      tell(r, `“${both}” has a comma and a point`);
      return null;
    }
    fields = fields.map((f) => f.replace(',', '.'));
  }
  // A separator at the end of a line parts nothing.
  if (separator !== 'blanks' && fields[fields.length - 1] === '') fields.pop();
  const none = fields.find((f) => !NUMBER.test(f));
  if (none !== undefined) {
    tell(r, none === '' ? 'a number is missing between two separators' : `“${none}” is no number`);
    return null;
  }
  if (fields.length < 2 || fields.length > 3) {
    tell(
      r,
      fields.length < 2
        ? 'there is one number, and x and y are two'
        : `there are ${fields.length} numbers, and three are the most`,
    );
    return null;
  }
  const numbers = fields.map(Number);
  const beyond = numbers.findIndex((v) => !(Math.abs(v) <= 1e50));
  if (beyond >= 0) {
    tell(r, `“${fields[beyond]}” is beyond all bounds`);
    return null;
  }
  return numbers;
}

/** Bulges beyond this turn more than an edge of an outline does. */
const MOST_BULGE = 1;

function thirdOf(
  outlines: readonly { points: readonly number[][] }[],
  heading: Row | null,
  chosen: ThirdColumn | undefined,
): { third: ThirdColumn | null; evidence: string } {
  if (chosen) return { third: chosen, evidence: 'as it was said' };
  const words = heading?.text.toLowerCase() ?? '';
  if (/\bbulge\b/.test(words)) return { third: 'bulge', evidence: `the heading says “${heading!.text}”` };
  if (/\b(z|height|elevation)\b/.test(words))
    return { third: 'height', evidence: `the heading says “${heading!.text}”` };
  const all = outlines.flatMap((o) => o.points.map((p) => p[2] ?? 0));
  const most = all.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  return {
    third: null,
    evidence:
      most <= MOST_BULGE
        ? 'all its numbers lie between −1 and 1, as bulges do'
        : `its numbers go up to ${most}, further than bulges do`,
  };
}

/** Outlines as text that reads back the same: the fewest digits, tabs between numbers, a blank line between outlines, a heading where there is a third column. */
export function coordinatesText(
  outlines: readonly (readonly (readonly number[])[])[],
  third: ThirdColumn | null,
): string {
  const heading = third === null ? '' : `x\ty\t${third}\n`;
  return (
    heading +
    outlines.map((o) => o.map((p) => p.map((v) => String(v === 0 ? 0 : v)).join('\t')).join('\n') + '\n').join('\n')
  );
}
