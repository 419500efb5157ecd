import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { foundAmong } from '@scalaria/core';
import { upload } from '../../api/client';
import { useJob } from '../../api/hooks';
import type { DrawingRow, PictureRow } from '../../api/types';
import { paths } from '../../api/paths';
import { Button } from '../../parts/button';
import type { NamedFile } from '@scalaria/core';
import type { BookSection } from '../../parts/fold-list';
import { useNotice } from '../../parts/notice';
import { TAKEN, jobAddress } from '../uploads';
import { useDrawing } from './drawing-context';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.namedFiles();

/** Pictures and reference drawings that the file only names: found in the job, or missing and asked for. */
export function useReferenceSection(): BookSection | null {
  const { drawing, pictures } = useDrawing();
  const files = useAsked(ask) ?? [];
  const { data } = useJob(files.length > 0 ? drawing.jobId : null);
  if (files.length === 0) return null;
  const others = data?.drawings.filter((d) => d.id !== drawing.id) ?? [];
  const given = pictures.given ?? [];
  const rows: Row[] = files.map((f) =>
    f.kind === 'drawing'
      ? { f, drawn: foundAmong(f, others) ?? null, picture: null }
      : { f, drawn: null, picture: foundAmong(f, given) ?? null },
  );
  const missing = rows.filter((r) => !r.drawn && !r.picture);
  // Before the job is known nothing is said to be missing.
  if (!data) return null;
  return {
    id: 'references',
    title: 'Pictures and references',
    said: missing.length > 0 ? `${missing.length} of ${rows.length} missing` : 'all found',
    open: missing.length > 0,
    body: () => <References rows={rows} missing={missing} />,
  };
}

/** A file that is named, and what of the job it is. */
interface Row {
  f: NamedFile;
  drawn: DrawingRow | null;
  picture: PictureRow | null;
}

function References({ rows, missing }: { rows: readonly Row[]; missing: readonly Row[] }) {
  const { drawing, pictures } = useDrawing();
  const notice = useNotice();
  const { mutate } = useJob(drawing.jobId);
  const picker = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState(false);
  const take = async (list: File[]): Promise<void> => {
    setSending(true);
    for (const file of list)
      try {
        await upload(jobAddress(drawing.jobId, file.name, true), file, () => {}).done;
      } catch (e) {
        notice({ text: (e as Error).message, alarm: true });
      }
    await mutate();
    pictures.refresh();
    setSending(false);
  };
  return (
    <>
      <ul className="text-sm" aria-label="Files it names">
        {rows.map(({ f, drawn, picture }) => (
          <li key={`${f.kind} ${f.path}`} className="border-t border-rule/70 py-1 first:border-t-0">
            <span className="flex items-baseline justify-between gap-3">
              <span className="min-w-0 truncate" title={f.path}>
                {f.name}
              </span>
              {drawn ? (
                <Link to={`/drawings/${drawn.id}`} className="shrink-0 text-act hover:underline">
                  found
                </Link>
              ) : picture ? (
                <a href={paths.pictureFile(picture.id)} className="shrink-0 text-act hover:underline">
                  found
                </a>
              ) : (
                <span className="shrink-0 text-alarm">missing</span>
              )}
            </span>
            <span className="block truncate text-xs text-quiet">
              {f.kind === 'drawing'
                ? 'reference drawing'
                : picture
                  ? `picture of ${picture.width} × ${picture.height} px`
                  : 'picture'}{' '}
              · placed {f.places} {f.places === 1 ? 'time' : 'times'} · {f.path}
            </span>
          </li>
        ))}
      </ul>
      {missing.length > 0 && (
        <>
          <Button className="mt-2" disabled={sending} onClick={() => picker.current?.click()}>
            {sending
              ? 'Being taken in …'
              : `Take in ${missing.length === 1 ? missing[0]!.f.name : 'the missing files'}`}
          </Button>
          <input
            ref={picker}
            type="file"
            multiple
            accept={TAKEN}
            className="sr-only"
            tabIndex={-1}
            aria-label="Missing files"
            onChange={(e) => {
              const list = [...(e.target.files ?? [])];
              e.target.value = '';
              if (list.length > 0) void take(list);
            }}
          />
        </>
      )}
    </>
  );
}
