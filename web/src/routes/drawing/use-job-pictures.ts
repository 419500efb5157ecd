import { useEffect, useState } from 'react';
import type { Remote } from 'comlink';
import type { NamedFile } from '@scalaria/core';
import { foundAmong } from '@scalaria/core';
import { getBytes } from '../../api/client';
import { usePicturesOf } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { PictureRow } from '../../api/types';
import { useNotice } from '../../parts/notice';
import type { DrawingWorker } from '../../workers/drawing.worker';

export interface PictureState {
  given: PictureRow[] | undefined;
  /** Grows whenever the worker has other pictures than before. */
  version: number;
  refresh: () => void;
}

/** The pictures of a job that the drawing names, and the one under it, kept in step with the worker. `worker`: once the drawing was read. */
export function useJobPictures(
  jobId: string | undefined,
  worker: Remote<DrawingWorker> | null,
  under: string | undefined,
): PictureState {
  const { data, mutate } = usePicturesOf(jobId ?? null);
  const [version, setVersion] = useState(0);
  const notice = useNotice();
  const given = data?.pictures;
  useEffect(() => {
    if (!worker || !given || (version === 0 && given.length === 0)) return;
    let live = true;
    const load = async (): Promise<void> => {
      const asked = (await worker.namedFiles()).filter((f: NamedFile) => f.kind === 'picture');
      if (under !== undefined) asked.push({ kind: 'picture', path: under, name: under, places: 1 });
      const found = new Set(asked.map((f) => foundAmong(f, given)).filter((p) => p !== null));
      if (version === 0 && found.size === 0) return;
      const files = await Promise.all(
        [...found].map(async (p) => ({
          name: p.name,
          media: p.mediaType,
          bytes: new Uint8Array(await getBytes(paths.pictureFile(p.id))),
        })),
      );
      if (!live) return;
      await worker.setPictures(files);
      setVersion((v) => v + 1);
    };
    load().catch((e: unknown) => {
      if (live) notice({ text: `The pictures of the job could not be loaded: ${(e as Error).message}`, alarm: true });
    });
    return () => {
      live = false;
    };
    // The version only grows from here.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, given, under]);
  return { given, version, refresh: () => void mutate() };
}
