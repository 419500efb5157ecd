import { useEffect, useState } from 'react';
import * as Comlink from 'comlink';
import type { IntakeDecisions, LedgerRow, Scene } from '@scalaria/core';
import { useDrawing } from './drawing-context';

export interface PreparedScene {
  scene: Scene;
  ledger: LedgerRow[];
  unit: string | null;
  /** The step that could not be run, and why: the drawing is as it is before that. */
  failed: { step: string; message: string } | null;
}

/** The drawing as it came, y upwards: model space, or one of its sheets. */
export function useSourceScene(sheet?: string): { scene: Scene | null; rough: boolean } {
  const { worker, drawing, fonts, pictures, onSeen } = useDrawing();
  const { art, under } = drawing.intake;
  const decided = JSON.stringify({ ...(art && { art }), ...(under && { under }) });
  const [{ scene, rough }, setScene] = useState<{ scene: Scene | null; rough: boolean }>({ scene: null, rough: false });
  useEffect(() => {
    if (!worker) return;
    let live = true;
    let whole = false;
    // A large drawing is seen roughly first.
    const onDraft = Comlink.proxy((s: Scene) => void (live && !whole && setScene({ scene: s, rough: true })));
    worker.sourceScene(JSON.parse(decided) as Pick<IntakeDecisions, 'art' | 'under'>, sheet, onDraft).then(
      (s) => {
        if (!live) return;
        whole = true;
        setScene({ scene: s, rough: false });
        onSeen();
      },
      () => {},
    );
    return () => {
      live = false;
    };
  }, [worker, sheet, decided, fonts.version, pictures.version, onSeen]);
  return { scene, rough };
}

/** The drawing after decisions and steps, or the first so many of them; the last one stays in sight while the next is made. */
export function usePreparedScene(count?: number): { prepared: PreparedScene | null; fault: string | null } {
  const { worker, drawing, fonts, pictures, references, onSeen } = useDrawing();
  const [prepared, setPrepared] = useState<PreparedScene | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const key = JSON.stringify([
    drawing.intake,
    drawing.steps,
    count,
    fonts.version,
    pictures.version,
    references.version,
  ]);
  useEffect(() => {
    if (!worker) return;
    let live = true;
    worker.preparedScene(drawing.intake, drawing.steps, count).then(
      (p) => {
        if (!live) return;
        setPrepared(p);
        setFault(null);
        onSeen();
      },
      (e: unknown) => {
        if (live) setFault(e instanceof Error ? e.message : String(e));
        onSeen();
      },
    );
    return () => {
      live = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, key]);
  return { prepared, fault };
}
