import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { afterAll, describe, expect, it } from 'vitest';
import { offerCharacterMaps, readSource } from '../../src/index.js';
import { handmadePdf } from './handmade.js';

const require = createRequire(import.meta.url);
const shipped = (name: string): Promise<Uint8Array> =>
  Promise.resolve(readFileSync(require.resolve(`pdfjs-dist/cmaps/${name}.bcmap`)));
const none = (): Promise<Uint8Array> => Promise.reject(new Error('none'));
afterAll(() => offerCharacterMaps(none));

/** Codes of Shift JIS, as JIS X 0208 has them. */
const CODES = '8977914F8D4C8FEA';
/** A page with text in a font that the file holds nothing of but the name of its map; the registry of its characters as the standard spells it, in hexadecimal. */
const page = (map: string, codes = CODES): Uint8Array =>
  handmadePdf(
    [
      {
        content: `BT /F 24 Tf 20 40 Td <${codes}> Tj ET 0 0 m 50 50 l S`,
        resources: '/Font << /F 10 0 R >>',
      },
    ],
    {
      objects: [
        `<< /Type /Font /Subtype /Type0 /BaseFont /Kestrel-Regular /Encoding /${map} /DescendantFonts [11 0 R] >>`,
        '<< /Type /Font /Subtype /CIDFontType0 /BaseFont /Kestrel-Regular /CIDSystemInfo << /Registry <41646F6265> /Ordering (Japan1) /Supplement 2 >> /FontDescriptor 12 0 R /DW 1000 >>',
        '<< /Type /FontDescriptor /FontName /Kestrel-Regular /Flags 4 /FontBBox [0 -200 1000 900] /ItalicAngle 0 /Ascent 900 /Descent -200 /CapHeight 700 /StemV 80 >>',
      ],
    },
  );
const readBy = async (map: string, offered: (name: string) => Promise<Uint8Array>, codes?: string) => {
  offerCharacterMaps(offered);
  const { drawing, ledger } = await readSource(page(map, codes), 'plan.pdf');
  const texts = drawing.entities.flatMap((e) => (e.kind === 'text' ? [e.text] : []));
  return { texts, codes: ledger.map((r) => r.code), lines: drawing.entities.filter((e) => e.kind !== 'text').length };
};

describe('a PDF whose fonts only name how their codes are to be read', () => {
  it('is read by the maps of the standard, as another decoder reads the same codes', async () => {
    const said = new TextDecoder('shift_jis').decode(Buffer.from(CODES, 'hex'));
    expect(said).toHaveLength(4);
    expect((await readBy('90ms-RKSJ-H', shipped)).texts).toEqual([said]);
    // The same words in UTF-16, by another map.
    const utf16 = Buffer.from(said, 'utf16le').swap16().toString('hex');
    expect((await readBy('UniJIS-UTF16-H', shipped, utf16)).texts).toEqual([said]);
  });

  it('without the map loses these texts and says so; all else of the page is there', async () => {
    const found = await readBy('90ms-RKSJ-H', none);
    expect(found.texts).toEqual([]);
    expect(found.codes).toContain('pdf-font-not-read');
    expect(found.lines).toBe(1);
  });

  it('never asks for a map by anything but a plain name', async () => {
    const asked: string[] = [];
    const told = (name: string): Promise<Uint8Array> => {
      asked.push(name);
      return none();
    };
    for (const map of ['..#2F..#2Fsecret', 'a#20b', 'x'.repeat(300), 'http:#2F#2Fkestrel.test#2Fm'])
      expect((await readBy(map, told)).texts).toEqual([]);
    expect(asked.filter((a) => !/^[A-Za-z0-9-]{1,40}$/.test(a))).toEqual([]);
  });
});
