import type { Entity } from '../../drawing/entity.js';
import type { Vec3 } from '../../geometry/vector.js';
import { degreesOf } from './numbers.js';

/** A form that can take plain entities as they are, without making tags of them. */
export interface WholeEntities {
  /** Whether it has a place for entities of the kind, and for all that this one says beside its look. */
  takes(e: Entity): boolean;
  /** Takes the tags of looks, each a record of its own. */
  readonly looks: TagSink;
  /** An entity with its handle and the number of its look, the name of its block or style, and what it says. */
  put(type: string, e: Entity, handle: number, look: number, paper: boolean, name: string, said: string): void;
}

/** Takes the tags of a DXF in order. Values are what their group code holds: text, whole numbers, numbers, hex digits. */
export abstract class TagSink {
  /** A text value; line ends inside it become blanks, since a value is one line. */
  abstract string(code: number, value: string): void;
  abstract integer(code: number, value: number): void;
  abstract number(code: number, value: number): void;
  /** Tags in the form of a source file. */
  abstract raw(text: string): void;
  /** What was written, in pieces to be put one after the other. */
  abstract pieces(): Uint8Array[];

  /** What takes plain entities as they are, without tags. */
  readonly whole: WholeEntities | null = null;

  /** An angle in radians, which files of tags state in degrees. */
  angle(code: number, radians: number): void {
    this.number(code, degreesOf(radians));
  }
  point(code: number, p: Vec3): void {
    this.number(code, p[0]);
    this.number(code + 10, p[1]);
    this.number(code + 20, p[2]);
  }
  point2(code: number, x: number, y: number): void {
    this.number(code, x);
    this.number(code + 10, y);
  }
}

/** Characters that code page 1252 does not have at their own number as `\U+XXXX`, by UTF-16 unit. */
export const escapeUnicode = (text: string): string =>
  text.replace(/[^\x00-\x7f\xa0-\xff]/g, (c) => '\\U+' + c.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0'));
