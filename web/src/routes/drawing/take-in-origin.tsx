import type { IntakeDecisions } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Choice, Section } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { originOnSource, settledLength } from './take-in-math';

type Mode = IntakeDecisions['origin']['mode'];

/** Where (0, 0) will be. */
export function OriginSection({
  picking,
  onPick,
  onStop,
}: {
  picking: boolean;
  onPick: () => void;
  onStop: () => void;
}) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const { scale, unit } = settledLength(claims, intake);
  const modes: [Mode, string][] = [
    ['keep', 'As it is'],
    ...(claims.page ? ([['page', 'Lower left of the page']] as [Mode, string][]) : []),
    ['lowerLeft', 'Lower left of what is drawn'],
    ['centre', 'Centre of what is drawn'],
  ];
  const at = (mode: Mode): string => {
    const p = originOnSource(claims, { ...intake, origin: { mode, x: intake.origin.x, y: intake.origin.y } });
    return p ? `${plainNumber(p[0] * scale)}, ${plainNumber(p[1] * scale)}` : '–';
  };
  return (
    <Section
      title="Origin"
      aside={<span className="text-sm text-quiet">{unit ? `in ${unit}` : 'in coordinates'}</span>}
    >
      <div role="radiogroup" aria-label="Origin">
        {modes.map(([mode, words]) => (
          <Choice
            key={mode}
            name="origin"
            checked={intake.origin.mode === mode}
            onChange={() => decide({ origin: { mode, x: 0, y: 0 } }, `origin: ${words.toLowerCase()}`)}
          >
            <span>{words}</span>
            <span className="num text-quiet">{at(mode)}</span>
          </Choice>
        ))}
        <Choice name="origin" checked={intake.origin.mode === 'point'} onChange={onPick}>
          <span>A picked point</span>
          <span className="num text-quiet">{intake.origin.mode === 'point' ? at('point') : ''}</span>
        </Choice>
      </div>
      <Button className="mt-2" onClick={picking ? onStop : onPick}>
        {picking ? 'Stop picking' : 'Pick a point'}
      </Button>
    </Section>
  );
}
