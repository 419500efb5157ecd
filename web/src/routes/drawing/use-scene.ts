import { useEffect, useState } from 'react';
import type { ArtDecisions, LedgerRow, Scene } from '@scalaria/core';
import { useDrawing } from './drawing-context';

export interface PreparedScene {
  scene: Scene;
  ledger: LedgerRow[];
  unit: string | null;
}

/** The drawing as it came, y upwards: model space, or one of its sheets. */
export function useSourceScene(sheet?: string): Scene | null {
  const { worker, drawing, fonts } = useDrawing();
  const art = JSON.stringify(drawing.intake.art ?? null);
  const [scene, setScene] = useState<Scene | null>(null);
  useEffect(() => {
    if (!worker) return;
    let live = true;
    worker.sourceScene((JSON.parse(art) as ArtDecisions | null) ?? undefined, sheet).then(
      (s) => live && setScene(s),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [worker, sheet, art, fonts.version]);
  return scene;
}

/** The drawing after decisions and steps; the last one stays in sight while the next is made. */
export function usePreparedScene(): { prepared: PreparedScene | null; fault: string | null } {
  const { worker, drawing, fonts } = useDrawing();
  const [prepared, setPrepared] = useState<PreparedScene | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const key = JSON.stringify([drawing.intake, drawing.steps, fonts.version]);
  useEffect(() => {
    if (!worker) return;
    let live = true;
    worker.preparedScene(drawing.intake, drawing.steps).then(
      (p) => {
        if (!live) return;
        setPrepared(p);
        setFault(null);
      },
      (e: unknown) => live && setFault(e instanceof Error ? e.message : String(e)),
    );
    return () => {
      live = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, key]);
  return { prepared, fault };
}
