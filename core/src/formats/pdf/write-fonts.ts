import type { Affine } from '../../geometry/affine.js';
import type { OutlineFont } from '../../text/outline-font.js';
import type { SetLetters } from '../../text/fonts.js';
import { compactFont } from './compact-font.js';
import type { PdfObjects, Ref } from './objects.js';
import { Raw, name, numberText } from './objects.js';

/** A font of the file: the letters that are used of one of ours, numbered as they come. */
interface Subset {
  readonly resource: string;
  readonly ref: Ref;
  readonly font: OutlineFont;
  /** Numbers in the file by those in the font. */
  readonly numbers: Map<number, number>;
  readonly texts: string[];
  readonly widths: number[];
}

const PER_EM = 1000;
const hex4 = (v: number): string => v.toString(16).toUpperCase().padStart(4, '0');
const utf16 = (text: string): string =>
  Array.from({ length: text.length }, (_, i) => hex4(text.charCodeAt(i))).join('');

/** Six capitals before the name of a font that is held in part (ISO 32000-2, 9.9.2): by its place in the file, never by chance. */
const tag = (n: number): string =>
  Array.from({ length: 6 }, (_, i) => String.fromCharCode(65 + (Math.floor(n / 26 ** (5 - i)) % 26))).join('');

/** The name that programs know a font by: no blanks, its style behind a hyphen. */
function postscriptName(font: OutlineFont): string {
  const family = font.family.replace(/[^\x21-\x7e]|[[\](){}<>/%]/g, '') || 'Font';
  const style = `${font.weight >= 600 ? 'Bold' : font.weight <= 300 ? 'Light' : ''}${font.italic ? 'Italic' : ''}`;
  return style ? `${family}-${style}` : family;
}

/** The fonts that a file holds, each with just the letters that are used of it. */
export class FontWriter {
  private readonly subsets = new Map<OutlineFont, Subset>();

  constructor(private readonly objects: PdfObjects) {}

  private subset(font: OutlineFont): Subset {
    let s = this.subsets.get(font);
    if (!s) {
      const resource = `F${this.subsets.size + 1}`;
      const missing = { numbers: new Map<number, number>(), texts: [''], widths: [0] };
      s = { resource, ref: this.objects.reserve(), font, ...missing };
      this.subsets.set(font, s);
    }
    return s;
  }

  private number(s: Subset, glyph: { id: number; text: string; width: number }): number {
    const known = s.numbers.get(glyph.id);
    if (known !== undefined) return known;
    const n = s.widths.length;
    s.numbers.set(glyph.id, n);
    s.texts.push(glyph.text);
    s.widths.push(glyph.width);
    return n;
  }

  /**
   * The operators that set a line (ISO 32000-2, 9.4): one text object, letters in strings with what kerning takes between them. `toPage`
   * leads from the line's own space, in which the em is 1, to the page in points.
   */
  show(set: SetLetters, toPage: Affine): string {
    const out: string[] = ['BT'];
    const size = Math.hypot(toPage[3], toPage[4]) || 1;
    const m = [toPage[0], toPage[1], toPage[3], toPage[4]].map((v) => v / size);
    if (set.lean !== 0) {
      m[2]! += m[0]! * set.lean;
      m[3]! += m[1]! * set.lean;
    }
    let font: OutlineFont | null = null;
    let run: string[] = [];
    let text = '';
    let pen = 0;
    const flushText = (): void => {
      if (text !== '') run.push(`<${text}>`);
      text = '';
    };
    const flush = (): void => {
      flushText();
      if (run.length > 0) out.push(`[${run.join(' ')}] TJ`);
      run = [];
    };
    const put = (x: number, y: number): void => {
      flush();
      const at = [x * toPage[0] + y * toPage[3] + toPage[9], x * toPage[1] + y * toPage[4] + toPage[10]];
      out.push(`${[...m.map((v) => numberText(v, 8)), ...at.map((v) => numberText(v))].join(' ')} Tm`);
      pen = x;
    };
    for (const { font: own, glyph, x } of set.letters) {
      const s = this.subset(own);
      const shifted = glyph.dy !== 0;
      if (own !== font) {
        flush();
        out.push(`/${s.resource} ${numberText(size)} Tf`);
        font = own;
        put(x + glyph.dx, glyph.dy);
      } else if (shifted) put(x + glyph.dx, glyph.dy);
      const off = x + glyph.dx - pen;
      if (Math.abs(off) > 1e-6) {
        flushText();
        run.push(numberText(-off * PER_EM, 3));
      }
      text += hex4(this.number(s, glyph));
      pen = x + glyph.dx + glyph.width;
      if (shifted) {
        flush();
        font = null;
      }
    }
    flush();
    out.push('ET');
    return out.join('\n');
  }

