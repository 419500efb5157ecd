import { PNG } from 'pngjs';
import { beforeAll, describe, expect, test } from 'vitest';
import type { Kept, ProofItem, Renderer } from '../../src/index.js';
import {
  DEFAULT_TARGETS,
  NO_DECISIONS,
  deliver,
  prepare,
  proofOf,
  proveDelivery,
  readDrawing,
} from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { demoFile, fonts } from '../helpers.js';
import { renderer as opened } from '../witness/renderer.js';

let renderer: Renderer;
beforeAll(async () => {
  renderer = await opened();
});

const name = 'kestrel-row-front-elevation.dxf';
const source = demoFile(name);
const drawing = readDrawing(source, name).drawing;
const prepared = prepare(drawing, NO_DECISIONS, []);
const made = (options: Kept = {}, format: 'png' | 'jpeg' = 'png') =>
  deliver(prepared.drawing, { ...DEFAULT_TARGETS[format], options }, name, fonts());

type Made = ReturnType<typeof made>;
const rows = (m: Made, file: Uint8Array = m.bytes): { holds: boolean; of: (id: string) => ProofItem | undefined } => {
  const proof = proveDelivery(drawing, prepared, m, file, fonts(), { witness: { renderer, source } });
  return { holds: proof.holds, of: (id) => proof.items.find((i) => i.id === id) };
};

/** A PNG with its pixels changed, stating what it stated. */
function changed(
  m: Made,
  change: (png: PNG, at: (x: number, y: number) => number) => void,
  pxPerInch = m.picture!.frame.pxPerInch,
): Uint8Array {
  const png = PNG.sync.read(Buffer.from(m.bytes));
  change(png, (x, y) => 4 * (y * png.width + x));
  const data = new Uint8Array(png.data);
  return packedPng({ width: png.width, height: png.height, channels: 4, data }, pxPerInch);
}

/** All pixels moved by so many to the right and down, what is left behind is white. */
const moved =
  (dx: number, dy: number) =>
  (png: PNG, at: (x: number, y: number) => number): void => {
    const before = Buffer.from(png.data);
    png.data.fill(255);
    for (let y = 0; y < png.height - dy; y++)
      for (let x = 0; x < png.width - dx; x++) before.copy(png.data, at(x + dx, y + dy), at(x, y), at(x, y) + 4);
  };

