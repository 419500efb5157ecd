import { Choice, Fold } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { settledLength } from './take-in-math';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.planeReport();

/** Whether everything keeps its plane or is laid flat, and what that would change. */
export function PlaneSection() {
  const { drawing, decide } = useDrawing();
  const report = useAsked(ask);
  const { scale, unit } = settledLength(drawing.claims, drawing.intake);
  const plane = drawing.intake.plane ?? 'keep';
  const flat = report?.changed === 0;
  if (!report || (flat && plane === 'keep')) return null;
  const length = (v: number): string => `${plainNumber(v * scale, 6)}${unit ? ` ${unit}` : ''}`;
  return (
    <Fold title="Plane" said={plane === 'flat' ? 'laid flat onto XY' : `${plainNumber(report.changed)} off the plane`}>
      <div role="radiogroup" aria-label="Plane">
        <Choice name="plane" checked={plane === 'keep'} onChange={() => decide({ plane: 'keep' }, 'planes kept')}>
          <span>Everything keeps its plane</span>
        </Choice>
        <Choice name="plane" checked={plane === 'flat'} onChange={() => decide({ plane: 'flat' }, 'laid flat')}>
          <span>Laid straight down onto XY</span>
        </Choice>
      </div>
      <p className="mt-1 text-sm text-quiet">
        Laid flat, {plainNumber(report.changed)} {report.changed === 1 ? 'entity comes' : 'entities come'} down or turn,
        the farthest by {length(report.farthest)}
        {report.shorter > 0
          ? `; ${plainNumber(report.shorter)} of them come out shorter, by up to ${plainNumber(100 * report.lost, 3)} %.`
          : '; no length changes.'}
      </p>
    </Fold>
  );
}
