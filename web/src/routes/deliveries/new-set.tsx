import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import useSWR from 'swr';
import { ApiError, makeJson, sendJson } from '../../api/client';
import { useJob, useRecipes } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { SetDetail, SetPlanView } from '../../api/types';
import { Button } from '../../parts/button';
import { Section, Select, TextField, Tick } from '../../parts/field';
import { Empty } from '../../parts/empty';
import { Frame } from '../../parts/frame';
import { Panes } from '../../parts/panes';
import { useNotice } from '../../parts/notice';
import { Working } from '../../parts/progress';
import { JobHead } from '../job-head';
import { NotFound } from '../not-found';
import { PlanTold } from './plan-told';
import { PlannedTable } from './planned-table';
import { today } from './set-words';

const NOT_ASKED = 'left out by hand';

/** A set before it is written: which drawings, by which recipe, and every file that would come of it. */
export function NewSet() {
  const { job: id } = useParams();
  const [query] = useSearchParams();
  const job = useJob(id!);
  const recipes = useRecipes();
  const go = useNavigate();
  const notice = useNotice();
  const usable = recipes.data?.filter((r) => r.recipe?.target?.format) ?? [];
  const [recipeId, setRecipeId] = useState(query.get('recipe') ?? '');
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [title, setTitle] = useState<string | null>(null);
  const [date, setDate] = useState(today);
  const [sending, setSending] = useState(false);
  const chosen = usable.find((r) => r.id === recipeId) ?? usable[0];
  const drawings = useMemo(
    () => (job.data?.drawings ?? []).filter((d) => !off.has(d.id)).map((d) => d.id),
    [job.data, off],
  );
  useEffect(() => setWithout(new Set()), [chosen?.id]);
  const asked = chosen && drawings.length > 0 ? { recipeId: chosen.id, drawings, date } : null;
  const plan = useSWR<SetPlanView, ApiError>(
    asked && [paths.setPlan(id!), JSON.stringify(asked), chosen!.version],
    ([path]: [string]) => sendJson<SetPlanView>('POST', path, asked!),
    {
      refreshInterval: (latest) => (latest && latest.looking > 0 ? 400 : 0),
      keepPreviousData: true,
      shouldRetryOnError: false,
    },
  );
  if (job.error) return <NotFound what="job" />;
  const files = plan.data?.files ?? [];
  const written = files.filter((f) => f.stop === null && !without.has(f.key));
  const write = async (): Promise<void> => {
    setSending(true);
    try {
      const set = await makeJson<SetDetail>(paths.sets(id!), {
        ...asked!,
        ...(title?.trim() && { title: title.trim() }),
        without: Object.fromEntries([...without].map((k) => [k, NOT_ASKED])),
      });
      await go(`/jobs/${id}/deliveries/${set.id}`);
    } catch (e) {
      const x = e as ApiError;
      notice({ text: `${x.message} ${x.remedy ?? ''}`, alarm: true });
      setSending(false);
    }
  };
  const nameOf = new Map(job.data?.drawings.map((d) => [d.id, d.name]));
  const looking = plan.data?.looking ?? 0;
  return (
    <Frame crumbs={<span className="truncate text-ink">{job.data?.job.name}</span>}>
      <Panes
        book={
          <>
            {chosen && (
              <Section
                title="Recipe"
                aside={
                  <Link className="text-sm text-act hover:underline" to={`/recipes?recipe=${chosen.id}`}>
                    Look into it
                  </Link>
                }
              >
                <Select
                  label="Recipe"
                  hideLabel
                  value={chosen.id}
                  options={usable.map((r) => [r.id, r.title] as const)}
                  onChange={setRecipeId}
                />
                {chosen.recipe?.note && <p className="mt-2 text-sm text-quiet">{chosen.recipe.note}</p>}
                {chosen.under.followed.length + chosen.under.kept.length > 0 && (
                  <p className="mt-2 text-sm">What it is based on has changed; see it before you write.</p>
                )}
              </Section>
            )}
            {usable.length > 0 && (
              <Section
                title="Drawings"
                aside={
                  <Button
                    look="quiet"
                    className="text-sm"
                    onClick={() => setOff(off.size === 0 ? new Set(job.data?.drawings.map((d) => d.id)) : new Set())}
                  >
                    {off.size === 0 ? 'None' : 'All'}
                  </Button>
                }
              >
                <ul className="max-h-56 overflow-y-auto">
                  {job.data?.drawings.map((d) => (
                    <li key={d.id}>
                      <Tick
                        className="flex min-w-0 items-baseline gap-1.5"
                        checked={!off.has(d.id)}
                        onChange={(on) =>
                          setOff((old) => {
                            const next = new Set(old);
                            if (on) next.delete(d.id);
                            else next.add(d.id);
                            return next;
                          })
                        }
                      >
                        <span className="truncate">{d.name}</span>
                        <span className="num ml-auto shrink-0 text-xs text-quiet">rev. {d.revision}</span>
                      </Tick>
                    </li>
                  ))}
                </ul>
              </Section>
            )}
            {asked && (
              <Section title="Set">
                <div className="space-y-2">
                  <TextField
                    label="Title"
                    value={title ?? chosen?.title ?? ''}
                    onChange={setTitle}
                    width="w-full"
                    maxLength={120}
                    live
                  />
                  <label className="block">
                    <span className="block text-xs text-quiet">Date, for names and for the archive</span>
                    <input
                      type="date"
                      className="num border border-ink/60 bg-sheet px-2 py-1"
                      value={date}
                      onChange={(e) => e.target.value && setDate(e.target.value)}
                    />
                  </label>
                </div>
                {looking > 0 && (
                  <div className="mt-3" role="status">
                    <Working label={`Looking at ${looking === 1 ? '1 drawing' : `${looking} drawings`}`} />
                  </div>
                )}
                <Button
                  look="main"
                  className="mt-3"
                  disabled={sending || looking > 0 || written.length === 0 || plan.error !== undefined}
                  onClick={() => void write()}
                >
                  {written.length === 1 ? 'Write 1 file' : `Write ${written.length} files`}
                </Button>
              </Section>
            )}
            {plan.data && <PlanTold plan={plan.data} />}
          </>
        }
      >
        <JobHead job={id!} />
        <h2 className="mb-2 text-lg font-semibold">New set</h2>
        {usable.length === 0 && recipes.data && (
          <Empty title="A set needs a recipe that says what files are written as.">
            <Link className="text-act underline" to="/recipes">
              Make one in the workshop
            </Link>
            , or from what was done on a drawing, at its station Deliver.
          </Empty>
        )}
        {plan.error && (
          <p className="mb-2 text-alarm" role="alert">
            {plan.error.message} {plan.error.remedy}
          </p>
        )}
        {asked && plan.data && (
          <PlannedTable
            plan={plan.data}
            nameOf={nameOf}
            without={without}
            onWithout={(key, on) =>
              setWithout((old) => {
                const next = new Set(old);
                if (on) next.delete(key);
                else next.add(key);
                return next;
              })
            }
          />
        )}
        {asked && !plan.data && !plan.error && <Working label="Listing the files" />}
        {!asked && usable.length > 0 && job.data && <p className="text-quiet">Tick the drawings, on the right.</p>}
      </Panes>
    </Frame>
  );
}
