import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { CheckSettings, Finding, Inventory, Kept, KeptValue, Purpose } from '@scalaria/core';
import {
  CHECKS,
  EVERYTHING,
  PURPOSES,
  findingKey,
  lengthWithUnit,
  plannedStep,
  settingsForDrawing,
  settingsForJob,
  spaceUnitOf,
  stepById,
  valuesOf,
  voiceOf,
  wholeCheckKey,
  withMeasures,
  withoutAside,
} from '@scalaria/core';
import { useAction } from '../../parts/actions';
import { Button } from '../../parts/button';
import { Section, Select } from '../../parts/field';
import { Progress } from '../../parts/progress';
import { saveText } from '../../parts/save-text';
import type { Marked } from '../../viewport/viewport';
import { AskAuthor } from './ask-author';
import { CheckInventory } from './check-inventory';
import { CheckSection } from './check-section';
import { useDrawing } from './drawing-context';
import { WORSE, tally } from './finding-words';
import { SetAside } from './set-aside';
import type { AskedStep } from './prepare/prepare';
import { Station } from './station';
import { useChecks } from './use-checks';
import { usePreparedScene } from './use-scene';
import { DrawingView } from './view/drawing-view';
import { MeasuredSection } from './view/measured-section';
import { SelectionSection } from './view/selection-section';
import { useTools } from './view/use-tools';
import { YardsticksSection } from './yardsticks-section';

const NO_LAYERS: ReadonlySet<string> = new Set();

/** The checks that are asked under a purpose. */
const SPEAKING = (purpose: Purpose): readonly (typeof CHECKS)[number][] =>
  CHECKS.filter((c) => voiceOf(c.id, purpose) !== 'silent');

/** A finding in the drawing: a square on its corner, so that nobody takes it for the ring of a snapped point. */
function FindingMark({ x, y, finding, isChosen }: { x: number; y: number; finding: Finding; isChosen: boolean }) {
  const r = isChosen ? 15 : finding.severity === 'note' ? 6 : 9;
  return (
    <path
      d={`M${x - r} ${y}L${x} ${y - r}L${x + r} ${y}L${x} ${y + r}Z`}
      strokeDasharray={finding.severity === 'note' && !isChosen ? '3 2' : undefined}
      strokeWidth={isChosen ? 2.5 : 1.5}
    />
  );
}

/** So many places are marked in the drawing at once. */
const MOST_MARKS = 400;

