import { wordTable } from '../../drawing/word-table.js';

/** Small parts of a file that say how it came to be (Open Design Specification, "AuxHeader" and after). */

/** The number that parts have for a version, by its letters. */
const RELEASE = wordTable<number>({
  AC1012: 19,
  AC1014: 21,
  AC1015: 23,
  AC1018: 25,
  AC1021: 27,
  AC1024: 29,
  AC1027: 31,
  AC1032: 33,
});
export const releaseOf = (letters: string): number => RELEASE[letters] ?? 23;

class Bytes {
  private readonly out: number[] = [];
  short(...values: number[]): this {
    for (const v of values) this.out.push(v & 255, (v >> 8) & 255);
    return this;
  }
  long(...values: number[]): this {
    for (const v of values) this.short(v & 0xffff, v >>> 16);
    return this;
  }
  byte(...values: number[]): this {
    this.out.push(...values);
    return this;
  }
  /** A text with its length and a zero behind it, in two bytes a character where `wide`. */
  text(text: string, wide: boolean): this {
    this.short(text.length + 1);
    for (const c of `${text}\0`) {
      const code = c.charCodeAt(0);
      if (wide) this.short(code);
      else this.byte(code < 256 ? code : 63);
    }
    return this;
  }
  get bytes(): Uint8Array {
    return Uint8Array.from(this.out);
  }
}

/** How often the drawing was saved and by which version; the seed of its handles. */
export function auxHeader(letters: string, maintenance: number, seed: number): Uint8Array {
  const release = releaseOf(letters);
  const b = new Bytes().byte(0xff, 0x77, 0x01).short(release, maintenance).long(1, -1).short(1, 0).long(0);
  b.short(release, maintenance, release, maintenance, 5, 0x893, 5, 0x893, 0, 1).long(0, 0, 0, 0, 0);
  // Two dates, day and millisecond.
  b.long(0, 0, 0, 0)
    .long(seed < 0x7fffffff ? seed : -1, 0)
    .short(0, 1)
    .long(0, 0, 0, 1, 0, 0, 0, 0);
  if (letters >= 'AC1032') b.short(0, 0, 0);
  return b.bytes;
}

/** Title and the like for a person, then dates and properties, none of them given. */
export function summaryInfo(v: number, title: string): Uint8Array {
  const b = new Bytes();
  for (const w of [title, '', '', '', '', '', '', '']) b.text(w, v >= 2007);
  return b.long(0, 0, 0, 0, 0, 0).short(0).long(0, 0).bytes;
}

/** No files that the drawing depends on. */
export const dependencies = (): Uint8Array => new Bytes().long(0, 0).bytes;
/** No history of revisions. */
export const revisions = (): Uint8Array => new Bytes().long(0, 0, 0).bytes;

/** Which program wrote the file. */
export function programInfo(v: number): Uint8Array {
  const wide = v >= 2007;
  const b = new Bytes();
  if (wide) b.long(3);
  b.text('AppInfoDataList', wide);
  if (wide) b.long(3);
  else b.long(2);
  const id = new Array<number>(16).fill(0);
  if (wide) {
    b.byte(...id)
      .text('1', wide)
      .byte(...id)
      .text('Scalaria', wide)
      .byte(...id)
      .text('', wide);
  } else b.text('1', wide).text('Scalaria', wide).text('', wide);
  return b.bytes;
}
