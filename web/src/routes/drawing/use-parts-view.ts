import { useEffect, useRef, useState } from 'react';
import type { Kept } from '@scalaria/core';
import type { PartsView } from '../../workers/part-views';
import { useDrawing } from './drawing-context';

/** How long nothing has to be turned before parts are found anew. */
const PAUSE = 250;

/** The parts of the drawing at hand by rules, found anew whenever these are turned; the last stay in sight meanwhile. */
export function usePartsView(rules: Kept | undefined): { view: PartsView | null; busy: boolean; fault: string | null } {
  const { worker, drawing, stops, onSeen, fonts, pictures, references } = useDrawing();
  const [view, setView] = useState<PartsView | null>(null);
  const [busy, setBusy] = useState(true);
  const [fault, setFault] = useState<string | null>(null);
  const first = useRef(true);
  const key =
    rules &&
    JSON.stringify([drawing.intake, drawing.steps, rules, fonts.version, pictures.version, references.version]);
  useEffect(() => {
    if (!worker || !key) return;
    let live = true;
    let run = 0;
    setBusy(true);
    const wait = setTimeout(
      () => {
        first.current = false;
        run = stops.begin();
        worker.partsView(drawing.intake, drawing.steps, rules, run).then(
          (v) => {
            if (!live) return;
            setView(v);
            setFault(null);
            setBusy(false);
            onSeen();
          },
          (e: unknown) => {
            if (!live) return;
            setFault(e instanceof Error ? e.message : String(e));
            setBusy(false);
            onSeen();
          },
        );
      },
      first.current ? 0 : PAUSE,
    );
    return () => {
      live = false;
      clearTimeout(wait);
      if (run > 0) stops.stop(run);
    };
    // What is decided and asked is in the key.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, key, onSeen]);
  return { view, busy, fault };
}
