import { useEffect, useState } from 'react';
import type { Remote } from 'comlink';
import type { DrawingWorker } from '../../workers/drawing.worker';
import { useDrawing } from './drawing-context';

export type Asking = Remote<DrawingWorker>;

/**
 * What the worker answers to one question about the drawing as it came, once the drawing is in sight; `null` until then.
 * `ask` must be the same function each time, such as one outside the component.
 */
export function useAsked<T>(ask: (worker: Asking) => Promise<T>): T | null {
  const { free } = useDrawing();
  const [answer, setAnswer] = useState<T | null>(null);
  useEffect(() => {
    if (!free) return;
    let live = true;
    // A worker that ended has nothing more to say, and nobody waits for it.
    ask(free).then(
      (a) => live && setAnswer(a),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [free, ask]);
  return answer;
}
