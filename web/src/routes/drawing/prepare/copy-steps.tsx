import { useState } from 'react';
import type { PlannedStep } from '@scalaria/core';
import { stepById } from '@scalaria/core';
import { getJson, sendJson } from '../../../api/client';
import { useJob } from '../../../api/hooks';
import { paths } from '../../../api/paths';
import type { DrawingDetail } from '../../../api/types';
import { Button } from '../../../parts/button';
import { Tick } from '../../../parts/field';
import { Modal } from '../../../parts/modal';
import { useNotice } from '../../../parts/notice';
import { useDrawing } from '../drawing-context';

/** Steps with ids of their own, for another drawing. */
const copiesOf = (steps: readonly PlannedStep[]): PlannedStep[] =>
  steps.map((s) => ({ ...s, id: crypto.randomUUID() }));

/** Copies steps, chosen of all of this drawing, to the end of the plans of other drawings of the job. */
export function CopySteps({ first, onClose }: { first: string | null; onClose: () => void }) {
  const { drawing } = useDrawing();
  const { data } = useJob(drawing.jobId);
  const notice = useNotice();
  const [steps, setSteps] = useState<ReadonlySet<string>>(new Set(first === null ? [] : [first]));
  const [to, setTo] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const others = data?.drawings.filter((d) => d.id !== drawing.id && !d.deleted) ?? [];
  const turned = (set: ReadonlySet<string>, id: string, on: boolean): ReadonlySet<string> => {
    const next = new Set(set);
    if (on) next.add(id);
    else next.delete(id);
    return next;
  };
  const copy = async (): Promise<void> => {
    setBusy(true);
    const chosen = drawing.steps.filter((s) => steps.has(s.id));
    let done = 0;
    try {
      for (const id of to) {
        const other = await getJson<DrawingDetail>(paths.drawing(id));
        await sendJson('PATCH', paths.drawing(id), { steps: [...other.steps, ...copiesOf(chosen)], seen: other.seen });
        done++;
      }
      notice({
        text: `${chosen.length === 1 ? '1 step' : `${chosen.length} steps`} copied to ${done === 1 ? '1 drawing' : `${done} drawings`}.`,
      });
      onClose();
    } catch (e) {
      notice({ text: `Copied to ${done} of ${to.size}: ${(e as Error).message}`, alarm: true });
      setBusy(false);
    }
  };
  return (
    <Modal open onClose={onClose} title="Copy steps to other drawings">
      <fieldset>
        <legend className="text-xs text-quiet">Steps</legend>
        {drawing.steps.map((s, i) => (
          <Tick key={s.id} checked={steps.has(s.id)} onChange={(on) => setSteps(turned(steps, s.id, on))}>
            <span className="num text-xs">{i + 1}</span> {stepById(s.step)?.title ?? s.step}
          </Tick>
        ))}
      </fieldset>
      <fieldset className="mt-3">
        <legend className="text-xs text-quiet">To the end of the steps of</legend>
        {others.length === 0 && <p className="text-quiet">This job has no other drawing.</p>}
        {others.map((d) => (
          <Tick key={d.id} checked={to.has(d.id)} onChange={(on) => setTo(turned(to, d.id, on))}>
            {d.name}
          </Tick>
        ))}
      </fieldset>
      <p className="mt-3 text-xs text-quiet">
        Lengths keep their unit. What was picked here is not found there, and the step will say so.
      </p>
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={busy || steps.size === 0 || to.size === 0} onClick={() => void copy()}>
          Copy {steps.size === 1 ? '1 step' : `${steps.size} steps`}
        </Button>
      </div>
    </Modal>
  );
}
