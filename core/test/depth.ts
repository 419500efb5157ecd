/**
 * How thoroughly what is tried at random, or on many files, is tried: 1 for all of it, a third where nobody asks. `TEST_DEPTH=1 npm test` asks.
 */
const DEPTH = Number(process.env['TEST_DEPTH'] ?? 1 / 3);

/** So many runs of a law, or rounds of damage, of those it has in full; one at the least. */
export const often = (times: number): number => Math.max(1, Math.round(times * DEPTH));

/** What something makes, and the milliseconds of processor time that it takes: what else the machine does meanwhile is not counted. */
export function timed<T>(work: () => T): { made: T; ms: number } {
  const from = process.cpuUsage();
  const made = work();
  const { user, system } = process.cpuUsage(from);
  return { made, ms: (user + system) / 1000 };
}
