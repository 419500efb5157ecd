import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { LedgerRow, Target } from '@scalaria/core';
import {
  DEFAULT_TARGETS,
  FORMAT_CATALOGUE,
  isDrafting,
  legalName,
  settleUnit,
  targetFault,
  traitsOf,
  verdictWords,
} from '@scalaria/core';
import { ApiError, makeJson, sendJson } from '../../api/client';
import { useDeliveries, useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { DeliveryDetail, DeliveryRow, DrawingDetail } from '../../api/types';
import { useAction } from '../../parts/actions';
import { Button } from '../../parts/button';
import type { FormHelp } from '../../forms/parameter-form';
import { Section, TextField } from '../../parts/field';
import { idsOf } from '../../parts/ledger-list';
import { useNotice } from '../../parts/notice';
import { fileSize } from '../../parts/numbers';
import { Progress } from '../../parts/progress';
import { TargetForm } from '../target-form';
import { useDrawing, useSpokenOf } from './drawing-context';
import { DeliverParts } from './deliver-parts';
import { KeepRecipe } from './keep-recipe';
import { ForecastList } from './forecast';
import { WhatIsShown } from './what-is-shown';
import { Station } from './station';
import { useForecast } from './use-forecast';
import { usePreparedScene } from './use-scene';
import { DrawingView } from './view/drawing-view';
import { MeasuredSection } from './view/measured-section';
import { SelectionSection } from './view/selection-section';
import { useTools } from './view/use-tools';

/** Station four: write the file. */
export function Deliver() {
  const { drawing, setTarget: keep } = useDrawing();
  const { prepared, fault } = usePreparedScene();
  const tools = useTools(prepared, NO_LAYERS);
  const figures = { unit: prepared?.unit ?? null, scale: 1 };
  const { data: rows, mutate } = useDeliveries(drawing.id);
  const { data: job } = useJob(drawing.jobId);
  const templates = job?.drawings.filter((d) => d.id !== drawing.id && isDrafting(d) && !d.deleted) ?? [];
  // As it was left the last time, here or else in this job; a template that is gone is none.
  const [target, setOnly] = useState<Target>(() => begun(drawing));
  const setTarget = (next: Target): void => {
    setOnly(next);
    keep(next);
  };
  const [name, setName] = useState<string | null>(null);
  const [query, setQuery] = useSearchParams();
  const chosen = query.get('parts')?.split('\n').filter(Boolean) ?? null;
  const baseOf = drawing.name.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const ownName = !chosen ? baseOf : chosen.length === 1 ? chosen[0]! : `${baseOf} parts`;
  const [sending, setSending] = useState(false);
  const [naming, setNaming] = useState(false);
  const notice = useNotice();
  const settled = settleUnit(drawing.claims as Parameters<typeof settleUnit>[0], drawing.intake);
  const format = FORMAT_CATALOGUE[target.format];
  const help: FormHelp = {
    drawings: templates.map((t) => [t.id, t.name] as const),
    colours: drawing.claims.colours,
    context: { source: traitsOf(drawing.format).family },
  };
  const called = legalName(name ?? ownName);
  const before = rows?.filter((r) => r.fileName === `${called}.${format.extension}`).length ?? 0;
  const wrong = targetFault(target);
  const looked = useForecast(
    prepared && settled && wrong === null ? { ...target, ...(chosen && { parts: chosen }) } : null,
  );
  useSpokenOf(looked.forecast?.strip ?? null);

  const write = async (): Promise<void> => {
    setSending(true);
    try {
      await makeJson<DeliveryDetail>(paths.deliveries(drawing.id), {
        ...target,
        ...(chosen && { parts: chosen }),
        name: called,
      });
      await mutate();
    } catch (e) {
      const x = e as ApiError;
      notice({ text: `${x.message} ${x.remedy ?? ''}`, alarm: true });
    } finally {
      setSending(false);
    }
  };
  const visitRow = (row: LedgerRow): void =>
    void tools.lead(idsOf(row)).then(
      (there) =>
        there ||
        notice({
          text: 'What this row is about is not in the prepared drawing: it was left out or became something else.',
        }),
    );
  const ready = settled !== null && !sending && fault === null && wrong === null;
  useAction(ready ? `Write ${called}.${format.extension}` : '', '', () => void write(), false);
  const remove = async (d: DeliveryRow, deleted: boolean): Promise<void> => {
    try {
      await sendJson('PATCH', paths.delivery(d.id), { deleted });
      await mutate();
      if (deleted)
        notice({
          text: `“${d.fileName ?? 'The delivery'}” is deleted. The job lists it under Deleted.`,
          undo: () => void remove(d, false),
        });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };
  return (
    <Station
      ready={prepared !== null || fault !== null}
      view={
        <DrawingView
          scene={prepared?.scene ?? null}
          unit={prepared?.unit ?? null}
          tools={tools}
          label={`Drawing ${drawing.name}, as it will be written`}
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={figures} />
          <MeasuredSection tools={tools} figures={figures} />
          <Section title="File to write">
            <TargetForm target={target} unit={settled?.unit ?? null} help={help} onChange={setTarget} />
            <WhatIsShown
              target={target}
              bytes={looked.forecast?.bytes ?? null}
              unit={prepared?.unit ?? null}
              tools={tools}
              ready={prepared !== null}
              onChange={setTarget}
            />
            {target.options['template'] != null && (
              <p className="mt-3 text-sm text-quiet">
                Layers, linetypes, text and dimension styles of the same name take the template’s properties; its others
                are added.
              </p>
            )}
            {!settled && (
              <p className="mt-3 text-alarm">
                The unit is undecided, so the true size is unknown.{' '}
                <Link to="../take-in" className="underline">
                  Decide it at station one.
                </Link>
              </p>
            )}
            <DeliverParts
              chosen={chosen}
              numbered={target.numbered ?? false}
              onNumbered={(numbered) => setTarget({ ...target, numbered })}
              onWhole={() => setQuery({})}
            />
            {(fault ?? wrong) && <p className="mt-3 text-alarm">{fault ?? wrong}</p>}
            {settled && wrong === null && (
              <div className="mt-3" aria-live="polite">
                <h3 className="mb-1 text-sm font-medium">Forecast</h3>
                <ForecastList looked={looked} fileName={`${ownName}-forecast.csv`} onRow={visitRow} />
              </div>
            )}
            <div className="mt-3">
              <TextField
                label={`Name of the file (.${format.extension})`}
                value={name ?? ownName}
                onChange={(v) => setName(v.trim() === '' ? null : v)}
                maxLength={120}
                width="w-full"
                live
              />
              {called !== (name ?? ownName) && (
                <p className="text-sm text-quiet">Written as “{called}”: not every system allows that name.</p>
              )}
              {before > 0 && (
                <p className="text-sm text-quiet">
                  {before === 1 ? 'A file' : `${before} files`} of this name {before === 1 ? 'is' : 'are'} listed below
                  and {before === 1 ? 'stays' : 'stay'} as {before === 1 ? 'it is' : 'they are'}.
                </p>
              )}
            </div>
            <div className="mt-3 flex items-center gap-3">
              <Button look="main" disabled={!ready} onClick={() => void write()}>
                Write 1 file
              </Button>
              <Link to="../trials" className="ml-auto text-act underline-offset-2 hover:underline">
                Try several ways
              </Link>
              <Button look="quiet" onClick={() => setNaming(true)}>
                Keep as recipe
              </Button>
            </div>
          </Section>
          <KeepRecipe open={naming} target={target} onClose={() => setNaming(false)} />
          <Section title="Deliveries">
            {rows?.length === 0 && (
              <p className="text-quiet">Nothing written yet. What you write is kept here, with its proof.</p>
            )}
            <ul className="divide-y divide-rule">
              {rows?.map((d) => (
                <DeliveryLine
                  key={d.id}
                  row={d}
                  revision={drawing.revision}
                  onEnd={() => void mutate()}
                  onDelete={() => void remove(d, true)}
                />
              ))}
            </ul>
          </Section>
        </>
      }
    />
  );
}

/** How the file was asked for last. */
function begun({ target, format }: DrawingDetail): Target {
  const { name: _name, parts: _parts, ...kept } = target ?? DEFAULT_TARGETS[traitsOf(format).oftenBecomes];
  return targetFault(kept) === null ? kept : DEFAULT_TARGETS[kept.format];
}

const NO_LAYERS: ReadonlySet<string> = new Set();

const STATES = {
  waiting: 'waiting',
  held: 'held',
  working: 'being written',
  done: 'written',
  failed: 'not written',
  cancelled: 'stopped',
} as const;

function DeliveryLine({
  row,
  revision,
  onEnd,
  onDelete,
}: {
  row: DeliveryRow;
  revision: number;
  onEnd: () => void;
  onDelete: () => void;
}) {
  const [progress, setProgress] = useState(row.progress);
  const running = row.state === 'waiting' || row.state === 'working';
  useEffect(() => {
    if (!running) return;
    const events = new EventSource(paths.deliveryEvents(row.id));
    events.onmessage = (e) => {
      const said = JSON.parse(String(e.data)) as { state: DeliveryRow['state']; progress: number };
      setProgress(said.progress);
      if (said.state !== 'waiting' && said.state !== 'working') {
        events.close();
        onEnd();
      }
    };
    events.onerror = () => onEnd();
    return () => events.close();
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [row.id, running]);
  const what = `${row.target.format.toUpperCase()} ${row.target.version}${row.target.unit ? `, ${row.target.unit}` : ''}`;
  return (
    <li className="py-2" data-delivery={row.state}>
      <div className="flex items-baseline justify-between gap-2">
        <span className="truncate font-medium">{row.fileName ?? what}</span>
        <span className={`text-sm ${row.state === 'failed' ? 'text-alarm' : 'text-quiet'}`}>{STATES[row.state]}</span>
      </div>
      {running && (
        <div className="mt-1 flex items-center gap-3">
          <Progress value={progress} label={`Writing ${what}`} />
          <Button look="quiet" onClick={() => void sendJson('POST', paths.cancelDelivery(row.id)).then(onEnd)}>
            Stop
          </Button>
        </div>
      )}
      {row.error && <p className="text-sm text-alarm">{row.error}</p>}
      <p className="num text-xs text-quiet">
        {what}
        {row.size !== null && ` · ${fileSize(row.size)}`} ·{' '}
        {new Date(row.createdAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'medium' })}
      </p>
      {row.revision < revision && (
        <p className="text-sm text-alarm">
          Written from revision {row.revision}; the drawing is at {revision} now.
        </p>
      )}
      {!running && row.state !== 'done' && (
        <Button look="quiet" className="text-sm" onClick={onDelete} aria-label={`Delete ${row.fileName ?? what}`}>
          Delete
        </Button>
      )}
      {row.state === 'done' && (
        <div className="mt-1 flex gap-4">
          <a
            className="text-act underline-offset-2 hover:underline"
            href={paths.deliveryFile(row.id)}
            download={row.fileName ?? undefined}
          >
            Download
          </a>
          {row.beside.map((name, place) => (
            <a
              key={name}
              className="truncate text-act underline-offset-2 hover:underline"
              href={paths.deliveryBeside(row.id, place)}
              download={name}
              aria-label={`Download ${name}`}
              title={`${name}: size and place, exactly`}
            >
              .{name.split('.').pop()}
            </a>
          ))}
          <Link
            className={`underline-offset-2 hover:underline ${row.verdict?.holds ? 'text-act' : 'text-alarm'}`}
            to={`../prove/${row.id}`}
          >
            {row.verdict ? verdictWords(row.verdict) : 'Proof'}
          </Link>
          <Button
            look="quiet"
            className="ml-auto text-sm"
            onClick={onDelete}
            aria-label={`Delete ${row.fileName ?? what}`}
          >
            Delete
          </Button>
        </div>
      )}
    </li>
  );
}
