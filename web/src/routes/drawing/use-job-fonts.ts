import { useEffect, useState } from 'react';
import type { Remote } from 'comlink';
import { getBytes } from '../../api/client';
import { useFontsOf } from '../../api/hooks';
import { paths } from '../../api/paths';
import { useNotice } from '../../parts/notice';
import type { JobFonts } from '../../api/types';
import type { DrawingWorker } from '../../workers/drawing.worker';

export interface FontState {
  given: JobFonts | undefined;
  /** Grows whenever the worker has other fonts than before: what shows text has to be made anew. */
  version: number;
  refresh: (next?: JobFonts) => void;
}

const known = new Map<string, Promise<ArrayBuffer>>();

/** The fonts and the chart of a job, kept in step with the worker. */
export function useJobFonts(jobId: string | undefined, worker: Remote<DrawingWorker> | null): FontState {
  const { data: given, mutate } = useFontsOf(jobId ?? null);
  const [version, setVersion] = useState(0);
  const notice = useNotice();
  useEffect(() => {
    if (!worker || !given) return;
    // Nothing of its own: the fonts that ship are there already.
    if (version === 0 && given.fonts.length === 0 && Object.keys(given.chart).length === 0) return;
    let live = true;
    const load = async (): Promise<void> => {
      const files = await Promise.all(
        given.fonts.map(async (f) => {
          let bytes = known.get(f.blob);
          if (!bytes) known.set(f.blob, (bytes = getBytes(paths.fontFile(f.id))));
          return { family: f.family, bytes: new Uint8Array(await bytes) };
        }),
      );
      await worker.setFonts(files, given.chart);
      if (live) setVersion((v) => v + 1);
    };
    load().catch((e: unknown) => {
      // What could not be fetched is asked for again next time.
      known.clear();
      if (live) notice({ text: `The fonts of the job could not be loaded: ${(e as Error).message}`, alarm: true });
    });
    return () => {
      live = false;
    };
    // The version only grows from here.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, given]);
  return {
    given,
    version,
    refresh: (next) => void (next ? mutate(next, { revalidate: false }) : mutate()),
  };
}
