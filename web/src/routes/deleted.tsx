import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { sendJson } from '../api/client';
import { useBin, useDeletedJobs } from '../api/hooks';
import { paths } from '../api/paths';
import { Button } from '../parts/button';
import { LongList } from '../parts/long-list';
import { useNotice } from '../parts/notice';

interface Gone {
  id: string;
  name: string;
  /** What it is, and when it was deleted. */
  said: string;
  /** Where it is put back. */
  path: string;
}

const when = (iso: string): string =>
  new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** What was deleted of a job: nothing of it is gone, and each is put back where it was. */
export function DeletedInJob({ job, onBack }: { job: string; onBack: () => void }) {
  const { data, mutate } = useBin(job);
  const rows: Gone[] = data
    ? [
        ...data.drawings.map((d) => ({ ...d, said: `drawing, ${when(d.deletedAt)}`, path: paths.drawing(d.id) })),
        ...data.deliveries.map((d) => ({
          ...d,
          said: `delivery of ${d.drawing}, ${when(d.deletedAt)}`,
          path: paths.delivery(d.id),
        })),
        ...data.pictures.map((p) => ({ ...p, said: `picture, ${when(p.deletedAt)}`, path: paths.picture(p.id) })),
        ...data.fonts.map((f) => ({ ...f, said: `font, ${when(f.deletedAt)}`, path: paths.font(f.id) })),
      ]
    : [];
  return <DeletedList rows={rows} onBack={() => void mutate().then(onBack)} />;
}

/** The jobs that were deleted. */
export function DeletedJobs({ onBack }: { onBack: () => void }) {
  const { data, mutate } = useDeletedJobs();
  const rows = (data ?? []).map((j) => ({ id: j.id, name: j.name, said: 'job', path: paths.job(j.id) }));
  return <DeletedList rows={rows} onBack={() => void mutate().then(onBack)} />;
}

function DeletedList({ rows, onBack }: { rows: readonly Gone[]; onBack: () => void }) {
  const [open, setOpen] = useState(false);
  const notice = useNotice();
  const { mutate } = useSWRConfig();
  if (rows.length === 0) return null;
  const putBack = (g: Gone): void =>
    void sendJson('PATCH', g.path, { deleted: false }).then(
      () => {
        notice({ text: `“${g.name}” is put back.` });
        // Lists of other pages may hold what was before.
        void mutate(() => true);
        onBack();
      },
      (e: unknown) => notice({ text: (e as Error).message, alarm: true }),
    );
  return (
    <section aria-label="Deleted" className="mt-10 border-t border-rule pt-3">
      <h2>
        <button
          type="button"
          aria-expanded={open}
          className="py-1 font-semibold hover:underline"
          onClick={() => setOpen(!open)}
        >
          <span aria-hidden className={`mr-2 inline-block text-[11px] ${open ? 'rotate-90' : ''}`}>
            ▶
          </span>
          Deleted <span className="num font-normal text-quiet">{rows.length}</span>
        </button>
      </h2>
      {open && (
        <LongList label="Deleted" rows={rows} keyOf={(g) => g.id} height={34} rowClass="border-t border-rule py-1">
          {(g) => (
            <div className="flex items-baseline gap-4">
              <span className="min-w-0 flex-1 truncate">{g.name}</span>
              <span className="text-sm text-quiet">{g.said}</span>
              <Button look="quiet" onClick={() => putBack(g)} aria-label={`Put back ${g.name}`}>
                Put back
              </Button>
            </div>
          )}
        </LongList>
      )}
    </section>
  );
}
