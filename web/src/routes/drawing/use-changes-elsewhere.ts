import { useEffect, useRef } from 'react';
import type { KeyedMutator } from 'swr';
import { differenceInWords } from '../../api/drawing-changes';
import { useSeen } from '../../api/hooks';
import type { DrawingDetail } from '../../api/types';
import { useNotice } from '../../parts/notice';

/** How long a change seen elsewhere is left alone, in ms: one's own is answered by then. */
const SETTLED = 1000;

/**
 * Looks again and again whether another window changed the drawing; then it is fetched anew, and what changed is said. `isBusy`
 * tells whether changes of this window are under way: they go first.
 */
export function useChangesElsewhere(
  id: string,
  drawing: DrawingDetail | undefined,
  mutate: KeyedMutator<DrawingDetail>,
  isBusy: () => boolean,
): void {
  const { data } = useSeen(id);
  const notice = useNotice();
  const shown = useRef(drawing);
  shown.current = drawing;
  useEffect(() => {
    if (!data) return;
    const isOther = (here: DrawingDetail): boolean =>
      data.seen > here.seen || data.revision > here.revision || data.deleted !== here.deleted;
    if (!shown.current || !isOther(shown.current)) return;
    const timer = setTimeout(() => {
      const here = shown.current;
      if (!here || isBusy() || !isOther(here)) return;
      if (data.deleted !== here.deleted)
        notice({ text: data.deleted ? 'This drawing was deleted.' : 'This drawing was put back.' });
      void mutate().then((now) => {
        if (!now || isBusy()) return;
        if (now.revision > here.revision)
          notice({ text: `Revision ${now.revision} was taken in in another window; it is shown now.` });
        const words = differenceInWords(here, now);
        if (words) notice({ text: `Changed in another window: ${words}.` });
      });
    }, SETTLED);
    return () => clearTimeout(timer);
  }, [data, mutate, notice, isBusy]);
}
