import { useState } from 'react';
import type { UnitName } from '@scalaria/core';
import { COMMON_UNITS, conversion } from '@scalaria/core';
import { Button } from '../../parts/button';
import { NumberField, Select } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { settledLength } from './take-in-math';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';
import { MeasuredSection } from './view/measured-section';
import type { Tools } from './view/use-tools';

/** Measure one thing of known size; its true length or diameter sets the scale. */
export function useKnownSection(tools: Tools): BookSection {
  const { correction } = useDrawing().drawing.intake;
  return {
    id: 'known',
    title: 'Known size',
    said: correction === 1 ? 'none measured' : `scaled by ${plainNumber(correction, 9)}`,
    body: () => <KnownSize tools={tools} />,
  };
}

/** What was measured, with its true size to be typed. */
export function MeasuredTrue({ tools }: { tools: Tools }) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const settled = settledLength(claims, intake);
  const [trueUnit, setTrueUnit] = useState<UnitName | null>(null);
  const { measured } = tools;
  const [a, b] = measured?.points ?? [];
  const round = measured?.tool === 'curve' ? measured.curve?.round : null;
  const raw =
    measured?.tool === 'distance' && a && b ? Math.hypot(a.x - b.x, a.y - b.y) : round ? 2 * round.radius : null;
  const what = round ? 'diameter' : 'length';
  const unit = trueUnit ?? settled.unit ?? 'mm';

  const setTrue = (length: number): void => {
    if (!raw || !settled.unit) return;
    // Against what the coordinates alone say, so that setting it twice does not add up.
    const now = raw * (settled.scale / intake.correction);
    const correction = (length * conversion(unit, settled.unit)) / now;
    decide({ correction }, `true ${what} ${length} ${unit}`);
  };
  return (
    <MeasuredSection tools={tools} figures={{ unit: settled.unit, scale: settled.scale }}>
      {raw !== null &&
        (settled.unit ? (
          <div className="mt-2 flex items-end gap-2">
            <NumberField label={`True ${what}`} value={null} above={0} onChange={setTrue} />
            <Select
              label="Unit of the true size"
              hideLabel
              value={unit}
              options={COMMON_UNITS.map((u) => [u, u] as const)}
              onChange={setTrueUnit}
            />
          </div>
        ) : (
          <p className="mt-2 text-alarm">Choose the unit first; then the true {what} can be typed here.</p>
        ))}
    </MeasuredSection>
  );
}

const askScale = (w: Asking) => w.scaleEvidence();

/** The scale that a page shows something at: stated, or taken by what is evidence for it. */
function StatedScale() {
  const { drawing, decide } = useDrawing();
  const { correction } = drawing.intake;
  const found = useAsked(askScale) ?? [];
  const state = (scale: number): void => decide({ correction: scale }, `scale 1 : ${scale}`);
  return (
    <>
      <div className="mt-3">
        <NumberField
          label="The page shows it at 1 :"
          value={Number.isInteger(correction) ? correction : null}
          above={0}
          onChange={state}
        />
      </div>
      {found.length > 0 && (
        <ul className="mt-2 border-l-2 border-act pl-2 text-sm" aria-label="Evidence for a scale">
          {found.slice(0, 3).map((f) => (
            <li key={f.scale} className="flex items-baseline justify-between gap-2">
              <span>
                <b className="num">1 : {f.scale}</b> <span className="text-quiet">{f.reasons.join('; ')}</span>
              </span>
              {correction !== f.scale && (
                <Button look="quiet" onClick={() => state(f.scale)}>
                  Use 1 : {f.scale}
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function KnownSize({ tools }: { tools: Tools }) {
  const { drawing, decide } = useDrawing();
  const { correction } = drawing.intake;
  return (
    <>
      {!tools.measured && (
        <p className="text-sm text-quiet">
          Measure something of known true size, a length or the diameter of a hole. Points snap to ends, middles,
          centres and crossings.
        </p>
      )}
      <div className="mt-1 flex gap-2">
        <Button onClick={() => tools.setTool('distance')}>Measure a length</Button>
        <Button onClick={() => tools.setTool('curve')}>Measure a diameter</Button>
      </div>
      {drawing.claims.pageOf && <StatedScale />}
      {correction !== 1 && (
        <p className="mt-2">
          Scaled by <span className="num">{plainNumber(correction, 9)}</span>.{' '}
          <Button look="quiet" onClick={() => decide({ correction: 1 }, 'scale taken back')}>
            Take the scale back
          </Button>
        </p>
      )}
    </>
  );
}
