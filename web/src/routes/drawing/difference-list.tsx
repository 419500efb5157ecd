import type { Comparison, Difference } from '@scalaria/core';
import { kindName } from '@scalaria/core';
import { Section, Tick } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';

export type What = Difference['what'];

/** What a difference is called, and the letter that stands on the drawing for it. */
export const WORDS: Record<What, [string, string]> = {
  changed: ['changed', 'C'],
  moved: ['moved', 'M'],
  new: ['new', 'N'],
  gone: ['gone', 'G'],
};
export const ALL: readonly What[] = ['changed', 'moved', 'new', 'gone'];
const MOST_LISTED = 300;

/** The differences of two revisions, to be gone through one by one; which sorts are listed is chosen above them. */
export function DifferenceList({
  comparison,
  listed,
  shown,
  chosen,
  onToggle,
  onVisit,
}: {
  comparison: Comparison;
  listed: readonly Difference[];
  shown: ReadonlySet<What>;
  chosen: Difference | null;
  onToggle: (what: What) => void;
  onVisit: (d: Difference) => void;
}) {
  return (
    <Section title="Differences" aside={<span className="num text-sm text-quiet">{listed.length} listed</span>}>
      <div className="mb-2 flex flex-wrap gap-x-4 gap-y-1 text-sm" role="group" aria-label="Which are shown">
        {ALL.map((w) => (
          <Tick key={w} className="flex items-center gap-1.5" checked={shown.has(w)} onChange={() => onToggle(w)}>
            {WORDS[w][0]} ({WORDS[w][1]})
          </Tick>
        ))}
      </div>
      {comparison.differences.length === 0 && <p>The revisions are identical.</p>}
      <ul className="border-y border-rule" aria-label="Differences">
        {listed.slice(0, MOST_LISTED).map((d, i) => (
          <li key={i} className="border-b border-rule last:border-b-0">
            <button
              type="button"
              aria-current={d === chosen}
              onClick={() => onVisit(d)}
              className={`flex w-full gap-2 px-1 py-1 text-left hover:bg-wash ${d === chosen ? 'bg-wash' : ''}`}
            >
              <span className="num w-4 shrink-0 text-quiet" aria-hidden>
                {WORDS[d.what][1]}
              </span>
              <span className="min-w-0">
                <span className="block">
                  {kindName(d.kind)}: {d.words}
                </span>
                <span className="num block text-xs text-quiet">
                  {WORDS[d.what][0]} · layer {d.layer} · at {plainNumber(d.at.x)}, {plainNumber(d.at.y)}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {listed.length > MOST_LISTED && <p className="mt-1 text-sm">The first {MOST_LISTED} are listed.</p>}
    </Section>
  );
}
