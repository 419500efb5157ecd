import { Choice } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { settledLength } from './take-in-math';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.planeReport();

/** Whether everything keeps its plane or is laid flat, and what that would change. */
export function usePlaneSection(): BookSection | null {
  const { drawing, decide } = useDrawing();
  const report = useAsked(ask);
  const { scale, unit } = settledLength(drawing.claims, drawing.intake);
  const plane = drawing.intake.plane ?? 'keep';
  const flat = report?.changed === 0;
  if (!report || (flat && plane === 'keep')) return null;
  const length = (v: number): string => `${plainNumber(v * scale, 6)}${unit ? ` ${unit}` : ''}`;
  const many = report.changed === 1 ? '1 object' : `${plainNumber(report.changed)} objects`;
  return {
    id: 'plane',
    title: 'Plane',
    said: plane === 'flat' ? 'dropped onto XY' : `${many} off the XY plane`,
    body: () => (
      <>
        <div role="radiogroup" aria-label="Plane">
          <Choice name="plane" checked={plane === 'keep'} onChange={() => decide({ plane: 'keep' }, 'planes kept')}>
            <span>Keep all planes</span>
          </Choice>
          <Choice name="plane" checked={plane === 'flat'} onChange={() => decide({ plane: 'flat' }, 'laid flat')}>
            <span>Drop straight down onto XY</span>
          </Choice>
        </div>
        <p className="mt-1 text-sm text-quiet">
          Dropping moves or turns {many}, by up to {length(report.farthest)}
          {report.shorter > 0
            ? `; ${plainNumber(report.shorter)} of them become shorter, by up to ${plainNumber(100 * report.lost, 3)} %.`
            : '; no length changes.'}
        </p>
      </>
    ),
  };
}
