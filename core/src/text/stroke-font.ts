import type { PathData } from '../geometry/path.js';

/** A letter of open strokes; sizes in ems, the pen starts at (0, 0), y upwards. */
export interface StrokeGlyph {
  path: PathData;
  advance: number;
}

/** A font whose letters are lines to be followed by a tool rather than areas to be filled. */
export interface StrokeFont {
  family: string;
  /** Height of capitals as a part of the em. */
  capital: number;
  glyph(codePoint: number): StrokeGlyph | null;
}
