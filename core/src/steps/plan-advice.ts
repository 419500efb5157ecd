import type { PlannedStep } from './step.js';

/** What is better the other way round: a step, one that comes later, and why. */
const ORDER: readonly { step: string; before: string; words: string }[] = [
  {
    step: 'round-coordinates',
    before: 'thin-points',
    words:
      'Rounding makes kinks that thinning then has to keep: thin first, then round, then take away needless points.',
  },
  {
    step: 'chain-outlines',
    before: 'clear-doubles',
    words: 'Curves that lie on each other make branches: clear doubles before chaining.',
  },
  {
    step: 'chain-outlines',
    before: 'merge-overlaps',
    words: 'Curves that run over each other do not meet end to end: merge overlaps before chaining.',
  },
  {
    step: 'thin-points',
    before: 'recover-arcs',
    words: 'Chords that were thinned lie less well on their arcs: recover arcs before thinning.',
  },
];

/** What is to be said about the order of a plan, by the id of the step that stands too early. Needless points alone may go last. */
export function adviceOn(plan: readonly PlannedStep[]): ReadonlyMap<string, string> {
  const out = new Map<string, string>();
  const on = plan.filter((s) => s.on);
  on.forEach((s, i) => {
    const told = ORDER.find(
      (o) =>
        o.step === s.step && on.slice(i + 1).some((t) => t.step === o.before && t.params['strength'] !== 'redundant'),
    );
    // What was done before as well may be done once more.
    if (told && !on.slice(0, i).some((t) => t.step === told.before)) out.set(s.id, told.words);
  });
  return out;
}
