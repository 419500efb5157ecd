import { describe, expect, it } from 'vitest';
import type { ReportFile, ReportOf, TargetGiven, Target, Yardstick } from '../../src/index.js';
import {
  NO_DECISIONS,
  deliver,
  fileRecord,
  placeOn,
  prepare,
  proofOf,
  proofPage,
  readDrawing,
  targetFor,
} from '../../src/index.js';
import type { Drawing } from '../../src/index.js';
import { bytesOf, demoFile, drawingOf, fonts, textOf } from '../helpers.js';
import { box, circle, drawn, text } from '../steps/judge.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';

const SUM = 'a'.repeat(64);

/** A file as it was delivered, or with its bytes damaged. */
function reported(
  d: Drawing,
  given: TargetGiven & Pick<Target, 'format'>,
  { damage = (b: Uint8Array) => b, yardsticks = [] as readonly Yardstick[] } = {},
): ReportFile {
  const prepared = prepare(d, NO_DECISIONS, []);
  const made = deliver(prepared.drawing, targetFor(given.format, given), 'panel.dxf', fonts());
  const bytes = damage(made.bytes);
  const { proof, back } = proofOf(d, prepared, made, bytes, fonts(), { yardsticks });
  const record = fileRecord(made.written, back, proof, made.ledger, yardsticks, fonts());
  return {
    ...{ name: made.name, bytes: bytes.length, sha256: SUM, format: `${given.format} ${given.version ?? ''}` },
    source: { name: 'panel.dxf', revision: 2, sha256: SUM },
    ...{ proof, ledger: [...prepared.ledger, ...made.ledger], record },
  };
}
const page = (files: ReportFile[], more: Partial<ReportOf> = {}): string =>
  proofPage({
    ...{ title: 'Kestrel Row: panels', job: 'Kestrel Row', receiver: 'LS', date: '2026-11-30', recipe: null },
    ...{ files, failed: [], leftOut: [], waived: [] },
    ...more,
  });
/** As a file has it: what is made up says less than files do. */
const plate = (): Drawing => {
  const made = deliver(
    drawn(box(0, 0, 250, 80), circle(40, 30, 6), text('A1 <b>', 20, 60)),
    targetFor('dxf'),
    'p.dxf',
    fonts(),
  );
  return readDrawing(made.bytes, made.name).drawing;
};
const bar: Yardstick = {
  ...{ id: 'bar', title: 'Length of the bar', what: 'distance', expected: 250, unit: 'mm', tolerance: 0.02 },
  ...{ source: 'measured on the piece' },
  places: [placeOn(plate(), { x: 0, y: 0 }, 'mm')!, placeOn(plate(), { x: 250, y: 0 }, 'mm')!],
};

