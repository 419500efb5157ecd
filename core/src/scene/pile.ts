type Numbers = Float32Array | Uint8Array | Uint32Array;

/** Room for so many numbers at first, and in each further piece: drawings may have a hundred thousand layers of one line each. */
const FIRST = 96;
const PIECE = 98_304;

/** Gives the room of numbers that nobody has any more back at once, where the engine can (ES2024); elsewhere the collector does it. */
function giveBack(numbers: Numbers): void {
  const buffer: ArrayBufferLike & { transfer?: (size: number) => ArrayBuffer } = numbers.buffer;
  buffer.transfer?.(0);
}

/**
 * Numbers that are added one after the other, in pieces: what is there already is not moved to make room, so that a large scene
 * never stands in memory twice while it is made.
 */
export class Pile<T extends Numbers> {
  private readonly full: T[] = [];
  /** The piece that is being filled, and how far it is. */
  now: T;
  at = 0;

  constructor(private readonly make: new (n: number) => T) {
    this.now = new make(FIRST);
  }

  /** Makes sure that `more` numbers (at most a piece) can be put at {@link at} of {@link now}, which the caller moves on. */
  room(more: number): void {
    if (this.at + more <= this.now.length) return;
    if (this.now.length < PIECE && this.full.length === 0) {
      const wider = new this.make(Math.min(PIECE, Math.max(this.now.length * 2, this.at + more)));
      wider.set(this.now.subarray(0, this.at));
      giveBack(this.now);
      this.now = wider;
      if (this.at + more <= wider.length) return;
    }
    this.full.push(this.now.subarray(0, this.at) as T);
    this.now = new this.make(Math.max(PIECE, more));
    this.at = 0;
  }

  get length(): number {
    return this.full.reduce((n, p) => n + p.length, this.at);
  }

  /** All of it as one array; nothing is left here. */
  take(): T {
    const out = new this.make(this.length);
    let n = 0;
    for (let p = this.full.shift(); p; p = this.full.shift()) {
      out.set(p, n);
      n += p.length;
      giveBack(p);
    }
    out.set(this.now.subarray(0, this.at), n);
    giveBack(this.now);
    this.now = new this.make(0);
    this.at = 0;
    return out;
  }
}
