import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { boundsOf, readDrawing } from '../../src/index.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { bytesOf, dxf, fonts, hop, only, read, risks, svg, textOf } from '../helpers.js';
import { writeDxf } from './formats.js';
import { tags } from '../tags.js';

const oracle = hasEzdxf('no independent program judges the edges of hatches');

/** A hatch of one boundary of edges: arcs of radius 5 about (10, 5), and a line that closes them. */
const hatch = (...edges: (string | number)[][]): (string | number)[] => [
  ...tags(`
  0 HATCH  5 30  330 1F  100 AcDbEntity  8 A  100 AcDbHatch  10 0  20 0  30 0  210 0  220 0  230 1
  2 SOLID  70 1  71 0  91 1  92 1  93
`),
  edges.length,
  ...edges.flat(),
  ...tags('97 0  75 0  76 1  98 0'),
];
const arc = (from: number, to: number, ccw: number): (string | number)[] => [
  72,
  2,
  10,
  10,
  20,
  5,
  40,
  5,
  50,
  from,
  51,
  to,
  73,
  ccw,
];
const ellipse = (from: number, to: number, ccw: number): (string | number)[] => [
  72,
  3,
  10,
  10,
  20,
  5,
  11,
  8,
  21,
  0,
  40,
  0.5,
  50,
  from,
  51,
  to,
  73,
  ccw,
];
const line = (x0: number, y0: number, x1: number, y1: number): (string | number)[] => [
  72,
  1,
  10,
  x0,
  20,
  y0,
  11,
  x1,
  21,
  y1,
];

const boxOf = (bytes: Uint8Array): number[] => {
  const b = boundsOf(read(bytes));
  return [b.minX, b.minY, b.maxX, b.maxY];
};
const near = (got: number[], want: number[], digits = 9): void =>
  got.forEach((v, i) => expect(v).toBeCloseTo(want[i]!, digits));

describe('arcs and ellipses of hatches', () => {
  it('from 270° to 90° is the right half: it reaches 15, not 5', () => {
    // A square of 10 with a half circle on its right side, by hand.
    const square = [line(10, 10, 0, 10), line(0, 10, 0, 0), line(0, 0, 10, 0)];
    for (const [from, to] of [
      [270, 90],
      [270, 450],
      [-90, 90],
      [-90, -270],
    ]) {
      const [minX, minY, maxX, maxY] = boxOf(dxf(hatch(arc(from!, to!, 1), ...square)));
      near([minX!, minY!, maxX!, maxY!], [0, 0, 15, 10]);
    }
  });
  it('clockwise edges are stored mirrored: from -90° to 90° they run over the left', () => {
    // Mirrored in x, 180° ± 90° as stored: the arc from (10, 10) by (5, 5) to (10, 0).
    near(boxOf(dxf(hatch(arc(270, 90, 0), line(10, 0, 10, 10)))), [10, 0, 15, 10]);
    near(boxOf(dxf(hatch(arc(90, 270, 0), line(10, 0, 10, 10)))), [5, 0, 10, 10]);
  });
  it('an ellipse from 270° to 90° is its right half', () => {
    near(boxOf(dxf(hatch(ellipse(270, 90, 1), line(10, 9, 10, 1)))), [10, 1, 18, 9]);
  });
  it('whole turns are whole, whatever their angles', () => {
    for (const [from, to] of [
      [0, 360],
      [90, 450],
      [-180, 180],
      [270, -90],
    ]) {
      near(boxOf(dxf(hatch(arc(from!, to!, 1)))), [5, 0, 15, 10]);
      near(boxOf(dxf(hatch(ellipse(from!, to!, 1)))), [2, 1, 18, 9]);
    }
  });
  describe('of ellipses between quarter turns are what lets the boundary close', () => {
    // By hand: at 45° as a parameter the ellipse is at (8 cos 45°, 4 sin 45°); seen in that direction at x = y = √12.8.
    const meanings = [
      ['parameters', 10 + 8 * Math.SQRT1_2, 5 + 4 * Math.SQRT1_2],
      ['directions', 10 + Math.sqrt(12.8), 5 + Math.sqrt(12.8)],
    ] as const;
    const sector = (x: number, y: number, closed = true): (string | number)[] =>
      hatch(ellipse(0, 45, 1), ...(closed ? [line(x, y, 10, 5), line(10, 5, 18, 5)] : []));

    it.each(meanings)('%s', (angles, x, y) => {
      near(boxOf(dxf(sector(x, y))), [10, 5, 18, y]);
      const mirrored = hatch(line(18, 5, 10, 5), line(10, 5, x, 10 - y), ellipse(315, 360, 1));
      near(boxOf(dxf(mirrored)), [10, 10 - y, 18, 5]);
      const source = read(dxf(sector(x, y), { units: 4 }));
      for (const target of [{ format: 'dxf' }, { format: 'dxf', version: '2000' }, { format: 'dwg' }] as const) {
        const { proof, back } = hop(source, target);
        expect(risks(proof)).toEqual([]);
        const { loops } = only(back, 'hatch');
        expect(loops[0]!.ellipses).toBe(angles);
        near([...loops[0]!.path.data], [...only(source, 'hatch').loops[0]!.path.data]);
      }
    });
    it('and are taken for parameters where both leave it as open', () => {
      near(boxOf(dxf(sector(0, 0, false))), [10 + 8 * Math.SQRT1_2, 5, 18, 5 + 4 * Math.SQRT1_2]);
    });
    it('are not written where no source says which: an arc of an SVG is the spline that it is', () => {
      const source = readDrawing(svg('<path d="M50 20A30 20 0 0 1 76 50L50 40z" fill="red"/>'), 'a.svg').drawing;
      const { made, proof } = hop(source, { format: 'dxf', version: '2018' });
      expect(risks(proof)).toEqual([]);
      expect(textOf(made.bytes)).toMatch(/\r\n 72\r\n4\r\n 94\r\n3\r\n 73\r\n1\r\n/);
      expect(textOf(made.bytes)).not.toMatch(/\r\n 72\r\n3\r\n/);
    });
  });
  it('go to every version and to SVG as they are', () => {
    const source = read(
      dxf(hatch(arc(270, 90, 1), line(10, 10, 0, 10), line(0, 10, 0, 0), line(0, 0, 10, 0)), { units: 4 }),
    );
    for (const target of [
      { format: 'dxf', version: 'R12' },
      { format: 'dxf', version: '2018' },
      { format: 'dwg', version: '2004' },
      { format: 'svg' },
    ] as const) {
      const { proof, back } = hop(source, target);
      expect(risks(proof)).toEqual([]);
      expect(boundsOf(back, { hidden: true }).width, JSON.stringify(target)).toBeCloseTo(15, 2);
    }
  });
});

