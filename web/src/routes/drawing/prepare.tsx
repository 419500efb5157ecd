import { useEffect, useState } from 'react';
import type { DragEndEvent } from '@dnd-kit/core';
import { DndContext, KeyboardSensor, PointerSensor, closestCenter, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical, X } from 'lucide-react';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { LedgerRow, PlannedStep } from '@scalaria/core';
import { STEPS, lengthWithUnit, plannedStep, spaceUnitOf, stepById } from '@scalaria/core';
import { useAction } from '../../parts/actions';
import { Section } from '../../parts/field';
import type { FormHelp } from '../../forms/parameter-form';
import { ParameterForm } from '../../forms/parameter-form';
import { useFontUses } from './use-font-uses';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { usePreparedScene } from './use-scene';
import { DrawingView } from './view/drawing-view';
import { OriginMark } from './view/marks';
import { MeasuredSection } from './view/measured-section';
import { SelectionSection } from './view/selection-section';
import { useTools } from './view/use-tools';

const NO_LAYERS: ReadonlySet<string> = new Set();

/** Station three: steps in order, each saying what it changed; any of them can be changed tomorrow. */
export function Prepare() {
  const { drawing, worker, setSteps } = useDrawing();
  const { steps } = drawing;
  const told = useFontUses();
  const [picking, setPicking] = useState<{ step: string; name: string } | null>(null);
  const { prepared, fault } = usePreparedScene();
  const picked = usePickedWords(steps, worker, prepared);
  const tools = useTools(prepared, NO_LAYERS);
  const figures = { unit: prepared?.unit ?? null, scale: 1 };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useEffect(() => {
    if (tools.tool !== 'ask') setPicking(null);
  }, [tools.tool]);
  const pick = async (at: { step: string; name: string }, id: number): Promise<void> => {
    const ref = await worker?.refOf(id);
    if (!ref) return;
    const put = (s: PlannedStep): PlannedStep => ({
      ...s,
      params: { ...s.params, [at.name]: withPicked(s, at.name, ref) },
    });
    setSteps(
      steps.map((s) => (s.id === at.step ? put(s) : s)),
      'curve picked',
    );
    tools.ask(null);
  };
  const startPicking = (step: string, name: string): void => {
    tools.ask({ words: 'Click the curve.', onItem: (id) => void pick({ step, name }, id) });
    setPicking({ step, name });
  };
  const b = prepared?.scene.bounds;

  const add = (id: string): void => {
    const step = stepById(id)!;
    setSteps([...steps, plannedStep(step, crypto.randomUUID())], `step ${step.title}`);
  };
  for (const s of STEPS)
    // The list never changes its length.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useAction(`Add the step: ${s.title.toLowerCase()}`, '', () => add(s.id), false);
  const sorted = (e: DragEndEvent): void => {
    if (!e.over || e.over.id === e.active.id) return;
    const place = (id: unknown): number => steps.findIndex((s) => s.id === id);
    setSteps(arrayMove(steps, place(e.active.id), place(e.over.id)), 'order of steps');
  };
  return (
    <Station
      ready={prepared !== null || fault !== null}
      view={
        <DrawingView
          scene={prepared?.scene ?? null}
          unit={prepared?.unit ?? null}
          tools={tools}
          label={`Drawing ${drawing.name}, prepared`}
          marks={(m) => <OriginMark m={m} at={[0, 0]} />}
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={figures} />
          <MeasuredSection tools={tools} figures={figures} />
          <Section
            title="Steps"
            aside={
              <Menu>
                <MenuButton className="border border-ink bg-ink px-3 py-0.5 text-paper hover:bg-act">
                  Add a step
                </MenuButton>
                <MenuItems anchor="bottom end" className="z-20 w-72 border border-ink bg-paper py-1">
                  {STEPS.map((s) => (
                    <MenuItem key={s.id}>
                      <button
                        type="button"
                        className="block w-full px-3 py-1.5 text-left data-focus:bg-wash"
                        onClick={() => add(s.id)}
                      >
                        <span className="block font-medium">{s.title}</span>
                        <span className="block text-xs text-quiet">{s.summary}</span>
                      </button>
                    </MenuItem>
                  ))}
                </MenuItems>
              </Menu>
            }
          >
            {steps.length === 0 && (
              <p className="text-quiet">
                No steps yet: the drawing goes on as taken in. Steps run from top to bottom; the source is never
                changed.
              </p>
            )}
            <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={sorted}>
              <SortableContext items={steps.map((s) => s.id)} strategy={verticalListSortingStrategy}>
                <ol className="space-y-2" aria-label="Steps in order">
                  {steps.map((s, i) => (
                    <StepRow
                      key={s.id}
                      step={s}
                      place={i + 1}
                      unit={prepared?.unit ?? null}
                      help={{
                        fonts: told?.families ?? [],
                        layers: drawing.claims.layers.map((l) => l.name),
                        picking: picking?.step === s.id ? picking.name : null,
                        onPick: (name) => startPicking(s.id, name),
                        picked: (ref) => picked[ref] ?? null,
                      }}
                      rows={prepared?.ledger.filter((r) => r.by === s.id) ?? []}
                      onChange={(next, what) =>
                        setSteps(
                          steps.map((o) => (o.id === s.id ? next : o)),
                          what,
                        )
                      }
                      onRemove={() =>
                        setSteps(
                          steps.filter((o) => o.id !== s.id),
                          'step removed',
                        )
                      }
                    />
                  ))}
                </ol>
              </SortableContext>
            </DndContext>
            {fault && (
              <p className="mt-3 text-alarm" role="alert">
                {fault}
              </p>
            )}
          </Section>
          {b && (
            <Section title="What comes out">
              <dl className="num grid grid-cols-[112px_1fr] gap-x-2" data-testid="outcome">
                <dt className="text-quiet">Size</dt>
                <dd>
                  {round(b.maxX - b.minX)} × {round(b.maxY - b.minY)} {prepared?.unit ?? 'units'}
                </dd>
                <dt className="text-quiet">Lower left</dt>
                <dd>
                  {round(b.minX)}, {round(b.minY)}
                </dd>
              </dl>
            </Section>
          )}
        </>
      }
    />
  );
}

