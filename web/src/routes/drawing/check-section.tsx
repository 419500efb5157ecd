import { useState } from 'react';
import type { Finding, Kept, LedgerRow } from '@scalaria/core';
import { stepById } from '@scalaria/core';
import type { CHECKS } from '@scalaria/core';
import { Button } from '../../parts/button';
import { LongList } from '../../parts/long-list';
import { plainNumber } from '../../parts/numbers';
import { ParameterForm } from '../../forms/parameter-form';
import { SEVERITY, SHORT, countOf, worstOf } from './finding-words';

interface Props {
  check: (typeof CHECKS)[number];
  /** `null` while they are looked for. */
  findings: readonly Finding[] | null;
  /** The checks were stopped before this one was done. */
  stopped: boolean;
  isOpen: boolean;
  onTurn: (open: boolean) => void;
  chosen: Finding | null;
  settings: Kept | undefined;
  unit: string | null;
  onVisit: (f: Finding) => void;
  /** Mends findings by the step of the check, at once or after a look at what it would do. */
  onMend: (which: readonly Finding[] | 'all', look: boolean) => void;
  /** What the step that was taken left as it is. */
  left: readonly LedgerRow[];
  /** `null` puts the standard settings back. */
  onSettings: (v: Kept | null) => void;
  /** Asks the author of the source to mend one. */
  onAsk: (f: Finding) => void;
  /** Sets findings aside, with a word why. */
  onAside: (which: readonly Finding[] | 'all', why: string) => void;
}

/** One check in a line: the worst it found and how much; opened, its findings, how to mend them, and its settings. */
export function CheckSection(props: Props) {
  const { check, findings, stopped, isOpen, onTurn, settings } = props;
  const own = findings ?? [];
  const count = countOf(own);
  const worst = worstOf(own);
  const words = count === 0 ? 'none found' : plainNumber(count);
  const said = findings === null ? (stopped ? 'not checked' : 'checking …') : words;
  return (
    <section aria-label={check.title} className="border-b border-rule">
      <h2 className="text-[15px]">
        <button
          type="button"
          aria-expanded={isOpen}
          className="flex w-full items-baseline gap-2 px-4 py-2 text-left hover:bg-wash"
          onClick={() => onTurn(!isOpen)}
        >
          <span aria-hidden className={`text-[11px] ${isOpen ? 'rotate-90' : ''}`}>
            ▶
          </span>
          <span className="min-w-0 flex-1 font-semibold">{check.title}</span>
          <span
            className={`shrink-0 text-sm whitespace-nowrap ${worst && worst !== 'note' ? 'text-alarm' : 'text-quiet'}`}
          >
            {worst && (
              <>
                <span aria-hidden>{SEVERITY[worst][0]}</span> {SHORT[worst]}{' '}
              </>
            )}
            <span className="num">{settings && count === 0 ? `${said} · set for this job` : said}</span>
          </span>
        </button>
      </h2>
      {isOpen && <Opened {...props} own={own} />}
    </section>
  );
}

