import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, TEXT_ENCODINGS, encodingSamples, readDrawing, statedEncoding, takeIn } from '../src/index.js';
import { bytesOf, demoFile, dxf } from './helpers.js';

/** An R12 file with one text of the given bytes. */
function withText(bytes: number[]): Uint8Array {
  const [head, tail] = [
    '0\nSECTION\n2\nENTITIES\n0\nTEXT\n8\n0\n10\n0\n20\n0\n40\n5\n1\n',
    '\n0\nENDSEC\n0\nEOF\n',
  ].map(bytesOf);
  const out = new Uint8Array(head!.length + bytes.length + tail!.length);
  out.set(head!);
  out.set(bytes, head!.length);
  out.set(tail!, head!.length + bytes.length);
  return out;
}
const said = (file: Uint8Array, encoding: string | null) => {
  const d = readDrawing(file, 'x.dxf', { encoding }).drawing;
  return (d.entities[0] as { text: string }).text;
};

const samplesOf = (file: Uint8Array) => {
  const d = readDrawing(file, 'x').drawing;
  return encodingSamples(file, d, statedEncoding(d));
};

describe('the encoding of texts', () => {
  // "Fußgänger": ß and ä are DF and E4 in windows-1252 (Unicode chart best fit 1252).
  const western = withText([0x46, 0x75, 0xdf, 0x67, 0xe4, 0x6e, 0x67, 0x65, 0x72]);
  // "横断歩道" in Shift JIS (JIS X 0208, rows 1803, 3539, 4266, 3827).
  const japanese = withText([0x89, 0xa1, 0x92, 0x66, 0x95, 0xe0, 0x93, 0xb9]);
  it('is what was decided, whatever the file says', () => {
    expect(said(western, null)).toBe('Fußgänger');
    expect(said(japanese, 'shift_jis')).toBe('横断歩道');
    expect(said(western, 'windows-1251')).toBe('FuЯgдnger');
  });
  it('samples have every encoding, those that break characters last', () => {
    const samples = samplesOf(japanese);
    expect(samples.length).toBe(TEXT_ENCODINGS.length);
    expect(samples.find((s) => s.encoding === 'shift_jis')).toEqual({
      encoding: 'shift_jis',
      texts: ['横断歩道'],
      broken: 0,
    });
    const broken = samples.map((s) => s.broken > 0);
    expect(broken.indexOf(true)).toBeGreaterThan(0);
    expect(broken.lastIndexOf(false)).toBe(broken.indexOf(true) - 1);
  });
  it('Unicode that fits is named first: it is hardly ever chance', () => {
    expect(samplesOf(withText([...bytesOf('Fußgänger')]))[0]).toMatchObject({ encoding: 'utf-8', broken: 0 });
    expect(samplesOf(western)[0]!.encoding).not.toBe('utf-8');
  });
  it('of a DWG the texts that were read are turned back into bytes; what came by an escape is left out', () => {
    const samples = samplesOf(demoFile('kestrel-row-site-plan.dwg'));
    const as = (encoding: string) => samples.find((s) => s.encoding === encoding)!.texts.join(' ');
    // The plan holds ° and é, which are B0 and E9 in windows-1252: ° and й in windows-1251.
    expect(as('windows-1252')).toMatch(/é/);
    expect(as('windows-1251')).toMatch(/й/);
  });
  it('a file of plain letters has none', () => {
    expect(samplesOf(dxf([0, 'TEXT', 8, '0', 10, 0, 20, 0, 40, 5, 1, 'Crossing']))).toEqual([]);
  });
  it('the decision is in the ledger', () => {
    const d = readDrawing(western, 'x.dxf', { encoding: 'windows-1250' }).drawing;
    const { ledger } = takeIn(d, { ...NO_DECISIONS, encoding: 'windows-1250' });
    expect(ledger.find((r) => r.carryOver === 'text')).toMatchObject({ action: 'changed', onPurpose: true });
    expect(ledger.find((r) => r.carryOver === 'text')!.reason).toContain('Central European');
  });
});
