import type { ReactNode } from 'react';
import { useEffect } from 'react';
import type { Kept } from '@scalaria/core';
import { lengthWithUnit, spaceUnitOf, stepById } from '@scalaria/core';
import type { FormHelp } from '../../../forms/parameter-form';
import { ParameterForm } from '../../../forms/parameter-form';
import { isTyping } from '../../../parts/actions';
import { Button } from '../../../parts/button';
import { plainNumber } from '../../../parts/numbers';
import { Working } from '../../../parts/progress';
import type { PreviewView } from '../../../workers/previewing';
import { StepTable } from './step-table';
import type { Draft, Preview } from './use-preview';

interface Props {
  draft: Draft;
  preview: Preview;
  unit: string | null;
  help: FormHelp;
  /** What is to be said about its place in the plan. */
  advice: string | undefined;
  onChange: (params: Kept) => void;
  onTake: () => void;
  onLeave: () => void;
  /** Goes to a place of the drawing, so many units across. */
  onShow: (at: { x: number; y: number; size: number }) => void;
  /** Stands under what the step would do. */
  below?: ReactNode;
}

/** A step being set: its sentence, its form, and what it would do. Nothing is kept until it is taken. */
export function StepDraft({ draft, preview, unit, help, advice, onChange, onTake, onLeave, onShow, below }: Props) {
  const { planned, isNew } = draft;
  const kind = stepById(planned.step)!;
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (e.key === 'Escape' && !e.defaultPrevented && !isTyping(e)) onLeave();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [onLeave]);
  return (
    <section
      aria-label={`${isNew ? 'New step' : 'Step'}: ${kind.title}`}
      className="border border-ink bg-paper"
      data-step={planned.step}
      data-draft
    >
      <div className="border-b border-rule px-3 py-1.5">
        <h3 className="font-medium">{kind.title}</h3>
        <p className="text-xs text-quiet">{kind.summary}</p>
      </div>
      <div className="px-3 py-2">
        <ParameterForm
          params={kind.params}
          values={planned.params}
          unit={unit}
          help={{ ...help, lengths: (v) => lengthWithUnit(v, spaceUnitOf(unit)) }}
          onChange={onChange}
        />
        {advice && <p className="mt-2 text-sm">{advice}</p>}
        <div className="mt-3 border-t border-rule pt-2 text-sm" data-testid="preview">
          <Outcome preview={preview} unit={unit} onShow={onShow} />
          {below}
        </div>
        <div className="mt-3 flex items-center gap-3">
          <Button look="main" onClick={onTake} disabled={preview.fault !== null}>
            {isNew ? 'Take this step' : 'Keep these settings'}
          </Button>
          <Button look="quiet" onClick={onLeave}>
            Leave
          </Button>
        </div>
      </div>
    </section>
  );
}

function Outcome({ preview, unit, onShow }: Pick<Props, 'preview' | 'unit' | 'onShow'>) {
  const { view, busy, fault, stopped, stop, again } = preview;
  if (stopped)
    return (
      <p>
        Stopped.{' '}
        <Button look="quiet" onClick={again}>
          Try again
        </Button>
      </p>
    );
  return (
    <>
      {busy && (
        <div className="mb-1 flex items-center gap-3">
          <div className="flex-1">
            <Working label="Trying the step" />
          </div>
          <Button look="quiet" onClick={stop}>
            Stop
          </Button>
        </div>
      )}
      {fault && (
        <p className="text-alarm" role="alert">
          {fault}
        </p>
      )}
      {!fault && view && <Numbers view={view} unit={view.unit ?? unit} onShow={onShow} />}
      {!fault && !view && !busy && <p className="text-quiet">Nothing to show yet.</p>}
    </>
  );
}

/** What a step would do, in numbers. */
function Numbers({ view, unit, onShow }: { view: PreviewView; unit: string | null; onShow: Props['onShow'] }) {
  const { looked, changed, become, left, told, farthest, lists } = view;
  const gone = told.some((r) => r.count > 0);
  return (
    <>
      <dl className="num grid grid-cols-[132px_1fr] gap-x-2">
        {looked !== null && (
          <>
            <dt className="font-sans text-quiet">Looked at</dt>
            <dd>{plainNumber(looked)}</dd>
          </>
        )}
        <dt className="font-sans text-quiet">Would change</dt>
        <dd>
          {plainNumber(changed)}
          {changed !== become && <span className="font-sans"> into {plainNumber(become)}</span>}
        </dd>
        {farthest && (
          <>
            <dt className="font-sans text-quiet">Moves at most</dt>
            <dd>
              {Number(farthest.value.toPrecision(3))} {unit ?? 'units'}{' '}
              <Button
                look="quiet"
                className="font-sans"
                onClick={() => onShow({ x: farthest.x, y: farthest.y, size: farthest.value * 6 })}
              >
                Show where
              </Button>
            </dd>
          </>
        )}
      </dl>
      {!gone && changed === 0 && <p className="text-quiet">It would change nothing here.</p>}
      {told.length > 0 && (
        <ul className="mt-1">
          {told.map((r) => (
            <li key={r.words}>{r.count > 1 ? `${r.words} (${plainNumber(r.count)})` : r.words}</li>
          ))}
        </ul>
      )}
      {left.length > 0 && (
        <>
          <p className="mt-1 text-quiet">Left as they are:</p>
          <ul>
            {left.map((r) => (
              <li key={r.words}>
                {r.words} ({plainNumber(r.count)})
              </li>
            ))}
          </ul>
        </>
      )}
      {lists.map((list) => (
        <StepTable key={list.title} list={list} />
      ))}
    </>
  );
}