/** All that is picked in a plan. */
const pickedIn = (steps: readonly PlannedStep[]): string[] =>
  steps.flatMap((s) =>
    Object.entries(stepById(s.step)?.params ?? {}).flatMap(([name, one]) => {
      const refs = s.params[name];
      return one.kind === 'picked' && Array.isArray(refs) ? (refs as string[]) : [];
    }),
  );

/** What is picked, in words, by reference: asked anew whenever the drawing is another, so that it is told after a reload too. */
function usePickedWords(
  steps: readonly PlannedStep[],
  worker: ReturnType<typeof useDrawing>['worker'],
  prepared: unknown,
): Record<string, string> {
  const [words, setWords] = useState<Record<string, string>>({});
  const refs = JSON.stringify([...new Set(pickedIn(steps))]);
  useEffect(() => {
    const list = JSON.parse(refs) as string[];
    if (!worker || !prepared || list.length === 0) return;
    let live = true;
    worker.wordsOf(list).then(
      (told) => live && setWords(Object.fromEntries(list.flatMap((ref, i) => (told[i] ? [[ref, told[i]]] : [])))),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [refs, worker, prepared]);
  return words;
}

/** What is picked for a parameter with one thing more; the newest alone where one is all it takes. */
function withPicked(planned: PlannedStep, name: string, ref: string): string[] {
  const asked = stepById(planned.step)?.params[name];
  const before = planned.params[name];
  if (asked?.kind !== 'picked' || asked.atMost === 1 || !Array.isArray(before)) return [ref];
  return [...(before as string[]).filter((r) => r !== ref), ref].slice(-asked.atMost);
}

const round = (v: number): number => Number(v.toPrecision(9));

interface RowProps {
  step: PlannedStep;
  place: number;
  unit: string | null;
  rows: LedgerRow[];
  help: FormHelp;
  onChange: (s: PlannedStep, what: string) => void;
  onRemove: () => void;
}

function StepRow({ step, place, unit, rows, help, onChange, onRemove }: RowProps) {
  const kind = stepById(step.step);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: step.id });
  if (!kind) return null;
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`border bg-paper ${isDragging ? 'border-act' : 'border-rule'} ${step.on ? '' : 'text-quiet'}`}
      data-step={step.step}
    >
      <div className="flex items-center gap-2 border-b border-rule px-2 py-1">
        <button
          type="button"
          className="cursor-grab p-0.5 hover:bg-wash"
          aria-label={`Move ${kind.title}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={15} aria-hidden />
        </button>
        <span className="num text-xs">{place}</span>
        <span className="flex-1 font-medium">{kind.title}</span>
        <label className="flex items-center gap-1 text-xs">
          <input
            type="checkbox"
            className="accent-[var(--ink)]"
            checked={step.on}
            onChange={(e) => onChange({ ...step, on: e.target.checked }, e.target.checked ? 'step on' : 'step off')}
          />
          on
        </label>
        <button type="button" className="p-0.5 hover:bg-wash" aria-label={`Remove ${kind.title}`} onClick={onRemove}>
          <X size={15} aria-hidden />
        </button>
      </div>
      <div className="px-3 py-2">
        <ParameterForm
          params={kind.params}
          values={step.params}
          unit={unit}
          help={{ ...help, lengths: (v) => lengthWithUnit(v, spaceUnitOf(unit)) }}
          onChange={(params) => onChange({ ...step, params }, `${kind.title} changed`)}
        />
        {step.on && (
          <ul className="mt-2 border-t border-rule pt-1.5 text-sm">
            {rows.length === 0 ? (
              <li className="text-quiet">No effect on this drawing</li>
            ) : (
              rows.map((r) => <li key={r.reason}>{r.count > 1 ? `${r.reason} (${r.count})` : r.reason}</li>)
            )}
          </ul>
        )}
      </div>
    </li>
  );
}