/** Station two: what will hurt later, and where. */
export function Check() {
  const { drawing, worker, setSteps, setChecks, setReview, strip } = useDrawing();
  const go = useNavigate();
  const { review } = drawing;
  const purpose = review.purpose ?? 'any';
  const aside = useMemo(() => review.aside ?? {}, [review.aside]);
  const { prepared, fault } = usePreparedScene();
  const unit = useMemo(() => spaceUnitOf(prepared?.unit ?? null), [prepared?.unit]);
  // Every answer of the server brings them anew; what they say is what counts.
  const said = JSON.stringify(drawing.checks);
  const kept = useMemo(() => JSON.parse(said) as CheckSettings, [said]);
  const settings = useMemo(() => settingsForDrawing(kept, unit), [kept, unit]);
  const run = useChecks(worker, prepared, kept, purpose);
  // What is set aside is told of apart from the rest, and not gone through.
  const { byCheck, put } = useMemo(() => {
    const told = new Map<string, Finding[]>();
    const away = new Map<string, Finding[]>();
    for (const [id, found] of run.byCheck) {
      const parted = withoutAside(found, aside);
      told.set(id, parted.told);
      for (const f of parted.aside) {
        const key = findingKey(f) in aside ? findingKey(f) : wholeCheckKey(f.check);
        away.set(key, [...(away.get(key) ?? []), f]);
      }
    }
    return { byCheck: told, put: away };
  }, [run.byCheck, aside]);
  // The worst first, as the list has them.
  const ordered = useMemo(() => {
    const rank = (id: string): number => (run.first.has(id) ? WORSE[run.first.get(id)!] : 3);
    return [...SPEAKING(purpose)].sort((a, b) => rank(a.id) - rank(b.id));
  }, [run.first, purpose]);
  const findings = useMemo(() => ordered.flatMap((c) => byCheck.get(c.id) ?? []), [ordered, byCheck]);
  const [turned, setTurned] = useState<ReadonlyMap<string, boolean>>(new Map());
  const [quiet, setQuiet] = useState(false);
  // Which step was taken to mend what a check found: what it left alone is told with what is still found.
  const [mended, setMended] = useState<ReadonlyMap<string, string>>(new Map());
  const mend = async (c: (typeof CHECKS)[number], which: readonly Finding[] | 'all', look: boolean): Promise<void> => {
    if (!c.mend) return;
    const kind = stepById(c.mend.step)!;
    // Lengths go with their unit, so that the step means the same wherever it is copied to.
    const params = withMeasures(
      kind.params,
      c.mend.params(
        valuesOf(c.params, settings[c.id] ?? {}, unit),
        unit,
        which === 'all' ? (byCheck.get(c.id) ?? []) : which,
      ),
      (l) => (typeof l === 'number' && l !== 0 ? (lengthWithUnit(l, unit) as KeptValue) : (l as KeptValue)),
    );
    const only = which === 'all' ? [] : ((await worker?.refsOf(which.flatMap((f) => f.ids))) ?? []);
    // Without any object named a selection takes all.
    if (which !== 'all' && only.length === 0) return;
    const step = plannedStep(kind, crypto.randomUUID(), {
      ...params,
      ...(which !== 'all' && { which: { ...EVERYTHING, only } as unknown as Kept }),
    });
    if (look) return void go(`/drawings/${drawing.id}/prepare`, { state: { ask: step } satisfies AskedStep });
    setMended((m) => new Map(m).set(c.id, step.id));
    setSteps([...drawing.steps, step], c.mend.words.toLowerCase());
  };
  const adjust = (id: string, values: Kept | null): void => {
    const { [id]: _old, ...others } = drawing.checks;
    setChecks(values ? { ...others, ...settingsForJob({ [id]: values }, unit) } : others);
  };
  const [inventory, setInventory] = useState<Inventory | null>(null);
  const [chosen, setChosen] = useState<Finding | null>(null);
  const [asking, setAsking] = useState<Finding | null>(null);
  const tools = useTools(prepared, NO_LAYERS);
  const figures = { unit: prepared?.unit ?? null, scale: 1 };
  // What a finding concerns is marked in the drawing; told of it is only what was selected by hand, so that the list stands still.
  const marked =
    chosen !== null && tools.selected.size > 0 && [...tools.selected].every((id) => chosen.ids.includes(id));

  useEffect(() => setChosen(null), [prepared]);
  useEffect(() => {
    if (!worker || !run.done) return;
    let live = true;
    worker.inventory().then(
      (i) => live && setInventory(i),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [worker, run.done, prepared]);

  const setAside = (check: string, which: readonly Finding[] | 'all', why: string): void => {
    const keys = which === 'all' ? [wholeCheckKey(check)] : which.map(findingKey);
    setReview(
      { ...review, aside: { ...aside, ...Object.fromEntries(keys.map((k) => [k, why])) } },
      'findings set aside',
    );
  };
  const bringBack = (key: string): void => {
    const { [key]: _gone, ...rest } = aside;
    setReview({ ...review, aside: rest }, 'findings brought back');
  };
  const save = async (open: boolean): Promise<void> => {
    const { format, version } = drawing.claims;
    const html = await worker?.report(
      drawing.name,
      `${format.toUpperCase()} ${version}`,
      drawing.checks,
      review,
      strip ?? [],
    );
    if (!html) return;
    saveText(html, 'text/html', open ? null : `${drawing.name.replace(/\.\w+$/, '')}-findings.html`);
  };
  const visit = (f: Finding): void => {
    setTurned((m) => new Map(m).set(f.check, true));
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
          <FindingMark key={i} x={x} y={y} finding={f} isChosen={f === chosen} />
        ))}
      </g>
    );
  };
  const found = ordered.filter((c) => run.first.has(c.id));
  const calm = ordered.filter((c) => !run.first.has(c.id));
  // By settings that were turned since: they stay where they are.
  const late = calm.filter((c) => (byCheck.get(c.id)?.length ?? 0) > 0).length;
  const silent = CHECKS.filter((c) => voiceOf(c.id, purpose) === 'silent');
  const section = (c: (typeof CHECKS)[number]) => (
    <CheckSection
      key={c.id}
      check={c}
      findings={byCheck.get(c.id) ?? null}
      stopped={run.stopped}
      isOpen={turned.get(c.id) ?? false}
      onTurn={(on) => setTurned((m) => new Map(m).set(c.id, on))}
      chosen={chosen}
      settings={settings[c.id]}
      unit={prepared?.unit ?? null}
      onVisit={visit}
      onMend={(which, look) => void mend(c, which, look)}
      left={prepared?.ledger.filter((r) => r.by === mended.get(c.id) && r.action === 'kept') ?? []}
      onSettings={(v) => adjust(c.id, v)}
      onAsk={setAsking}
      onAside={(which, why) => setAside(c.id, which, why)}
    />
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
          {!marked && <SelectionSection tools={tools} figures={figures} />}
          <MeasuredSection tools={tools} figures={figures} />
          <Section
            title="Findings"
            aside={<span className="text-sm text-quiet">{run.done ? tally(findings) : 'checking …'}</span>}
          >
            <div className="mb-2">
              <Select<Purpose>
                label="Made ready for"
                value={purpose}
                options={Object.entries(PURPOSES) as [Purpose, string][]}
                onChange={(p) => setReview({ ...review, purpose: p }, `made ready for ${PURPOSES[p].toLowerCase()}`)}
              />
            </div>
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
          <YardsticksSection tools={tools} prepared={prepared} unit={prepared?.unit ?? null} />
          {found.map(section)}
          {run.done && findings.length === 0 && <p className="border-b border-rule px-4 py-3">Nothing found.</p>}
          <SetAside aside={aside} found={put} onBack={bringBack} />
          <section aria-label="Other checks" className="border-b border-rule">
            <button
              type="button"
              aria-expanded={quiet}
              className="flex w-full items-baseline justify-between gap-3 px-4 py-2 text-left hover:bg-wash"
              onClick={() => setQuiet(!quiet)}
            >
              <span>
                <span aria-hidden className={`mr-2 inline-block text-[11px] ${quiet ? 'rotate-90' : ''}`}>
                  ▶
                </span>
                {calm.length - late === 1 ? '1 check' : `${calm.length - late} checks`} without a finding
                {late > 0 && `, ${late} with one now`}
              </span>
              {silent.length > 0 && <span className="text-sm text-quiet">{silent.length} not asked</span>}
            </button>
          </section>
          {quiet && calm.map(section)}
          {quiet && silent.length > 0 && (
            <p className="border-b border-rule px-4 py-2 text-sm text-quiet">
              Not asked for {PURPOSES[purpose].toLowerCase()}: {silent.map((c) => c.title).join(', ')}.
            </p>
          )}
          {inventory && <CheckInventory inventory={inventory} unit={prepared?.unit ?? null} />}
          {fault && <p className="p-4 text-alarm">{fault}</p>}
          {asking && <AskAuthor finding={asking} unit={prepared?.unit ?? null} onClose={() => setAsking(null)} />}
        </>
      }
    />
  );
}
