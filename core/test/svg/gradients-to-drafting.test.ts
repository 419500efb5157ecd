import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Drawing, Hatch } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, proveDelivery, readDrawing, targetFor } from '../../src/index.js';
import { dxf, fonts, hop, read, risks, svg, textOf } from '../helpers.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { transformDrawing } from '../../src/drawing/transform.js';
import type { Affine } from '../../src/geometry/affine.js';
import { rotation, scaling } from '../../src/geometry/affine.js';
import { renderer } from '../witness/renderer.js';
import { tags } from '../tags.js';

/** A square of 40 from (10, 10), filled with a gradient along a line; x1, y1, x2, y2 in the page's millimetres. */
const art = (line: readonly number[], stops: string, more = ''): Uint8Array =>
  svg(
    `<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="${line[0]}" y1="${line[1]}" x2="${line[2]}" y2="${line[3]}" ${more}>${stops}</linearGradient>` +
      '<rect x="10" y="10" width="40" height="40" fill="url(#g)"/>',
  );
const RED_TO_BLUE = '<stop offset="0" stop-color="#f00"/><stop offset="1" stop-color="#00f"/>';

function to(bytes: Uint8Array, format: 'dxf' | 'dwg', version: string) {
  const source = readDrawing(bytes, 'a.svg').drawing;
  const made = deliver(
    prepare(source, NO_DECISIONS, []).drawing,
    targetFor(format, { unit: 'mm', version }),
    'a',
    fonts(),
  );
  return { made, back: readDrawing(made.bytes, `a.${format}`).drawing };
}
const gradientOf = (d: Drawing): Hatch['gradient'] => d.entities.find((e): e is Hatch => e.kind === 'hatch')!.gradient;
const codes = (rows: readonly { code?: string; action: string }[]): string[] =>
  rows.filter((r) => /gradient|paint/.test(r.code ?? '')).map((r) => `${r.action} ${r.code}`);

describe('a gradient along a line becomes that of a hatch, from 2004 on', () => {
  it.each([
    ['dxf', '2004'],
    ['dxf', '2018'],
    ['dwg', '2004'],
    ['dwg', '2018'],
  ] as const)('in a %s of %s', (format, version) => {
    // Over the whole square, left to right: the very colours.
    const { made, back } = to(art([10, 0, 50, 0], RED_TO_BLUE), format, version);
    expect(gradientOf(back)).toMatchObject({ name: 'LINEAR', angle: 0, stops: [{ rgb: 0xff0000 }, { rgb: 0x0000ff }] });
    expect(codes(made.ledger)).toEqual(['changed gradient-as-two-colours']);
  });

  it('with the colours that it has where the shape begins and ends', () => {
    // From 10 − 40 to 50 + 40: a third and two thirds of the way, upwards on the page, so downwards in the drawing.
    const { back } = to(art([0, -30, 0, 90], RED_TO_BLUE), 'dxf', '2010');
    const { angle, stops } = gradientOf(back)!;
    expect(angle).toBeCloseTo(-Math.PI / 2, 9);
    expect(stops.map((s) => s.rgb)).toEqual([0xaa0055, 0x5500aa]);
  });

  it('as near as two colours come, and says where that is not all', () => {
    const three =
      '<stop offset="0" stop-color="#000"/><stop offset=".5" stop-color="#fff"/><stop offset="1" stop-color="#fff"/>';
    const { made, back } = to(art([10, 0, 50, 0], three), 'dxf', '2010');
    expect(codes(made.ledger)).toEqual(['approximated gradient-as-two-colours']);
    const [first, last] = gradientOf(back)!.stops.map((s) => s.rgb & 255);
    // By least squares of min(1, 2t): mean 3/4, slope 12 · (∫ t·f − ½·¾) = 12 · (11/24 − 3/8) = 1.
    expect(first).toBeGreaterThan(55);
    expect(first).toBeLessThan(75);
    expect(last).toBe(255);
  });

  it('an independent library reads the same', () => {
    if (!hasEzdxf('nobody else looks at gradients')) return;
    const file = join(mkdtempSync(join(tmpdir(), 'gradients-')), 'a.dxf');
    writeFileSync(file, to(art([0, -30, 0, 90], RED_TO_BLUE), 'dxf', '2010').made.bytes);
    const seen = JSON.parse(runEzdxf('looks.py', file)) as { gradients: unknown[]; errors: number };
    expect(seen).toMatchObject({ gradients: [['LINEAR', [170, 0, 85], [85, 0, 170], -90]], errors: 0 });
  });

  it('or its plain colour: where it hardly changes, goes round, or the version has none', () => {
    const plain = (bytes: Uint8Array, version = '2010'): void => {
      const { made, back } = to(bytes, 'dxf', version);
      expect(gradientOf(back)).toBeUndefined();
      expect(codes(made.ledger)).toEqual(['dropped paint-to-plain-colour']);
    };
    plain(art([-9e4, 0, 9e4, 0], RED_TO_BLUE));
    plain(art([10, 0, 50, 0], RED_TO_BLUE), '2000');
    plain(svg(`<radialGradient id="g">${RED_TO_BLUE}</radialGradient><rect width="9" height="9" fill="url(#g)"/>`));
  });

  it('proves, is seen the same by the renderer, and comes back to SVG as it was', async () => {
    const bytes = art([10, 10, 50, 50], RED_TO_BLUE);
    const source = readDrawing(bytes, 'a.svg');
    const prepared = prepare(source.drawing, NO_DECISIONS, []);
    const made = deliver(prepared.drawing, targetFor('dxf', { unit: 'mm', version: '2010' }), 'a', fonts());
    const witness = { renderer: await renderer(), source: bytes };
    const proof = proveDelivery(source, prepared, made, made.bytes, fonts(), { witness });
    expect(risks(proof)).toEqual([]);
    expect(proof.items.find((i) => i.id === 'seen-file')?.state).toBe('kept');
    const back = hop(read(made.bytes), { format: 'svg' });
    expect(risks(back.proof)).toEqual([]);
    expect(textOf(back.made.bytes)).toMatch(
      /<linearGradient[^>]*><stop offset="0" stop-color="#ff0000"\/><stop offset="1" stop-color="#0000ff"\/>/,
    );
  });
});

