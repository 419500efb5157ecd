import { parseArgs } from 'node:util';
import type { Kept, Purpose, UnitName } from '@scalaria/core';
import { FORMAT_CATALOGUE, PURPOSES, isUnitName } from '@scalaria/core';
import { flagConfig, intakeHelp, numberOf, optionHelp, pairsOf, readDecisions, readOptions } from './flags.js';
import { WrongUsage } from './wrong-usage.js';

export { WrongUsage } from './wrong-usage.js';

/** What a drawing is made ready for, by the words of the shell. */
const PURPOSE_NAMES = Object.keys(PURPOSES) as Purpose[];
const FORMAT_IDS = Object.values(FORMAT_CATALOGUE).map((f) => f.id);
/** The versions of each format that can be written, a line each. */
const VERSIONS = Object.values(FORMAT_CATALOGUE)
  .map((f) => `${f.title}: ${f.versions.join(', ')}`)
  .join(';\n                         ');

export const USAGE = `scalaria – vector drawings from one format to another, with proof

  scalaria inspect FILE... [--purpose P] [--no-checks] [--json]
      What each file claims: format, version, unit, size, layers, kinds, fonts, colours, findings.
      --purpose P        what it is made ready for, which decides what is a fault: ${PURPOSE_NAMES.join(', ')}
      --no-checks        what it claims only, without looking for faults

  scalaria convert IN OUT [options]
  scalaria convert IN... FOLDER --to ${FORMAT_IDS.join('|')} [options]
      Writes, reads back and proves. Prints ledger and proof.
      --version V        version of the format to write (${VERSIONS})
      --font-folder DIR  fonts to take letters from, before those that ship
      --picture-folder DIR  pictures (PNG, JPEG) that the drawing names are looked for here
      --reference-folder DIR  drawings (DXF, DWG) that it refers to, for a step that takes them in
      --font A=B         family B stands for A; may be given more than once
      --unit U           unit of the written file (mm, cm, m, in, ft, …)
      --from-unit U      unit of a drawing that states none, or a wrong one; none leaves a DXF or DWG
                         without one, its numbers as they are
      --layers L         visible (as it is by default) or all
      --origin O         keep (as it is by default), lower-left, centre, page
      --recipe FILE      decisions, steps and target from a file
      --to FORMAT        the format, when several files go to a folder
      --overwrite        replace files that exist
      --json             machine-readable output (cli/schema/output.schema.json)

    what is decided on taking in:
${intakeHelp()}

    what is asked of the file that is written:
${optionHelp()}

  scalaria parts FILE... [--recipe FILE] [--json | --csv]
      The parts of each file: outlines with their holes, numbered, equal ones counted. How they are found and
      numbered, and what is done to the drawing before, is in the recipe. Ends with 4 when several have one number.

  scalaria deliver SOURCE... --recipe FILE --into FOLDER [--taken T] [--date D] [--job NAME] [--json]
      Writes the files of a set by the recipe into a folder that holds nothing else, each file proven, with
      manifest.json, manifest.csv and report.html. How a source becomes files, and what they are called, is in the
      recipe. What is there and would be the same is not written again. One that fails stops no other.
      --taken T          where another file has a name: stop (as it is by itself), number, replace, leave
      --date D           the date in names and in the report, as 2026-03-14 (today)
      --job NAME         the job in names and in the report

  scalaria verify FOLDER [--json]
      Holds a folder against its manifest: missing, changed, extra. Ends with 4 where it is otherwise.

  scalaria prove A B [--json]
      Compares two drawings.

A file called - is what comes in on standard input. For every command:
      --time-limit S     a file is given up after so many seconds (900)
      --memory-limit MB  a file is given up when it needs more memory (4096)

Each file has its line, and one that fails does not hold up the others. Ends with 0 when all is well, 2 for wrong
usage, 3 when a file cannot be read, 4 when a proof does not hold, 5 when a file cannot be written, 6 when a file was
given up, by a limit or by a mistake of this program.`;

export interface Options {
  command: 'inspect' | 'convert' | 'deliver' | 'prove' | 'parts' | 'verify';
  files: string[];
  json: boolean;
  csv: boolean;
  overwrite: boolean;
  version?: string;
  checks: boolean;
  purpose: Purpose;
  /** Seconds and megabytes for each file. */
  timeLimit: number;
  memoryLimit: number;
  unit?: UnitName;
  /** `none`: a drawing that states no unit stays without one. */
  fromUnit?: UnitName | 'none';
  /** What is decided on taking in, and what is asked of the writer, by flags that are made from their fields. */
  decided: Kept;
  written: Kept;
  layers?: 'visible' | 'all';
  origin?: 'keep' | 'lowerLeft' | 'centre' | 'page';
  recipe?: string;
  fontFolder?: string;
  pictureFolder?: string;
  referenceFolder?: string;
  fontChart?: Record<string, string>;
  to?: string;
  /** The folder of a set, and what happens where another file has a name there. */
  into?: string;
  taken?: 'stop' | 'number' | 'replace' | 'leave';
  date?: string;
  job?: string;
}

