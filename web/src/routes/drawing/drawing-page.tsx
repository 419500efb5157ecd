import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, NavLink, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import { Undo2 } from 'lucide-react';
import type { CarryOverSummary, CheckSettings, IntakeDecisions, LedgerRow, PlannedStep } from '@scalaria/core';
import { CHECKS, settleUnit } from '@scalaria/core';
import { ApiError, sendJson } from '../../api/client';
import { useDeliveries, useDrawingDetail } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { DrawingChange, Decided } from '../../api/drawing-changes';
import { applied, changeBetween, differenceInWords } from '../../api/drawing-changes';
import type { DeliveryRow, DrawingDetail } from '../../api/types';
import { CarryOverStrip } from '../../parts/carry-over-strip';
import { Frame } from '../../parts/frame';
import { isTyping, useAction } from '../../parts/actions';
import { useNotice } from '../../parts/notice';
import { useDrawingWorker } from '../../workers/use-drawing-worker';
import { useJobFonts } from './use-job-fonts';
import { useJobPictures } from './use-job-pictures';
import { NotFound } from '../not-found';
import type { DrawingState } from './drawing-context';
import { DrawingContext } from './drawing-context';

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
  const [past, setPast] = useState<{ back: DrawingChange; what: string }[]>([]);
  // The worker whose drawing is in sight.
  const [seen, setSeen] = useState<typeof worker>(null);
  const onSeen = useCallback(() => setSeen(() => worker), [worker]);
  const free = seen === worker ? worker : null;
  const notice = useNotice();
  const sending = useRef<Promise<unknown>>(Promise.resolve());

  const pending = useRef(0);
  const version = useRef(0);
  if (drawing && pending.current === 0) version.current = drawing.seen;
  // Shown at once, sent in order; when sending fails the truth is fetched again.
  const keep = useCallback(
    (before: Decided, next: Partial<Decided>, onFailure?: () => void) => {
      const sent = changeBetween(before, next);
      if (!sent) return;
      void mutate((d) => d && { ...d, ...next }, { revalidate: false });
      pending.current++;
      sending.current = sending.current
        .then(() => sendJson<DrawingDetail>('PATCH', paths.drawing(id!), { ...sent, seen: version.current }))
        .then((now) => {
          version.current = now.seen;
          const last = --pending.current === 0;
          return mutate(
            (d) => {
              if (!d) return d;
              // Texts that are read otherwise change what the file claims. What other windows did counts here too, once
              // nothing of this one is under way.
              if (!last) return { ...d, claims: now.claims, ledger: now.ledger };
              const others = differenceInWords(d, now);
              if (others) notice({ text: `Changed in another window: ${others}.` });
              return { ...d, ...now };
            },
            { revalidate: false },
          );
        })
        .catch((e: unknown) => {
          pending.current = 0;
          onFailure?.();
          const remedy = e instanceof ApiError && e.remedy ? ` ${e.remedy}` : '';
          notice({ text: `Not kept: ${(e as Error).message}${remedy}`, alarm: true });
          void mutate();
        });
    },
    [id, mutate, notice],
  );
  const change = useCallback(
    (next: Partial<Decided>, what: string) => {
      if (!drawing) return;
      // Only what this change did is taken back, whatever other windows do meanwhile.
      const back = changeBetween({ intake: drawing.intake, steps: drawing.steps, ...next }, drawing);
      if (back) setPast((p) => [...p.slice(-99), { back, what }]);
      // What was not kept cannot be taken back.
      keep(drawing, next, () => setPast((p) => p.filter((one) => one.back !== back)));
    },
    [drawing, keep],
  );
  const setChecks = useCallback(
    (checks: CheckSettings) => {
      if (!drawing) return;
      void mutate((d) => d && { ...d, checks }, { revalidate: false });
      sending.current = sending.current
        .then(() => sendJson('PATCH', paths.job(drawing.jobId), { checks }))
        .catch((e: unknown) => {
          notice({ text: `Not kept: ${(e as Error).message}`, alarm: true });
          void mutate();
        });
    },
    [drawing, mutate, notice],
  );
  const undo = useCallback(() => {
    const last = past[past.length - 1];
    if (!last || !drawing) return;
    setPast((p) => p.slice(0, -1));
    keep(drawing, applied(drawing, last.back));
  }, [past, drawing, keep]);

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

  const last = past[past.length - 1];
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
            <span className="truncate text-ink">{drawing.name}</span>
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
        <CarryOverStrip strip={state?.strip ?? null} />
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

const STATIONS = [
  { path: 'take-in', name: 'Take in' },
  { path: 'check', name: 'Check' },
  { path: 'prepare', name: 'Prepare' },
  { path: 'deliver', name: 'Deliver' },
  { path: 'prove', name: 'Prove' },
] as const;

/** The journey: five stations down a line, each with how far the drawing has come. */
function Stations({
  drawing,
  deliveries,
}: {
  drawing: DrawingDetail | undefined;
  deliveries: DeliveryRow[] | undefined;
}) {
  const { pathname } = useLocation();
  const settled = drawing ? settleUnit(drawing.claims as Parameters<typeof settleUnit>[0], drawing.intake) : null;
  const done = deliveries?.filter((d) => d.state === 'done') ?? [];
  const on = drawing?.steps.filter((s) => s.on).length ?? 0;
  const latest = done[0];
  const words: Record<string, [boolean, string]> = {
    'take-in': [settled !== null, settled ? `unit ${settled.unit}` : 'unit undecided'],
    check: [false, CHECKS.length === 1 ? '1 check' : `${CHECKS.length} checks`],
    prepare: [on > 0, on === 1 ? '1 step' : `${on} steps`],
    deliver: [done.length > 0, done.length === 1 ? '1 file' : `${done.length} files`],
    prove: [latest?.holds === true, latest ? (latest.holds ? 'holds' : 'does not hold') : 'nothing yet'],
  };
  return (
    <nav aria-label="Stations" className="border-r border-rule py-4">
      <ol>
        {STATIONS.map(({ path, name }, i) => {
          const [reached, said] = words[path]!;
          const here = pathname.includes(`/${path}`);
          return (
            <li key={path} className="relative">
              {i < 4 && <span className="absolute top-[26px] left-[26px] h-full w-px bg-ink/50" aria-hidden />}
              <NavLink
                to={path}
                className={`relative flex items-start gap-2.5 py-3 pr-2 pl-4 ${here ? 'bg-wash' : 'hover:bg-wash'}`}
              >
                <span
                  className={`num grid size-[21px] shrink-0 place-items-center border border-ink text-xs ${reached ? 'bg-ink text-paper' : 'bg-paper'}`}
                >
                  {i + 1}
                </span>
                <span className="min-w-0">
                  <span className={`block leading-tight ${here ? 'font-semibold' : ''}`}>{name}</span>
                  <span className="block truncate text-xs text-quiet">{said}</span>
                </span>
              </NavLink>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
