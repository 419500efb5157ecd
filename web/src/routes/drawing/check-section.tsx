import { useState } from 'react';
import type { Finding, Kept } from '@scalaria/core';
import type { CHECKS } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Fold, Section } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { ParameterForm } from '../../forms/parameter-form';

const MOST_LISTED = 200;

/** What a severity is called, and the mark it has: shape first, colour second. */
const SEVERITY = { error: ['▲', 'to be mended'], warning: ['◆', 'look at it'], note: ['○', 'to know'] } as const;

/** One check: what it found, how to mend it, and its settings. One that found nothing takes a single line. */
export function CheckSection({
  check,
  findings,
  laidOut,
  stopped,
  chosen,
  settings,
  unit,
  onVisit,
  onMend,
  onSettings,
}: {
  check: (typeof CHECKS)[number];
  /** `null` while they are looked for. */
  findings: readonly Finding[] | null;
  /** It found something when the drawing was first looked at: it stays laid out while its settings are turned. */
  laidOut: boolean;
  /** The checks were stopped before this one was done. */
  stopped: boolean;
  chosen: Finding | null;
  settings: Kept | undefined;
  unit: string | null;
  onVisit: (f: Finding) => void;
  onMend: () => void;
  /** `null` puts the standard settings back. */
  onSettings: (v: Kept | null) => void;
}) {
  const own = findings ?? [];
  // Settings that are being turned stay open, whatever they make of the findings.
  const [turned, setTurned] = useState(false);
  const adjustable = Object.keys(check.params).length > 0;
  const count = own.reduce((n, f) => n + (f.more ?? 1), 0);
  const words = count === 0 ? 'none found' : count === 1 ? '1 finding' : `${plainNumber(count)} findings`;
  const hasLengths = Object.values(check.params).some((one) => one.kind === 'length');
  const why = (
    <div className="text-sm">
      <p className="my-2 text-quiet">{check.summary}</p>
      {adjustable && (
        <ParameterForm
          params={check.params}
          values={settings ?? {}}
          unit={unit}
          onChange={(v) => {
            setTurned(true);
            onSettings(v);
          }}
        />
      )}
      {adjustable && hasLengths && unit === null && (
        <p className="mt-2 text-quiet">Lengths are kept once the unit is decided.</p>
      )}
      {settings && (
        <Button look="quiet" className="mt-1" onClick={() => onSettings(null)}>
          Back to the standard settings
        </Button>
      )}
    </div>
  );
  const said = findings === null ? (stopped ? 'not checked' : 'checking …') : words;
  if (own.length === 0 && !laidOut && !turned)
    return (
      <Fold title={check.title} said={settings ? `${said} · set for this job` : said}>
        {why}
      </Fold>
    );
  return (
    <Section
      title={check.title}
      aside={<span className={`text-sm ${own.length > 0 ? 'text-alarm' : 'text-quiet'}`}>{said}</span>}
    >
      {own.length > 0 && (
        <ul className="mb-2 border-y border-rule" aria-label={`Findings: ${check.title}`}>
          {own.slice(0, MOST_LISTED).map((f, i) => (
            <li key={i} className="border-b border-rule last:border-b-0">
              <button
                type="button"
                className={`flex w-full gap-2 px-1 py-1.5 text-left hover:bg-wash ${chosen === f ? 'bg-wash' : ''}`}
                aria-current={chosen === f}
                onClick={() => onVisit(f)}
              >
                <span className={f.severity === 'note' ? 'text-quiet' : 'text-alarm'} aria-hidden="true">
                  {SEVERITY[f.severity][0]}
                </span>
                <span>
                  <span className="block">{f.message}</span>
                  <span className="num block text-xs text-quiet">
                    {SEVERITY[f.severity][1]}
                    {f.layer && ` · layer ${f.layer}`}
                    {f.at && ` · at ${plainNumber(f.at.x)}, ${plainNumber(f.at.y)}`}
                  </span>
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {own.some((f) => f.severity !== 'note') && check.mend && (
        <Button className="mb-2" onClick={onMend}>
          {check.mend.words}
        </Button>
      )}
      {own.length > MOST_LISTED && <p className="mb-2 text-sm">The first {MOST_LISTED} are listed.</p>}
      <details className="text-sm" {...(turned && { open: true })}>
        <summary className="cursor-pointer text-quiet">
          {adjustable ? (settings ? 'Why, and settings (set for this job)' : 'Why, and settings') : 'Why'}
        </summary>
        {why}
      </details>
    </Section>
  );
}
