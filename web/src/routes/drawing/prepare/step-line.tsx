import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import type { LedgerRow, PlannedStep } from '@scalaria/core';
import { stepById } from '@scalaria/core';
import { Button } from '../../../parts/button';
import { CardMenu } from '../../../parts/card-menu';
import { Tick } from '../../../parts/field';
import { plainNumber } from '../../../parts/numbers';

interface Props {
  step: PlannedStep;
  place: number;
  rows: readonly LedgerRow[];
  /** Why it could not be run. */
  fault: string | null;
  advice: string | undefined;
  /** The drawing is shown as it is after it. */
  chosen: boolean;
  /** The drawing is shown as it is before it, so nothing is known of what it does. */
  isLater: boolean;
  onChoose: () => void;
  onChange: () => void;
  onSwitch: (on: boolean) => void;
  onDuplicate: () => void;
  onCopy: () => void;
  onRemove: () => void;
}

/** What a step did, in a line. */
function said(rows: readonly LedgerRow[], on: boolean, isLater: boolean): string {
  if (!on) return 'off';
  if (isLater) return 'comes later';
  const done = rows.filter((r) => r.action !== 'kept');
  if (done.length === 0) return rows.length > 0 ? 'left all as it is' : 'no effect on this drawing';
  const count = done.reduce((n, r) => n + r.count, 0);
  return count > 1 ? `${plainNumber(count)} changes` : '1 change';
}

/** One step of the plan: what it is, what came of it, and what can be done with it. */
export function StepLine(props: Props) {
  const {
    step,
    place,
    rows,
    fault,
    advice,
    chosen,
    isLater,
    onChoose,
    onChange,
    onSwitch,
    onDuplicate,
    onCopy,
    onRemove,
  } = props;
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: step.id });
  const kind = stepById(step.step);
  const title = kind?.title ?? step.step;
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`border bg-paper ${isDragging ? 'border-act' : chosen ? 'border-ink' : 'border-rule'} ${step.on ? '' : 'text-quiet'}`}
      data-step={step.step}
    >
      <div className="flex items-center gap-2 px-2 py-1">
        <button
          type="button"
          className="cursor-grab p-0.5 hover:bg-wash"
          aria-label={`Move ${title}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={15} aria-hidden />
        </button>
        <button
          type="button"
          aria-pressed={chosen}
          title="See the drawing as it is after this step"
          className="flex min-w-0 flex-1 items-baseline gap-2 text-left hover:underline"
          onClick={onChoose}
        >
          <span className="num text-xs">{place}</span>
          <span className="font-medium">{title}</span>
        </button>
        <Tick className="flex items-center gap-1 text-xs" checked={step.on} onChange={onSwitch}>
          on
        </Tick>
        <CardMenu
          of={title}
          acts={[
            ['Duplicate', onDuplicate],
            ['Copy to other drawings', onCopy],
            ['Remove', onRemove],
          ]}
        />
      </div>
      <div className="flex items-baseline justify-between gap-3 border-t border-rule px-3 py-1 text-sm">
        {fault ? (
          <p className="text-alarm" role="alert">
            {fault}
          </p>
        ) : chosen && step.on && rows.length > 0 ? (
          <ul className="min-w-0">
            {rows.map((r) => (
              <li key={r.reason} className={r.action === 'kept' ? 'text-quiet' : ''}>
                {r.count > 1 ? `${r.reason} (${plainNumber(r.count)})` : r.reason}
              </li>
            ))}
          </ul>
        ) : (
          <p className="min-w-0 text-quiet">{kind ? said(rows, step.on, isLater) : 'this version has no such step'}</p>
        )}
        {kind && (
          <Button look="quiet" className="shrink-0" aria-label={`Change ${title}`} onClick={onChange}>
            Change
          </Button>
        )}
      </div>
      {advice && step.on && <p className="px-3 pb-1.5 text-sm">{advice}</p>}
    </li>
  );
}
