import { useCallback, useEffect, useMemo, useState } from 'react';
import type { Remote } from 'comlink';
import { foundAmong, gatheredBy, pathTail, takesReferencesIn } from '@scalaria/core';
import { getBytes, getJson } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { DrawingDetail, DrawingRow } from '../../api/types';
import { useNotice } from '../../parts/notice';
import type { DrawingWorker } from '../../workers/drawing.worker';

export interface ReferenceState {
  /** Grows whenever the worker has other reference drawings than before. */
  version: number;
  /** Asks for them: a step is tried that takes them in, or gathers these drawings. */
  need: (gathered?: readonly string[]) => void;
}

/** The drawings of the job that this one refers to, given to the worker once a step of the plan, or one that is tried, takes them in. */
export function useJobReferences(
  drawing: DrawingDetail | undefined,
  worker: Remote<DrawingWorker> | null,
): ReferenceState {
  const [asked, setAsked] = useState(false);
  const [gathered, setGathered] = useState<readonly string[]>([]);
  const [version, setVersion] = useState(0);
  const notice = useNotice();
  const isWanted = drawing !== undefined && (asked || takesReferencesIn(drawing.steps));
  const ids = [...new Set([...gathered, ...gatheredBy(drawing?.steps ?? [])])].sort();
  const { data } = useJob(drawing && (isWanted || ids.length > 0) ? drawing.jobId : null);
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
  const wanted = JSON.stringify(
    others?.filter((d) => ids.includes(d.id)).map((d) => [d.id, d.name, d.revision]) ?? null,
  );
  useEffect(() => {
    const list = (JSON.parse(wanted) as [string, string, number][] | null) ?? [];
    if (!worker || list.length === 0) return;
    let live = true;
    Promise.all(
      list.map(async ([id]) => {
        const [detail, bytes] = await Promise.all([
          getJson<DrawingDetail>(paths.drawing(id)),
          getBytes(paths.drawingSource(id)),
        ]);
        const { fileName, intake, steps } = detail;
        return { id, fileName, bytes, intake, steps: steps.filter((s) => gatheredBy([s]).length === 0) };
      }),
    )
      .then((given) => worker.setGathered(given))
      .then(
        () => live && setVersion((v) => v + 1),
        (e: unknown) =>
          live && notice({ text: `The drawings could not be gathered: ${(e as Error).message}`, alarm: true }),
      );
    return () => {
      live = false;
    };
  }, [worker, wanted, notice]);
  const need = useCallback((more?: readonly string[]) => {
    if (more) setGathered((old) => (more.every((id) => old.includes(id)) ? old : [...new Set([...old, ...more])]));
    else setAsked(true);
  }, []);
  return useMemo(() => ({ version, need }), [version, need]);
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
