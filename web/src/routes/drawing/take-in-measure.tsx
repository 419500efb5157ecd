import { useState } from 'react';
import type { UnitName } from '@scalaria/core';
import { COMMON_UNITS, conversion } from '@scalaria/core';
import { Button } from '../../parts/button';
import { NumberField, Section, Select } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import type { Place, Tool } from './take-in';
import { lengthIn, settledLength } from './take-in-math';

/** Measure between two points; type the true length to set the scale. */
export function MeasureSection({
  tool,
  onTool,
  points,
  onClear,
}: {
  tool: Tool;
  onTool: (t: Tool) => void;
  points: Place[];
  onClear: () => void;
}) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const settled = settledLength(claims, intake);
  const [trueUnit, setTrueUnit] = useState<UnitName | null>(null);
  const [a, b] = points;
  const raw = a && b ? Math.hypot(a.x - b.x, a.y - b.y) : null;
  const unit = trueUnit ?? settled.unit ?? 'mm';

  const setTrue = (length: number): void => {
    if (!raw || !settled.unit) return;
    // Against what the coordinates alone say, so that setting it twice does not add up.
    const now = raw * (settled.scale / intake.correction);
    const correction = (length * conversion(unit, settled.unit)) / now;
    decide({ correction }, `true length ${length} ${unit}`);
  };
  return (
    <Section
      title="Known length"
      aside={
        <Button look="quiet" onClick={() => onTool(tool === 'measure' ? 'none' : 'measure')}>
          {tool === 'measure' ? 'Stop measuring' : 'Measure'}
        </Button>
      }
    >
      {raw === null ? (
        <p className="text-quiet">
          Measure one thing whose true size you know: click two points of the drawing. Points snap to ends, middles and
          centres.
        </p>
      ) : (
        <div data-testid="measured">
          <dl className="num grid grid-cols-[auto_1fr] gap-x-3">
            <dt className="text-quiet">coordinates</dt>
            <dd data-testid="measured-raw">{plainNumber(raw, 9)}</dd>
            {lengthIn(claims, intake, raw, COMMON_UNITS).map(([u, v]) => (
              <div key={u} className="contents">
                <dt className="text-quiet">{u}</dt>
                <dd>{plainNumber(v, 9)}</dd>
              </div>
            ))}
          </dl>
          {settled.unit ? (
            <div className="mt-2 flex items-end gap-2">
              <NumberField label="Its true length" value={null} above={0} onChange={setTrue} />
              <Select
                label="Unit of the true length"
                hideLabel
                value={unit}
                options={COMMON_UNITS.map((u) => [u, u] as const)}
                onChange={setTrueUnit}
              />
            </div>
          ) : (
            <p className="mt-2 text-alarm">Decide the unit first; then its true length can be typed here.</p>
          )}
          <Button look="quiet" className="mt-1 text-sm" onClick={onClear}>
            Clear the measurement
          </Button>
        </div>
      )}
      {intake.correction !== 1 && (
        <p className="mt-2">
          Scaled by <span className="num">{plainNumber(intake.correction, 9)}</span>.{' '}
          <Button look="quiet" onClick={() => decide({ correction: 1 }, 'scale taken back')}>
            Take the scale back
          </Button>
        </p>
      )}
    </Section>
  );
}
