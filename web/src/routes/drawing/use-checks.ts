import { useEffect, useRef, useState } from 'react';
import * as Comlink from 'comlink';
import type { Remote } from 'comlink';
import type { CheckSettings, Finding } from '@scalaria/core';
import type { DrawingWorker } from '../../workers/drawing.worker';
import type { PreparedScene } from './use-scene';

export interface CheckRun {
  /** What each check that is done found. */
  byCheck: ReadonlyMap<string, Finding[]>;
  /** Which checks found something in the drawing at hand, under the settings it was first looked at with. */
  first: ReadonlySet<string>;
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
  found: ReadonlySet<string>;
}

const NOTHING: ReadonlyMap<string, Finding[]> = new Map();
const NONE: ReadonlySet<string> = new Set();

/** Checks the prepared drawing in the worker, check by check; anew when it or a threshold changes. */
export function useChecks(
  worker: Remote<DrawingWorker> | null,
  prepared: PreparedScene | null,
  settings: CheckSettings,
): CheckRun {
  const [byCheck, setByCheck] = useState(NOTHING);
  const [first, setFirst] = useState<First>({ of: null, under: null, found: NONE });
  const [state, setState] = useState<'running' | 'done' | 'stopped'>('running');
  const [count, setCount] = useState(0);
  const [checked, setChecked] = useState(0);
  const last = useRef<PreparedScene | null>(null);
  useEffect(() => {
    if (!worker || !prepared) return;
    let live = true;
    setState('running');
    setChecked(0);
    // What was found under other settings stays until it is found anew.
    if (last.current !== prepared) setByCheck(NOTHING);
    last.current = prepared;
    const onChecked = Comlink.proxy((id: string, found: Finding[]) => {
      if (!live) return;
      setByCheck((m) => new Map(m).set(id, found));
      setChecked((n) => n + 1);
      setFirst((was) => {
        // While settings are turned the list stands still.
        if (was.of === prepared && was.under !== settings) return was;
        const before = was.of === prepared ? was.found : NONE;
        return { of: prepared, under: settings, found: found.length > 0 ? new Set(before).add(id) : before };
      });
    });
    worker.checks(settings, onChecked).then(
      (whole) => {
        if (live && whole) setState('done');
      },
      () => {},
    );
    return () => {
      live = false;
      void worker.stopChecks();
    };
  }, [worker, prepared, settings, count]);
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
