import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { foundAmong } from '@scalaria/core';
import { upload } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { useNotice } from '../../parts/notice';
import { TAKEN, jobAddress } from '../uploads';
import { useDrawing } from './drawing-context';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.namedFiles();

/** Pictures and reference drawings that the file only names: found in the job, or missing and asked for. */
export function ReferenceSection() {
  const { drawing, pictures } = useDrawing();
  const notice = useNotice();
  const files = useAsked(ask) ?? [];
  const { data, mutate } = useJob(files.length > 0 ? drawing.jobId : null);
  const picker = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState(false);
  if (files.length === 0) return null;
  const others = data?.drawings.filter((d) => d.id !== drawing.id) ?? [];
  const given = pictures.given ?? [];
  const rows = files.map((f) =>
    f.kind === 'drawing'
      ? { f, drawn: foundAmong(f, others), picture: null }
      : { f, drawn: null, picture: foundAmong(f, given) },
  );
  const missing = rows.filter((r) => !r.drawn && !r.picture);
  const take = async (list: File[]): Promise<void> => {
    setSending(true);
    for (const file of list)
      try {
        await upload(jobAddress(drawing.jobId, file.name), file, () => {}).done;
      } catch (e) {
        notice({ text: (e as Error).message, alarm: true });
      }
    await mutate();
    pictures.refresh();
    setSending(false);
  };
  return (
    <Section
      title="Pictures and references"
      aside={
        <span className={`text-sm ${missing.length > 0 ? 'text-alarm' : 'text-quiet'}`}>
          {missing.length > 0 ? `${missing.length} missing` : 'all in the job'}
        </span>
      }
    >
      <ul className="text-sm" aria-label="Files it names">
        {rows.map(({ f, drawn, picture }) => (
          <li key={`${f.kind} ${f.path}`} className="border-t border-rule/70 py-1 first:border-t-0">
            <span className="flex items-baseline justify-between gap-3">
              <span className="min-w-0 truncate" title={f.path}>
                {f.name}
              </span>
              {drawn ? (
                <Link to={`/drawings/${drawn.id}`} className="shrink-0 text-act hover:underline">
                  in the job
                </Link>
              ) : picture ? (
                <a href={paths.pictureFile(picture.id)} className="shrink-0 text-act hover:underline">
                  in the job
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
    </Section>
  );
}