describe('a gradient of a hatch', () => {
  const hatch = (name: string, angle: number, colour: readonly (string | number)[]): Uint8Array =>
    dxf(
      [
        ...tags('0 HATCH  5 30  330 1F  100 AcDbEntity  8 A'),
        ...colour,
        ...tags(`
  100 AcDbHatch  10 0  20 0  30 0  210 0  220 0  230 1  2 SOLID  70 1  71 0  91 1  92 3  72 0  73 1  93 4
  10 0  20 0  10 40  20 0  10 40  20 20  10 0  20 20  97 0  75 0  76 1  98 0  450 1  451 0  460
`),
        angle,
        ...tags('461 0  452 0  462 1  453 2  463 0  63 1  421'),
        0xff0000,
        463,
        1,
        63,
        5,
        421,
        0x0000ff,
        470,
        name,
      ],
      { units: 4 },
    );

  it('along a line is one in SVG, from edge to edge, whatever plain colour it stated', () => {
    for (const colour of [[], [62, 3], [62, 5, 420, 0x336699]]) {
      const { made, proof } = hop(read(hatch('LINEAR', Math.PI / 2, colour)), { format: 'svg' });
      expect(risks(proof)).toEqual([]);
      expect(codes(made.ledger)).toEqual(['changed hatch-gradient-as-fill']);
      // Upwards in the drawing by 20: from the lower edge of the page.
      const [, matrix] = /gradientTransform="matrix\(([^)]*)\)"/.exec(textOf(made.bytes))!;
      const [, , , , , y] = matrix!.split(' ').map(Number);
      const [, b] = matrix!.split(' ').map(Number);
      expect(Math.abs(b!)).toBeCloseTo(20, 9);
      expect(Math.abs(y!)).toBeCloseTo(0, 9);
    }
  });
  it('of another form is told to be plain there', () => {
    const { made, proof } = hop(read(hatch('SPHERICAL', 0, [62, 3])), { format: 'svg' });
    expect(risks(proof)).toEqual([]);
    expect(codes(made.ledger)).toEqual(['dropped hatch-gradient-plain']);
  });
  it('turns with the hatch', () => {
    const source = read(hatch('LINEAR', 0.25, []));
    const moved = (m: Affine): number => gradientOf(transformDrawing(source, m))!.angle;
    expect(moved(rotation(Math.PI / 3))).toBeCloseTo(0.25 + Math.PI / 3, 9);
    expect(moved(scaling(1, -1, 1))).toBeCloseTo(-0.25, 9);
  });
});
