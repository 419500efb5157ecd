import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link, Outlet, useNavigate, useParams } from 'react-router';
import { Undo2 } from 'lucide-react';
import type { CarryOverSummary, IntakeDecisions, LedgerRow, PlannedStep } from '@scalaria/core';
import { useDeliveries, useDrawingDetail } from '../../api/hooks';
import { CarryOverStrip } from '../../parts/carry-over-strip';
import { Frame } from '../../parts/frame';
import { isTyping, useAction } from '../../parts/actions';
import { useDrawingWorker } from '../../workers/use-drawing-worker';
import { useJobFonts } from './use-job-fonts';
import { useJobPictures } from './use-job-pictures';
import { NotFound } from '../not-found';
import type { DrawingState } from './drawing-context';
import { DrawingContext } from './drawing-context';
import { STATIONS, Stations } from './stations';
import { useKeeping } from './use-keeping';

export function DrawingPage() {
  const { drawing: id } = useParams();
  const {
    data: drawing,
    error,
    mutate,
  } = useDrawingDetail(id!, {
    // What was decided in another window is seen on coming back to this one.
    revalidateOnFocus: true,
  });
  const { data: deliveries } = useDeliveries(id!);
  const {
    worker,
    progress,
    error: readError,
  } = useDrawingWorker(id!, drawing?.fileName, drawing?.revision, drawing?.intake.encoding ?? null);
  const fonts = useJobFonts(drawing?.jobId, worker);
  const pictures = useJobPictures(drawing?.jobId, worker);
  const [summary, setSummary] = useState<{ strip: CarryOverSummary[]; ledger: LedgerRow[] } | null>(null);
  // What the strip says of one file, where a station speaks of one.
  const [spoken, speakOf] = useState<CarryOverSummary[] | null>(null);
  // The worker whose drawing is in sight.
  const [seen, setSeen] = useState<typeof worker>(null);
  const onSeen = useCallback(() => setSeen(() => worker), [worker]);
  const free = seen === worker ? worker : null;
  const { last, change, setChecks, undo } = useKeeping(id!, drawing, mutate);

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
  }, [free, drawing, fonts.version, pictures.version]);

  const go = useNavigate();
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (isTyping(e) || e.altKey) return;
      if ((e.ctrlKey || e.metaKey) && e.key === 'z') {
        e.preventDefault();
        undo();
      } else if (!e.ctrlKey && !e.metaKey && /^[1-5]$/.test(e.key))
        void go(`/drawings/${id}/${STATIONS[Number(e.key) - 1]!.path}`);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [undo, go, id]);

  useAction(last ? `Undo: ${last.what}` : '', 'Ctrl Z', undo, false);
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
            onSeen,
            progress,
            readError,
            fonts,
            pictures,
            strip: summary?.strip ?? null,
            ledger: summary?.ledger ?? [],
            speakOf,
            decide: (intake: Partial<IntakeDecisions>, what: string) =>
              change({ intake: { ...drawing.intake, ...intake } }, what),
            setSteps: (steps: PlannedStep[], what: string) => change({ steps }, what),
            setChecks,
            refresh: () => mutate(),
          }
        : null,
    [drawing, worker, free, onSeen, progress, readError, fonts, pictures, summary, change, setChecks, mutate],
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
        last && (
          <button
            type="button"
            className="flex items-center gap-1.5 px-2 py-1 text-sm hover:bg-wash"
            onClick={undo}
            title="Ctrl Z"
          >
            <Undo2 size={15} aria-hidden /> Undo: {last.what}
          </button>
        )
      }
    >
      <div className="flex h-full flex-col">
        <CarryOverStrip strip={spoken ?? state?.strip ?? null} />
        <div className="grid min-h-0 flex-1 grid-cols-[132px_minmax(0,1fr)]">
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