const COMMANDS: readonly Options['command'][] = ['inspect', 'convert', 'deliver', 'prove', 'parts', 'verify'];
const isCommand = (name: string): name is Options['command'] => (COMMANDS as readonly string[]).includes(name);

/** Reads the command line. Throws `WrongUsage`. `null` asks for help. */
export function readArguments(argv: string[]): Options | null {
  const text = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  let parsed;
  try {
    parsed = parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        ...flagConfig,
        json: flag,
        csv: flag,
        overwrite: flag,
        help: flag,
        version: text,
        unit: text,
        'from-unit': text,
        'font-folder': text,
        'picture-folder': text,
        'reference-folder': text,
        'no-checks': flag,
        purpose: text,
        'time-limit': text,
        'memory-limit': text,
        font: { type: 'string', multiple: true },
        layers: text,
        origin: text,
        recipe: text,
        to: text,
        into: text,
        taken: text,
        date: text,
        job: text,
      },
    });
  } catch (e) {
    throw new WrongUsage((e as Error).message);
  }
  const { values: v, positionals } = parsed;
  const [command, ...files] = positionals;
  if (v.help || command === undefined || command === 'help') return null;
  if (!isCommand(command)) throw new WrongUsage(`there is no command "${command}"`);
  if ((command === 'inspect' || command === 'parts') && files.length < 1)
    throw new WrongUsage(`${command} needs a file`);
  if (v.csv && command !== 'parts') throw new WrongUsage('--csv is for parts');
  if (v.csv && v.json) throw new WrongUsage('--csv or --json, not both');
  if (command === 'convert' && files.length < 2) throw new WrongUsage('convert needs a file and where to write it');
  if (command === 'deliver' && (files.length < 1 || v.recipe === undefined || v.into === undefined))
    throw new WrongUsage('deliver needs sources, --recipe FILE and --into FOLDER');
  for (const name of ['into', 'taken', 'date', 'job'] as const)
    if (v[name] !== undefined && command !== 'deliver') throw new WrongUsage(`--${name} is for deliver`);
  if (v.date !== undefined && !/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/.test(v.date))
    throw new WrongUsage('--date is a date such as 2026-03-14');
  if (command === 'verify' && files.length !== 1) throw new WrongUsage('verify needs a folder');
  if (command === 'prove' && files.length !== 2) throw new WrongUsage('prove needs two files');
  const unit = (name: string, value: string | undefined): UnitName | undefined => {
    if (value !== undefined && !isUnitName(value)) throw new WrongUsage(`--${name}: no unit is called "${value}"`);
    return value as UnitName | undefined;
  };
  const number = (name: string, value: string | undefined): number | undefined => {
    return value === undefined ? undefined : numberOf(name, value);
  };
  const above0 = (name: string, value: string | undefined): number | undefined => {
    const n = number(name, value);
    if (n === 0) throw new WrongUsage(`--${name} needs a number above 0`);
    return n;
  };
  const oneOf = <T extends string>(name: string, value: string | undefined, allowed: readonly T[]): T | undefined => {
    if (value !== undefined && !allowed.includes(value as T))
      throw new WrongUsage(`--${name} is one of ${allowed.join(', ')}`);
    return value as T | undefined;
  };
  const origin = oneOf('origin', v.origin, ['keep', 'lower-left', 'centre', 'page'] as const);
  if (files.filter((f) => f === '-').length > 1) throw new WrongUsage('standard input (-) can be read once only');
  const options: Options = {
    command,
    files,
    json: v.json ?? false,
    csv: v.csv ?? false,
    overwrite: v.overwrite ?? false,
    checks: !(v['no-checks'] ?? false),
    purpose: oneOf('purpose', v.purpose, PURPOSE_NAMES) ?? 'any',
    timeLimit: above0('time-limit', v['time-limit']) ?? 900,
    memoryLimit: above0('memory-limit', v['memory-limit']) ?? 4096,
    decided: readDecisions(v),
    written: readOptions(v),
  };
  return Object.assign(
    options,
    defined({
      version: v.version,
      unit: unit('unit', v.unit),
      fromUnit: v['from-unit'] === 'none' ? ('none' as const) : unit('from-unit', v['from-unit']),
      layers: oneOf('layers', v.layers, ['visible', 'all'] as const),
      origin: origin === 'lower-left' ? ('lowerLeft' as const) : origin,
      recipe: v.recipe,
      fontFolder: v['font-folder'],
      pictureFolder: v['picture-folder'],
      referenceFolder: v['reference-folder'],
      fontChart: v.font && Object.fromEntries(pairsOf('font', v.font)),
      into: v.into,
      taken: oneOf('taken', v.taken, ['stop', 'number', 'replace', 'leave'] as const),
      date: v.date,
      job: v.job,
      to: oneOf('to', v.to?.replace(/^\./, ''), FORMAT_IDS),
    }),
  );
}

const defined = <T extends object>(o: T): Partial<T> =>
  Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as Partial<T>;
