import type { KindDecisions } from '@scalaria/core';
import { INTAKE_FIELDS, KINDS_DEFAULT, decidedOf } from '@scalaria/core';
import { Select } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { useDrawing } from './drawing-context';

const { blocks, dimensions, hatches } = INTAKE_FIELDS.kinds.params;
const options = <C extends string>(choices: Readonly<Record<C, string>>) => Object.entries(choices) as [C, string][];
const ASKED = {
  blocks: options(blocks.choices),
  dimensions: options(dimensions.choices),
  hatches: options(hatches.choices),
};

/** What becomes of blocks, dimensions and hatches on the way in. */
export function useKindSection(): BookSection | null {
  const { drawing, decide } = useDrawing();
  const { kinds: held } = drawing.claims;
  const kinds: KindDecisions = { ...KINDS_DEFAULT, ...drawing.intake.kinds };
  const change = (next: Partial<KindDecisions>, what: string): void => decide({ kinds: { ...kinds, ...next } }, what);
  const said = decidedOf(drawing.intake).find((d) => d.name === 'kinds')?.words ?? 'all kept';
  const any = (['insert', 'dimension', 'leader', 'hatch'] as const).some((k) => held[k]);
  if (!any) return null;
  return {
    id: 'kinds',
    title: 'Blocks, dimensions, hatches',
    said,
    body: () => (
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        {held['insert'] && (
          <Select
            label={`Blocks (${held['insert']} placed)`}
            value={kinds.blocks}
            options={ASKED.blocks}
            onChange={(blocks) => change({ blocks }, 'blocks')}
          />
        )}
        {(held['dimension'] || held['leader']) && (
          <Select
            label={`Dimensions and leaders (${(held['dimension'] ?? 0) + (held['leader'] ?? 0)})`}
            value={kinds.dimensions}
            options={ASKED.dimensions}
            onChange={(dimensions) => change({ dimensions }, 'dimensions')}
          />
        )}
        {held['hatch'] && (
          <Select
            label={`Hatches (${held['hatch']})`}
            value={kinds.hatches}
            options={ASKED.hatches}
            onChange={(hatches) => change({ hatches }, 'hatches')}
          />
        )}
      </div>
    ),
  };
}
