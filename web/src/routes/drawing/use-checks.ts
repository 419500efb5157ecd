import { useEffect, useRef, useState } from 'react';
import * as Comlink from 'comlink';
import type { Remote } from 'comlink';
import type { CheckSettings, Finding, Purpose } from '@scalaria/core';
import type { DrawingWorker } from '../../workers/drawing.worker';
import { WORSE, worstOf } from './finding-words';
import type { PreparedScene } from './use-scene';

export interface CheckRun {
  /** What each check that is done found. */
  byCheck: ReadonlyMap<string, Finding[]>;
  /** The worst that each check found while this page is open, under the settings the drawing was first looked at with. */
  first: ReadonlyMap<string, Finding['severity']>;
  /** How many checks are done. */
  checked: number;
  done: boolean;
  stopped: boolean;
  stop: () => void;
  again: () => void;
}

/** The run that the list is ordered by. */
interface First {
  of: PreparedScene | null;
  under: CheckSettings | null;
  found: ReadonlyMap<string, Finding['severity']>;
  purpose: Purpose;
}

const NOTHING: ReadonlyMap<string, Finding[]> = new Map();
const NONE: ReadonlyMap<string, Finding['severity']> = new Map();

/** Checks the prepared drawing in the worker, check by check; anew when it or a threshold changes. */
export function useChecks(
  worker: Remote<DrawingWorker> | null,
  prepared: PreparedScene | null,
  settings: CheckSettings,
  purpose: Purpose,
): CheckRun {
  const [byCheck, setByCheck] = useState(NOTHING);
  const [first, setFirst] = useState<First>({ of: null, under: null, found: NONE, purpose });
  const [state, setState] = useState<'running' | 'done' | 'stopped'>('running');
  const [count, setCount] = useState(0);
  const [checked, setChecked] = useState(0);
  const last = useRef<{ of: PreparedScene; purpose: Purpose } | null>(null);
  useEffect(() => {
    if (!worker || !prepared) return;
    let live = true;
    setState('running');
    setChecked(0);
    // What was found under other settings stays until it is found anew.
    if (last.current?.of !== prepared || last.current.purpose !== purpose) setByCheck(NOTHING);
    last.current = { of: prepared, purpose };
    const onChecked = Comlink.proxy((id: string, found: Finding[]) => {
      if (!live) return;
      setByCheck((m) => new Map(m).set(id, found));
      setChecked((n) => n + 1);
      setFirst((was) => {
        // While settings are turned the list stands still.
        const same = was.of === prepared && was.purpose === purpose;
        if (same && was.under !== settings) return was;
        // What was mended stays in its place too, and says that nothing is found there any more.
        const before = was.purpose === purpose ? was.found : NONE;
        const worst = worstOf(found);
        const known = before.get(id);
        const moves = worst !== null && (known === undefined || WORSE[worst] < WORSE[known]);
        return { of: prepared, under: settings, purpose, found: moves ? new Map(before).set(id, worst) : before };
      });
    });
    worker.checks(settings, onChecked, purpose).then(
      (whole) => {
        if (live && whole) setState('done');
      },
      () => {},
    );
    return () => {
      live = false;
      void worker.stopChecks();
    };
  }, [worker, prepared, settings, purpose, count]);
  return {
    byCheck,
    first: first.found,
    checked,
    done: state === 'done',
    stopped: state === 'stopped',
    stop: () => {
      setState('stopped');
      void worker?.stopChecks();
    },
    again: () => setCount((n) => n + 1),
  };
}
