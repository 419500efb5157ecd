import type { Finding, Parameters } from '@scalaria/core';
import type { CHECKS } from '@scalaria/core';
import { defaultsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { ParameterForm } from './parameter-form';

const MOST_LISTED = 200;

/** What a severity is called, and the mark it has: shape first, colour second. */
const SEVERITY = { error: ['▲', 'to be mended'], warning: ['◆', 'look at it'], note: ['○', 'to know'] } as const;

/** One check: what it found, how to mend it, and its settings. One that found nothing takes a single line. */
export function CheckSection({
  check,
  findings,
  chosen,
  settings,
  unit,
  onVisit,
  onMend,
  onSettings,
}: {
  check: (typeof CHECKS)[number];
  /** With their place in the whole list; `null` while they are looked for. */
  findings: readonly (readonly [Finding, number])[] | null;
  chosen: number | null;
  settings: Parameters | undefined;
  unit: string | null;
  onVisit: (i: number) => void;
  onMend: () => void;
  onSettings: (v: Parameters) => void;
}) {
  const own = findings ?? [];
  const adjustable = Object.keys(check.params.properties).length > 0;
  const words = own.length === 0 ? 'none found' : own.length === 1 ? '1 finding' : `${own.length} findings`;
  const more = (
    <details className="text-sm">
      <summary className="cursor-pointer text-quiet">{adjustable ? 'Why, and settings' : 'Why'}</summary>
      <p className="my-2 text-quiet">{check.summary}</p>
      {adjustable && (
        <ParameterForm
          schema={check.params}
          values={{ ...defaultsOf(check.params), ...settings }}
          unit={unit}
          onChange={onSettings}
        />
      )}
    </details>
  );
  return (
    <Section
      title={check.title}
      aside={
        <span className={`text-sm ${own.length ? 'text-alarm' : 'text-quiet'}`}>
          {findings === null ? 'checking …' : words}
        </span>
      }
    >
      {own.length > 0 && (
        <ul className="mb-2 border-y border-rule" aria-label={`Findings: ${check.title}`}>
          {own.slice(0, MOST_LISTED).map(([f, i]) => (
            <li key={i} className="border-b border-rule last:border-b-0">
              <button
                type="button"
                className={`flex w-full gap-2 px-1 py-1.5 text-left hover:bg-wash ${chosen === i ? 'bg-wash' : ''}`}
                aria-current={chosen === i}
                onClick={() => onVisit(i)}
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
      {own.some(([f]) => f.severity !== 'note') && check.mend && (
        <Button className="mb-2" onClick={onMend}>
          {check.mend.words}
        </Button>
      )}
      {own.length > MOST_LISTED && <p className="mb-2 text-sm">The first {MOST_LISTED} are listed.</p>}
      {more}
    </Section>
  );
}
