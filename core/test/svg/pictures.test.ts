import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { unzlibSync } from 'fflate';
import { Resvg } from '@resvg/resvg-js';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Drawing, TargetGiven } from '../../src/index.js';
import { targetFor, NO_DECISIONS, deliver, prepare, readDrawing } from '../../src/index.js';
import { fonts, svg, textOf } from '../helpers.js';
import { CASES } from './cases.js';
import type { Picture } from './compare.js';
import { PART, WIDTH, difference, onPage } from './compare.js';

/** A WOFF unpacked to the font inside it (W3C WOFF 1.0), since the renderer reads no packed fonts. */
function unpacked(woff: Uint8Array): Uint8Array {
  const v = new DataView(woff.buffer, woff.byteOffset, woff.byteLength);
  const count = v.getUint16(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 44 + 20 * i;
    const [tag, offset, packed, size, sum] = [0, 4, 8, 12, 16].map((k) => v.getUint32(at + k)) as [
      number,
      number,
      number,
      number,
      number,
    ];
    const raw = woff.subarray(offset, offset + packed);
    return { tag, sum, data: packed < size ? unzlibSync(raw) : raw };
  });
  let at = 12 + 16 * count;
  const out = new Uint8Array(at + tables.reduce((n, t) => n + ((t.data.length + 3) & ~3), 0));
  const w = new DataView(out.buffer);
  w.setUint32(0, v.getUint32(4));
  w.setUint16(4, count);
  tables.forEach((t, i) => {
    [t.tag, t.sum, at, t.data.length].forEach((n, k) => w.setUint32(12 + 16 * i + 4 * k, n));
    out.set(t.data, at);
    at += (t.data.length + 3) & ~3;
  });
  return out;
}

let fontFiles: string[] = [];
beforeAll(() => {
  const folder = mkdtempSync(join(tmpdir(), 'fonts-'));
  fontFiles = ['400', '700'].map((weight) => {
    const from = fileURLToPath(
      import.meta.resolve(`@fontsource/spline-sans/files/spline-sans-latin-${weight}-normal.woff`),
    );
    const to = join(folder, `${weight}.ttf`);
    writeFileSync(to, unpacked(readFileSync(from)));
    return to;
  });
});

function draw(text: string): Picture {
  const made = new Resvg(text, {
    fitTo: { mode: 'width', value: WIDTH },
    background: '#fff',
    font: { loadSystemFonts: false, fontFiles, defaultFontFamily: 'Spline Sans' },
  }).render();
  return { width: made.width, height: made.height, pixels: made.pixels };
}

const ROOT = 'width="100" height="100" viewBox="0 0 100 100"';
const prepared = (source: Drawing): Drawing =>
  prepare(source, { ...NO_DECISIONS, unit: 'mm', pxPerInch: 96 }, []).drawing;

/** Our own drawing of it, written and put on the page of the original. */
function ours(drawing: Drawing, source: Drawing, target: TargetGiven = {}): Picture {
  const made = deliver(drawing, targetFor('svg', { decimals: 6, ...target }), 'case.svg', fonts());
  return draw(onPage(textOf(made.bytes), source.page!, (source.unit!.factor * 25.4) / 96));
}

describe('what is read and written looks like the original', () => {
  it('in at least sixty cases', () => expect(CASES.length).toBeGreaterThanOrEqual(60));
  it.each(CASES.map((c) => [c.name, c] as const))('%s', (_, c) => {
    const bytes = svg(c.body, c.root ?? ROOT);
    const source = readDrawing(bytes, 'case.svg').drawing;
    const drawing = prepared(source);
    // A root without the proportions of its viewBox is compared by the viewBox alone.
    const box = source.page!;
    const original = draw(
      textOf(
        svg(
          c.body,
          `width="${box.width}" height="${box.height}" viewBox="${box.x} ${box.y} ${box.width} ${box.height}"`,
        ),
      ),
    );
    const far = difference(original, ours(drawing, source));
    if (c.miss) return expect(far, 'a miss that is none').toBeGreaterThan(PART);
    if (c.disputed?.startsWith('resvg')) return expect(drawing.entities.length).toBeGreaterThan(0);
    expect(far).toBeLessThan(PART);
    expect(difference(original, ours(drawing, source, { version: '2', arcs: 'cubics', style: 'sheet' }))).toBeLessThan(
      PART,
    );
    if (drawing.entities.some((e) => e.kind === 'text'))
      expect(difference(original, ours(drawing, source, { text: 'outlines' }), 1), 'as outlines').toBeLessThan(PART);
    // Whatever is left out is seen to be missing.
    const visible = drawing.entities.filter((e) => e.look.visible);
    for (const gone of visible.length > 24 ? visible.filter((_e, i) => i % 9 === 0) : visible) {
      const lacking = { ...drawing, entities: drawing.entities.filter((e) => e !== gone) };
      expect(difference(original, ours(lacking, source)), `without ${gone.kind} ${gone.key ?? ''}`).toBeGreaterThan(
        visible.length > 24 ? 0 : PART,
      );
    }
  });
});
