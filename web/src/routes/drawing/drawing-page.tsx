import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link, Outlet, useNavigate, useParams } from 'react-router';
import { Redo2, Undo2 } from 'lucide-react';
import type { CarryOverSummary, IntakeDecisions, LedgerRow, PlannedStep } from '@scalaria/core';
import { readAs, summarise } from '@scalaria/core';
import { useDeliveries, useDrawingDetail } from '../../api/hooks';
import { CarryOverStrip } from '../../parts/carry-over-strip';
import { Frame } from '../../parts/frame';
import { isTyping, useAction } from '../../parts/actions';
import { useDrawingWorker } from '../../workers/use-drawing-worker';
import { useJobFonts } from './use-job-fonts';
import { useJobPictures } from './use-job-pictures';
import { useJobReferences } from './use-job-references';
import { NotFound } from '../not-found';
import type { DrawingState } from './drawing-context';
import { DrawingContext } from './drawing-context';
import { STATIONS, Stations } from './stations';
import { useChangesElsewhere } from './use-changes-elsewhere';
import { useKeeping } from './use-keeping';

/** The page of a drawing; another drawing is another page, even where one leads to the other. */
export function DrawingPage() {
  const { drawing: id } = useParams();
  return <OneDrawing key={id} id={id!} />;
}

function OneDrawing({ id }: { id: string }) {
  const {
    data: drawing,
    error,
    mutate,
  } = useDrawingDetail(id, {
    // What was decided in another window is seen on coming back to this one.
    revalidateOnFocus: true,
  });
  const { data: deliveries } = useDeliveries(id);
  const {
    worker,
    stops,
    progress,
    error: readError,
  } = useDrawingWorker(id, drawing?.fileName, drawing?.revision, readAs(drawing?.intake));
  const fonts = useJobFonts(drawing?.jobId, worker);
  const pictures = useJobPictures(drawing?.jobId, worker, drawing?.intake.under?.picture);
  const references = useJobReferences(drawing, worker);
  const [summary, setSummary] = useState<{ strip: CarryOverSummary[]; ledger: LedgerRow[] } | null>(null);
  // What the strip says of one file, where a station speaks of one.
  const [spoken, speakOf] = useState<CarryOverSummary[] | null>(null);
  // The worker whose drawing is in sight.
  const [seen, setSeen] = useState<typeof worker>(null);
  const onSeen = useCallback(() => setSeen(() => worker), [worker]);
  const free = seen === worker ? worker : null;
  const { last, next, change, setChecks, setTarget, undo, redo, isBusy } = useKeeping(id, drawing, mutate);
  useChangesElsewhere(id, drawing, mutate, isBusy);

  useEffect(() => {
    if (!free || !drawing) return;
    let live = true;
    free.strip(drawing.intake, drawing.steps).then(
      (s) => live && setSummary(s),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [free, drawing, fonts.version, pictures.version, references.version]);

  const go = useNavigate();
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (isTyping(e) || e.altKey) return;
      const held = e.ctrlKey || e.metaKey;
      if (held && e.key.toLowerCase() === 'z') {
        e.preventDefault();
        (e.shiftKey ? redo : undo)();
      } else if (held && e.key === 'y') {
        e.preventDefault();
        redo();
      } else if (!e.ctrlKey && !e.metaKey && /^[1-5]$/.test(e.key))
        void go(`/drawings/${id}/${STATIONS[Number(e.key) - 1]!.path}`);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [undo, redo, go, id]);

  useAction(last ? `Undo: ${last.what}` : '', 'Ctrl Z', undo, false);
  useAction(next ? `Redo: ${next.what}` : '', 'Ctrl Shift Z', redo, false);
  for (const [i, { path, name }] of STATIONS.entries())
    // The list never changes its length.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useAction(`Go to: ${name.toLowerCase()}`, String(i + 1), () => void go(`/drawings/${id}/${path}`), false);

  const state = useMemo<DrawingState | null>(
    () =>
      drawing
        ? {
            drawing,
            worker,
            free,
            stops,
            onSeen,
            progress,
            readError,
            fonts,
            pictures,
            references,
            strip: summary?.strip ?? null,
            ledger: summary?.ledger ?? [],
            speakOf,
            decide: (intake: Partial<IntakeDecisions>, what: string) =>
              change({ intake: { ...drawing.intake, ...intake } }, what),
            setSteps: (steps: PlannedStep[], what: string) => change({ steps }, what),
            setChecks,
            setTarget,
            setReview: (review, what) => change({ review }, what),
            setYardsticks: (yardsticks, what) => change({ yardsticks }, what),
            refresh: () => mutate(),
          }
        : null,
    [
      drawing,
      worker,
      free,
      stops,
      onSeen,
      progress,
      readError,
      fonts,
      pictures,
      references,
      summary,
      change,
      setChecks,
      setTarget,
      mutate,
    ],
  );
  // Until the drawing is read here, what the server knows of it is said.
  const first = useMemo(
    () =>
      drawing ? summarise(drawing.claims as Parameters<typeof summarise>[0], drawing.intake, drawing.ledger) : null,
    [drawing],
  );
  if (error) return <NotFound what="drawing" />;

  return (
    <Frame
      crumbs={
        drawing && (
          <>
            <Link to={`/jobs/${drawing.jobId}`} className="truncate hover:text-ink hover:underline">
              {drawing.jobName}
            </Link>
            <span aria-hidden>/</span>
            <h1 className="truncate text-ink">{drawing.name}</h1>
          </>
        )
      }
      aside={
        <>
          {last && (
            <button
              type="button"
              className="flex min-w-0 items-center gap-1.5 px-2 py-1 text-sm hover:bg-wash"
              onClick={undo}
              title="Ctrl Z"
            >
              <Undo2 size={15} className="shrink-0" aria-hidden /> <span className="truncate">Undo: {last.what}</span>
            </button>
          )}
          {next && (
            <button
              type="button"
              className="p-1.5 hover:bg-wash"
              onClick={redo}
              aria-label={`Redo: ${next.what}`}
              title={`Redo: ${next.what} (Ctrl Shift Z)`}
            >
              <Redo2 size={15} aria-hidden />
            </button>
          )}
        </>
      }
    >
      <div className="flex h-full flex-col max-md:h-auto max-md:min-h-full">
        <a
          href="#field-book"
          className="absolute top-1.5 left-44 z-40 -translate-y-16 border border-ink bg-paper px-3 py-1 focus:translate-y-0"
        >
          To the field book
        </a>
        <CarryOverStrip
          strip={spoken ?? state?.strip ?? first}
          waiting={spoken || state?.strip ? null : worker ? 'decisions are worked out …' : 'being read …'}
        />
        <div className="grid min-h-0 flex-1 grid-cols-[132px_minmax(0,1fr)] max-md:block">
          <Stations drawing={drawing} deliveries={deliveries} />
          {state && (
            <DrawingContext.Provider value={state}>
              <Outlet />
            </DrawingContext.Provider>
          )}
        </div>
      </div>
    </Frame>
  );
}
