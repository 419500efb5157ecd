import { useEffect, useMemo, useState } from 'react';
import { useLocation } from 'react-router';
import type { DragEndEvent } from '@dnd-kit/core';
import { DndContext, KeyboardSensor, PointerSensor, closestCenter, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import type { EntityRef, Kept, PlannedStep, Scene } from '@scalaria/core';
import { STEPS, adviceOn, plannedStep, stepById, templateOf } from '@scalaria/core';
import { useDrawingDetail, useJob } from '../../../api/hooks';
import type { FormHelp } from '../../../forms/parameter-form';
import { useAction } from '../../../parts/actions';
import { Button } from '../../../parts/button';
import { Section } from '../../../parts/field';
import { BEFORE_AFTER, CompareBar, TRACED, besideBox, comparedParts, useBlink } from '../compare-bar';
import type { Compare } from '../compare-bar';
import { useDrawing } from '../drawing-context';
import { Station } from '../station';
import { useFontUses } from '../use-font-uses';
import { usePreparedScene } from '../use-scene';
import { DrawingView } from '../view/drawing-view';
import { OriginMark } from '../view/marks';
import { MeasuredSection } from '../view/measured-section';
import { SelectionSection } from '../view/selection-section';
import { useTools } from '../view/use-tools';
import { CopySteps } from './copy-steps';
import { StepChoice } from './step-choice';
import { StepDraft } from './step-draft';
import { StepLine } from './step-line';
import { usePickedWords, withPick } from './use-picks';
import { WayMarks, WayPlayer, useWay } from './way';
import type { Draft } from './use-preview';
import { usePreview } from './use-preview';
import { useTraceDifference } from './use-trace-difference';

/** What is compared fills the view but for so much of it. */
const CLOSE = 0.05;
const NO_LAYERS: ReadonlySet<string> = new Set();

/** A planned step that another station asks to be looked at before it is taken. */
export interface AskedStep {
  ask: PlannedStep;
}

/** What all steps of a drawing share: whoever sets it in one sets it in all. */
function sharing(steps: readonly PlannedStep[], of: PlannedStep): PlannedStep[] {
  const { together } = of.params;
  if (together === undefined) return [...steps];
  return steps.map((s) => (stepById(s.step)?.params['together'] ? { ...s, params: { ...s.params, together } } : s));
}

/** Station three: steps in order, each tried before it is taken; any of them can be changed tomorrow. */
export function Prepare() {
  const { drawing, setSteps } = useDrawing();
  const { steps } = drawing;
  const told = useFontUses();
  const asked = (useLocation().state as AskedStep | null)?.ask ?? null;
  const [draft, setDraft] = useState<Draft | null>(() => asked && { planned: asked, at: steps.length, isNew: true });
  // Not yet chosen from; being chosen from; left, when the keyboard goes back to where it came from.
  const [choosing, setChoosing] = useState<'no' | 'yes' | 'left'>('no');
  const [copying, setCopying] = useState<string | null>(null);
  // The step after which the drawing is looked at; `null` for all of them.
  const [after, setAfter] = useState<string | null>(null);
  const place = after === null ? -1 : steps.findIndex((s) => s.id === after);
  const { prepared, fault } = usePreparedScene(place < 0 ? undefined : place + 1);
  const preview = usePreview(draft);
  const [chosen, setCompare] = useState<Compare>('over');
  const ways = preview.view?.traces ? TRACED : BEFORE_AFTER;
  const compare = ways.some(([c]) => c === chosen) ? chosen : 'over';
  const differing = useTraceDifference(preview, draft !== null && compare === 'differing');
  const [wipe, setWipe] = useState(0.5);
  const first = useBlink(compare === 'blink' && draft !== null);
  const pictures = useMemo(
    () => (preview.view && draft ? comparedParts(preview.view, compare, first, differing.view?.scene) : null),
    [preview.view, draft, compare, first, differing.view],
  );
  const way = useWay(draft ? preview.view?.lists : undefined);
  const [picking, setPicking] = useState<string | null>(null);
  const tools = useTools(preview.view ?? prepared, NO_LAYERS);
  const words = usePickedWords(draft ? [draft.planned, ...steps] : steps, preview.view ?? prepared);
  const advice = useMemo(() => {
    const plan = draft
      ? [...steps.slice(0, draft.at), draft.planned, ...steps.slice(draft.at + (draft.isNew ? 0 : 1))]
      : steps;
    return adviceOn(plan);
  }, [steps, draft]);
  const unit = (draft ? preview.view?.unit : null) ?? prepared?.unit ?? null;
  const figures = { unit, scale: 1 };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useEffect(() => {
    if (tools.tool !== 'ask') setPicking(null);
  }, [tools.tool]);

  // A step that was taken back meanwhile is not set any more.
  const isGone = draft !== null && !draft.isNew && !steps.some((s) => s.id === draft.planned.id);
  useEffect(() => {
    if (isGone) setDraft(null);
  }, [isGone]);

  const begin = (id: string): void => {
    const step = stepById(id)!;
    const shared = steps.find((s) => s.params['together'] !== undefined)?.params['together'];
    const params: Kept = shared !== undefined && step.params['together'] ? { together: shared } : {};
    setChoosing('no');
    setAfter(null);
    setDraft({ planned: plannedStep(step, crypto.randomUUID(), params), at: steps.length, isNew: true });
  };
  const leave = (): void => {
    tools.ask(null);
    setDraft(null);
  };
  const take = (): void => {
    if (!draft) return;
    const { planned, at, isNew } = draft;
    const title = stepById(planned.step)!.title;
    const next = isNew
      ? [...steps.slice(0, at), planned, ...steps.slice(at)]
      : steps.map((s) => (s.id === planned.id ? planned : s));
    setSteps(sharing(next, planned), isNew ? `step ${title}` : `${title} changed`);
    leave();
  };
  const changeCompare = (to: Compare): void => {
    const bounds = preview.view?.same.bounds;
    setCompare(to);
    // Both sides are looked at together, and one alone afterwards.
    if (bounds && (to === 'beside') !== (compare === 'beside'))
      tools.setGoTo({ ...(to === 'beside' ? besideBox(bounds) : bounds), margin: CLOSE });
  };
  const pick = (name: string, ref: EntityRef): void => {
    setDraft((d) => d && { ...d, planned: withPick(d.planned, name, ref) });
    tools.ask(null);
  };
  const startPicking = (name: string): void => {
    tools.ask({
      words: name.endsWith('inside') ? 'Click the outline.' : 'Click the curve.',
      onItem: (ref) => pick(name, ref),
    });
    setPicking(name);
  };
  for (const s of STEPS)
    // The list never changes its length.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useAction(`Try the step: ${s.title.toLowerCase()}`, '', () => begin(s.id), false);
  useAction('Add a step', 'i', () => setChoosing('yes'));

  const change = (id: string, next: (s: PlannedStep) => PlannedStep, what: string): void =>
    setSteps(
      steps.map((s) => (s.id === id ? next(s) : s)),
      what,
    );
  const sorted = (e: DragEndEvent): void => {
    if (!e.over || e.over.id === e.active.id) return;
    const at = (id: unknown): number => steps.findIndex((s) => s.id === id);
    setSteps(arrayMove(steps, at(e.active.id), at(e.over.id)), 'order of steps');
  };
  const { data: template } = useDrawingDetail(drawing.target ? templateOf(drawing.target) : null);
  const { data: job } = useJob(drawing.jobId);
  const help: FormHelp = {
    fonts: told?.families ?? [],
    drawings: (job?.drawings ?? []).filter((d) => d.id !== drawing.id).map((d) => [d.id, d.name] as const),
    layers: drawing.claims.layers.map((l) => l.name),
    layerCounts: drawing.claims.layers.map((l) => ({ name: l.name, count: l.count })),
    ...(template && { agreed: { of: template.name, names: template.claims.layers.map((l) => l.name) } }),
    picking,
    onPick: startPicking,
    picked: (ref) => words[ref] ?? null,
  };
  const b = prepared?.scene.bounds;
  const form = draft && (
    <StepDraft
      draft={draft}
      preview={preview}
      unit={unit}
      help={help}
      below={<WayPlayer of={way} />}
      advice={advice.get(draft.planned.id)}
      onChange={(params) => setDraft({ ...draft, planned: { ...draft.planned, params } })}
      onTake={take}
      onLeave={leave}
      onShow={tools.setGoTo}
    />
  );
  return (
    <Station
      ready={prepared !== null || fault !== null}
      view={
        <DrawingView
          scene={draft && preview.view ? preview.view.same : (prepared?.scene ?? null)}
          {...(pictures && { pictures, wipe })}
          unit={unit}
          tools={tools}
          stays={draft ? 'always' : 'chosen'}
          label={`Drawing ${drawing.name}, ${draft ? 'with a step tried on it' : after === null ? 'prepared' : `after step ${place + 1}`}`}
          marks={(m) => (
            <>
              <OriginMark m={m} at={[0, 0]} />
              {way.shown && <WayMarks m={m} shown={way.shown} />}
            </>
          )}
          over={
            draft && preview.view ? (
              <CompareBar
                compare={compare}
                onCompare={changeCompare}
                wipe={wipe}
                onWipe={setWipe}
                ways={ways}
                said={differing.said}
                differs={(differing.view?.other ?? 0) > 0}
                sides={compare === 'differing' ? ['only in the picture', 'only in the trace'] : ['before', 'after']}
              />
            ) : place >= 0 ? (
              <p
                className="absolute top-3 left-3 flex items-center gap-3 border border-ink bg-paper px-2 py-0.5 text-sm"
                role="status"
              >
                As it is after step {place + 1} of {steps.length}
                <Button look="quiet" onClick={() => setAfter(null)}>
                  See the last
                </Button>
              </p>
            ) : null
          }
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={figures} />
          <MeasuredSection tools={tools} figures={figures} />
          {choosing === 'yes' ? (
            <StepChoice onChoose={begin} onLeave={() => setChoosing('left')} />
          ) : (
            <Section
              title="Steps"
              aside={
                draft ? null : (
                  <Button
                    look="main"
                    className="!py-0.5"
                    autoFocus={choosing === 'left'}
                    onClick={() => setChoosing('yes')}
                  >
                    Add a step
                  </Button>
                )
              }
            >
              {steps.length === 0 && !draft && (
                <p className="text-quiet">
                  No steps yet: the drawing goes on as taken in. Steps run from top to bottom; the source is never
                  changed.
                </p>
              )}
              <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={sorted}>
                <SortableContext items={steps.map((s) => s.id)} strategy={verticalListSortingStrategy}>
                  <ol className="space-y-2" aria-label="Steps in order">
                    {steps.map((s, i) =>
                      draft && !draft.isNew && draft.planned.id === s.id ? (
                        <li key={s.id}>{form}</li>
                      ) : (
                        <StepLine
                          key={s.id}
                          step={s}
                          place={i + 1}
                          rows={prepared?.ledger.filter((r) => r.by === s.id) ?? []}
                          fault={prepared?.failed?.step === s.id ? prepared.failed.message : null}
                          advice={advice.get(s.id)}
                          chosen={after === s.id}
                          isLater={place >= 0 && i > place}
                          onChoose={() => setAfter(after === s.id ? null : s.id)}
                          onChange={() => {
                            setAfter(null);
                            setDraft({ planned: s, at: i, isNew: false });
                          }}
                          onSwitch={(on) => change(s.id, (o) => ({ ...o, on }), on ? 'step on' : 'step off')}
                          onDuplicate={() =>
                            setSteps(
                              [...steps.slice(0, i + 1), { ...s, id: crypto.randomUUID() }, ...steps.slice(i + 1)],
                              'step duplicated',
                            )
                          }
                          onCopy={() => setCopying(s.id)}
                          onRemove={() =>
                            setSteps(
                              steps.filter((o) => o.id !== s.id),
                              'step removed',
                            )
                          }
                        />
                      ),
                    )}
                  </ol>
                </SortableContext>
              </DndContext>
              {draft?.isNew && <div className="mt-2">{form}</div>}
              {fault && (
                <p className="mt-3 text-alarm" role="alert">
                  {fault}
                </p>
              )}
            </Section>
          )}
          {b && !draft && choosing !== 'yes' && (
            <Section title="What comes out">
              <dl className="num grid grid-cols-[112px_1fr] gap-x-2" data-testid="outcome">
                <dt className="text-quiet">Size</dt>
                <dd>
                  {round(b.maxX - b.minX)} × {round(b.maxY - b.minY)} {prepared?.unit ?? 'units'}
                </dd>
                <dt className="text-quiet">Lower left</dt>
                <dd>
                  {placed(b.minX, b)}, {placed(b.minY, b)}
                </dd>
              </dl>
            </Section>
          )}
          {copying !== null && <CopySteps first={copying} onClose={() => setCopying(null)} />}
        </>
      }
    />
  );
}

const round = (v: number): number => Number(v.toPrecision(9));

/** A coordinate, without what a double loses on the size of the drawing: nought is said as nought. */
function placed(v: number, { minX, minY, maxX, maxY }: Scene['bounds'] & object): number {
  const size = Math.max(maxX - minX, maxY - minY);
  return Math.abs(v) < size * 1e-12 ? 0 : round(v);
}
