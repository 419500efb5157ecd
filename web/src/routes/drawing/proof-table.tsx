import type { Proof, ProofItem } from '@scalaria/core';
import { CARRY_OVERS } from '@scalaria/core';
import { STATE_WORDS, StateBar } from '../../parts/state-bar';

const RANK = { atRisk: 0, lost: 1, undecided: 2, changed: 3, kept: 4 } as const;

/** Counts of kinds come after what was measured: most of them follow from a format, and nobody asked. */
const weight = (i: ProofItem): number => (i.id.startsWith('kind-') ? 1 : 0);

/** Every comparison of a proof, by carry-over, the worst first. */
export function ProofTable({
  proof,
  chosen,
  onVisit,
}: {
  proof: Proof;
  chosen: string | null;
  /** Leads to what a row is about. */
  onVisit: (item: ProofItem) => void;
}) {
  return (
    <div data-testid="proof">
      {CARRY_OVERS.map((c) => {
        const items = proof.items
          .filter((i) => i.carryOver === c)
          .sort((p, q) => RANK[p.state] - RANK[q.state] || weight(p) - weight(q));
        if (items.length === 0) return null;
        return (
          <section key={c} className="border-b border-rule px-4 py-2.5" aria-label={c}>
            <h3 className="text-sm font-semibold first-letter:uppercase">{c}</h3>
            <ul>
              {items.map((i) => (
                <Row key={i.id} item={i} isChosen={chosen === i.id} onVisit={() => onVisit(i)} />
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

function Row({ item, isChosen, onVisit }: { item: ProofItem; isChosen: boolean; onVisit: () => void }) {
  const leads = item.at !== undefined || item.shows !== undefined || item.id === 'size';
  const alarm = item.state === 'atRisk' || item.state === 'lost';
  const same = item.expected === item.found;
  return (
    <li className={`py-1 ${isChosen ? 'bg-wash' : ''}`} data-item={item.id} data-state={item.state}>
      <div className="flex items-baseline justify-between gap-2">
        {leads ? (
          <button
            type="button"
            className="min-w-0 text-left underline-offset-2 hover:underline"
            title="Show in the drawing"
            aria-current={isChosen}
            onClick={onVisit}
          >
            {item.title}
          </button>
        ) : (
          <span>{item.title}</span>
        )}
        <span className={`flex shrink-0 items-center gap-1.5 text-xs ${alarm ? 'text-alarm' : 'text-quiet'}`}>
          <StateBar state={item.state} width={24} />
          {STATE_WORDS[item.state]}
        </span>
      </div>
      <p className="num text-[12.5px]">
        {item.found}
        {!same && <span className="text-quiet"> · expected {item.expected}</span>}
      </p>
      {item.explanation && <p className={`text-xs ${alarm ? 'text-alarm' : 'text-quiet'}`}>{item.explanation}</p>}
    </li>
  );
}
