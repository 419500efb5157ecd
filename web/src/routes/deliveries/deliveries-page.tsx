import { Link, useNavigate, useParams } from 'react-router';
import { sendJson } from '../../api/client';
import { useJob, useSets } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { SetRow } from '../../api/types';
import { useAction } from '../../parts/actions';
import { Button } from '../../parts/button';
import { CardMenu } from '../../parts/card-menu';
import { Empty } from '../../parts/empty';
import { Frame } from '../../parts/frame';
import { useNotice } from '../../parts/notice';
import { Progress } from '../../parts/progress';
import { JobHead } from '../job-head';
import { NotFound } from '../not-found';
import { DeliveryPages } from './pages';
import { isAlarming, setWords } from './set-words';

/** The sets of a job: what went out together, and how far it is. */
export function DeliveriesPage() {
  const { job: id } = useParams();
  const job = useJob(id!);
  const { data: sets, error, mutate } = useSets(id!);
  const go = useNavigate();
  const notice = useNotice();
  useAction('New set', '', () => void go(`/jobs/${id}/deliveries/new`), false);
  if (error || job.error) return <NotFound what="job" />;
  const remove = async (set: SetRow, deleted: boolean): Promise<void> => {
    try {
      await sendJson('PATCH', paths.set(set.id), { deleted });
      await mutate();
      if (deleted)
        notice({ text: `Set ${set.number} is deleted. Its files are kept.`, undo: () => void remove(set, false) });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };
  return (
    <Frame crumbs={<span className="truncate text-ink">{job.data?.job.name}</span>}>
      <div className="h-full overflow-y-auto">
        <div className="mx-auto max-w-6xl px-6 py-6">
          <JobHead
            job={id!}
            aside={
              <Button look="main" onClick={() => void go(`/jobs/${id}/deliveries/new`)}>
                New set
              </Button>
            }
          />
          <DeliveryPages job={id!} />
          {sets?.length === 0 && (
            <Empty title="Nothing went out as a set yet.">
              A set is drawings by one recipe: every file written, read back and proven, with a manifest that sums up
              and a report that anybody can read. Its files are listed before anything is written.
            </Empty>
          )}
          <ul aria-label="Sets" className="divide-y divide-rule border-y border-rule empty:border-0">
            {sets?.map((s) => (
              <li
                key={s.id}
                className="relative grid grid-cols-[4.5rem_minmax(0,1fr)_minmax(0,1fr)] items-baseline gap-x-4 py-3 pr-10"
              >
                <span className="num text-lg" title={`Set ${s.number} of this job`}>
                  {String(s.number).padStart(2, '0')}
                </span>
                <div className="min-w-0">
                  <Link className="font-medium hover:underline" to={`/jobs/${id}/deliveries/${s.id}`}>
                    {s.title}
                  </Link>
                  <p className="truncate text-sm text-quiet">
                    {s.receiver && `for ${s.receiver} · `}
                    <span className="num">{s.date}</span> · by {s.recipeTitle || 'a recipe'}
                  </p>
                </div>
                <div className="min-w-0">
                  <p className={isAlarming(s) ? 'text-alarm' : ''}>{setWords(s)}</p>
                  {s.state === 'working' && (
                    <div className="mt-1.5">
                      <Progress value={s.progress} label={`Writing set ${s.number}`} />
                    </div>
                  )}
                  <p className="text-sm text-quiet">
                    {[
                      s.counts.unchanged > 0 && `${s.counts.unchanged} unchanged`,
                      s.stale.length > 0 &&
                        `${s.stale.length === 1 ? 'a newer revision' : `newer revisions of ${s.stale.length} drawings`}`,
                    ]
                      .filter(Boolean)
                      .join(' · ')}
                  </p>
                </div>
                <CardMenu of={`set ${s.number}`} at="top-3" acts={[['Delete', () => void remove(s, true)]]} />
              </li>
            ))}
          </ul>
        </div>
      </div>
    </Frame>
  );
}
