import type { FontRequest } from '../../drawing/entity.js';
import type { Bag } from './bag.js';
import type { TagSink } from './tag-sink.js';

/*
 * A text style names an outline font by its family and face in extended data of ACAD: its name (1000), and a number (1071) that holds
 * pitch and family, character set, and whether it is slanted or bold (DXF reference, STYLE, group 1071).
 */
const SLANTED = 0x01000000;
const BOLD = 0x02000000;
/** Of varying pitch, without serifs: what is said where nobody knows the family. */
const PITCH = 0x22;
/** From this weight on a face counts as bold: there are two. */
const FIRST_BOLD = 600;

/** The font that the extended data of a text style names. */
export function faceOf(b: Bag): FontRequest | undefined {
  let inside = false;
  let family = '';
  for (let i = 0; i < b.total; i++) {
    const code = b.codes[i]!;
    if (code === 1001) inside = b.textAt(i).toUpperCase() === 'ACAD';
    else if (inside && code === 1000) family = b.textAt(i);
    else if (inside && code === 1071 && family !== '') {
      const flags = b.numberAt(i);
      return { family, weight: (flags & BOLD) !== 0 ? 700 : 400, italic: (flags & SLANTED) !== 0 };
    }
  }
  return undefined;
}

/** The two weights that a text style can say. */
export const draftingWeight = (weight: number): 400 | 700 => (weight >= FIRST_BOLD ? 700 : 400);

/** What the text style of a font is called. */
export const faceName = ({ family, weight, italic }: FontRequest): string =>
  family + (draftingWeight(weight) === 700 ? ' Bold' : '') + (italic ? ' Italic' : '');

export function writeFace(out: TagSink, { family, weight, italic }: FontRequest): void {
  out.string(1001, 'ACAD');
  out.string(1000, family);
  out.integer(1071, PITCH | (draftingWeight(weight) === 700 ? BOLD : 0) | (italic ? SLANTED : 0));
}
