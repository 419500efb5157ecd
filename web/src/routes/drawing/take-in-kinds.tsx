import type { KindDecisions } from '@scalaria/core';
import { KINDS_DEFAULT, decidedOf } from '@scalaria/core';
import { Fold, Select } from '../../parts/field';
import { useDrawing } from './drawing-context';

/** What becomes of blocks, dimensions and hatches on the way in. */
export function KindSection() {
  const { drawing, decide } = useDrawing();
  const { kinds: held } = drawing.claims;
  const kinds: KindDecisions = { ...KINDS_DEFAULT, ...drawing.intake.kinds };
  const change = (next: Partial<KindDecisions>, what: string): void => decide({ kinds: { ...kinds, ...next } }, what);
  const said = decidedOf(drawing.intake).find((d) => d.name === 'kinds')?.words ?? 'all kept';
  const any = (['insert', 'dimension', 'leader', 'hatch'] as const).some((k) => held[k]);
  if (!any) return null;
  return (
    <Fold title="Blocks, dimensions, hatches" said={said}>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        {held['insert'] && (
          <Select
            label={`Blocks (${held['insert']} inserts)`}
            value={kinds.blocks}
            options={[
              ['keep', 'stay blocks'],
              ['group', 'become groups'],
              ['break', 'are broken up'],
            ]}
            onChange={(blocks) => change({ blocks }, 'blocks')}
          />
        )}
        {(held['dimension'] || held['leader']) && (
          <Select
            label={`Dimensions and leaders (${(held['dimension'] ?? 0) + (held['leader'] ?? 0)})`}
            value={kinds.dimensions}
            options={[
              ['keep', 'stay dimensions'],
              ['lines', 'become lines and text'],
              ['leaveOut', 'are left out'],
            ]}
            onChange={(dimensions) => change({ dimensions }, 'dimensions')}
          />
        )}
        {held['hatch'] && (
          <Select
            label={`Hatches (${held['hatch']})`}
            value={kinds.hatches}
            options={[
              ['keep', 'stay hatches'],
              ['lines', 'become lines'],
              ['outlines', 'become outlines'],
              ['leaveOut', 'are left out'],
            ]}
            onChange={(hatches) => change({ hatches }, 'hatches')}
          />
        )}
      </div>
    </Fold>
  );
}
