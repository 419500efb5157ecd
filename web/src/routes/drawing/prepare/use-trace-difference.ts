import { useEffect, useState } from 'react';
import { useGround } from '../../../parts/ground';
import { plainNumber } from '../../../parts/numbers';
import type { TraceDifferenceView } from '../../../workers/previewing';
import { useDrawing } from '../drawing-context';
import type { Preview } from './use-preview';

/** What differs between pictures that a step traces and what comes of them, asked for only while it is looked at. */
export function useTraceDifference(
  preview: Preview,
  wanted: boolean,
): { view: TraceDifferenceView | null; said: string | null } {
  const { worker } = useDrawing();
  const { tints } = useGround();
  const [found, setFound] = useState<{ of: unknown; view: TraceDifferenceView } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const of = preview.view;
  useEffect(() => {
    if (!worker || !wanted || !of) return;
    let live = true;
    setFault(null);
    const [common, first, second] = [tints.common, tints.first, tints.second].map(packed) as [number, number, number];
    worker.traceDifference({ common, first, second }).then(
      (view) => live && setFound({ of, view }),
      (e: unknown) => live && setFault(e instanceof Error ? e.message : String(e)),
    );
    return () => {
      live = false;
    };
  }, [worker, wanted, of, tints]);
  const view = wanted && found && found.of === of ? found.view : null;
  return { view, said: wanted ? (fault ?? (view ? words(view) : 'Working out what differs …')) : null };
}

const packed = (rgb: readonly [number, number, number]): number =>
  rgb.reduce((n, v) => n * 256 + Math.round(255 * v), 0);

/** What differs, in words. */
export function words({ pixels, other, why }: Pick<TraceDifferenceView, 'pixels' | 'other' | 'why'>): string {
  const not = why.length > 0 ? `Not compared: ${[...new Set(why)].join('; ')}` : '';
  if (pixels === 0) return not || 'No picture was traced';
  const share = Number(((100 * other) / pixels).toPrecision(2));
  const said =
    other === 0
      ? `All ${plainNumber(pixels)} pixels are of the same area`
      : `${plainNumber(other)} of ${plainNumber(pixels)} pixels are of another area: ${share} %`;
  return [said, not].filter(Boolean).join('. ');
}
