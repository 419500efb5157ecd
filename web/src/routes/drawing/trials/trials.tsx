import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Target, TrialFigures } from '@scalaria/core';
import { canonicalText, isDrafting, settleUnit, traitsOf } from '@scalaria/core';
import { X } from 'lucide-react';
import { useJob } from '../../../api/hooks';
import { Button } from '../../../parts/button';
import { Section } from '../../../parts/field';
import { useNotice } from '../../../parts/notice';
import { fileSize, plainNumber } from '../../../parts/numbers';
import { Working } from '../../../parts/progress';
import { TargetForm } from '../../target-form';
import { useDrawing } from '../drawing-context';
import { KeepRecipe } from '../keep-recipe';
import { Station } from '../station';
import type { Way } from './use-trials';
import { MOST_WAYS, firstWays, useTrials, wayWords } from './use-trials';
import { Wiped } from './wiped';

const LINES: readonly [string, (f: TrialFigures) => string][] = [
  ['Outlines one click selects', (f) => plainNumber(f.outlines)],
  ['Loose pieces', (f) => plainNumber(f.pieces)],
  ['Circles / arcs', (f) => `${plainNumber(f.circles)} / ${plainNumber(f.arcs)}`],
  ['Splines / straight pieces', (f) => `${plainNumber(f.splines)} / ${plainNumber(f.chords)}`],
  ['Texts, of them empty', (f) => `${plainNumber(f.texts)}, ${plainNumber(f.emptyTexts)}`],
  ['Points', (f) => plainNumber(f.points)],
  ['Colours to the digit', (f) => `${f.coloursEqual} of ${f.colours}`],
  ['Layers / groups', (f) => `${plainNumber(f.layers)} / ${plainNumber(f.groups)}`],
  ['Size', (f) => fileSize(f.bytes)],
  ['Rows of loss', (f) => plainNumber(f.losses)],
];

