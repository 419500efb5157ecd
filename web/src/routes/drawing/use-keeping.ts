import { useCallback, useEffect, useRef, useState } from 'react';
import type { KeyedMutator } from 'swr';
import type { CheckSettings, Target } from '@scalaria/core';
import { ApiError, getJson, sendJson } from '../../api/client';
import type { Decided } from '../../api/drawing-changes';
import { applied, changeBetween, clashInWords, differenceInWords, stillSo } from '../../api/drawing-changes';
import { paths } from '../../api/paths';
import type { DrawingDetail } from '../../api/types';
import { useNotice } from '../../parts/notice';
import type { Done } from './kept-undo';
import { MAX_UNDO, keepHistory, keptHistory } from './kept-undo';

interface Keeping {
  /** The change that {@link Keeping.undo} takes back, and the one that {@link Keeping.redo} does again. */
  last: { what: string } | undefined;
  next: { what: string } | undefined;
  change: (next: Partial<Decided>, what: string) => void;
  setChecks: (checks: CheckSettings) => void;
  /** How a file is to be written; not a change that is taken back. */
  setTarget: (target: Target) => void;
  undo: () => void;
  redo: () => void;
  /** Whether changes are under way. */
  isBusy: () => boolean;
}

const decidedIn = ({ intake, steps, review, yardsticks }: DrawingDetail): Decided => ({
  ...{ intake, steps, review, yardsticks },
});

/** Keeps what is decided about a drawing: shown at once, sent in order, taken back one by one, also after a reload. */
export function useKeeping(
  id: string,
  drawing: DrawingDetail | undefined,
  mutate: KeyedMutator<DrawingDetail>,
): Keeping {
  const [history, setHistory] = useState(() => keptHistory(id));
  useEffect(() => keepHistory(id, history), [id, history]);
  const notice = useNotice();
  const sending = useRef<Promise<unknown>>(Promise.resolve());

  const pending = useRef(0);
  const version = useRef(0);
  if (drawing && pending.current === 0) version.current = drawing.seen;
  // What others decided on the same, beside what was asked for here, with a way to have one's own all the same.
  const tellClash = useCallback(
    async (before: Decided, next: Partial<Decided>, fault: ApiError): Promise<void> => {
      const now = await getJson<DrawingDetail>(paths.drawing(id));
      const mine = changeBetween(before, { ...before, ...next }) ?? {};
      const words = clashInWords(mine, before, now);
      notice({
        text: words ? `Not kept, changed meanwhile in another window. ${words}.` : fault.message,
        alarm: true,
        ...(words && {
          act: {
            words: 'Use mine',
            run: () =>
              void sendJson<DrawingDetail>('PATCH', paths.drawing(id), { ...mine, seen: now.seen })
                .then((d) => mutate(d, { revalidate: false }))
                .catch((e: unknown) => notice({ text: `Not kept: ${(e as Error).message}`, alarm: true })),
          },
        }),
      });
    },
    [id, mutate, notice],
  );
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
        .catch(async (e: unknown) => {
          pending.current = 0;
          onFailure?.();
          const remedy = e instanceof ApiError && e.remedy ? ` ${e.remedy}` : '';
          const plain = (): void => notice({ text: `Not kept: ${(e as Error).message}${remedy}`, alarm: true });
          if (e instanceof ApiError && e.status === 409) await tellClash(before, next, e).catch(plain);
          else plain();
          void mutate();
        });
    },
    [id, mutate, notice, tellClash],
  );
  const change = useCallback(
    (next: Partial<Decided>, what: string) => {
      if (!drawing) return;
      // Only what this change did is taken back, whatever other windows do meanwhile.
      const before = decidedIn(drawing);
      const [forth, back] = [changeBetween(before, next), changeBetween({ ...before, ...next }, before)];
      if (!forth || !back) return;
      const done: Done = { what, forth, back };
      setHistory((h) => ({ past: [...h.past.slice(1 - MAX_UNDO), done], future: [] }));
      // What was not kept cannot be taken back.
      keep(before, next, () => setHistory((h) => ({ ...h, past: h.past.filter((one) => one !== done) })));
    },
    [drawing, keep],
  );
  const later = useCallback(
    (send: () => Promise<unknown>) => {
      sending.current = sending.current.then(send).catch((e: unknown) => {
        notice({ text: `Not kept: ${(e as Error).message}`, alarm: true });
        void mutate();
      });
    },
    [mutate, notice],
  );
  const setChecks = useCallback(
    (checks: CheckSettings) => {
      if (!drawing) return;
      void mutate((d) => d && { ...d, checks }, { revalidate: false });
      later(() => sendJson('PATCH', paths.job(drawing.jobId), { checks }));
    },
    [drawing, mutate, later],
  );
  const setTarget = useCallback(
    (target: Target) => {
      void mutate((d) => d && { ...d, target }, { revalidate: false });
      later(() =>
        sendJson<DrawingDetail>('PATCH', paths.drawing(id), { target }).then((now) => {
          if (pending.current === 0) void mutate((d) => d && { ...d, seen: now.seen }, { revalidate: false });
        }),
      );
    },
    [id, mutate, later],
  );
  /** Goes one change back or forth; one that another window has changed since is let go, and said. */
  const step = useCallback(
    (forth: boolean) => {
      if (!drawing) return;
      const done = forth ? history.future[0] : history.past[history.past.length - 1];
      if (!done) return;
      const before = decidedIn(drawing);
      setHistory(({ past, future }) =>
        forth
          ? { past: [...past, done], future: future.slice(1) }
          : { past: past.slice(0, -1), future: [done, ...future].slice(0, MAX_UNDO) },
      );
      if (!stillSo(before, forth ? done.back : done.forth)) {
        setHistory(({ past, future }) => ({
          past: past.filter((d) => d !== done),
          future: future.filter((d) => d !== done),
        }));
        notice({ text: `“${done.what}” was changed since, so it was left as it is.` });
        return;
      }
      keep(before, applied(before, forth ? done.forth : done.back));
    },
    [drawing, history, keep, notice],
  );
  const undo = useCallback(() => step(false), [step]);
  const redo = useCallback(() => step(true), [step]);
  const isBusy = useCallback(() => pending.current > 0, []);
  const { past, future } = history;
  return { last: past[past.length - 1], next: future[0], change, setChecks, setTarget, undo, redo, isBusy };
}
