import { useState } from 'react';
import type { DecisionName } from '@scalaria/core';
import { copiedDecisions, decidedOf, takenBack } from '@scalaria/core';
import { getJson, sendJson } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import { changeBetween } from '../../api/drawing-changes';
import type { DrawingDetail } from '../../api/types';
import { Button } from '../../parts/button';
import { Tick } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { Modal } from '../../parts/modal';
import { useNotice } from '../../parts/notice';
import { useDrawing } from './drawing-context';

/** Everything that was decided, in one list: each to be taken back, all to be copied to other drawings of the job. */
export function useDecisionSection(): BookSection | null {
  const { drawing } = useDrawing();
  const n = decidedOf(drawing.intake).length;
  if (n === 0) return null;
  return { id: 'decisions', title: 'Decisions', said: n === 1 ? '1 made' : `${n} made`, body: () => <Decisions /> };
}

function Decisions() {
  const { drawing, decide } = useDrawing();
  const [copying, setCopying] = useState(false);
  const decided = decidedOf(drawing.intake);
  return (
    <>
      <ul aria-label="Decisions" className="text-sm">
        {decided.map((d) => (
          <li key={d.name} className="flex items-baseline gap-2 border-t border-rule/70 py-0.5 first:border-t-0">
            <span className="w-24 shrink-0 text-quiet">{d.title}</span>
            <span className="num min-w-0 flex-1 break-words">{d.words}</span>
            <button
              type="button"
              className="text-act hover:underline"
              aria-label={`Take back: ${d.title}`}
              onClick={() => decide(takenBack(d.name), `${d.title.toLowerCase()} taken back`)}
            >
              Take back
            </button>
          </li>
        ))}
      </ul>
      <Button look="quiet" className="mt-1" onClick={() => setCopying(true)}>
        Copy to other drawings …
      </Button>
      {copying && <CopyDecisions onClose={() => setCopying(false)} />}
    </>
  );
}

/** What is about one file rather than about the hand that made it is not copied unless it is wished. */
const OWN: readonly DecisionName[] = ['correction', 'window', 'origin'];

function CopyDecisions({ onClose }: { onClose: () => void }) {
  const { drawing } = useDrawing();
  const notice = useNotice();
  const { data } = useJob(drawing.jobId);
  const others = data?.drawings.filter((d) => d.id !== drawing.id) ?? [];
  const decided = decidedOf(drawing.intake);
  const [names, setNames] = useState<ReadonlySet<DecisionName>>(
    () => new Set(decided.map((d) => d.name).filter((n) => !OWN.includes(n))),
  );
  const [to, setTo] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const turned = <T,>(set: ReadonlySet<T>, one: T): ReadonlySet<T> => {
    const next = new Set(set);
    if (!next.delete(one)) next.add(one);
    return next;
  };
  const copy = async (): Promise<void> => {
    setBusy(true);
    const copied = copiedDecisions(drawing.intake, names);
    const done: { other: DrawingDetail; now: DrawingDetail }[] = [];
    try {
      for (const id of to) {
        const other = await getJson<DrawingDetail>(paths.drawing(id));
        const sent = changeBetween(other, { intake: { ...other.intake, ...copied } });
        if (!sent) continue;
        const now = await sendJson<DrawingDetail>('PATCH', paths.drawing(id), { ...sent, seen: other.seen });
        done.push({ other, now });
      }
      const undo = (): void =>
        void Promise.all(
          done.map(({ other, now }) =>
            sendJson('PATCH', paths.drawing(other.id), {
              ...changeBetween(now, { intake: other.intake }),
              seen: now.seen,
            }),
          ),
        ).catch((e: unknown) => notice({ text: `Not undone: ${(e as Error).message}`, alarm: true }));
      notice({ text: `Decisions copied to ${to.size === 1 ? '1 drawing' : `${to.size} drawings`}.`, undo });
      onClose();
    } catch (e) {
      const some = done.length > 0 ? ` ${done.length} of ${to.size} had been done.` : '';
      notice({ text: `Not copied: ${(e as Error).message}${some}`, alarm: true });
      setBusy(false);
    }
  };
  return (
    <Modal open onClose={onClose} title="Copy decisions to other drawings">
      <fieldset>
        <legend className="text-sm text-quiet">These decisions</legend>
        {decided.map((d) => (
          <Tick
            key={d.name}
            className="flex items-baseline gap-2 py-0.5"
            checked={names.has(d.name)}
            onChange={() => setNames(turned(names, d.name))}
          >
            <span className="w-28 shrink-0">{d.title}</span>
            <span className="num min-w-0 text-sm text-quiet">{d.words}</span>
          </Tick>
        ))}
      </fieldset>
      <fieldset className="mt-3">
        <legend className="text-sm text-quiet">to these drawings of the job</legend>
        {others.length === 0 && <p>The job holds no other drawing.</p>}
        {others.map((d) => (
          <Tick
            key={d.id}
            className="flex items-baseline gap-2 py-0.5"
            checked={to.has(d.id)}
            onChange={() => setTo(turned(to, d.id))}
          >
            <span className="min-w-0 flex-1 truncate">{d.name}</span>
            <span className="text-sm text-quiet">{d.format.toUpperCase()}</span>
          </Tick>
        ))}
      </fieldset>
      <div className="mt-4 flex gap-3">
        <Button look="main" disabled={busy || names.size === 0 || to.size === 0} onClick={() => void copy()}>
          {to.size === 1 ? 'Copy to 1 drawing' : `Copy to ${to.size} drawings`}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </Modal>
  );
}
