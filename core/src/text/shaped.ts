import type { PathData } from '../geometry/path.js';

/** A letter of a font as a line of text uses it: ligatures are one letter for several characters. Lengths in ems. */
export interface ShapedGlyph {
  /** Its number in the font. */
  readonly id: number;
  /** The characters that it stands for. */
  readonly text: string;
  /** How far the pen moves by the font, and in this line, where kerning may change it. */
  readonly width: number;
  readonly advance: number;
  /** How far it is put off the pen. */
  readonly dx: number;
  readonly dy: number;
}

/** A font that says which letters a text is made of, so that a file can hold just those. */
export interface Shaper {
  /** The letters of a text that runs one way, in the order in which they stand. */
  shape(text: string, rightToLeft: boolean): ShapedGlyph[];
  /** The outline of a letter by its number, in ems, with y upwards. */
  outline(id: number): PathData;
}