describe('the proof of a picture', () => {
  const whole = made();
  // What fails does so at any size, and soonest in a small one.
  const small = made({ pixels: 1000 });

  test('holds, by pixels, ink, the file beside it, and a renderer that had no part in it', () => {
    const { holds, of } = rows(whole);
    expect(holds).toBe(true);
    expect(['pixels', 'beside', 'ink', 'seen-file'].map((id) => of(id)?.state)).toEqual([
      'kept',
      'kept',
      'kept',
      'kept',
    ]);
    // 6.5136… to the inch are 256.4 to the metre, of which 256 can be stated.
    expect(of('resolution')).toMatchObject({ state: 'changed' });
  });

  test('what was read back lies where the drawing has it', () => {
    const { back } = proofOf(drawing, prepared, whole, whole.bytes, fonts());
    const image = back!.entities[0]!;
    expect(image).toMatchObject({ kind: 'image', pixels: [2400, 1028] });
    expect(back!.unit).toEqual({ unit: 'mm', factor: 1 });
    if (image.kind !== 'image') return;
    expect(image.u[0]).toBeCloseTo(1 / whole.picture!.frame.perUnit, 12);
    expect(image.at[1]! + image.v[1]! * 1028).toBeCloseTo(whole.picture!.frame.top, 9);
  });

  test('fails where the picture is moved by more than a pixel, and says to which side', () => {
    expect(rows(small, changed(small, moved(0, 0))).of('ink')?.state).toBe('kept');
    const right = rows(small, changed(small, moved(3, 0)));
    expect(right.holds).toBe(false);
    expect(right.of('ink')).toMatchObject({ state: 'atRisk' });
    expect(right.of('ink')!.explanation).toMatch(/on the (left|right) side/);
    const down = rows(small, changed(small, moved(0, 4)));
    expect(down.of('ink')!.state).toBe('atRisk');
    expect(down.of('ink')!.explanation).toMatch(/on the (upper|lower) side/);
  });

  test('fails for an empty picture, a part that is missing, and a colour that is another', () => {
    const blank = rows(
      small,
      changed(small, (png) => png.data.fill(255)),
    );
    expect([blank.holds, blank.of('ink')?.state]).toEqual([false, 'atRisk']);
    const hole = rows(
      small,
      changed(small, (png, at) => {
        for (let y = 125; y < 290; y++) png.data.fill(255, at(375, y), at(583, y));
      }),
    );
    expect([hole.holds, hole.of('ink')?.state, hole.of('seen-file')?.state]).toEqual([false, 'kept', 'atRisk']);
    const green = rows(
      small,
      changed(small, (png) => {
        for (let i = 0; i < png.data.length; i += 4)
          if (png.data[i]! > png.data[i + 2]! + 60) [png.data[i], png.data[i + 1]] = [png.data[i + 1]!, png.data[i]!];
      }),
    );
    expect([green.holds, green.of('seen-file')?.state]).toEqual([false, 'atRisk']);
  });

  test('fails for a resolution that is no rounding, for other pixels, and for a place that is another', () => {
    const wrong = rows(
      small,
      changed(small, () => {}, small.picture!.frame.pxPerInch * 1.01),
    );
    expect([wrong.holds, wrong.of('resolution')?.state]).toEqual([false, 'atRisk']);
    const png = PNG.sync.read(Buffer.from(small.bytes));
    const cut = packedPng({
      width: png.width,
      height: png.height - 1,
      channels: 4,
      data: new Uint8Array(png.data.subarray(0, 4 * png.width * (png.height - 1))),
    });
    expect(rows(small, cut).of('pixels')?.state).toBe('atRisk');
    const elsewhere: Made = {
      ...small,
      beside: small.beside.map((b) => ({ ...b, text: b.text.replace(/^9\.35/, '3.99') })),
    };
    expect(rows(elsewhere).of('beside')?.state).toBe('atRisk');
    // The ink is measured by that file, and lies elsewhere by it too.
    expect(rows(elsewhere).of('ink')?.state).toBe('atRisk');
    // No file beside it, or one in words that says otherwise, is no place.
    expect(rows({ ...small, beside: [] }).of('beside')?.state).toBe('atRisk');
    const words = small.beside.map((b) => ({ ...b, text: b.text.replace('"unit": "mm"', '"unit": "in"') }));
    expect(rows({ ...small, beside: words }).of('beside')).toMatchObject({
      state: 'atRisk',
      explanation: 'the file that says it in words says otherwise',
    });
    // A PNG that could have stated its resolution and does not.
    const silent = changed(small, () => {}, 0);
    expect(rows(small, silent).of('resolution')).toMatchObject({ state: 'atRisk', found: 'none' });
    // A JPEG that is off by one small pixel to the inch is no rounding.
    const jpeg = made(
      { shows: 'box', corner: { x: 0, y: 0 }, opposite: { x: 300, y: 200 }, size: 'resolution' },
      'jpeg',
    );
    expect(rows(jpeg).of('resolution')?.state).toBe('kept');
    const off = Uint8Array.from(jpeg.bytes);
    expect([off[13], off[14], off[15]]).toEqual([1, 0, 150]);
    [off[15], off[17]] = [151, 151];
    expect(rows(jpeg, off).of('resolution')).toMatchObject({
      state: 'atRisk',
      explanation: 'the format could have said 150',
    });
    expect(rows(small, small.bytes.slice(0, 3000)).holds).toBe(false);
    expect(rows(small, new TextEncoder().encode('no picture')).holds).toBe(false);
  });

  test.each([
    ['png', { ground: 'clear', pixels: 1100 }],
    ['png', { ground: 'colour', groundColour: '#203040', pixels: 1100 }],
    ['png', { ink: 'black', pixels: 1500 }],
    ['png', { hairline: 12, pixels: 900 }],
    ['jpeg', { quality: 75, pixels: 1600 }],
    ['png', { shows: 'box', corner: { x: 0, y: 0 }, opposite: { x: 3000, y: 2600 }, pixels: 1200 }],
  ] as const)('%s as %o holds', (format, options) => {
    const m = made(options, format);
    const { holds, of } = rows(m);
    expect([of('ink')?.state, of('seen-file')?.state, holds]).toEqual(['kept', 'kept', true]);
  });
});
