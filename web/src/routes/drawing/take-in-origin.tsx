import type { IntakeDecisions } from '@scalaria/core';
import { conversion, decidedOf, traitsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { getJson } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { DrawingDetail } from '../../api/types';
import { Choice, NumberField, Select } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { useNotice } from '../../parts/notice';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { originOnSource, settledLength } from './take-in-math';

type Mode = IntakeDecisions['origin']['mode'];

interface Picking {
  picking: boolean;
  onPick: () => void;
  onStop: () => void;
}

/** Where (0, 0) will be. */
export function useOriginSection(picking: Picking): BookSection {
  const { drawing } = useDrawing();
  return {
    id: 'origin',
    title: 'Origin',
    said: decidedOf(drawing.intake).find((d) => d.name === 'origin')?.words ?? 'as in the file',
    body: () => <Origin {...picking} />,
  };
}

function Origin({ picking, onPick, onStop }: Picking) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const { scale, unit } = settledLength(claims, intake);
  const modes: [Mode, string][] = [
    ['keep', 'As in the file'],
    ...(claims.page ? ([['page', 'Lower left of the page']] as [Mode, string][]) : []),
    ['lowerLeft', 'Lower left of the drawing'],
    ['centre', 'Centre of the drawing'],
  ];
  const at = (mode: Mode): string => {
    const p = originOnSource(claims, { ...intake, origin: { mode, x: intake.origin.x, y: intake.origin.y } });
    return p ? `${plainNumber(p[0] * scale)}, ${plainNumber(p[1] * scale)}` : '–';
  };
  const mine = originOnSource(claims, intake);
  const typed = intake.origin.mode === 'point' && mine ? [mine[0] * scale, mine[1] * scale] : null;
  const type = (x: number | null, y: number | null): void =>
    decide({ origin: { mode: 'point', x: x ?? typed?.[0] ?? 0, y: y ?? typed?.[1] ?? 0 } }, 'origin typed');
  const b = claims.bounds;
  const far = b && Math.hypot((b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2);
  return (
    <>
      <p className="text-sm text-quiet">{unit ? `Coordinates in ${unit}` : 'In the coordinates of the file'}</p>
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
      <div className="mt-2 flex items-end gap-2">
        <Button onClick={picking ? onStop : onPick}>{picking ? 'Stop picking' : 'Pick a point'}</Button>
        <span className="pb-1 text-sm text-quiet">or</span>
        <NumberField label="x" width="w-20" value={typed?.[0] ?? null} onChange={(x) => type(x, null)} />
        <NumberField label="y" width="w-20" value={typed?.[1] ?? null} onChange={(y) => type(null, y)} />
      </div>
      {far !== null && (
        <p className="mt-2 text-sm text-quiet">
          The drawing lies {plainNumber(far * scale, 5)}
          {unit ? ` ${unit}` : ''} from the file’s origin.
          {traitsOf(claims.format).yDown ? ' The file’s y axis points down and is flipped.' : ''}
        </p>
      )}
      <SameOrigin />
    </>
  );
}

/** Puts the origin where another drawing of the job has it, so that both lie on each other. */
function SameOrigin() {
  const { drawing, decide } = useDrawing();
  const notice = useNotice();
  const { data } = useJob(drawing.jobId);
  const others = data?.drawings.filter((d) => d.id !== drawing.id) ?? [];
  const { unit } = settledLength(drawing.claims, drawing.intake);
  if (others.length === 0) return null;
  const take = async (id: string): Promise<void> => {
    if (!id) return;
    try {
      const other = await getJson<DrawingDetail>(paths.drawing(id));
      const theirs = settledLength(other.claims, other.intake);
      const at = originOnSource(other.claims, other.intake);
      if (!unit || !theirs.unit || !at) {
        const whose = unit ? `“${other.name}”` : 'this drawing';
        notice({
          text: `The unit of ${whose} is not decided yet, so the origins cannot be matched.`,
          alarm: true,
        });
        return;
      }
      const k = theirs.scale * conversion(theirs.unit, unit);
      decide({ origin: { mode: 'point', x: at[0] * k, y: at[1] * k } }, `origin as in ${other.name}`);
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };
  return (
    <div className="mt-2">
      <Select
        label="Use the same origin as another drawing of this job"
        value=""
        options={[['', 'choose a drawing …'], ...others.map((d) => [d.id, d.name] as const)]}
        onChange={(id) => void take(id)}
      />
    </div>
  );
}