function Opened({
  check,
  findings,
  own,
  chosen,
  settings,
  unit,
  onVisit,
  onMend,
  left,
  onSettings,
  onAsk,
  onAside,
}: Props & { own: readonly Finding[] }) {
  const [asking, setAsking] = useState<readonly Finding[] | 'all' | null>(null);
  const [ticked, setTicked] = useState<ReadonlySet<Finding>>(new Set());
  const chosenFew = own.filter((f) => ticked.has(f));
  // Only steps that can be told which objects they are for mend one by one.
  const oneByOne = check.mend !== undefined && stepById(check.mend.step)?.params['which']?.kind === 'selection';
  const tick = (f: Finding, on: boolean): void => {
    const next = new Set(ticked);
    if (on) next.add(f);
    else next.delete(f);
    setTicked(next);
  };
  const adjustable = Object.keys(check.params).length > 0;
  // Settings that were in sight stay so, whatever they make of the findings.
  const [unfolded] = useState(own.length === 0);
  const hasLengths = Object.values(check.params).some((one) => one.kind === 'length');
  return (
    <div className="px-4 pb-3">
      <p className="mb-2 text-sm text-quiet">{check.summary}</p>
      {own.length > 0 && (
        <LongList
          label={`Findings: ${check.title}`}
          rows={own}
          keyOf={(_, i) => String(i)}
          height={58}
          most="22rem"
          rowClass="border-t border-rule first:border-t-0"
        >
          {(f) => (
            <FindingRow
              finding={f}
              isChosen={chosen === f}
              onVisit={() => onVisit(f)}
              onAsk={() => onAsk(f)}
              {...(own.length > 1 && { onAside: () => setAsking([f]) })}
              {...(oneByOne &&
                own.length > 1 &&
                f.ids.length > 0 && { ticked: ticked.has(f), onTick: (on) => tick(f, on) })}
            />
          )}
        </LongList>
      )}
      {own.length > 0 && (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          {check.mend && chosenFew.length === 0 && (
            <Button onClick={() => onMend('all', false)}>{check.mend.words}</Button>
          )}
          {check.mend && chosenFew.length > 0 && (
            <Button onClick={() => onMend(chosenFew, false)}>Mend {chosenFew.length} chosen</Button>
          )}
          {check.mend && (
            <Button look="quiet" onClick={() => onMend(chosenFew.length > 0 ? chosenFew : 'all', true)}>
              Look first
            </Button>
          )}
          <Button look="quiet" onClick={() => setAsking('all')}>
            {own.length === 1 ? 'Set aside …' : 'Set all aside …'}
          </Button>
        </div>
      )}
      {left.length > 0 && own.length > 0 && (
        <div className="mt-2 text-sm">
          <p className="text-quiet">The step left as they are:</p>
          <ul>
            {left.map((r) => (
              <li key={r.reason}>
                {r.reason} ({plainNumber(r.count)})
              </li>
            ))}
          </ul>
        </div>
      )}
      {asking && (
        <WhyAside
          what={asking === 'all' ? check.title : asking[0]!.message}
          onClose={() => setAsking(null)}
          onWhy={(why) => {
            onAside(asking, why);
            setAsking(null);
          }}
        />
      )}
      {adjustable && findings !== null && (
        <details className="mt-2 text-sm" {...(unfolded && { open: true })}>
          <summary className="cursor-pointer text-quiet">
            {settings ? 'Settings (set for this job)' : 'Settings'}
          </summary>
          <ParameterForm params={check.params} values={settings ?? {}} unit={unit} onChange={onSettings} />
          {hasLengths && unit === null && <p className="mt-2 text-quiet">Lengths are kept once the unit is decided.</p>}
          {settings && (
            <Button look="quiet" className="mt-1" onClick={() => onSettings(null)}>
              Back to the standard settings
            </Button>
          )}
        </details>
      )}
    </div>
  );
}

function FindingRow({
  finding: f,
  isChosen,
  onVisit,
  onAsk,
  onAside,
  ticked = false,
  onTick,
}: {
  finding: Finding;
  isChosen: boolean;
  onVisit: () => void;
  onAsk: () => void;
  onAside?: () => void;
  ticked?: boolean;
  onTick?: (on: boolean) => void;
}) {
  return (
    <div className={`flex items-start gap-1 ${isChosen ? 'bg-wash' : ''}`}>
      {onTick && (
        <input
          type="checkbox"
          className="mt-2.5 accent-[var(--ink)]"
          aria-label={`To mend: ${f.message}`}
          checked={ticked}
          onChange={(e) => onTick(e.target.checked)}
        />
      )}
      <button
        type="button"
        className="flex min-w-0 flex-1 gap-2 px-1 py-1.5 text-left hover:bg-wash"
        aria-current={isChosen}
        onClick={onVisit}
      >
        <span className={f.severity === 'note' ? 'text-quiet' : 'text-alarm'} aria-hidden="true">
          {SEVERITY[f.severity][0]}
        </span>
        <span className="min-w-0">
          <span className="block break-words">{f.message}</span>
          <span className="num block text-xs text-quiet">
            {SEVERITY[f.severity][1]}
            {f.layer && ` · layer ${f.layer}`}
            {f.at && ` · at ${plainNumber(f.at.x)}, ${plainNumber(f.at.y)}`}
          </span>
        </span>
      </button>
      {isChosen && (
        <Button look="quiet" className="py-1.5 text-xs" onClick={onAsk} aria-label={`Ask the author: ${f.message}`}>
          Ask author
        </Button>
      )}
      {onAside && (
        <Button look="quiet" className="py-1.5 text-xs" onClick={onAside} aria-label={`Set aside: ${f.message}`}>
          Set aside
        </Button>
      )}
    </div>
  );
}

/** Why something is no concern: asked before it is set aside, and kept with it. */
function WhyAside({ what, onWhy, onClose }: { what: string; onWhy: (why: string) => void; onClose: () => void }) {
  const [why, setWhy] = useState('');
  return (
    <form
      className="mt-2 border-l-2 border-act pl-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (why.trim()) onWhy(why.trim());
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        onClose();
      }}
    >
      <label className="block text-sm">
        <span className="text-quiet">Why is “{what.slice(0, 60)}” no concern here?</span>
        <input
          autoFocus
          required
          maxLength={300}
          value={why}
          onChange={(e) => setWhy(e.target.value)}
          className="mt-1 w-full border border-ink/60 bg-sheet px-2 py-1"
        />
      </label>
      <div className="mt-1.5 flex gap-3">
        <Button type="submit" disabled={why.trim() === ''}>
          Set aside
        </Button>
        <Button look="quiet" onClick={onClose}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
