import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import * as Comlink from 'comlink';
import type { Proof, Scene } from '@scalaria/core';
import { getBytes, sendBytes } from '../../api/client';
import { useDeliveries, useDelivery } from '../../api/hooks';
import { paths } from '../../api/paths';
import { Button } from '../../parts/button';
import { Section, Select } from '../../parts/field';
import { useNotice } from '../../parts/notice';
import type { Picture } from '../../viewport/renderer';
import { Viewport } from '../../viewport/viewport';
import { useDrawing } from './drawing-context';
import { ProofTable } from './proof-table';
import { Station } from './station';
import { usePreparedScene } from './use-scene';

type Compare = 'over' | 'wipe' | 'blink' | 'prepared' | 'delivered';

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
  const [delivered, setDelivered] = useState<Scene | null>(null);
  const [copy, setCopy] = useState<{ name: string; proof: Proof; bytes: ArrayBuffer } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [compare, setCompare] = useState<Compare>('over');
  const [wipe, setWipe] = useState(0.5);
  const [first, setFirst] = useState(true);
  const picker = useRef<HTMLInputElement>(null);
  const notice = useNotice();

  useEffect(() => setCopy(null), [id]);
  useEffect(() => {
    if (!worker || !delivery?.fileName || !prepared) return;
    let live = true;
    setDelivered(null);
    setFault(null);
    const load = async (): Promise<void> => {
      const bytes = copy ? copy.bytes.slice(0) : await getBytes(paths.deliveryFile(delivery.id));
      const scene = await worker.deliveredScene(Comlink.transfer(bytes, [bytes]), delivery.fileName!);
      if (live) setDelivered(scene);
    };
    load().catch((e: unknown) => live && setFault(e instanceof Error ? e.message : String(e)));
    return () => {
      live = false;
    };
    // A prepared scene must be there first: the worker scales the file to its unit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, delivery?.id, delivery?.fileName, copy, prepared !== null]);
  useEffect(() => {
    if (compare !== 'blink') return;
    const timer = setInterval(() => setFirst((f) => !f), 700);
    return () => clearInterval(timer);
  }, [compare]);

  const pictures = useMemo<Picture[]>(() => {
    const a = prepared && { scene: prepared.scene };
    const b = delivered && { scene: delivered };
    if (!a) return [];
    if (!b) return [a];
    if (compare === 'prepared') return [a];
    if (compare === 'delivered') return [b];
    if (compare === 'blink') return first ? [a] : [b];
    if (compare === 'wipe')
      return [
        { ...a, side: 'left' },
        { ...b, side: 'right' },
      ];
    return [
      { ...a, tint: [0.76, 0.32, 0.12] },
      { ...b, tint: [0.1, 0.33, 0.44] },
    ];
  }, [prepared, delivered, compare, first]);

  const check = async (file: File): Promise<void> => {
    try {
      const bytes = await file.arrayBuffer();
      const proof = await sendBytes<Proof>(paths.proofs(id!), file);
      setCopy({ name: file.name, proof, bytes });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };

  if (rows && !id) {
    return (
      <Station
        ready={prepared !== null}
        view={<Viewport pictures={pictures} unit={prepared?.unit ?? null} label={`Drawing ${drawing.name}`} />}
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
  const proof = copy?.proof ?? delivery?.proof ?? null;
  const stale =
    delivery && JSON.stringify([delivery.intake, delivery.steps]) !== JSON.stringify([drawing.intake, drawing.steps]);
  return (
    <Station
      ready={prepared !== null}
      view={
        <>
          <Viewport
            pictures={pictures}
            wipe={wipe}
            unit={prepared?.unit ?? null}
            label={`${drawing.name}, prepared and delivered laid over each other`}
            marks={(m) => (
              <>
                {compare === 'wipe' && (
                  <path d={`M${m.size.width * wipe} 0V${m.size.height}`} className="text-ink" stroke="currentColor" />
                )}
                {proof?.items.map((i) => {
                  if (!i.at) return null;
                  const [x, y] = m.screen(i.at.x, i.at.y);
                  return (
                    <circle
                      key={i.id}
                      cx={x}
                      cy={y}
                      r="12"
                      className="text-alarm"
                      fill="none"
                      stroke="currentColor"
                      strokeWidth="2"
                    />
                  );
                })}
              </>
            )}
          />
          <CompareBar compare={compare} onCompare={setCompare} wipe={wipe} onWipe={setWipe} />
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
      book={
        <>
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
            {stale && (
              <p className="mb-2 border-l-2 border-alarm pl-2 text-sm">
                Decisions or steps have changed since this was written. The numbers below are those of the file; the
                drawing shows what is decided now.
              </p>
            )}
            {proof && (
              <p className={`text-lg font-semibold ${proof.holds ? '' : 'text-alarm'}`} data-testid="verdict">
                {proof.holds ? 'The proof holds.' : 'The proof does not hold.'}
              </p>
            )}
            {proof && (
              <p className="text-sm text-quiet">
                {proof.holds
                  ? 'The source was held against what was prepared, and that against the file, read back. Every difference is accounted for.'
                  : 'Something is not as it should be, on the way from the source or in the file, and nothing that was asked for explains it.'}
              </p>
            )}
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
                  if (file) void check(file);
                  e.target.value = '';
                }}
              />
            </div>
          </Section>
          {proof && <ProofTable proof={proof} />}
        </>
      }
    />
  );
}

const COMPARISONS: [Compare, string][] = [
  ['over', 'Laid over'],
  ['wipe', 'Wipe'],
  ['blink', 'Blink'],
  ['prepared', 'Prepared'],
  ['delivered', 'Delivered'],
];

function CompareBar({
  compare,
  onCompare,
  wipe,
  onWipe,
}: {
  compare: Compare;
  onCompare: (c: Compare) => void;
  wipe: number;
  onWipe: (w: number) => void;
}) {
  return (
    <div className="absolute inset-x-3 top-3 flex items-center gap-4">
      <div className="flex border border-ink bg-paper" role="radiogroup" aria-label="How to compare">
        {COMPARISONS.map(([c, words]) => (
          <label
            key={c}
            className={`cursor-pointer border-r border-ink px-2.5 py-0.5 text-sm last:border-r-0 has-focus-visible:outline-2 has-focus-visible:outline-act ${compare === c ? 'bg-ink text-paper' : 'hover:bg-wash'}`}
          >
            <input
              type="radio"
              name="compare"
              className="sr-only"
              checked={compare === c}
              onChange={() => onCompare(c)}
            />
            {words}
          </label>
        ))}
      </div>
      {compare === 'wipe' && (
        <input
          type="range"
          min={0}
          max={1}
          step={0.005}
          value={wipe}
          aria-label="Where prepared and delivered meet"
          className="flex-1 accent-[var(--ink)]"
          onChange={(e) => onWipe(Number(e.target.value))}
        />
      )}
      {compare === 'over' && (
        <p className="flex items-center gap-3 bg-sheet/85 px-2 text-xs">
          <span className="flex items-center gap-1.5">
            <span className="h-[3px] w-5 bg-[#c2521f]" aria-hidden /> prepared, below
          </span>
          <span className="flex items-center gap-1.5">
            <span className="h-[3px] w-5 bg-[#1a5470]" aria-hidden /> delivered, on top
          </span>
        </p>
      )}
    </div>
  );
}
