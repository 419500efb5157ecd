import type { ArtDecisions } from '@scalaria/core';
import { ART_DEFAULT } from '@scalaria/core';
import { Section, Select } from '../../parts/field';
import { useDrawing } from './drawing-context';

/** What becomes of clips, fill patterns and gradients of an illustration. */
export function ArtSection() {
  const { drawing, decide } = useDrawing();
  if (drawing.claims.format !== 'svg') return null;
  const art: ArtDecisions = { ...ART_DEFAULT, ...drawing.intake.art };
  const change = (next: Partial<ArtDecisions>, what: string): void => decide({ art: { ...art, ...next } }, what);
  return (
    <Section title="Clips, patterns, gradients">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Select
          label="What a clip path hides"
          value={art.clips}
          options={[
            ['cut', 'is cut off'],
            ['whole', 'comes along'],
          ]}
          onChange={(clips) => change({ clips }, 'clip paths')}
        />
        <Select
          label="Fill patterns come as"
          value={art.patterns}
          options={[
            ['shapes', 'their shapes'],
            ['colour', 'one plain colour'],
          ]}
          onChange={(patterns) => change({ patterns }, 'fill patterns')}
        />
        <Select
          label="Gradients"
          value={art.gradients}
          options={[
            ['keep', 'stay where they can'],
            ['mean', 'become their mean colour'],
            ['first', 'become their first colour'],
            ['last', 'become their last colour'],
          ]}
          onChange={(gradients) => change({ gradients }, 'gradients')}
        />
      </div>
    </Section>
  );
}
