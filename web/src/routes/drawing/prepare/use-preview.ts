import { useEffect, useRef, useState } from 'react';
import type { PlannedStep } from '@scalaria/core';
import { gatheredBy, takesReferencesIn } from '@scalaria/core';
import type { PreviewView } from '../../../workers/previewing';
import { useDrawing } from '../drawing-context';

/** A step that is being set: it, and the steps that come before it. */
export interface Draft {
  planned: PlannedStep;
  /** Where in the plan it goes, or is. */
  at: number;
  /** It is not in the plan yet. */
  isNew: boolean;
}

export interface Preview {
  view: PreviewView | null;
  busy: boolean;
  fault: string | null;
  stopped: boolean;
  stop: () => void;
  again: () => void;
}

/** How long nothing has to be turned before a step is tried. */
const PAUSE = 200;

/** Tries a draft whenever something of it is turned; the last answer stays in sight until the next comes. */
export function usePreview(draft: Draft | null): Preview {
  const { worker, drawing, stops, fonts, pictures, references } = useDrawing();
  const [view, setView] = useState<PreviewView | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [state, setState] = useState<'busy' | 'done' | 'stopped'>('busy');
  const [count, setCount] = useState(0);
  const running = useRef(0);
  const end = useRef<() => void>(() => {});
  const key = draft
    ? JSON.stringify([
        drawing.intake,
        drawing.steps.slice(0, draft.at),
        draft.planned,
        fonts.version,
        pictures.version,
        references.version,
      ])
    : null;
  const takesIn = draft !== null && takesReferencesIn([{ ...draft.planned, on: true }]);
  const { need } = references;
  const gathers = draft ? gatheredBy([{ ...draft.planned, on: true }]).join('\n') : '';
  useEffect(() => {
    if (gathers !== '') need(gathers.split('\n'));
  }, [gathers, need]);
  useEffect(() => {
    if (takesIn) need();
    // Asked once; asking again says nothing new.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [takesIn]);
  useEffect(() => {
    if (!worker || key === null || !draft) {
      setView(null);
      setFault(null);
      return;
    }
    let live = true;
    setState('busy');
    const before = drawing.steps.slice(0, draft.at);
    const wait = setTimeout(() => {
      const run = (running.current = stops.begin());
      worker.preview(drawing.intake, before, draft.planned, run).then(
        (v) => {
          if (!live) return;
          setView(v);
          setFault(null);
          setState('done');
        },
        (e: unknown) => {
          if (!live) return;
          setFault(e instanceof Error ? e.message : String(e));
          setState('done');
        },
      );
    }, PAUSE);
    const leave = (): void => {
      live = false;
      clearTimeout(wait);
      stops.stop(running.current);
    };
    end.current = () => {
      leave();
      setState('stopped');
    };
    return leave;
    // What the draft and the steps before it say is in the key.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, key, count]);
  const isOpen = key !== null;
  useEffect(() => {
    if (!isOpen || !worker) return;
    // Whoever leaves looks at the prepared drawing again.
    return () => void worker.endPreview();
  }, [isOpen, worker]);
  return {
    view,
    busy: state === 'busy',
    fault,
    stopped: state === 'stopped',
    stop: () => end.current(),
    again: () => setCount((n) => n + 1),
  };
}