describe.skipIf(!oracle)('an independent program', () => {
  it('sees every arc and ellipse of a hatch where we do, whatever its angles and its sense', () => {
    const folder = mkdtempSync(join(tmpdir(), 'scalaria-hatch-'));
    const angles = [0, 37, 90, 180, 200, 270, 300, 359];
    const files: string[] = [];
    const boxes: number[][] = [];
    for (const form of [arc, ellipse])
      for (const ccw of [0, 1])
        for (const from of angles)
          for (const to of angles.filter((a) => a !== from)) {
            // Between quarter turns the two read the angles of ellipses differently: as parameters, as directions.
            if (form === ellipse && (from % 90 !== 0 || to % 90 !== 0)) continue;
            const source = read(dxf(hatch(form(from, to, ccw)), { units: 4 }));
            // As that program needs a whole file, ours is written from what was read of the bare one, edges untouched.
            const { bytes } = writeDxf(source, { unit: 'mm', version: '2010', fonts: fonts() });
            const text = new TextDecoder().decode(bytes);
            const own = /AcDbHatch[\s\S]*?\r\n {2}0\r\n/.exec(text)![0];
            const bare = hatch(form(from, to, ccw));
            const plain = bare.slice(bare.indexOf('AcDbHatch'));
            const tags = [plain[0]];
            for (let i = 1; i < plain.length; i += 2) tags.push(String(plain[i]), String(plain[i + 1]));
            const name = join(folder, `${files.length}.dxf`);
            writeFileSync(name, bytesOf(text.replace(own, `${tags.join('\r\n')}\r\n  0\r\n`)));
            files.push(name);
            boxes.push(boxOf(dxf(bare)));
          }
    const seen = JSON.parse(runEzdxf('see.py', '--boxes', ...files)) as {
      errors: string[];
      boxes: Record<string, [string, number, number, number, number]>;
    }[];
    seen.forEach((s, i) => {
      expect(s.errors).toEqual([]);
      const [, ...want] = Object.values(s.boxes)[0]!;
      // That program draws arcs as cubics, which stray by up to 3 parts in ten thousand.
      boxes[i]!.forEach((v, k) => expect(Math.abs(v - want[k]!), files[i]).toBeLessThan(0.01));
    });
    expect(seen.length).toBe(2 * 8 * 7 + 2 * 4 * 3);
  }, 120_000);
});

describe('MPOLYGON', () => {
  const polygon = (head: (string | number)[]): Uint8Array =>
    dxf(
      [
        ...tags(`
  0 MPOLYGON  5 30  330 1F  100 AcDbEntity  8 A  100 AcDbMPolygon  70 1  10 0  20 0  30 0  210 0  220 0
  230 1  2 SOLID  71 1  91 1  92 2
`),
        ...head,
        ...tags('93 4  10 0  20 0  10 10  20 0  10 10  20 10  10 0  20 10  75 0  76 1  47 0.1  11 0  21 0  99 0'),
      ],
      { units: 4 },
    );
  it('says closed before bulges, and is seen all the same: 10 × 10', () => {
    for (const head of [
      [73, 1, 72, 0],
      [72, 0, 73, 1],
    ])
      near(boxOf(polygon(head)), [0, 0, 10, 10]);
  });
  it('is drawn in an SVG and in every version that has no word for it', () => {
    const source = read(polygon([73, 1, 72, 0]));
    for (const target of [
      { format: 'dxf', version: '2000' },
      { format: 'dxf', version: 'R12' },
      { format: 'dwg', version: '2010' },
      { format: 'svg' },
    ] as const) {
      const { made, proof, back } = hop(source, target);
      expect(risks(proof)).toEqual([]);
      expect(boundsOf(back).width, JSON.stringify(target)).toBeCloseTo(10, 6);
      if (target.format === 'svg') expect(new TextDecoder().decode(made.bytes)).not.toMatch(/d=""/);
    }
  });
});
