import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Options } from '../src/arguments.js';
import { USAGE, WrongUsage, readArguments } from '../src/arguments.js';
import { planConversions } from '../src/plan.js';
import { readRecipe } from '../src/recipe-file.js';

const options = (line: string): Options => readArguments(line.split(' '))!;
const folder = mkdtempSync(join(tmpdir(), 'scalaria-arguments-'));
const at = (name: string): string => join(folder, name);
const plan = (line: string): ReturnType<typeof planConversions> => {
  const o = options(line);
  return planConversions(o, o.recipe ? readRecipe(o.recipe) : null);
};

describe('the command line', () => {
  it('without a command, or asked for help, shows how it is used', () => {
    for (const line of ['', 'help', '--help', 'convert --help'])
      expect(readArguments(line.split(' ').filter(Boolean))).toBeNull();
  });

  it('every option that the help lists is understood, with a value of its kind', () => {
    const values: Record<string, string> = {
      version: '2010',
      'layers-from': 'stroke',
      text: 'outlines',
      'font-folder': 'f',
      'picture-folder': 'p',
      'reference-folder': 'r',
      font: 'A=B',
      template: 't.dxf',
      unit: 'mm',
      'from-unit': 'in',
      'px-per-inch': '72',
      style: 'sheet',
      curves: 'arcs',
      tolerance: '0.1',
      arcs: 'cubics',
      page: 'outlines',
      blocks: 'shared',
      hairline: '0.1',
      colour: '#000000=#ffffff',
      encoding: 'windows-1251',
      clips: 'whole',
      patterns: 'colour',
      gradients: 'mean',
      plane: 'flat',
      correction: '2',
      'kinds-blocks': 'break',
      'kinds-dimensions': 'leave-out',
      'kinds-hatches': 'lines',
      decimals: '3',
      layers: 'all',
      origin: 'page',
      recipe: 'r.json',
      to: 'svg',
      into: 'g',
      taken: 'number',
      date: '2026-03-14',
      job: 'Kestrel Row',
      'time-limit': '60',
      'memory-limit': '512',
      purpose: 'cut',
      'from-page': '2',
      letters: 'outlines',
      pens: 'drawing',
      'page-size': 'tiles',
      sheets: 'One',
      margin: '5',
      fit: 'fitted',
      scale: '50',
      paper: 'a3',
      overlap: '20',
      turned: 'across',
      ink: 'black',
      part: 'box',
      shows: 'box',
      corner: '1.5,2',
      opposite: '3,4',
      sheet: 'One',
      size: 'resolution',
      pixels: '300',
      'per-inch': '72',
      'margin-in': 'mm',
      ground: 'clear',
      'ground-colour': '#112233',
      widths: 'true',
      quality: '70',
      'pictures-at': '150',
      columns: 'plain',
      decimal: 'comma',
      third: 'height',
      'under-picture': 'scan.png',
      'under-width': '300',
      'under-height': '200',
      'under-at': '1,2',
      'under-right': '3,4',
      'under-up': '5,6',
      'under-opacity': '40',
    };
    const flags = ['binary', 'overwrite', 'json', 'no-checks', 'csv', 'check-bar', 'under-delivered'];
    const listed = new Set([...USAGE.matchAll(/--([a-z-]+)/g)].map((m) => m[1]!));
    expect([...listed].sort()).toEqual([...Object.keys(values), ...flags].sort());
    for (const name of listed) {
      const given = flags.includes(name) ? [`--${name}`] : [`--${name}`, values[name]!];
      const set = ['deliver', 'a.svg', '--recipe', 'r.json', '--into', 'f'];
      const own: Record<string, string[]> = {
        csv: ['parts', 'a.svg'],
        ...{ into: set, taken: set, date: set, job: set },
      };
      const command = own[name] ?? ['convert', 'a.svg', 'b.dxf'];
      expect(readArguments([...command, ...given]), name).not.toEqual(readArguments(command));
    }
  });

  it('names are those of the core where the line writes them otherwise', () => {
    expect(options('convert a b --origin lower-left').origin).toBe('lowerLeft');
    expect(options('convert a b --text fitted-lines').written).toEqual({ text: 'fittedLines' });
    expect(options('convert a b --corner=-1.5,2').written).toEqual({ corner: { x: -1.5, y: 2 } });
    expect(options('convert a b --to .dxf').to).toBe('dxf');
    expect(options('convert a b --font Old=New --font Two=x=y').fontChart).toEqual({ Old: 'New', Two: 'x=y' });
  });

  it.each([
    ['draw a b', 'there is no command "draw"'],
    ['inspect', 'inspect needs a file'],
    ['convert a', 'convert needs a file and where to write it'],
    ['deliver a --into f', 'deliver needs sources, --recipe FILE and --into FOLDER'],
    ['convert a b --into f', '--into is for deliver'],
    ['verify', 'verify needs a folder'],
    ['verify a b', 'verify needs a folder'],
    ['prove a', 'prove needs two files'],
    ['prove a b c', 'prove needs two files'],
    ['convert a b --unit furlong', '--unit: no unit is called "furlong"'],
    ['convert a b --from-unit constructor', '--from-unit: no unit is called "constructor"'],
    ['convert a b --decimals many', '--decimals needs a number, not "many"'],
    ['convert a b --tolerance=-1', '--tolerance needs a number, not "-1"'],
    ['convert a b --hairline Infinity', '--hairline needs a number, not "Infinity"'],
    ['convert a b --text constructor', '--text is one of keep, outlines, lines, fitted-lines'],
    ['convert a b --origin middle', '--origin is one of keep, lower-left, centre, page'],
    ['convert a b --font Sans', '--font is given as A=B, not "Sans"'],
    ['convert a b --colour =#112233', '--colour is given as A=B, not "=#112233"'],
    ['convert a b --colour #112233=', '--colour is given as A=B, not "#112233="'],
    ['convert a b --gradients last-one', '--gradients is one of keep, mean, first, last'],
    ['convert a b --corner 1', '--corner is given as X,Y, not "1"'],
    ['convert a b --corner 1,2,3', '--corner is given as X,Y, not "1,2,3"'],
    ['convert a b --to doc', '--to is one of dxf, dwg, svg, pdf, png, jpeg, coordinates'],
  ])('%s: %s', (line, message) => {
    expect(() => readArguments(line.split(' '))).toThrow(new WrongUsage(message));
  });

  it('an option nobody knows is named', () => {
    expect(() => options('convert a b --zoom 2')).toThrow(/--zoom/);
    expect(() => options('convert a b --unit')).toThrow(/--unit/);
  });
});

