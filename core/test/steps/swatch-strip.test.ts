import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/drawing/appearance.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { PYTHON, hasEzdxf } from '../ezdxf.js';
import { fonts } from '../helpers.js';
import { box, drawn, line, stepOn } from './judge.js';

const rgb = (value: number) => ({ kind: 'rgb', rgb: value }) as const;
const none = { kind: 'none' } as const;
const filled = (value: number) => ({ look: { ...DRAFTING_DEFAULT, fill: rgb(value), stroke: none } });
const stroked = (value: number) => ({ look: { ...DRAFTING_DEFAULT, stroke: rgb(value) } });
/** #5a3d7b twice as fill and once as stroke, and one line of another colour; 40 × 20. */
const PANEL = (): Drawing =>
  drawn(
    box(0, 0, 16, 20, filled(0x5a3d7b)),
    box(20, 0, 10, 20, filled(0x5a3d7b)),
    line(0, 20, 40, 20, stroked(0x5a3d7b)),
    line(0, 0, 40, 0, stroked(0xc8641e)),
  );
const strip = (d: Drawing) => d.entities.filter((e) => e.layer === 'SWATCHES');

describe('swatch strip', () => {
  it('has a square for each colour, the most used first, below the drawing, with its value beside it', () => {
    const made = stepOn(PANEL(), 'swatch-strip', { side: 4 });
    expect(made.against).toEqual([]);
    const put = strip(made.drawing);
    expect(put.flatMap((e) => (e.kind === 'text' ? [e.text] : []))).toEqual(['#5a3d7b', '#c8641e']);
    // Half a side and a row of one and a half below 0: from -8 to -4; the second five sides on, at 20.
    const boxes = put.filter((e) => e.kind === 'hatch').map((e) => boundsOf(drawn(e as never)));
    expect(boxes[0]).toMatchObject({ minX: 0, minY: -8, maxX: 4, maxY: -4 });
    expect(boxes[1]).toMatchObject({ minX: 20, minY: -8, maxX: 24, maxY: -4 });
    expect(made.row('swatches-put')).toMatchObject({ count: 2, onPurpose: true });
  });
  it('is a fortieth of the drawing without being told, and goes again with its layer', () => {
    const before = PANEL();
    const { drawing } = stepOn(before, 'swatch-strip');
    expect(boundsOf(drawn(strip(drawing)[0] as never))).toMatchObject({ minX: 0, maxX: 1 });
    const without = stepOn(drawing, 'keep-layers', { how: 'drop', names: 'SWATCHES' });
    expect(without.against).toEqual([]);
    expect(without.drawing.entities).toEqual(before.entities);
    expect(without.drawing.layers.map((l) => l.name)).toEqual(before.layers.map((l) => l.name));
  });
  it('is not put over what lies on that layer already, and says so', () => {
    const d = drawn(box(0, 0, 9, 9, { layer: 'SWATCHES' }), line(0, 0, 9, 9));
    const made = stepOn(d, 'swatch-strip');
    expect(made.drawing).toBe(d);
    expect(stepOn(d, 'swatch-strip', { layer: 'PROOF' }).drawing.entities).toHaveLength(2 + 2);
  });
});

describe.skipIf(!hasEzdxf('nobody else reads the swatches'))('swatches in a file, as another reader has them', () => {
  const TELL = `
import sys, ezdxf
d = ezdxf.readfile(sys.argv[1])
for h in d.modelspace():
    if h.dxf.layer == 'SWATCHES' and h.dxftype() not in ('TEXT', 'MTEXT'): print(h.dxftype(), '%06x' % h.dxf.true_color if h.dxf.hasattr('true_color') else h.dxf.color)`;
  const told = (version: string): string[] => {
    const { drawing } = stepOn(PANEL(), 'swatch-strip', { side: 4 });
    const path = join(mkdtempSync(join(tmpdir(), 'scalaria-swatches-')), 'panel.dxf');
    writeFileSync(path, writeDxf(drawing, { unit: 'mm', version, fonts: fonts() }).bytes);
    return execFileSync(PYTHON, ['-c', TELL, path], { encoding: 'utf8' }).trim().split('\n');
  };
  it('2010 holds them to the digit, R12 by index alone', () => {
    expect(told('2010')).toEqual(['HATCH 5a3d7b', 'HATCH c8641e']);
    // The nearest of the list: 195 is 5f3f7f, 5, 2 and 4 away; 32 is a55200, 35, 18 and 30 away.
    expect(told('R12')).toEqual(['INSERT 195', 'INSERT 32']);
  });
});
