import { useEffect, useMemo, useState } from 'react';
import type { Finding, Parameters } from '@scalaria/core';
import { CHECKS, defaultsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { Viewport } from '../../viewport/viewport';
import type { Marked } from '../../viewport/viewport';
import { ParameterForm } from './parameter-form';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { usePreparedScene } from './use-scene';

/** Station two: what will hurt later, and where. */
export function Check() {
  const { drawing, worker, setSteps } = useDrawing();
  const mend = (c: (typeof CHECKS)[number]): void => {
    if (!c.mend) return;
    const params = c.mend.params({ ...defaultsOf(c.params), ...settings[c.id] });
    setSteps(
      [...drawing.steps, { id: crypto.randomUUID(), step: c.mend.step, on: true, params }],
      c.mend.words.toLowerCase(),
    );
  };
  const { prepared, fault } = usePreparedScene();
  const [settings, setSettings] = useState<Record<string, Parameters>>({});
  const [findings, setFindings] = useState<Finding[] | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [goTo, setGoTo] = useState<{ x: number; y: number; size: number } | null>(null);
  const pictures = useMemo(() => (prepared ? [{ scene: prepared.scene }] : []), [prepared]);

  useEffect(() => {
    if (!worker || !prepared) return;
    let live = true;
    worker.checks(settings).then(
      (f) => {
        if (!live) return;
        setFindings(f);
        setChosen(null);
      },
      () => {},
    );
    return () => {
      live = false;
    };
  }, [worker, prepared, settings]);

  const visit = (i: number): void => {
    const f = findings?.[i];
    setChosen(i);
    if (f?.at) setGoTo({ ...f.at, size: f.span !== undefined ? f.span / 4 : (f.size ?? 0) * 4 || 1 });
  };
  const marks = (m: Marked) => (
    <g className="text-alarm" fill="none" stroke="currentColor" strokeWidth="1.5">
      {findings?.map((f, i) => {
        if (!f.at) return null;
        const [x, y] = m.screen(f.at.x, f.at.y);
        return (
          <circle key={i} cx={x} cy={y} r={i === chosen ? 14 : 8} strokeDasharray={i === chosen ? undefined : '3 2'} />
        );
      })}
    </g>
  );
  return (
    <Station
      ready={prepared !== null || fault !== null}
      view={
        <Viewport
          pictures={pictures}
          unit={prepared?.unit ?? null}
          marks={marks}
          goTo={goTo}
          label={`Drawing ${drawing.name}, with findings`}
        />
      }
      book={
        <>
          {CHECKS.map((c) => {
            const own = findings?.map((f, i) => [f, i] as const).filter(([f]) => f.check === c.id) ?? [];
            return (
              <Section
                key={c.id}
                title={c.title}
                aside={
                  <span className={`text-sm ${own.length ? 'text-alarm' : 'text-quiet'}`}>
                    {findings === null
                      ? 'checking …'
                      : own.length === 0
                        ? 'none found'
                        : own.length === 1
                          ? '1 finding'
                          : `${own.length} findings`}
                  </span>
                }
              >
                <p className="mb-2 text-sm text-quiet">{c.summary}</p>
                {own.length > 0 && (
                  <ul className="mb-3 border-y border-rule" aria-label={`Findings: ${c.title}`}>
                    {own.slice(0, 200).map(([f, i]) => (
                      <li key={i} className="border-b border-rule last:border-b-0">
                        <button
                          type="button"
                          className={`w-full px-1 py-1.5 text-left hover:bg-wash ${chosen === i ? 'bg-wash' : ''}`}
                          aria-current={chosen === i}
                          onClick={() => visit(i)}
                        >
                          <span className="block">{f.message}</span>
                          <span className="num block text-xs text-quiet">
                            {f.layer && `layer ${f.layer}`}
                            {f.at && ` · at ${plainNumber(f.at.x)}, ${plainNumber(f.at.y)}`}
                          </span>
                        </button>
                      </li>
                    ))}
                  </ul>
                )}
                {own.some(([f]) => f.severity !== 'note') && c.mend && (
                  <Button className="mb-3" onClick={() => mend(c)}>
                    {c.mend.words}
                  </Button>
                )}
                {own.length > 200 && <p className="mb-2 text-sm">The first 200 are listed.</p>}
                <ParameterForm
                  schema={c.params}
                  values={{ ...defaultsOf(c.params), ...settings[c.id] }}
                  unit={prepared?.unit ?? null}
                  onChange={(v) => setSettings({ ...settings, [c.id]: v })}
                />
              </Section>
            );
          })}
          {fault && <p className="p-4 text-alarm">{fault}</p>}
        </>
      }
    />
  );
}
