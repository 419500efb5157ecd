import { useCallback } from 'react';
import type { Kept, PartChange } from '@scalaria/core';
import { changeBack } from '@scalaria/core';
import { sendJson } from '../../api/client';
import { useJobParts } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { JobParts } from '../../api/types';
import { useNotice } from '../../parts/notice';
import type { SentChange, TableRow } from './rows';
import { changeOf } from './rows';

export interface PartsOfJob {
  parts: JobParts | undefined;
  fault: string | null;
  /** Decides about parts, each for itself; says so, with a way back. Whether it was taken. */
  decide: (changes: readonly { row: TableRow; change: PartChange }[], said: string) => Promise<boolean>;
  setRules: (rules: Kept) => Promise<void>;
  setListed: (drawing: string, on: boolean) => Promise<void>;
}

/** The parts of a job, and how they are decided about. */
export function useParts(job: string): PartsOfJob {
  const { data, error, mutate } = useJobParts(job);
  const notice = useNotice();
  const send = useCallback(
    async (changes: SentChange[]): Promise<boolean> => {
      try {
        await sendJson('POST', paths.jobParts(job), { changes });
        return true;
      } catch (e) {
        const { message, remedy } = e as Error & { remedy?: string };
        notice({ text: remedy ? `${message} ${remedy}` : message, alarm: true });
        return false;
      } finally {
        await mutate();
      }
    },
    [job, mutate, notice],
  );
  const decide = useCallback(
    async (changes: readonly { row: TableRow; change: PartChange }[], said: string): Promise<boolean> => {
      const back = changes.map(({ row, change }) => changeOf(row, changeBack(row, change)));
      const done = await send(changes.map(({ row, change }) => changeOf(row, change)));
      if (done) notice({ text: said, undo: () => void send(back) });
      return done;
    },
    [send, notice],
  );
  /** `ahead`: how it looks at once, until the server has it. */
  const patch = async (what: object, ahead: (now: JobParts) => JobParts): Promise<void> => {
    try {
      await mutate(sendJson<JobParts>('PATCH', paths.jobParts(job), what), {
        revalidate: false,
        rollbackOnError: true,
        ...(data && { optimisticData: ahead(data) }),
      });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };
  return {
    parts: data,
    fault: error ? (error as Error).message : null,
    decide,
    setRules: (rules) => patch({ rules }, (now) => ({ ...now, rules })),
    setListed: (drawing, on) =>
      patch({ drawings: { [drawing]: on } }, (now) => ({
        ...now,
        drawings: now.drawings.map((d) =>
          d.id === drawing ? { ...d, listed: on, state: on ? 'working' : 'none' } : d,
        ),
      })),
  };
}