describe('a report', () => {
  it('holds what was written, read back and known, without a script or anything to be fetched', () => {
    const html = page([reported(plate(), { format: 'dxf' }, { yardsticks: [bar] })]);
    expect(html).toContain('1 file: the proof holds.');
    expect(html).toMatch(/250 mm <span class="quiet">\(9\.84252 in\)<\/span> ± 0\.02/);
    expect(html).toContain('0.08 ‰');
    expect(html).toContain('A1 &lt;b&gt;');
    expect(html).toContain('250 × 80 mm');
    expect(html).not.toMatch(/<script|<link|<img|src="http|href="http/);
    expect(html.match(/<tr>/g)!.length).toBe(html.match(/<\/tr>/g)!.length);
  });
  it('fails by one point that was moved by 0.1 mm, and shows that place', () => {
    // The second corner of the outline, not the size that the header states.
    const damage = (b: Uint8Array) =>
      bytesOf(textOf(b).replace(/(LWPOLYLINE[\s\S]*?\n *10\r?\n)250\.0(?=\r?\n)/, '$1250.1'));
    const file = reported(plate(), { format: 'dxf' }, { damage, yardsticks: [bar] });
    expect(file.proof.holds).toBe(false);
    const near = file.record.places.filter((p) => Math.hypot(p.x - 250, p.y) < 1);
    expect(near.length).toBeGreaterThan(0);
    // What is seen there: the edge as it was, and as the file has it.
    expect(near[0]!.svg).toMatch(/stroke-dasharray/);
    expect(near[0]!.across).toBeLessThan(6);
    const html = page([file]);
    expect(html).toContain('0 proofs hold, 1 does not');
    expect(html).toContain('does not hold');
    expect(html).toMatch(/Yardstick: Length of the bar.*at risk/s);
  });
  it('says that a yardstick without a partner is undecided', () => {
    const lost = { ...bar, id: 'x', places: [bar.places[0]!, { x: 90, y: 20, u: 0.36, v: 0.25 }] };
    const file = reported(plate(), { format: 'dxf' }, { yardsticks: [lost] });
    expect(file.proof.holds).toBe(true);
    expect(page([file])).toMatch(/nothing lies at its place.*undecided/s);
  });
  it('counts colours to the digit: three of one are equal in DXF 2010, and another index in R12', () => {
    const violet = (more: object) => ({
      ...more,
      look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb: 0x5a3d7b } },
    });
    const d = drawingOf([
      violet(box(0, 0, 9, 9) as object),
      violet(circle(3, 3, 1) as object),
      violet(circle(6, 6, 1) as object),
    ] as never);
    const own = reported(d, { format: 'dxf', version: '2010' });
    expect(own.record.swatches).toEqual([
      { hex: '#5a3d7b', read: '#5a3d7b', lines: 3, areas: 0, texts: 0, rule: 'equal to the digit' },
    ]);
    const [old] = reported(d, { format: 'dxf', version: 'R12' }).record.swatches;
    expect(old!.read).not.toBe('#5a3d7b');
    expect(old!.rule).toMatch(/difference \d+\.\d/);
    expect(page([own])).toContain('1 of 1 equal');
  });
  it('tells the states of the eight carry-overs, in words', () => {
    const html = page([reported(readDrawing(demoFile('kestrel-row-mullion.dxf'), 'm.dxf').drawing, { format: 'svg' })]);
    for (const word of ['units', 'scale', 'origin', 'layers', 'curves', 'text', 'colour', 'links'])
      expect(html).toMatch(new RegExp(`<b>${word}</b>`));
  });
  it('names what failed, was left out and was let through, and why', () => {
    const html = page([], {
      failed: [{ source: 'plan.dxf', why: 'nobody has said its unit' }],
      leftOut: [{ source: 'plan.dxf', what: 'layer NOTES', why: 'empty' }],
      waived: [{ source: 'plan.dxf', what: 'open outlines (2)', why: 'a slit <on purpose>' }],
    });
    for (const words of ['nobody has said its unit', 'layer NOTES', 'a slit &lt;on purpose&gt;'])
      expect(html).toContain(words);
  });
  it('stays of one size however long a ledger is: totals and the weightiest hundred', () => {
    const file = reported(plate(), { format: 'dxf' });
    const row = { ...file.ledger[0]!, action: 'kept' as const, onPurpose: false, count: 1 };
    const ledger = Array.from({ length: 10_000 }, (_, i) => ({
      ...row,
      reason: `row ${i}`,
      action: i === 9_999 ? ('dropped' as const) : row.action,
    }));
    const html = page([{ ...file, ledger }]);
    expect(html).toContain('The weightiest 100 of 10000 rows; in all 1 dropped, 9999 kept');
    expect(html).toContain('row 9999');
    expect(html.length).toBeLessThan(200_000);
    expect(page(Array.from({ length: 300 }, () => file)).length).toBeLessThan(4_000_000);
  });
});

describe('a file that cannot be read', () => {
  const width: Yardstick = {
    ...{
      id: 'w',
      title: 'Width',
      what: 'width',
      expected: 60,
      unit: 'mm',
      tolerance: 0.1,
      source: 'drawn',
      places: [],
    },
  };
  const f = reported(
    { ...drawn(box(0, 0, 60, 40)), unit: { unit: 'mm', factor: 1 } },
    { format: 'dxf' },
    {
      damage: () => new TextEncoder().encode('no drawing'),
      yardsticks: [width],
    },
  );
  it('does not hold, and its yardsticks are undecided, not left away', () => {
    expect(f.proof.holds).toBe(false);
    expect(f.proof.items.find((i) => i.id === 'yardstick-w')).toMatchObject({ state: 'undecided', found: 'not found' });
    expect(f.record.yardsticks.map((y) => y.held.state)).toEqual(['undecided']);
    const html = page([f]);
    expect(html).toContain('the file cannot be read');
    expect(html).toContain('Not to use this file before the rows at risk are settled.');
  });
});
