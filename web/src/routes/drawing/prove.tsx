import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { LedgerRow, Proof, ProofItem } from '@scalaria/core';
import { summarise, traitsOf, verdictOf } from '@scalaria/core';
import { sendBytes } from '../../api/client';
import { useDeliveries, useDelivery } from '../../api/hooks';
import { paths } from '../../api/paths';
import { Button } from '../../parts/button';
import { Section, Select } from '../../parts/field';
import { LedgerList, idsOf } from '../../parts/ledger-list';
import { useNotice } from '../../parts/notice';
import { Working } from '../../parts/progress';
import type { Marked } from '../../viewport/viewport';
import type { Compare } from './compare-bar';
import { CompareBar, compared } from './compare-bar';
import { useDrawing, useSpokenOf } from './drawing-context';
import { CameBackSection } from './came-back';
import { ProofTable } from './proof-table';
import { Station } from './station';
import { useDelivered } from './use-delivered';
import { useDiffering } from './use-differing';
import { usePreparedScene } from './use-scene';
import { DrawingView } from './view/drawing-view';
import { MeasuredSection } from './view/measured-section';
import { SelectionSection } from './view/selection-section';
import { useTools } from './view/use-tools';

const NO_LAYERS: ReadonlySet<string> = new Set();

/** Station five: the delivered file read back, laid over what was prepared, and compared. */
export function Prove() {
  const { drawing, worker } = useDrawing();
  const params = useParams();
  const go = useNavigate();
  const { data: rows } = useDeliveries(drawing.id);
  const done = rows?.filter((r) => r.state === 'done') ?? [];
  const id = params['delivery'] ?? done[0]?.id;
  const { data: delivery, error } = useDelivery(id ?? null);
  const { prepared } = usePreparedScene();
  const [copy, setCopy] = useState<{ name: string; proof: Proof; bytes: ArrayBuffer } | null>(null);
  const { delivered, against, fault } = useDelivered(worker, delivery, copy?.bytes ?? null, prepared !== null);
  const [compare, setCompare] = useState<Compare>('over');
  const [wipe, setWipe] = useState(0.5);
  const [first, setFirst] = useState(true);
  const [chosen, setChosen] = useState<string | null>(null);
  const notice = useNotice();
  // What is pointed at is asked of the file read back, once it is there.
  const tools = useTools(delivered ?? prepared, NO_LAYERS);
  const figures = { unit: prepared?.unit ?? null, scale: 1 };
  const differing = useDiffering(worker, delivered, compare === 'differing');
  const [proving, setProving] = useState<{ name: string; stop: () => void } | null>(null);

  // Objects of a picture cannot be found again, and its pixels are not tinted: they are wiped over the drawing.
  const isPicture = delivery ? traitsOf(delivery.target.format).pixels === true : false;
  useEffect(() => setCompare(isPicture ? 'wipe' : 'over'), [isPicture]);

  useEffect(() => {
    setCopy(null);
    setChosen(null);
  }, [id]);
  useEffect(() => {
    if (compare !== 'blink') return;
    const timer = setInterval(() => setFirst((f) => !f), 700);
    return () => clearInterval(timer);
  }, [compare]);

  const pictures = useMemo(
    () => compared(against ?? prepared?.scene ?? null, delivered, compare, first, differing.scenes),
    [prepared, against, delivered, compare, first, differing.scenes],
  );

  const check = async (file: File): Promise<void> => {
    const controller = new AbortController();
    setProving({ name: file.name, stop: () => controller.abort() });
    try {
      const bytes = await file.arrayBuffer();
      const proof = await sendBytes<Proof>(paths.proofs(id!), file, controller.signal);
      setCopy({ name: file.name, proof, bytes });
    } catch (e) {
      if (!controller.signal.aborted) notice({ text: (e as Error).message, alarm: true });
    } finally {
      setProving(null);
    }
  };
  const visit = (item: ProofItem): void => {
    setChosen(item.id);
    const b = (against ?? prepared?.scene)?.bounds;
    const span = b ? Math.hypot(b.maxX - b.minX, b.maxY - b.minY) : 1;
    if (item.at) tools.setGoTo({ ...item.at, size: span / 60 });
    else if (item.id === 'size' && b) tools.setGoTo({ ...b });
    else if (item.shows)
      void worker
        ?.idsOf(item.shows)
        .then((ids) => tools.lead(ids))
        .then((there) => there || notice({ text: 'The file has none of these objects.' }));
  };
  const visitRow = (row: LedgerRow): void =>
    void worker?.boxInPrepared(idsOf(row)).then((box) =>
      box
        ? tools.setGoTo({ ...box })
        : notice({
            text: 'What this row is about is not in the drawing any more: it was left out or became something else.',
          }),
    );

  const proof = copy?.proof ?? delivery?.proof ?? null;
  const strip = useMemo(
    () =>
      delivery?.ledger
        ? summarise(drawing.claims as Parameters<typeof summarise>[0], delivery.intake, delivery.ledger)
        : null,
    [delivery, drawing.claims],
  );
  useSpokenOf(strip);

  if (rows && !id) {
    return (
      <Station
        ready={prepared !== null}
        view={
          <DrawingView
            scene={prepared?.scene ?? null}
            unit={prepared?.unit ?? null}
            tools={tools}
            label={`Drawing ${drawing.name}`}
          />
        }
        book={
          <Section title="Proof">
            <p className="text-quiet">
              Nothing has been written yet.{' '}
              <Link to={`/drawings/${drawing.id}/deliver`} className="text-act underline">
                Write a file at station four
              </Link>
              ; it is read back and proven here.
            </p>
          </Section>
        }
      />
    );
  }
  const old = delivery !== undefined && delivery.revision < drawing.revision;
  // A file of chosen parts has one step more than its drawing.
  const ownSteps = delivery?.parts
    ? delivery.steps.filter((s) => s.step !== 'keep-parts' || s.id !== 'parts')
    : delivery?.steps;
  const stale =
    delivery && JSON.stringify([delivery.intake, ownSteps]) !== JSON.stringify([drawing.intake, drawing.steps]);
  return (
    <Station
      ready={prepared !== null}
      view={
        <DrawingView
          scene={delivered ?? prepared?.scene ?? null}
          pictures={pictures}
          wipe={wipe}
          unit={prepared?.unit ?? null}
          tools={tools}
          label={`${drawing.name}, prepared and delivered laid over each other`}
          marks={(m) => <ProofMarks m={m} proof={proof} chosen={chosen} wipe={compare === 'wipe' ? wipe : null} />}
          over={
            <>
              <CompareBar
                compare={compare}
                onCompare={setCompare}
                wipe={wipe}
                onWipe={setWipe}
                said={differing.said}
                differs={(differing.scenes?.count ?? 0) > 0}
              />
              {fault && (
                <p
                  className="absolute top-14 left-3 max-w-md border border-alarm bg-paper px-3 py-1 text-alarm"
                  role="alert"
                >
                  The file cannot be drawn: {fault}
                </p>
              )}
            </>
          }
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={figures} />
          <MeasuredSection tools={tools} figures={figures} />
          <Section
            title={delivery?.fileName ?? 'Proof'}
            aside={
              done.length > 1 ? (
                <Select
                  label="Delivery"
                  hideLabel
                  value={id ?? ''}
                  options={done.map((d, i) => [d.id, `${done.length - i}: ${d.fileName}`] as const)}
                  onChange={(v) => void go(`/drawings/${drawing.id}/prove/${v}`)}
                />
              ) : undefined
            }
          >
            {error && <p className="text-alarm">{(error as Error).message}</p>}
            {copy && (
              <p className="mb-2 border-l-2 border-act pl-2 text-sm">
                Comparing the copy “{copy.name}”.{' '}
                <Button look="quiet" onClick={() => setCopy(null)}>
                  Back to what was written
                </Button>
              </p>
            )}
            {old && (
              <p className="mb-2 border-l-2 border-alarm pl-2 text-sm" role="status">
                Written from revision {delivery.revision}; the drawing is at {drawing.revision} now.{' '}
                <Link to={`/drawings/${drawing.id}/deliver`} className="text-act underline">
                  Write it again
                </Link>
                . The numbers below are those of the file.
              </p>
            )}
            {delivery?.target.parts && (
              <p className="mb-2 border-l-2 border-ink pl-2 text-sm">
                This file holds {delivery.target.parts.length === 1 ? 'part' : 'parts'}{' '}
                {delivery.target.parts.join(', ')} alone; the drawing beside it is whole.
              </p>
            )}
            {stale && !old && (
              <p className="mb-2 border-l-2 border-alarm pl-2 text-sm">
                Decisions or steps have changed since this was written. The numbers below are those of the file; the
                drawing shows what is decided now.
              </p>
            )}
            {proof && <Verdict proof={proof} />}
            <div className="mt-2 flex gap-4">
              {delivery?.state === 'done' && (
                <a
                  className="text-act underline-offset-2 hover:underline"
                  href={paths.deliveryFile(delivery.id)}
                  download={delivery.fileName ?? undefined}
                >
                  Download
                </a>
              )}
              {delivery?.state === 'done' && (
                <a
                  className="text-act underline-offset-2 hover:underline"
                  href={paths.deliveryReport(delivery.id)}
                  target="_blank"
                  rel="noreferrer"
                >
                  Report
                </a>
              )}
              {!proving && <CopyPicker onPick={(file) => void check(file)} />}
            </div>
            {proving && (
              <div className="mt-2 flex items-center gap-3 text-sm">
                <span className="min-w-0 flex-1">
                  <span className="block truncate">“{proving.name}” is read and compared …</span>
                  <Working label={`Proving ${proving.name}`} />
                </span>
                <Button look="quiet" onClick={proving.stop}>
                  Stop
                </Button>
              </div>
            )}
          </Section>
          {delivery?.state === 'done' && !isPicture && <CameBackSection key={delivery.id} delivery={delivery.id} />}
          {proof && <ProofTable proof={proof} chosen={chosen} onVisit={visit} />}
          {delivery?.ledger && (
            <Section title="Ledger">
              <LedgerList
                rows={delivery.ledger}
                onRow={visitRow}
                fileName={`${(delivery.fileName ?? drawing.name).replace(/\.\w+$/, '')}-ledger.csv`}
              />
            </Section>
          )}
        </>
      }
    />
  );
}

