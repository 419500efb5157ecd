import { useCallback, useRef, useState } from 'react';
import { FORMAT_CATALOGUE } from '@scalaria/core';
import { ApiError, upload } from '../api/client';
import { paths } from '../api/paths';
import type { DrawingRow, PictureRow } from '../api/types';

export interface Upload {
  key: number;
  name: string;
  state: 'sending' | 'reading' | 'failed';
  progress: number;
  error: ApiError | null;
}

const AT_ONCE = 3;

/** Where a file of a job goes: pictures stand beside the drawings that name them. */
export const jobAddress = (jobId: string, fileName: string): string =>
  /\.(png|jpe?g)$/i.test(fileName) ? paths.jobPictures(jobId, fileName) : paths.jobDrawings(jobId, fileName);
/** Drawings that can be taken in, for a file dialog; an SVG may be packed. */
export const DRAWINGS_TAKEN = [...Object.values(FORMAT_CATALOGUE).map((f) => `.${f.extension}`), '.svgz'].join(',');
/** What a job takes: drawings and the pictures they name. */
export const TAKEN = `${DRAWINGS_TAKEN},.png,.jpg,.jpeg`;

/** Uploads to a job: a few at a time, each on its own, so that a broken file does not hold up the others. */
export function useUploads(
  jobId: string,
  onDone: () => void,
): { list: Upload[]; add: (files: File[]) => void; remove: (key: number) => void } {
  const [list, setList] = useState<Upload[]>([]);
  const cancels = useRef(new Map<number, () => void>());
  const waiting = useRef<(() => Promise<void>)[]>([]);
  const running = useRef(0);
  const next = useRef(1);

  const patch = useCallback(
    (key: number, what: Partial<Upload>) => setList((l) => l.map((u) => (u.key === key ? { ...u, ...what } : u))),
    [],
  );
  const remove = useCallback((key: number) => {
    cancels.current.get(key)?.();
    cancels.current.set(key, () => {});
    setList((l) => l.filter((u) => u.key !== key));
  }, []);

  const pump = useCallback(() => {
    while (running.current < AT_ONCE && waiting.current.length > 0) {
      running.current++;
      void waiting.current.shift()!().finally(() => {
        running.current--;
        pump();
      });
    }
  }, []);

  const add = useCallback(
    (files: File[]) => {
      for (const file of files) {
        const key = next.current++;
        setList((l) => [...l, { key, name: file.name, state: 'sending', progress: 0, error: null }]);
        waiting.current.push(async () => {
          if (cancels.current.has(key)) return;
          const sent = upload<DrawingRow | PictureRow>(jobAddress(jobId, file.name), file, (progress) =>
            patch(key, progress < 1 ? { progress } : { state: 'reading' }),
          );
          cancels.current.set(key, sent.cancel);
          try {
            await sent.done;
            setList((l) => l.filter((u) => u.key !== key));
            onDone();
          } catch (e) {
            patch(key, { state: 'failed', error: e instanceof ApiError ? e : new ApiError(0, String(e)) });
          }
        });
      }
      pump();
    },
    [jobId, onDone, patch, pump],
  );
  return { list, add, remove };
}
