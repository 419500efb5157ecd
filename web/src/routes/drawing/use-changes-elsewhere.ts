import { useEffect, useRef } from 'react';
import type { KeyedMutator } from 'swr';
import { differenceInWords } from '../../api/drawing-changes';
import { useSeen } from '../../api/hooks';
import type { DrawingDetail } from '../../api/types';
import { useNotice } from '../../parts/notice';

/** Looks again and again whether another window changed the drawing; then it is fetched anew, and what changed is said. */
export function useChangesElsewhere(
  id: string,
  drawing: DrawingDetail | undefined,
  mutate: KeyedMutator<DrawingDetail>,
): void {
  const { data } = useSeen(id);
  const notice = useNotice();
  const shown = useRef(drawing);
  shown.current = drawing;
  useEffect(() => {
    const here = shown.current;
    if (!data || !here) return;
    if (data.deleted !== here.deleted)
      notice({ text: data.deleted ? 'This drawing was deleted.' : 'This drawing was put back.' });
    const newer = data.revision > here.revision;
    if (data.seen <= here.seen && !newer && data.deleted === here.deleted) return;
    void mutate().then((now) => {
      if (!now) return;
      if (newer) notice({ text: `Revision ${now.revision} was taken in in another window; it is shown now.` });
      const words = differenceInWords(here, now);
      if (words) notice({ text: `Changed in another window: ${words}.` });
    });
  }, [data, mutate, notice]);
}
