import { useEffect, useState } from 'react';
import type { Scene } from '@scalaria/core';
import { plainNumber } from '../../parts/numbers';
import type { DifferingScenes } from '../../workers/scenes';
import type { DrawingState } from './drawing-context';
import { useDrawing } from './drawing-context';

/** What differs between the prepared drawing and the file, looked for when it is `wanted`, and what came of it in words. */
export function useDiffering(
  worker: DrawingState['worker'],
  delivered: Scene | null,
  wanted: boolean,
): { scenes: DifferingScenes | null; said: string | null } {
  const { drawing } = useDrawing();
  const [made, setMade] = useState<{ of: Scene; scenes: DifferingScenes | null; fault?: string } | null>(null);
  const known = made?.of === delivered ? made : null;
  useEffect(() => {
    if (!wanted || !worker || !delivered || known) return;
    let live = true;
    worker.differing().then(
      (scenes) => live && setMade({ of: delivered, scenes }),
      (e: unknown) =>
        live && setMade({ of: delivered, scenes: null, fault: e instanceof Error ? e.message : String(e) }),
    );
    return () => {
      live = false;
    };
  }, [wanted, worker, delivered, known]);
  const scenes = known?.scenes ?? null;
  const unit = drawing.intake.unit ?? drawing.unit ?? 'units';
  const within = scenes ? `${plainNumber(scenes.limit, 2)} ${unit}` : '';
  return {
    scenes,
    said:
      known?.fault ??
      (!scenes
        ? 'Looking for differences …'
        : scenes.count === 0
          ? `No line differs by more than ${within}.`
          : `${scenes.count === 1 ? '1 piece of line differs' : `${plainNumber(scenes.count)} pieces of line differ`} by more than ${within}.`),
  };
}