function Verdict({ proof }: { proof: Proof }) {
  return (
    <>
      <p className={`text-lg font-semibold ${proof.holds ? '' : 'text-alarm'}`} data-testid="verdict">
        {verdictOf(proof)}
      </p>
      <p className="text-sm text-quiet">
        {proof.holds
          ? 'The source was held against what was prepared, and that against the file, read back. Every difference is accounted for.'
          : 'The file differs from what was prepared, or that from the source, and the ledger does not say why.'}
      </p>
    </>
  );
}

/** Marks where the rows of a proof are about, and the line at which a wipe parts. */
function ProofMarks({
  m,
  proof,
  chosen,
  wipe,
}: {
  m: Marked;
  proof: Proof | null;
  chosen: string | null;
  wipe: number | null;
}) {
  return (
    <>
      {wipe !== null && (
        <path d={`M${m.size.width * wipe} 0V${m.size.height}`} className="text-ink" stroke="currentColor" />
      )}
      {proof?.items.map((i) => {
        if (!i.at || (i.state !== 'atRisk' && i.id !== chosen)) return null;
        const [x, y] = m.screen(i.at.x, i.at.y);
        const r = i.id === chosen ? 15 : 11;
        return (
          <path
            key={i.id}
            d={`M${x - r} ${y}L${x} ${y - r}L${x + r} ${y}L${x} ${y + r}Z`}
            className={i.state === 'atRisk' ? 'text-alarm' : 'text-act'}
            fill="none"
            stroke="currentColor"
            strokeWidth="2"
          />
        );
      })}
    </>
  );
}

/** The choice of a copy that came back from elsewhere, to be proven instead of what was written. */
function CopyPicker({ onPick }: { onPick: (file: File) => void }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button look="quiet" onClick={() => picker.current?.click()}>
        Prove another copy …
      </Button>
      <input
        ref={picker}
        type="file"
        className="sr-only"
        tabIndex={-1}
        aria-label="Copy to prove"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) onPick(file);
          e.target.value = '';
        }}
      />
    </>
  );
}
