import { useCallback, useRef, useState } from 'react';
import { FORMAT_CATALOGUE } from '@scalaria/core';
import { ApiError, upload } from '../api/client';
import { paths } from '../api/paths';
import type { DrawingRow, PictureRow } from '../api/types';

export interface Upload {
  key: number;
  name: string;
  /** `named`: a drawing has this name already; `same`: one is the very same file. Both wait for a word. */
  state: 'sending' | 'reading' | 'failed' | 'named' | 'same';
  progress: number;
  error: ApiError | null;
  /** The drawing that it may belong to, or that it is. */
  of?: { id: string; name: string };
}

/** What is to become of a file whose name or bytes are in the job already. */
export type Answer = 'revision' | 'own';

/** How a file is to be read, and its unit, where that was said before it was sent. */
export type Given = Readonly<Record<string, string>>;

const AT_ONCE = 3;

const isPicture = (fileName: string): boolean => /\.(png|jpe?g)$/i.test(fileName);

/**
 * Where a file of a job goes: pictures stand beside the drawings that name them. `again`: also where the job holds the very
 * same bytes under another name.
 */
export const jobAddress = (jobId: string, fileName: string, again = false, given: Given = {}): string =>
  isPicture(fileName) ? paths.jobPictures(jobId, fileName) : paths.jobDrawings(jobId, fileName, again, given);
/** Text that may hold coordinates: what it says is looked at before it is sent. */
export const isCoordinateText = (fileName: string): boolean => /\.(txt|csv|tsv|xyz?|asc|dat)$/i.test(fileName);
/** Drawings that can be taken in, for a file dialog; an SVG may be packed. */
export const DRAWINGS_TAKEN = [
  ...Object.values(FORMAT_CATALOGUE).map((f) => `.${f.extension}`),
  '.svgz',
  '.csv',
  '.tsv',
  '.xy',
  '.xyz',
].join(',');
/** What a job takes: drawings and the pictures they name. */
export const TAKEN = `${DRAWINGS_TAKEN},.png,.jpg,.jpeg`;

/** Uploads to a job: a few at a time, each on its own, so that a broken file does not hold up the others. */
export function useUploads(
  jobId: string,
  onDone: () => void,
  /** The drawings that the job holds, for files of the same name. */
  known: readonly Pick<DrawingRow, 'id' | 'name'>[] = [],
): {
  list: Upload[];
  add: (files: File[], given?: Given) => void;
  remove: (key: number) => void;
  answer: (key: number, answer: Answer) => void;
} {
  const [list, setList] = useState<Upload[]>([]);
  const cancels = useRef(new Map<number, () => void>());
  const files = useRef(new Map<number, File>());
  const said = useRef(new Map<number, Given>());
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
    files.current.delete(key);
    said.current.delete(key);
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

  /** Sends a file to an address, once there is room. */
  const send = useCallback(
    (key: number, address: string) => {
      const file = files.current.get(key);
      if (!file) return;
      patch(key, { state: 'sending', progress: 0, error: null });
      waiting.current.push(async () => {
        if (cancels.current.has(key)) return;
        const sent = upload<DrawingRow | PictureRow>(address, file, (progress) =>
          patch(key, progress < 1 ? { progress } : { state: 'reading' }),
        );
        cancels.current.set(key, sent.cancel);
        try {
          await sent.done;
          files.current.delete(key);
          setList((l) => l.filter((u) => u.key !== key));
          onDone();
        } catch (e) {
          const error = e instanceof ApiError ? e : new ApiError(0, String(e));
          cancels.current.delete(key);
          patch(key, {
            error,
            state: error.same ? 'same' : 'failed',
            ...(error.same && { of: { id: error.same, name: file.name } }),
          });
        }
      });
      pump();
    },
    [onDone, patch, pump],
  );

  const add = useCallback(
    (added: File[], given: Given = {}) => {
      for (const file of added) {
        const key = next.current++;
        files.current.set(key, file);
        said.current.set(key, given);
        const twin = isPicture(file.name)
          ? undefined
          : known.find((d) => d.name.toLowerCase() === file.name.toLowerCase());
        const state = twin ? 'named' : 'sending';
        setList((l) => [...l, { key, name: file.name, state, progress: 0, error: null, ...(twin && { of: twin }) }]);
        if (!twin) send(key, jobAddress(jobId, file.name, false, given));
      }
    },
    [jobId, known, send],
  );
  const answer = useCallback(
    (key: number, what: Answer) => {
      const u = list.find((one) => one.key === key);
      if (!u) return;
      send(
        key,
        what === 'revision' && u.of
          ? paths.revisions(u.of.id, u.name)
          : paths.jobDrawings(jobId, u.name, u.state === 'same', said.current.get(key)),
      );
    },
    [list, send, jobId],
  );
  return { list, add, remove, answer };
}