  /** The fonts as resources of pages; their objects are written. */
  finish(): Record<string, Ref> {
    const resources: Record<string, Ref> = {};
    let n = 0;
    for (const s of this.subsets.values()) {
      const called = `${tag(n++)}+${postscriptName(s.font)}`;
      const back = [...s.numbers].sort((a, b) => a[1] - b[1]);
      const none = { path: { cmds: new Uint8Array(0), data: new Float64Array(0) }, advance: 0 };
      const glyphs = [none, ...back.map(([id], i) => ({ path: s.font.outline(id), advance: s.widths[i + 1]! }))];
      const file = this.objects.stream(compactFont(called, glyphs), { Subtype: name('CIDFontType0C') });
      const widths = s.widths.map((w) => Number(numberText(w * PER_EM, 3)));
      const descriptor = this.objects.add({
        Type: name('FontDescriptor'),
        FontName: name(called),
        FontFamily: s.font.family,
        FontWeight: Math.min(900, Math.max(100, s.font.weight)),
        // Letters by number, not by a code that programs know (bit 3); slanted (bit 7) (ISO 32000-2, table 121).
        Flags: 4 + (s.font.italic ? 64 : 0),
        FontBBox: [-500, -400, 1500, 1200],
        ItalicAngle: s.font.italic ? -12 : 0,
        Ascent: 1000,
        Descent: -300,
        CapHeight: Math.round(s.font.capital * PER_EM),
        StemV: s.font.weight >= 600 ? 140 : 80,
        FontFile3: file,
      });
      const descendant = this.objects.add({
        Type: name('Font'),
        Subtype: name('CIDFontType0'),
        BaseFont: name(called),
        CIDSystemInfo: { Registry: 'Scalaria', Ordering: 'Identity', Supplement: 0 },
        FontDescriptor: descriptor,
        DW: 0,
        W: [0, widths],
      });
      const unicode = this.objects.stream(encoded(toUnicode(s.texts)));
      this.objects.fill(s.ref, {
        Type: name('Font'),
        Subtype: name('Type0'),
        BaseFont: name(called),
        Encoding: name('Identity-H'),
        DescendantFonts: [descendant],
        ToUnicode: unicode,
      });
      resources[s.resource] = s.ref;
    }
    return resources;
  }
}

const encoded = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Which characters letters stand for (ISO 32000-2, 9.10.3), a hundred to a list at the most. */
function toUnicode(texts: readonly string[]): string {
  const rows = texts.flatMap((t, i) => (t === '' ? [] : [`<${hex4(i)}> <${utf16(t)}>`]));
  const lists: string[] = [];
  for (let i = 0; i < rows.length; i += 100) {
    const part = rows.slice(i, i + 100);
    lists.push(`${part.length} beginbfchar\n${part.join('\n')}\nendbfchar`);
  }
  return [
    '/CIDInit /ProcSet findresource begin',
    '12 dict begin',
    'begincmap',
    '/CIDSystemInfo << /Registry (Scalaria) /Ordering (UCS) /Supplement 0 >> def',
    '/CMapName /Scalaria-Identity-UCS def',
    '/CMapType 2 def',
    '1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange',
    ...lists,
    'endcmap',
    'CMapName currentdict /CMap defineresource pop',
    'end',
    'end',
  ].join('\n');
}

/** What a marked piece of content stands for, as a property list (ISO 32000-2, 14.9.4). */
export const standsFor = (text: string): Raw => new Raw(`<FEFF${utf16(text)}>`);
