import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { sendJson } from '../api/client';
import { useJobs } from '../api/hooks';
import { paths } from '../api/paths';
import type { Job } from '../api/types';
import { Button } from '../parts/button';
import { CardMenu } from '../parts/card-menu';
import { Frame } from '../parts/frame';
import { NameDialog } from '../parts/name-dialog';
import { useNotice } from '../parts/notice';
import { Thumbnail } from '../parts/thumbnail';
import { DeletedJobs } from './deleted';
import { WorkshopHead } from './workshop-head';

const words = (n: number): string => (n === 1 ? '1 drawing' : `${n} drawings`);

export function JobsPage() {
  const { data: jobs, error, mutate } = useJobs();
  const [archived, setArchived] = useState(false);
  const [making, setMaking] = useState(false);
  const [renaming, setRenaming] = useState<Job | null>(null);
  const notice = useNotice();
  const go = useNavigate();

  const change = async (
    job: Job,
    what: Partial<Pick<Job, 'name' | 'archived' | 'deleted'>>,
    said?: string,
  ): Promise<void> => {
    try {
      await sendJson('PATCH', paths.job(job.id), what);
      await mutate();
      const back = what.deleted
        ? { deleted: false }
        : what.archived !== undefined
          ? { archived: !what.archived }
          : null;
      if (said) notice({ text: said, ...(back && { undo: () => void change({ ...job }, back) }) });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };
  const make = async (name: string): Promise<void> => {
    const job = await sendJson<Job>('POST', paths.jobs, { name });
    await mutate();
    await go(`/jobs/${job.id}`);
  };

  const shown = jobs?.filter((j) => j.archived === archived);
  const inArchive = jobs?.filter((j) => j.archived).length ?? 0;
  return (
    <Frame>
      <div className="mx-auto h-full max-w-6xl overflow-y-auto px-6 py-6">
        <WorkshopHead
          aside={
            <span className="flex items-center gap-4">
              {(inArchive > 0 || archived) && (
                <Button look="quiet" onClick={() => setArchived(!archived)}>
                  {archived ? 'Back to current jobs' : `Archive (${inArchive})`}
                </Button>
              )}
              <Button look="main" onClick={() => setMaking(true)}>
                New job
              </Button>
            </span>
          }
        />
        <h1 className={archived ? 'mb-4 text-lg font-semibold' : 'sr-only'}>{archived ? 'Archived jobs' : 'Jobs'}</h1>
        {error && <p className="text-alarm">{(error as Error).message}</p>}
        {shown?.length === 0 && !error && (
          <div className="border border-dashed border-ink/50 p-12 text-center">
            <p className="text-lg">{archived ? 'No job is archived.' : 'No job yet.'}</p>
            {!archived && (
              <p className="mt-1 text-quiet">
                A job holds the drawings of one piece of work. Make one, then drop DXF, DWG or SVG files on it.
              </p>
            )}
          </div>
        )}
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-5" aria-label="Jobs">
          {shown?.map((job) => (
            <li key={job.id} className="card relative border border-rule bg-sheet hover:border-ink">
              <Link to={`/jobs/${job.id}`} className="block">
                <div className="grid h-40 place-items-center border-b border-rule bg-sheet">
                  {job.pictureOf ? (
                    <Thumbnail src={paths.drawingPicture(job.pictureOf)} />
                  ) : (
                    <span className="text-sm text-quiet">no drawing yet</span>
                  )}
                </div>
                <div className="px-3 py-2 pr-10">
                  <p className="truncate font-medium">{job.name}</p>
                  <p className="num text-quiet">{words(job.drawings)}</p>
                </div>
              </Link>
              <CardMenu
                of={job.name}
                at="bottom-3"
                acts={[
                  ['Rename', () => setRenaming(job)],
                  [
                    job.archived ? 'Take out of archive' : 'Archive',
                    () =>
                      void change(
                        job,
                        { archived: !job.archived },
                        job.archived ? `“${job.name}” is back.` : `“${job.name}” is archived.`,
                      ),
                  ],
                  [
                    'Delete',
                    () => void change(job, { deleted: true }, `“${job.name}” is deleted. It is listed under Deleted.`),
                  ],
                ]}
              />
            </li>
          ))}
        </ul>
        <DeletedJobs onBack={() => void mutate()} />
      </div>
      <NameDialog
        open={making}
        title="New job"
        button="Make job"
        initial=""
        onClose={() => setMaking(false)}
        onName={make}
      />
      <NameDialog
        open={renaming !== null}
        title="Rename job"
        button="Rename"
        initial={renaming?.name ?? ''}
        onClose={() => setRenaming(null)}
        onName={async (name) => {
          await change(renaming!, { name });
          setRenaming(null);
        }}
      />
    </Frame>
  );
}
