import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, proofOf, readBack, readDrawing, targetFor } from '../../src/index.js';
import { curvesOf } from '../../src/drawing/curves.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { Lineage } from '../../src/drawing/lineage.js';
import { IDENTITY } from '../../src/geometry/affine.js';
import { withDrawnBars } from '../../src/text/drawn-bars.js';
import { dxf, fonts, risks } from '../helpers.js';
import { hasPoppler, rasterOf } from '../poppler.js';

const poppler = hasPoppler('nobody else looks for the lines under letters');

/** A text of 10 mm (height of capitals) at the origin, in millimetres. */
const lettered = (kind: 'TEXT' | 'MTEXT', words: string, turn = 0): Drawing =>
  readDrawing(
    dxf([
      0,
      kind,
      8,
      'A',
      10,
      0,
      20,
      0,
      40,
      10,
      1,
      words,
      ...(turn ? [50, turn] : []),
      ...(kind === 'MTEXT' ? [71, 7] : []),
    ]),
    'a.dxf',
  ).drawing;

async function pdf(drawing: Drawing) {
  const prepared = prepare(drawing, { ...NO_DECISIONS, unit: 'mm' }, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, targetFor('pdf', { margin: 10 }), 'a', fonts());
  const { proof } = proofOf(drawing, prepared, made, await readBack(made.bytes, made.name), fonts());
  return { made, proof };
}

const boxOf = (d: Drawing, of: (e: Entity) => boolean) => boundsOf({ ...d, entities: d.entities.filter(of) });
/** The letters as shapes, which are as wide as they are seen. */
const shapes = (words: string): Drawing =>
  prepare(
    lettered('TEXT', words),
    { ...NO_DECISIONS, unit: 'mm' },
    [{ id: 't', step: 'text-to-outlines', on: true, params: {} }],
    { fonts: fonts() },
  ).drawing;
const isBar = (e: Entity): boolean => e.kind === 'path';

describe('lines under, over and through letters', () => {
  it('are as long as the word and lie where its letters say: below its baseline, above its capitals, through their middle', () => {
    const places = { '%%uKESTREL%%u': [-4, 0], '%%oKESTREL%%o': [10, 13] } as const;
    for (const [words, [from, to]] of Object.entries(places)) {
      const d = withDrawnBars(lettered('TEXT', words), fonts(), new Lineage());
      const [letters, bar] = [boxOf(shapes('KESTREL'), isBar), boxOf(d, isBar)];
      expect(bar.minY).toBeGreaterThan(from);
      expect(bar.maxY).toBeLessThan(to);
      expect(bar.height).toBeGreaterThan(0.3);
      expect(Math.abs(bar.minX - letters.minX)).toBeLessThan(2);
      expect(Math.abs(bar.maxX - letters.maxX)).toBeLessThan(2);
    }
    const struck = boxOf(withDrawnBars(lettered('MTEXT', '{\\KKESTREL}'), fonts(), new Lineage()), isBar);
    expect([struck.minY > 3, struck.maxY < 7, struck.width > 30]).toEqual([true, true, true]);
  });

  it('turn with their text, and a drawing without any is the same drawing', () => {
    const upright = withDrawnBars(lettered('TEXT', '%%uKESTREL', 90), fonts(), new Lineage());
    const bar = boxOf(upright, isBar);
    expect(bar.height).toBeGreaterThan(30);
    // To the right of a line that runs upwards is below it.
    expect([bar.minX > 0, bar.maxX < 4]).toEqual([true, true]);
    const plain = lettered('TEXT', 'KESTREL');
    expect(withDrawnBars(plain, fonts(), new Lineage())).toBe(plain);
  });

  it('in a block are in the block, and those of an attribute beside what carries it', () => {
    const source = readDrawing(
      dxf(
        [
          0,
          'INSERT',
          8,
          'A',
          2,
          'TAG',
          10,
          50,
          20,
          0,
          66,
          1,
          0,
          'ATTRIB',
          8,
          'A',
          10,
          50,
          20,
          20,
          40,
          5,
          2,
          'NO',
          1,
          '%%uA1%%u',
          0,
          'SEQEND',
        ],
        {
          blocks: [
            0,
            'BLOCK',
            8,
            '0',
            2,
            'TAG',
            70,
            2,
            10,
            0,
            20,
            0,
            0,
            'TEXT',
            8,
            '0',
            10,
            0,
            20,
            0,
            40,
            5,
            1,
            '%%uPLATE',
            0,
            'ENDBLK',
          ],
        },
      ),
      'a.dxf',
    ).drawing;
    const lineage = new Lineage();
    const d = withDrawnBars(source, fonts(), lineage);
    expect(d.blocks.get('tag')!.entities.map((e) => e.kind)).toEqual(['text', 'path']);
    expect(d.entities.map((e) => e.kind)).toEqual(['insert', 'path']);
    expect(boxOf(d, isBar).minY).toBeGreaterThan(17);
    expect(lineage.descents.flatMap((x) => x.to)).toHaveLength(2);
    const ids = [...d.entities, ...d.blocks.get('tag')!.entities].map((e) => e.id);
    expect(new Set(ids).size).toBe(ids.length);
  });

  it.skipIf(!poppler)('are in a PDF, as poppler draws it, and the proof holds', async () => {
    const [bare, under] = await Promise.all([pdf(lettered('TEXT', 'KESTREL')), pdf(lettered('TEXT', '%%uKESTREL%%u'))]);
    expect(risks(under.proof)).toEqual([]);
    expect(under.made.ledger.map((r) => r.code)).not.toContain('text-decoration-not-carried');
    // Ten pixels to the millimetre: the longest dark run in rows below the baseline, which is as low as the letters reach.
    const longest = (bytes: Uint8Array): number => {
      const png = rasterOf(bytes, 254);
      let most = 0;
      for (let y = 0; y < png.height; y++) {
        let run = 0;
        for (let x = 0; x < png.width; x++) {
          run = png.data[4 * (y * png.width + x)]! < 128 ? run + 1 : 0;
          most = Math.max(most, run);
        }
      }
      return most;
    };
    expect(longest(bare.made.bytes)).toBeLessThan(100);
    const bar = boxOf(withDrawnBars(lettered('TEXT', '%%uKESTREL%%u'), fonts(), new Lineage()), isBar);
    expect(Math.abs(longest(under.made.bytes) - 10 * bar.width)).toBeLessThan(3);
  });

  it('become shapes with the letters, or single lines where those are asked for', () => {
    for (const [form, closed] of [
      ['outlines', true],
      ['lines', false],
    ] as const) {
      const plan = [{ id: 't', step: 'text-to-outlines', on: true, params: { form } }];
      const count = (words: string) =>
        prepare(lettered('TEXT', words), { ...NO_DECISIONS, unit: 'mm' }, plan, { fonts: fonts() }).drawing.entities;
      const [bare, under] = [count('KESTREL'), count('%%uKESTREL%%u')];
      expect(under.length).toBe(bare.length + 1);
      const bar = under.at(-1)!;
      let [lines, arcs] = [0, 0];
      curvesOf(bar, IDENTITY, {
        move: () => {},
        line: () => lines++,
        arc: () => arcs++,
        cubic: () => arcs++,
        nurbs: () => arcs++,
      });
      expect([lines, arcs]).toEqual([closed ? 4 : 1, 0]);
    }
  });
});
