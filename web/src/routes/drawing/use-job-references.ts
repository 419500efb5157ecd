import { useEffect, useMemo, useState } from 'react';
import type { Remote } from 'comlink';
import { foundAmong, pathTail, takesReferencesIn } from '@scalaria/core';
import { getBytes } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { DrawingDetail, DrawingRow } from '../../api/types';
import { useNotice } from '../../parts/notice';
import type { DrawingWorker } from '../../workers/drawing.worker';

export interface ReferenceState {
  /** Grows whenever the worker has other reference drawings than before. */
  version: number;
  /** Asks for them: a step is tried that takes them in. */
  need: () => void;
}

/** The drawings of the job that this one refers to, given to the worker once a step of the plan, or one that is tried, takes them in. */
export function useJobReferences(
  drawing: DrawingDetail | undefined,
  worker: Remote<DrawingWorker> | null,
): ReferenceState {
  const [asked, setAsked] = useState(false);
  const [version, setVersion] = useState(0);
  const notice = useNotice();
  const isWanted = drawing !== undefined && (asked || takesReferencesIn(drawing.steps));
  const { data } = useJob(isWanted ? drawing.jobId : null);
  const others = data?.drawings.filter((d) => d.id !== drawing?.id);
  // Another revision of one of them is another drawing.
  const key = JSON.stringify(others?.map((d) => [d.id, d.name, d.revision]) ?? null);
  useEffect(() => {
    if (!worker || !isWanted || !others) return;
    let live = true;
    load(worker, others).then(
      (any) => live && any && setVersion((v) => v + 1),
      (e: unknown) =>
        live && notice({ text: `The reference drawings could not be loaded: ${(e as Error).message}`, alarm: true }),
    );
    return () => {
      live = false;
    };
    // What the list of drawings says is in the key.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, isWanted, key]);
  return useMemo(() => ({ version, need: () => setAsked(true) }), [version]);
}

/** Gives the worker those that are found, and what these refer to; whether there was any. */
async function load(worker: Remote<DrawingWorker>, others: readonly DrawingRow[]): Promise<boolean> {
  const given = new Set<string>();
  let names = (await worker.namedFiles()).flatMap((f) => (f.kind === 'drawing' ? f.name : []));
  while (names.length > 0) {
    const found = names.flatMap((name) => {
      const one = foundAmong({ kind: 'drawing', path: name, name: pathTail(name), places: 1 }, others);
      return one && !given.has(one.id) ? [one] : [];
    });
    const fresh = [...new Map(found.map((d) => [d.id, d])).values()];
    if (fresh.length === 0) break;
    const files = await Promise.all(
      fresh.map(async (d) => ({ name: d.name, fileName: d.name, bytes: await getBytes(paths.drawingSource(d.id)) })),
    );
    for (const d of fresh) given.add(d.id);
    names = await worker.setReferences(files);
  }
  return given.size > 0;
}