describe('the plan', () => {
  mkdirSync(at('out'), { recursive: true });
  writeFileSync(at('there.dxf'), '');
  for (const name of ['b.TTF', 'a.woff2', 'notes.txt', 'z.png', 'y.JPEG', 'x.jpg']) writeFileSync(at(name), '');

  it('one file goes where it is told, by the ending of its name', () => {
    const [one, ...more] = plan(`convert a.svg ${at('b.dwg')} --version R14 --unit in`);
    expect(more).toEqual([]);
    expect(one).toMatchObject({
      file: 'a.svg',
      out: at('b.dwg'),
      target: { format: 'dwg', version: 'R14', unit: 'in' },
    });
  });

  it('several go to a folder, each under its own name, and never two to one', () => {
    const outs = plan(`convert x/a.svg y/b.dwg ${at('out')} --to dxf`).map((p) => p.out);
    expect(outs).toEqual([at('out/a.dxf'), at('out/b.dxf')]);
    expect(() => plan(`convert x/a.svg y/a.dwg ${at('out')} --to dxf`)).toThrow(/two files would be written to/);
    expect(() => plan(`convert a.svg b.svg ${at('out')}`)).toThrow(
      'several files to a folder need --to dxf or dwg or svg',
    );
    expect(() => plan(`convert a.svg b.svg ${at('nowhere')} --to dxf`)).toThrow(/is no folder/);
  });

  it('nothing is replaced unasked', () => {
    expect(() => plan(`convert a.svg ${at('there.dxf')}`)).toThrow(/exists; say --overwrite/);
    expect(plan(`convert a.svg ${at('there.dxf')} --overwrite`)).toHaveLength(1);
  });

  it('an ending that no format has is refused, with those that have one', () => {
    expect(() => plan(`convert a.svg ${at('b.doc')}`)).toThrow(/does not end in .*\.dxf.*\.svg.*\.pdf/);
  });

  it('options of one format are not taken for another', () => {
    for (const [out, option] of [
      ['b.svg', '--binary'],
      ['b.dwg', '--binary'],
      ['b.svg', '--template t.dxf'],
      ['b.dxf', '--hairline 0.1'],
      ['b.dwg', '--arcs cubics'],
      ['b.dxf', '--colour #000000=#ffffff'],
      ['b.dwg', '--blocks shared'],
      ['b.dxf', '--decimals 3'],
      ['b.svg', '--paper a3'],
      ['b.pdf', '--decimals 3'],
      ['b.png', '--quality 50'],
      ['b.svg', '--pixels 300'],
    ])
      expect(() => plan(`convert a.svg ${at(out!)} ${option}`), `${out} ${option}`).toThrow(WrongUsage);
  });

  it('what no writer can do is refused before anything is read', () => {
    expect(() => plan(`convert a.svg ${at('b.dwg')} --version R12`)).toThrow(/cannot be written; one of R14, 2000/);
    expect(() => plan(`convert a.svg ${at('b.svg')} --decimals 16`)).toThrow('Decimals must be at most 15');
    expect(() => plan(`convert a.svg ${at('b.svg')} --decimals 2.5`)).toThrow(/whole number/);
    expect(() => plan(`convert a.svg ${at('b.svg')} --px-per-inch 0`)).toThrow('Pixels to the inch must be above 0');
    expect(() => plan(`convert a.svg ${at('b.dxf')} --tolerance 0`)).toThrow('Arcs lie within must be above 0');
    expect(() => plan(`convert a.svg ${at('b.svg')} --colour red=#ffffff`)).toThrow(/#rrggbb/);
  });

  it('fonts and pictures of a folder, by their endings, in order', () => {
    const [p] = plan(`convert a.svg ${at('b.dxf')} --font-folder ${folder} --picture-folder ${folder}`);
    expect(p!.fonts.files).toEqual([at('a.woff2'), at('b.TTF')]);
    expect(p!.pictures).toEqual([at('x.jpg'), at('y.JPEG'), at('z.png')]);
    expect(() => plan(`convert a.svg ${at('b.dxf')} --font-folder ${at('there.dxf')}`)).toThrow(
      /is no folder of fonts/,
    );
  });

  it('what the line says goes before what the recipe says; a target for another format is not taken', () => {
    const recipe = at('recipe.json');
    const write = (data: unknown): void =>
      writeFileSync(recipe, typeof data === 'string' ? data : JSON.stringify(data));
    write({ recipe: 1, intake: { unit: 'cm' }, steps: [], target: { format: 'svg', version: '2', decimals: 4 } });
    const kept = plan(`convert a.dxf ${at('b.svg')} --recipe ${recipe}`)[0]!;
    expect([kept.target.options['decimals'], kept.target.version, kept.intake.unit]).toEqual([4, '2', 'cm']);
    const over = plan(`convert a.dxf ${at('b.svg')} --recipe ${recipe} --decimals 2 --from-unit in`)[0]!;
    expect(
      plan(`convert a.dxf ${at('b.svg')} --recipe ${recipe} --clips whole --kinds-hatches leave-out`)[0]!.intake,
    ).toMatchObject({ unit: 'cm', art: { clips: 'whole' }, kinds: { hatches: 'leaveOut' } });
    expect([over.target.options['decimals'], over.intake.unit]).toEqual([2, 'in']);
    expect(plan(`convert a.dxf ${at('b.dwg')} --recipe ${recipe}`)[0]!.target).toMatchObject({
      format: 'dwg',
      version: expect.not.stringMatching(/^2$/) as string,
    });
    write('{ "version": ');
    expect(() => plan(`convert a.dxf ${at('b.svg')} --recipe ${recipe}`)).toThrow(/cannot be read/);
    write({ recipe: 1, steps: 'none' });
    expect(() => plan(`convert a.dxf ${at('b.svg')} --recipe ${recipe}`)).toThrow(/is not understood/);
  });
});
