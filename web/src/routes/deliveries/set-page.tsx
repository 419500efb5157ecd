import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { ApiError, makeJson, sendJson } from '../../api/client';
import { useJob, useSet } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { SetDetail } from '../../api/types';
import { useAction } from '../../parts/actions';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { Frame } from '../../parts/frame';
import { Panes } from '../../parts/panes';
import { ListBar } from '../../parts/list-tools';
import { LongTable } from '../../parts/long-table';
import { useNotice } from '../../parts/notice';
import { fileSize } from '../../parts/numbers';
import { Progress } from '../../parts/progress';
import { JobHead } from '../job-head';
import { NotFound } from '../not-found';
import { FolderDialog } from './folder-dialog';
import { byReason, differsWords, fileWords, isAlarming, setWords, today } from './set-words';

type Shown = 'all' | 'faults' | 'changed';
/** Drawings are asked for this often, twice a second, until all are looked at. */
const MOST_ASKED = 600;
const SHOWN: Readonly<Record<Shown, string>> = {
  all: 'all files',
  faults: 'those that are not proven',
  changed: 'those that differ from the set before',
};

/** A set: how far it is, what each file came to, and what goes out. */
export function SetPage() {
  const { job: jobId, set: id } = useParams();
  const job = useJob(jobId!);
  const { data: set, error, mutate } = useSet(id!);
  const [sought, setSought] = useState('');
  const [shown, setShown] = useState<Shown>('all');
  const [busy, setBusy] = useState(false);
  const [saving, setSaving] = useState(false);
  const go = useNavigate();
  const notice = useNotice();
  const tell = (e: unknown): void => {
    const x = e as ApiError;
    notice({ text: `${x.message} ${x.remedy ?? ''}`, alarm: true });
  };
  const steer = async (going: 'stop' | 'on' | 'again'): Promise<void> => {
    try {
      await mutate(sendJson<SetDetail>('PATCH', paths.set(id!), { going }), { revalidate: false });
    } catch (e) {
      tell(e);
    }
  };
  const again = async (): Promise<void> => {
    setBusy(true);
    try {
      // Its drawings are looked at first; that may take a while.
      for (let i = 0; ; i++)
        try {
          const made = await makeJson<SetDetail>(paths.setAgain(id!), { date: today() });
          return void (await go(`/jobs/${jobId}/deliveries/${made.id}`));
        } catch (e) {
          if (!(e as ApiError).later || i > MOST_ASKED) throw e;
          await new Promise((resolve) => setTimeout(resolve, 500));
        }
    } catch (e) {
      tell(e);
    } finally {
      setBusy(false);
    }
  };
  useAction(set?.state === 'working' ? 'Stop the set' : '', '', () => void steer('stop'), false);
  if (error || job.error) return <NotFound what="set" />;
  const words = sought.trim().toLowerCase();
  const files = (set?.files ?? []).filter((f) => {
    if (shown === 'faults' && !fileWords(f).alarm) return false;
    if (shown === 'changed' && (f.differs?.same ?? (f.differs === null && !f.isNew))) return false;
    return `${f.name} ${f.why} ${f.error ?? ''}`.toLowerCase().includes(words);
  });
  const nameOf = new Map(set?.sources.map((s) => [s.id, s.name]));
  const ended = set?.state === 'done';
  return (
    <Frame
      crumbs={
        <>
          <Link className="truncate hover:underline" to={`/jobs/${jobId}/deliveries`}>
            {job.data?.job.name}
          </Link>
          {set && <span className="num text-ink">Set {String(set.number).padStart(2, '0')}</span>}
        </>
      }
    >
      <Panes
        book={
          <>
            {set && (
              <>
                <Section title="Goes out as">
                  <div className="flex flex-col items-start gap-2">
                    {set.state === 'working' ? (
                      <p className="text-sm text-quiet">
                        The archive can be had once all files are written, or the set is stopped.
                      </p>
                    ) : (
                      <a
                        className="border border-ink bg-ink px-3 py-1 text-paper hover:bg-act"
                        href={paths.setArchive(set.id)}
                        download
                      >
                        Save {set.folder}.zip
                      </a>
                    )}
                    {'showDirectoryPicker' in window && ended && (
                      <Button onClick={() => setSaving(true)}>Save into a folder</Button>
                    )}
                    <a
                      className="text-act hover:underline"
                      href={paths.setReport(set.id)}
                      target="_blank"
                      rel="noreferrer"
                    >
                      Read the proof report
                    </a>
                    <span className="text-sm">
                      Manifest:{' '}
                      <a className="text-act underline" href={paths.setManifest(set.id, 'csv')} download>
                        table
                      </a>{' '}
                      ·{' '}
                      <a className="text-act underline" href={paths.setManifest(set.id, 'json')} download>
                        JSON
                      </a>
                    </span>
                  </div>
                  {set.sums.length > 0 && (
                    <ul className="mt-3 text-sm text-alarm" role="alert">
                      {set.sums.map((s) => (
                        <li key={s}>{s}</li>
                      ))}
                    </ul>
                  )}
                  {ended && set.sums.length === 0 && (
                    <p className="mt-3 text-sm text-quiet">All sums of the manifest add up.</p>
                  )}
                </Section>
                <Section title="Made from">
                  <p>
                    {set.recipe.title ?? 'A recipe'}
                    {set.receiver && <span className="text-quiet"> for {set.receiver}</span>}
                    <span className="num text-quiet"> · {set.date}</span>
                  </p>
                  <ul className="mt-1 text-sm">
                    {set.sources.map((s) => (
                      <li key={s.id} className="flex justify-between gap-2">
                        <Link className="truncate hover:underline" to={`/drawings/${s.id}`}>
                          {s.name}
                        </Link>
                        <span className={`num shrink-0 ${set.stale.includes(s.id) ? 'text-alarm' : 'text-quiet'}`}>
                          {s.revision === null ? 'no file' : `rev. ${s.revision}`}
                          {set.stale.includes(s.id) && ', newer here'}
                        </span>
                      </li>
                    ))}
                  </ul>
                  {set.previousId && (
                    <p className="mt-2 text-sm">
                      <Link className="text-act hover:underline" to={`/jobs/${jobId}/deliveries/${set.previousId}`}>
                        The set before
                      </Link>
                    </p>
                  )}
                  {set.stale.length > 0 && (
                    <p className="mt-2 text-sm">
                      {set.stale.length === 1 ? 'A drawing has' : `${set.stale.length} drawings have`} a newer revision.
                    </p>
                  )}
                  <div className="mt-2 flex flex-wrap gap-2">
                    <Button
                      look={set.stale.length > 0 ? 'main' : 'plain'}
                      disabled={busy || !ended}
                      onClick={() => void again()}
                    >
                      {busy ? 'Looking at the drawings …' : 'Do the set again'}
                    </Button>
                    {set.counts.failed > 0 && set.state === 'done' && (
                      <Button onClick={() => void steer('again')}>Try {set.counts.failed} again</Button>
                    )}
                  </div>
                </Section>
                <Told
                  title="Could not be begun"
                  list={set.stopped.map((x) => ({ ...x, what: x.piece ?? '' }))}
                  nameOf={nameOf}
                  alarm
                />
                <Told title="Left out" list={set.leftOut} nameOf={nameOf} />
                <Told title="Let through" list={set.waived} nameOf={nameOf} />
              </>
            )}
          </>
        }
      >
        <JobHead job={jobId!} />
        {set && (
          <>
            <h2 className="text-lg font-semibold">
              {set.title} <span className="num font-normal text-quiet">{set.folder}</span>
            </h2>
            <p className={isAlarming(set) ? 'text-alarm' : ''} role="status" data-testid="set-state">
              {setWords(set)}
            </p>
            {set.state !== 'done' && (
              <div className="my-2 flex items-center gap-3">
                <Progress value={set.progress} label={`Writing set ${set.number}`} />
                {set.state === 'working' ? (
                  <Button onClick={() => void steer('stop')}>Stop</Button>
                ) : (
                  <Button look="main" onClick={() => void steer('on')}>
                    Go on
                  </Button>
                )}
              </div>
            )}
            <ListBar
              of="files"
              sought={sought}
              onSeek={setSought}
              shown={shown}
              options={Object.entries(SHOWN) as [Shown, string][]}
              onShow={setShown}
            />
            <LongTable
              label="Files of the set"
              columns="grid-cols-[minmax(180px,1.3fr)_minmax(140px,1fr)_minmax(150px,1fr)_72px]"
              heads={['File', 'From', 'State', 'Size']}
              rows={files}
              keyOf={(f) => f.id}
              cells={(f) => {
                const { words: said, alarm } = fileWords(f);
                return [
                  <span key="n" className="num">
                    {f.state === 'done' ? (
                      <a className="hover:underline" href={paths.deliveryFile(f.id)} download={f.name}>
                        {f.name}
                      </a>
                    ) : (
                      f.name
                    )}
                    {differsWords(f) !== '' && (
                      <span className="block font-sans text-xs text-quiet">{differsWords(f)}</span>
                    )}
                  </span>,
                  <span key="f">
                    {nameOf.get(f.drawingId)}
                    <span className="block text-xs text-quiet">
                      <span className="num">rev. {f.revision}</span> · {f.why}
                    </span>
                  </span>,
                  <span key="s" className={alarm ? 'text-alarm' : ''}>
                    {f.state === 'done' ? (
                      <Link className="hover:underline" to={`/drawings/${f.drawingId}/prove/${f.id}`}>
                        {said}
                      </Link>
                    ) : f.state === 'working' ? (
                      <Progress value={f.progress} label={`Writing ${f.name}`} />
                    ) : (
                      said
                    )}
                    {f.error && <span className="block text-xs">{f.error}</span>}
                  </span>,
                  <span key="b" className="num text-quiet">
                    {f.size === null ? '' : fileSize(f.size)}
                  </span>,
                ];
              }}
            />
          </>
        )}
      </Panes>
      {saving && set && <FolderDialog set={set} onClose={() => setSaving(false)} />}
    </Frame>
  );
}

const MOST = 30;

function Told({
  title,
  list,
  nameOf,
  alarm,
}: {
  title: string;
  list: readonly { source: string; what: string; why: string }[];
  nameOf: ReadonlyMap<string, string>;
  alarm?: boolean;
}) {
  const [all, setAll] = useState(false);
  if (list.length === 0) return null;
  const rows = byReason(list);
  return (
    <Section title={`${title}: ${list.length}`}>
      <ul className={`space-y-1 text-sm ${alarm ? 'text-alarm' : ''}`}>
        {rows.slice(0, all ? rows.length : MOST).map(({ source, what, why }, i) => (
          <li key={i}>
            {[nameOf.get(source), what].filter(Boolean).join(': ')} <span className="text-quiet">{why}</span>
          </li>
        ))}
      </ul>
      {rows.length > MOST && !all && (
        <Button look="quiet" className="text-sm" onClick={() => setAll(true)}>
          Show all {rows.length}
        </Button>
      )}
    </Section>
  );
}
