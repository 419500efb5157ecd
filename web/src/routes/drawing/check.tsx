import { useEffect, useMemo, useState } from 'react';
import type { Finding, Inventory, Kept } from '@scalaria/core';
import {
  CHECKS,
  plannedStep,
  settingsForDrawing,
  settingsForJob,
  spaceUnitOf,
  stepById,
  valuesOf,
} from '@scalaria/core';
import { useAction } from '../../parts/actions';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { Progress } from '../../parts/progress';
import type { Marked } from '../../viewport/viewport';
import { CheckInventory } from './check-inventory';
import { CheckSection } from './check-section';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { useChecks } from './use-checks';
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

/** So many places are marked in the drawing at once. */
const MOST_MARKS = 400;

/** Station two: what will hurt later, and where. */
export function Check() {
  const { drawing, worker, setSteps, setChecks } = useDrawing();
  const { prepared, fault } = usePreparedScene();
  const unit = useMemo(() => spaceUnitOf(prepared?.unit ?? null), [prepared?.unit]);
  const settings = useMemo(() => settingsForDrawing(drawing.checks, unit), [drawing.checks, unit]);
  const run = useChecks(worker, prepared, drawing.checks);
  const { byCheck } = run;
  const findings = useMemo(() => CHECKS.flatMap((c) => byCheck.get(c.id) ?? []), [byCheck]);
  const mend = (c: (typeof CHECKS)[number]): void => {
    if (!c.mend) return;
    const params = c.mend.params(valuesOf(c.params, settings[c.id] ?? {}, unit));
    const step = plannedStep(stepById(c.mend.step)!, crypto.randomUUID(), params);
    setSteps([...drawing.steps, step], c.mend.words.toLowerCase());
  };
  const adjust = (id: string, values: Kept | null): void => {
    const { [id]: _old, ...others } = drawing.checks;
    setChecks(values ? { ...others, ...settingsForJob({ [id]: values }, unit) } : others);
  };
  const [inventory, setInventory] = useState<Inventory | null>(null);
  const [chosen, setChosen] = useState<Finding | null>(null);
  const tools = useTools(prepared, NO_LAYERS);
  const figures = { unit: prepared?.unit ?? null, scale: 1 };
  // What a finding concerns is marked in the drawing; told of it is only what was selected by hand, so that the list stands still.
  const marked =
    chosen !== null && tools.selected.size > 0 && [...tools.selected].every((id) => chosen.ids.includes(id));

  useEffect(() => setChosen(null), [prepared]);
  useEffect(() => {
    if (!worker || !run.done) return;
    let live = true;
    worker.inventory().then((i) => live && setInventory(i), () => {}); // prettier-ignore
    return () => {
      live = false;
    };
  }, [worker, run.done, prepared]);

  // Checks that found something at first come first and stay there while settings are turned, each group in its order.
  const ordered = useMemo(() => {
    const has = (id: string): boolean => run.first.has(id);
    return [...CHECKS.filter((c) => has(c.id)), ...CHECKS.filter((c) => !has(c.id))];
  }, [run.first]);
  const save = async (open: boolean): Promise<void> => {
    const { format, version } = drawing.claims;
    const html = await worker?.report(drawing.name, `${format.toUpperCase()} ${version}`, drawing.checks);
    if (!html) return;
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([html], { type: 'text/html' }));
    if (open) link.target = '_blank';
    else link.download = `${drawing.name.replace(/\.\w+$/, '')}-findings.html`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  };
  const visit = (f: Finding): void => {
    setChosen(f);
    if (f.ids.length > 0) tools.select(f.ids);
    if (f.at) tools.setGoTo({ ...f.at, size: f.span !== undefined ? f.span / 4 : (f.size ?? 0) * 4 || 1 });
  };
  const step = (by: number): void => {
    const placed = findings.filter((f) => f.at);
    if (placed.length === 0) return;
    const at = chosen ? placed.indexOf(chosen) : -1;
    visit(placed[at < 0 && by < 0 ? placed.length - 1 : (at + by + placed.length) % placed.length]!);
  };
  useAction('Go to the next finding', ']', () => step(1));
  useAction('Go to the finding before', '[', () => step(-1));
  const marks = (m: Marked) => {
    const inSight = findings.flatMap((f) => {
      if (!f.at) return [];
      const [x, y] = m.screen(f.at.x, f.at.y);
      return x > -20 && y > -20 && x < m.size.width + 20 && y < m.size.height + 20 ? [{ f, x, y }] : [];
    });
    return (
      <g className="text-alarm" fill="none" stroke="currentColor" strokeWidth="1.5">
        {inSight.slice(0, MOST_MARKS).map(({ f, x, y }, i) => (
          <circle key={i} cx={x} cy={y} r={f === chosen ? 14 : 8} strokeDasharray={f === chosen ? undefined : '3 2'} />
        ))}
      </g>
    );
  };
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
          {!marked && <SelectionSection tools={tools} figures={figures} />}
          <MeasuredSection tools={tools} figures={figures} />
          <Section
            title="Findings"
            aside={<span className="text-sm text-quiet">{run.done ? tally(findings) : 'checking …'}</span>}
          >
            {run.done || run.stopped || !prepared ? (
              <div className="flex items-center gap-3">
                <Button disabled={!prepared} onClick={() => void save(false)}>
                  Save report
                </Button>
                <Button look="quiet" disabled={!prepared} onClick={() => void save(true)}>
                  Open it as a page
                </Button>
              </div>
            ) : (
              <div className="flex items-center gap-3">
                <div className="flex-1">
                  <Progress value={run.checked / CHECKS.length} label="Checks done" />
                </div>
                <Button look="quiet" onClick={run.stop}>
                  Stop
                </Button>
              </div>
            )}
            {run.stopped && (
              <p className="mt-2 text-sm">
                Stopped after {run.checked} of {CHECKS.length} checks.{' '}
                <Button look="quiet" onClick={run.again}>
                  Check anew
                </Button>
              </p>
            )}
          </Section>
          {ordered.map((c) => (
            <CheckSection
              key={c.id}
              check={c}
              findings={byCheck.get(c.id) ?? null}
              laidOut={run.first.has(c.id)}
              stopped={run.stopped}
              chosen={chosen}
              settings={settings[c.id]}
              unit={prepared?.unit ?? null}
              onVisit={visit}
              onMend={() => mend(c)}
              onSettings={(v) => adjust(c.id, v)}
            />
          ))}
          {inventory && <CheckInventory inventory={inventory} unit={prepared?.unit ?? null} />}
          {fault && <p className="p-4 text-alarm">{fault}</p>}
        </>
      }
    />
  );
}
