import { useEffect, useState } from 'react';
import type { FontUse } from '@scalaria/core';
import { useDrawing } from './drawing-context';

/** The fonts that the drawing asks for, and the families there are; `null` until the worker has told. */
export function useFontUses(): { uses: FontUse[]; families: string[] } | null {
  const { worker, fonts } = useDrawing();
  const [told, setTold] = useState<{ uses: FontUse[]; families: string[] } | null>(null);
  useEffect(() => {
    if (!worker) return;
    let live = true;
    worker.fontUses().then(
      (t) => live && setTold(t),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [worker, fonts.version]);
  return told;
}
