import { useEffect, useMemo, useState } from 'react';
import type { Finding, Inventory, Parameters } from '@scalaria/core';
import { CHECKS, defaultsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import type { Marked } from '../../viewport/viewport';
import { CheckInventory } from './check-inventory';
import { CheckSection } from './check-section';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { usePreparedScene } from './use-scene';
import { DrawingView } from './view/drawing-view';
import { MeasuredSection } from './view/measured-section';
import { SelectionSection } from './view/selection-section';
import { useTools } from './view/use-tools';

const NO_LAYERS: ReadonlySet<string> = new Set();

/** How many findings there are of each severity, in words. */
function tally(findings: readonly Finding[]): string {
  const n = (s: Finding['severity']): number => findings.filter((f) => f.severity === s).length;
  const parts = [
    [n('error'), 'to be mended'],
    [n('warning'), 'to look at'],
    [n('note'), 'to know'],
  ] as const;
  return parts.flatMap(([count, words]) => (count > 0 ? [`${count} ${words}`] : [])).join(' · ') || 'none';
}

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
  /** Which checks found something in the drawing at hand, under the settings it was first looked at with. */
  const [first, setFirst] = useState<{ of: typeof prepared; found: ReadonlySet<string> } | null>(null);
  const [inventory, setInventory] = useState<Inventory | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const tools = useTools(prepared, NO_LAYERS);
  const figures = { unit: prepared?.unit ?? null, scale: 1 };

  useEffect(() => {
    if (!worker || !prepared) return;
    let live = true;
    worker.checks(settings).then(
      (f) => {
        if (!live) return;
        setFindings(f);
        setChosen(null);
        // While settings are turned the list stands still.
        setFirst((was) => (was?.of === prepared ? was : { of: prepared, found: new Set(f.map((x) => x.check)) }));
      },
      () => {},
    );
    worker.inventory().then((i) => live && setInventory(i), () => {}); // prettier-ignore
    return () => {
      live = false;
    };
  }, [worker, prepared, settings]);

  // Checks that found something come first, each group in its own order.
  const ordered = useMemo(() => {
    const has = (id: string): boolean => first?.found.has(id) ?? false;
    return [...CHECKS.filter((c) => has(c.id)), ...CHECKS.filter((c) => !has(c.id))];
  }, [first]);
  const save = async (): Promise<void> => {
    const { format, version } = drawing.claims;
    const html = await worker?.report(drawing.name, `${format.toUpperCase()} ${version}`, settings);
    if (!html) return;
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([html], { type: 'text/html' }));
    link.download = `${drawing.name.replace(/\.\w+$/, '')}-findings.html`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  };
  const visit = (i: number): void => {
    const f = findings?.[i];
    setChosen(i);
    if (f?.at) tools.setGoTo({ ...f.at, size: f.span !== undefined ? f.span / 4 : (f.size ?? 0) * 4 || 1 });
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
        <DrawingView
          scene={prepared?.scene ?? null}
          unit={prepared?.unit ?? null}
          tools={tools}
          marks={marks}
          label={`Drawing ${drawing.name}, with findings`}
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={figures} />
          <MeasuredSection tools={tools} figures={figures} />
          <Section
            title="Findings"
            aside={<span className="text-sm text-quiet">{findings === null ? 'checking …' : tally(findings)}</span>}
          >
            <Button disabled={!prepared || findings === null} onClick={() => void save()}>
              Save report
            </Button>
          </Section>
          {ordered.map((c) => (
            <CheckSection
              key={c.id}
              check={c}
              findings={findings?.map((f, i) => [f, i] as const).filter(([f]) => f.check === c.id) ?? null}
              chosen={chosen}
              settings={settings[c.id]}
              unit={prepared?.unit ?? null}
              onVisit={visit}
              onMend={() => mend(c)}
              onSettings={(v) => setSettings({ ...settings, [c.id]: v })}
            />
          ))}
          {inventory && <CheckInventory inventory={inventory} unit={prepared?.unit ?? null} />}
          {fault && <p className="p-4 text-alarm">{fault}</p>}
        </>
      }
    />
  );
}
