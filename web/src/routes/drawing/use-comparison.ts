import { useEffect, useRef, useState } from 'react';
import * as Comlink from 'comlink';
import { getBytes } from '../../api/client';
import { paths } from '../../api/paths';
import type { RevisionRow } from '../../api/types';
import type { CompareView } from '../../workers/scenes';
import { useDrawing } from './drawing-context';

/**
 * The drawing held against an earlier revision, in the worker. `known` says that the list of revisions has come; without a
 * revision to compare with there is nothing to wait for.
 */
export function useComparison(
  row: RevisionRow | undefined,
  known: boolean,
  onBegin: () => void,
): { view: CompareView | null; fault: string | null } {
  const { drawing, worker, onSeen } = useDrawing();
  const { intake } = drawing;
  const [view, setView] = useState<CompareView | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const begun = useRef(onBegin);
  begun.current = onBegin;

  const [id, fileName] = [row?.number, row?.fileName];
  useEffect(() => {
    if (!worker || id === undefined || fileName === undefined) return;
    let live = true;
    setView(null);
    setFault(null);
    begun.current();
    const load = async (): Promise<void> => {
      const bytes = await getBytes(paths.revisionSource(drawing.id, id));
      const v = await worker.compareWith(Comlink.transfer(bytes, [bytes]), fileName, intake);
      if (live) setView(v);
      onSeen();
    };
    load().catch((e: unknown) => {
      if (live) setFault(e instanceof Error ? e.message : String(e));
      onSeen();
    });
    return () => {
      live = false;
    };
  }, [worker, drawing.id, id, fileName, intake, onSeen]);
  // Nothing to compare with: nothing to wait for.
  const alone = worker !== null && known && !row;
  useEffect(() => {
    if (alone) onSeen();
  }, [alone, onSeen]);
  return { view, fault };
}
