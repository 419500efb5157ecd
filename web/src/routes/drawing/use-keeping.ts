import { useCallback, useRef, useState } from 'react';
import type { KeyedMutator } from 'swr';
import type { CheckSettings } from '@scalaria/core';
import { ApiError, sendJson } from '../../api/client';
import type { Decided, DrawingChange } from '../../api/drawing-changes';
import { applied, changeBetween, differenceInWords } from '../../api/drawing-changes';
import { paths } from '../../api/paths';
import type { DrawingDetail } from '../../api/types';
import { useNotice } from '../../parts/notice';

/** How many changes can be taken back. */
const MAX_UNDO = 100;

interface Keeping {
  /** The change that {@link Keeping.undo} takes back. */
  last: { what: string } | undefined;
  change: (next: Partial<Decided>, what: string) => void;
  setChecks: (checks: CheckSettings) => void;
  undo: () => void;
}

/** Keeps what is decided about a drawing: shown at once, sent in order, taken back one by one. */
export function useKeeping(
  id: string,
  drawing: DrawingDetail | undefined,
  mutate: KeyedMutator<DrawingDetail>,
): Keeping {
  const [past, setPast] = useState<{ back: DrawingChange; what: string }[]>([]);
  const notice = useNotice();
  const sending = useRef<Promise<unknown>>(Promise.resolve());

  const pending = useRef(0);
  const version = useRef(0);
  if (drawing && pending.current === 0) version.current = drawing.seen;
  // Shown at once, sent in order; when sending fails the truth is fetched again.
  const keep = useCallback(
    (before: Decided, next: Partial<Decided>, onFailure?: () => void) => {
      const sent = changeBetween(before, next);
      if (!sent) return;
      void mutate((d) => d && { ...d, ...next }, { revalidate: false });
      pending.current++;
      sending.current = sending.current
        .then(() => sendJson<DrawingDetail>('PATCH', paths.drawing(id), { ...sent, seen: version.current }))
        .then((now) => {
          version.current = now.seen;
          const last = --pending.current === 0;
          return mutate(
            (d) => {
              if (!d) return d;
              // Texts that are read otherwise change what the file claims. What other windows did counts here too, once
              // nothing of this one is under way.
              if (!last) return { ...d, claims: now.claims, ledger: now.ledger };
              const others = differenceInWords(d, now);
              if (others) notice({ text: `Changed in another window: ${others}.` });
              return { ...d, ...now };
            },
            { revalidate: false },
          );
        })
        .catch((e: unknown) => {
          pending.current = 0;
          onFailure?.();
          const remedy = e instanceof ApiError && e.remedy ? ` ${e.remedy}` : '';
          notice({ text: `Not kept: ${(e as Error).message}${remedy}`, alarm: true });
          void mutate();
        });
    },
    [id, mutate, notice],
  );
  const change = useCallback(
    (next: Partial<Decided>, what: string) => {
      if (!drawing) return;
      // Only what this change did is taken back, whatever other windows do meanwhile.
      const back = changeBetween({ intake: drawing.intake, steps: drawing.steps, ...next }, drawing);
      if (back) setPast((p) => [...p.slice(1 - MAX_UNDO), { back, what }]);
      // What was not kept cannot be taken back.
      keep(drawing, next, () => setPast((p) => p.filter((one) => one.back !== back)));
    },
    [drawing, keep],
  );
  const setChecks = useCallback(
    (checks: CheckSettings) => {
      if (!drawing) return;
      void mutate((d) => d && { ...d, checks }, { revalidate: false });
      sending.current = sending.current
        .then(() => sendJson('PATCH', paths.job(drawing.jobId), { checks }))
        .catch((e: unknown) => {
          notice({ text: `Not kept: ${(e as Error).message}`, alarm: true });
          void mutate();
        });
    },
    [drawing, mutate, notice],
  );
  const undo = useCallback(() => {
    const last = past[past.length - 1];
    if (!last || !drawing) return;
    setPast((p) => p.slice(0, -1));
    keep(drawing, applied(drawing, last.back));
  }, [past, drawing, keep]);
  return { last: past[past.length - 1], change, setChecks, undo };
}
