import type { Failure } from './worker.js';

/** What a command ends with, by what went wrong. */
export const CODES: Record<Failure['kind'], number> = { usage: 2, unreadable: 3, unwritten: 5, givenUp: 6 };
/** A failure as programs are told of it. */
export const errorOf = (f: Failure): { message: string; where?: string; remedy?: string } => ({
  message: f.message,
  ...(f.where && { where: f.where }),
  ...(f.remedy && { remedy: f.remedy }),
});
/** What weighs most of all that happened: unreadable files, wrong usage, what was given up or not written, then proofs. */
export const worst = (codes: number[]): number => [3, 2, 6, 5, 4].find((c) => codes.includes(c)) ?? 0;

/** Tells each file as soon as it and those before it are done; programs are told all at once. */
export class Report {
  private readonly told: (string | undefined)[] = [];
  private next = 0;

  constructor(private readonly json: boolean) {}

  tell(index: number, text: () => string): void {
    if (this.json) return;
    this.told[index] = text();
    for (; this.told[this.next] !== undefined; this.next++)
      console.log(`${this.next > 0 ? '\n' : ''}${this.told[this.next]}`);
  }
  all(data: unknown): void {
    if (this.json) console.log(JSON.stringify(data, null, 2));
  }
}
