import { useEffect, useState } from 'react';
import * as Comlink from 'comlink';
import type { ReadAs } from '@scalaria/core';
import { getBytes } from '../api/client';
import { paths } from '../api/paths';
import type { DrawingWorker } from './drawing.worker';
import { Stops } from './stops';

export interface OpenedWorker {
  worker: Comlink.Remote<DrawingWorker> | null;
  stops: Stops;
  /** 0 to 1 while reading. */
  progress: number;
  error: string | null;
}

/** A worker that holds the drawing's source; ended with the component, and with it whatever it was doing. */
export function useDrawingWorker(
  drawingId: string,
  fileName: string | undefined,
  revision: number | undefined,
  as: ReadAs,
): OpenedWorker {
  const { encoding, page, letters, pens, decimal, third } = as;
  const [stops] = useState(() => new Stops());
  const [state, setState] = useState<Omit<OpenedWorker, 'stops'>>({ worker: null, progress: 0, error: null });
  useEffect(() => {
    if (fileName === undefined) return;
    let live = true;
    const thread = new Worker(new URL('./drawing.worker.ts', import.meta.url), { type: 'module' });
    const worker = Comlink.wrap<DrawingWorker>(thread);
    setState({ worker: null, progress: 0, error: null });
    const open = async (): Promise<void> => {
      if (stops.memory) await worker.shareStops(stops.memory);
      const bytes = await getBytes(paths.drawingSource(drawingId));
      if (!live) return;
      const onProgress = Comlink.proxy((done: number) => {
        if (live) setState((s) => ({ ...s, progress: done }));
      });
      await worker.open(
        Comlink.transfer(bytes, [bytes]),
        fileName,
        { encoding, page, letters, pens, decimal, third },
        onProgress,
      );
      if (live) setState({ worker, progress: 1, error: null });
    };
    open().catch((e: unknown) => {
      if (live) setState({ worker: null, progress: 0, error: e instanceof Error ? e.message : String(e) });
    });
    return () => {
      live = false;
      thread.terminate();
    };
    // Another revision is another file, and another encoding or page is read anew.
  }, [drawingId, fileName, revision, encoding, page, letters, pens, decimal, third, stops]);
  return { ...state, stops };
}
