import { useContext, useEffect, useState } from 'react';
import * as Comlink from 'comlink';
import { onNight } from '@scalaria/core';
import { getBytes, sendJson } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import { Button } from '../../parts/button';
import { Choice } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { GroundName } from '../../parts/ground';
import { useNotice } from '../../parts/notice';
import { plainNumber } from '../../parts/numbers';
import { Working } from '../../parts/progress';
import type { PagePicture } from '../../workers/taking-in';
import { useDrawing } from './drawing-context';

/** Which page of a PDF is taken in, and what its letters come as. Only for files that have pages. */
export function usePageSection(): BookSection | null {
  const { drawing } = useDrawing();
  const { pageOf } = drawing.claims;
  if (!pageOf) return null;
  const letters = drawing.intake.letters === 'outlines' ? ', letters as outlines' : '';
  return {
    id: 'page',
    title: pageOf.of === 1 ? 'Page' : `Page ${pageOf.number} of ${pageOf.of}`,
    said: (pageOf.of === 1 ? 'the only one' : drawing.intake.fromPage ? 'chosen' : 'the first') + letters,
    body: () => <Pages />,
  };
}

/** So many pages are shown before more are asked for. */
const AT_ONCE = 12;

/** Pictures of the pages, which come one by one. */
function usePages(most: number): { pages: PagePicture[]; fault: string | null } {
  const { drawing, worker } = useDrawing();
  const [pages, setPages] = useState<PagePicture[]>([]);
  const [fault, setFault] = useState<string | null>(null);
  const first = pages.length + 1;
  useEffect(() => {
    const of = drawing.claims.pageOf?.of ?? 0;
    if (!worker || first > Math.min(most, of)) return;
    let live = true;
    const load = async (): Promise<void> => {
      const bytes = await getBytes(paths.drawingSource(drawing.id));
      if (!live) return;
      const onPage = Comlink.proxy((page: PagePicture) => {
        if (!live) return Promise.resolve(false);
        setPages((l) => (l.some((p) => p.number === page.number) ? l : [...l, page]));
        return Promise.resolve(page.number < most);
      });
      await worker.pages(Comlink.transfer(bytes, [bytes]), first, onPage);
    };
    load().catch((e: unknown) => live && setFault(e instanceof Error ? e.message : String(e)));
    return () => {
      live = false;
    };
    // What is there already is not asked for again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, drawing.id, most]);
  return { pages, fault };
}

function Pages() {
  const { drawing, decide } = useDrawing();
  const { mutate } = useJob(drawing.jobId);
  const notice = useNotice();
  const [most, setMost] = useState(AT_ONCE);
  const { pages, fault } = usePages(most);
  const [busy, setBusy] = useState<number | null>(null);
  const night = useContext(GroundName) === 'night';
  const { number: shown, of } = drawing.claims.pageOf!;
  const wanted = Math.min(most, of);
  const takeAlso = async (page: number): Promise<void> => {
    setBusy(page);
    try {
      await sendJson('POST', paths.drawingPages(drawing.id), { page });
      await mutate();
      notice({ text: `Page ${page} is a drawing of its own now.` });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
    setBusy(null);
  };
  return (
    <>
      {of > 1 && (
        <ul className="grid grid-cols-2 gap-2" aria-label="Pages">
          {pages.map((p) => (
            <li key={p.number} className={`border ${p.number === shown ? 'border-ink' : 'border-rule'}`}>
              <button
                type="button"
                aria-pressed={p.number === shown}
                aria-label={`Page ${p.number}`}
                onClick={() => decide({ fromPage: p.number }, `page ${p.number}`)}
                className="block w-full text-left hover:bg-wash"
              >
                <img
                  alt=""
                  src={`data:image/svg+xml,${encodeURIComponent(night ? onNight(p.svg) : p.svg)}`}
                  className="h-24 w-full border-b border-rule bg-sheet object-contain"
                />
                <span
                  className={`flex justify-between gap-2 px-1.5 py-0.5 text-sm ${p.number === shown ? 'bg-wash' : ''}`}
                >
                  <span>{p.number}</span>
                  <span className="num text-xs text-quiet">
                    {plainNumber(Math.round(p.size[0]))} × {plainNumber(Math.round(p.size[1]))} mm
                  </span>
                </span>
              </button>
              {p.number !== shown && (
                <span className="block px-1.5 pb-1 text-xs">
                  <Button
                    look="quiet"
                    className="text-xs"
                    disabled={busy !== null}
                    onClick={() => void takeAlso(p.number)}
                  >
                    Take in also
                  </Button>
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {fault && (
        <p className="text-alarm" role="alert">
          {fault}
        </p>
      )}
      {of > 1 && !fault && pages.length < wanted && (
        <Working label={`Looking at page ${pages.length + 1} of ${wanted}`} />
      )}
      {pages.length >= wanted && wanted < of && (
        <Button look="quiet" className="mt-1 text-sm" onClick={() => setMost(most + AT_ONCE)}>
          {Math.min(AT_ONCE, of - wanted)} more of {of}
        </Button>
      )}
      <Two
        title="Letters"
        name="letters"
        chosen={drawing.intake.letters ?? 'text'}
        options={[
          ['text', 'Letters as text'],
          ['outlines', 'Letters as the outlines in the file'],
        ]}
        onChoose={(letters) => decide({ letters }, `letters as ${letters}`)}
      />
      <Two
        title="Line widths"
        name="pens"
        chosen={drawing.intake.pens ?? 'paper'}
        options={[
          ['paper', 'Line widths stay those of the paper'],
          ['drawing', 'Line widths scale with the drawing'],
        ]}
        onChoose={(pens) => decide({ pens }, pens === 'paper' ? 'line widths of the paper' : 'line widths scale')}
      />
    </>
  );
}

/** One of two, in words. */
const Two = <T extends string>({
  title,
  name,
  chosen,
  options,
  onChoose,
}: {
  title: string;
  name: string;
  chosen: T;
  options: readonly (readonly [T, string])[];
  onChoose: (value: T) => void;
}) => (
  <div role="radiogroup" aria-label={title} className="mt-2">
    {options.map(([value, words]) => (
      <Choice key={value} name={name} checked={chosen === value} onChange={() => onChoose(value)}>
        {words}
      </Choice>
    ))}
  </div>
);
