import type { TrackerFields } from '@scalaria/core';
import { sendJson } from '../../api/client';
import { useTracker as useTracked } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { JobTracker, TrackedFile } from '../../api/types';
import { useNotice } from '../../parts/notice';

interface Sent {
  changes?: { id: string; fields: Partial<TrackerFields> }[];
  added?: Partial<TrackerFields>[];
  removed?: string[];
  back?: string[];
  states?: { name: string; was: string | null }[];
}

/** The tracker of a job, and what is said about its rows; each change is told, with a way back. */
export function useTracker(job: string) {
  const { data, error, mutate } = useTracked(job);
  const notice = useNotice();
  const send = async (what: Sent): Promise<JobTracker | null> => {
    try {
      return (await mutate(sendJson<JobTracker>('PATCH', paths.tracker(job), what), { revalidate: false })) ?? null;
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
      await mutate();
      return null;
    }
  };
  /** `fields` of each row that it says something else about. */
  const say = async (
    changes: readonly { row: TrackedFile; fields: Partial<TrackerFields> }[],
    said: string,
    added: readonly Partial<TrackerFields>[] = [],
  ): Promise<boolean> => {
    const known = new Set(data?.rows.map((r) => r.id));
    const now = await send({
      ...(changes.length > 0 && { changes: changes.map(({ row, fields }) => ({ id: row.id, fields })) }),
      ...(added.length > 0 && { added: [...added] }),
    });
    if (!now) return false;
    const fresh = now.rows.filter((r) => !known.has(r.id)).map((r) => r.id);
    const back = changes.map(({ row, fields }) => ({
      id: row.id,
      fields: Object.fromEntries(Object.keys(fields).map((k) => [k, row[k as keyof TrackerFields]])),
    }));
    notice({
      text: said,
      undo: () => void send({ ...(back.length > 0 && { changes: back }), ...(fresh.length > 0 && { removed: fresh }) }),
    });
    return true;
  };
  const remove = async (rows: readonly TrackedFile[], said: string): Promise<void> => {
    const ids = rows.map((r) => r.id);
    if (await send({ removed: ids })) notice({ text: said, undo: () => void send({ back: ids }) });
  };
  const setStates = (states: { name: string; was: string | null }[]): Promise<JobTracker | null> => send({ states });
  return { tracker: data, fault: error ? (error as Error).message : null, say, remove, setStates };
}
