import { DoublePool } from '../../geometry/pool.js';

const SLOTS = 1100;

/**
 * The tags of one entity or record, with constant-time access to the first of each group code. Reused for every record:
 * what is read from it must be taken out before the next one is loaded.
 */
export abstract class Bag {
  codes = new Int32Array(256);
  /** Tags of the record itself. */
  count = 0;
  /** All tags: those of an embedded object (from group 101 on) come after the record's own and are never found by code. */
  total = 0;
  /** Where entities take their arrays of coordinates from. */
  readonly pool = new DoublePool();
  /** The first number that was asked for and lies beyond all bounds, as the file has it; whoever looks at it takes it back. */
  beyond: string | null = null;
  private first = new Int32Array(SLOTS);
  private stamp = new Int32Array(SLOTS);
  private epoch = 0;

  /** A number beyond all bounds reads as 0 and is remembered, so that what it belongs to can be left out by name. */
  protected passBound(text: string): number {
    this.beyond ??= text;
    return 0;
  }

  /** Forgets the codes of the record before. */
  protected begin(): void {
    this.epoch++;
  }
  /** Tells that the tag at a position has a code, for the first of each. */
  protected meet(code: number, at: number): void {
    if (code >= 0 && code < SLOTS && this.stamp[code] !== this.epoch) {
      this.stamp[code] = this.epoch;
      this.first[code] = at;
    }
  }

  /** The number of the tag at a position. What is no number counts as a fault and reads as 0. */
  abstract numberAt(i: number): number;
  /** The angle at a position in radians; files of text state it in degrees. */
  abstract radiansAt(i: number): number;
  abstract textAt(i: number): string;
  /** The value of a tag in the source's own form, escapes and all. */
  abstract rawAt(i: number): string;
  /** The record's tags from the given one on as lines of code and value, in the source's own form; from 0 with its kind. */
  abstract rawFrom(i: number): string;
  /** The number of the handle at a position, or -1 for what is none. */
  abstract handleAt(i: number): number;
  /** Where the record is, for a person. */
  abstract where(): string;

  /** Position of the first tag with the code, or -1. */
  find(code: number): number {
    return this.stamp[code] === this.epoch ? this.first[code]! : -1;
  }
  has(code: number): boolean {
    return this.stamp[code] === this.epoch;
  }
  number(code: number, otherwise = 0): number {
    const i = this.find(code);
    return i < 0 ? otherwise : this.numberAt(i);
  }
  /** An angle in radians. */
  radians(code: number): number {
    const i = this.find(code);
    return i < 0 ? 0 : this.radiansAt(i);
  }
  integer(code: number, otherwise = 0): number {
    return Math.trunc(this.number(code, otherwise));
  }
  text(code: number, otherwise = ''): string {
    const i = this.find(code);
    return i < 0 ? otherwise : this.textAt(i);
  }
  /** The point whose x is at `code`, y at code + 10, z at code + 20. */
  point(code: number): [number, number, number] {
    return [this.number(code), this.number(code + 10), this.number(code + 20)];
  }
  /** All numbers with the code, in order. */
  numbers(code: number): number[] {
    const out: number[] = [];
    for (let i = 0; i < this.count; i++) if (this.codes[i] === code) out.push(this.numberAt(i));
    return out;
  }
}
