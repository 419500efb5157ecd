import { useState } from 'react';
import type { PlannedStep } from '@scalaria/core';
import { STEPS, STEP_GROUPS, lengthWithUnit, operationFault, plannedStep, spaceUnitOf, stepById } from '@scalaria/core';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import type { FormHelp } from '../../forms/parameter-form';
import { ParameterForm } from '../../forms/parameter-form';
import { Tick } from '../../parts/field';

/** The steps of a recipe, in their order: each with its form, none with anything picked in a drawing. */
export function RecipeSteps({
  steps,
  help,
  onChange,
}: {
  steps: readonly PlannedStep[];
  help: FormHelp;
  onChange: (steps: PlannedStep[]) => void;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const move = (i: number, by: 1 | -1): void => {
    const next = [...steps];
    [next[i], next[i + by]] = [next[i + by]!, next[i]!];
    onChange(next);
  };
  return (
    <>
      {steps.length === 0 && <p className="text-sm text-quiet">None: drawings go out as they are prepared.</p>}
      <ol aria-label="Steps of the recipe">
        {steps.map((s, i) => {
          const step = stepById(s.step);
          const title = step?.title ?? s.step;
          const fault = step ? operationFault(step, s.params, s.version) : 'no step is called so';
          return (
            <li key={s.id} className="border-b border-rule py-1">
              <div className="flex items-baseline gap-2">
                <span className="num w-5 text-sm text-quiet">{i + 1}</span>
                <Tick checked={s.on} onChange={(on) => onChange(steps.with(i, { ...s, on }) as PlannedStep[])}>
                  <span className="sr-only">{title} is on</span>
                </Tick>
                <button
                  type="button"
                  className={`text-left font-medium hover:underline ${s.on ? '' : 'text-quiet'}`}
                  aria-expanded={open === s.id}
                  onClick={() => setOpen(open === s.id ? null : s.id)}
                >
                  {title}
                </button>
                <span className="ml-auto flex">
                  <button
                    type="button"
                    className="p-1 hover:bg-wash disabled:opacity-30"
                    aria-label={`${title} earlier`}
                    disabled={i === 0}
                    onClick={() => move(i, -1)}
                  >
                    <ArrowUp size={14} aria-hidden />
                  </button>
                  <button
                    type="button"
                    className="p-1 hover:bg-wash disabled:opacity-30"
                    aria-label={`${title} later`}
                    disabled={i === steps.length - 1}
                    onClick={() => move(i, 1)}
                  >
                    <ArrowDown size={14} aria-hidden />
                  </button>
                  <button
                    type="button"
                    className="p-1 hover:bg-wash"
                    aria-label={`Take ${title} out`}
                    onClick={() => onChange(steps.filter((_, k) => k !== i))}
                  >
                    <X size={14} aria-hidden />
                  </button>
                </span>
              </div>
              {fault && <p className="pl-7 text-sm text-alarm">{fault}</p>}
              {open === s.id && step && (
                <div className="my-2 border-l-2 border-rule pl-5">
                  <p className="mb-2 text-sm text-quiet">{step.summary}</p>
                  <ParameterForm
                    params={withoutPicks(step.params)}
                    values={s.params}
                    unit={null}
                    help={{ ...help, lengths: (v) => lengthWithUnit(v, spaceUnitOf('mm')) }}
                    onChange={(params) => onChange(steps.with(i, { ...s, params }) as PlannedStep[])}
                  />
                </div>
              )}
            </li>
          );
        })}
      </ol>
      <label className="mt-2 block text-sm">
        <span className="sr-only">Add a step</span>
        <select
          className="border border-ink/60 bg-sheet px-2 py-1"
          value=""
          onChange={(e) => {
            const step = stepById(e.target.value);
            if (!step) return;
            const planned = plannedStep(step, crypto.randomUUID());
            onChange([...steps, planned]);
            setOpen(planned.id);
          }}
        >
          <option value="">Add a step …</option>
          {Object.entries(STEP_GROUPS).map(([group, words]) => (
            <optgroup key={group} label={words}>
              {STEPS.filter((s) => s.group === group && !s.ofOneDrawing).map((s) => (
                <option key={s.id} value={s.id}>
                  {s.title}
                </option>
              ))}
            </optgroup>
          ))}
        </select>
      </label>
    </>
  );
}

type Params = NonNullable<ReturnType<typeof stepById>>['params'];
/** What is picked belongs to one drawing: a rule has none. */
const withoutPicks = (params: Params): Params =>
  Object.fromEntries(Object.entries(params).filter(([, p]) => p.kind !== 'picked'));
