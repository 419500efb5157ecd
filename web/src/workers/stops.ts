/**
 * Stops runs of the worker while it works. Memory is shared with it where the browser allows that (the page is alone in its
 * process and came by a safe way); elsewhere a run goes on to its end and nobody waits for it.
 */
export class Stops {
  readonly memory: SharedArrayBuffer | null;
  private readonly cells: Int32Array | null;
  private last = 0;

  constructor() {
    this.memory = globalThis.crossOriginIsolated === true ? new SharedArrayBuffer(4) : null;
    this.cells = this.memory && new Int32Array(this.memory);
  }

  /** The number of a run that begins now. */
  begin(): number {
    return ++this.last;
  }

  /** Stops a run, and those that began before it. */
  stop(run: number): void {
    if (this.cells) Atomics.store(this.cells, 0, Math.max(run, Atomics.load(this.cells, 0)));
  }
}
