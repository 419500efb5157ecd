import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { CorrectionState } from '@scalaria/core';
import { CORRECTION_STATES, correctionWords } from '@scalaria/core';
import { sendJson } from '../../api/client';
import { useCorrections, useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { CorrectionRow } from '../../api/types';
import { Button } from '../../parts/button';
import { TextField } from '../../parts/field';
import { Empty } from '../../parts/empty';
import { Frame } from '../../parts/frame';
import { InlineSelect, ListBar } from '../../parts/list-tools';
import { useNotice } from '../../parts/notice';
import { plainNumber } from '../../parts/numbers';
import { JobHead } from '../job-head';
import { NotFound } from '../not-found';
import { DeliveryPages } from './pages';

/** What a person may say; only a revision mends. */
const SAYABLE: readonly CorrectionState[] = ['asked', 'answered', 'stands'];

/** What is asked of the authors of a job's drawings: out as one page, ticked off by the next revision. */
export function CorrectionsPage() {
  const { job: id } = useParams();
  const job = useJob(id!);
  const { data: rows, error, mutate } = useCorrections(id!);
  const [sought, setSought] = useState('');
  const [state, setState] = useState<CorrectionState | ''>('');
  const notice = useNotice();
  if (error || job.error) return <NotFound what="job" />;
  const send = async (body: object): Promise<boolean> => {
    try {
      await mutate(sendJson<CorrectionRow[]>('PATCH', paths.corrections(id!), body), { revalidate: false });
      return true;
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
      await mutate();
      return false;
    }
  };
  const say = async (row: CorrectionRow, fields: Partial<CorrectionRow>): Promise<void> => {
    const back = Object.fromEntries(Object.keys(fields).map((k) => [k, row[k as keyof CorrectionRow]]));
    if (await send({ changes: [{ id: row.id, fields }] }))
      notice({ text: 'Kept.', undo: () => void send({ changes: [{ id: row.id, fields: back }] }) });
  };
  const remove = async (row: CorrectionRow): Promise<void> => {
    if (await send({ removed: [row.id] }))
      notice({ text: 'The correction is taken back.', undo: () => void send({ back: [row.id] }) });
  };
  const words = sought.trim().toLowerCase();
  const shown = (rows ?? []).filter(
    (r) =>
      (state === '' || r.state === state) &&
      [r.what, r.drawing, r.measured, r.proposed, r.answer].join(' ').toLowerCase().includes(words),
  );
  const count = (s: CorrectionState): number => rows?.filter((r) => r.state === s).length ?? 0;
  return (
    <Frame crumbs={<span className="truncate text-ink">{job.data?.job.name}</span>}>
      <div className="h-full overflow-y-auto">
        <div className="mx-auto max-w-6xl px-6 py-6">
          <JobHead
            job={id!}
            aside={
              rows &&
              rows.length > 0 && (
                <span className="flex items-center gap-3">
                  <a className="text-act hover:underline" href={paths.correctionsTable(id!)} download>
                    Save as CSV
                  </a>
                  <a
                    className="border border-ink bg-ink px-3 py-1 text-paper hover:bg-act"
                    href={paths.correctionsPage(id!)}
                    target="_blank"
                    rel="noreferrer"
                  >
                    Open as a page to send
                  </a>
                </span>
              )
            }
          />
          <DeliveryPages job={id!} />
          {rows?.length === 0 && (
            <Empty title="Nothing is asked of anybody.">
              What only the author of a drawing can mend is asked for from a finding at its station Check. It goes out
              as one page with pictures, and is ticked off by the next revision.
            </Empty>
          )}
          {rows && rows.length > 0 && (
            <>
              <ListBar
                of="corrections"
                sought={sought}
                onSeek={setSought}
                shown={state}
                options={[
                  ['', 'all'] as [CorrectionState | '', string],
                  ...(Object.entries(CORRECTION_STATES) as [CorrectionState, string][]),
                ]}
                onShow={setState}
              >
                <span className="num text-sm" data-testid="sums">
                  {rows.length} = {count('asked')} asked + {count('answered')} answered + {count('mended')} mended +{' '}
                  {count('stands')} standing
                </span>
              </ListBar>
              <ul aria-label="Corrections" className="divide-y divide-rule border-y border-rule">
                {shown.map((r) => (
                  <li key={r.id} className="grid grid-cols-[240px_minmax(0,1fr)_300px] gap-4 py-3" data-state={r.state}>
                    {r.picture ? (
                      <img
                        src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(r.picture)}`}
                        alt={`Its place in ${r.drawing}`}
                        className="h-[150px] w-full border border-rule bg-[#fbf8f1] object-contain"
                      />
                    ) : (
                      <span className="grid h-[150px] place-items-center border border-rule text-sm text-quiet">
                        no place
                      </span>
                    )}
                    <div className="min-w-0">
                      <p className="font-medium">{r.what}</p>
                      <p className="text-sm text-quiet">
                        <Link className="hover:underline" to={`/drawings/${r.drawingId}/check`}>
                          {r.drawing}
                        </Link>{' '}
                        <span className="num">
                          rev. {r.revision}
                          {r.at && ` · at ${plainNumber(r.at.x)}, ${plainNumber(r.at.y)} ${r.unit}`}
                        </span>
                        {r.layer && ` · layer ${r.layer}`}
                      </p>
                      {r.measured && (
                        <p className="text-sm">
                          Measured: <span className="num">{r.measured}</span>
                        </p>
                      )}
                      <p className={`mt-1 ${r.state === 'mended' ? '' : r.seenIn > r.revision ? 'text-alarm' : ''}`}>
                        {r.state === 'mended' ? '■' : '□'} {correctionWords(r)}
                      </p>
                    </div>
                    <div className="flex flex-col items-start gap-2">
                      <TextField
                        label="What it should be"
                        width="w-full"
                        maxLength={1000}
                        value={r.proposed}
                        onChange={(proposed) => void say(r, { proposed })}
                      />
                      <TextField
                        label="Answer"
                        width="w-full"
                        maxLength={1000}
                        value={r.answer}
                        onChange={(answer) =>
                          void say(r, {
                            answer,
                            ...(r.state === 'asked' && answer !== '' && { state: 'answered' as const }),
                          })
                        }
                      />
                      <div className="flex w-full items-center gap-3">
                        <InlineSelect
                          lead="is"
                          label="How far it is"
                          value={r.state}
                          options={(r.state === 'mended' ? (['mended', ...SAYABLE] as const) : SAYABLE).map(
                            (s) => [s, CORRECTION_STATES[s]] as [CorrectionState, string],
                          )}
                          onChange={(s) => s !== 'mended' && void say(r, { state: s })}
                        />
                        <Button look="quiet" className="ml-auto text-sm" onClick={() => void remove(r)}>
                          Take back
                        </Button>
                      </div>
                    </div>
                  </li>
                ))}
              </ul>
            </>
          )}
        </div>
      </div>
    </Frame>
  );
}