/** One drawing written in several ways, read back and held against each other. Nothing of it counts as delivered. */
export function Trials() {
  const { drawing, setTarget } = useDrawing();
  const { data: job } = useJob(drawing.jobId);
  const notice = useNotice();
  const [ways, setWays] = useState<Way[]>(() => firstWays(drawing.target, drawing.format));
  const [open, setOpen] = useState<string | null>(null);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const [naming, setNaming] = useState<Target | null>(null);
  const settled = settleUnit(drawing.claims as Parameters<typeof settleUnit>[0], drawing.intake);
  // Every answer of the server brings decisions anew; what they say is what counts.
  const state = canonicalText([drawing.intake, drawing.steps, drawing.revision]);
  const { outcomes, busy, stopped, stop, again } = useTrials(drawing.id, ways, settled !== null, state);
  const done = outcomes.flatMap(({ way, outcome }) => (outcome.state === 'done' ? [{ way, view: outcome.view }] : []));
  const first = done.find((d) => d.way.id === picked[0]) ?? done[0];
  const second = done.find((d) => d.way.id === picked[1] && d !== first) ?? done.find((d) => d !== first);
  const help = useMemo(
    () => ({
      drawings: (job?.drawings ?? [])
        .filter((d) => d.id !== drawing.id && isDrafting(d))
        .map((d) => [d.id, d.name] as const),
      colours: drawing.claims.colours,
      context: { source: traitsOf(drawing.format).family },
    }),
    [job, drawing.id, drawing.claims.colours, drawing.format],
  );
  const take = (target: Target): void => {
    setTarget(target);
    notice({ text: `${wayWords(target)} is how this drawing is written now. Write it at station four.` });
  };
  /** Of two in sight the one that was picked first goes. */
  const pick = (id: string): void =>
    setPicked((p) => (p.includes(id) ? p.filter((o) => o !== id) : [...p.slice(-1), id]));
  return (
    <Station
      ready
      view={
        <div className="grid h-full grid-rows-[minmax(0,1fr)_auto]">
          {first ? (
            <Wiped
              left={first.view}
              right={second?.view ?? null}
              names={[wayWords(first.way.target), second ? wayWords(second.way.target) : '']}
            />
          ) : (
            <div className="grid place-items-center">
              {!settled ? (
                <p className="max-w-sm text-alarm">
                  The unit is undecided, so the true size is unknown.{' '}
                  <Link to="../take-in" className="underline">
                    Decide it at station one.
                  </Link>
                </p>
              ) : (
                busy && <Working label="Writing and reading back" />
              )}
            </div>
          )}
          <div className="max-h-[45vh] overflow-auto border-t border-ink bg-paper">
            <table className="w-full text-sm">
              <caption className="sr-only">Ways of writing, the one that loses least first</caption>
              <thead>
                <tr className="align-top">
                  <td className="w-44 px-3 py-1.5" />
                  {outcomes.map(({ way, outcome }, i) => (
                    <th key={way.id} scope="col" className="border-l border-rule px-3 py-1.5 text-left font-medium">
                      <label className="flex items-baseline gap-1.5">
                        {outcome.state === 'done' && (
                          <input
                            type="checkbox"
                            className="accent-[var(--ink)]"
                            aria-label={`Show ${wayWords(way.target)}`}
                            checked={way === first?.way || way === second?.way}
                            onChange={() => pick(way.id)}
                          />
                        )}
                        <span>
                          {wayWords(way.target)}
                          {i === 0 && done.length > 1 && !busy && (
                            <span className="block text-xs font-normal text-quiet">loses least</span>
                          )}
                        </span>
                      </label>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                <tr className="border-t border-rule">
                  <th scope="row" className="px-3 py-0.5 text-left font-normal text-quiet">
                    Proof
                  </th>
                  {outcomes.map(({ way, outcome }) => (
                    <td key={way.id} className="border-l border-rule px-3 py-0.5">
                      {outcome.state === 'done' ? (
                        <span className={outcome.view.verdict.holds ? '' : 'text-alarm'}>
                          {outcome.view.verdict.holds ? 'holds' : 'does not hold'}
                        </span>
                      ) : outcome.state === 'failed' ? (
                        <span className="text-alarm">{outcome.why}</span>
                      ) : (
                        <span className="text-quiet">
                          {outcome.state === 'running' ? 'being tried …' : stopped ? 'not tried' : 'waiting'}
                        </span>
                      )}
                    </td>
                  ))}
                </tr>
                {LINES.map(([words, of]) => (
                  <tr key={words} className="border-t border-rule">
                    <th scope="row" className="px-3 py-0.5 text-left font-normal text-quiet">
                      {words}
                    </th>
                    {outcomes.map(({ way, outcome }) => (
                      <td key={way.id} className="num border-l border-rule px-3 py-0.5">
                        {outcome.state === 'done' ? of(outcome.view.figures) : ''}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      }
      book={
        <>
          <Section
            title="Ways to try"
            aside={
              busy ? (
                <Button look="quiet" className="text-sm" onClick={stop}>
                  Stop
                </Button>
              ) : stopped ? (
                <Button look="quiet" className="text-sm" onClick={again}>
                  Go on
                </Button>
              ) : (
                <Link className="text-sm text-act hover:underline" to="../deliver">
                  Back to Deliver
                </Link>
              )
            }
          >
            <p className="mb-2 text-sm text-quiet">
              Each is written, read back and counted. Nothing of it is delivered, and no number is taken.
            </p>
            <ol className="divide-y divide-rule border-y border-rule">
              {ways.map((way) => {
                const words = wayWords(way.target);
                const outcome = outcomes.find((o) => o.way === way)!.outcome;
                return (
                  <li key={way.id} className="py-1.5">
                    <div className="flex items-baseline gap-2">
                      <button
                        type="button"
                        className="min-w-0 text-left font-medium hover:underline"
                        aria-expanded={open === way.id}
                        onClick={() => setOpen(open === way.id ? null : way.id)}
                      >
                        {words}
                      </button>
                      {ways.length > 2 && (
                        <button
                          type="button"
                          className="ml-auto p-0.5 hover:bg-wash"
                          aria-label={`Take ${words} out`}
                          onClick={() => setWays(ways.filter((w) => w !== way))}
                        >
                          <X size={14} aria-hidden />
                        </button>
                      )}
                    </div>
                    {open === way.id && (
                      <div className="my-2 border-l-2 border-rule pl-3">
                        <TargetForm
                          target={way.target}
                          unit={settled?.unit ?? null}
                          help={help}
                          onChange={(target) => setWays(ways.map((w) => (w === way ? { ...w, target } : w)))}
                        />
                      </div>
                    )}
                    {outcome.state === 'done' && (
                      <>
                        {outcome.view.losses.slice(0, 4).map((l) => (
                          <p
                            key={l.reason}
                            className={`text-xs ${l.action === 'dropped' ? 'text-alarm' : 'text-quiet'}`}
                          >
                            {l.reason} <span className="num">({l.count})</span>
                          </p>
                        ))}
                        {outcome.view.losses.length > 4 && (
                          <p className="text-xs text-quiet">and {outcome.view.losses.length - 4} more rows</p>
                        )}
                        <div className="mt-1 flex gap-3 text-sm">
                          <Button look="quiet" onClick={() => take(way.target)}>
                            Write it so
                          </Button>
                          <Button look="quiet" onClick={() => setNaming(way.target)}>
                            Keep as recipe
                          </Button>
                        </div>
                      </>
                    )}
                  </li>
                );
              })}
            </ol>
            {ways.length < MOST_WAYS && (
              <Button
                className="mt-2"
                onClick={() => {
                  const made = { id: crypto.randomUUID(), target: { ...ways[ways.length - 1]!.target } };
                  setWays([...ways, made]);
                  setOpen(made.id);
                }}
              >
                Add a way
              </Button>
            )}
          </Section>
          {naming && <KeepRecipe open target={naming} onClose={() => setNaming(null)} />}
        </>
      }
    />
  );
}
