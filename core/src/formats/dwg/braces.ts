import type { TagRecord } from './tag-store.js';

/** A record, and who is told which of its tags were taken. */
export interface TagUser {
  record: TagRecord;
  use(tag: number): void;
}

const OPENS = /^([A-Z_]+)\{$/;

/**
 * The tags of a record that nests parts of itself in braces: `300 CONTEXT_DATA{` to `301 }`, `302 LEADER{` to `303 }`,
 * and so on. Codes mean something only within the part they stand in. The head of the record is left out.
 */
export class Braces {
  readonly inner: Braces[] = [];
  private readonly tags: number[] = [];

  private constructor(
    readonly name: string,
    private readonly f: TagUser,
  ) {}

  static of(f: TagUser): Braces {
    const { record } = f;
    const { store } = record;
    const root = new Braces('', f);
    const trail = [root];
    for (let i = record.from + 1; i < record.to; i++) {
      const code = store.codes[i]!;
      const here = trail[trail.length - 1]!;
      // What stands before the last mark belongs to the head of the record.
      if (code === 100) root.tags.length = 0;
      if (code < 300 || code > 305) {
        here.tags.push(i);
        continue;
      }
      const text = store.textAt(i).trim();
      const opened = code % 2 === 0 ? OPENS.exec(text) : null;
      if (opened) {
        const part = new Braces(opened[1]!, f);
        here.inner.push(part);
        trail.push(part);
      } else if (code % 2 === 1 && text === '}') {
        if (trail.length > 1) trail.pop();
      } else {
        here.tags.push(i);
        continue;
      }
      f.use(i);
    }
    return root;
  }

  parts(name: string): Braces[] {
    return this.inner.filter((p) => p.name === name);
  }
  private find(code: number): number {
    const { codes } = this.f.record.store;
    const i = this.tags.find((t) => codes[t] === code);
    if (i === undefined) return -1;
    this.f.use(i);
    return i;
  }
  has(code: number): boolean {
    const { codes } = this.f.record.store;
    return this.tags.some((t) => codes[t] === code);
  }
  number(code: number, otherwise = 0): number {
    const i = this.find(code);
    return i < 0 ? otherwise : this.f.record.store.numberAt(i);
  }
  /** Takes a number where it says nothing beyond the usual; any other stays, to be told. */
  usual(code: number, value: number): void {
    const { codes } = this.f.record.store;
    const i = this.tags.find((t) => codes[t] === code);
    if (i !== undefined && this.f.record.store.numberAt(i) === value) this.f.use(i);
  }
  text(code: number): string {
    const i = this.find(code);
    return i < 0 ? '' : this.f.record.store.textAt(i);
  }
  handle(code: number): number {
    const i = this.find(code);
    return i < 0 ? 0 : this.f.record.store.handleAt(i);
  }
  /** Every tag with one of the codes, in order: its code and where it stands. */
  all(...wanted: number[]): { code: number; at: number }[] {
    const { codes } = this.f.record.store;
    const out: { code: number; at: number }[] = [];
    for (const at of this.tags) {
      if (!wanted.includes(codes[at]!)) continue;
      this.f.use(at);
      out.push({ code: codes[at]!, at });
    }
    return out;
  }
}
