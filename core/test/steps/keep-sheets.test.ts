import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { planSet, runSteps, sourceFacts } from '../../src/index.js';
import { readDxf } from '../../src/formats/dxf/read.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { fonts } from '../helpers.js';
import { PYTHON, hasEzdxf } from '../ezdxf.js';
import { stepOn } from './judge.js';

const able = hasEzdxf('nobody else counts the sheets of a file');
const python = (code: string, ...args: string[]): string =>
  execFileSync(PYTHON, ['-c', code, ...args], { encoding: 'utf8' });
/** Model space with two lines; sheet One with one circle, Two with two, Three with three. */
const MAKE = `
import sys, ezdxf
d = ezdxf.new('R2010', units=4)
d.modelspace().add_line((0, 0), (100, 0)); d.modelspace().add_line((100, 0), (100, 50))
d.layouts.rename('Layout1', 'One')
for n, name in enumerate(['One', 'Two', 'Three, 3']):
    s = d.layouts.get(name) if name == 'One' else d.layouts.new(name)
    for i in range(n + 1): s.add_circle((10 * i, 0), 4)
d.saveas(sys.argv[1])`;
const TELL = `
import sys, ezdxf
d = ezdxf.readfile(sys.argv[1])
assert not d.audit().has_errors
names = d.layouts.names_in_taborder()
print(len(d.modelspace()), [(n, len(d.layouts.get(n).query('CIRCLE')), d.layouts.get(n).block_record_name) for n in names[1:]])`;
const file = (name: string): string => join(mkdtempSync(join(tmpdir(), 'scalaria-sheets-')), name);

describe.skipIf(!able)('keep sheets', () => {
  const path = file('three.dxf');
  if (able) python(MAKE, path);
  const read = () => readDxf(readFileSync(path)).drawing;
  const told = (names: string, how = 'keep'): string => {
    const { drawing, against } = stepOn(read(), 'keep-sheets', { names, how });
    expect(against).toEqual([]);
    const out = file('kept.dxf');
    writeFileSync(out, writeDxf(drawing, { unit: 'mm', version: '2010', fonts: fonts() }).bytes);
    return python(TELL, out).trim();
  };
  it('leaves one with what is on it, and model space whole, as another reader says', () => {
    expect(told('One')).toBe("2 [('One', 1, '*Paper_Space')]");
    expect(told('Two')).toBe("2 [('Two', 2, '*Paper_Space')]");
    expect(told('T*')).toMatch(/^2 \[\('Two', 2, '\*Paper_Space'\), \('Three, 3', 3, '\*Paper_Space\d'\)\]$/);
    expect(told('Two', 'drop')).toMatch(/^2 \[\('One', 1, '\*Paper_Space'\), \('Three, 3', 3, '\*Paper_Space\d'\)\]$/);
  });
  it('changes nothing where all of them stay', () => {
    const d = read();
    expect(stepOn(d, 'keep-sheets', { names: '*' }).drawing).toBe(d);
  });
  it('a file for each sheet: three, each with its own sheet, names with a comma too', () => {
    const drawing = read();
    const source = { id: 'p', name: 'plan', revision: 1, facts: sourceFacts(drawing, []), parts: null };
    const asked = { job: 'Kestrel Row', date: '2026-11-30' };
    const target = { format: 'dxf', version: '2010' } as const;
    const plan = planSet([source], { recipe: 2, target, split: { by: 'sheets' } }, asked);
    expect(plan.files.map((f) => f.name)).toEqual(['plan-One', 'plan-Two', 'plan-Three, 3']);
    expect(plan.files.map((f) => f.objects)).toEqual([null, null, null]);
    expect(plan.files.map((f) => f.why)).toEqual([
      '1 object on sheet One, with model space',
      '2 objects on sheet Two, with model space',
      '3 objects on sheet Three, 3, with model space',
    ]);
    for (const [i, f] of plan.files.entries()) {
      const made = runSteps(drawing, [...f.steps]).drawing;
      expect(made.sheets.map((s) => s.name)).toEqual([drawing.sheets[i]!.name]);
      expect(made.entities.filter((e) => e.sheet === undefined)).toHaveLength(2);
    }
    const some = planSet([source], { recipe: 2, target, split: { by: 'sheets', only: 'One' } }, asked);
    expect(some.leftOut.map((l) => l.what)).toEqual(['sheet Two', 'sheet Three, 3']);
    expect(() =>
      planSet([source], { recipe: 2, target: { format: 'svg' }, split: { by: 'sheets' } } as never, asked),
    ).toThrow('sheets of paper go into a DXF or DWG');
    // A PDF whose pages are the sheets has one page in each file then.
    const pages = { format: 'pdf', options: { pageSize: 'sheets' } };
    const papers = planSet([source], { recipe: 2, target: pages, split: { by: 'sheets' } } as never, asked);
    expect(papers.files.map((f) => f.name)).toEqual(['plan-One', 'plan-Two', 'plan-Three, 3']);
  });
});
